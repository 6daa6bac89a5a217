"""What a pane is: its place in the vehicle, its build-up and its outline seen from outside."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from elumbra.core.geom import area, bounds, mirrored
from elumbra.core.geom.polygon import Points


class Position(StrEnum):
    """Legal position: which limit of a state's law a pane falls under."""

    WINDSHIELD = "windshield"
    FRONT_SIDE = "front_side"  # immediately left and right of the driver
    REAR_SIDE = "rear_side"  # any side glass behind the driver
    REAR_WINDOW = "rear_window"  # back glass, hatch, tailgate, rear slider
    ROOF = "roof"  # sunroof: no state record covers it


class WindowKind(StrEnum):
    """How the pane is held; it decides allowances and steps."""

    FRAMED_DOOR = "framed_door"  # rolls up into a frame
    FRAMELESS_DOOR = "frameless_door"  # exposed edges front, top and rear
    QUARTER = "quarter"  # small fixed side or vent pane
    FIXED_SIDE = "fixed_side"  # large fixed side glass
    BACK_GLASS = "back_glass"  # fixed rear glass with defroster
    HATCH = "hatch"  # rear glass in a lifting door
    SLIDER = "slider"  # one part of a sliding rear window
    WINDSHIELD = "windshield"
    SUNROOF = "sunroof"


DOORS = frozenset({WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR})
"""Glass that rolls up and down."""


class GlassType(StrEnum):
    """What the maker's mark in the corner says."""

    TEMPERED = "tempered"
    LAMINATED = "laminated"  # razor never, heat with care
    COATED = "coated"  # razor never
    PLASTIC = "plastic"  # takes no film
    UNKNOWN = "unknown"


class Curve(StrEnum):
    """How the pane is bent; it decides which way round the film may lie."""

    FLAT = "flat"  # near flat: film lies either way
    ONE_WAY = "one_way"  # bowed like a barrel stave: nothing to shrink
    BOTH_WAYS = "both_ways"  # film's length must run across the pane
    STRONG = "strong"  # as both_ways, near the film's limit

    @property
    def binds_direction(self) -> bool:
        """Whether film must be unrolled across the pane so that it can be shrunk."""
        return self in (Curve.BOTH_WAYS, Curve.STRONG)


class Side(StrEnum):
    """Which side of the car, as the driver sits."""

    DRIVER = "driver"
    PASSENGER = "passenger"
    CENTRE = "centre"


@dataclass(frozen=True)
class Outline:
    """A pane's outline **seen from outside the car**, its foot level.

    ``ring`` is counter-clockwise, shape ``(n, 2)`` in mm, y up. ``measured`` is false where
    only the greatest width and height are known; the rectangle is then drawn dashed.
    """

    ring: Points
    corners: Points
    measured: bool

    @property
    def width(self) -> float:
        """Greatest width [mm]."""
        low, _, high, _ = bounds(self.ring)
        return high - low

    @property
    def height(self) -> float:
        """Greatest height [mm]."""
        _, low, _, high = bounds(self.ring)
        return high - low

    @property
    def area(self) -> float:
        """Enclosed area [mm²]."""
        return area(self.ring)

    def mirrored(self) -> Outline:
        """The pane on the other side of the car, seen from outside there."""
        low, _, high, _ = bounds(self.ring)
        corners = self.corners.copy()
        corners[:, 0] = low + high - corners[:, 0]
        return Outline(mirrored(self.ring), corners[::-1], self.measured)


def rectangle_outline(*, width: float, height: float) -> Outline:
    """The stand-in outline of a pane of which only the greatest sizes are known.

    Examples
    --------
    >>> outline = rectangle_outline(width=900.0, height=450.0)
    >>> outline.measured, outline.area
    (False, 405000.0)
    """
    ring = np.array([[0.0, 0.0], [width, 0.0], [width, height], [0.0, height]])
    return Outline(ring, ring, measured=False)

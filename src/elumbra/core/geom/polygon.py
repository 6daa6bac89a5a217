"""Outlines as rings of points: area, mirror image, bowed edges and rounded corners."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray
from shapely import Point, Polygon

from elumbra.core.errors import ReadingError

Points = NDArray[np.float64]
_ARC_POINTS = 16  # even, so that the bow itself is one of them
_CIRCLE_SEGMENTS = 16
_HAIR = 0.001  # mm: joins what rounding errors leave apart


def area(ring: Points) -> float:
    """Signed area of a ring [mm²]: positive counter-clockwise.

    Examples
    --------
    >>> area(np.array([[0.0, 0.0], [2.0, 0.0], [2.0, 3.0], [0.0, 3.0]]))
    6.0
    """
    x, y = ring[:, 0], ring[:, 1]
    return 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))


def bounds(ring: Points) -> tuple[float, float, float, float]:
    """Least x, least y, greatest x, greatest y of a ring [mm]."""
    low, high = ring.min(axis=0), ring.max(axis=0)
    return float(low[0]), float(low[1]), float(high[0]), float(high[1])


def mirrored(ring: Points) -> Points:
    """The ring turned over left for right about its own middle, again counter-clockwise.

    This is what the pane on the other side of the car looks like from outside, and what a
    piece looks like from its hard-coat side.

    Examples
    --------
    >>> mirrored(np.array([[0.0, 0.0], [4.0, 0.0], [1.0, 2.0]])).tolist()
    [[3.0, 2.0], [0.0, 0.0], [4.0, 0.0]]
    """
    low, _, high, _ = bounds(ring)
    flipped = ring.copy()
    flipped[:, 0] = low + high - ring[:, 0]
    return flipped[::-1]


def span_at(ring: Points, axis: int, place: float) -> tuple[float, float]:
    """Where a ring meets the line on which a coordinate has one value: the outermost two, of the other coordinate.

    Parameters
    ----------
    ring
        Shape ``(n, 2)`` [mm], its end left out.
    axis
        0 for the line x = ``place``, 1 for y = ``place``.
    place
        [mm]; where the line misses the ring, the nearest corner stands for both.

    Examples
    --------
    >>> square = np.array([[0.0, 0.0], [4.0, 0.0], [4.0, 2.0], [0.0, 2.0]])
    >>> span_at(square, 1, 1.0), span_at(square, 0, 9.0)
    ((0.0, 4.0), (0.0, 0.0))
    """
    own, other = ring[:, axis] - place, ring[:, 1 - axis]
    own_ends, other_ends = np.roll(own, -1), np.roll(other, -1)
    crossing = (own <= 0) != (own_ends <= 0)
    if not crossing.any():
        nearest = float(other[int(np.argmin(np.abs(own)))])
        return nearest, nearest
    share = own[crossing] / (own[crossing] - own_ends[crossing])
    met = other[crossing] + share * (other_ends[crossing] - other[crossing])
    return float(met.min()), float(met.max())


def is_simple(ring: Points) -> bool:
    """Whether the ring encloses one area without crossing itself."""
    polygon = Polygon(ring)
    return bool(polygon.is_valid and polygon.area > 0)


def arc_through(start: Points, end: Points, *, bow: float, points: int = _ARC_POINTS) -> Points:
    """Points of an edge that bows out from its chord, the end left out.

    Parameters
    ----------
    start, end
        Ends of the chord, shape ``(2,)`` [mm]; the inside of the ring lies to the left.
    bow
        Sagitta at the chord's middle [mm], positive outward, less than half the chord.
    points
        How many points the edge is drawn with, at least 2.

    Returns
    -------
    Points
        Shape ``(points, 2)`` from start on; ``(1, 2)`` for a straight edge.
    """
    chord = float(np.hypot(*(end - start)))
    if bow == 0 or chord == 0:
        return start[None, :].copy()
    # Circle through both ends and the bow: R = w²/8s + s/2 (heart, section 1).
    radius = chord**2 / (8 * abs(bow)) + abs(bow) / 2
    half = np.arcsin(min(1.0, chord / (2 * radius)))
    along = (end - start) / chord
    outward = np.array([along[1], -along[0]]) * np.sign(bow)
    middle = (start + end) / 2
    angles = np.linspace(-half, half, points + 1)[:-1]
    offset_along = radius * np.sin(angles)
    offset_out = radius * np.cos(angles) - (radius - abs(bow))
    return np.asarray(middle + np.outer(offset_along, along) + np.outer(offset_out, outward))


def rounded(ring: Points, corners: Points, radii: Sequence[float]) -> Points:
    """The ring with some of its corners rounded, each by its own radius.

    Parameters
    ----------
    ring
        Counter-clockwise ring [mm].
    corners
        The corners that may be rounded, shape ``(n, 2)`` [mm].
    radii
        One radius a corner [mm]; 0 leaves it sharp.

    Raises
    ------
    ReadingError
        A radius is too large for the pane.
    """
    shape = Polygon(ring)
    for corner, radius in zip(corners, radii, strict=True):
        if radius > 0:
            gaps = [float(np.hypot(*(corner - other))) for other in corners]
            shape = _round_one(shape, corner, radius, reach=0.5 * min(gap for gap in gaps if gap > 0))
    coordinates = np.asarray(shape.exterior.coords)[:-1]
    return coordinates if area(coordinates) > 0 else coordinates[::-1]


def _round_one(shape: Polygon, corner: Points, radius: float, *, reach: float) -> Polygon:
    """Cut off what a disc of this radius cannot reach in this corner, and nothing farther away."""
    too_large = f"A corner radius of {radius:.0f} mm is larger than the pane allows. Read it again."
    opened = shape.buffer(-radius).buffer(radius, quad_segs=_CIRCLE_SEGMENTS)
    if opened.is_empty:
        raise ReadingError(too_large)
    unreached = shape.difference(opened).intersection(Point(*corner).buffer(reach))
    cut = shape.difference(unreached.buffer(_HAIR, join_style="mitre"))
    parts = sorted(getattr(cut, "geoms", [cut]), key=lambda part: part.area)
    if sum(part.area for part in parts[:-1]) > radius:
        raise ReadingError(too_large)
    return Polygon(parts[-1].exterior)

"""How a car's glass looks from outside and from inside, by day, at dusk and by night.

Everything is computed in linear light and encoded for the screen last. Sky and scene are as
bright as each other; the cabin is lit through all panes and gives part of it back::

    from outside   R_out * sky + T * cabin
    from inside    T * scene
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.light.chain import Element
from elumbra.core.light.transmission import shade_hex
from elumbra.core.starting import StartingValues


class Hour(StrEnum):
    """When the car is looked at."""

    DAY = "day"
    DUSK = "dusk"
    NIGHT = "night"


class Seat(StrEnum):
    """Where the one who looks is."""

    OUTSIDE = "outside"
    INSIDE = "inside"


@dataclass(frozen=True)
class LitPane:
    """A pane's optics and its share in lighting the cabin; area in any one unit."""

    optics: Element
    area: float


def light_at(hour: Hour, *, starting: StartingValues) -> float:
    """Brightness of sky and scene against a white sheet by day, 0 to 1, as the eye takes it."""
    match hour:
        case Hour.DAY:
            return 1.0
        case Hour.DUSK:
            return starting["dusk_light"]
        case Hour.NIGHT:
            return starting["night_light"]


def cabin_light(panes: Sequence[LitPane], *, starting: StartingValues) -> float:
    """Brightness of the cabin against the sky that lights it through its glass.

    The mean of what the panes pass, weighed by area, times what the cabin gives back. Dark
    without a pane.

    Examples
    --------
    No glass, no light; see the tests.
    """
    whole = sum(pane.area for pane in panes)
    if whole <= 0:
        return 0.0
    passed = sum(pane.area * pane.optics.through for pane in panes) / whole
    return passed * starting["cabin_reflectance"]


def brightness(pane: Element, *, hour: Hour, seat: Seat, cabin: float, starting: StartingValues) -> float:
    """Linear brightness of a pane, 0 to 1."""
    light = light_at(hour, starting=starting)
    if seat is Seat.INSIDE:
        return pane.through * light
    return (pane.back_outside + pane.through * cabin) * light


def look(panes: Sequence[LitPane], *, hour: Hour, seat: Seat, starting: StartingValues) -> tuple[str, ...]:
    """The panes' colours on the screen, in order."""
    cabin = cabin_light(panes, starting=starting)
    return tuple(
        shade_hex(brightness(pane.optics, hour=hour, seat=seat, cabin=cabin, starting=starting)) for pane in panes
    )

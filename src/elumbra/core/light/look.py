"""How a car's glass looks from outside and from inside, by day, at dusk and by night.

Everything is computed in linear light and encoded for the screen last. Sky and scene are as
bright as each other; the cabin is lit through all panes and gives part of it back::

    from outside   R_out * sky + T * cabin, then exposed as an eye would be
    from inside    T * scene
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.light.chain import Element, chain
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
    """The panes' colours on the screen, in order, exposed as an eye would be."""
    cabin = cabin_light(panes, starting=starting)
    seen = [brightness(pane.optics, hour=hour, seat=seat, cabin=cabin, starting=starting) for pane in panes]
    if seat is Seat.OUTSIDE:
        veil = min((pane.optics.back_outside for pane in panes), default=0.0) * light_at(hour, starting=starting)
        seen = [exposed(one, veil=veil, starting=starting) for one in seen]
    return tuple(shade_hex(one) for one in seen)


def exposed(seen: float, *, veil: float, starting: StartingValues) -> float:
    """A pane seen from outside as the eye takes it, 0 to 1.

    The eye opens until clear glass on a car by day looks bright, and looks past most of the
    sky's mirror image, the part that all panes share. A sheet of white paper beside the car
    would otherwise set the exposure, and a 5 % and a 40 % pane would both be black.

    Parameters
    ----------
    seen
        Linear brightness.
    veil
        What the least reflecting pane of the car gives back of the sky.
    starting
        How much of the mirror image the eye looks past, and how bright it takes clear glass.
    """
    clear = chain(starting["assumed_clear_glass_vlt"], [], starting=starting)
    cabin = starting["assumed_clear_glass_vlt"] * starting["cabin_reflectance"]
    past = starting["eye_past_reflection"]
    white = clear.back_outside * (1 - past) + clear.through * cabin
    return min(1.0, max(0.0, seen - past * veil) / white * starting["eye_white"])

"""Film on glass under a gun, stepped in time: warmth of film and glass, and what film gives.

Simplified, and said so on the screen: no warmth runs sideways; film that is too long in one place stays there; the
jet is round and stands square on the glass; film is heated through at once. Every figure is a starting value.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from math import pi

import numpy as np
from numpy.typing import NDArray

from elumbra.core.practice.board import COLUMNS, ROWS, Board, Floats, Lie, Mask
from elumbra.core.practice.hand import Stroke
from elumbra.core.starting import StartingValues

Codes = NDArray[np.uint8]
_SHAPE = (ROWS, COLUMNS)
_PARTS = 2  # the warmth of a step is worked out in so many parts


class Contact(IntEnum):
    """How film and glass meet."""

    BARE = 0  # no film there
    AFLOAT = 1  # on dry residue, slides and stands up
    WET = 2  # on slip
    CLINGS = 3  # half-dry, or on bare glass: neither slides nor floats
    PRESSED = 4
    HELD = 5  # under a line of the H


BARE, AFLOAT, WET, CLINGS, PRESSED, HELD = (np.uint8(one) for one in Contact)


@dataclass(frozen=True)
class Day:
    """What differs from run to run, by the seed: the lot of the film and the warmth of the shop."""

    limit: float  # the most that this lot shrinks, a share
    room: float  # [°C]


def day_of(seed: int, board: Board) -> Day:
    """The lot and the shop of a seed."""
    chance = np.random.default_rng(seed)
    lot, room = chance.standard_normal(2).clip(-2, 2)
    limit = board.limit * (1 + board.values["practice_lot_spread"] * float(lot))
    warm = board.values["practice_room_c"] + board.values["practice_room_spread_k"] * float(room)
    return Day(round(limit, 6), round(warm, 2))


@dataclass(frozen=True)
class Sheet:
    """A piece of film and its glass at one moment, cell by cell, shape ``(ROWS, COLUMNS)``."""

    film: Floats  # [°C]
    outer: Floats  # outer half of the glass [°C]
    inner: Floats
    shrunk: Floats  # along the roll, a share
    contact: Codes
    along: bool = True  # the roll's direction runs along the cross line

    def required(self, lie: Lie) -> Floats:
        """What must go along the roll: nothing, where what is too long lies across it."""
        return lie.required if self.along else np.zeros(_SHAPE)

    def standing(self, lie: Lie) -> Floats:
        """What is still too long along the cross line, at least 0: shrink across that line takes none of it."""
        return np.maximum(lie.required - self.shrunk, 0.0) if self.along else lie.required

    def over(self, lie: Lie) -> Floats:
        """What has been shrunk too far, at least 0."""
        return np.maximum(self.shrunk - self.required(lie), 0.0)

    @property
    def is_laid(self) -> bool:
        """Whether film lies there: all over, or nowhere."""
        return bool(self.contact[0, 0] != BARE)

    @property
    def loose(self) -> Mask:
        """Film that is there and not pressed on."""
        return np.asarray((self.contact != BARE) & (self.contact < PRESSED))


def bare(day: Day) -> Sheet:
    """Glass with no film on it."""
    room = np.full(_SHAPE, day.room)
    return Sheet(room, room, room, np.zeros(_SHAPE), np.zeros(_SHAPE, dtype=np.uint8))


@dataclass(frozen=True)
class Flux:
    """Where heat went in a step, J/m² by cell, for the books to close."""

    gun: Floats  # from the jet
    air: Floats  # to the air, on both sides


def jet(lie: Lie, gun: Stroke | None, *, values: StartingValues) -> Floats:
    """What the gun gives to each cell at its jet's temperature [W/m²K]."""
    if gun is None:
        return np.zeros(_SHAPE)
    u, v = lie.on_film(gun.x, gun.y)
    sigma = values["practice_gun_sigma_mm"]
    across = np.exp(-((lie.u - u) ** 2) / (2 * sigma**2))
    up = np.exp(-((lie.v - v) ** 2) / (2 * sigma**2))
    return np.asarray(values["practice_gun_w_m2k"] * gun.near * np.multiply.outer(up, across))


def stands_off(excess: Floats, *, wave: float) -> Floats:
    """How far film stands off where so much of it is too long: a one-sided cosine finger (heart, section 2) [mm].

    Examples
    --------
    >>> stands_off(np.array([0.0, 0.01, -0.01]), wave=120.0).round(2).tolist()
    [0.0, 7.64, 0.0]
    """
    return 2 * wave / pi * np.sqrt(np.maximum(excess, 0.0))


def contact_w(sheet: Sheet, lie: Lie, *, values: StartingValues) -> Floats:
    """Between film and glass [W/m²K]; off the glass film has only air under it."""
    high = stands_off(sheet.standing(lie), wave=values["finger_wave_mm"])
    afloat = 1000 * values["practice_gap_w_mk"] / (values["practice_gap_mm"] + high) + values["practice_gap_w_m2k"]
    found = np.where(sheet.contact == AFLOAT, afloat, values["practice_touch_w_m2k"])
    return np.where(lie.on_glass, found, values["practice_gap_w_m2k"])


def stepped(
    sheet: Sheet, lie: Lie, gun: Stroke | None, day: Day, *, values: StartingValues, seconds: float
) -> tuple[Sheet, Flux]:
    """Film and glass after a time in which the gun stood still, and where heat went meanwhile.

    Notes
    -----
    Film is so light that it follows its surroundings in a fraction of a second: its warmth is the exact
    exponential with the glass as it was, in two parts; the glass gets what film gave it on the mean.
    """
    blown = jet(lie, gun, values=values)
    at_c = values["practice_gun_high_c"] if gun is None or gun.high else values["practice_gun_low_c"]
    air, holds = values["practice_air_w_m2k"], values["practice_glass_j_m2k"]
    between = values["practice_glass_w_m2k"] * (sheet.outer - sheet.inner)
    off_inner = air * (sheet.inner - day.room)
    if sheet.is_laid:
        film, shrunk, into, mean = sheet.film, sheet.shrunk, np.zeros(_SHAPE), np.zeros(_SHAPE)
        for _ in range(_PARTS):
            now = Sheet(film, sheet.outer, sheet.inner, shrunk, sheet.contact, sheet.along)
            film, warm, given = _followed(now, lie, blown, at_c, day, values=values, seconds=seconds / _PARTS)
            shrunk = _given(now, lie, warm, day, values=values, seconds=seconds / _PARTS)
            into += given / _PARTS
            mean += warm / _PARTS
        flux = Flux(blown * (at_c - mean) * seconds, (air * (mean - day.room) + off_inner) * seconds)
    else:
        film, shrunk = sheet.film, sheet.shrunk
        came, lost = blown * (at_c - sheet.outer), air * (sheet.outer - day.room)
        into = came - lost
        flux = Flux(came * seconds, (lost + off_inner) * seconds)
    into = np.where(lie.on_glass, into, 0.0)
    outer = sheet.outer + (into - between) * (seconds / holds)
    inner = sheet.inner + (between - off_inner) * (seconds / holds)
    return Sheet(film, outer, inner, shrunk, sheet.contact, sheet.along), flux


def _followed(
    sheet: Sheet, lie: Lie, blown: Floats, at_c: float, day: Day, *, values: StartingValues, seconds: float
) -> tuple[Floats, Floats, Floats]:
    """Film after the time, on the mean over it [°C], and what went from it into what is under it [W/m²]."""
    air = values["practice_air_w_m2k"]
    touch = contact_w(sheet, lie, values=values)
    total = blown + (air + touch)
    goal = (blown * at_c + air * day.room + touch * sheet.outer) / total
    turns = total * (seconds / values["practice_film_j_m2k"])
    left = np.exp(-turns)
    off = sheet.film - goal
    mean = goal + off * (1 - left) / turns
    return goal + off * left, mean, touch * (mean - sheet.outer)


def _given(sheet: Sheet, lie: Lie, film_c: Floats, day: Day, *, values: StartingValues, seconds: float) -> Floats:
    """What film has shrunk after the time; only warm film gives, and none under a line of the H."""
    warm = film_c > values["practice_still_c"]
    if not warm.any():
        return sheet.shrunk
    warm &= sheet.contact != HELD
    shrunk = sheet.shrunk.copy()
    shrunk[warm] = shrunk_after(
        sheet.shrunk[warm], film_c[warm], sheet.required(lie)[warm], limit=day.limit, values=values, seconds=seconds
    )
    return shrunk


def gives(film_c: Floats, *, limit: float, values: StartingValues) -> tuple[Floats, Floats]:
    """How far film shrinks that is kept so warm, a share, and how fast [1/s]."""
    off = np.clip((film_c - values["practice_shrink_mid_c"]) / values["practice_shrink_spread_k"], -40.0, 40.0)
    rate = np.exp2(np.clip((film_c - values["practice_rate_c"]) / values["practice_rate_double_k"], -60.0, 60.0))
    return limit / (1 + np.exp(-off)), np.minimum(rate, values["practice_rate_most"])


def shrunk_after(
    shrunk: Floats, film_c: Floats, required: Floats, *, limit: float, values: StartingValues, seconds: float
) -> Floats:
    """What film has shrunk after it was kept so warm for a time.

    Parameters
    ----------
    shrunk, required
        Shares; what must go enters only through their difference.
    film_c
        Film [°C].
    limit
        The most that this lot shrinks: nothing else caps it.
    values, seconds
        Figures, and the time [s].

    Notes
    -----
    Slack: ds/dt = k (S − s), never back. Taut: ds/dt = k (S − s − c |e|), back to just slack at most. Both are
    linear, so each is solved exactly, and a cell that becomes taut within the time changes over where it does.
    """
    most, rate = gives(film_c, limit=limit, values=values)
    pull = values["practice_taut"]
    rests = (most + pull * required) / (1 + pull)  # where taut film comes to rest
    slack = shrunk < required
    still = np.maximum(shrunk, most)  # slack film that has given all it gives at this warmth stays as it is
    free = still + (shrunk - still) * np.exp(-rate * seconds)
    crosses = slack & (free > required)
    with np.errstate(divide="ignore", invalid="ignore"):
        spent = np.where(crosses, np.log((most - shrunk) / (most - required)) / rate, 0.0)
    begin = np.where(crosses, required, shrunk)
    taut = rests + (begin - rests) * np.exp(-rate * (1 + pull) * (seconds - spent))
    return np.where(slack & ~crosses, free, np.maximum(taut, required))

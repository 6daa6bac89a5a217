"""The least number of horizontal strips when one piece of film cannot take the glass (handbook, section 8).

Strips overlap by an eighth of an inch, hidden on a defroster line where there are lines, anywhere where
there are none. The top one is fitted first; each reaches down over its line by the overlap.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import sqrt

import numpy as np
from shapely import Polygon, box

from elumbra.core.geom import area
from elumbra.core.shrink.net import Array, ShrinkError

_SECANTS = 8
_ENOUGH_MM = 0.2
_MOST_STRIPS = 6

Needs = Callable[[Array], float]
"""The largest shrink of a piece by its outline on the drawing, shape (n, 2), best anchored."""


@dataclass(frozen=True)
class Strip:
    """One strip on the pane's drawing, its overlap included."""

    ring: Array  # (n, 2) mm
    low: float  # [mm] up the drawing
    high: float
    largest: float  # most that it must shrink
    on_line: bool  # whether its foot lies on a defroster line; the lowest ends at the pane's foot


def least_strips(
    ring: Array, needs: Needs, *, limit: float, overlap: float, lines: Sequence[float] = ()
) -> tuple[Strip, ...]:
    """The fewest strips that this film can take, from the top down.

    Parameters
    ----------
    ring
        The pane on its drawing, counter-clockwise, shape (n, 2) [mm].
    needs
        What a piece of it must shrink.
    limit
        The most that the film takes, a share.
    overlap
        How far each strip reaches over the line [mm].
    lines
        Heights of the defroster lines on the drawing [mm].

    Raises
    ------
    ShrinkError
        Strips so narrow that nobody would lay them.
    """
    foot, top = float(ring[:, 1].min()), float(ring[:, 1].max())
    cuts = _from_the_top(ring, needs, limit, overlap, sorted(lines, reverse=True))
    even = [top - (top - foot) * k / (len(cuts) + 1) for k in range(1, len(cuts) + 1)]
    if lines:
        even = [min(lines, key=lambda line: abs(line - cut)) for cut in even]
    strips = _cut_at(ring, needs, even, overlap, lines) if len(set(even)) == len(even) else ()
    if strips and all(strip.largest <= limit for strip in strips):
        return strips  # as many of about one height, which hands like better
    return _cut_at(ring, needs, cuts, overlap, lines)


def _from_the_top(ring: Array, needs: Needs, limit: float, overlap: float, lines: Sequence[float]) -> list[float]:
    foot, top = float(ring[:, 1].min()), float(ring[:, 1].max())
    cuts: list[float] = []
    high = top
    while True:
        low = _lowest(ring, needs, high, foot, limit)
        if low <= foot + _ENOUGH_MM:
            return cuts
        at = low + overlap
        on = [line for line in lines if at <= line < high - _ENOUGH_MM]
        at = min(on) if on else at
        if at >= high - _ENOUGH_MM or len(cuts) >= _MOST_STRIPS:
            raise ShrinkError(
                f"Not even {_MOST_STRIPS} strips of this film lie on this glass. Take a film that shrinks more."
            )
        cuts.append(at)
        high = at


def _lowest(ring: Array, needs: Needs, high: float, foot: float, limit: float) -> float:
    """How far down one strip from ``high`` can reach; what must go grows about with its height squared."""
    tall = high - foot
    best = 0.0
    most = tall
    for _ in range(_SECANTS):
        need = needs(_band(ring, high - tall, high))
        if need <= limit:
            best = max(best, tall)
            if tall >= most - _ENOUGH_MM:
                break
            tall = min((tall + most) / 2, tall * sqrt(limit / need) if need > 0 else most)
        else:
            most = min(most, tall)
            tall = max(
                best + _ENOUGH_MM / 2, min(tall * sqrt(limit / need) * 0.999, (best + most) / 2 if best else tall)
            )
        if most - best < _ENOUGH_MM:
            break
    return high - best


def _cut_at(
    ring: Array, needs: Needs, cuts: Sequence[float], overlap: float, lines: Sequence[float]
) -> tuple[Strip, ...]:
    foot, top = float(ring[:, 1].min()), float(ring[:, 1].max())
    found = []
    for high, cut in zip([top, *cuts], [*cuts, foot], strict=True):
        low = max(cut - overlap, foot) if cut > foot else foot
        band = _band(ring, low, high)
        on_line = any(abs(cut - line) < _ENOUGH_MM for line in lines)
        found.append(Strip(band, low, high, needs(band), on_line))
    return tuple(found)


def _band(ring: Array, low: float, high: float) -> Array:
    """What of the pane lies between two heights; its largest part, counter-clockwise."""
    left, right = float(ring[:, 0].min()), float(ring[:, 0].max())
    part = Polygon(ring).intersection(box(left - 1, low, right + 1, high))
    if not isinstance(part, Polygon):
        part = max(part.geoms, key=lambda one: one.area)
    found = np.asarray(part.exterior.coords)[:-1]
    return found if area(found) > 0 else found[::-1]

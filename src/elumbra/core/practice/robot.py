"""The robot that shows that a pane can be done: Heat's plan, carried out by a hand that sees only the screen.

Band by band from the cross line outward, quarter by quarter in Heat's order: the gun goes where film stands
highest, farther off the taller it stands, and away as soon as anything there is too hot; what lies flat is
pressed. It knows nothing of what must go where, nor of the film's warmth beyond what a hand sees.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np

from elumbra.core.practice.board import Board, Lie, Mask
from elumbra.core.practice.hand import MOST_STEPS, Do, Stroke
from elumbra.core.practice.lessons import School
from elumbra.core.practice.run import Run, begin, stepped_on
from elumbra.core.practice.screen import Looks, Screen, Warmth, screen_of
from elumbra.core.shrink import Quarter, Unrolled

_BAND_MM = 60.0
_PATIENCE = 600  # steps on one band


class Eyes:
    """What a hand sees: the screen after its last stroke."""

    def __init__(self, screen: Screen) -> None:
        self.now = screen


Hand = Callable[[Eyes], Iterator[list[Stroke]]]
"""A hand: what it does in each step, by what it sees."""


@dataclass(frozen=True)
class Shown:
    """A hand's run, and the strokes that made it."""

    run: Run
    strokes: tuple[Stroke, ...]


def shown(
    board: Board, *, seed: int, school: School = School.DRY, film: Unrolled = Unrolled.ACROSS, h: Unrolled | None = None
) -> Shown:
    """Heat's plan carried out, film laid this way; the H with it, unless it is to lie otherwise."""
    return carried_out(board, lambda eyes: by_plan(eyes, school=school, film=film, h=h or film), seed=seed)


def carried_out(board: Board, hand: Hand, *, seed: int, most: int = MOST_STEPS) -> Shown:
    """A run by a hand, until it has looked from inside, gives up, or time is over."""
    run = begin(board, seed=seed)
    strokes: list[Stroke] = []
    eyes = Eyes(screen_of(run, every=len(run.lie.v)))
    for done in hand(eyes):
        run = stepped_on(run, done)
        strokes += done
        eyes.now = screen_of(run, every=len(run.lie.v))
        if run.over or run.step >= most:
            break
    return Shown(run, tuple(strokes))


def by_plan(eyes: Eyes, *, school: School, film: Unrolled, h: Unrolled, press: Do = Do.CARD) -> Iterator[list[Stroke]]:
    """The glass made ready, film, H, then the quarters in Heat's order, each band by band; trim, and look."""
    if school is School.DRY:
        yield [Stroke(eyes.now.step, Do.SHEET)]
        while not eyes.now.dry:
            yield []
    else:
        yield [Stroke(eyes.now.step, Do.WET)]
    yield [Stroke(eyes.now.step, Do.LAY, way=film)]
    yield [Stroke(eyes.now.step, Do.H, way=h)]
    yield from _water_out(eyes)
    lie = eyes.now.lie
    for zone in lie.plan.zones:
        for part in _bands(lie, zone.quarter):
            yield from _band(eyes, part, press)
    yield from _band(eyes, lie.on_glass, press)
    yield [Stroke(eyes.now.step, Do.TRIM)]
    yield [Stroke(eyes.now.step, Do.LOOK)]


def _water_out(eyes: Eyes) -> Iterator[list[Stroke]]:
    """The glove over all wet film, from the middle outward: what stands then stands on air."""
    for _ in range(_PATIENCE):
        screen = eyes.now
        lie = screen.lie
        wet = lie.on_glass & (screen.looks == Looks.WET)
        if not wet.any():
            return
        out = np.abs(lie.over_u) + np.abs(lie.over_v)
        x, y = _seen(lie, *_place(lie, np.where(wet, out.max() + 1 - out, 0)))
        yield [Stroke(screen.step, Do.GLOVE, x, y)]


def _bands(lie: Lie, quarter: Quarter) -> list[Mask]:
    """A quarter's cells band by band from the cross line outward: first between the lines of the H, then beyond."""
    up = quarter in (Quarter.UPPER_LEFT, Quarter.UPPER_RIGHT)
    on_left = quarter in (Quarter.UPPER_LEFT, Quarter.LOWER_LEFT)
    here = lie.on_glass & ((lie.over_v > 0) == up) & ((lie.over_u < 0) == on_left)
    between = (lie.over_u > lie.side_lines[0]) & (lie.over_u < lie.side_lines[1])
    far = np.abs(lie.over_v)
    most = float(far[here].max(initial=0.0))
    edges = np.arange(_BAND_MM, most + _BAND_MM, _BAND_MM)
    parts = (here & between, here & ~between)
    return [part & (far < edge) for part in parts for edge in edges]


def _band(eyes: Eyes, band: Mask, press: Do) -> Iterator[list[Stroke]]:
    """One band: heat while anything in it stands, let go what was shrunk too far, press what lies flat."""
    lie = eyes.now.lie
    for _ in range(_PATIENCE):
        screen = eyes.now
        floats, drum = band & (screen.looks == Looks.FLOATS), band & (screen.looks == Looks.DRUM)
        stands = np.where(floats, screen.stands, 0)
        if stands.max() > 0:
            yield _heated(screen, _place(lie, stands), high=True, standing=float(stands.max()) / 10)
        elif drum.any():
            yield _heated(screen, _place(lie, drum), high=False, standing=0.0)
        else:
            ready = floats & ~_next_to(lie, _not_yet(screen, band), _REACH_MM[press])
            if not ready.any():
                if not (floats & (screen.warmth >= Warmth.TOO_HOT)).any():
                    return
                yield []
                continue
            out = np.abs(lie.over_u) + np.abs(lie.over_v)
            x, y = _seen(lie, *_place(lie, np.where(ready, out.max() + 1 - out, 0)))
            yield [Stroke(screen.step, press, x, y)]


_AROUND_MM = 100.0
_REACH_MM = {Do.CARD: 27.0, Do.GLOVE: 47.0}  # a little more than they have, to be sure


def _not_yet(screen: Screen, band: Mask) -> Mask:
    """Film that the card must not touch: it stands, is too hot or taut, or its turn has not come."""
    loose = screen.lie.on_glass & ((screen.looks == Looks.FLOATS) | (screen.looks == Looks.DRUM))
    bad = (screen.stands > 0) | (screen.warmth >= Warmth.TOO_HOT) | (screen.looks == Looks.DRUM) | ~band
    return np.asarray(loose & bad)


def _next_to(lie: Lie, cells: Mask, reach: float) -> Mask:
    """Places at which a hand that reaches so far [mm] would touch one of these cells."""
    wide, tall = lie.cell
    reach_u, reach_v = int(reach // wide), int(reach // tall)
    found = cells.copy()
    for d in range(-reach_v, reach_v + 1):
        for e in range(-reach_u, reach_u + 1):
            if np.hypot(d * tall, e * wide) <= reach:
                found |= np.roll(np.roll(cells, d, axis=0), e, axis=1)
    return found


def _place(lie: Lie, weight: Any) -> tuple[float, float]:
    """Where on the film something is greatest."""
    row, column = np.unravel_index(int(np.argmax(weight)), np.shape(weight))
    return float(lie.u[column]), float(lie.v[row])


def _heated(screen: Screen, place: tuple[float, float], *, high: bool, standing: float) -> list[Stroke]:
    """The gun over a place, farther off the taller film stands there; away while anything near is too hot."""
    lie, (u, v) = screen.lie, place
    around = (np.abs(lie.over_u - u) < _AROUND_MM) & (np.abs(lie.over_v - v) < _AROUND_MM)
    if (screen.warmth[around] >= Warmth.TOO_HOT).any():
        return []
    near = float(np.clip(1.15 - 0.08 * standing, 0.35, 1.0)) if high else 1.0
    x, y = _seen(lie, u, v)
    return [Stroke(screen.step, Do.GUN, x, y, high=high, near=round(near, 2))]


def _seen(lie: Lie, u: float, v: float) -> tuple[float, float]:
    """A point of the film as it is seen from outside, to a millimetre as strokes are kept."""
    return (float(round(u)), float(round(v))) if lie.way is Unrolled.ACROSS else (float(round(-v)), float(round(u)))

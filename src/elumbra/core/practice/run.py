"""A run on the practice glass: strokes played in time, from an empty glass to the look from inside.

The same seed and the same strokes give the same end on every machine: what is kept from step to step is rounded
far above a processor's own last digit, and far below anything that is shown.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from elumbra.core.practice.board import Board, Floats, Lie, Mask
from elumbra.core.practice.film import AFLOAT, BARE, CLINGS, HELD, PRESSED, WET, Day, Sheet, bare, day_of, stepped
from elumbra.core.practice.hand import MOST_STEPS, PRESSING, STEP_S, Do, Stroke, StrokeError
from elumbra.core.practice.rules import SCRAP, Marks, Moment, broken, outside_of
from elumbra.core.shrink import Unrolled

RULES_VERSION = "1"
"""Of model and rules: a run is played by the rules it was made with, or not at all."""

_FILM, _SHRUNK = 1e3, 1e9  # thousandths of a degree, a ten-millionth of a point
_SAME_MM, _SAME_STEPS = 160.0, 30


@dataclass(frozen=True)
class Event:
    """Something that went wrong: when, where, and by which rule."""

    step: int
    rule: str
    x: float  # as seen from outside [mm]
    y: float
    cells: int


@dataclass(frozen=True)
class Run:
    """A run as it stands after so many steps."""

    board: Board
    seed: int
    day: Day
    step: int
    lie: Lie
    sheet: Sheet
    marks: Marks
    events: tuple[Event, ...] = ()
    film_way: Unrolled | None = None  # the roll's direction; None: no film is laid
    h_way: Unrolled | None = None
    sheeted: int | None = None  # the step at which the dryer sheet was wiped on
    wet: bool = False
    trimmed: bool = False
    over: bool = False
    trace: Floats | None = None  # the warmest that film has been, by cell [°C]
    hottest_glass: float = 0.0
    apart: float = 0.0  # the most that the two halves of the glass were apart [K]
    pressed: int = 0  # cells that a hand pressed down
    in_order: int = 0  # of those: nothing was loose between them and the cross line

    @property
    def seconds(self) -> float:
        """Time of the run [s]."""
        return self.step * STEP_S

    @property
    def hottest_film(self) -> float:
        """The warmest that film on the glass has been [°C]."""
        return self.day.room if self.trace is None else float(self.trace[self.lie.on_glass].max(initial=0.0))

    @property
    def dry(self) -> bool:
        """Whether the dryer sheet has dried, so that film floats."""
        after = self.board.values["practice_dry_s"]
        return self.sheeted is not None and (self.step - self.sheeted) * STEP_S >= after - 1e-9


def begin(board: Board, *, seed: int) -> Run:
    """An empty glass.

    Raises
    ------
    StrokeError
        No flat film lies on this pane either way.
    """
    if not board.lies:
        raise StrokeError("No flat film lies on this pane, whichever way it is turned. Practise on another.")
    lie = board.lies.get(Unrolled.ACROSS) or next(iter(board.lies.values()))
    day = day_of(seed, board)
    return Run(board, seed, day, 0, lie, bare(day), np.zeros(lie.required.shape, dtype=np.uint16))


def played(run: Run, strokes: Sequence[Stroke], *, until: int, step_s: float = STEP_S) -> Run:
    """The run after its strokes, up to a step.

    Parameters
    ----------
    run
        As it stands.
    strokes
        In order, from the step that the run has reached to before ``until``.
    until
        The step to go to.
    step_s
        Length of a step of the model [s], to show that it does not matter: a whole part of a tenth.

    Raises
    ------
    StrokeError
        Strokes outside of these steps, or a run that is over.
    """
    if not run.step <= until <= MOST_STEPS:
        raise StrokeError(f"The run stands at step {run.step} and ends at {MOST_STEPS}: it cannot go to {until}.")
    by_step: dict[int, list[Stroke]] = {}
    for stroke in strokes:
        if not run.step <= stroke.step < until:
            raise StrokeError(f"A stroke of step {stroke.step} lies outside of steps {run.step} to {until - 1}.")
        by_step.setdefault(stroke.step, []).append(stroke)
    while run.step < until and not run.over:
        run = stepped_on(run, by_step.get(run.step, ()), step_s=step_s)
    return run


def stepped_on(run: Run, strokes: Iterable[Stroke], *, step_s: float = STEP_S) -> Run:
    """One step: what the hands do, then what film and glass do about it."""
    gun: Stroke | None = None
    card, glove = _none(run), _none(run)
    trimmed = False
    for stroke in strokes:
        if stroke.do is Do.GUN:
            gun = stroke
        elif stroke.do in PRESSING:
            cells = _under(run, stroke)
            card, glove = (card | cells, glove) if stroke.do is Do.CARD else (card, glove | cells)
        elif stroke.do is Do.TRIM:
            trimmed = run.film_way is not None and not run.trimmed
            run = replace(run, trimmed=run.trimmed or trimmed)
        else:
            run = _set(run, stroke)
    before = run.sheet
    pressed = before
    if card.any() or glove.any():
        pressed = _pressed(run, before, card | glove)
        run = _counted(run, before, pressed)
    for _ in range(max(1, round(STEP_S / step_s))):
        pressed, _flux = stepped(pressed, run.lie, gun, run.day, values=run.board.values, seconds=step_s)
    after = Sheet(
        np.rint(pressed.film * _FILM) / _FILM, np.rint(pressed.outer * _FILM) / _FILM,
        np.rint(pressed.inner * _FILM) / _FILM, np.rint(pressed.shrunk * _SHRUNK) / _SHRUNK,
        pressed.contact, pressed.along,
    )  # fmt: skip
    moment = Moment(
        run.board, run.lie, before, after, gun, card, glove & ~card, trimmed, run.h_way is not None
    )  # fmt: skip
    return _marked(run, after, moment)


def _none(run: Run) -> Mask:
    return np.zeros(run.lie.required.shape, dtype=bool)


def _under(run: Run, stroke: Stroke) -> Mask:
    """Loose film on the glass under a hand or a tool."""
    reach = {Do.CARD: "practice_card_mm", Do.GLOVE: "practice_glove_mm", Do.MIST: "practice_mist_mm"}[stroke.do]
    u, v = run.lie.on_film(stroke.x, stroke.y)
    near = (run.lie.over_u - u) ** 2 + (run.lie.over_v - v) ** 2 <= run.board.values[reach] ** 2
    under = near & run.lie.on_glass & run.sheet.loose
    wet = under & (run.sheet.contact == WET)
    return np.asarray(wet if stroke.do in PRESSING and wet.any() else under)  # on water the hand skims over the rest


def _pressed(run: Run, sheet: Sheet, hand: Mask) -> Sheet:
    """Film after the hand: down; wet film that stands only loses its water; a drum line will not lie down."""
    values = run.board.values
    wet = sheet.contact == WET
    stands = sheet.standing(run.lie) > values["lies_flat_most"]
    drum = sheet.over(run.lie) > values["practice_drum_share"]
    soft = sheet.film >= values["film_softens_c"]
    floats = hand & wet & stands
    down = hand & ~floats & ~(drum & ~soft)
    contact = np.where(floats, AFLOAT, np.where(down, PRESSED, sheet.contact)).astype(np.uint8)
    return replace(sheet, contact=contact)


def _counted(run: Run, before: Sheet, pressed: Sheet) -> Run:
    """How much was pressed, and how much of it with nothing loose nearer to the cross line."""
    fresh = (pressed.contact == PRESSED) & (before.contact != PRESSED)
    if not fresh.any():
        return run
    loose = pressed.loose & run.lie.on_glass
    good = fresh & ~outside_of(loose, run.lie)
    return replace(run, pressed=run.pressed + int(fresh.sum()), in_order=run.in_order + int(good.sum()))


def _set(run: Run, stroke: Stroke) -> Run:
    """What is done to the piece as a whole, and the mist."""
    match stroke.do:
        case Do.SHEET:
            return run if run.film_way else replace(run, sheeted=run.step, wet=False)
        case Do.WET:
            return run if run.film_way else replace(run, wet=True, sheeted=None)
        case Do.LAY:
            return run if run.film_way else _laid(run, stroke.way)
        case Do.H:
            return _held(run, stroke.way) if run.film_way and run.h_way is None else run
        case Do.MIST:
            loose = _under(run, stroke)
            contact = np.where(loose, WET, run.sheet.contact).astype(np.uint8)
            return replace(run, sheet=replace(run.sheet, contact=contact))
        case Do.LIFT:
            there = run.sheet.contact != BARE
            contact = np.where(there, AFLOAT, BARE).astype(np.uint8)
            return replace(run, sheet=replace(run.sheet, contact=contact), h_way=None)
        case Do.LOOK:
            return replace(run, over=run.film_way is not None)
    return run


def _laid(run: Run, way: Unrolled) -> Run:
    lie = run.board.lies.get(way, run.lie)
    contact = WET if run.wet else AFLOAT if run.dry else CLINGS
    sheet = replace(
        run.sheet, contact=np.full(lie.required.shape, contact, dtype=np.uint8), along=lie.way is way,
        outer=_again(run, lie, run.sheet.outer), inner=_again(run, lie, run.sheet.inner),
    )  # fmt: skip
    return replace(run, film_way=way, lie=lie, sheet=sheet, trace=None)


def _again(run: Run, lie: Lie, cells: np.ndarray) -> np.ndarray:
    """Glass on another grid: the warmest of it, for what is not known in detail."""
    return cells if lie is run.lie else np.full(cells.shape, float(cells.max()))


def _held(run: Run, way: Unrolled) -> Run:
    """The H pressed: its three lines hold, and what is too long is too long along its cross line."""
    lie = run.board.lies.get(way)
    if lie is None:
        return run
    sheet = replace(run.sheet, along=run.film_way is way)
    marks = run.marks
    if lie is not run.lie:
        # Laid anew on the other lie: what was damaged is taken over as a whole.
        whole = np.bitwise_or.reduce(marks, axis=None)
        marks = np.full(lie.required.shape, whole, dtype=np.uint16)
        sheet = replace(
            sheet, film=_again(run, lie, sheet.film), outer=_again(run, lie, sheet.outer),
            inner=_again(run, lie, sheet.inner), shrunk=_again(run, lie, sheet.shrunk),
            contact=np.full(lie.required.shape, sheet.contact.min(), dtype=np.uint8),
        )  # fmt: skip
    contact = np.where(lie.held_by_h, HELD, sheet.contact).astype(np.uint8)
    return replace(run, lie=lie, sheet=replace(sheet, contact=contact), h_way=way, marks=marks)


def _marked(run: Run, after: Sheet, moment: Moment) -> Run:
    """The run after a step, with what went wrong in it."""
    marks, events = run.marks, run.events
    for rule, cells in broken(moment):
        fresh = cells & (marks & int(rule.damage) == 0)
        if not fresh.any():
            continue
        marks = np.where(fresh, marks | np.uint16(rule.damage), marks)
        events = _told(events, run, rule.name, fresh)
    glass = run.lie.on_glass
    return replace(
        run,
        sheet=after,
        step=run.step + 1,
        over=run.over or run.step + 1 >= MOST_STEPS,
        marks=marks,
        events=events,
        trace=after.film if run.trace is None else np.maximum(run.trace, after.film),
        hottest_glass=max(run.hottest_glass, float(after.outer[glass].max(initial=0.0))),
        apart=max(run.apart, float((after.outer - after.inner)[glass].max(initial=0.0))),
    )


def _told(events: tuple[Event, ...], run: Run, rule: str, cells: Mask) -> tuple[Event, ...]:
    """One event for one slip: what the same rule says a moment later close by belongs to it."""
    middle = np.array([[float(run.lie.over_u[cells].mean()), float(run.lie.over_v[cells].mean())]])
    x, y = (round(one, 1) for one in run.lie.drawn(middle)[0].tolist())
    last = next((one for one in reversed(events) if one.rule == rule), None)
    near = last is not None and np.hypot(last.x - x, last.y - y) <= _SAME_MM
    if last is not None and near and run.step - last.step <= _SAME_STEPS:
        more = replace(last, cells=last.cells + int(cells.sum()))
        return tuple(more if one is last else one for one in events)
    return (*events, Event(run.step, rule, x, y, int(cells.sum())))


def damaged(run: Run) -> Mask:
    """Cells of the pane that are scrap, or whose glass is in danger."""
    return np.asarray(run.lie.on_glass & ((run.marks & int(SCRAP)) != 0))


def ruined(run: Run) -> bool:
    """Whether the piece is scrap, or its glass in danger."""
    return bool(damaged(run).any())

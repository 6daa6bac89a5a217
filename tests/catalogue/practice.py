"""Panes, hands and stroke sequences for the practice glass."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from elumbra.core.glass import Barrel, Curve, GlassType, Position, Side, WindowKind
from elumbra.core.measure import Figure, Level
from elumbra.core.practice import (
    COLUMNS,
    ROWS,
    Board,
    Do,
    Eyes,
    Lesson,
    Lie,
    Looks,
    Run,
    Stroke,
    Warmth,
    begin,
    board_of,
    parse_lessons,
    played,
    read_strokes,
)
from elumbra.core.shrink import Bears, HeatPlan, Quarter, ShrinkWord, Unrolled, Zone
from elumbra.core.starting import StartingValues
from elumbra.core.work import OnGlass
from elumbra.documents.job_file import ReadingPart
from elumbra.documents.shelf import PanePart, measured, pane_measures, pane_part
from elumbra.made_up_glass import read_crowns, read_pane
from elumbra.storage.data_files import read_data, starting_values

LESSONS = parse_lessons(read_data("lessons.json"))
SOON_DRY = {"practice_dry_s": 1.0}


def values(**changes: float) -> StartingValues:
    """The shipped figures, some of them changed; the dryer sheet dries in a second."""
    return starting_values().with_shop_values(SOON_DRY | changes)


def board_of_part(part: PanePart, limit: float, *, figures: StartingValues | None = None) -> Board:
    """A pane of the shelf's file, to practise on."""
    own = figures or values()
    on = OnGlass(pane_measures(part), False, measured(part, starting=own), own)
    return board_of(on, Bears.of(limit, starting=own), laminated=False)


def lesson_board(lesson: Lesson, *, limit: float | None = None) -> Board:
    """A lesson's pane."""
    return board_of_part(pane_part(lesson.pane), limit or lesson.limit)


def bowl(
    most: float = 0.01, *, limit: float = 0.03, laminated: bool = False, figures: StartingValues | None = None
) -> Board:
    """A made-up pane, 600 by 400 mm, whose film needs ``most`` · (v / 200 mm)² wherever u is; either way up."""
    own = figures or values()

    def lie(way: Unrolled) -> Lie:
        u, v = np.linspace(-325, 325, COLUMNS), np.linspace(-225, 225, ROWS)
        over_u, over_v = np.meshgrid(u, v)
        needed = np.rint(most * (over_v / 200) ** 2 * 1e7) / 1e7
        ring = np.array([[-300.0, -200.0], [300.0, -200.0], [300.0, 200.0], [-300.0, 200.0]])
        zones = tuple(Zone(one, most, 1.0, ShrinkWord.CARD, (), 5.0, (), 1.0) for one in Quarter)
        plan = HeatPlan((-220.0, 220.0), 80.0, zones, True, 8.0)
        return Lie(way, u, v, needed, (abs(over_u) <= 300) & (abs(over_v) <= 200), (-220.0, 220.0), ring, plan)

    lies = {way: lie(way) for way in Unrolled}
    return Board(lies, limit, ShrinkWord.CARD, laminated, own)


def barrel_part(*, across: float, up: float, curve: Curve) -> PanePart:
    """A pane of 900 by 460 mm read with a fine tape off a barrel of these curvatures [1/mm]; equal, it is a sphere."""
    corners = np.array([[0.0, 0.0], [900.0, 0.0], [860.0, 460.0], [40.0, 460.0]])
    barrel = Barrel(across=across, up=up)
    read = read_pane(corners, Figure.FOUR, barrel, noise=lambda: 0.0) | read_crowns(corners, barrel, noise=lambda: 0.0)
    return PanePart(
        label="Back glass", kind=WindowKind.BACK_GLASS, position=Position.REAR_WINDOW, side=Side.CENTRE, curve=curve,
        glass_type=GlassType.TEMPERED, level=Level.CURVE, figure=Figure.FOUR,
        readings={key: ReadingPart(typed=typed) for key, typed in read.items()},
    )  # fmt: skip


Move = tuple[Any, ...]
READY: tuple[Move, ...] = (("sheet",), ("wait", 12), ("lay", "across"), ("h", "across"))


def acted(board: Board, moves: Sequence[Move], *, seed: int = 0) -> Run:
    """A run of moves: strokes without their step, ``wait`` so many steps, ``gun`` with a number of steps at the end."""
    rows: list[list[Any]] = []
    step = 0
    for move in moves:
        if move[0] == "wait":
            step += move[1]
        elif move[0] == "gun":
            rows += [[step + k, *move[:-1]] for k in range(move[-1])]
            step += move[-1]
        else:
            rows.append([step, *move])
            step += 1
    return played(begin(board, seed=seed), read_strokes(rows), until=step)


def calm(board: Board) -> Board:
    """The same with no difference between lots and days."""
    own = board.values.with_shop_values({"practice_lot_spread": 0.0, "practice_room_spread_k": 0.0})
    return replace(board, values=own)


@dataclass(frozen=True)
class PoorHand:
    """A hand that does it wrong in one way, whatever the pane."""

    name: str
    reasons: frozenset[str]  # one of which must be told

    def __call__(self, eyes: Eyes, chance: np.random.Generator) -> Iterator[list[Stroke]]:
        """What it does, until something is ruined."""
        yield [Stroke(eyes.now.step, Do.SHEET)]
        while not eyes.now.dry:
            yield []
        yield [Stroke(eyes.now.step, Do.LAY)]
        yield [Stroke(eyes.now.step, Do.H)]
        lie = eyes.now.lie
        for row, column in self._order(lie, chance):
            if eyes.now.looks[row, column] >= Looks.DOWN:
                continue
            at = {"x": float(round(lie.u[column])), "y": float(round(lie.v[row]))}
            if self.name == "random" and chance.random() < 0.7:
                for _ in range(int(chance.integers(2, 12))):
                    yield [Stroke(eyes.now.step, Do.GUN, **at, near=float(chance.choice([0.5, 1.0])))]
            if self.name == "edge_first":
                yield from _drawn_in(eyes, (row, column), at)
            yield [Stroke(eyes.now.step, Do.GLOVE if self.name == "press_first" else Do.CARD, **at)]
            if eyes.now.marks[lie.on_glass].any():
                return

    def _order(self, lie: Lie, chance: np.random.Generator) -> np.ndarray:
        places = np.argwhere(lie.on_glass)
        if self.name == "random":
            return places[chance.permutation(len(places))]
        far = np.abs(lie.over_v[lie.on_glass]) + chance.normal(0, 5, len(places))
        return places[np.argsort(far if self.name == "press_first" else -far)]


def _drawn_in(eyes: Eyes, place: tuple[int, int], at: dict[str, float]) -> Iterator[list[Stroke]]:
    """Heat one place until it lies down, as it should be, and wait until it is no longer hot."""
    for _ in range(200):
        if eyes.now.stands[place] == 0 or eyes.now.warmth[place] >= Warmth.TOO_HOT:
            break
        yield [Stroke(eyes.now.step, Do.GUN, **at, near=0.6)]
    while eyes.now.warmth.max() >= Warmth.WORKS:
        yield []


POOR_HANDS = (
    PoorHand("random", frozenset({"cold_crease", "shut_in", "early_crease", "haze", "hot_pinch", "dragged", "late_pinch", "below_heat"})),
    PoorHand("press_first", frozenset({"cold_crease"})),
    PoorHand("edge_first", frozenset({"shut_in"})),
)  # fmt: skip

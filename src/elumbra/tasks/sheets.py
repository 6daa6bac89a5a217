"""Whether pieces go on a bought sheet, by how much, and the least sheet that does: by blanks and by outlines."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import replace

import numpy as np
from pydantic import BaseModel, ConfigDict
from shapely import Polygon

from elumbra.car import assemble
from elumbra.core.cut import EDGES, CutLine, EdgeAllowance, PaneToCut, blank_for, pattern_turns
from elumbra.core.film import Stock, StockKind
from elumbra.core.geom.polygon import Points
from elumbra.core.law import LawFile
from elumbra.core.nest import Blank, Costing, Pattern, PatternRules, plan_cuts, plan_patterns
from elumbra.core.starting import StartingValues
from elumbra.core.units import inches
from elumbra.core.work import Car, ToCut, readiness
from elumbra.documents.job_file import JobFile
from elumbra.documents.plan import PlanDocument, PlanSheet, PlanSheetOutlines
from elumbra.tasks.layouts import better_and_better, with_films
from elumbra.tasks.order import FilmOrder

_SHEET_WIDTHS = (inches(20), inches(24))  # home sheets, handbook 3
_ENDLESS = 304_800.0
_PRICE = 1e-5


class SheetInput(BaseModel):
    """A job, and the sheet that it shall come from [mm]."""

    model_config = ConfigDict(extra="forbid")

    job: JobFile
    width_mm: float
    length_mm: float
    label: str


def plan_sheets(
    asked: SheetInput, shell: Callable[[JobFile, Car], PlanDocument], shipped: LawFile, defaults: StartingValues,
    *, today: str,
) -> Iterator[PlanDocument]:  # fmt: skip
    """Yield how each film's pieces lie on such a sheet of it; the last one has ``finished`` set.

    Raises
    ------
    CoreError
        The job holds something that cannot be.
    """
    car = assemble(asked.job, shipped, defaults, today=today)
    starting = car.starting.with_shop_values({"edge_margin_mm": 0.0})
    costing = Costing.from_starting(starting)
    orders = []
    for film_id, to_cut in car.to_cut.items():
        stock = Stock(
            f"sheet of {film_id}", film_id, StockKind.SHEET, asked.width_mm, asked.length_mm, _PRICE, label=asked.label
        )
        blanks = [blank_for(pane, starting=starting) for pane in to_cut.panes.values()]
        outlined = outlined_pieces(to_cut, starting)
        by_blanks = fit_by_blanks(blanks, stock, costing, starting)
        by_outlines = fit_by_outlines(outlined.patterns, stock, costing, starting)
        orders.append(
            FilmOrder(
                car.job.films[film_id], outlined, [stock], costing, starting, unlawful={},
                sides={window.id: window.side for window in car.job.windows}, two_lots=True,
                sheet=by_blanks.model_copy(update={"by_outlines": by_outlines}),
            )
        )  # fmt: skip
    for plans in better_and_better(orders):
        yield with_films(shell(asked.job, car), plans, ready=readiness(car).headline)


def outlined_pieces(to_cut: ToCut, starting: StartingValues) -> ToCut:
    """A film's pieces as patterns: each pane's outline with the play of a home sheet all round."""
    play = starting["sheet_outline_play_mm"]
    lines = {name: _around(pane, play) for name, pane in to_cut.panes.items()}
    patterns = [
        Pattern(name, pane.label, lines[name].ring - lines[name].ring.min(axis=0), pattern_turns(pane))
        for name, pane in to_cut.panes.items()
    ]
    panes = {name: replace(pane, by_hand=None) for name, pane in to_cut.panes.items()}
    return ToCut(to_cut.film_id, (), panes, tuple(patterns), lines)


def _around(pane: PaneToCut, play: float) -> CutLine:
    """The outline grown by the play on every side, corners cut off where they would stand out far."""
    grown = Polygon(pane.outline.ring).buffer(play, join_style="mitre", mitre_limit=2)
    told = tuple(EdgeAllowance(edge, "to trim on the glass", play) for edge in EDGES)
    return CutLine(_counter_clockwise(grown.exterior.coords[:-1]), told)


def _counter_clockwise(points: Sequence[tuple[float, ...]]) -> Points:
    ring = np.array(points)
    doubled = float(np.dot(ring[:, 0], np.roll(ring[:, 1], -1)) - np.dot(ring[:, 1], np.roll(ring[:, 0], -1)))
    return ring if doubled > 0 else ring[::-1]


def fit_by_blanks(blanks: Sequence[Blank], sheet: Stock, costing: Costing, starting: StartingValues) -> PlanSheet:
    """The length that a sheet's width needs, and the least customary sheet that does."""

    def needed(width: float) -> float | None:
        roll = _endless(sheet, width)
        plan = list(plan_cuts(blanks, [roll], costing, roll_widths=starting.roll_widths_mm))[-1]
        return None if plan.layout.unplaced else plan.layout.used_length(roll.id)

    lengths, least = _lengths(sheet, needed)
    return PlanSheet(
        width_mm=sheet.width, length_mm=sheet.length, needed_mm=lengths[sheet.width], least_width_mm=least,
        least_length_mm=lengths[least] if least else None,
    )  # fmt: skip


def fit_by_outlines(
    patterns: Sequence[Pattern], sheet: Stock, costing: Costing, starting: StartingValues
) -> PlanSheetOutlines:
    """The same for outlines; the library is given a second for each width."""
    rules = PatternRules.from_starting(starting)

    def needed(width: float) -> float | None:
        plans = plan_patterns(
            patterns, [_endless(sheet, width)], costing, rules, roll_widths=starting.roll_widths_mm, seconds=(1,)
        )
        plan = list(plans)[-1]
        return None if plan.unplaced else plan.roll_length

    lengths, least = _lengths(sheet, needed)
    return PlanSheetOutlines(
        play_mm=starting["sheet_outline_play_mm"], needed_mm=lengths[sheet.width], least_width_mm=least,
        least_length_mm=lengths[least] if least else None,
    )  # fmt: skip


def _lengths(sheet: Stock, needed: Callable[[float], float | None]) -> tuple[dict[float, float | None], float | None]:
    """By width, the length that all needs; and the customary width whose sheet is least."""
    lengths = {width: needed(width) for width in sorted({*_SHEET_WIDTHS, sheet.width})}
    holding = [(width * length, width) for width in _SHEET_WIDTHS if (length := lengths[width]) is not None]
    return lengths, min(holding, default=(None, None))[1]


def _endless(sheet: Stock, width: float) -> Stock:
    return Stock("endless", sheet.film_id, StockKind.ROLL, width, _ENDLESS, _PRICE)

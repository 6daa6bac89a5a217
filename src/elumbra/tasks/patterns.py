"""Patterns in a plan: laid out on what the blanks leave of the stock, a pair from one lot."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from elumbra.core.cut import CutLine, EdgeAllowance, PaneToCut, edge_middles
from elumbra.core.film import LinerSide, Stock, StockKind
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Side
from elumbra.core.nest import (
    Costing,
    CutPlan,
    HandPlace,
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRules,
    lot_of,
    plan_patterns,
    plan_patterns_with_hand,
    rotation,
    settle_patterns,
)
from elumbra.core.starting import StartingValues
from elumbra.core.work import ToCut
from elumbra.documents.plan import PlanAllowance, PlanCut, PlanLeftover, PlanPiece, PlanScore

_LEAST_LEFT = 1.0  # mm


@dataclass(frozen=True)
class OnFilm:
    """A plan's patterns on the film that its blanks left, and where on each stock they begin."""

    plan: PatternPlan
    start: Mapping[str, float]
    by_hand: frozenset[str] = frozenset()  # patterns that lie where somebody put them
    refused: Mapping[str, str] = field(default_factory=dict)  # why others cannot


def patterns_after(
    blanks: CutPlan | None,
    to_cut: ToCut,
    stocks: Sequence[Stock],
    costing: Costing,
    starting: StartingValues,
    *,
    two_lots_allowed: bool,
    seconds: Sequence[int],
) -> Iterator[OnFilm]:
    """Ever better layouts of patterns on what is left; with no ``seconds`` the first one alone."""
    rules, patterns = PatternRules.from_starting(starting), to_cut.patterns
    start = {stock.id: blanks.layout.used_length(stock.id) if blanks else 0.0 for stock in stocks}
    left = [replace(stock, length=stock.length - start[stock.id]) for stock in stocks]
    left = [stock for stock in left if stock.length > _LEAST_LEFT]
    places = pattern_places(to_cut, {stock.id: stock for stock in stocks}, start)
    if any(pattern.pair for pattern in patterns) and not two_lots_allowed:
        left = _one_lot(patterns, left, costing, rules, starting, places)
    refused = settle_patterns(places, patterns, left, rules).refused
    for plan in plan_patterns_with_hand(
        patterns, left, costing, rules, places=places, roll_widths=starting.roll_widths_mm, seconds=seconds
    ):  # fmt: skip
        yield OnFilm(plan, start, frozenset(places) - frozenset(refused), refused)


def pattern_places(to_cut: ToCut, stocks: Mapping[str, Stock], start: Mapping[str, float]) -> dict[str, HandPlace]:
    """Where patterns were put by hand, as the planner counts: liner side up, from behind the blanks."""
    found = {}
    for pattern in to_cut.patterns:
        place = to_cut.places.get(pattern.id)
        if place is None:
            continue
        if place.stock in stocks:
            place = place.seen_otherwise(stocks[place.stock], pattern.across(place.turn))
        found[pattern.id] = replace(place, x=place.x - start.get(place.stock, 0.0))
    return found


def _one_lot(
    patterns: Sequence[Pattern],
    stocks: Sequence[Stock],
    costing: Costing,
    rules: PatternRules,
    starting: StartingValues,
    places: Mapping[str, HandPlace],
) -> list[Stock]:
    """The stock of the lot that somebody put one on; else of the one that holds most for the least money."""
    lots: dict[str, list[Stock]] = {}
    for stock in stocks:
        lots.setdefault(lot_of(stock), []).append(stock)
    if len(lots) <= 1:
        return list(stocks)
    put = [lot for lot, group in lots.items() if {one.id for one in group} & {at.stock for at in places.values()}]
    if put:
        return lots[put[0]]

    def rank(lot: str) -> tuple[int, float, str]:
        first = next(
            plan_patterns(patterns, lots[lot], costing, rules, roll_widths=starting.roll_widths_mm, seconds=())
        )
        return len(first.unplaced), first.net, lot

    return lots[min(lots, key=rank)]


def pattern_pieces(found: OnFilm, to_cut: ToCut, stocks: Mapping[str, Stock]) -> list[PlanPiece]:
    """Patterns in their places as seen from above, with glass and cut line; marks are given later."""
    panes, lines = to_cut.panes, to_cut.lines
    turns = {pattern.id: pattern.turns for pattern in to_cut.patterns}
    pieces = []
    for strip in found.plan.strips:
        stock = stocks[strip.stock_id]
        for item in strip.placed:
            pane, line = panes[item.pattern_id], lines[item.pattern_id]
            cut = _seen_from_above(item.ring, stock, found.start[stock.id])
            glass = _seen_from_above(_glass_on(item, pane, line), stock, found.start[stock.id])
            edges = _from_above(_on_pattern(edge_points(_drawn(pane, line)), item, line), stock, found.start[stock.id])
            (x, y), (far_x, far_y) = cut.min(axis=0).tolist(), cut.max(axis=0).tolist()
            pieces.append(
                PlanPiece(
                    mark="", kind="pattern", window_id=pane.window_id, label=pane.label, side=Side.CENTRE,
                    stock_id=stock.id, x_mm=x, y_mm=y, along_mm=far_x - x, across_mm=far_y - y,
                    turn=float(item.turn.value), factory_edge=False, measured=pane.outline.measured,
                    outline=_points(glass), cut_line=_points(cut), pair_mark=None, play_mm=None, unlawful="",
                    method=pane.method.value,
                    allowances=edges_told(line.allowances, _drawn(pane, line), edges),
                    by_hand=item.pattern_id in found.by_hand, part=part_of(pane),
                    turns=[float(turn) for turn in turns[item.pattern_id]], true_pattern=line.true,
                    ticks=[
                        _points(_from_above(_on_pattern(np.array(tick), item, line), stock, found.start[stock.id]))
                        for tick in line.ticks
                    ],
                )
            )  # fmt: skip
    return pieces


def part_of(pane: PaneToCut) -> str:
    """Which part of its window a piece is; nothing for the whole."""
    return pane.id.removeprefix(pane.window_id).removeprefix(":")


def _glass_on(item: PatternPlaced, pane: PaneToCut, line: CutLine) -> Points:
    """The pane itself where its pattern lies: turned and moved with its cut line."""
    return _on_pattern(_drawn(pane, line), item, line)


def _drawn(pane: PaneToCut, line: CutLine) -> Points:
    """The pane beside its cut line: on the flat film where that is the true pattern."""
    return pane.outline.ring if line.glass is None else line.glass


def _on_pattern(points: Points, item: PatternPlaced, line: CutLine) -> Points:
    turn = rotation(item.turn)
    low = (line.ring @ turn).min(axis=0)
    return np.asarray(points @ turn - low + np.array([item.x, item.y]))


def edge_points(ring: Points) -> Points:
    """The middles of a pane's edges, shape ``(n, 2)``."""
    return np.array(list(edge_middles(ring).values()))


def edges_told(allowances: Sequence[EdgeAllowance], ring: Points, edges: Points) -> list[PlanAllowance]:
    """Allowances with the places of their edges on the film, which are the pane's ``edge_points`` laid there."""
    there = dict(zip(edge_middles(ring), edges.tolist(), strict=True))
    return [
        PlanAllowance(
            edge=one.edge, name=one.name, mm=one.mm,
            at=[round(mm, 2) for mm in there[one.edge]] if one.edge in there else None,
        )
        for one in allowances
    ]  # fmt: skip


def _seen_from_above(ring: Points, stock: Stock, start: float) -> Points:
    """Laid out liner side up; a roll that lies film up shows its mirror image."""
    seen = _from_above(ring, stock, start)
    return seen[::-1] if stock.liner is LinerSide.DOWN else seen


def _from_above(points: Points, stock: Stock, start: float) -> Points:
    y = stock.width - points[:, 1] if stock.liner is LinerSide.DOWN else points[:, 1]
    return np.column_stack([points[:, 0] + start, y])


def _points(ring: Points) -> list[list[float]]:
    return [[round(x, 3), round(y, 3)] for x, y in ring.tolist()]


def pattern_cuts(found: OnFilm, stocks: Mapping[str, Stock], *, after: int) -> list[PlanCut]:
    """One cut across the roll behind each strip."""
    cuts = []
    for strip in found.plan.strips:
        stock = stocks[strip.stock_id]
        if stock.kind is not StockKind.ROLL:
            continue
        at = found.start[strip.stock_id] + strip.length
        after += 1
        cuts.append(
            PlanCut(
                number=after, stock_id=strip.stock_id, kind="across_roll", at_mm=strip.length,
                measured_from="the film's free end", start=[at, 0.0], end=[at, stock.width],
            )
        )  # fmt: skip
    return cuts


def pattern_leftovers(found: OnFilm, stocks: Mapping[str, Stock]) -> list[PlanLeftover]:
    """The largest rectangle that each strip leaves."""
    rests = []
    for one in found.plan.rests:
        stock = stocks[one.stock_id]
        y = stock.width - one.y - one.across if stock.liner is LinerSide.DOWN else one.y
        if one.along > 0:
            rests.append(
                PlanLeftover(
                    stock_id=one.stock_id, x_mm=one.x + found.start[one.stock_id], y_mm=y, along_mm=one.along,
                    across_mm=one.across, usable=one.usable,
                )
            )  # fmt: skip
    return rests


def pattern_score(plan: PatternPlan, costing: Costing) -> PlanScore:
    """What a layout of patterns costs and leaves."""
    share = plan.placed_area / plan.taken_area if plan.taken_area else 0.0
    return PlanScore(
        new_film=plan.new_film, offcuts_used=plan.offcuts_used, minutes=plan.minutes,
        labour=plan.minutes * costing.minute_price, offcuts_kept=plan.kept, net=plan.net,
        roll_length_mm=plan.roll_length, yield_percent=100 * share,
    )  # fmt: skip

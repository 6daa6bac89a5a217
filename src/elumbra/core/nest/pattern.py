"""Patterns: true outlines laid on film for a cutter or scissors, with a knife gap and an edge margin.

One strip of fixed width is packed by a library (sparrow, by way of ``spyrrow``); which stock gives
which piece, what is left over and what it costs is worked out here. What the library answers is
taken only after the checker has passed it (``check_patterns``). At once, before the library has
worked, the blanks' planner lays the pieces out as rectangles.

Directions are those of the blanks: x along the roll, y across it, as seen liner side up.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon
from spyrrow import Item, StripPackingConfig, StripPackingInstance

from elumbra.core.errors import LayoutError
from elumbra.core.film import Stock, StockKind
from elumbra.core.geom.polygon import Points
from elumbra.core.nest.first import place_all
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Layout, Leftover, Turn, TurnOption, Unplaced
from elumbra.core.nest.leftover import largest_rectangle
from elumbra.core.nest.pattern_check import check_patterns
from elumbra.core.nest.pattern_layout import (
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRules,
    PatternStrip,
    rotation,
    strip_of,
)
from elumbra.core.nest.unplaced import fits, no_room, split_fitting

_SIMPLE_MM = 0.3  # the library gets outlines that much larger and simpler
_HAIR = 1.0  # mm: what fits the strip by less than this is left to the rectangles
_EXTRA_GAP = 0.05  # mm: rounding of the library is never taken off the gap


def plan_patterns(
    patterns: Sequence[Pattern],
    stocks: Sequence[Stock],
    costing: Costing,
    rules: PatternRules,
    *,
    roll_widths: Sequence[float],
    seconds: Sequence[int] = (1, 3, 6),
    seed: int = 1,
) -> Iterator[PatternPlan]:
    """Yield ever better verified plans; the last one has ``finished`` set.

    Parameters
    ----------
    patterns, stocks, costing
        What is cut, from what, and what it costs.
    rules
        Gap between patterns, margin to the film's edges.
    roll_widths
        Customary roll widths [mm], named where the rack holds none that does.
    seconds
        Time given to the library, run after run.
    seed
        Of the library's search.

    Raises
    ------
    LayoutError
        Only if what was laid out broke a rule of cutting.
    """
    order = sorted(patterns, key=lambda one: (-Polygon(one.ring).area, one.pair, one.id))
    boxes = [box_of(pattern, rules) for pattern in order]
    inner = [inner_of(stock, rules) for stock in stocks]
    fitting, unplaced = split_fitting(boxes, inner, roll_widths)
    first, left_over, surely = place_all(fitting, inner, costing, np.random.default_rng(seed))
    unplaced += [no_room(blank, roll_widths, surely=surely) for blank in left_over]
    by_id = {pattern.id: pattern for pattern in order}
    placed_ids = {blank.id for blank in fitting} - {blank.id for blank in left_over}
    kept = [pattern for pattern in order if pattern.id in placed_ids]
    maker = _Maker(kept, {stock.id: stock for stock in stocks}, costing, rules, tuple(unplaced))
    best = maker.plan(_as_strips(first, by_id, rules), finished=not kept or not seconds)
    yield best
    if best.finished and not (seconds and left_over):
        return
    for blank in left_over if seconds else ():
        squeezed = _squeezed_in(by_id[blank.id], maker, best, seed)
        if squeezed is not None:
            maker, best = squeezed
            kept = maker.patterns
            yield best
    # Two or three pieces are laid as well in a second as in ten.
    for run, time in enumerate(seconds[:1] if len(kept) <= _FEW else seconds):
        for strips in _packed_again(maker, best, time, seed + run):
            plan = maker.plan(strips, finished=False)
            if plan.net < best.net - TOUCHING:
                best = plan
                yield best
    yield replace(best, finished=True)


def verified_patterns(
    strips: Sequence[PatternStrip],
    patterns: Sequence[Pattern],
    stocks: Sequence[Stock],
    costing: Costing,
    rules: PatternRules,
    *,
    unplaced: Sequence[Unplaced],
) -> PatternPlan:
    """A layout that was made otherwise, verified and costed.

    Raises
    ------
    LayoutError
        It cannot be cut.
    """
    without = {item.blank_id for item in unplaced}
    kept = [pattern for pattern in patterns if pattern.id not in without]
    maker = _Maker(kept, {stock.id: stock for stock in stocks}, costing, rules, tuple(unplaced))
    return maker.plan(strips, finished=False)


def box_of(pattern: Pattern, rules: PatternRules) -> Blank:
    """A pattern as the blank that holds it with its gap."""
    options = {}
    for turn in pattern.turns:
        along, across = pattern.turned(turn).max(axis=0).tolist()
        plain = {Turn.UPSIDE_DOWN: Turn.UPRIGHT, Turn.SIDEWAYS_BACK: Turn.SIDEWAYS}.get(turn, turn)
        options[plain] = TurnOption(plain, along + rules.gap, across + rules.gap)
    return Blank(pattern.id, pattern.label, tuple(options.values()), pattern.pair)


def inner_of(stock: Stock, rules: PatternRules) -> Stock:
    """Stock less its margins; the gap of the last pattern may reach into them."""
    less = 2 * rules.margin - rules.gap
    return replace(stock, width=max(0.0, stock.width - less), length=max(0.0, stock.length - less))


def _as_strips(layout: Layout, by_id: dict[str, Pattern], rules: PatternRules) -> list[PatternStrip]:
    """Rectangles as patterns, one strip a stock."""
    found: dict[str, list[PatternPlaced]] = {}
    for section in layout.sections:
        for lane in section.lanes:
            for item in lane.placed:
                pattern = by_id[item.blank_id]
                turn = item.turn if item.turn in pattern.turns else Turn.UPRIGHT
                x, y = item.x + rules.margin, item.y + rules.margin
                ring = pattern.turned(turn) + np.array([x, y])
                found.setdefault(section.stock_id, []).append(PatternPlaced(pattern.id, turn, x, y, ring))
    return [strip_of(stock_id, placed, rules) for stock_id, placed in found.items()]


_FEW = 3


def _squeezed_in(pattern: Pattern, maker: _Maker, best: PatternPlan, seed: int) -> tuple[_Maker, PatternPlan] | None:
    """One pattern more, which had no room as a rectangle, packed by outline with those that lie on a stock."""
    lying = {strip.stock_id: [maker.by_id[item.pattern_id] for item in strip.placed] for strip in best.strips}
    fuller = replace(
        maker, patterns=[*maker.patterns, pattern],
        unplaced=tuple(one for one in maker.unplaced if one.blank_id != pattern.id),
    )  # fmt: skip
    for stock in maker.by_stock.values():
        strip = fuller.packed(stock.id, [*lying.get(stock.id, []), pattern], 1, seed)
        if strip is not None:
            others = [one for one in best.strips if one.stock_id != stock.id]
            return fuller, fuller.plan([*others, strip], finished=False)
    return None


def _packed_again(maker: _Maker, best: PatternPlan, time: int, seed: int) -> Iterator[list[PatternStrip]]:
    """Other layouts: each stock's patterns packed by outline, and all of them on each roll that may hold them."""
    alone = [stock for stock in maker.rolls_that_hold_all()[:_MOST_ALONE] if _held(best) != {stock.id}]
    time = max(1, time // (len(best.strips) + len(alone)))
    holdings = {strip.stock_id: [maker.by_id[item.pattern_id] for item in strip.placed] for strip in best.strips}
    packed = {stock_id: maker.packed(stock_id, held, time, seed) for stock_id, held in holdings.items()}
    yield [packed[strip.stock_id] or strip for strip in best.strips]
    for stock in alone:
        on_one = maker.packed(stock.id, maker.patterns, time, seed)
        if on_one is not None:
            yield [on_one]


_MOST_ALONE = 2


def _held(plan: PatternPlan) -> set[str]:
    return {strip.stock_id for strip in plan.strips}


@dataclass(frozen=True)
class _Maker:
    patterns: list[Pattern]
    by_stock: dict[str, Stock]
    costing: Costing
    rules: PatternRules
    unplaced: tuple[Unplaced, ...]

    @property
    def by_id(self) -> dict[str, Pattern]:
        return {pattern.id: pattern for pattern in self.patterns}

    def rolls_that_hold_all(self) -> list[Stock]:
        """Rolls wide and long enough, by what an area of their film costs and how wide they are."""
        area = sum(Polygon(pattern.ring).area for pattern in self.patterns)
        holding = [
            stock
            for stock in self.by_stock.values()
            if stock.kind is StockKind.ROLL
            and stock.length * stock.width > area
            and all(fits(box_of(pattern, self.rules), inner_of(stock, self.rules)) for pattern in self.patterns)
        ]
        return sorted(holding, key=lambda stock: (stock.price, -stock.width, stock.id))

    def packed(self, stock_id: str, patterns: Sequence[Pattern], time: int, seed: int) -> PatternStrip | None:
        """Patterns packed on one stock by outline; None where they do not fit its length, or a rule is broken."""
        stock, rules = self.by_stock[stock_id], self.rules
        # The library keeps the gap to the strip's edges too; here the margin alone is kept to them.
        gap = rules.gap + _EXTRA_GAP
        height = stock.width - 2 * rules.margin + 2 * gap
        outlines = [_simple(pattern.ring) for pattern in patterns]
        ways = [
            [turn for turn in pattern.turns if _height(outline, turn) + 2 * gap < height - _HAIR]
            for pattern, outline in zip(patterns, outlines, strict=True)
        ]
        if not all(ways):
            return None
        items = [
            Item(str(i), outline, 1, [float(turn) for turn in turns])
            for i, (outline, turns) in enumerate(zip(outlines, ways, strict=True))
        ]
        config = StripPackingConfig(
            early_termination=True, total_computation_time=time, min_items_separation=gap, num_workers=1, seed=seed
        )
        try:
            solved = StripPackingInstance("strip", height, items).solve(config)
        except BaseException as error:
            # The library ends in a panic where it finds no place for a piece; that is no Exception to Python.
            if type(error).__name__ == "PanicException":
                return None
            raise
        by = rules.margin - gap
        placed = [_placed(patterns[int(item.id)], item.rotation, item.translation, by) for item in solved.placed_items]
        low = min(float(item.ring[:, 0].min()) for item in placed) - rules.margin
        shifted = [replace(item, x=item.x - low, ring=item.ring - np.array([low, 0.0])) for item in placed]
        strip = strip_of(stock_id, shifted, rules)
        if strip.length > stock.length + TOUCHING:
            return None
        try:
            check_patterns([strip], {one.id: one for one in patterns}, {stock_id: stock}, rules)
        except LayoutError:
            return None
        return strip

    def _could_give(self, stock: Stock) -> float:
        """At most so much area of patterns comes from one offcut: of those that fit it, and no more than it has."""
        inner = inner_of(stock, self.rules)
        fitting = sum(float(Polygon(one.ring).area) for one in self.patterns if fits(box_of(one, self.rules), inner))
        return min(stock.length * stock.width, fitting)

    def plan(self, strips: Sequence[PatternStrip], *, finished: bool) -> PatternPlan:
        check_patterns(strips, self.by_id, self.by_stock, self.rules)
        film = used = kept = roll_length = taken = 0.0
        rests = []
        for strip in strips:
            stock = self.by_stock[strip.stock_id]
            pulled = strip.length if stock.kind is StockKind.ROLL else stock.length
            taken += pulled * stock.width
            if stock.kind is StockKind.ROLL:
                film += pulled * stock.width * stock.price
                roll_length += pulled
            else:
                used += self.costing.worth(stock.length, stock.width, stock.price)
            x, y, along, across = largest_rectangle(
                [item.ring for item in strip.placed], length=pulled, width=stock.width, gap=self.rules.gap
            )
            usable = self.costing.usable(along, across)
            rests.append(Leftover(strip.stock_id, x, y, along, across, usable))
            kept += self.costing.worth(along, across, stock.price)
        rolls = sum(self.by_stock[strip.stock_id].kind is StockKind.ROLL for strip in strips)
        minutes = len(strips) * self.costing.knife_cut_minutes + self.costing.pull_minutes * max(0, rolls - 1)
        area = sum(Polygon(pattern.ring).area for pattern in self.patterns)
        cheapest = min((stock.price for stock in self.by_stock.values() if stock.kind is StockKind.ROLL), default=0.0)
        others = [stock for stock in self.by_stock.values() if stock.kind is not StockKind.ROLL]
        bound = max(0.0, area - sum(self._could_give(stock) for stock in others)) * cheapest
        net = film + used + minutes * self.costing.minute_price - kept
        return PatternPlan(
            tuple(strips), self.unplaced, tuple(rests), film, used, kept, minutes, net, roll_length, area, taken,
            bound, finished,
        )  # fmt: skip


def _simple(ring: Points) -> list[tuple[float, float]]:
    """An outline with fewer points that holds the whole of it."""
    polygon = Polygon(ring)
    simple = polygon.buffer(_SIMPLE_MM / 2, join_style="mitre").simplify(_SIMPLE_MM / 2)
    if not isinstance(simple, Polygon) or not simple.contains(polygon):
        simple = polygon
    return [(float(x), float(y)) for x, y in simple.exterior.coords[:-1]]


def _height(outline: Sequence[tuple[float, float]], turn: Turn) -> float:
    """How far an outline reaches across the strip when turned so [mm]."""
    return float(np.ptp((np.array(outline) @ rotation(turn))[:, 1]))


def _placed(pattern: Pattern, degrees: float, translation: tuple[float, float], by: float) -> PatternPlaced:
    turn = Turn(round(degrees) % 360)
    ring = pattern.ring @ rotation(turn) + np.array(translation) + by
    x, y = ring.min(axis=0).tolist()
    return PatternPlaced(pattern.id, turn, x, y, np.asarray(ring))

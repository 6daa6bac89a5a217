"""The planner: a verified layout at once, better ones as they are found, proof where it can be had.

Worth of what is left over never buys film: the plan that is cheapest when leftovers are worth nothing
says how much new film there may be, and only within that is their worth weighed (heart, section 5).

Nine different blanks are proven, twelve often, not always. Larger days are put together from a pool of exact
sections (``pool``), each result polished by planning a few sections anew; they end with the gap to
the bound. In which order blanks and stock are told never matters. Every run with the same input,
effort and seed takes the same steps.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from math import inf

import numpy as np

from elumbra.core.errors import LayoutError
from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.baseline import one_by_one_narrowest, one_by_one_single
from elumbra.core.nest.bounds import Bounds, film_bounds
from elumbra.core.nest.check import check_layout
from elumbra.core.nest.exact import solve_exact
from elumbra.core.nest.first import NEIGHBOUR_ROWS, most_placed, rest, whole_windows
from elumbra.core.nest.lanes import TooManySectionsError, by_size, count_codes
from elumbra.core.nest.layout import (
    TOUCHING,
    Blank,
    Costing,
    Layout,
    Score,
    Unplaced,
    by_id,
    score,
)
from elumbra.core.nest.pool import Pool, packed
from elumbra.core.nest.unplaced import fits, no_room, split_fitting

NEIGHBOURHOOD = 6  # blanks re-planned together
DEFAULT_ROUNDS = 40
_FIRST_ROUNDS = 12  # of pricing, before the first layout is made of the pool
_POLISH = 24  # neighbourhoods of a layout that are planned anew
_PROVABLE_AT_ONCE = 512  # sets of blanks; larger jobs are proven faster from a good plan
_MOST_ALONE = 6  # rolls tried one at a time
_NOTHING_FOUND = 12  # rounds without a better plan, after which no more is looked for
_BETTER = 1e-6
_TIE = 1e-6


@dataclass(frozen=True)
class Baseline:
    """A customary way of cutting the same blanks from the same rolls."""

    layout: Layout
    score: Score


@dataclass(frozen=True)
class CutPlan:
    """A verified layout with everything it is measured against."""

    layout: Layout
    score: Score
    bounds: Bounds
    narrowest: Baseline | None  # one after another, each on the narrowest roll that holds it
    single: Baseline | None  # one after another on the cheapest roll that fits all
    proven: bool
    finished: bool
    rounds: int

    @property
    def gap(self) -> float:
        """Share by which film bought lies above the free bound; 0 where nothing is bought."""
        film = self.score.new_film
        return (film - self.bounds.free) / film if film else 0.0


def plan_cuts(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    roll_widths: Sequence[float],
    rounds: int = DEFAULT_ROUNDS,
    seed: int = 1,
    starts: Sequence[Layout] = (),
) -> Iterator[CutPlan]:
    """Yield ever better verified plans; the last one has ``finished`` set.

    Parameters
    ----------
    blanks
        What is to be cut, all of one film.
    stocks
        Rolls, offcuts and sheets of that film.
    costing
        What film, minutes and offcuts are worth.
    roll_widths
        Customary roll widths [mm], named where the rack holds none that does.
    rounds
        Work limit of the improvement when proof is out of reach.
    seed
        Seed of the improvement.
    starts
        Layouts to begin from, where they still can be cut: the plan is never worse than these.

    Raises
    ------
    LayoutError
        Never for a bad rack, only if the planner itself broke a rule of cutting.
    """
    blanks, stocks = sorted(blanks, key=by_size), sorted(stocks, key=_stock_order)
    fitting, unplaced = split_fitting(blanks, stocks, roll_widths)
    rng = np.random.default_rng(seed)
    layout, left_over = whole_windows(stocks, costing, order=fitting)
    if left_over:
        yield _at_first(layout, left_over, unplaced, blanks, stocks, costing, roll_widths)
        layout, left_over, surely = most_placed(fitting, stocks, costing, rng)
        unplaced += [no_room(blank, roll_widths, surely=surely) for blank in left_over]
    maker = _Maker([blank for blank in fitting if blank not in left_over], stocks, costing, unplaced)
    found = _Found.started(maker, layout, starts=starts, whole=not left_over)
    yield maker.plan(found, proven=False, finished=False, rounds=0)
    improved = _improved(maker, found, rng, rounds)
    if count_codes(maker.blanks) > _PROVABLE_AT_ONCE:
        for _ in range(len(stocks) + 1):
            if next(improved, 0):
                yield maker.plan(found, proven=False, finished=False, rounds=0)
    try:
        _prove(maker, found)
        yield maker.plan(found, proven=not left_over, finished=True, rounds=0)
        return
    except TooManySectionsError:
        pass
    for done in improved:
        if done:
            yield maker.plan(found, proven=False, finished=False, rounds=done)
    yield maker.plan(found, proven=False, finished=True, rounds=rounds)


def _at_first(
    layout: Layout,
    left_over: Sequence[Blank],
    unplaced: Sequence[Unplaced],
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    roll_widths: Sequence[float],
) -> CutPlan:
    """What lies at once where film is scarce: more may fit."""
    without = [no_room(blank, roll_widths, surely=False) for blank in left_over]
    whole = replace(layout, unplaced=(*unplaced, *without))
    return verified_plan(whole, blanks, stocks, costing, finished=False)


def verified_plan(
    layout: Layout, blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, *, finished: bool
) -> CutPlan:
    """A layout that was made otherwise, verified, with all that it is measured against; never said to be proven.

    Raises
    ------
    LayoutError
        It cannot be cut.
    """
    without = {item.blank_id for item in layout.unplaced}
    maker = _Maker([one for one in blanks if one.id not in without], stocks, costing, list(layout.unplaced))
    found = _Found(maker)
    found.add(replace(layout, unplaced=()))
    return maker.plan(found, proven=False, finished=finished, rounds=0)


def _stock_order(stock: Stock) -> tuple[object, ...]:
    return stock.kind.value, stock.width, stock.length, stock.price, stock.lot, stock.id


def _prove(maker: _Maker, found: _Found) -> None:
    """The cheapest plan there is: first with leftovers worth nothing, then within the film of that one.

    Raises
    ------
    TooManySectionsError
        The search is too large for proof.
    """
    bare = replace(maker.costing, offcut_share=0.0)
    # Of two plans that cost the same, the one with less film.
    dearer = [replace(stock, price=stock.price * (1 + _TIE)) for stock in maker.stocks]
    least = solve_exact(maker.blanks, dearer, bare, upper=found.least_bare + _BETTER)
    if least is not None:
        found.add(least)
    if maker.costing.offcut_share:
        exact = solve_exact(
            maker.blanks, maker.stocks, maker.costing, upper=maker.score(found.best).net + _BETTER,
            most_film=found.most_film,
        )  # fmt: skip
        if exact is not None:
            found.add(exact)


def _improved(maker: _Maker, found: _Found, rng: np.random.Generator, rounds: int) -> Iterator[int]:
    """Work on the plan round by round; the round where it became better, else 0."""
    if len(maker.blanks) <= NEIGHBOURHOOD:
        return
    lines = [_Line(maker, stocks) for stocks in _racks(maker)]
    last = 0
    for done in range(1, rounds + 1):
        if done - last > max(_NOTHING_FOUND, len(lines)):
            return
        # Each line of search once, then the two that came to the cheapest plans.
        line = lines[done - 1] if done <= len(lines) else sorted(lines, key=lambda one: one.net)[done % 2 % len(lines)]
        last = done if line.search(found, rng) else last
        yield done if last == done else 0


def _racks(maker: _Maker) -> list[list[Stock]]:
    """One roll at a time with all that is no roll, where that may do; and everything."""
    rolls = [stock for stock in maker.stocks if stock.kind is StockKind.ROLL]
    others = [stock for stock in maker.stocks if stock.kind is not StockKind.ROLL]
    alone = [[roll, *others] for roll in rolls if all(any(fits(b, s) for s in [roll, *others]) for b in maker.blanks)]
    if len(rolls) < 2 or not maker.costing.pull_price:
        return [list(maker.stocks)]
    return [*alone[-_MOST_ALONE:], list(maker.stocks)]


class _Line:
    """One line of search: pools of sections of the same stock, for money and for little film."""

    def __init__(self, maker: _Maker, stocks: Sequence[Stock]) -> None:
        self.maker = maker
        self.net = inf
        self.rounds = 0
        self._pool = Pool(maker.blanks, stocks, maker.costing)
        self._bare = Pool(maker.blanks, stocks, replace(maker.costing, offcut_share=0.0))
        self._ids = {stock.id for stock in stocks}

    def search(self, found: _Found, rng: np.random.Generator) -> bool:
        """One more layout, polished; whether the best plan is a better one now."""
        # Every third looks for little film alone: it says how much film there may be.
        self.rounds += 1
        bare = self.rounds % 3 == 1 and self.maker.costing.offcut_share > 0
        pool = self._bare if bare else self._pool
        if self.rounds <= 2:
            for known in found.layouts:
                pool.add(section for section in known.sections if section.stock_id in self._ids)
            pool.grow(_FIRST_ROUNDS)
        layout = pool.dived(rng)
        if layout is None:
            return False
        better = found.add(layout)
        for _ in range(_POLISH):
            polished = _polished(layout, self.maker, rng)
            if polished is not None:
                layout = polished
        better |= found.add(layout)
        self.net = min(self.net, self.maker.score(layout).net)
        self._pool.add(section for section in layout.sections if section.stock_id in self._ids)
        return better


_KEPT = 12  # layouts that may still become the best


@dataclass
class _Found:
    """Layouts found so far, and which of them is best."""

    maker: _Maker
    best: Layout = Layout(())
    least_bare: float = inf  # least money when leftovers are worth nothing [$]
    most_film: float = inf  # film of that plan: no more may be bought [$]
    _known: list[tuple[Layout, Score]] = field(default_factory=list)

    @classmethod
    def started(cls, maker: _Maker, first: Layout, *, starts: Sequence[Layout], whole: bool) -> _Found:
        """With a first layout, the baselines where all has a place, and what was known before."""
        found = cls(maker)
        found.add(first)
        for other in (maker.narrowest, maker.single):
            if other and whole:
                found.add(other.layout)
        for start in starts:
            found.add_if_valid(start)
        return found

    @property
    def layouts(self) -> list[Layout]:
        """All that may still become the best."""
        return [layout for layout, _ in self._known]

    def add(self, layout: Layout) -> bool:
        """Take a layout in; whether the best one is another now."""
        scored = self.maker.score(layout)
        self._known.append((layout, scored))
        bare = scored.new_film * (1 + _TIE) + scored.labour
        if bare < self.least_bare - _TIE:
            self.least_bare, self.most_film = bare, scored.new_film
        allowed = [one for one in self._known if one[1].new_film <= self.most_film + _BETTER]
        before = self.best
        net = min(one[1].net for one in allowed)
        if before not in [one[0] for one in allowed] or self.maker.score(before).net > net + _BETTER:
            self.best = min(allowed, key=lambda one: one[1].net)[0]
        self._known = sorted(allowed, key=lambda one: one[1].net)[:_KEPT]
        return self.best is not before

    def add_if_valid(self, layout: Layout) -> None:
        """Take a layout in that was made for this job once, where it still can be cut."""
        try:
            check_layout(layout, blanks=by_id(self.maker.blanks), stocks=self.maker.by_stock)
        except LayoutError:
            return
        self.add(layout)


@dataclass
class _Maker:
    """Everything that turns a layout into a verified plan."""

    blanks: list[Blank]
    stocks: Sequence[Stock]
    costing: Costing
    unplaced: list[Unplaced]

    def __post_init__(self) -> None:
        self.by_stock: Mapping[str, Stock] = {stock.id: stock for stock in self.stocks}
        self.all_blanks = by_id(self.blanks)
        self.bounds = film_bounds(self.blanks, self.stocks)
        self.narrowest = self._baseline(one_by_one_narrowest(self.blanks, self.stocks, self.costing))
        self.single = self._baseline(one_by_one_single(self.blanks, self.stocks, self.costing))

    def score(self, layout: Layout) -> Score:
        return score(layout, blanks=self.all_blanks, stocks=self.by_stock, costing=self.costing)

    def _baseline(self, layout: Layout | None) -> Baseline | None:
        if layout is None:
            return None
        check_layout(layout, blanks=self.all_blanks, stocks=self.by_stock)
        return Baseline(layout, self.score(layout))

    def plan(self, found: _Found, *, proven: bool, finished: bool, rounds: int) -> CutPlan:
        layout = found.best
        whole = replace(layout, unplaced=tuple(self.unplaced))
        named = {item.blank_id for item in self.unplaced} - set(self.all_blanks)
        known = self.all_blanks | {name: Blank(name, name, ()) for name in named}
        check_layout(whole, blanks=known, stocks=self.by_stock)
        narrowest, single = (
            replace(one, score=one.score.credited(found.most_film)) if one else None
            for one in (self.narrowest, self.single)
        )
        return CutPlan(whole, self.score(layout), self.bounds, narrowest, single, proven, finished, rounds)


def _polished(best: Layout, maker: _Maker, rng: np.random.Generator) -> Layout | None:
    """Re-plan a few sections exactly, everything else held; the better layout or None."""
    order = rng.permutation(len(best.sections))
    freed: list[int] = []
    count = 0
    for index in order.tolist():
        size = sum(len(lane.placed) for lane in best.sections[index].lanes)
        if count + size <= NEIGHBOURHOOD:
            freed.append(index)
            count += size
    if not freed:
        return None
    held = [section for i, section in enumerate(best.sections) if i not in freed]
    held_layout = Layout(tuple(held))
    left = [s for s in rest(maker.stocks, held_layout) if s.length > TOUCHING]
    ids = {item.blank_id for i in freed for lane in best.sections[i].lanes for item in lane.placed}
    lot = [blank for blank in maker.blanks if blank.id in ids]
    try:
        found = solve_exact(lot, left, maker.costing, row_limit=NEIGHBOUR_ROWS)
    except TooManySectionsError:
        return None
    if found is None:
        return None
    candidate = packed((*held, *found.sections))
    return candidate if maker.score(candidate).net < maker.score(best).net - _BETTER else None

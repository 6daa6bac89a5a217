"""The planner: a verified layout at once, better ones as they are found, proof where it can be had.

Up to about nine different blanks are proven. Larger jobs are improved by re-planning a few
neighbouring sections at a time, exactly, with everything else held; they end with the gap to
the bound. Every run with the same input, effort and seed takes the same steps.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np

from elumbra.core.film import Stock
from elumbra.core.nest.baseline import one_by_one_narrowest, one_by_one_single
from elumbra.core.nest.bounds import Bounds, film_bounds
from elumbra.core.nest.check import check_layout
from elumbra.core.nest.exact import solve_exact
from elumbra.core.nest.layout import (
    TOUCHING,
    Blank,
    Costing,
    Layout,
    Score,
    Section,
    Unplaced,
    by_id,
    score,
)
from elumbra.core.nest.sections import TooManySectionsError
from elumbra.core.units import format_inches

CHUNK = 5  # blanks planned together while a first layout is put up
NEIGHBOURHOOD = 6  # blanks re-planned together
DEFAULT_ROUNDS = 60
WARM_UP_ROUNDS = 6  # a better first plan makes the proof shorter
_NEIGHBOUR_ROWS = 60_000
_TRIED_ORDERS = 12  # where film is scarce and proof out of reach
_BETTER = 1e-6


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

    Raises
    ------
    LayoutError
        Never for a bad rack, only if the planner itself broke a rule of cutting.
    """
    fitting, unplaced = _split_fitting(blanks, stocks, roll_widths)
    rng = np.random.default_rng(seed)
    maker = _Maker(fitting, stocks, costing, unplaced)
    layout, left_over, surely = _place_all(fitting, stocks, costing, rng)
    maker.unplaced += [_no_room(blank, roll_widths, surely=surely) for blank in left_over]
    maker.blanks = [blank for blank in fitting if blank not in left_over]
    best = layout
    for baseline in (maker.narrowest, maker.single):
        if baseline and not left_over and baseline.score.net < maker.score(best).net - _BETTER:
            best = baseline.layout
    yield maker.plan(best, proven=False, finished=False, rounds=0)
    for _ in range(WARM_UP_ROUNDS if len({blank.turns for blank in maker.blanks}) > NEIGHBOURHOOD else 0):
        best = _improve(best, maker, rng) or best
    try:
        exact = solve_exact(maker.blanks, stocks, costing, upper=maker.score(best).net + _BETTER)
        if exact is not None and maker.score(exact).net < maker.score(best).net - _BETTER:
            best = exact
        yield maker.plan(best, proven=not left_over, finished=True, rounds=0)
        return
    except TooManySectionsError:
        pass
    for turn in range(1, rounds + 1):
        better = _improve(best, maker, rng)
        if better is not None:
            best = better
            yield maker.plan(best, proven=False, finished=False, rounds=turn)
    yield maker.plan(best, proven=False, finished=True, rounds=rounds)


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

    def plan(self, layout: Layout, *, proven: bool, finished: bool, rounds: int) -> CutPlan:
        whole = replace(layout, unplaced=tuple(self.unplaced))
        named = {item.blank_id for item in self.unplaced} - set(self.all_blanks)
        known = self.all_blanks | {name: Blank(name, name, ()) for name in named}
        check_layout(whole, blanks=known, stocks=self.by_stock)
        return CutPlan(
            whole, self.score(layout), self.bounds, self.narrowest, self.single, proven, finished, rounds
        )  # fmt: skip


def _split_fitting(
    blanks: Sequence[Blank], stocks: Sequence[Stock], roll_widths: Sequence[float]
) -> tuple[list[Blank], list[Unplaced]]:
    fitting, unplaced = [], []
    for blank in blanks:
        if any(_fits(blank, stock) for stock in stocks):
            fitting.append(blank)
        else:
            unplaced.append(_no_place(blank, stocks, roll_widths))
    return fitting, unplaced


def _fits(blank: Blank, stock: Stock) -> bool:
    return any(o.across <= stock.width + TOUCHING and o.along <= stock.length + TOUCHING for o in blank.turns)


def _no_place(blank: Blank, stocks: Sequence[Stock], roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    widest = max((stock.width for stock in stocks), default=0.0)
    if not stocks:
        reason = "None of this film is on the rack."
    elif widest < narrow.across - TOUCHING:
        reason = f"Needs {_up(narrow.across)} in of width; the widest on the rack is {format_inches(widest)} in."
    else:
        reason = f"No roll that is wide enough ({_up(narrow.across)} in) has {_up(narrow.along)} in left."
    return _unplaced(blank, reason, roll_widths)


def _no_room(blank: Blank, roll_widths: Sequence[float], *, surely: bool) -> Unplaced:
    """A blank that fits a piece of stock by itself, and not beside the others."""
    narrow = min(blank.turns, key=lambda option: option.across)
    size = f"{_up(narrow.along)} in more needed"
    if surely:
        reason = f"Too little film left: {size}, the rack is used up by the other pieces."
    else:
        reason = f"No layout was found that holds it beside the others: {size}, or fewer pieces at once."
    return _unplaced(blank, reason, roll_widths)


def _unplaced(blank: Blank, reason: str, roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    pull = min((width for width in roll_widths if width >= narrow.across - TOUCHING), default=None)
    return Unplaced(blank.id, reason, narrow.across, narrow.along, pull)


def _up(length_mm: float) -> str:
    """A needed size rounded up to a sixteenth, so that what is named really does."""
    return format_inches(float(np.ceil(length_mm / 25.4 * 16 - 1e-6)) / 16 * 25.4)


def _place_all(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, rng: np.random.Generator
) -> tuple[Layout, list[Blank], bool]:
    """A layout of all blanks, or of as many as the film holds.

    Returns the layout, the blanks that found no film, and whether it is sure that not all fit:
    only the exact search over all of them can say so.
    """
    layout, left_over = _first_layout(stocks, costing, order=sorted(blanks, key=_largest_first))
    if not left_over:
        return layout, [], False
    try:
        exact = solve_exact(blanks, stocks, costing)
        if exact is not None:
            return exact, [], False
        return *_as_many_as_fit(blanks, stocks, costing), True
    except TooManySectionsError:
        pass
    for _ in range(_TRIED_ORDERS):
        order = [blanks[i] for i in rng.permutation(len(blanks)).tolist()]
        other, rest = _first_layout(stocks, costing, order=order)
        if sum(blank.area for blank in rest) < sum(blank.area for blank in left_over):
            layout, left_over = other, rest
        if not left_over:
            break
    return layout, left_over, False


def _largest_first(blank: Blank) -> tuple[float, str, str]:
    return -blank.area, blank.pair, blank.id


def _as_many_as_fit(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> tuple[Layout, list[Blank]]:
    """Largest first, every blank that can still be placed beside those placed already, exactly."""
    kept: list[Blank] = []
    layout, without = Layout(()), []
    for blank in sorted(blanks, key=_largest_first):
        found = solve_exact([*kept, blank], stocks, costing)
        if found is None:
            without.append(blank)
        else:
            kept.append(blank)
            layout = found
    return layout, without


def _first_layout(stocks: Sequence[Stock], costing: Costing, *, order: Sequence[Blank]) -> tuple[Layout, list[Blank]]:
    """A good layout in milliseconds: few blanks at a time in the given order, each lot exactly.

    Returns the layout and the blanks that found no film.
    """
    left = list(stocks)
    sections: list[Section] = []
    without: list[Blank] = []
    queue = list(order)
    while queue:
        lot = queue[:CHUNK]
        queue = queue[CHUNK:]
        found = _solve_lot(lot, left, costing)
        if found is None:
            for blank in lot:
                single = _solve_lot([blank], left, costing)
                if single is None:
                    without.append(blank)
                else:
                    sections += _shifted(single, stocks, left)
                    left = _rest(left, single)
            continue
        sections += _shifted(found, stocks, left)
        left = _rest(left, found)
    return Layout(tuple(sections)), without


def _solve_lot(lot: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> Layout | None:
    """A lot planned exactly; where even that is too much, blank by blank from what is left."""
    usable = [stock for stock in stocks if stock.length > TOUCHING]
    try:
        return solve_exact(lot, usable, costing, row_limit=_NEIGHBOUR_ROWS)
    except TooManySectionsError:
        return None


def _shifted(layout: Layout, whole: Sequence[Stock], left: Sequence[Stock]) -> list[Section]:
    """Sections moved behind what was cut from their stock before."""
    start = {a.id: a.length - b.length for a, b in zip(whole, left, strict=True)}
    return [_moved(section, start[section.stock_id]) for section in layout.sections]


def _moved(section: Section, by: float) -> Section:
    lanes = tuple(
        replace(lane, placed=tuple(replace(item, x=item.x + by) for item in lane.placed)) for lane in section.lanes
    )
    return replace(section, x=section.x + by, lanes=lanes)


def _rest(stocks: Sequence[Stock], layout: Layout) -> list[Stock]:
    return [replace(stock, length=stock.length - layout.used_length(stock.id)) for stock in stocks]


def _improve(best: Layout, maker: _Maker, rng: np.random.Generator) -> Layout | None:
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
    left = [s for s in _rest(maker.stocks, held_layout) if s.length > TOUCHING]
    ids = {item.blank_id for i in freed for lane in best.sections[i].lanes for item in lane.placed}
    lot = [blank for blank in maker.blanks if blank.id in ids]
    try:
        found = solve_exact(lot, left, maker.costing, row_limit=_NEIGHBOUR_ROWS)
    except TooManySectionsError:
        return None
    if found is None:
        return None
    candidate = _packed((*held, *found.sections))
    return candidate if maker.score(candidate).net < maker.score(best).net - _BETTER else None


def _packed(sections: Sequence[Section]) -> Layout:
    """Sections of each stock laid end to end again."""
    at: dict[str, float] = {}
    packed = []
    for section in sections:
        x = at.get(section.stock_id, 0.0)
        packed.append(_moved(section, x - section.x))
        at[section.stock_id] = x + section.length
    return Layout(tuple(packed))

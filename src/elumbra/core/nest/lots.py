"""A pair stays on one lot: two windows side by side must not differ in shade.

The plan over all stock is taken where no pair is split by it. Else lots are filled one after
another, whole groups at a time: a pair goes to the first lot that holds both. What no one lot
holds is told, and can be cut from two where somebody allows that.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from elumbra.core.film import Stock
from elumbra.core.nest.bounds import film_bounds
from elumbra.core.nest.check import check_layout
from elumbra.core.nest.holding import Holding
from elumbra.core.nest.lanes import TooManySectionsError
from elumbra.core.nest.layout import Blank, Costing, Layout, Section, Unplaced, by_id, lot_of, score
from elumbra.core.nest.search import CutPlan, plan_cuts
from elumbra.core.nest.unplaced import lost, no_room, split_fitting

_NO_LOT = "No one lot on the rack has enough for both of the pair."


def plan_by_lot(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    roll_widths: Sequence[float],
    two_lots_allowed: bool = False,
    starts: Sequence[Layout] = (),
) -> Iterator[CutPlan]:
    """As ``plan_cuts``, with every pair on stock of one lot; the last plan has ``finished`` set."""
    paired = any(blank.pair for blank in blanks)
    if two_lots_allowed or not paired or len({lot_of(stock) for stock in stocks}) < 2:
        yield from plan_cuts(blanks, stocks, costing, roll_widths=roll_widths, starts=starts)
        return
    best: CutPlan | None = None
    for plan in plan_cuts(blanks, stocks, costing, roll_widths=roll_widths, starts=starts):
        if not split_pairs(plan.layout, blanks, stocks):
            best = plan
            yield plan
    if best is None or not best.finished:
        known = by_id(blanks)
        ways = [_lot_after_lot(blanks, stocks, costing, roll_widths), _by_share(blanks, stocks, costing, roll_widths)]
        better = min([one for one in (best, *ways) if one is not None], key=lambda plan: _rank(plan, known))
        check_layout(better.layout, blanks=by_id(blanks), stocks={one.id: one for one in stocks}, one_lot=True)
        yield replace(better, proven=False, finished=True)


def _rank(plan: CutPlan, known: Mapping[str, Blank]) -> tuple[int, float, float]:
    """Fewest windows left out, then the least that they come to, then the least cost."""
    return *lost(known[item.blank_id] for item in plan.layout.unplaced), plan.score.net


def split_pairs(layout: Layout, blanks: Sequence[Blank], stocks: Sequence[Stock]) -> frozenset[str]:
    """Pairs of which one piece lies on another lot than the other, or only one has a place."""
    lots = {stock.id: lot_of(stock) for stock in stocks}
    pair_of = {blank.id: blank.pair for blank in blanks if blank.pair}
    seen: dict[str, set[str]] = {}
    for section in layout.sections:
        for lane in section.lanes:
            for item in lane.placed:
                if pair := pair_of.get(item.blank_id):
                    seen.setdefault(pair, set()).add(lots[section.stock_id])
    return frozenset(pair for pair, found in seen.items() if len(found) > 1)


def _lot_after_lot(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, roll_widths: Sequence[float]
) -> CutPlan:
    """The best over which lot is filled first; fewest pieces without film, then least cost."""
    by_lot: dict[str, list[Stock]] = {}
    for stock in stocks:
        by_lot.setdefault(lot_of(stock), []).append(stock)
    found = []
    for first in sorted(by_lot):
        order = [first, *(lot for lot in sorted(by_lot) if lot != first)]
        found.append(_filled([by_lot[lot] for lot in order], blanks, stocks, costing, roll_widths))
    known = by_id(blanks)
    return min(found, key=lambda plan: _rank(plan, known))


def _by_share(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, roll_widths: Sequence[float]
) -> CutPlan | None:
    """The most windows that fit with no pair on two lots, each lot then planned by itself; None for too many blanks."""
    try:
        layout, left_out = Holding(blanks, stocks).most()
    except TooManySectionsError:
        return None
    lots = {stock.id: lot_of(stock) for stock in stocks}
    home = {
        item.blank_id: lots[section.stock_id] for section in layout.sections for lane in section.lanes
        for item in lane.placed
    }  # fmt: skip
    sections: list[Section] = []
    last: CutPlan | None = None
    for lot in sorted(set(lots.values())):
        here = [blank for blank in blanks if home.get(blank.id) == lot]
        last = _final(here, [stock for stock in stocks if lots[stock.id] == lot], costing, roll_widths)
        sections += last.layout.sections
    assert last is not None
    told = _told_exactly(blanks, left_out, stocks, roll_widths)
    return _whole(last, sections, told, blanks, stocks, costing)


def _told_exactly(
    blanks: Sequence[Blank], left_out: Sequence[Blank], stocks: Sequence[Stock], roll_widths: Sequence[float]
) -> list[Unplaced]:
    """Why each piece has no place; two lots are named where more would fit on them."""
    two_lots_help = lost(Holding(blanks, stocks, two_lots=True).most()[1]) < lost(left_out)
    fitting, unplaced = split_fitting(left_out, stocks, roll_widths)
    for blank in fitting:
        told = no_room(blank, roll_widths, surely=True)
        unplaced.append(replace(told, reason=_NO_LOT, two_lots=True) if blank.pair and two_lots_help else told)
    return unplaced


def _filled(
    lots: Sequence[Sequence[Stock]],
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    roll_widths: Sequence[float],
) -> CutPlan:
    waiting = list(blanks)
    sections: list[Section] = []
    last: CutPlan | None = None
    never: Mapping[str, Unplaced] = {}
    for lot in lots:
        if not waiting:
            break
        here = list(waiting)
        while here:
            last = _final(here, lot, costing, roll_widths)
            out = {item.blank_id: item for item in last.layout.unplaced}
            if not out:
                break
            never = {**never, **out}
            without = {blank.pair for blank in here if blank.id in out and blank.pair}
            here = [blank for blank in here if blank.id not in out and blank.pair not in without]
        if here and last is not None:
            sections += last.layout.sections
            placed = {blank.id for blank in here}
            waiting = [blank for blank in waiting if blank.id not in placed]
    assert last is not None
    return _whole(last, sections, [_told(blank, never, stocks) for blank in waiting], blanks, stocks, costing)


def _whole(
    last: CutPlan,
    sections: Sequence[Section],
    unplaced: Sequence[Unplaced],
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
) -> CutPlan:
    """The plan of all lots together."""
    layout = Layout(tuple(sections), tuple(unplaced))
    whole = score(
        replace(layout, unplaced=()), blanks=by_id(blanks), stocks={one.id: one for one in stocks}, costing=costing
    )
    without = {item.blank_id for item in unplaced}
    bounds = film_bounds([blank for blank in blanks if blank.id not in without], stocks)
    return replace(
        last, layout=layout, score=whole, bounds=bounds, narrowest=None, single=None, proven=False, finished=True
    )  # fmt: skip


def _final(blanks: Sequence[Blank], lot: Sequence[Stock], costing: Costing, roll_widths: Sequence[float]) -> CutPlan:
    return list(plan_cuts(blanks, lot, costing, roll_widths=roll_widths))[-1]


def _told(blank: Blank, never: Mapping[str, Unplaced], stocks: Sequence[Stock]) -> Unplaced:
    """Why a piece has no place: too large for all there is, else that its pair finds no one lot."""
    known = never.get(blank.id)
    could = any(
        stock.width >= option.across and stock.length >= option.along for stock in stocks for option in blank.turns
    )
    if known is not None and (not could or not blank.pair):
        return known
    upright = blank.turns[0]
    return Unplaced(blank.id, _NO_LOT, upright.across, upright.along, None, two_lots=True)

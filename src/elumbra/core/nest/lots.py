"""A pair stays on one lot: two windows side by side must not differ in shade.

The plan over all stock is taken where no pair is split by it. Else lots are filled one after
another, whole groups at a time: a pair goes to the first lot that holds both. What no one lot
holds is told, and can be cut from two where somebody allows that.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

from elumbra.core.film import Stock
from elumbra.core.nest.check import check_layout
from elumbra.core.nest.layout import Blank, Costing, Layout, Section, Unplaced, by_id, lot_of, score
from elumbra.core.nest.search import CutPlan, plan_cuts

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
        by_lots = _lot_after_lot(blanks, stocks, costing, roll_widths)
        better = by_lots if best is None or _rank(by_lots) < _rank(best) else best
        check_layout(better.layout, blanks=by_id(blanks), stocks={one.id: one for one in stocks}, one_lot=True)
        yield replace(better, proven=False, finished=True)


def _rank(plan: CutPlan) -> tuple[int, float]:
    return len(plan.layout.unplaced), plan.score.net


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
    return min(found, key=_rank)


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
    unplaced = tuple(_told(blank, never, stocks) for blank in waiting)
    assert last is not None
    layout = Layout(tuple(sections), unplaced)
    whole = score(
        replace(layout, unplaced=()), blanks=by_id(blanks), stocks={one.id: one for one in stocks}, costing=costing
    )
    return replace(
        last, layout=layout, score=whole, narrowest=None, single=None, proven=False, finished=True
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

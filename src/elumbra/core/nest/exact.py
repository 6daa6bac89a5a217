"""Least-cost plan over several stocks, exact within three-stage knife cuts.

The best section of every set of blanks (``sections``) is combined by dynamic programming:
first over the sections of one stock, within its length, then over the stocks. Exact within
these bounds, which the screen names: three stages of cuts (across, along, across); a lane as
wide as its widest blank, but for the spare width, which stands by itself or widens one lane;
blanks of a lane turned so that no other turning is at once no wider, no longer and no slower.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

import numpy as np

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.bounds import net_unit_prices
from elumbra.core.nest.lanes import Floats, Kinds, Lanes, all_lanes, count_codes, without_beaten
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Lane, Layout, Placed, Section, Turn
from elumbra.core.nest.sections import SectionChoice, TooManySectionsError, best_sections, least_waste

MOST_CODES = 1024
ROW_LIMIT = 600_000
_MONEY_SLACK = 1e-9


@dataclass(frozen=True)
class _Chain:
    """Sections on one stock for one set of blanks."""

    length: float
    cost: float
    choices: tuple[tuple[int, SectionChoice], ...]  # code and section


@dataclass(frozen=True)
class _StockPlan:
    stock: Stock
    lanes: Lanes
    cost: Floats  # (codes,): inf where the stock cannot hold the set
    chains: dict[int, _Chain]


def solve_exact(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    upper: float = inf,
    row_limit: int = ROW_LIMIT,
) -> Layout | None:
    """The cheapest layout that places all blanks, or None where the stock does not hold them.

    Parameters
    ----------
    blanks, stocks, costing
        What is cut, from what, and what it costs.
    upper
        Net cost of a plan already known [$]; dearer plans are not looked for.
    row_limit
        Most sections to hold at once.

    Raises
    ------
    TooManySectionsError
        The search is too large for proof.
    """
    if not blanks:
        return Layout(())
    if count_codes(blanks) > MOST_CODES:
        raise TooManySectionsError
    kinds = Kinds.of(blanks)
    unit = net_unit_prices(blanks, stocks, costing)
    unit_prices = np.array([unit[members[0].id] for members in kinds.members])
    slack = upper - float(kinds.digits[kinds.full] @ unit_prices)
    plans = [
        _plan_stock(kinds, stock, costing, unit_prices=unit_prices, slack=slack, row_limit=row_limit)
        for stock in stocks
    ]
    shares = _share_out(kinds, plans)
    return None if shares is None else _build(kinds, shares)


def _plan_stock(
    kinds: Kinds, stock: Stock, costing: Costing, *, unit_prices: Floats, slack: float, row_limit: int
) -> _StockPlan:
    lanes = all_lanes(kinds, stock_width=stock.width, stock_length=stock.length)
    waste = least_waste(lanes, stock, costing, kinds.digits @ unit_prices)
    lanes = without_beaten(lanes.take(np.flatnonzero(waste <= slack + _MONEY_SLACK)))
    sections = best_sections(kinds, lanes, stock, costing, unit_prices=unit_prices, slack=slack, row_limit=row_limit)
    longest = sum(max(o.along for o in members[0].turns) * len(members) for members in kinds.members)
    if stock.kind is StockKind.ROLL and stock.length >= longest:
        sections = {code: choices[:1] for code, choices in sections.items()}
    table = _chains(kinds, sections, stock.length)
    cost = np.full(len(kinds.digits), inf)
    cost[0] = 0.0
    best: dict[int, _Chain] = {}
    for code, chains in table.items():
        priced = [(chain.cost + _stock_charge(stock, chain.length, costing), chain) for chain in chains]
        if code and priced:
            cost[code], best[code] = min(priced, key=lambda pair: pair[0])
    return _StockPlan(stock, lanes, cost, best)


def _stock_charge(stock: Stock, used: float, costing: Costing) -> float:
    """Book worth of an offcut or sheet less that of what is left of it [$]; rolls pay by section."""
    if stock.kind is StockKind.ROLL:
        return 0.0
    whole = costing.worth(stock.length, stock.width, stock.price)
    return whole - costing.worth(stock.length - used, stock.width, stock.price)


def _chains(kinds: Kinds, sections: dict[int, list[SectionChoice]], stock_length: float) -> dict[int, list[_Chain]]:
    """For every set of blanks, the non-dominated ways to cut it as sections of one stock."""
    table: dict[int, list[_Chain]] = {0: [_Chain(0.0, 0.0, ())]}
    codes = np.array(sorted(sections), dtype=np.int64)
    for code in range(1, len(kinds.digits)):
        digits = kinds.digits[code]
        first = int(np.flatnonzero(digits)[0])
        within = kinds.within[code, codes] & (kinds.digits[codes, first] > 0)
        found = [
            _Chain(chain.length + choice.length, chain.cost + choice.cost, (*chain.choices, (part, choice)))
            for part in codes[within].tolist()
            for chain in table.get(code - part, ())
            for choice in sections[part]
            if chain.length + choice.length <= stock_length + TOUCHING
        ]
        if found:
            table[code] = _pareto_chains(found)
    return table


def _pareto_chains(chains: list[_Chain]) -> list[_Chain]:
    kept: list[_Chain] = []
    for chain in sorted(chains, key=lambda c: (c.cost, c.length)):
        if not kept or chain.length < kept[-1].length - TOUCHING:
            kept.append(chain)
    return kept


def _share_out(kinds: Kinds, plans: Sequence[_StockPlan]) -> list[tuple[_StockPlan, _Chain]] | None:
    """Which stock cuts which blanks, at the least total cost."""
    size = len(kinds.digits)
    cost = np.full(size, inf)
    cost[0] = 0.0
    history: list[np.ndarray] = []
    for plan in plans:
        parts = np.flatnonzero(np.isfinite(plan.cost))
        new_cost, taken = cost.copy(), np.zeros(size, dtype=np.int64)
        for code in range(size):
            inside = parts[kinds.within[code, parts]]
            totals = cost[code - inside] + plan.cost[inside]
            best = int(np.argmin(totals))
            if totals[best] < new_cost[code] - 1e-12:
                new_cost[code], taken[code] = totals[best], inside[best]
        cost = new_cost
        history.append(taken)
    if not np.isfinite(cost[kinds.full]):
        return None
    shares, code = [], kinds.full
    for plan, taken in zip(reversed(plans), reversed(history), strict=True):
        part = int(taken[code])
        if part:
            shares.append((plan, plan.chains[part]))
            code -= part
    return shares[::-1]


def _build(kinds: Kinds, shares: Sequence[tuple[_StockPlan, _Chain]]) -> Layout:
    waiting = [list(members) for members in kinds.members]
    sections = []
    for plan, chain in shares:
        x = 0.0
        # The longest section first: what is left of the stock is then known soonest.
        for _, choice in sorted(chain.choices, key=lambda pair: -pair[1].length):
            sections.append(_section(plan, choice, x, waiting))
            x += choice.length
    return Layout(tuple(sections))


def _section(plan: _StockPlan, choice: SectionChoice, x: float, waiting: list[list[Blank]]) -> Section:
    lanes, stock = plan.lanes, plan.stock
    by_edge = sorted(range(len(choice.lanes)), key=lambda i: -lanes.edge_minutes[choice.lanes[i]])
    near, middle = by_edge[0], by_edge[2:]
    spare = stock.width - sum(float(lanes.width[lane]) for lane in choice.lanes)
    built, y = [], 0.0
    for i in [near, *middle]:
        extra = spare if choice.spare_to == i else 0.0
        lane = choice.lanes[i]
        built.append(_lane(plan, lane, x, y, extra, waiting, near_edge=i == near, far_edge=False))
        y += float(lanes.width[lane]) + extra
    for far in by_edge[1:2]:
        extra = spare if choice.spare_to == far else 0.0
        lane = choice.lanes[far]
        start = stock.width - float(lanes.width[lane]) - extra
        built.append(_lane(plan, lane, x, start, extra, waiting, near_edge=False, far_edge=True))
    return Section(stock.id, x, choice.length, tuple(built))


def _lane(
    plan: _StockPlan,
    lane: int,
    x: float,
    y: float,
    spare: float,
    waiting: list[list[Blank]],
    *,
    near_edge: bool,
    far_edge: bool,
) -> Lane:
    lanes = plan.lanes
    width = float(lanes.width[lane]) + spare
    placed = []
    for column, (kind, option) in enumerate(lanes.options):
        for _ in range(int(lanes.counts[lane, column])):
            blank = waiting[kind].pop(0)
            upright = option.turn is Turn.UPRIGHT
            turn = Turn.UPSIDE_DOWN if far_edge and upright else option.turn
            at = y + width - option.across if far_edge else y
            on_edge = (near_edge or far_edge) and option.edge_minutes > 0
            placed.append(Placed(blank.id, turn, x, at, option.along, option.across, on_edge))
            x += option.along
    return Lane(y, width, tuple(placed), spare)

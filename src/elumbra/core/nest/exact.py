"""Least-cost plan over several stocks, exact within three-stage knife cuts.

The best section of every set of blanks (``sections``) is combined by dynamic programming:
first over the sections of one stock, within its length, then over the stocks. Where a plan may
buy no more film than another one, and the cheapest does, the sections are combined by integer
programming instead (``combine``). Exact within these bounds, which the screen names: three
stages of cuts (across, along, across); a lane as wide as its widest blank, but for the spare
width, which stands by itself or widens one lane.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial
from math import inf

import numpy as np
from scipy.optimize import linprog

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.bounds import net_unit_prices
from elumbra.core.nest.combine import Column, combine
from elumbra.core.nest.lanes import (
    Floats,
    Ints,
    Kinds,
    Lanes,
    TooManySectionsError,
    all_lanes,
    count_codes,
    film_price,
    without_copies,
)
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Lane, Layout, Placed, Section, Turn, by_id, score
from elumbra.core.nest.sections import Allowance, SectionChoice, best_sections

MOST_CODES = 4096
ROW_LIMIT = 250_000
_MANY_CODES = 512  # from so many sets of blanks on, it pays to find out first what is bound to be wasted
_LOOKED_AT = 0.4  # share of the slack within which sections are looked at for that
_MONEY = 1e-6


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
    sections: dict[int, list[SectionChoice]]
    cost: Floats  # (codes,): inf where the stock cannot hold the set
    chains: dict[int, _Chain]


def solve_exact(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    upper: float = inf,
    most_film: float = inf,
    row_limit: int = ROW_LIMIT,
) -> Layout | None:
    """The cheapest layout that places all blanks, or None where the stock does not hold them.

    Parameters
    ----------
    blanks, stocks, costing
        What is cut, from what, and what it costs.
    upper
        Net cost of a plan already known [$]; dearer plans are not looked for.
    most_film
        Most money to spend on new film [$].
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
    rolls = [stock for stock in stocks if stock.kind is StockKind.ROLL]
    others = [stock for stock in stocks if stock.kind is not StockKind.ROLL]
    # With one roll each first: fewer sections can be part of a plan that fetches further rolls as well.
    ways = [([roll, *others], 0.0) for roll in rolls] if len(rolls) > 1 and costing.pull_price else []
    ways.append((list(stocks), costing.pull_price if ways else 0.0))
    best: Layout | None = None
    for some, charge in ways:
        found = _cheapest(
            kinds, blanks, some, costing, upper=upper, charge=charge, most_film=most_film, row_limit=row_limit
        )
        if found is not None:
            net = score(found, blanks=by_id(blanks), stocks={one.id: one for one in stocks}, costing=costing).net
            if best is None or net < upper:
                best, upper = found, min(upper, net)
    return best


def _cheapest(
    kinds: Kinds,
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    upper: float,
    charge: float,
    most_film: float,
    row_limit: int,
) -> Layout | None:
    """The cheapest layout on these stocks, if any costs less than ``upper`` with ``charge`` upon it."""
    unit = net_unit_prices(blanks, stocks, costing)
    unit_prices = np.array([unit[members[0].id] for members in kinds.members])
    slack = upper - charge - float(kinds.digits[kinds.full] @ unit_prices)
    if slack < 0 or not np.all(np.isfinite(unit_prices)):
        return None
    plan_stock = partial(_plan_stock, kinds, costing=costing, unit_prices=unit_prices, row_limit=row_limit)
    allowance = Allowance.plain(slack, len(kinds.members))
    if len(kinds.digits) > _MANY_CODES and slack < inf:
        allowance = Allowance(slack, _bound_to_waste(kinds, stocks, costing, unit_prices, slack, row_limit))
    plans = [plan_stock(stock, allowance=allowance) for stock in stocks]
    shares = _share_out(kinds, plans, costing)
    if shares is None:
        return None
    layout = _build(kinds, shares)
    if _film_bought(layout, stocks) <= most_film + _MONEY:
        return layout
    return _within_film(kinds, plans, costing, most_film)


def _bound_to_waste(
    kinds: Kinds, stocks: Sequence[Stock], costing: Costing, unit_prices: Floats, slack: float, row_limit: int
) -> Floats:
    """What each blank wastes at least, whatever plan it is in, shape (kinds,) [$].

    Sections that waste little are all looked at; shares are such that none of them wastes less
    than the shares of its blanks. The sections not looked at waste more than all shares together.
    """
    little = slack * _LOOKED_AT
    rows, most = [], []
    for stock in stocks:
        lanes = without_copies(
            all_lanes(kinds, stock, costing, unit_prices=unit_prices, slack=little, row_limit=row_limit)
        )
        found = best_sections(
            kinds, lanes, stock, costing, unit_prices=unit_prices,
            allowance=Allowance.plain(little, len(kinds.members)), row_limit=row_limit,
        )  # fmt: skip
        film = film_price(stock, costing) * stock.width if stock.kind is not StockKind.ROLL else 0.0
        for code, choices in found.items():
            rows.append(kinds.digits[code])
            own = float(kinds.digits[code] @ unit_prices)
            most.append(max(0.0, min(choice.cost + film * choice.length for choice in choices) - own))
    counts = kinds.digits[kinds.full]
    solved = linprog(
        -counts.astype(float), A_ub=np.vstack([*rows, counts]), b_ub=[*most, little], bounds=(0, None), method="highs"
    )  # fmt: skip
    return np.asarray(solved.x) if solved.status == 0 else np.zeros(len(counts))


def _film_bought(layout: Layout, stocks: Sequence[Stock]) -> float:
    rolls = (stock for stock in stocks if stock.kind is StockKind.ROLL)
    return sum(layout.used_length(roll.id) * roll.width * roll.price for roll in rolls)


def _within_film(kinds: Kinds, plans: Sequence[_StockPlan], costing: Costing, most_film: float) -> Layout | None:
    """The cheapest combination of the same sections that buys no more film."""
    found = [
        (plan, code, choice) for plan in plans for code, choices in plan.sections.items() for choice in choices
    ]  # fmt: skip
    at = {id(plan): i for i, plan in enumerate(plans)}
    columns = [
        Column(at[id(plan)], kinds.digits[code], choice.length, choice.cost) for plan, code, choice in found
    ]  # fmt: skip
    demand = kinds.digits[kinds.full]
    solved = combine(columns, demand, [plan.stock for plan in plans], costing, most_film=most_film)
    if solved.counts is None:
        return None
    if not solved.proven:
        raise TooManySectionsError
    chosen: dict[int, list[tuple[int, SectionChoice]]] = {}
    for (plan, code, choice), count in zip(found, solved.counts, strict=True):
        chosen.setdefault(at[id(plan)], []).extend([(code, choice)] * count)
    return _build(kinds, [(plans[i], _Chain(0.0, 0.0, tuple(parts))) for i, parts in chosen.items() if parts])


def _plan_stock(
    kinds: Kinds,
    stock: Stock,
    *,
    costing: Costing,
    unit_prices: Floats,
    allowance: Allowance,
    row_limit: int,
) -> _StockPlan:
    lanes = without_copies(
        all_lanes(kinds, stock, costing, unit_prices=unit_prices, slack=allowance.slack, row_limit=row_limit)
    )
    sections = best_sections(
        kinds, lanes, stock, costing, unit_prices=unit_prices, allowance=allowance, row_limit=row_limit
    )  # fmt: skip
    longest = sum(max(o.along for o in members[0].turns) * len(members) for members in kinds.members)
    if stock.kind is StockKind.ROLL and stock.length >= longest:
        cost, best = _long_chains(kinds, sections)
        return _StockPlan(stock, lanes, sections, cost, best)
    cost = np.full(len(kinds.digits), inf)
    cost[0] = 0.0
    best = {}
    for code, chains in _chains(kinds, sections, stock.length).items():
        priced = [(chain.cost + _stock_charge(stock, chain.length, costing), chain) for chain in chains]
        if code and priced:
            cost[code], best[code] = min(priced, key=lambda pair: pair[0])
    return _StockPlan(stock, lanes, sections, cost, best)


def _long_chains(kinds: Kinds, sections: dict[int, list[SectionChoice]]) -> tuple[Floats, dict[int, _Chain]]:
    """As ``_chains`` on a roll that is longer than all blanks one after another: the cheapest of each set."""
    size = len(kinds.digits)
    codes = np.array(sorted(sections), dtype=np.int64)
    own = np.array([sections[code][0].cost for code in codes.tolist()])
    cost = np.full(size, inf)
    cost[0] = 0.0
    last: Ints = np.zeros(size, dtype=np.int64)
    first = np.argmax(kinds.digits > 0, axis=1)
    of_first = kinds.digits[codes].astype(bool) if len(codes) else np.zeros((0, kinds.digits.shape[1]), bool)
    for code in range(1, size):
        inside = np.flatnonzero(kinds.within[code, codes] & of_first[:, first[code]])
        if not len(inside):
            continue
        totals = cost[code - codes[inside]] + own[inside]
        best = int(np.argmin(totals))
        cost[code], last[code] = totals[best], codes[inside[best]]
    chains = {}
    for code in np.flatnonzero(np.isfinite(cost))[1:].tolist():
        parts, rest = [], code
        while rest:
            part = int(last[rest])
            parts.append((part, sections[part][0]))
            rest -= part
        chains[code] = _Chain(sum(choice.length for _, choice in parts), float(cost[code]), tuple(parts))
    return cost, chains


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


def _share_out(kinds: Kinds, plans: Sequence[_StockPlan], costing: Costing) -> list[tuple[_StockPlan, _Chain]] | None:
    """Which stock cuts which blanks, at the least total cost; each roll after the first is one more to fetch."""
    size = len(kinds.digits)
    # By how many rolls are open: none, or some.
    costs = [np.full(size, inf), np.full(size, inf)]
    costs[0][0] = 0.0
    history: list[tuple[_StockPlan, list[tuple[Ints, Ints]]]] = []
    for plan in sorted(plans, key=lambda plan: plan.stock.kind is StockKind.ROLL):
        roll = plan.stock.kind is StockKind.ROLL
        ways = [(0, 1, 0.0), (1, 1, costing.pull_price)] if roll else [(0, 0, 0.0), (1, 1, 0.0)]
        costs, taken = _with_stock(kinds, plan, costs, ways)
        history.append((plan, taken))
    state = int(costs[1][kinds.full] < costs[0][kinds.full])
    if not np.isfinite(costs[state][kinds.full]):
        return None
    shares, code = [], kinds.full
    for plan, taken in reversed(history):
        part, before = int(taken[state][0][code]), int(taken[state][1][code])
        if part:
            shares.append((plan, plan.chains[part]))
            code, state = code - part, before
    return shares[::-1]


def _with_stock(
    kinds: Kinds, plan: _StockPlan, costs: list[Floats], ways: Sequence[tuple[int, int, float]]
) -> tuple[list[Floats], list[tuple[Ints, Ints]]]:
    """Costs once a stock may be used as well; by state, what it takes of each set and the state before."""
    size = len(kinds.digits)
    parts = np.flatnonzero(np.isfinite(plan.cost))
    parts = parts[parts > 0]
    new = [cost.copy() for cost in costs]
    none = np.zeros(size, dtype=np.int64)
    taken = [(none.copy(), none.copy()), (none.copy(), none.copy())]
    if not len(parts):
        return new, taken
    for code in range(1, size):
        inside = parts[kinds.within[code, parts]]
        if not len(inside):
            continue
        for before, after, charge in ways:
            totals = costs[before][code - inside] + plan.cost[inside]
            best = int(np.argmin(totals))
            if totals[best] + charge < new[after][code] - 1e-12:
                new[after][code] = totals[best] + charge
                taken[after][0][code], taken[after][1][code] = inside[best], before
    return new, taken


def _build(kinds: Kinds, shares: Sequence[tuple[_StockPlan, _Chain]]) -> Layout:
    waiting = [list(members) for members in kinds.members]
    sections = []
    for plan, chain in shares:
        x = 0.0
        # The longest section first: what is left of the stock is then known soonest.
        for _, choice in sorted(chain.choices, key=lambda pair: -pair[1].length):
            sections.append(build_section(plan.lanes, plan.stock, choice, x, waiting))
            x += choice.length
    return Layout(tuple(sections))


def build_section(
    lanes: Lanes, stock: Stock, choice: SectionChoice, x: float, waiting: Sequence[list[Blank]]
) -> Section:
    """A section from its lanes, from ``x`` on; its blanks are taken from those that wait, by kind."""
    by_edge = sorted(range(len(choice.lanes)), key=lambda i: -lanes.edge_minutes[choice.lanes[i]])
    near, middle = by_edge[0], by_edge[2:]
    spare = stock.width - sum(float(lanes.width[lane]) for lane in choice.lanes)
    built, y = [], 0.0
    for i in [near, *middle]:
        extra = spare if choice.spare_to == i else 0.0
        lane = choice.lanes[i]
        built.append(_lane(lanes, lane, x, y, extra, waiting, near_edge=i == near, far_edge=False))
        y += float(lanes.width[lane]) + extra
    for far in by_edge[1:2]:
        extra = spare if choice.spare_to == far else 0.0
        lane = choice.lanes[far]
        start = stock.width - float(lanes.width[lane]) - extra
        built.append(_lane(lanes, lane, x, start, extra, waiting, near_edge=False, far_edge=True))
    return Section(stock.id, x, choice.length, tuple(built))


def _lane(
    lanes: Lanes,
    lane: int,
    x: float,
    y: float,
    spare: float,
    waiting: Sequence[list[Blank]],
    *,
    near_edge: bool,
    far_edge: bool,
) -> Lane:
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

"""Which sections to cut from which stock: an integer program over columns.

One variable a column (how often the section is cut), rows that every blank is cut once, that no
stock gives more than it has, and, where asked, that no more film is bought than so much. A
roll after the first costs its fetching. An offcut is charged at its book worth, and what is
left of it is credited as far as it is still usable.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

import numpy as np
from scipy.optimize import Bounds as VariableBounds
from scipy.optimize import LinearConstraint, linprog, milp
from scipy.sparse import csr_array

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.lanes import Floats, Ints
from elumbra.core.nest.layout import Costing


@dataclass(frozen=True)
class Column:
    """One section that may be cut from one stock."""

    stock: int  # place among the stocks
    digits: Ints  # (kinds,): blanks of each kind on it
    length: float
    cost: float


@dataclass(frozen=True)
class Combination:
    """How often each column is cut; ``counts`` is None where nothing was found."""

    counts: list[int] | None
    proven: bool
    bound: float  # no combination of these columns costs less [$]


@dataclass(frozen=True)
class _Program:
    cost: Floats
    cover: csr_array
    demand: Ints
    limits: csr_array
    most: Floats
    integer: Floats
    lower: Floats
    upper: Floats


def combine(
    columns: Sequence[Column],
    demand: Ints,
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    most_film: float = inf,
) -> Combination:
    """The cheapest combination of columns that cuts every blank once.

    Parameters
    ----------
    columns, stocks, costing
        Sections, what they are cut from, and what that costs.
    demand
        Blanks of each kind, shape (kinds,).
    most_film
        Most money to spend on new film [$].
    """
    if not columns:
        return Combination(None, proven=True, bound=inf)
    program = _program(columns, demand, stocks, costing, most_film)
    found = milp(
        program.cost,
        integrality=program.integer,
        bounds=VariableBounds(program.lower, program.upper),
        constraints=[
            LinearConstraint(program.cover, program.demand, program.demand),
            LinearConstraint(program.limits, -np.inf, program.most),
        ],
        options={"mip_rel_gap": 0.0},
    )
    bound = float(found.mip_dual_bound) if found.mip_dual_bound is not None else -inf
    if found.x is None:
        return Combination(None, proven=found.status == 2, bound=bound)
    return Combination(np.rint(found.x[: len(columns)]).astype(int).tolist(), found.status == 0, bound)


@dataclass(frozen=True)
class Relaxed:
    """The program without whole numbers: its value and what each blank and each mm of stock is worth in it."""

    cost: float
    shares: Floats  # (columns,): how often each is cut in the mixture
    kind_prices: Floats  # (kinds,) [$]
    length_prices: Floats  # (stocks,), at most 0 [$/mm]


def relax(columns: Sequence[Column], demand: Ints, stocks: Sequence[Stock], costing: Costing) -> Relaxed | None:
    """Solve the program without whole numbers; None where even that has no solution."""
    program = _program(columns, demand, stocks, costing, inf)
    found = linprog(
        program.cost, A_ub=program.limits, b_ub=program.most, A_eq=program.cover, b_eq=program.demand,
        bounds=np.column_stack([program.lower, program.upper]), method="highs",
    )  # fmt: skip
    if found.status != 0:
        return None
    held = np.asarray(found.ineqlin.marginals)
    return Relaxed(
        float(found.fun), found.x[: len(columns)], np.asarray(found.eqlin.marginals), held[: len(stocks)]
    )  # fmt: skip


def _program(
    columns: Sequence[Column], demand: Ints, stocks: Sequence[Stock], costing: Costing, most_film: float
) -> _Program:
    """Columns first, then for each stock: used, rest kept, length of that rest; last the rolls after the first."""
    count, many = len(columns), len(stocks)
    used, kept, rest, more = count, count + many, count + 2 * many, count + 3 * many
    size = more + 1
    digits = np.array([column.digits for column in columns])
    home = np.array([column.stock for column in columns])
    lengths = np.array([column.length for column in columns])
    rolls = np.array([stock.kind is StockKind.ROLL for stock in stocks])
    film = np.array([stock.price * stock.width for stock in stocks]) * rolls
    cost = np.zeros(size)
    cost[:count] = [column.cost for column in columns]
    cost[more] = costing.pull_price
    upper = np.ones(size)
    upper[:count] = np.min(np.where(digits > 0, demand // np.maximum(digits, 1), demand.max()), axis=1)
    upper[more] = many
    rows: list[tuple[list[int], list[float], float]] = []
    # No stock gives more than it has; these rows stand first, for their prices are read.
    for s, stock in enumerate(stocks):
        own = np.flatnonzero(home == s)
        upper[rest + s] = stock.length
        rows.append(([*own, used + s], [*lengths[own], -stock.length], 0.0))
    for s, stock in enumerate(stocks):
        least = None if rolls[s] else costing.least_rest(stock.width)
        if rolls[s] or least is None:
            upper[kept + s] = upper[rest + s] = 0.0
        if rolls[s]:
            continue
        own = np.flatnonzero(home == s)
        cost[used + s] = costing.worth(stock.length, stock.width, stock.price)
        if least is not None:
            cost[rest + s] = -costing.offcut_share * stock.width * stock.price
            rows.append(([*own, kept + s], [*lengths[own], least], stock.length))
            rows.append(([*own, rest + s], [*lengths[own], 1.0], stock.length))
            rows.append(([rest + s, kept + s], [1.0, -stock.length], 0.0))
            rows.append(([kept + s, used + s], [1.0, -1.0], 0.0))
    opened = [used + s for s in range(many) if rolls[s]]
    rows.append(([*opened, more], [*[1.0] * len(opened), -1.0], 1.0))
    bought = film[home] * lengths
    spent = np.flatnonzero(bought)
    rows.append((spent.tolist(), bought[spent].tolist(), most_film + _PENNY if most_film < inf else _UNBOUNDED))
    row_of = np.repeat(np.arange(len(rows)), [len(at) for at, _, _ in rows])
    column_of = np.concatenate([at for at, _, _ in rows]).astype(int)
    limits = csr_array(
        (np.concatenate([values for _, values, _ in rows]), (row_of, column_of)), shape=(len(rows), size)
    )
    cover = csr_array(np.hstack([digits.T, np.zeros((len(demand), size - count))]))
    integer = np.ones(size)
    integer[rest : rest + many] = 0
    integer[more] = 0
    most = np.array([limit for _, _, limit in rows])
    return _Program(cost, cover, demand, limits, most, integer, np.zeros(size), upper)


_PENNY = 1e-6
_UNBOUNDED = 1e9

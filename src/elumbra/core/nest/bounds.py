"""What no layout can beat: lower bounds on the film bought, knife cuts or not.

A dual feasible function f maps shares of the width so that shares that fit side by side sum
to at most 1 after mapping as well. For every such f, the length taken from a roll of width W
is at least the sum of f(across / W) * along over its pieces. The identity gives the area
bound (area over width).

An offcut or sheet is free here, and can hold what its area and, mapped, its length allow: each at
most once. Which pieces lie on it is a small integer program for every f; its bound is valid
however far it is solved.

References
----------
Fekete, Schepers: New classes of fast lower bounds for bin packing problems, 2001 (the
functions ``u`` and ``U`` used here).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf

import numpy as np
from scipy.optimize import Bounds as VariableBounds
from scipy.optimize import LinearConstraint, milp
from scipy.sparse import csr_array

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.layout import Blank, Costing

_SAME = 1e-9
_NODES = 200
_FEW_PAIRS = 60  # of a piece and an offcut that it fits on


@dataclass(frozen=True)
class Bounds:
    """Least money for film [$]: over any layout of area, and over any layout that does not overlap."""

    area: float
    free: float


def film_bounds(blanks: Sequence[Blank], stocks: Sequence[Stock]) -> Bounds:
    """Least money for new film over all layouts, straight cuts or not.

    Offcuts and sheets on the rack count as free, each once. Blanks that fit no stock are left out.
    """
    shares = [_identity, *[_step(k) for k in range(1, 6)], *[_cut_off(e / 20) for e in range(1, 10)]]
    placeable = [blank for blank in blanks if any(_fits(blank, stock) for stock in stocks)]
    rolls = [stock for stock in stocks if stock.kind is StockKind.ROLL]
    others = [
        stock for stock in stocks
        if stock.kind is not StockKind.ROLL and any(_fits(blank, stock) for blank in placeable)
    ]  # fmt: skip
    onto = [[_onto(blank, stock, shares) for stock in others] for blank in placeable]
    values = []
    for k, share in enumerate(shares):
        prices = [_cheapest(blank, rolls, share) for blank in placeable]
        values.append(_not_on_offcuts(prices, others, onto, k) if others else sum(prices))
    return Bounds(area=values[0], free=max(values))


def _fits(blank: Blank, stock: Stock) -> bool:
    return any(o.across <= stock.width + _SAME and o.along <= stock.length + _SAME for o in blank.turns)


def _cheapest(blank: Blank, rolls: Sequence[Stock], share: Callable[[float], float]) -> float:
    """Least money for film off a roll; infinite where it fits none."""
    return min(
        (
            share(min(1.0, option.across / roll.width)) * option.along * roll.width * roll.price
            for roll in rolls
            for option in blank.turns
            if option.across <= roll.width + _SAME and option.along <= roll.length + _SAME
        ),
        default=inf,
    )


def _onto(blank: Blank, stock: Stock, shares: Sequence[Callable[[float], float]]) -> list[float] | None:
    """What a blank takes of an offcut's length, mapped by every share; None where it does not fit."""
    ways = [o for o in blank.turns if o.across <= stock.width + _SAME and o.along <= stock.length + _SAME]
    if not ways:
        return None
    return [min(share(min(1.0, o.across / stock.width)) * o.along for o in ways) for share in shares]


def _not_on_offcuts(
    prices: Sequence[float], others: Sequence[Stock], onto: Sequence[Sequence[list[float] | None]], share: int
) -> float:
    """Least money when what lies on offcuts is free, and no offcut holds more than it can.

    A piece that fits no roll lies on an offcut in every layout, and costs nothing. With many
    pieces and offcuts parts of a piece are allowed on them: a weaker bound, found at once.
    """
    pairs = [(i, s) for i, row in enumerate(onto) for s, length in enumerate(row) if length is not None]
    few = len(pairs) <= _FEW_PAIRS
    kept = range(_shares_of(onto)) if few else sorted({0, share})
    worth = np.array([prices[i] if prices[i] < inf else 0.0 for i, _ in pairs])
    rows: list[tuple[int, int, float]] = [(i, at, 1.0) for at, (i, _) in enumerate(pairs)]
    for at, (i, s) in enumerate(pairs):
        lengths = onto[i][s]
        assert lengths is not None
        rows += [(len(prices) + s * len(kept) + row, at, lengths[k]) for row, k in enumerate(kept)]
    most = np.concatenate([np.ones(len(prices)), np.repeat([stock.length + _SAME for stock in others], len(kept))])
    where = tuple(np.array(column, dtype=int) for column in zip(*((r, c) for r, c, _ in rows), strict=True))
    held = csr_array((np.array([value for _, _, value in rows]), where), shape=(len(most), len(pairs)))
    found = milp(
        -worth,
        integrality=np.full(len(pairs), int(few)),
        bounds=VariableBounds(0, 1),
        constraints=LinearConstraint(held, -np.inf, most),
        options={"node_limit": _NODES},
    )
    if not few and found.status == 0:
        saved = -float(found.fun)
    else:
        saved = -float(found.mip_dual_bound) if found.mip_dual_bound is not None else float(worth.sum())
    return max(0.0, sum(price for price in prices if price < inf) - saved)


def _shares_of(onto: Sequence[Sequence[list[float] | None]]) -> int:
    return next(len(length) for row in onto for length in row if length is not None)


def net_unit_prices(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> dict[str, float]:
    """Least net money that each blank can cost by its area and one knife cut [$].

    Film of a roll costs its full price; a leftover is never worth more than a share of that.
    A usable offcut is charged at its book worth, one too small for the books costs nothing.
    """
    prices: dict[str, float] = {}
    for blank in blanks:
        costs = [
            option.along * option.across * _least_price(stock, costing)
            + (option.extra_minutes + costing.knife_cut_minutes) * costing.minute_price
            for stock in stocks
            for option in blank.turns
            if option.across <= stock.width + _SAME and option.along <= stock.length + _SAME
        ]
        prices[blank.id] = min(costs, default=inf)
    return prices


def _least_price(stock: Stock, costing: Costing) -> float:
    if stock.kind is StockKind.ROLL:
        return stock.price
    return costing.offcut_share * stock.price if costing.usable(stock.length, stock.width) else 0.0


def _identity(share: float) -> float:
    return share


def _step(k: int) -> Callable[[float], float]:
    """Fekete and Schepers' u(k): whole multiples of 1/(k+1) keep their share, others round down to k-ths."""

    def mapped(share: float) -> float:
        scaled = (k + 1) * share
        if abs(scaled - round(scaled)) < 1e-7:
            return share
        return int(scaled) / k

    return mapped


def _cut_off(least: float) -> Callable[[float], float]:
    """Fekete and Schepers' U(e): what is wider than 1 - e takes the whole width, below e nothing."""

    def mapped(share: float) -> float:
        if share > 1 - least + _SAME:
            return 1.0
        return share if share >= least - _SAME else 0.0

    return mapped

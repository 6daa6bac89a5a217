"""What no layout can beat: lower bounds on the film bought, knife cuts or not.

A dual feasible function f maps shares of the width so that shares that fit side by side sum
to at most 1 after mapping as well. For every such f, the length taken from a roll of width W
is at least the sum of f(across / W) * along over its pieces. The identity gives the area
bound (area over width).

References
----------
Fekete, Schepers: New classes of fast lower bounds for bin packing problems, 2001 (the
functions ``u`` and ``U`` used here).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.layout import Blank, Costing

_SAME = 1e-9


@dataclass(frozen=True)
class Bounds:
    """Least money for film [$]: over any layout of area, and over any layout that does not overlap."""

    area: float
    free: float


def film_bounds(blanks: Sequence[Blank], stocks: Sequence[Stock]) -> Bounds:
    """Least money for new film over all layouts, straight cuts or not.

    Offcuts and sheets on the rack count as free here. Blanks that fit no stock are left out.
    """
    shares = [_identity, *[_step(k) for k in range(1, 6)], *[_cut_off(e / 20) for e in range(1, 10)]]
    values = [sum(_cheapest(blank, stocks, share) for blank in blanks) for share in shares]
    return Bounds(area=values[0], free=max(values))


def _cheapest(blank: Blank, stocks: Sequence[Stock], share: Callable[[float], float]) -> float:
    best = inf
    for stock in stocks:
        for option in blank.turns:
            if option.across <= stock.width + _SAME and option.along <= stock.length + _SAME:
                if stock.kind is not StockKind.ROLL:
                    return 0.0
                part = share(min(1.0, option.across / stock.width))
                best = min(best, part * option.along * stock.width * stock.price)
    return 0.0 if best is inf else best


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
        prices[blank.id] = min(costs, default=0.0)
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

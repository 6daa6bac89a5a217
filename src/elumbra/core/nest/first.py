"""A first layout in milliseconds, or as much of it as the film holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from elumbra.core.film import Stock
from elumbra.core.nest.exact import solve_exact
from elumbra.core.nest.holding import Holding
from elumbra.core.nest.lanes import TooManySectionsError, by_size
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Layout, Section
from elumbra.core.nest.pool import moved
from elumbra.core.nest.unplaced import lost

CHUNK = 5  # blanks planned together
NEIGHBOUR_ROWS = 60_000
_TRIED_ORDERS = 12  # where film is scarce and proof out of reach


def place_all(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, rng: np.random.Generator
) -> tuple[Layout, list[Blank], bool]:
    """A layout of all blanks at once, or as ``most_placed``."""
    layout, left_over = in_order(stocks, costing, order=sorted(blanks, key=by_size))
    return most_placed(blanks, stocks, costing, rng) if left_over else (layout, [], False)


def most_placed(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, rng: np.random.Generator
) -> tuple[Layout, list[Blank], bool]:
    """The most windows that the film holds, then the dearest.

    Returns the layout, the blanks that are left out, and whether it is sure that no more fit: with too many sets of
    blanks for that, it is the best of a few orders.
    """
    try:
        return *Holding(blanks, stocks, two_lots=True).most(), True
    except TooManySectionsError:
        pass
    smallest_first = sorted(blanks, key=by_size, reverse=True)
    orders = [smallest_first, *([blanks[i] for i in rng.permutation(len(blanks))] for _ in range(_TRIED_ORDERS))]
    found = [whole_windows(stocks, costing, order=sorted(blanks, key=by_size))]
    for order in orders:
        found.append(whole_windows(stocks, costing, order=order))
        if not found[-1][1]:
            break
    return *min(found, key=lambda one: lost(one[1])), False


def whole_windows(stocks: Sequence[Stock], costing: Costing, *, order: Sequence[Blank]) -> tuple[Layout, list[Blank]]:
    """As many as come to lie in an order, a window only with all its pieces."""
    waiting = list(order)
    without: list[Blank] = []
    while True:
        layout, left_over = in_order(stocks, costing, order=waiting)
        torn = {blank.window for blank in left_over if blank.window}
        part = [blank for blank in waiting if blank.window in torn and blank not in left_over]
        if not part:
            return layout, [*without, *left_over]
        without += [blank for blank in waiting if blank.window in torn]
        waiting = [blank for blank in waiting if blank.window not in torn]


def in_order(stocks: Sequence[Stock], costing: Costing, *, order: Sequence[Blank]) -> tuple[Layout, list[Blank]]:
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
                    left = rest(left, single)
            continue
        sections += _shifted(found, stocks, left)
        left = rest(left, found)
    return Layout(tuple(sections)), without


def _solve_lot(lot: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> Layout | None:
    """A lot planned exactly; where even that is too much, blank by blank from what is left."""
    usable = [stock for stock in stocks if stock.length > TOUCHING]
    try:
        return solve_exact(lot, usable, costing, row_limit=NEIGHBOUR_ROWS)
    except TooManySectionsError:
        return None


def _shifted(layout: Layout, whole: Sequence[Stock], left: Sequence[Stock]) -> list[Section]:
    """Sections moved behind what was cut from their stock before."""
    start = {a.id: a.length - b.length for a, b in zip(whole, left, strict=True)}
    return [moved(section, start[section.stock_id]) for section in layout.sections]


def rest(stocks: Sequence[Stock], layout: Layout) -> list[Stock]:
    """Stock with what a layout leaves of it."""
    return [replace(stock, length=stock.length - layout.used_length(stock.id)) for stock in stocks]

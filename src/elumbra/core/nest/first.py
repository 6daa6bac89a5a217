"""A first layout in milliseconds, or as much of it as the film holds."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from elumbra.core.film import Stock
from elumbra.core.nest.exact import solve_exact
from elumbra.core.nest.lanes import TooManySectionsError, by_size
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Layout, Section
from elumbra.core.nest.pool import moved

CHUNK = 5  # blanks planned together
NEIGHBOUR_ROWS = 60_000
_TRIED_ORDERS = 12  # where film is scarce and proof out of reach


def place_all(
    blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing, rng: np.random.Generator
) -> tuple[Layout, list[Blank], bool]:
    """A layout of all blanks, or of as many as the film holds.

    Returns the layout, the blanks that found no film, and whether it is sure that not all fit:
    only the exact search over all of them can say so.
    """
    layout, left_over = _first_layout(stocks, costing, order=sorted(blanks, key=by_size))
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


def _as_many_as_fit(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> tuple[Layout, list[Blank]]:
    """Largest first, every blank that can still be placed beside those placed already, exactly."""
    kept: list[Blank] = []
    layout, without = Layout(()), []
    for blank in sorted(blanks, key=by_size):
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

"""What is short where the rack does not hold all pieces of a film, and what would do, to the sixteenth.

Exact by length alone (``holding``) up to some twelve different pieces. Beyond that each figure surely does, and
beside it stands the least that could.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import inf

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.first import in_order
from elumbra.core.nest.holding import Holding
from elumbra.core.nest.lanes import TooManySectionsError, by_size
from elumbra.core.nest.layout import Blank, Costing, Layout
from elumbra.core.units import up_to_sixteenth

_ENDLESS = 304_800.0


@dataclass(frozen=True)
class Longer:
    """An item of the rack with which all would fit if it were so much longer [mm]."""

    stock_id: str
    more: float
    at_least: float  # less than this surely does not do; the same as ``more`` where that is exact


@dataclass(frozen=True)
class NewRoll:
    """A new roll beside the rack as it is, with which all fits [mm]."""

    width: float
    length: float
    at_least: float


@dataclass(frozen=True)
class Short:
    """What would make all pieces of a film fit."""

    longer: tuple[Longer, ...]  # least first
    new_rolls: tuple[NewRoll, ...]  # narrowest first


def what_is_short(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    layout: Layout,
    *,
    roll_widths: Sequence[float],
    two_lots: bool,
) -> Short:
    """What would make all pieces fit.

    Parameters
    ----------
    blanks, stocks, costing
        All pieces of the film, and what they may come from.
    layout
        The plan that leaves some of them out.
    roll_widths
        Widths that can be bought [mm].
    two_lots
        Whether a pair may come from two lots.
    """
    try:
        holding = Holding(blanks, stocks, two_lots=two_lots)
        longer = [(stock, holding.least_on(stock) - stock.length) for stock in stocks]
        exact = [Longer(stock.id, up_to_sixteenth(more), up_to_sixteenth(more)) for stock, more in longer if more < inf]
        rolls = [(width, holding.least_new(width)) for width in roll_widths]
        new = [NewRoll(width, up_to_sixteenth(mm), up_to_sixteenth(mm)) for width, mm in rolls if mm < inf]
    except TooManySectionsError:
        exact, new = _surely(blanks, stocks, costing, layout, roll_widths, two_lots=two_lots)
    return Short(
        tuple(sorted(exact, key=lambda one: (one.more, one.stock_id))), tuple(sorted(new, key=lambda one: one.width))
    )


def _surely(
    blanks: Sequence[Blank],
    stocks: Sequence[Stock],
    costing: Costing,
    layout: Layout,
    roll_widths: Sequence[float],
    *,
    two_lots: bool,
) -> tuple[list[Longer], list[NewRoll]]:
    """Behind what the plan cuts, what it leaves out, its twins too where a pair stays on one lot; no less than the area
    of all that the rack has not.
    """
    without = {item.blank_id for item in layout.unplaced}
    torn = {blank.pair for blank in blanks if blank.id in without and blank.pair and not two_lots}
    left_out = [blank for blank in blanks if blank.id in without or blank.pair in torn]
    missing = sum(blank.area for blank in blanks) - sum(stock.width * stock.length for stock in stocks)
    longer, new = [], []
    for stock in stocks:
        length = _length_of(left_out, stock.width, costing)
        if length < inf:
            more = up_to_sixteenth(max(0.0, length - (stock.length - layout.used_length(stock.id))))
            longer.append(Longer(stock.id, more, min(more, up_to_sixteenth(max(0.0, missing / stock.width)))))
    for width in roll_widths:
        length = up_to_sixteenth(_length_of(left_out, width, costing)) if left_out else 0.0
        if length < inf:
            new.append(NewRoll(width, length, min(length, up_to_sixteenth(max(0.0, missing / width)))))
    return longer, new


def _length_of(blanks: Sequence[Blank], width: float, costing: Costing) -> float:
    """A length of film of a width that holds some blanks [mm]; infinite where one is too wide."""
    endless = Stock("endless", "", StockKind.ROLL, width, _ENDLESS, 1.0)
    layout, left_over = in_order([endless], costing, order=sorted(blanks, key=by_size))
    return inf if left_over else layout.used_length(endless.id)


def least_reduction(
    smaller: Callable[[int], Sequence[Blank]],
    most: int,
    stocks: Sequence[Stock],
    costing: Costing,
    *,
    two_lots: bool,
) -> int | None:
    """The least number of steps by which blanks must get smaller so that all fit, or None where none does.

    Parameters
    ----------
    smaller
        The blanks after so many steps; each step makes none of them larger.
    most
        The last step there is.
    stocks, costing, two_lots
        As of the plan.
    """

    def fits(steps: int) -> bool:
        blanks = smaller(steps)
        try:
            return Holding(blanks, stocks, two_lots=two_lots).all_fit()
        except TooManySectionsError:
            return _fits_in_some_order(blanks, stocks, costing) and (two_lots or not any(b.pair for b in blanks))

    if most < 1 or not fits(most):
        return None
    low, high = 0, most  # at low it does not fit, at high it does
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (low, middle) if fits(middle) else (middle, high)
    return high


def _fits_in_some_order(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> bool:
    largest_first = sorted(blanks, key=by_size)
    return any(not in_order(stocks, costing, order=order)[1] for order in (largest_first, largest_first[::-1]))

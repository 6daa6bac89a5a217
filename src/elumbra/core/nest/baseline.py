"""How film is cut without a plan: the two customary ways, for comparison.

Both take the pieces one after another, each as a section of its own.
"""

from __future__ import annotations

from collections.abc import Sequence

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Lane, Layout, Placed, Section, Turn, TurnOption


def one_by_one_narrowest(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> Layout | None:
    """One after another, each on the narrowest roll that holds it; None where one fits no roll."""
    rolls = sorted((s for s in stocks if s.kind is StockKind.ROLL), key=lambda s: (s.width, s.price))
    return _one_by_one(blanks, rolls, costing)


def one_by_one_single(blanks: Sequence[Blank], stocks: Sequence[Stock], costing: Costing) -> Layout | None:
    """One after another on the single cheapest roll that holds all; None where there is none."""
    rolls = [stock for stock in stocks if stock.kind is StockKind.ROLL]
    layouts = [(roll, layout) for roll in rolls if (layout := _one_by_one(blanks, [roll], costing))]
    if not layouts:
        return None
    return min(layouts, key=lambda pair: pair[1].used_length(pair[0].id) * pair[0].width * pair[0].price)[1]


def _one_by_one(blanks: Sequence[Blank], rolls: Sequence[Stock], costing: Costing) -> Layout | None:
    left = {roll.id: roll.length for roll in rolls}
    sections: list[Section] = []
    for blank in blanks:
        for roll in rolls:
            option = _shortest(blank, roll.width)
            if option and option.along <= left[roll.id] + TOUCHING:
                x = roll.length - left[roll.id]
                sections.append(single_section(blank, option, roll, costing, x=x))
                left[roll.id] -= option.along
                break
        else:
            return None
    return Layout(tuple(sections))


def _shortest(blank: Blank, width: float) -> TurnOption | None:
    fitting = [option for option in blank.turns if option.across <= width + TOUCHING]
    return min(fitting, key=lambda option: (option.along, option.across), default=None)


def single_section(blank: Blank, option: TurnOption, stock: Stock, costing: Costing, *, x: float) -> Section:
    """A section that holds one blank, its foot on the near factory edge.

    Spare width that is no usable offcut stays on the blank: nobody cuts it off on the bench.
    """
    on_edge = option.turn is Turn.UPRIGHT and option.edge_minutes > 0
    placed = Placed(blank.id, option.turn, x, 0.0, option.along, option.across, on_edge)
    spare = stock.width - option.across
    left_on = 0.0 if costing.usable(option.along, spare) else spare
    lane = Lane(0.0, option.across + left_on, (placed,), left_on)
    return Section(stock.id, x, option.along, (lane,))

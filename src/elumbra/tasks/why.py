"""Why a plan takes the stock that it takes, and why pieces lie as they do, in sentences."""

from __future__ import annotations

from collections.abc import Sequence

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest import Blank, Costing, CutPlan, Turn, plan_cuts
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches
from elumbra.core.work import ToCut

_MOST_OTHERS = 3  # rolls that are compared
_SOLVED = 9  # up to so many pieces the other roll's plan is worked out in full
_CENT = 0.005


def why_words(
    plan: CutPlan, to_cut: ToCut, stocks: Sequence[Stock], costing: Costing, starting: StartingValues
) -> list[str]:
    """What each other roll would have cost instead, and which pieces have no choice how they lie."""
    placed = [blank for blank in to_cut.blanks if blank.id not in {one.blank_id for one in plan.layout.unplaced}]
    if not placed:
        return []
    taken = {section.stock_id for section in plan.layout.sections}
    offcuts = [stock for stock in stocks if stock.kind is not StockKind.ROLL]
    others = [stock for stock in stocks if stock.kind is StockKind.ROLL and (taken - {stock.id})]
    alone = sorted(others, key=lambda stock: (stock.id in taken, stock.width, stock.id))[:_MOST_OTHERS]
    told = [_instead(stock, plan, placed, offcuts, costing, starting) for stock in alone]
    return [words for words in told if words] + _ways_round(placed)


def _instead(
    stock: Stock,
    plan: CutPlan,
    blanks: Sequence[Blank],
    offcuts: Sequence[Stock],
    costing: Costing,
    starting: StartingValues,
) -> str:
    """What all of it from one other roll would cost more."""
    name = stock.label or stock.id
    wide = [b for b in blanks if all(option.across > stock.width for option in b.turns)]
    if wide:
        return f"{name} is too narrow for {wide[0].label}."
    found = plan_cuts(blanks, [stock, *offcuts], costing, roll_widths=starting.roll_widths_mm)
    other = list(found)[-1] if len(blanks) <= _SOLVED else next(found)
    if other.layout.unplaced:
        return f"{name} has too little left for all of it."
    more = other.score.net - plan.score.net
    length = format_inches(other.layout.used_length(stock.id))
    if more < _CENT:
        return f"{length} in of {name} alone would cost the same."
    return f"{length} in of {name} alone would cost ${more:.2f} more."


def _ways_round(blanks: Sequence[Blank]) -> list[str]:
    """Pieces that may lie one way only."""
    bound = [blank.label for blank in blanks if {option.turn for option in blank.turns} == {Turn.UPRIGHT}]
    sideways = [blank.label for blank in blanks if {option.turn for option in blank.turns} == {Turn.SIDEWAYS}]
    told = []
    if bound:
        told.append(f"Upright only, for film shrinks along the roll or its way of cutting says so: {', '.join(bound)}.")
    if sideways:
        told.append(f"Sideways only, by its way of cutting: {', '.join(sideways)}.")
    free = len(blanks) - len(bound) - len(sideways)
    if free:
        told.append(f"{free} of {len(blanks)} may lie either way round; they lie as it costs least.")
    return told

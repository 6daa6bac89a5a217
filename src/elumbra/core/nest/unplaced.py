"""Blanks for which the rack has no film: why, and what would do."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from elumbra.core.film import Stock
from elumbra.core.nest.layout import TOUCHING, Blank, Unplaced
from elumbra.core.units import format_inches, up_to_sixteenth


def split_fitting(
    blanks: Sequence[Blank], stocks: Sequence[Stock], roll_widths: Sequence[float]
) -> tuple[list[Blank], list[Unplaced]]:
    """Blanks that some stock could hold, and the others with the reason; a window only with all its pieces."""
    alone = {blank.id for blank in blanks if not any(fits(blank, stock) for stock in stocks)}
    torn = {blank.window for blank in blanks if blank.id in alone and blank.window}
    fitting, unplaced = [], []
    for blank in blanks:
        if blank.id in alone:
            unplaced.append(_no_place(blank, stocks, roll_widths))
        elif blank.window in torn:
            unplaced.append(_unplaced(blank, "The rack has no film for the other piece of this window.", roll_widths))
        else:
            fitting.append(blank)
    return fitting, unplaced


def lost(blanks: Iterable[Blank]) -> tuple[int, float]:
    """How many windows are left out with these blanks, and what those come to [$]."""
    price = {blank.window or blank.id: blank.price for blank in blanks}
    return len(price), sum(price.values())


def fits(blank: Blank, stock: Stock) -> bool:
    """Whether a blank fits a piece of stock by itself."""
    return any(o.across <= stock.width + TOUCHING and o.along <= stock.length + TOUCHING for o in blank.turns)


def _no_place(blank: Blank, stocks: Sequence[Stock], roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    widest = max((stock.width for stock in stocks), default=0.0)
    if not stocks:
        reason = "None of this film is on the rack."
    elif widest < narrow.across - TOUCHING:
        reason = f"Needs {_to_cut(narrow.across)} in of width; the widest on the rack is {format_inches(widest)} in."
    else:
        reason = f"No roll that is wide enough ({_to_cut(narrow.across)} in) has {_to_cut(narrow.along)} in left."
    return _unplaced(blank, reason, roll_widths)


def no_room(blank: Blank, roll_widths: Sequence[float], *, surely: bool) -> Unplaced:
    """A blank that fits a piece of stock by itself, and not beside the others."""
    if surely:
        reason = "Too little film left beside the other pieces."
    else:
        reason = "No layout was found that holds it beside the other pieces."
    return _unplaced(blank, reason, roll_widths)


def _unplaced(blank: Blank, reason: str, roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    pull = min((width for width in roll_widths if width >= narrow.across - TOUCHING), default=None)
    return Unplaced(blank.id, reason, narrow.across, narrow.along, pull)


def _to_cut(length_mm: float) -> str:
    """A needed size in inches, so that what is named really does."""
    return format_inches(up_to_sixteenth(length_mm))

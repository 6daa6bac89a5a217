"""Blanks for which the rack has no film: why, and what would do."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from elumbra.core.film import Stock
from elumbra.core.nest.layout import TOUCHING, Blank, Unplaced
from elumbra.core.units import format_inches


def split_fitting(
    blanks: Sequence[Blank], stocks: Sequence[Stock], roll_widths: Sequence[float]
) -> tuple[list[Blank], list[Unplaced]]:
    """Blanks that some stock could hold, and the others with the reason."""
    fitting, unplaced = [], []
    for blank in blanks:
        if any(fits(blank, stock) for stock in stocks):
            fitting.append(blank)
        else:
            unplaced.append(_no_place(blank, stocks, roll_widths))
    return fitting, unplaced


def fits(blank: Blank, stock: Stock) -> bool:
    """Whether a blank fits a piece of stock by itself."""
    return any(o.across <= stock.width + TOUCHING and o.along <= stock.length + TOUCHING for o in blank.turns)


def _no_place(blank: Blank, stocks: Sequence[Stock], roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    widest = max((stock.width for stock in stocks), default=0.0)
    if not stocks:
        reason = "None of this film is on the rack."
    elif widest < narrow.across - TOUCHING:
        reason = f"Needs {_up(narrow.across)} in of width; the widest on the rack is {format_inches(widest)} in."
    else:
        reason = f"No roll that is wide enough ({_up(narrow.across)} in) has {_up(narrow.along)} in left."
    return _unplaced(blank, reason, roll_widths)


def no_room(blank: Blank, roll_widths: Sequence[float], *, surely: bool) -> Unplaced:
    """A blank that fits a piece of stock by itself, and not beside the others."""
    narrow = min(blank.turns, key=lambda option: option.across)
    size = f"{_up(narrow.along)} in more needed"
    if surely:
        reason = f"Too little film left: {size}, the rack is used up by the other pieces."
    else:
        reason = f"No layout was found that holds it beside the others: {size}, or fewer pieces at once."
    return _unplaced(blank, reason, roll_widths)


def _unplaced(blank: Blank, reason: str, roll_widths: Sequence[float]) -> Unplaced:
    narrow = min(blank.turns, key=lambda option: option.across)
    pull = min((width for width in roll_widths if width >= narrow.across - TOUCHING), default=None)
    return Unplaced(blank.id, reason, narrow.across, narrow.along, pull)


def _up(length_mm: float) -> str:
    """A needed size rounded up to a sixteenth, so that what is named really does."""
    return format_inches(float(np.ceil(length_mm / 25.4 * 16 - 1e-6)) / 16 * 25.4)

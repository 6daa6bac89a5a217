"""The question turned round: which sheet VLT does this limit ask for?"""

from __future__ import annotations

from collections.abc import Sequence
from math import hypot

from elumbra.core.film import Film, VltBasis, reference_vlt
from elumbra.core.light.transmission import Glass, combine, risk_below
from elumbra.core.starting import StartingValues

_HALVINGS = 30


def least_sheet_vlt(
    glass: Glass,
    limit: float,
    *,
    starting: StartingValues,
    basis: VltBasis = VltBasis.ON_3MM_CLEAR,
    layers: Sequence[Film] = (),
) -> float | None:
    """Lightest-needed film: the least sheet VLT whose risk of reading under the limit still clears.

    Returns
    -------
    float or None
        Sheet VLT, 0 to 1; None where even clear film does not clear on this glass.

    Notes
    -----
    The spread is that of ``combine``: the glass's share of it and the sheet's own, as roots of
    squares; tested against the normal curve.
    """
    under = combine(glass, None, starting=starting, layers=layers)
    reference = reference_vlt(basis, starting=starting) or 1.0

    def clears(sheet: float) -> bool:
        share = min(1.0, sheet / reference)
        film_pm = max(starting["film_lot_pm_least"], starting["film_lot_pm_share"] * sheet)
        pm = hypot(share * under.pm, under.vlt * film_pm / reference)
        vlt = under.vlt * share
        return vlt >= limit and risk_below(vlt, pm, limit, starting=starting) <= starting["clears_risk"]

    low, high = 0.0, reference
    if not clears(high):
        return None
    if clears(low):
        return low
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if clears(middle) else (middle, high)
    return high

"""The question turned round: which sheet VLT does this limit ask for?"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from elumbra.core.film import Construction, Film, VltBasis, reference_vlt
from elumbra.core.light.transmission import Glass, combine, probability_reads_below
from elumbra.core.starting import StartingValues

_HALVINGS = 40


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

    Examples
    --------
    No limit asks for nothing. See the tests for figures worked by hand.
    """
    probe = Film("probe", "probe", Construction.CLEAR, 0.0, basis)

    def clears(sheet: float) -> bool:
        tried = combine(glass, replace(probe, vlt=sheet), starting=starting, layers=layers)
        risk = probability_reads_below(tried, limit, starting=starting)
        return tried.vlt >= limit and risk <= starting["clears_risk"]

    low, high = 0.0, reference_vlt(basis, starting=starting) or 1.0
    if not clears(high):
        return None
    if clears(low):
        return low
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if clears(middle) else (middle, high)
    return high

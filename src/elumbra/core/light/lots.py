"""What readings after installation say of a lot of film."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from elumbra.core.film import Film, LotFigure
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class InstalledReading:
    """A metered pane with its new film on: what was read and what the sheet had foretold (0 to 1)."""

    predicted: float  # with the maker's figure
    predicted_pm: float  # spread of the glass alone, carried through the film
    read: float


def lot_figure(
    film: Film, lot: str, readings: Sequence[InstalledReading], *, starting: StartingValues
) -> LotFigure | None:
    """A lot's own VLT, drawn from the maker's figure toward the shop's readings; None without any.

    Each reading gives the ratio of what was read to what was foretold. The maker's figure is
    held to its own lot spread, each reading to the spread of its glass and of the meter; the
    meter's bias is shared by all of them, so that many readings still leave it. The weighted
    mean of both is the lot's figure: one reading moves it a little, twenty nearly all the way.

    Examples
    --------
    No readings leave the maker's figure: the answer is None.
    """
    usable = [one for one in readings if one.predicted > 0]
    if not usable or film.vlt <= 0:
        return None
    prior_pm = max(starting["film_lot_pm_least"], starting["film_lot_pm_share"] * film.vlt) / film.vlt
    whole = starting["glass_metered_pm"]
    bias = min(starting["meter_bias_pm"], whole)
    weights, total, shared = 0.0, 0.0, 0.0
    for one in usable:
        own = (one.predicted_pm**2 + whole**2 - bias**2) ** 0.5 / one.predicted
        weight = 1 / max(own, 1e-6) ** 2
        weights += weight
        total += weight * (one.read / one.predicted)
        shared += weight * bias / one.predicted
    mean = total / weights
    reading_pm = (1 / weights + (shared / weights) ** 2) ** 0.5
    trust = prior_pm**2 / (prior_pm**2 + reading_pm**2) if prior_pm > 0 else 0.0
    ratio = 1 + trust * (mean - 1)
    pm = prior_pm * (1 - trust) ** 0.5
    return LotFigure(lot, min(1.0, max(0.0, film.vlt * ratio)), film.vlt * pm, len(usable))

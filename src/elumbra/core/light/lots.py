"""What readings after installation say of a lot of film."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from elumbra.core.film import Film, LotFigure
from elumbra.core.starting import StartingValues

LEAST_SPREAD = 1e-6  # no reading is surer than this share of its figure
LEAST_FORETOLD = 1e-5  # below this a pane is as good as shut: no ratio comes of it


@dataclass(frozen=True)
class InstalledReading:
    """A metered pane with its new film on: what was read and what the sheet had foretold (0 to 1)."""

    predicted: float  # with the maker's figure
    predicted_pm: float  # spread of the glass alone, carried through the film
    read: float


@dataclass(frozen=True)
class ReadingSums:
    """A lot's readings added up, so that ten years of them need not be read one by one.

    Each reading weighs w = p² / (pm² + s²): p foretold, pm the spread of its glass carried
    through the film, s the meter's own spread without its bias.
    """

    count: int
    weight: float  # sum of w
    ratio: float  # sum of w times read / p
    inverse: float  # sum of w / p


def meter_variance(starting: StartingValues) -> float:
    """Square of the meter's spread that repeat readings do not share."""
    whole = starting["glass_metered_pm"]
    return whole**2 - min(starting["meter_bias_pm"], whole) ** 2


def add_up(readings: Sequence[InstalledReading], *, starting: StartingValues) -> ReadingSums:
    """The sums of some readings; those that foretold nothing are left out.

    Examples
    --------
    No readings add up to nothing: all sums are 0.
    """
    variance = meter_variance(starting)
    usable = [one for one in readings if one.predicted > LEAST_FORETOLD]
    weights = [
        one.predicted**2 / max(one.predicted_pm**2 + variance, LEAST_SPREAD**2 * one.predicted**2) for one in usable
    ]
    pairs = list(zip(weights, usable, strict=True))
    return ReadingSums(
        len(usable),
        sum(weights),
        sum(weight * one.read / one.predicted for weight, one in pairs),
        sum(weight / one.predicted for weight, one in pairs),
    )


def lot_figure(film: Film, lot: str, sums: ReadingSums, *, starting: StartingValues) -> LotFigure | None:
    """A lot's own VLT, drawn from the maker's figure toward the shop's readings; None without any.

    Each reading gives the ratio of what was read to what was foretold. The maker's figure is
    held to its own lot spread, each reading to the spread of its glass and of the meter; the
    meter's bias is shared by all of them, so that many readings still leave it. The weighted
    mean of both is the lot's figure: one reading moves it a little, twenty nearly all the way.
    """
    if sums.count == 0 or film.vlt <= 0:
        return None
    prior_pm = max(starting["film_lot_pm_least"], starting["film_lot_pm_share"] * film.vlt) / film.vlt
    bias = min(starting["meter_bias_pm"], starting["glass_metered_pm"])
    mean = sums.ratio / sums.weight
    reading_pm = (1 / sums.weight + (bias * sums.inverse / sums.weight) ** 2) ** 0.5
    trust = prior_pm**2 / (prior_pm**2 + reading_pm**2) if prior_pm > 0 else 0.0
    ratio = 1 + trust * (mean - 1)
    pm = prior_pm * (1 - trust) ** 0.5
    return LotFigure(lot, min(1.0, max(0.0, film.vlt * ratio)), film.vlt * pm, sums.count)

"""Combined VLT of glass and bonded film, with its spread (heart, section 3).

Bonded film has no air gap: the film replaces one face of the glass, so a sheet figure that
was measured on clear glass is freed of that glass by division, once for every layer::

    T = T_glass * product of (T_sheet / T_ref)

All light is a fraction of 1; ``pm`` is a 95 % half-width.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from math import erf, prod, sqrt
from statistics import NormalDist

from elumbra.core.film import Film, reference_vlt
from elumbra.core.starting import StartingValues

SIGMAS_95 = NormalDist().inv_cdf(0.975)


class GlassSource(StrEnum):
    """Where the glass's VLT came from."""

    METERED = "metered"
    MARKED = "marked"  # read off the glass
    ASSUMED = "assumed"  # our starting value


@dataclass(frozen=True)
class Glass:
    """What is there before the new film: share of light that passes (0 to 1) and where it was read.

    ``through_old_film`` is set where the meter read glass and old film together.
    """

    vlt: float
    source: GlassSource
    readings: int = 1
    through_old_film: bool = False


@dataclass(frozen=True)
class Combined:
    """Glass and film together."""

    vlt: float  # the figure that is judged
    bonded: float | None  # None where a sheet's basis is unknown
    bench: float  # the quick school: glass times sheet
    pm: float  # 95 % half-width, before truncation
    how: Callable[[], str] = field(default=lambda: "", compare=False, repr=False)

    @property
    def formula(self) -> str:
        """The figure's making in words and numbers, put together when asked for."""
        return self.how()

    @property
    def sigma(self) -> float:
        """One sigma of the combined VLT."""
        return self.pm / SIGMAS_95

    @property
    def low(self) -> float:
        """Lower 95 % end, never below 0."""
        return max(0.0, self.vlt - self.pm)

    @property
    def high(self) -> float:
        """Upper 95 % end, never above 1."""
        return min(1.0, self.vlt + self.pm)


def metered_glass(readings: Sequence[float], *, through_old_film: bool = False) -> Glass:
    """Glass as the mean of several readings of one meter.

    Raises
    ------
    ValueError
        No reading at all.

    Examples
    --------
    >>> metered_glass([0.72, 0.70]).vlt
    0.71
    """
    if not readings:
        raise ValueError("at least one reading is needed")
    return Glass(sum(readings) / len(readings), GlassSource.METERED, len(readings), through_old_film)


def glass_pm(glass: Glass, *, starting: StartingValues) -> float:
    """95 % half-width of the glass's figure.

    One metered reading has the whole spread. The meter's bias is shared by its repeats, only
    the rest averages out: more readings never bring the spread under the bias.
    """
    if glass.source is not GlassSource.METERED:
        return starting["glass_assumed_pm"]
    whole = starting["glass_metered_pm"]
    bias = min(starting["meter_bias_pm"], whole)
    return sqrt(bias**2 + (whole**2 - bias**2) / glass.readings)


def sheet_figure(film: Film, *, starting: StartingValues) -> tuple[float, float]:
    """A film's VLT and its 95 % half-width: the lot's own where the shop has read it."""
    if film.lot is not None:
        return film.lot.vlt, film.lot.pm
    return film.vlt, max(starting["film_lot_pm_least"], starting["film_lot_pm_share"] * film.vlt)


def film_alone(film: Film, *, starting: StartingValues) -> tuple[float, float]:
    """VLT of the film by itself in air, and its 95 % half-width, for laws that test the film alone.

    A figure on 3 mm clear glass is freed of the glass and given its second face back. One of
    unknown basis stands as it is, the lower reading.
    """
    vlt, pm = sheet_figure(film, starting=starting)
    reference = reference_vlt(film.vlt_basis, starting=starting)
    face = starting["interface_reflectance"]
    factor = (1 - face) / (1 + face) / reference if reference else 1.0
    return min(1.0, vlt * factor), pm * factor


def combine(glass: Glass, film: Film | None, *, starting: StartingValues, layers: Sequence[Film] = ()) -> Combined:
    """Combined VLT of a pane and its film.

    Parameters
    ----------
    glass
        What is there before, VLT 0 to 1.
    film
        The film to be bonded inside, or None for what is there.
    starting
        Reference glass, spreads.
    layers
        Further films that stay on the glass under it, outermost first.

    Returns
    -------
    Combined
        ``vlt`` is the bonded figure; a sheet of unknown basis enters by the lower bench
        figure. Never above the glass's own VLT.
    """
    there = "glass and old film" if glass.through_old_film else "glass"
    films = [*layers, film] if film else list(layers)
    own_pm = glass_pm(glass, starting=starting)
    if not films:
        return Combined(glass.vlt, glass.vlt, glass.vlt, own_pm, lambda: f"{there} {percent(glass.vlt)}, no film")
    figures = [sheet_figure(one, starting=starting) for one in films]
    references = [reference_vlt(one.vlt_basis, starting=starting) for one in films]
    freed = [min(1.0, sheet / (ref or 1.0)) for (sheet, _), ref in zip(figures, references, strict=True)]
    share = prod(freed)
    variance = (share * own_pm) ** 2
    for i, ((_, pm), ref) in enumerate(zip(figures, references, strict=True)):
        others = prod(freed[:i] + freed[i + 1 :])
        variance += (glass.vlt * others * pm / (ref or 1.0)) ** 2
    vlt = glass.vlt * share
    known = all(references)
    bench = glass.vlt * prod(sheet for sheet, _ in figures)
    return Combined(
        vlt,
        vlt if known else None,
        bench,
        sqrt(variance),
        lambda: _formula(glass, there, figures, references, vlt),
    )


def _formula(
    glass: Glass,
    there: str,
    figures: Sequence[tuple[float, float]],
    references: Sequence[float | None],
    vlt: float,
) -> str:
    words = [f"{percent(glass.vlt)} {there}"]
    for (sheet, _), reference in zip(figures, references, strict=True):
        words.append(f"× {percent(sheet)} sheet")
        if reference:
            words.append(f"÷ {percent(reference)} reference")
    doubt = "" if all(references) else " (basis of the sheet unknown)"
    return f"{' '.join(words)} = {percent(vlt)}{doubt}"


def probability_reads_below(combined: Combined, limit: float, *, starting: StartingValues) -> float:
    """Chance that an officer's meter reads below a limit.

    The officer's meter is independent of ours and has its own spread.

    Parameters
    ----------
    combined
        What we predict, with its spread.
    limit
        Least VLT allowed, 0 to 1.
    starting
        Gives the officer's meter's spread.
    """
    return risk_below(combined.vlt, combined.pm, limit, starting=starting)


def risk_below(vlt: float, pm: float, limit: float, *, starting: StartingValues) -> float:
    """Chance that an independent meter reads ``vlt`` ± ``pm`` below ``limit`` (all 0 to 1)."""
    sigma = sqrt(pm**2 + starting["officer_meter_pm"] ** 2) / SIGMAS_95
    if sigma == 0:
        return 1.0 if vlt < limit else 0.0
    return 0.5 * (1 + erf((limit - vlt) / (sigma * sqrt(2))))


def shade_hex(share: float) -> str:
    """Colour of a white backdrop seen through a pane: linear light, then sRGB encoding.

    Source: IEC 61966-2-1 transfer curve.

    Examples
    --------
    >>> shade_hex(0.2), shade_hex(1.0), shade_hex(0.0)
    ('#7C7C7C', '#FFFFFF', '#000000')
    """
    linear = min(1.0, max(0.0, share))
    encoded = 12.92 * linear if linear <= 0.0031308 else 1.055 * linear ** (1 / 2.4) - 0.055
    level = round(encoded * 255)
    return f"#{level:02X}{level:02X}{level:02X}"


def percent(share: float) -> str:
    """A fraction as percent with at most one decimal.

    Examples
    --------
    >>> percent(0.35), percent(0.2917)
    ('35 %', '29.2 %')
    """
    return f"{share * 100:.1f}".rstrip("0").rstrip(".") + " %"

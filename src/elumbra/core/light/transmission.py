"""Combined VLT of glass and bonded film, with its spread (heart, section 3).

Bonded film has no air gap: the film replaces one face of the glass, so a sheet figure that
was measured on clear glass is freed of that glass by division::

    T = T_glass * T_sheet / T_ref

All light is a fraction of 1; ``pm`` is a 95 % half-width.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from math import sqrt
from statistics import NormalDist

from elumbra.core.film import Film, VltBasis
from elumbra.core.starting import StartingValues

_SIGMAS_95 = NormalDist().inv_cdf(0.975)


class GlassSource(StrEnum):
    """Where the bare glass's VLT came from."""

    METERED = "metered"
    MARKED = "marked"  # read off the glass
    ASSUMED = "assumed"  # our starting value


@dataclass(frozen=True)
class Glass:
    """Bare glass: share of visible light that passes (0 to 1) and where it was read."""

    vlt: float
    source: GlassSource


@dataclass(frozen=True)
class Combined:
    """Glass and film together."""

    vlt: float  # the figure that is judged
    bonded: float | None  # None where the sheet's basis is unknown
    bench: float  # the quick school: glass times sheet
    pm: float  # 95 % half-width, before truncation
    formula: str

    @property
    def sigma(self) -> float:
        """One sigma of the combined VLT."""
        return self.pm / _SIGMAS_95

    @property
    def low(self) -> float:
        """Lower 95 % end, never below 0."""
        return max(0.0, self.vlt - self.pm)

    @property
    def high(self) -> float:
        """Upper 95 % end, never above 1."""
        return min(1.0, self.vlt + self.pm)


def reference_vlt(basis: VltBasis, *, starting: StartingValues) -> float | None:
    """VLT of what the film's sheet figure was measured with, film left out.

    A film alone in air still has two faces. A clear one that absorbs nothing passes
    (1 - r) / (1 + r) of the light, r the reflectance of one face: that is what its figure is
    freed of when the film is bonded. None where the basis is unknown.
    """
    if basis is VltBasis.ON_3MM_CLEAR:
        return starting["reference_glass_vlt"]
    if basis is VltBasis.FILM_ALONE:
        face = starting["interface_reflectance"]
        return (1 - face) / (1 + face)
    return None


def combine(glass: Glass, film: Film | None, *, starting: StartingValues) -> Combined:
    """Combined VLT of a pane and its film.

    Parameters
    ----------
    glass
        Bare glass, VLT 0 to 1.
    film
        The film to be bonded inside, or None for bare glass.
    starting
        Reference glass, spreads.

    Returns
    -------
    Combined
        ``vlt`` is the bonded figure, or the lower bench figure where the sheet's basis is
        unknown. Never above the glass's own VLT.
    """
    glass_pm = starting["glass_metered_pm" if glass.source is GlassSource.METERED else "glass_assumed_pm"]
    if film is None:
        return Combined(glass.vlt, glass.vlt, glass.vlt, glass_pm, f"glass {_pct(glass.vlt)}, no film")
    bench = glass.vlt * film.vlt
    reference = reference_vlt(film.vlt_basis, starting=starting)
    share = min(1.0, film.vlt / reference) if reference else film.vlt
    film_pm = max(starting["film_lot_pm_least"], starting["film_lot_pm_share"] * film.vlt)
    per_film = glass.vlt / (reference or 1.0)
    pm = sqrt((share * glass_pm) ** 2 + (per_film * film_pm) ** 2)
    vlt = glass.vlt * share
    if reference:
        formula = f"{_pct(glass.vlt)} glass × {_pct(film.vlt)} sheet ÷ {_pct(reference)} reference = {_pct(vlt)}"
    else:
        formula = f"{_pct(glass.vlt)} glass × {_pct(film.vlt)} sheet = {_pct(vlt)} (basis of the sheet unknown)"
    return Combined(vlt, vlt if reference else None, bench, pm, formula)


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
    sigma = sqrt(combined.sigma**2 + (starting["officer_meter_pm"] / _SIGMAS_95) ** 2)
    if sigma == 0:
        return 1.0 if combined.vlt < limit else 0.0
    return NormalDist(combined.vlt, sigma).cdf(limit)


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


def _pct(share: float) -> str:
    return f"{share * 100:.1f}".rstrip("0").rstrip(".") + " %"

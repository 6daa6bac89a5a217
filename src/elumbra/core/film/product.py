"""What a film is: how it is made, what its sheet says, and what cannot be."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.errors import FilmError
from elumbra.core.starting import StartingValues

_SHARES = (
    "vlt", "reflectance", "reflectance_inside", "solar_transmittance", "solar_reflectance", "uv_rejection",
)  # fmt: skip


class Construction(StrEnum):
    """How the film stops light and heat (handbook, section 3)."""

    DYED = "dyed"  # one ply, absorbs
    METAL = "metal"  # two ply, reflects, disturbs radio and antennas
    CARBON = "carbon"  # three ply
    CERAMIC = "ceramic"  # high heat rejection at high VLT
    CLEAR = "clear"  # colourless ultraviolet film


class VltBasis(StrEnum):
    """What the sheet's VLT was measured on."""

    ON_3MM_CLEAR = "on_3mm_clear"  # the film bonded to 3 mm clear glass
    FILM_ALONE = "film_alone"
    UNKNOWN = "unknown"  # the lower, bench figure is used


class Warranty(StrEnum):
    """What the maker promises."""

    UNKNOWN = "unknown"
    NONE = "none"
    YEARS = "years"
    LIFETIME = "lifetime"  # void unless lot and car are on record


@dataclass(frozen=True)
class LotFigure:
    """A lot's own VLT as the shop's readings after installation show it (0 to 1)."""

    lot: str
    vlt: float
    pm: float  # 95 % half-width
    readings: int


@dataclass(frozen=True)
class Film:
    """A film as its sheet describes it; light as fractions of 1, None where not stated."""

    id: str
    name: str
    construction: Construction
    vlt: float
    vlt_basis: VltBasis
    reflectance: float | None = None  # visible, outward side
    colour: str = "neutral"
    mirror_finish: bool = False
    solar_transmittance: float | None = None
    solar_reflectance: float | None = None
    shrink_limit: float | None = None
    reflectance_inside: float | None = None  # visible, toward the cabin
    uv_rejection: float | None = None
    warranty: Warranty = Warranty.UNKNOWN
    warranty_years: float | None = None
    lot: LotFigure | None = None

    @property
    def is_clear(self) -> bool:
        """Clear, colourless ultraviolet film, as some laws except it."""
        return self.construction is Construction.CLEAR


def check_film(film: Film, *, starting: StartingValues) -> None:
    """Refuse film data that cannot be, all fields at once.

    Raises
    ------
    FilmError
        ``fields`` names each impossible figure with the reason.
    """
    fields: dict[str, str] = {}
    if not film.name.strip():
        fields["name"] = "A film needs a name."
    for name in _SHARES:
        share = getattr(film, name)
        if share is not None and not 0 <= share <= 1:
            fields[name] = f"{share * 100:g} % is outside 0 to 100 %."
    if film.shrink_limit is not None and not 0 < film.shrink_limit <= 0.2:
        fields["shrink_limit"] = f"{film.shrink_limit * 100:g} % is outside what film shrinks: over 0 to 20 %."
    if film.warranty_years is not None and not 0 < film.warranty_years <= 50:
        fields["warranty_years"] = f"{film.warranty_years:g} years is no warranty. More than 0 and at most 50."
    if not fields:
        fields = _balance_problems(film, starting)
    if fields:
        raise FilmError(f"{film.name or 'This film'}: {next(iter(fields.values()))}", fields=fields)


def _balance_problems(film: Film, starting: StartingValues) -> dict[str, str]:
    fields: dict[str, str] = {}
    for passing, bouncing, what in (
        ("vlt", "reflectance", "VLT"),
        ("vlt", "reflectance_inside", "VLT"),
        ("solar_transmittance", "solar_reflectance", "Solar transmittance"),
    ):
        through, back = getattr(film, passing), getattr(film, bouncing)
        if through is not None and back is not None and through + back > 1:
            fields[bouncing] = (
                f"{what} {through * 100:g} % and reflectance {back * 100:g} % make {100 * (through + back):g} %; "
                "no more than 100 % of the light can go anywhere. Check the sheet."
            )
    reference = reference_vlt(film.vlt_basis, starting=starting)
    if reference is not None and film.vlt > reference + starting["sheet_tolerance"]:
        fields["vlt"] = _too_clear(film, reference)
    return fields


def _too_clear(film: Film, reference: float) -> str:
    if film.vlt_basis is VltBasis.ON_3MM_CLEAR:
        return (
            f"{film.vlt * 100:g} % on 3 mm clear glass cannot be: the glass alone passes {reference * 100:g} %. "
            "Set the basis to film alone, or check the sheet."
        )
    return (
        f"{film.vlt * 100:g} % for a film alone cannot be: its two faces alone leave {reference * 100:.1f} %. "
        "Check the sheet."
    )


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

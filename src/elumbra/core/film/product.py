"""What a film is: how it is made, what its sheet says, and what cannot be."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.errors import FilmError
from elumbra.core.starting import StartingValues

_SHEET_TOLERANCE = 0.02


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
    for name in ("vlt", "reflectance", "solar_transmittance", "solar_reflectance"):
        share = getattr(film, name)
        if share is not None and not 0 <= share <= 1:
            fields[name] = f"{share * 100:g} % is outside 0 to 100 %."
    if film.shrink_limit is not None and not 0 < film.shrink_limit <= 0.2:
        fields["shrink_limit"] = f"{film.shrink_limit * 100:g} % is outside what film shrinks: over 0 to 20 %."
    if not fields:
        fields = _balance_problems(film, starting)
    if fields:
        raise FilmError(f"{film.name or 'This film'}: {next(iter(fields.values()))}", fields=fields)


def _balance_problems(film: Film, starting: StartingValues) -> dict[str, str]:
    fields: dict[str, str] = {}
    for passing, bouncing, what in (
        ("vlt", "reflectance", "VLT"),
        ("solar_transmittance", "solar_reflectance", "Solar transmittance"),
    ):
        through, back = getattr(film, passing), getattr(film, bouncing)
        if through is not None and back is not None and through + back > 1:
            fields[bouncing] = (
                f"{what} {through * 100:g} % and reflectance {back * 100:g} % make {100 * (through + back):g} %; "
                "no more than 100 % of the light can go anywhere. Check the sheet."
            )
    clearest = starting["reference_glass_vlt"]
    if film.vlt_basis is VltBasis.ON_3MM_CLEAR and film.vlt > clearest + _SHEET_TOLERANCE:
        fields["vlt"] = (
            f"{film.vlt * 100:g} % on 3 mm clear glass cannot be: the glass alone passes {clearest * 100:g} %. "
            "Set the basis to film alone, or check the sheet."
        )
    return fields

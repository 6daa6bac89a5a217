"""What a film is: how it is made, what its sheet says, and what cannot be."""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from annotated_types import Gt, Le, Len

from elumbra.core.bounds import Name, Percent
from elumbra.core.errors import FilmError
from elumbra.core.starting import StartingValues

_SHARES = (
    "vlt_percent", "reflectance_percent", "reflectance_inside_percent", "solar_transmittance_percent",
    "solar_reflectance_percent", "uv_rejection_percent",
)  # fmt: skip


class Construction(StrEnum):
    """How the film stops light and heat (handbook, section 3)."""

    DYED = "dyed"  # one ply, absorbs
    METAL = "metal"  # two ply, reflects, disturbs radio and antennas
    CARBON = "carbon"  # three ply
    CERAMIC = "ceramic"  # high heat rejection at high VLT
    CLEAR = "clear"  # ultraviolet film without metal or dye


class Colour(StrEnum):
    """What colour a film has to the eye; a film that changes with the light has several."""

    COLOURLESS = "colourless"
    GREY = "grey"  # neutral, charcoal, smoke
    BLACK = "black"
    BROWN = "brown"  # bronze
    GREEN = "green"
    BLUE = "blue"
    PURPLE = "purple"
    RED = "red"
    AMBER = "amber"  # orange
    YELLOW = "yellow"
    GOLD = "gold"
    SILVER = "silver"


PLAIN_COLOURS = frozenset({Colour.COLOURLESS, Colour.GREY})  # no colour that a law could ban

_COLOUR_WORDS = {
    "clear": Colour.COLOURLESS, "colorless": Colour.COLOURLESS, "none": Colour.COLOURLESS,
    "neutral": Colour.GREY, "gray": Colour.GREY, "charcoal": Colour.GREY, "smoke": Colour.GREY,
    "bronze": Colour.BROWN, "orange": Colour.AMBER, "violet": Colour.PURPLE,
}  # fmt: skip


def colours_in(words: str) -> tuple[Colour, ...]:
    """The colours that free text names; none where it has a word that is not on the list.

    Examples
    --------
    >>> [colour.value for colour in colours_in("Charcoal / blue")]
    ['grey', 'blue']
    >>> colours_in("smoked pearl")
    ()
    """
    found: dict[Colour, None] = {}
    for word in re.findall(r"[a-z]+", words.lower()):
        if word in ("and", "or", "film"):
            continue
        try:
            found[_COLOUR_WORDS.get(word) or Colour(word)] = None
        except ValueError:
            return ()
    return tuple(found)


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


@dataclass(frozen=True, kw_only=True)
class FilmFacts:
    """What a film's sheet says; light in percent, None where not stated.

    Each fact is declared here and nowhere else: job file, API, storage and screens follow.
    """

    name: Name
    construction: Construction
    vlt_percent: Percent
    vlt_basis: VltBasis = VltBasis.UNKNOWN
    reflectance_percent: Percent | None = None  # visible, outward side
    colours: Annotated[tuple[Colour, ...], Len(0, 6)] = ()  # empty: nobody said
    colour_words: Annotated[str, Len(0, 120)] = ""  # what the sheet or another file calls it
    mirror_finish: bool | None = None  # metallic or mirrored to the eye; None: nobody said
    solar_transmittance_percent: Percent | None = None
    solar_reflectance_percent: Percent | None = None
    shrink_limit_percent: Annotated[float, Gt(0), Le(20)] | None = None
    reflectance_inside_percent: Percent | None = None  # visible, toward the cabin
    uv_rejection_percent: Percent | None = None
    warranty: Warranty = Warranty.UNKNOWN
    warranty_years: Annotated[float, Gt(0), Le(50)] | None = None


@dataclass(frozen=True, kw_only=True)
class Film(FilmFacts):
    """A film on file; its light as fractions of 1.

    Examples
    --------
    >>> film = Film(id="f", name="Any 35", construction=Construction.CARBON, vlt_percent=35)
    >>> film.vlt, film.reflectance
    (0.35, None)
    """

    id: str
    lot: LotFigure | None = None

    @property
    def vlt(self) -> float:
        """Visible light transmission by the sheet."""
        return self.vlt_percent / 100

    @property
    def reflectance(self) -> float | None:
        """Visible light sent back outward."""
        return _share(self.reflectance_percent)

    @property
    def reflectance_inside(self) -> float | None:
        """Visible light sent back into the cabin."""
        return _share(self.reflectance_inside_percent)

    @property
    def solar_transmittance(self) -> float | None:
        """Solar energy that passes."""
        return _share(self.solar_transmittance_percent)

    @property
    def solar_reflectance(self) -> float | None:
        """Solar energy sent back outward."""
        return _share(self.solar_reflectance_percent)

    @property
    def shrink_limit(self) -> float | None:
        """Most that heat can shrink it along the roll."""
        return _share(self.shrink_limit_percent)

    @property
    def uv_rejection(self) -> float | None:
        """Ultraviolet kept out."""
        return _share(self.uv_rejection_percent)

    @property
    def is_plain(self) -> bool:
        """Colourless or grey: no colour that a law could ban."""
        return bool(self.colours) and PLAIN_COLOURS.issuperset(self.colours)


def _share(percent: float | None) -> float | None:
    return None if percent is None else percent / 100


def check_film(film: FilmFacts, *, starting: StartingValues) -> None:
    """Refuse film data that cannot be, all fields at once.

    Raises
    ------
    FilmError
        ``fields`` names each impossible fact with the reason.
    """
    fields: dict[str, str] = {}
    if not film.name.strip():
        fields["name"] = "A film needs a name."
    for name in _SHARES:
        percent = getattr(film, name)
        if percent is not None and not 0 <= percent <= 100:
            fields[name] = f"{percent:g} % is outside 0 to 100 %."
    if film.shrink_limit_percent is not None and not 0 < film.shrink_limit_percent <= 20:
        fields["shrink_limit_percent"] = (
            f"{film.shrink_limit_percent:g} % is outside what film shrinks: over 0 to 20 %."
        )
    if film.warranty_years is not None and not 0 < film.warranty_years <= 50:
        fields["warranty_years"] = f"{film.warranty_years:g} years is no warranty. More than 0 and at most 50."
    if film.warranty is Warranty.YEARS and film.warranty_years is None:
        fields["warranty_years"] = "How many years?"
    if not fields:
        fields = _balance_problems(film, starting)
    if fields:
        raise FilmError(f"{film.name or 'This film'}: {next(iter(fields.values()))}", fields=fields)


def _balance_problems(film: FilmFacts, starting: StartingValues) -> dict[str, str]:
    fields: dict[str, str] = {}
    for passing, bouncing, what in (
        ("vlt_percent", "reflectance_percent", "VLT"),
        ("vlt_percent", "reflectance_inside_percent", "VLT"),
        ("solar_transmittance_percent", "solar_reflectance_percent", "Solar transmittance"),
    ):
        through, back = getattr(film, passing), getattr(film, bouncing)
        if through is not None and back is not None and through + back > 100:
            fields[bouncing] = (
                f"{what} {through:g} % and reflectance {back:g} % make {through + back:g} %; "
                "no more than 100 % of the light can go anywhere. Check the sheet."
            )
    fields |= _finish_problems(film, starting)
    reference = reference_vlt(film.vlt_basis, starting=starting)
    if reference is not None and film.vlt_percent / 100 > reference + starting["sheet_tolerance"]:
        fields["vlt_percent"] = _too_clear(film, reference)
    return fields


def _finish_problems(film: FilmFacts, starting: StartingValues) -> dict[str, str]:
    """An answer about the finish that the sheet's own figure denies."""
    figure = film.reflectance_percent
    if film.mirror_finish is None or figure is None:
        return {}
    if film.mirror_finish and figure <= 100 * starting["mirror_look_from"]:
        return {
            "mirror_finish": f"A film that reflects only {figure:g} % is no mirror. Correct the figure, or the answer."
        }
    if not film.mirror_finish and figure >= 100 * starting["mirror_sure_from"]:
        return {
            "mirror_finish": f"A film that reflects {figure:g} % looks mirrored. Correct the figure, or the answer."
        }
    return {}


def _too_clear(film: FilmFacts, reference: float) -> str:
    if film.vlt_basis is VltBasis.ON_3MM_CLEAR:
        return (
            f"{film.vlt_percent:g} % on 3 mm clear glass cannot be: the glass alone passes {reference * 100:g} %. "
            "Set the basis to film alone, or check the sheet."
        )
    return (
        f"{film.vlt_percent:g} % for a film alone cannot be: its two faces alone leave {reference * 100:.1f} %. "
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

"""Heat, glare and ultraviolet, as far as a film's own data go."""

from __future__ import annotations

from dataclasses import dataclass

from elumbra.core.film import Construction, Film
from elumbra.core.light.chain import overdrawn
from elumbra.core.starting import StartingValues

NOT_IN_DATA = "not in the film's data"


@dataclass(frozen=True)
class HeatSide:
    """What a film does besides darkening (0 to 1); None where its data do not say."""

    tser: float | None  # total solar energy rejected
    solar_absorbed: float | None
    glare_cut: float | None  # visible light taken off what the bare glass passes
    uv_rejected: float | None


@dataclass(frozen=True)
class PaneHeat:
    """What the break caution asks of a pane; None where nobody said."""

    laminated: bool | None
    area: float | None  # mm²
    chipped: bool
    antenna: bool


def heat_side(film: Film, *, bare_vlt: float | None, combined_vlt: float | None, starting: StartingValues) -> HeatSide:
    """Heat, glare and ultraviolet of a film.

    TSER = 1 - (Ts + N As) with As = 1 - Ts - Rs: what passes at once, and the share N of what
    is absorbed that the pane gives off inward.
    """
    passed, returned = film.solar_transmittance, film.solar_reflectance
    absorbed = None if passed is None or returned is None else 1 - passed - returned
    tser = None
    if passed is not None and absorbed is not None:
        tser = 1 - (passed + starting["tser_n"] * absorbed)
    glare = None if not bare_vlt or combined_vlt is None else 1 - combined_vlt / bare_vlt
    return HeatSide(tser, absorbed, glare, film.uv_rejection)


def break_caution(film: Film, pane: PaneHeat, *, starting: StartingValues) -> tuple[str, ...]:
    """Reasons why this film may crack this pane in the sun; empty when none is known.

    An absorbing film heats the glass; laminated, large or chipped glass bears it worst
    (handbook, sections 3 and 8).
    """
    absorbed = heat_side(film, bare_vlt=None, combined_vlt=None, starting=starting).solar_absorbed
    weak = _weaknesses(pane, starting)
    if absorbed is None:
        if film.construction is Construction.DYED and weak:
            return (f"Dyed film absorbs heat; how much is {NOT_IN_DATA}.", *weak)
        return ()
    if absorbed < starting["absorbing_film_share"] or not weak:
        return ()
    return (f"The film takes up {absorbed * 100:.0f} % of the sun's heat.", *weak)


def _weaknesses(pane: PaneHeat, starting: StartingValues) -> tuple[str, ...]:
    found = []
    if pane.chipped:
        found.append("The pane is chipped.")
    if pane.laminated:
        found.append("Laminated glass bears uneven heat badly.")
    elif pane.laminated is None:
        found.append("Nobody read the maker's mark: it may be laminated, which bears uneven heat badly.")
    if pane.area is not None and pane.area > starting["large_pane_mm2"]:
        found.append("It is a large pane.")
    return tuple(found)


def radio_advice(film: Film, pane: PaneHeat) -> str | None:
    """What a metal film does to radio, or None."""
    if film.construction is not Construction.METAL:
        return None
    if pane.antenna:
        return "Metal film over the antenna in this glass: reception will suffer. Choose a film without metal."
    return "Metal film disturbs radio, phone and navigation. Ask where the antennas are before it goes on."


def warranty_words(film: Film) -> str:
    """What the maker promises, in words (handbook, section 3)."""
    match film.warranty.value:
        case "lifetime":
            return "lifetime, void unless lot and car are on record"
        case "years":
            years = f"{film.warranty_years:g} years" if film.warranty_years else "some years, how many is not stated"
            return f"{years}; keep lot and car on record"
        case "none":
            return "none from the maker"
        case _:
            return NOT_IN_DATA


_QUALITY = {
    Construction.DYED: "One ply, dyed: it absorbs, lasts about seven years and then turns brittle.",
    Construction.METAL: "Two ply with metal: rejects heat and reflects; disturbs radio and antennas.",
    Construction.CARBON: "Three ply with carbon.",
    Construction.CERAMIC: "Ceramic: high heat rejection at high VLT, the choice for windshields.",
    Construction.CLEAR: "Colourless ultraviolet film.",
}


def quality_words(film: Film, *, starting: StartingValues) -> str:
    """What kind of film it is, and whether it shrinks less than most (handbook, section 3)."""
    words = _QUALITY[film.construction]
    if film.shrink_limit is not None and film.shrink_limit <= starting["poor_film_shrink_limit"]:
        words += " It shrinks little: poor film on strong curves, costing more in redo work than it saves."
    if overdrawn(film, starting=starting):
        words += (
            " By its sheet it passes and gives back more light than there is once the sheet’s glass is taken off: "
            "pictures and reflection take what comes back as stated and what passes as less."
        )
    return words

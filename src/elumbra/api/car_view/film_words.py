"""What kind of film is offered and was put on: heat, and the caution of metal near antennas."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from elumbra.core.film import Construction, Film
from elumbra.core.light import heat_side, quality_words
from elumbra.core.starting import StartingValues

METAL = "Metal film disturbs radio, phone, navigation and antennas in the glass."


@dataclass(frozen=True)
class FilmTold:
    """A film in words."""

    name: str
    kind: str
    heat: str
    quality: str


def films_told(films: Iterable[Film], *, starting: StartingValues) -> list[FilmTold]:
    """Each film once, with how much of the sun's heat it keeps out."""
    told = []
    for film in {film.id: film for film in films}.values():
        tser = heat_side(film, bare_vlt=None, combined_vlt=None, starting=starting).tser
        heat = "not in the film’s data" if tser is None else f"{100 * tser:.0f} % of the sun’s heat kept out"
        told.append(FilmTold(film.name, film.construction.value, heat, quality_words(film, starting=starting)))
    return told


def has_metal(films: Iterable[Film]) -> bool:
    """Whether one of them disturbs radio."""
    return any(film.construction is Construction.METAL for film in films)

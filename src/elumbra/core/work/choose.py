"""Choices that the law leaves: the darkest film on the rack that still clears."""

from __future__ import annotations

from collections.abc import Sequence

from elumbra.core.film import Film
from elumbra.core.law import LawBook, VerdictWord
from elumbra.core.starting import StartingValues
from elumbra.core.work.job import Vehicle, Window, WindowShade, shade_window


def shades_by_film(
    window: Window, films: Sequence[Film], vehicle: Vehicle, law: LawBook, *, starting: StartingValues
) -> list[tuple[Film, WindowShade]]:
    """What each film would give on a window, darkest first."""
    tried = [(film, shade_window(window, film, vehicle, law, starting=starting)) for film in films]
    return sorted(tried, key=lambda pair: (pair[1].combined.vlt if pair[1].combined else pair[0].vlt, pair[0].id))


def darkest_that_clears(
    window: Window, stocked: Sequence[Film], vehicle: Vehicle, law: LawBook, *, starting: StartingValues
) -> Film | None:
    """The darkest stocked film whose worst verdict on this window is Clears, or None."""
    for film, shade in shades_by_film(window, stocked, vehicle, law, starting=starting):
        if shade.worst and shade.worst.word is VerdictWord.CLEARS:
            return film
    return None

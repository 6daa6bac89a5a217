"""Choices that the law leaves: which film on the rack still clears, and which comes nearest a wish."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from elumbra.core.film import Colour, Construction, Film, VltBasis
from elumbra.core.glass import Position
from elumbra.core.law import LawBook, VerdictWord, rules_for
from elumbra.core.light import least_sheet_vlt
from elumbra.core.starting import StartingValues
from elumbra.core.work.exemption import releases_by_itself
from elumbra.core.work.job import Window
from elumbra.core.work.shade import ShadedCar, WindowShade, glass_under


@dataclass(frozen=True)
class Tried:
    """A film tried on a window, the others as planned."""

    film: Film
    shade: WindowShade
    spoils: tuple[str, ...]  # other windows that it would hold back, and that are not now

    @property
    def clears(self) -> bool:
        """Whether the worst verdict here is Clears and no other window is held back by it."""
        return self.shade.worst is not None and self.shade.worst.word is VerdictWord.CLEARS and not self.spoils


def shades_by_film(
    car: ShadedCar, window_id: str, films: Sequence[Film], law: LawBook, *, starting: StartingValues
) -> list[Tried]:
    """What each film would give on a window, the others as planned, darkest first.

    Where a state's rules for another window look at this one, that window is judged as well.
    """
    watching = _watching(car, window_id, law, starting)
    tried = []
    for film in films:
        changed = car.with_film(window_id, film, starting=starting)
        shade = changed.shade(window_id, law, starting=starting)
        spoils = tuple(other for other in watching if _held(changed, other, law, starting))
        tried.append(Tried(film, shade, spoils))
    return sorted(tried, key=lambda one: (one.shade.combined.vlt if one.shade.combined else one.film.vlt, one.film.id))


def _watching(car: ShadedCar, window_id: str, law: LawBook, starting: StartingValues) -> list[str]:
    """Other windows with film, released now, whose rules look at their neighbours."""
    return [
        pane.id
        for pane in car.car.panes
        if pane.id != window_id
        and pane.film is not None
        and pane.position is not Position.ROOF
        and any(
            rules_for(law.of(code), car.car.vehicle_class, pane.position, pane.is_strip).looks_around
            for code in car.job.vehicle.states
        )
        and not _held(car, pane.id, law, starting)
    ]


def _held(car: ShadedCar, window_id: str, law: LawBook, starting: StartingValues) -> bool:
    worst = car.shade(window_id, law, starting=starting).worst
    return worst is not None and not releases_by_itself(worst)


def darkest_that_clears(tried: Sequence[Tried]) -> Film | None:
    """Of films tried on a window, the darkest that clears, or None."""
    return next((one.film for one in tried if one.clears), None)


def nearest_match(tried: Sequence[Tried], target: float) -> Film | None:
    """Of films tried on a window, the one that clears and comes nearest a VLT (0 to 1), or None."""
    able = [(one.film, one.shade.combined.vlt) for one in tried if one.clears and one.shade.combined]
    return min(able, key=lambda pair: (abs(pair[1] - target), pair[0].id), default=(None, 0.0))[0]


def rear_vlt(car: ShadedCar) -> float | None:
    """What the darkest glass behind the driver passes as planned: the factory's own where no film goes on."""
    behind = car.car.at((Position.REAR_SIDE, Position.REAR_WINDOW))
    figures = [seen.vlt for pane in behind if (seen := pane.in_view) is not None]
    return min(figures, default=None)


def least_sheet_for(
    window: Window, car: ShadedCar, law: LawBook, *, starting: StartingValues
) -> tuple[float, float] | None:
    """The highest limit that the states' tables set on a window, and the least sheet VLT that clears it.

    None without a limit, with the glass unknown, or where a plain film of that VLT does not
    clear by all that the law asks, linked rules included: then nothing is promised.
    """
    glass = glass_under(window, starting=starting)
    limits = [
        value
        for code in car.job.vehicle.states
        if (value := law.of(code).floor(car.car.vehicle_class, window.position, strip=window.is_strip).value)
    ]
    if glass is None or not limits:
        return None
    sheet = least_sheet_vlt(glass, max(limits), starting=starting)
    if sheet is None:
        return None
    plain = Film(
        id="plain", name="a plain film", construction=Construction.CERAMIC, vlt_percent=100 * sheet,
        vlt_basis=VltBasis.ON_3MM_CLEAR, reflectance_percent=5.0, colours=(Colour.GREY,), mirror_finish=False,
    )  # fmt: skip
    worst = car.with_film(window.id, plain, starting=starting).shade(window.id, law, starting=starting).worst
    return (max(limits), sheet) if worst and worst.word is VerdictWord.CLEARS else None

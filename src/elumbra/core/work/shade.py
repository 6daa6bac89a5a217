"""How dark each window will be, and what each jurisdiction says of it on this car."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace

from elumbra.core.errors import CoreError
from elumbra.core.film import Film
from elumbra.core.glass import GlassType
from elumbra.core.law import CarFacts, Jurisdiction, LawBook, PaneFacts, Verdict, judge, judge_car, worst
from elumbra.core.light import Combined, Element, Glass, GlassSource, PaneHeat, chain, combine
from elumbra.core.measure import MeasuredPane, Reading
from elumbra.core.starting import StartingValues
from elumbra.core.work.gate import holding
from elumbra.core.work.job import Job, Vehicle, Window


@dataclass(frozen=True)
class WindowShade:
    """How dark a window will be and what each state says of it."""

    combined: Combined | None  # glass and chosen film; what is there without film
    bare: Combined | None
    verdicts: tuple[Verdict, ...]  # one a state, in the job's order; empty without film
    worst: Verdict | None
    hangs_on_old_film: bool = False  # darker glass under the old film would hold it


def readings_apart(window: Window, *, starting: StartingValues) -> str:
    """Where the meter's readings of one pane are too far apart to be of one pane, that in words.

    Examples
    --------
    Readings of 75 and 20 give “Readings of 20 % and 75 % cannot be of one pane.”
    """
    read = window.bare_readings_percent
    if window.bare_vlt_source is not GlassSource.METERED or not read:
        return ""
    low, high = min(read), max(read)
    if high - low <= 100 * starting["meter_readings_apart"]:
        return ""
    return f"Readings of {low:g} % and {high:g} % cannot be of one pane: read it again."


def glass_under(window: Window, *, starting: StartingValues) -> Glass | None:
    """What the new film goes on; None where nobody has read that, or the readings contradict.

    Old film that stays is part of it: read through it, or named as a layer. Old film that
    comes off must not be in the reading.
    """
    if readings_apart(window, starting=starting):
        return None
    if window.bare is None or not window.old_film or window.old_film_off:
        return window.bare
    if under_old_film(window) and not window.bare.through_old_film:
        return replace(window.bare, source=GlassSource.ASSUMED, readings=1)
    if window.old_film_stays:
        return window.bare if window.bare.through_old_film or window.layers else None
    return None if window.bare.through_old_film else window.bare


def under_old_film(window: Window) -> bool:
    """Whether old film that comes off is still on: nobody can have metered the bare glass."""
    return window.old_film and not window.old_film_stays and not window.old_film_off


def _layers(window: Window, films: Mapping[str, Film]) -> list[Film]:
    through = window.bare is not None and window.bare.through_old_film
    return [] if through else [films[film_id] for film_id in window.layers]


def old_sheets(window: Window) -> int:
    """How many sheets of old film stay on the pane."""
    return max(len(window.layers), 1 if window.old_film and window.old_film_stays else 0)


def is_factory_glass(window: Window, *, starting: StartingValues) -> bool | None:
    """Whether the pane was made dark: as told, else from a meter on bare glass, else not known."""
    if window.factory_glass is not None:
        return window.factory_glass
    bare = window.bare
    if bare is None or bare.source is not GlassSource.METERED or bare.through_old_film or under_old_film(window):
        return None
    if readings_apart(window, starting=starting):
        return None
    if bare.vlt < starting["privacy_glass_below"]:
        return True
    return False if bare.vlt >= starting["clear_glass_from"] else None


def pane_facts(window: Window, film: Film | None, films: Mapping[str, Film], *, starting: StartingValues) -> PaneFacts:
    """A window with a film as the law sees it."""
    glass = glass_under(window, starting=starting)
    layers = _layers(window, films)
    reflectance = None
    if glass and film and film.reflectance is not None and not glass.through_old_film:
        reflectance = chain(glass.vlt, [*layers, film], starting=starting).back_outside
    return PaneFacts(
        position=window.position,
        film=film,
        combined=combine(glass, film, starting=starting, layers=layers) if glass else None,
        bare=combine(glass, None, starting=starting, layers=layers) if glass else None,
        id=window.id,
        label=window.label,
        doubt=readings_apart(window, starting=starting),
        old_layers=old_sheets(window),
        window_reflectance=reflectance,
        is_strip=window.is_strip,
        strip_depth=_depth(window, "strip_depth"),
        as1_depth=_depth(window, "as1_depth"),
        as1_mark=window.as1_mark,
        strip_above_seat=_depth(window, "strip_above_seat"),
        factory_glass=is_factory_glass(window, starting=starting),
    )


def pane_heat(window: Window, pane: MeasuredPane) -> PaneHeat:
    """What of a pane decides whether film makes it crack or disturbs its antenna."""
    laminated = {GlassType.LAMINATED: True, GlassType.UNKNOWN: None}.get(window.glass_type, False)
    area = pane.outline.area if pane.outline else None
    chipped = "chipped" in window.findings.get("condition", ())
    return PaneHeat(laminated, area, chipped, window.findings.get("antenna") == "yes")


def _depth(window: Window, key: str) -> float | None:
    reading: Reading | None = window.readings.get(key)
    return reading.mm if reading and reading.mm > 0 else None


def car_facts(vehicle: Vehicle, panes: Iterable[PaneFacts]) -> CarFacts:
    """The car as the law sees it."""
    return CarFacts(
        vehicle_class=vehicle.vehicle_class,
        mirrors_both_sides=vehicle.mirrors_both_sides,
        model_year=vehicle.model_year,
        registered_as=vehicle.registered_as,
        persons=vehicle.persons,
        truck_chassis=vehicle.truck_chassis,
        off_road_parts=vehicle.off_road_parts,
        no_glass_at=frozenset(vehicle.no_glass_at),
        panes=tuple(panes),
    )


@dataclass(frozen=True)
class ShadedCar:
    """A job's car ready to be judged: every pane as planned, and what the law asks of the car."""

    job: Job
    car: CarFacts
    by_window: Mapping[str, PaneFacts]

    def with_film(self, window_id: str, film: Film | None, *, starting: StartingValues) -> ShadedCar:
        """The same car with another film on one window."""
        window = next(window for window in self.job.windows if window.id == window_id)
        pane = pane_facts(window, film, self.job.films, starting=starting)
        by_window = {**self.by_window, window_id: pane}
        return replace(self, car=replace(self.car, panes=tuple(by_window.values())), by_window=by_window)

    def optics(self, window_id: str, *, starting: StartingValues, main_field: bool = False) -> Element | None:
        """A window's whole chain of faces as planned; None while its glass is not known.

        ``main_field`` leaves out a strip at the top.
        """
        window = next(window for window in self.job.windows if window.id == window_id)
        glass, film = glass_under(window, starting=starting), self.by_window[window_id].film
        if main_field and window.is_strip:
            film = None
        if glass is None:
            return None
        films = [*_layers(window, self.job.films), *([film] if film else [])]
        return chain(glass.vlt, films, starting=starting)

    def judge(self, law: Jurisdiction, *, starting: StartingValues) -> dict[str, Verdict]:
        """One jurisdiction's answer for every window with film, by window."""
        return judge_car(law, self.car, starting=starting)

    def shade(self, window_id: str, law: LawBook, *, starting: StartingValues) -> WindowShade:
        """One window's darkness and every state's verdict on it."""
        pane = self.by_window[window_id]
        if pane.film is None:
            return WindowShade(pane.bare, pane.bare, (), None)
        verdicts = tuple(judge(law.of(code), pane, self.car, starting=starting) for code in self.job.vehicle.states)
        hangs = self._hangs_on_old_film(window_id, verdicts, law, starting=starting)
        return WindowShade(pane.combined, pane.bare, verdicts, worst(verdicts), hangs)

    def _hangs_on_old_film(
        self, window_id: str, verdicts: tuple[Verdict, ...], law: LawBook, *, starting: StartingValues
    ) -> bool:
        """Whether glass as dark as any from a factory, under old film that is still on, would hold the window."""
        window = next(window for window in self.job.windows if window.id == window_id)
        if not under_old_film(window) or holding(verdicts, window.reason, window.film_id):
            return False
        dark = replace(
            window,
            bare_vlt_percent=100 * starting["assumed_privacy_glass_vlt"],
            bare_vlt_source=GlassSource.ASSUMED,
            bare_readings_percent=(),
        )
        pane = pane_facts(dark, self.by_window[window_id].film, self.job.films, starting=starting)
        by_window = {**self.by_window, window_id: pane}
        car = replace(self.car, panes=tuple(by_window.values()))
        darker = tuple(judge(law.of(code), pane, car, starting=starting) for code in self.job.vehicle.states)
        return holding(darker, window.reason, window.film_id) is not None


def shade_car(job: Job, *, starting: StartingValues) -> ShadedCar:
    """A job's car with the films chosen.

    Raises
    ------
    CoreError
        A window names a film that is not on file.
    """
    for window in job.windows:
        if missing := {window.film_id, *window.layers} - {None, *job.films}:
            raise CoreError(f"{window.label} names a film that is not on file: {', '.join(map(str, missing))}.")
    panes = {
        window.id: pane_facts(
            window, job.films[window.film_id] if window.film_id else None, job.films, starting=starting
        )
        for window in job.windows
    }
    return ShadedCar(job, car_facts(job.vehicle, panes.values()), panes)

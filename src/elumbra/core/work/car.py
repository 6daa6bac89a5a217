"""The car as a whole, looked over once: what screens, plan and command line all go by."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from elumbra.core.errors import ReadingError
from elumbra.core.glass import DOORS, Curve, Position
from elumbra.core.law import LawBook, VerdictWord
from elumbra.core.measure import MeasuredPane, unreadable_pane
from elumbra.core.starting import StartingValues
from elumbra.core.work.cutting import Hold, Station, ToCut, windows_to_cut
from elumbra.core.work.facts import is_plastic
from elumbra.core.work.job import Job, Unmetered, Window, measure_window, readings_stand, resolve_as_far_as_possible
from elumbra.core.work.shade import ShadedCar, WindowShade, shade_car
from elumbra.core.work.unmetered import unmetered_risk, unmetered_words


@dataclass(frozen=True)
class Car:
    """A job's car with all that follows from it, every window by its id."""

    job: Job  # shared glass resolved
    law: LawBook
    starting: StartingValues
    panes: Mapping[str, MeasuredPane]
    shaded: ShadedCar
    shades: Mapping[str, WindowShade]
    to_cut: Mapping[str, ToCut]  # by film
    held: Mapping[str, Hold]  # windows with film that the knife must leave

    def window(self, window_id: str) -> Window:
        """One window.

        Raises
        ------
        KeyError
            Not of this car.
        """
        for window in self.job.windows:
            if window.id == window_id:
                return window
        raise KeyError(window_id)

    @property
    def worst(self) -> VerdictWord | None:
        """The worst word on the car; None while no window has film."""
        return worst_word(shade.worst.word for shade in self.shades.values() if shade.worst)


def look_over(job: Job, law: LawBook, *, starting: StartingValues, judged: bool = True) -> Car:
    """Resolve, measure, shade and judge a job's car, and tell what is cut and what is held.

    A window that cannot be measured is held with the reason; the others are as they are.
    ``judged`` is off for panes of no car (Quick cut): then no law is asked, and none is told.

    Raises
    ------
    CoreError
        The job as a whole cannot be judged: a state or film that is not on file.
    """
    resolved, problems = resolve_as_far_as_possible(job.windows)
    vehicle = job.vehicle if judged else replace(job.vehicle, states=())
    whole = replace(job, vehicle=vehicle, windows=tuple(resolved.values()))
    panes = {
        window.id: unreadable_pane(problems[window.id]) if window.id in problems else _pane(window, starting)
        for window in whole.windows
    }
    shaded = shade_car(whole, starting=starting)
    shades = {window.id: shaded.shade(window.id, law, starting=starting) for window in whole.windows}
    to_cut, held = windows_to_cut(whole, panes, shades, starting=starting)
    return Car(whole, law, starting, panes, shaded, shades, to_cut, held)


def _pane(window: Window, starting: StartingValues) -> MeasuredPane:
    try:
        return measure_window(window, starting=starting)
    except ReadingError as error:
        return unreadable_pane(error.message.removeprefix(f"{window.label}: "))


_WORST_FIRST = {word: rank for rank, word in enumerate(VerdictWord)}


def worst_word(words: Iterable[VerdictWord]) -> VerdictWord | None:
    """The worst of several words.

    Examples
    --------
    >>> worst_word([VerdictWord.CLEARS, VerdictWord.TOO_DARK]).value
    'Too dark'
    >>> worst_word([]) is None
    True
    """
    return min(words, key=_WORST_FIRST.__getitem__, default=None)


class Tick(StrEnum):
    """Where a window stands at a station."""

    DONE = "done"
    OPEN = "open"
    TROUBLE = "trouble"


def ticks(car: Car, window_id: str) -> dict[Station, Tick]:
    """A window's tick at each station."""
    window, pane, worst = car.window(window_id), car.panes[window_id], car.shades[window_id].worst
    measured = pane.outline is not None and not pane.missing
    softened = bool(pane.fit and pane.fit.softened) and not readings_stand(window, car.job.windows)
    alarmed = bool(pane.problem) or bool(pane.fit and pane.fit.alarm) or softened
    survey = Tick.TROUBLE if alarmed else Tick.DONE if measured else Tick.OPEN
    held = car.held.get(window_id)
    at_shade = held is not None and held.station is Station.SHADE
    shade = Tick.OPEN if worst is None else Tick.TROUBLE if at_shade else Tick.DONE
    cut = Tick.OPEN
    if window.film_id is not None:
        cut = Tick.DONE if window.is_cut else Tick.TROUBLE if window_id in car.held else Tick.OPEN
    return {Station.SURVEY: survey, Station.SHADE: shade, Station.CUT: cut, Station.HEAT: _at_heat(car, window_id)}


def _at_heat(car: Car, window_id: str) -> Tick:
    """Done where film lies flat by itself, trouble where it will not shrink in one piece."""
    window, pane, held = car.window(window_id), car.panes[window_id], car.held.get(window_id)
    if held is not None and held.station is Station.HEAT:
        return Tick.TROUBLE
    if window.film_id is None or pane.outline is None:
        return Tick.OPEN
    flat = window.measures.curve is Curve.FLAT and window.kind not in DOORS
    return Tick.DONE if flat else Tick.OPEN


def window_problems(car: Car, window_id: str) -> list[str]:
    """What keeps a window from going on, in sentences that name it."""
    window, pane, hold = car.window(window_id), car.panes[window_id], car.held.get(window_id)
    problems = []
    if hold and hold.word:
        problems.append(f"{window.label}: {hold.reason}")
    if pane.fit and pane.fit.alarm:
        problems.append(f"{window.label}: readings do not close")
    if pane.problem:
        problems.append(f"{window.label}: {pane.problem}")
    elif hold and not hold.word and not (pane.fit and pane.fit.alarm):
        problems.append(f"{window.label}: {hold.reason}")
    return problems


@dataclass(frozen=True)
class Readiness:
    """How many windows with film are ready for the knife, in one line."""

    ready: int
    held: int
    cut: int = 0  # whose film has been cut
    short: int = 0  # of the ready ones, those that the rack has no film for
    unmetered: float = 0.0  # greatest chance that a meter reads under on glass that nobody metered

    @property
    def headline(self) -> str:
        """The count in words.

        Examples
        --------
        >>> Readiness(3, 2).headline, Readiness(1, 0).headline, Readiness(0, 0).headline
        ('3 of 5 windows ready; 2 held back', '1 window ready', 'No film chosen yet')
        >>> Readiness(7, 1, short=6).headline
        '1 of 8 windows ready; 1 held back; 6 find no film on the rack'
        >>> Readiness(1, 0, 4).headline, Readiness(0, 0, 5).headline
        ('1 window ready; 4 already cut', 'All 5 windows are cut')
        >>> Readiness(1, 1, unmetered=0.2).headline
        '1 of 2 windows ready; 1 held back. Glass not metered: 20 % chance a meter reads under'
        """
        filmed = self.ready + self.held
        if not filmed:
            return f"{'All ' if self.cut > 1 else ''}{_windows(self.cut)} cut" if self.cut else "No film chosen yet"
        told = f"{_windows(filmed).removesuffix(' is').removesuffix(' are')} ready"
        if self.held or self.short:
            told = f"{self.ready - self.short} of {filmed} window{'s' if filmed > 1 else ''} ready"
        if self.held:
            told += f"; {self.held} held back"
        if self.short:
            told += f"; {self.short} find{'s' if self.short == 1 else ''} no film on the rack"
        told += f"; {self.cut} already cut" if self.cut else ""
        return f"{told}. {unmetered_words(self.unmetered)}" if self.unmetered else told


def _windows(count: int) -> str:
    return f"{count} windows are" if count != 1 else "1 window is"


def readiness(car: Car) -> Readiness:
    """What of a car can be cut now."""
    filmed = [window for window in car.job.windows if window.film_id is not None]
    cut = sum(window.is_cut for window in filmed)
    return Readiness(
        len(filmed) - cut - len(car.held), len(car.held), cut,
        unmetered=max((unmetered_of(car, one) for one in filmed if not one.is_cut), default=0.0),
    )  # fmt: skip


def unmetered_of(car: Car, window: Window) -> float:
    """Chance that a meter reads under on a window's glass that nobody metered; nothing where the shop lets that be."""
    if car.job.unmetered is Unmetered.ALLOW:
        return 0.0
    return unmetered_risk(window, car.shades[window.id].verdicts, starting=car.starting)


@dataclass(frozen=True)
class FilmGroup:
    """Windows that a film is commonly put on at once."""

    words: str
    window_ids: tuple[str, ...]


def film_groups(job: Job) -> tuple[FilmGroup, ...]:
    """The usual groups of a car's side and rear glass; those it has no window for are left out."""
    glass = [
        window
        for window in job.windows
        if window.position not in (Position.WINDSHIELD, Position.ROOF) and not is_plastic(window)
    ]
    fronts = [window.id for window in glass if window.position is Position.FRONT_SIDE]
    behind = [window.id for window in glass if window.position is not Position.FRONT_SIDE]
    groups = (
        FilmGroup("Both fronts", tuple(fronts)),
        FilmGroup("All behind the driver", tuple(behind)),
        FilmGroup("All but the windshield", tuple(window.id for window in glass)),
    )
    return tuple(group for group in groups if group.window_ids)

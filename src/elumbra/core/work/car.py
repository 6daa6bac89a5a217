"""The car as a whole, looked over once: what screens, plan and command line all go by."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum

from elumbra.core.errors import ReadingError
from elumbra.core.glass import GlassType, Position
from elumbra.core.law import LawBook, VerdictWord
from elumbra.core.measure import MeasuredPane, unreadable_pane
from elumbra.core.starting import StartingValues
from elumbra.core.work.cutting import Hold, Station, ToCut, goes_on, windows_to_cut
from elumbra.core.work.job import Job, Window, measure_window, resolve_as_far_as_possible
from elumbra.core.work.shade import ShadedCar, WindowShade, shade_car


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


def look_over(job: Job, law: LawBook, *, starting: StartingValues) -> Car:
    """Resolve, measure, shade and judge a job's car, and tell what is cut and what is held.

    A window that cannot be measured is held with the reason; the others are as they are.

    Raises
    ------
    CoreError
        The job as a whole cannot be judged: a state or film that is not on file.
    """
    resolved, problems = resolve_as_far_as_possible(job.windows)
    whole = replace(job, windows=tuple(resolved.values()))
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


def ticks(car: Car, window_id: str, *, in_plan: bool) -> dict[Station, Tick]:
    """A window's tick at each station; ``in_plan``: the plan of the job as it stands cuts it."""
    window, pane, worst = car.window(window_id), car.panes[window_id], car.shades[window_id].worst
    measured = pane.outline is not None and not pane.missing
    alarmed = bool(pane.problem) or bool(pane.fit and pane.fit.alarm)
    survey = Tick.TROUBLE if alarmed else Tick.DONE if measured else Tick.OPEN
    shade = Tick.OPEN if worst is None else Tick.DONE if worst.word is VerdictWord.CLEARS else Tick.TROUBLE
    cut = Tick.OPEN
    if window.film_id is not None:
        cut = Tick.TROUBLE if window_id in car.held else Tick.DONE if in_plan else Tick.OPEN
    return {Station.SURVEY: survey, Station.SHADE: shade, Station.CUT: cut}


def window_problems(car: Car, window_id: str) -> list[str]:
    """What keeps a window from going on, in sentences that name it."""
    window, pane, worst = car.window(window_id), car.panes[window_id], car.shades[window_id].worst
    problems = []
    unlawful = worst is not None and worst.word.unlawful and not goes_on(window)
    if worst and (unlawful or worst.word is VerdictWord.CANNOT_TELL):
        problems.append(f"{window.label}: {worst.word.value} in {worst.jurisdiction}")
    if pane.fit and pane.fit.alarm:
        problems.append(f"{window.label}: readings do not close")
    if pane.problem:
        problems.append(f"{window.label}: {pane.problem}")
    elif window_id in car.held and not unlawful:
        problems.append(f"{window.label}: {car.held[window_id].reason}")
    return problems


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
        if window.position not in (Position.WINDSHIELD, Position.ROOF) and window.glass_type is not GlassType.PLASTIC
    ]
    fronts = [window.id for window in glass if window.position is Position.FRONT_SIDE]
    behind = [window.id for window in glass if window.position is not Position.FRONT_SIDE]
    groups = (
        FilmGroup("Both fronts", tuple(fronts)),
        FilmGroup("All behind the driver", tuple(behind)),
        FilmGroup("All but the windshield", tuple(window.id for window in glass)),
    )
    return tuple(group for group in groups if group.window_ids)

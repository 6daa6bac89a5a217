"""All runs of a car: before its windows, window by window, and after them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from functools import cached_property

from elumbra.core.bay.day import Day, DayAnswer
from elumbra.core.bay.progress import Event, Happened, Progress, progress_of
from elumbra.core.bay.round_car import Placed, ToDo, arranged, order_round
from elumbra.core.bay.run import make_run
from elumbra.core.bay.situation import Hands, Removal, Told, car_told, day_answer, is_worked, window_told
from elumbra.core.bay.steps import StepBook
from elumbra.core.work import Car, Window, mirror_pairs

START, END = "start", "end"
"""Names of the car's own runs beside its windows' ids."""


def strip_key(window_id: str) -> str:
    """Name of the run that takes old film off a window.

    Examples
    --------
    >>> strip_key("w1")
    'strip:w1'
    """
    return f"strip:{window_id}"


@dataclass(frozen=True)
class CarRuns:
    """The work of one car, as it stands."""

    day: Day
    answer: DayAnswer
    progress: Mapping[str, Progress]  # by window id, ``strip:<id>``, start and end
    told: Mapping[str, Told]
    order: tuple[Placed, ...]
    proposed: tuple[Placed, ...]
    twins: Mapping[str, str]
    hatch_reason: str = ""  # why a lead let the hatch be closed early
    go_on_reason: str = ""  # why a lead goes on outside the limits

    @property
    def windows(self) -> tuple[str, ...]:
        """Windows that get film, in the order they are worked on."""
        return tuple(one.id for one in self.order)

    @property
    def open_windows(self) -> tuple[str, ...]:
        """Those that are not done yet."""
        return tuple(one for one in self.windows if not self.progress[one].done)

    @property
    def stop(self) -> str:
        """Why no film goes on now; empty where it may, or a lead goes on."""
        return "" if self.go_on_reason else self.answer.stop

    @property
    def hatch_held(self) -> bool:
        """Whether the hatch must stay up."""
        filmed = self.told[END].situation["hatch_filmed"] == "yes"
        return filmed and bool(self.open_windows) and not self.hatch_reason

    @property
    def apart(self) -> tuple[tuple[str, str], ...]:
        """What is not put back yet: run and thing."""
        back = {
            effect.on
            for step in self.progress[END].run.steps
            if step.key in self.progress[END].ticks
            for effect in step.step.effects
        }
        found = [(START, thing) for thing in self.progress[START].apart if thing not in back]
        for name, one in self.progress.items():
            if name not in (START, END):
                found += [(name, thing) for thing in one.apart]
        return tuple(found)


def car_runs(
    book: StepBook,
    car: Car,
    events: Sequence[Event],
    *,
    day: Day,
    hands: Hands,
    removals: Mapping[str, Removal] | None = None,
) -> CarRuns:
    """The runs of a car with what has happened.

    Parameters
    ----------
    book
        The step file.
    car
        As surveyed, cut and shrunk.
    events
        What happened, in any order.
    day, hands
        Conditions, and who works how.
    removals
        By window whose old film comes off, how.
    """
    answer = day_answer(book, day, hands, starting=car.starting)
    made = _Making(book, car, day, hands, mirror_pairs(car.job.windows))
    for event in events:
        made.by_window.setdefault(event.window_id, []).append(event)
    for window in car.job.windows:
        if removals and window.id in removals:
            made.strip(window, removals[window.id])
        if is_worked(window):
            made.film(window)
    for part in (START, END):
        made.car_part(part)
    proposed = order_round(made.todo, sun=day.sun, hot=answer.temp == "hot")
    said = _last(events, Happened.ORDER)
    order = arranged(proposed, [str(one) for one in said.value.get("windows", ())]) if said else proposed
    return CarRuns(
        day, answer, made.progress, made.told, order, proposed, made.twins, _reason(events, Happened.HATCH_EARLY),
        _reason(events, Happened.GO_ON, since=_last(events, Happened.CONDITIONS)),
    )  # fmt: skip


@dataclass
class _Making:
    """A car's runs while they are made."""

    book: StepBook
    car: Car
    day: Day
    hands: Hands
    pairs: Mapping[str, str]
    by_window: dict[str | None, list[Event]] = field(default_factory=dict)
    progress: dict[str, Progress] = field(default_factory=dict)
    told: dict[str, Told] = field(default_factory=dict)
    todo: list[ToDo] = field(default_factory=list)

    @cached_property
    def twins(self) -> Mapping[str, str]:
        """By window, the one that its film was cut together with."""
        return _twins(self.pairs)

    @property
    def _whole(self) -> list[Event]:
        """Pauses of the whole car."""
        return [one for one in self.by_window.get(None, []) if one.kind in (Happened.PAUSE, Happened.RESUME)]

    def strip(self, window: Window, removal: Removal) -> None:
        """Old film off one window."""
        name = strip_key(window.id)
        told = window_told(
            self.book, self.car, window.id, self.day, self.hands, removal=removal, pairs=self.pairs
        )  # fmt: skip
        run = make_run(self.book, told.situation, told.figures)
        own = _of(self.by_window.get(window.id, []), strip=True)
        self.told[name] = told
        self.progress[name] = progress_of(self.book, run, [*own, *self._whole], figures=told.figures)

    def film(self, window: Window) -> None:
        """Film onto one window."""
        told = window_told(self.book, self.car, window.id, self.day, self.hands, pairs=self.pairs)
        run = make_run(self.book, told.situation, told.figures)
        twin = self.twins.get(window.id) if told.situation["paired"] == "yes" else None
        wrong = [one for one in self.by_window.get(twin, []) if one.kind is Happened.WRONG] if twin else []
        own = _of(self.by_window.get(window.id, []), strip=False)
        self.told[window.id] = told
        self.progress[window.id] = progress_of(
            self.book, run, [*own, *self._whole], figures=told.figures, film=window.film_id or "", twins=wrong
        )
        self.todo.append(ToDo(window.id, window.label, window.kind, window.side, run))

    def car_part(self, part: str) -> None:
        """The car before its windows, or after them."""
        told = car_told(self.book, self.car, self.day, self.hands, part=part)
        run = make_run(self.book, told.situation, told.figures)
        own = [one for one in self.by_window.get(None, []) if str(one.value.get("run", part)) == part]
        self.told[part] = told
        self.progress[part] = progress_of(self.book, run, own, figures=told.figures)


def _of(events: Sequence[Event], *, strip: bool) -> list[Event]:
    """The events of one of a window's two runs."""
    return [one for one in events if (one.value.get("run") == "strip") == strip]


def _twins(pairs: Mapping[str, str]) -> dict[str, str]:
    """By window, the one that its film was cut together with."""
    groups: dict[str, list[str]] = {}
    for window_id, name in pairs.items():
        groups.setdefault(name, []).append(window_id)
    found: dict[str, str] = {}
    for pair in groups.values():
        if len(pair) == 2:
            found |= {pair[0]: pair[1], pair[1]: pair[0]}
    return found


def _last(events: Sequence[Event], kind: Happened) -> Event | None:
    found = [one for one in events if one.kind is kind]
    return max(found, key=lambda one: (one.at, one.id), default=None)


def _reason(events: Sequence[Event], kind: Happened, *, since: Event | None = None) -> str:
    """What a lead said last; what was said before ``since`` was said of something else."""
    said = _last(events, kind)
    if said is None or (since is not None and said.at < since.at):
        return ""
    return str(said.value.get("reason", ""))

"""All runs of a car: before its windows, window by window, and after them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from elumbra.core.bay.day import Day, DayAnswer
from elumbra.core.bay.progress import Event, Happened, Progress, progress_of
from elumbra.core.bay.round_car import Placed, ToDo, arranged, order_round
from elumbra.core.bay.run import make_run
from elumbra.core.bay.situation import Hands, Removal, Told, car_told, day_answer, is_worked, window_told
from elumbra.core.bay.steps import StepBook
from elumbra.core.work import Car, mirror_pairs

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
    pairs = mirror_pairs(car.job.windows)
    twins = _twins(pairs)
    progress: dict[str, Progress] = {}
    told: dict[str, Told] = {}
    todo = []
    by_window: dict[str | None, list[Event]] = {}
    for event in events:
        by_window.setdefault(event.window_id, []).append(event)
    whole = [one for one in by_window.get(None, []) if one.kind in (Happened.PAUSE, Happened.RESUME)]
    for window in car.job.windows:
        own = by_window.get(window.id, [])
        if removals and window.id in removals:
            name = strip_key(window.id)
            told[name] = window_told(book, car, window.id, day, hands, removal=removals[window.id], pairs=pairs)
            run = make_run(book, told[name].situation, told[name].figures)
            progress[name] = progress_of(book, run, [*_of(own, strip=True), *whole], figures=told[name].figures)
        if not is_worked(window):
            continue
        found = window_told(book, car, window.id, day, hands, pairs=pairs)
        told[window.id] = found
        run = make_run(book, found.situation, found.figures)
        other = twins.get(window.id) if found.situation["paired"] == "yes" else None
        wrong = [one for one in by_window.get(other, []) if one.kind is Happened.WRONG] if other else []
        progress[window.id] = progress_of(
            book, run, [*_of(own, strip=False), *whole], figures=found.figures, film=window.film_id or "", twins=wrong
        )
        todo.append(ToDo(window.id, window.label, window.kind, window.side, run))
    for part in (START, END):
        told[part] = car_told(book, car, day, hands, part=part)
        run = make_run(book, told[part].situation, told[part].figures)
        own = [one for one in by_window.get(None, []) if str(one.value.get("run", part)) == part]
        progress[part] = progress_of(book, run, own, figures=told[part].figures)
    proposed = order_round(todo, sun=day.sun, hot=answer.temp == "hot")
    said = _last(events, Happened.ORDER)
    order = arranged(proposed, [str(one) for one in said.value.get("windows", ())]) if said else proposed
    return CarRuns(
        day, answer, progress, told, order, proposed, twins, _reason(events, Happened.HATCH_EARLY),
        _reason(events, Happened.GO_ON),
    )  # fmt: skip


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


def _reason(events: Sequence[Event], kind: Happened) -> str:
    said = _last(events, kind)
    return "" if said is None else str(said.value.get("reason", ""))

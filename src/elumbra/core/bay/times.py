"""Work times, recorded by themselves from ticks: pauses and unattended time left out.

A time is kept at the level that was ticked. What was not ticked is unknown, never done.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from statistics import median

from elumbra.core.bay.progress import Event, Happened, Progress

_LONGEST_MIN = 240.0  # longer between two ticks, somebody went home


@dataclass(frozen=True)
class Took:
    """How long somebody worked on one step, or on one phase that was ticked whole."""

    event_id: str
    window_id: str | None
    what: str  # step:<id> or phase:<name>
    person_id: str
    minutes: float
    at: float


def times_of(progress: Mapping[str | None, Progress], events: Sequence[Event]) -> list[Took]:
    """The times of a job.

    Parameters
    ----------
    progress
        By window, how far its run is.
    events
        All events of the job.

    Notes
    -----
    A person's work lasts from his last tick, begin or resume to this tick, less what he paused and less the
    unattended time that ran on the same window in between. Ticks of “done already” have no time.
    """
    ordered = sorted(events, key=lambda one: (one.at, one.id))
    undone = {str(one.value.get("event", "")) for one in ordered if one.kind is Happened.UNDO}
    corrected = {
        str(one.value.get("event", "")): float(one.value.get("minutes", 0.0))
        for one in ordered
        if one.kind is Happened.TIME
    }
    last: dict[str, float] = {}
    waits: dict[str | None, float] = {}
    found = []
    for event in ordered:
        if event.kind is Happened.PAUSE:
            last.pop(event.person_id, None)
        elif event.kind in (Happened.BEGIN, Happened.RESUME):
            last[event.person_id] = event.at
        elif event.kind is Happened.TICK and event.id not in undone:
            where = progress.get(event.window_id)
            steps = [] if where is None else [one for one in where.run.steps if _is_first(where, one.key, event.id)]
            if steps:
                started = last.get(event.person_id)
                ready = waits.pop(event.window_id, None)
                if started is not None and ready is not None and started < ready:
                    started = min(ready, event.at)
                level = str(event.value.get("level", "step"))
                if started is not None and level != "already":
                    minutes = (event.at - started) / 60
                    what = f"phase:{steps[0].phase}" if level == "phase" else f"step:{steps[0].step.id}"
                    if len(steps) > 1 and level == "step":
                        what = f"phase:{steps[0].phase}"
                    if 0 <= minutes <= _LONGEST_MIN:
                        taken = corrected.get(event.id, minutes)
                        found.append(Took(event.id, event.window_id, what, event.person_id, round(taken, 2), event.at))
                wait = max((one.wait for one in steps), default=0.0)
                if wait:
                    waits[event.window_id] = event.at + 60 * wait
            last[event.person_id] = event.at
    return found


def _is_first(progress: Progress, key: str, event_id: str) -> bool:
    tick = progress.ticks.get(key)
    return tick is not None and tick.event_id == event_id


@dataclass(frozen=True)
class Usual:
    """What something takes: the shop's own median, or the customary figure."""

    minutes: float
    own: int  # how many own times it is from; 0: customary


def usual(customary: float, times: Iterable[tuple[str, float]], *, person_id: str | None, enough: int) -> Usual:
    """The median of a person's own times, else of the shop's, else the customary figure.

    Parameters
    ----------
    customary
        The step file's minutes.
    times
        Person and minutes of each time that was recorded.
    person_id
        Whose time is asked; None: anybody's.
    enough
        From so many on, own times count.

    Examples
    --------
    >>> usual(8.0, [("a", 6.0)] * 4, person_id=None, enough=5)
    Usual(minutes=8.0, own=0)
    >>> usual(8.0, [("a", 6.0)] * 5, person_id="a", enough=5)
    Usual(minutes=6.0, own=5)
    """
    all_times = list(times)
    theirs = [minutes for who, minutes in all_times if who == person_id]
    for own in (theirs, [minutes for _, minutes in all_times]):
        if len(own) >= enough:
            return Usual(round(median(own), 1), len(own))
    return Usual(customary, 0)

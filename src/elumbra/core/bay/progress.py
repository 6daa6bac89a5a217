"""Where the work stands, from what happened: events added up, in whatever order they came.

Every event carries an id made by the screen. An event is never changed; a tick is taken back by another event.
Adding events up gives the same whether they come in order, late, twice or from tablets with wrong clocks.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import StrEnum
from typing import Any

from elumbra.core.bay.run import Mishap, Run, RunStep, with_mishap
from elumbra.core.bay.steps import Does, Phase, StepBook


class Happened(StrEnum):
    """Kinds of events."""

    BEGIN = "begin"  # somebody opened the run of a window
    TICK = "tick"
    UNDO = "undo"  # a tick, by its event
    PAUSE = "pause"
    RESUME = "resume"
    TAKE = "take"  # a window, by a person
    WRONG = "wrong"
    FINE = "fine"  # the twin is sound: its correction is not needed
    CONDITIONS = "conditions"
    GO_ON = "go_on"  # a lead's reason to work outside the limits
    HATCH_EARLY = "hatch_early"  # a lead's reason to close the hatch
    ORDER = "order"  # round the car
    TIME = "time"  # a recorded time corrected
    ACKNOWLEDGED = "acknowledged"  # by the customer: risk and price of a removal
    STRIP_RESULT = "strip_result"
    BRANCH = "branch"  # which layer came off
    NO_FILM = "no_film"  # a spoilt piece, by its event, was not film of the rack
    LET_GO = "let_go"  # a lead's reason to deliver the car without this window's work


LEAD_ONLY = frozenset({Happened.GO_ON, Happened.HATCH_EARLY, Happened.LET_GO})
"""Only a lead may say these."""


@dataclass(frozen=True)
class Event:
    """Something that happened; ``at`` in seconds, by the server's clock as far as it can be told."""

    id: str
    kind: Happened
    at: float
    person_id: str
    person: str
    window_id: str | None = None
    value: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Tick:
    """A step that is done."""

    event_id: str
    at: float
    person: str
    level: str  # step, phase, or already
    also: tuple[str, ...] = ()  # others who ticked it too


_AFTER = frozenset({Phase.PUT_BACK, Phase.CLOSE})


@dataclass(frozen=True)
class Progress:
    """How far a run is."""

    run: Run
    ticks: Mapping[str, Tick]
    paused: bool = False
    paused_by: str = ""
    taken_by: str = ""
    dropped: int = 0  # ticks of another film than the one that is chosen now
    scrapped: tuple[str, ...] = ()  # events at which a piece was spoilt, the newest last

    @property
    def next(self) -> RunStep | None:
        """The first step that is not done."""
        return next((one for one in self.run.steps if one.key not in self.ticks), None)

    @property
    def done(self) -> bool:
        """Whether all of it is."""
        return bool(self.run.steps) and self.next is None

    @property
    def makes(self) -> list[RunStep]:
        """The steps by which film comes on, or old film off; what is put back and closed after it is left out."""
        return [one for one in self.run.steps if one.phase not in _AFTER]

    @property
    def made(self) -> bool:
        """Whether film is on, or old film off."""
        return bool(self.makes) and all(one.key in self.ticks for one in self.makes)

    @property
    def made_at(self) -> float | None:
        """When the last of it was done [s]; None where nothing is."""
        return max((self.ticks[one.key].at for one in self.makes if one.key in self.ticks), default=None)

    @property
    def cuts_again(self) -> bool:
        """Whether a spoilt piece is still to be replaced."""
        marks = {f"~{one[:12]}" for one in self.scrapped}
        return any(one.key[one.key.find("~") :] in marks and one.key not in self.ticks for one in self.run.steps)

    @property
    def begun(self) -> bool:
        """Whether any of it is."""
        return bool(self.ticks)

    @property
    def minutes_left(self) -> float:
        """Work that is left [min]."""
        return sum(one.minutes for one in self.run.steps if one.key not in self.ticks)

    def waits_until(self, now: float) -> float | None:
        """When the next step can be done, where something dries or soaks; None where it can now."""
        step = self.next
        if step is None:
            return None
        keys = [one.key for one in self.run.steps]
        before = self.run.steps[: keys.index(step.key)]
        ready = max((self.ticks[one.key].at + 60 * one.wait for one in before if one.wait and one.key in self.ticks),
                    default=0.0)  # fmt: skip
        return ready if ready > now else None

    @property
    def waiting_for(self) -> RunStep | None:
        """The last step with an unattended time that was ticked."""
        step = self.next
        done = [one for one in self.run.steps if one.key in self.ticks and one.wait]
        return done[-1] if step is not None and done else None

    @property
    def apart(self) -> tuple[str, ...]:
        """What was taken apart and is not put back yet."""
        found: dict[str, None] = {}
        for one in self.run.steps:
            if one.key in self.ticks:
                for effect in one.step.effects:
                    if effect.does is Does.TAKE:
                        found[effect.on] = None
                    elif effect.does is Does.PUT:
                        found.pop(effect.on, None)
        return tuple(found)


_OF_THE_GLASS = frozenset(
    {Phase.PROTECT, Phase.OUTSIDE_PREP, Phase.INSIDE_PREP, Phase.STRIP, Phase.GLUE, Phase.CHECK, Phase.CLOSE}
)


def progress_of(
    book: StepBook,
    run: Run,
    events: Sequence[Event],
    *,
    figures: Mapping[str, str],
    film: str = "",
    twins: Sequence[Event] = (),
) -> Progress:
    """How far a run is, with what went wrong put into it.

    Parameters
    ----------
    book, run, figures
        What is to be done on the window.
    events
        What happened on it; the whole job's pauses among them.
    film
        The film that is chosen now: ticks of cutting and fitting another one do not count.
    twins
        What went wrong on the other piece of the double cut.
    """
    ordered = sorted(events, key=lambda one: (one.at, one.id))
    undone = {str(one.value.get("event", "")) for one in ordered if one.kind is Happened.UNDO}
    fine = {str(one.value.get("event", "")) for one in ordered if one.kind is Happened.FINE}
    ticks = [one for one in ordered if one.kind is Happened.TICK and one.id not in undone]
    wrongs = [one for one in ordered if one.kind is Happened.WRONG and one.id not in undone]
    mishaps = [(one.at, _mishap(one)) for one in wrongs]
    for one in twins:
        wrong = book.wrongs.get(str(one.value.get("what", "")))
        if wrong is not None and wrong.twin and one.id not in fine:
            # Whether this piece is spoilt too shows when it is held against its glass.
            mishaps.append((one.at, replace(_mishap(one), at="", spoilt=False, twin=True)))
    for at, mishap in sorted(mishaps, key=lambda one: (one[0], one[1].id)):
        earlier = {key for one in ticks if one.at <= at for key in _keys(one)}
        stands = next((one.key for one in run.steps if one.key not in earlier), "")
        run = with_mishap(book, run, mishap, figures, stands=stands)
    counted, dropped = _counted(run, ticks, film)
    paused, by = False, ""
    for one in ordered:
        if one.kind in (Happened.PAUSE, Happened.RESUME):
            paused, by = one.kind is Happened.PAUSE, one.person
        elif one.kind is Happened.TICK:
            paused = False
    scrapped = tuple(one.id for one in wrongs if one.value.get("spoilt"))
    taken = [one.person for one in ordered if one.kind is Happened.TAKE]
    return Progress(run, counted, paused, by if paused else "", taken[-1] if taken else "", dropped, scrapped)


def _mishap(event: Event) -> Mishap:
    value = event.value
    return Mishap(event.id, str(value.get("what", "other")), str(value.get("step", "")), bool(value.get("spoilt")))


def _keys(event: Event) -> list[str]:
    keys = event.value.get("steps", ())
    return [str(one) for one in keys] if isinstance(keys, list | tuple) else []


def _counted(run: Run, ticks: Iterable[Event], film: str) -> tuple[dict[str, Tick], int]:
    """By step, who did it first and who too. The order of events does not matter."""
    steps = {one.key: one for one in run.steps}
    found: dict[str, Tick] = {}
    dropped = 0
    for event in ticks:
        for key in _keys(event):
            step = steps.get(key)
            if step is None:
                continue
            said = str(event.value.get("film", film) or film)
            if film and said != film and step.phase not in _OF_THE_GLASS:
                dropped += 1
                continue
            if key in found:
                before = found[key]
                if event.person != before.person and event.person not in before.also:
                    found[key] = replace(before, also=(*before.also, event.person))
            else:
                found[key] = Tick(event.id, event.at, event.person, str(event.value.get("level", "step")))
    return found, dropped

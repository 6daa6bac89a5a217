"""A job's work into what the bay's screens show."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC, datetime

from sqlalchemy.orm import Session

from elumbra.api.bay.schemas import (
    ApartOut,
    BayDayOut,
    BayOut,
    BayPlaceOut,
    BlockOut,
    RefusedOut,
    RunOut,
    StepOut,
    TickOut,
    TimeOut,
    WrongOut,
)
from elumbra.api.car_view.view import load_car
from elumbra.car import Bay, JobParts, load_bay, settings_for, unsettled_scrap
from elumbra.core.bay import (
    END,
    PHASE_WORDS,
    START,
    Block,
    Does,
    Happened,
    Phase,
    Progress,
    RunStep,
    Usual,
    usual,
)
from elumbra.core.words import counted
from elumbra.core.work import Car
from elumbra.storage import data_files
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people
from elumbra.storage.work_times import Recorded, recorded, times_of_job


def bay_of(
    session: Session,
    job_id: str,
    *,
    person: PersonRecord,
    unit: str = "in",
    told: list[str] | None = None,
    refused: list[RefusedOut] | None = None,
) -> BayOut:
    """The work of one car.

    Raises
    ------
    CoreError
        The job's car cannot be put together.
    """
    car, parts, _ = load_car(session, job_id)
    settings = settings_for(session, person.id)
    bay = load_bay(session, car, parts, settings, metric=unit == "mm")
    view = _View(session, car, parts, bay, person)
    day = view.day()
    return BayOut(
        job_id=job_id,
        title=f"{parts.job.number} {parts.job.vehicle_label}",
        now=datetime.now(UTC),
        steps_version=data_files.step_book().version,
        learner=settings.learner,
        home=settings.home,
        lead=person.leads,
        day=day,
        order=[BayPlaceOut(window_id=one.id, why=one.why) for one in bay.runs.order],
        proposed=[one.id for one in bay.runs.proposed],
        runs=view.runs(),
        apart=view.apart(),
        hatch_held=bay.runs.hatch_held,
        hatch_reason=bay.runs.hatch_reason,
        wrongs=[WrongOut(id=one.id, words=one.words, spoils=one.spoils) for one in view.book.wrongs.values()],
        times=view.times(),
        headline=view.headline(),
        told=told or [],
        refused=refused or [],
    )


class _View:
    def __init__(self, session: Session, car: Car, parts: JobParts, bay: Bay, person: PersonRecord) -> None:
        self.session, self.car, self.parts, self.bay, self.person = session, car, parts, bay, person
        self.book = data_files.step_book()
        self.now = datetime.now(UTC).timestamp()
        self.recorded: Recorded = recorded(session)
        self.labels = {window.id: window.label for window in car.job.windows}
        self.kinds: Mapping[str | None, str] = {window.id: window.kind.value for window in car.job.windows}
        self.scrap = unsettled_scrap(bay.events, parts.cuttings)
        self.seen = {
            step.step.caution for one in bay.runs.progress.values() for step in one.run.steps if step.key in one.ticks
        }

    def runs(self) -> list[RunOut]:
        """The car before its windows, old film, the windows in order, the car after them."""
        names = [name for name in self.bay.runs.progress if name.startswith("strip:")]
        return [self._run(name) for name in (START, *names, *self.bay.runs.windows, END)]

    def _run(self, name: str) -> RunOut:
        one = self.bay.runs.progress[name]
        window_id = None if name in (START, END) else name.removeprefix("strip:")
        strip = name.startswith("strip:")
        step, ready = one.next, one.waits_until(self.now)
        waiting = one.waiting_for if ready is not None else None
        held = self.car.held.get(window_id or "")
        twin = self.bay.runs.twins.get(name, "") if self._paired(name) else ""
        return RunOut(
            name=name,
            window_id=window_id,
            label={START: "Before the windows", END: "Close the car"}.get(name) or self.labels[window_id or ""],
            strip=strip,
            refusal=one.run.refusal,
            held=held.reason if held and not strip else "",
            film="" if window_id is None else self.car.window(window_id).film_id or "",
            steps=[self._step(found, one, window_id) for found in one.run.steps],
            blocks=[self._block(block, window_id) for block in one.run.blocks],
            next=step.key if step else None,
            waits_until=None if ready is None else datetime.fromtimestamp(ready, UTC),
            waits_for=waiting.say if waiting else "",
            paused=one.paused,
            paused_by=one.paused_by,
            taken_by=one.taken_by,
            begun=one.begun,
            done=one.done,
            minutes_left=round(one.minutes_left, 1),
            cuts_again=one.cuts_again,
            scrap=[] if strip else [event.id for event in self.scrap.get(window_id or "", ())],
            twin=self.labels.get(twin, ""),
            mishap=self._open_twin(name, one),
            dropped=one.dropped,
        )

    def _paired(self, name: str) -> bool:
        told = self.bay.runs.told.get(name)
        return told is not None and told.situation.get("paired") == "yes"

    def _open_twin(self, name: str, one: Progress) -> str:
        """The event whose correction stands open here because of the twin."""
        marks = {step.key.partition("~")[2] for step in one.run.steps if step.again and step.key not in one.ticks}
        twin = self.bay.runs.twins.get(name)
        for event in self.bay.events:
            if event.kind is Happened.WRONG and event.window_id == twin and event.id[:12] in marks:
                return event.id
        return ""

    def _usual(self, customary: float, window_id: str | None, what: str) -> Usual:
        """What it takes: own times of this person, else of the shop, else the customary figure."""
        times = self.recorded.get((self.kinds.get(window_id, ""), what), [])
        enough = int(self.car.starting["own_times_from"])
        return usual(customary, times, person_id=self.person.id, enough=enough)

    def _step(self, step: RunStep, one: Progress, window_id: str | None) -> StepOut:
        tick = one.ticks.get(step.key)
        done = None
        if tick:
            done = TickOut(
                event_id=tick.event_id, at=datetime.fromtimestamp(tick.at, UTC), person=tick.person,
                also=list(tick.also), already=tick.level == "already",
            )  # fmt: skip
        return StepOut(
            key=step.key,
            phase=step.phase,
            say=step.say,
            check=step.check,
            caution=step.step.caution,
            caution_seen=step.step.caution in self.seen,
            why=step.why,
            section=step.step.section,
            more=step.step.more,
            tools=list(step.step.tools),
            minutes=self._usual(step.minutes, window_id, f"step:{step.step.id}").minutes,
            wait=step.wait,
            at=step.step.at,
            round=step.round,
            special=step.special,
            again=step.again,
            branch=next((one.on for one in step.step.effects if one.does is Does.BRANCH), ""),
            done=done,
        )

    def _block(self, block: Block, window_id: str | None) -> BlockOut:
        customary = sum(self._usual(one.minutes, window_id, f"step:{one.step.id}").minutes for one in block.steps)
        found = self._usual(customary, window_id, f"phase:{block.phase}")
        words = PHASE_WORDS[block.phase]
        again = f", {_ORDINALS[min(block.repeat, 4)]} time" if block.repeat > 1 else ""
        return BlockOut(
            key=block.key,
            phase=block.phase,
            words=f"{words[0].upper()}{words[1:]}{again}",
            keys=[step.key for step in block.steps],
            minutes=round(found.minutes, 1),
            own=found.own,
            wait=max((step.wait for step in block.steps), default=0.0),
        )

    def apart(self) -> list[ApartOut]:
        """What is not put back yet."""
        return [
            ApartOut(label=self.labels.get(run.removeprefix("strip:"), "car"), thing=self.book.things[thing])
            for run, thing in self.bay.runs.apart
        ]

    def day(self) -> BayDayOut:
        """Conditions, and what follows."""
        day, answer, figures = self.bay.day, self.bay.runs.answer, self.bay.runs.told[START].figures
        return BayDayOut(
            glass_c=day.glass_c,
            shop_c=day.shop_c,
            humidity=day.humidity,
            outside_low_c=day.outside_low_c,
            sun=day.sun,
            wind=day.wind,
            said=any(one.kind is Happened.CONDITIONS for one in self.bay.events),
            stop=answer.stop,
            go_on=self.bay.runs.go_on_reason,
            told=[*answer.told, *self._stale()],
            soap=figures["soap"],
            soap_rich=figures["soap_rich"],
            soap_ml_per_l=round(answer.soap_ml, 2),
            cure_days=answer.cure_days,
            area=answer.area,
        )

    def _stale(self) -> list[str]:
        """That the temperatures are an old reading; it goes on holding until somebody reads again."""
        said = [one.at for one in self.bay.events if one.kind is Happened.CONDITIONS]
        hours = (self.now - max(said)) / 3600 if said else 0.0
        if hours < self.car.starting["reading_holds_h"]:
            return []
        return [f"The temperatures were read {hours:.0f} h ago: read them again."]

    def times(self) -> list[TimeOut]:
        """What was recorded on this job."""
        names = {person.id: person.name for person in people(self.session).all(removed_too=True)}
        return [
            TimeOut(
                event_id=one.id,
                window_id=self._window_of(one.id),
                words=self._what(one.what),
                person=names.get(one.person_id, one.person_id),
                minutes=one.minutes,
            )
            for one in times_of_job(self.session, self.parts.job.id)
        ]

    def _window_of(self, event_id: str) -> str | None:
        return next((one.window_id for one in self.bay.events if one.id == event_id), None)

    def _what(self, what: str) -> str:
        kind, _, name = what.partition(":")
        if kind == "phase":
            return PHASE_WORDS.get(Phase(name), name) if name in list(Phase) else name
        step = self.book.steps.get(name)
        return step.say.split("{", maxsplit=1)[0].strip(" :,") if step else name

    def headline(self) -> str:
        """The answer of the whole car."""
        runs = self.bay.runs
        if not runs.windows:
            strips = [name for name in runs.progress if name.startswith("strip:")]
            return "Only old film comes off" if strips else "No film chosen yet: nothing to do in the bay"
        left = len(runs.open_windows)
        if left:
            minutes = sum(runs.progress[one].minutes_left for one in runs.open_windows)
            again = sum(runs.progress[one].cuts_again for one in runs.windows)
            told = f"; {counted(again, 'piece')} to be cut again" if again else ""
            return f"{left} of {len(runs.windows)} windows to do, about {minutes:.0f} min of work{told}"
        if runs.apart:
            return f"All windows done; {len(runs.apart)} to put back before the car is closed"
        return "All windows done" if not runs.progress[END].done else "The car is closed"


_ORDINALS = {2: "second", 3: "third", 4: "further"}

"""A day and its plan into what the sheet shows."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta
from functools import cached_property

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import zoned
from elumbra.api.day.schemas import (
    BayOnSheet,
    CannotOut,
    CarOn,
    DangerOut,
    DayCount,
    DaySheetOut,
    DecidedOut,
    DoneOn,
    HandOut,
    MarkOut,
    SpanOut,
    TaskOn,
    TogetherOut,
    WaitsOut,
)
from elumbra.car.clock import DayClock, stretches
from elumbra.car.day import DayProblem, OnSheet, load_day, shop_day
from elumbra.core.bay import PHASE_WORDS, Phase
from elumbra.core.deeds import TO_COME, State
from elumbra.core.schedule import (
    DoesNotFitError,
    Fit,
    Impossible,
    Place,
    Placed,
    Problem,
    Stretch,
    chances,
    fitting,
    impossible,
    late_words,
    simulate,
    span_words,
    why_late,
)
from elumbra.core.words import counted
from elumbra.storage.bookings import booked_days
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people
from elumbra.storage.work_times import times_of_job
from elumbra.tasks.day_sheet import DayPlan, quick_plan

_HOUR = 60
_DAYS_SHOWN = 14
_FIRST_TRIES = 24


@dataclass(frozen=True)
class Sheet:
    """A day with a whole plan: the best that is known, else one made at once."""

    made: DayProblem
    fit: Fit
    cannot: tuple[Impossible, ...]
    plan: DayPlan | None
    chances: Mapping[str, float]

    @property
    def problem(self) -> Problem:
        """What was planned: without cars that do not fit."""
        return self.fit.problem


def sheet_of(session: Session, day: date, *, at: datetime | None = None, better: DayPlan | None = None) -> Sheet:
    """A day with a whole plan.

    Parameters
    ----------
    session
        To read by.
    day
        In the shop.
    at
        Now; None: by the machine.
    better
        A plan of the very same day that took longer to find.
    """
    return planned(load_day(session, day, at=at), better=better)


def planned(made: DayProblem, *, better: DayPlan | None = None) -> Sheet:
    """A day's problem with a whole plan, and how sure each promise is."""
    clock = made.clock.words
    cannot = tuple(impossible(made.problem, clock=clock))
    fit = fitting(made.problem, clock=clock)
    plan = better
    if plan is None and fit.problem.tasks:
        try:
            plan = quick_plan(fit.problem, tries=_FIRST_TRIES)
        except DoesNotFitError:
            plan = None
    sure: Mapping[str, float] = {}
    if plan is not None:
        days = simulate(fit.problem, plan.plan, pace=made.starting["plan_pace_spread"])
        sure = chances(fit.problem, days)
    return Sheet(made, fit, cannot, plan, sure)


def sheet_out(
    session: Session,
    sheet: Sheet,
    *,
    stamp: str,
    at: datetime,
    task_id: str | None = None,
    looked: bool = False,
    basis: str = "",
) -> DaySheetOut:
    """The sheet as its screen shows it."""
    return _View(session, sheet, at).out(stamp=stamp, task_id=task_id, looked=looked, basis=basis)


@dataclass
class _View:
    session: Session
    sheet: Sheet
    at: datetime
    names: dict[str, str] = field(init=False)

    def __post_init__(self) -> None:
        self.made, self.problem, self.plan = self.sheet.made, self.sheet.problem, self.sheet.plan
        self.clock: DayClock = self.made.clock
        self.names = {one.id: one.name for one in people(self.session).all(removed_too=True)}

    def out(self, *, stamp: str, task_id: str | None, looked: bool, basis: str) -> DaySheetOut:
        """All of it."""
        made, plan, day = self.made, self.plan, self.clock.day
        begins, ends = self._span
        is_today = self.clock.local_day(self.at) == day
        cars = [self._car(one) for one in made.cars]
        danger = self._danger()
        return DaySheetOut(
            day=day.isoformat(),
            title=f"{day:%A} {day.day} {day:%B}",
            zone=self.clock.zone,
            today=is_today,
            now=self.clock.minute(self.at) if is_today else None,
            stamp=stamp,
            version=made.decided_version,
            begins=begins,
            ends=ends,
            marks=[
                MarkOut(minute=minute, words=self.clock.words(minute).removesuffix(" AM").removesuffix(" PM"))
                for minute in range(-(-begins // _HOUR) * _HOUR, ends + 1, _HOUR)
            ],
            people=[self._hand(one) for one in made.people],
            bays=[BayOnSheet(name=one.name, door=one.door, under_door=one.under_door) for one in made.problem.bays],
            sun=[_span_out(one) for one in made.problem.sun if one.start < ends],
            cars=cars,
            tasks=[self._task(one) for one in (plan.plan.placed if plan else ())],
            done=self._done(),
            headline=self._headline(cars, danger),
            told=self._told(),
            cannot=[_cannot(one) for one in dict.fromkeys((*self.sheet.cannot, *self.sheet.fit.loosened))],
            left_out=[_cannot(one) for one in self.sheet.fit.left_out],
            danger=danger,
            waits=[
                WaitsOut(
                    job_id=one.job.id,
                    words=f"{one.job.number} {one.job.vehicle_label}: {one.waits.words}",
                    station=one.waits.station,
                    window_id=one.waits.window_id,
                )
                for one in made.cars
                if one.waits is not None
            ],
            late=sum(one.late for one in cars),
            overtime=plan.measure.overtime if plan else 0,
            waiting=plan.measure.waiting if plan else 0,
            late_least=max(0, plan.proof.late - sum(one.cushion for one in self.problem.cars)) if plan else 0,
            overtime_least=plan.proof.overtime if plan else 0,
            waiting_least=plan.proof.waiting if plan else 0,
            proven=bool(plan and plan.proven),
            sure=self.made.starting["promise_sure"],
            together=self._together(),
            decided=self._decided(),
            days=self._days(),
            task_id=task_id,
            looked=looked,
            basis=basis,
        )

    @cached_property
    def _span(self) -> tuple[int, int]:
        """What the axis shows: the day's hours and all that is planned or was done on it."""
        spans = [one for worker in self.problem.workers for one in worker.hours if 0 <= one.start < 1560]
        starts, ends = [one.start for one in spans] or [480], [one.end for one in spans] or [1020]
        if self.plan:
            today = [one for one in self.plan.plan.placed if one.start < 1440]
            starts += [one.start for one in today]
            ends += [min(one.end, 1500) for one in today]
        starts += [one.start for one in self._done() if one.start >= 0]
        return min(starts) // _HOUR * _HOUR, -(-max(ends) // _HOUR) * _HOUR

    def _hand(self, person: PersonRecord) -> HandOut:
        worker = self.made.problem.worker.get(person.id)
        begins, ends = 0, 1500
        here = [one for one in (worker.hours if worker else ()) if begins <= one.start < ends]
        away = self.made.problem.away.get(person.id, "") or ("" if here else "does not work on this day")
        work = sum(
            one.end - one.start
            for one in (self.plan.plan.placed if self.plan else ())
            if one.worker == person.id and one.start < ends
        )
        return HandOut(
            id=person.id, name=person.name, role=person.role, spans=[_span_out(one) for one in here], away=away,
            work=work,
        )  # fmt: skip

    def _task(self, placed: Placed) -> TaskOn:
        task = self.problem.task[placed.task]
        return TaskOn(
            id=task.id, job_id=task.car, label=task.label, words=task.words, skill=task.skill, place=task.place,
            worker=placed.worker, start=placed.start, end=placed.end, wait_until=placed.end + task.wait,
            start_words=self.clock.words(placed.start), end_words=self.clock.words(placed.end),
            locked=task.id in self.made.hand_locked,
        )  # fmt: skip

    def _car(self, one: OnSheet) -> CarOn:
        job, booked = one.job, one.booking
        planned_car = self.problem.car.get(job.id)
        ready = self.plan.plan.ready.get(job.id) if self.plan and planned_car else None
        there = self.plan.plan.in_bay.get(job.id) if self.plan and planned_car else None
        due = None if job.promised_at is None else self.clock.minute(job.promised_at)
        arrives = None if booked is None else self.clock.minute(booked.drop_off_at)
        left = sum(task.minutes for task in one.tasks)
        done = sum(found.minutes for found in times_of_job(self.session, job.id)) if job.status not in TO_COME else 0.0
        return CarOn(
            job_id=job.id, number=job.number, title=job.vehicle_label, customer=job.customer, status=State(job.status),
            booked=booked is not None, arrives=arrives, arrives_words="" if arrives is None else self._said(arrives),
            due=due, due_words="" if due is None else self._said(due), promised_at=zoned(job.promised_at),
            pick_up_words=self._pick_up(one), ready=ready, ready_words="" if ready is None else self._said(ready),
            late=max(0, ready - due) if ready is not None and due is not None else 0,
            why_late=self._why_late(job.id),
            chance=self.sheet.chances.get(job.id), waits_here=bool(booked and booked.waits_here),
            bay=there.bay if there else job.bay, in_bay=SpanOut(start=there.start, end=there.end) if there else None,
            work=left, left_share=round(left / (left + done), 3) if left + done else 0.0, told=one.told,
            stuck=one.stuck, note=booked.note if booked else "",
        )  # fmt: skip

    def _why_late(self, job_id: str) -> str:
        """What a car that is late by the plan waits for most."""
        car = self.problem.car.get(job_id)
        cause = why_late(self.problem, self.plan.plan, car) if self.plan and car else None
        return late_words(cause, clock=self._said, span=span_words) if cause else ""

    def _said(self, minute: int) -> str:
        return self.clock.words(minute)

    def _pick_up(self, one: OnSheet) -> str:
        booked = one.booking
        if booked is None or booked.pick_up_from is None:
            return ""
        until = "" if booked.pick_up_until is None else f" to {self._said(self.clock.minute(booked.pick_up_until))}"
        return f"{self._said(self.clock.minute(booked.pick_up_from))}{until}"

    def _done(self) -> list[DoneOn]:
        """What was ticked on this day, with the time that it took."""
        found = []
        for one in self.made.cars:
            if one.job.status in TO_COME:
                continue
            for took in times_of_job(self.session, one.job.id):
                end = self.clock.minute(took.at)
                if 0 <= end < 1500:
                    kind, _, name = took.what.partition(":")
                    words = PHASE_WORDS[Phase(name)] if kind == "phase" and name in list(Phase) else "a step"
                    start = max(0, end - max(1, round(took.minutes)))
                    found.append(DoneOn(job_id=one.job.id, worker=took.person_id, start=start, end=end, words=words))
        return found

    def _danger(self) -> list[DangerOut]:
        sure = self.made.starting["promise_sure"]
        found = []
        for name, chance in sorted(self.sheet.chances.items(), key=lambda one: one[1]):
            car = self.problem.car[name]
            if chance < sure and car.due is not None and self.plan is not None:
                ready = self.plan.plan.ready[name]
                late = f", {ready - car.due} min late by plan" if ready > car.due else ""
                words = f"{car.title}: promised for {self._said(car.due)}, kept on {chance:.0%} of days{late}"
                if why := self._why_late(name):
                    words += f". {why}"
                found.append(DangerOut(job_id=name, words=words, chance=chance))
        return found

    def _headline(self, cars: Sequence[CarOn], danger: Sequence[DangerOut]) -> str:
        if not cars:
            return "No car is booked for this day"
        if not self.problem.workers:
            return "Nobody works on this day"
        out = sum(1 for one in self.made.cars if one.tasks and one.job.id not in self.problem.car)
        if out:
            return f"{out} of {len(cars)} cars do not fit"
        if danger:
            return f"{counted(len(danger), 'promise')} in danger"
        if self.plan is None:
            return "Nothing left to plan on this day"
        last = max((self.plan.plan.ready[one.id] for one in self.problem.cars), default=0)
        return f"All {len(cars)} cars ready by {self._said(last)}" if len(cars) > 1 else f"Ready by {self._said(last)}"

    def _told(self) -> list[str]:
        told = [f"{one} It was let go." for one in self.made.lost_locks]
        told += [f"{one.job.number} {one.job.vehicle_label}: {one.told}" for one in self.made.cars if one.told]
        return told

    def _together(self) -> list[TogetherOut]:
        chosen = set(self.made.decided.get("together", ()))
        by_film: dict[str, set[str]] = {}
        for one in self.made.cars:
            for task in one.tasks:
                if task.place is Place.BENCH and task.film:
                    by_film.setdefault(task.film, set()).add(one.job.id)
        pull = int(self.made.starting["pull_minutes"])
        return [
            TogetherOut(
                film_id=film, name=self.made.films.get(film, film), cars=len(names), saves=pull * (len(names) - 1),
                chosen=film in chosen,
            )
            for film, names in sorted(by_film.items())
            if len(names) > 1
        ]  # fmt: skip

    def _decided(self) -> DecidedOut:
        said = self.made.decided
        return DecidedOut(
            away=dict(said.get("away", {})), together=list(said.get("together", ())), damp=bool(said.get("damp")),
            no_sun=bool(said.get("no_sun")),
            overtime=int(said.get("overtime", self.made.starting["plan_overtime_min"])),
            bays=dict(said.get("bays", {})), by_hand=sorted(self.made.hand_locked),
        )  # fmt: skip

    def _days(self) -> list[DayCount]:
        """The days to come, and how many cars each has."""
        today = min(self.clock.local_day(self.at), self.clock.day)
        settings = shop_day(self.session)
        chosen = [today + timedelta(days=i) for i in range(_DAYS_SHOWN)]
        counts = booked_days(self.session, since=chosen[0].isoformat(), until=chosen[-1].isoformat())
        return [
            DayCount(
                day=one.isoformat(), cars=counts.get(one.isoformat(), 0),
                open=bool(stretches(self.clock, [one], settings.hours, off=settings.closed)),
            )
            for one in chosen
        ]  # fmt: skip


def _span_out(one: Stretch) -> SpanOut:
    return SpanOut(start=one.start, end=one.end)


def _cannot(one: Impossible) -> CannotOut:
    return CannotOut(job_id=one.car, why=one.why, least=one.least)


def utc_now() -> datetime:
    """Now."""
    return datetime.now(UTC)

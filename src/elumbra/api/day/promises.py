"""Bookings, honest promises, and what would save one. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import zoned
from elumbra.api.base.day_words import checked_day
from elumbra.api.day.operations import made_sheet, stamp_of
from elumbra.api.day.schemas import (
    BookingBody,
    BookingOut,
    PromisedOut,
    PromiseOut,
    RescueOut,
    RescueWay,
)
from elumbra.api.day.view import Sheet, utc_now
from elumbra.car.clock import DayClock, stretches
from elumbra.car.day import load_day, shop_day
from elumbra.core.deeds import Deed, State, possible
from elumbra.core.errors import CoreError
from elumbra.core.schedule import (
    Choice,
    DoesNotFitError,
    Lock,
    PlanCar,
    Problem,
    chances,
    first_choice,
    first_plan,
    lay,
    promise,
    simulate,
    without,
)
from elumbra.storage import deeds
from elumbra.storage.bookings import bookings, note_promise, promises_of
from elumbra.storage.door_records import BookingRecord
from elumbra.storage.records import JobRecord
from elumbra.storage.store import jobs, people

_TRIED_DAYS = 10
_QUICK_DAYS = 400


def booking_of(session: Session, job_id: str) -> BookingOut:
    """When a job's car comes and goes, and what was ever promised."""
    job = jobs(session).get(job_id)
    found = bookings(session).find(job_id)
    booked = found if found is not None and not found.removed else None
    names = {one.id: one.name for one in people(session).all(removed_too=True)}
    return BookingOut(
        job_id=job_id, job_version=job.version, version=found.version if found else 0,
        day=booked.day if booked else None, drop_off_at=zoned(booked.drop_off_at) if booked else None,
        pick_up_from=zoned(booked.pick_up_from) if booked else None,
        pick_up_until=zoned(booked.pick_up_until) if booked else None,
        promised_at=zoned(job.promised_at), waits_here=bool(booked and booked.waits_here),
        note=booked.note if booked else "", zone=shop_day(session).zone,
        promises=[
            PromisedOut(
                promised_at=one.promised_at.replace(tzinfo=UTC), chance=one.chance, at=one.at.replace(tzinfo=UTC),
                person=names.get(one.person_id, one.person_id),
            )
            for one in promises_of(session, job_id)
        ],
    )  # fmt: skip


def book(session: Session, job_id: str, body: BookingBody, *, person_id: str) -> str:
    """Book a car, and promise a time.

    Raises
    ------
    CoreError
        A time when the shop is closed, a promise before the drop-off, a pick-up window that ends before it begins.
    StaleWriteError
        Somebody booked it meanwhile.
    """
    job = jobs(session).get_present(job_id)
    settings = shop_day(session)
    clock = DayClock(DayClock(date(2000, 1, 1), settings.zone).local_day(body.drop_off_at), settings.zone)
    _check_times(body, clock, session)
    record = BookingRecord(
        id=job_id, day=clock.day.isoformat(), drop_off_at=_stored(body.drop_off_at),
        pick_up_from=_stored(body.pick_up_from) if body.pick_up_from else None,
        pick_up_until=_stored(body.pick_up_until) if body.pick_up_until else None,
        waits_here=body.waits_here, note=body.note,
    )  # fmt: skip
    before = bookings(session).find(job_id)
    if before is None:
        bookings(session).create(record, person_id=person_id)
    else:
        if before.removed:
            before = bookings(session).restore(job_id, version=body.version, person_id=person_id)
            record = replace(record, version=before.version)
        else:
            record = replace(record, version=body.version)
        bookings(session).update(record, person_id=person_id)
    promised = None if body.promised_at is None else _stored(body.promised_at)
    changed = replace(job, version=body.job_version, promised_at=promised)
    if Deed.BOOK in possible(State(job.status), before=True):
        deeds.do(session, changed, Deed.BOOK, person_id=person_id)
    else:
        jobs(session).update(changed, person_id=person_id)
    if promised is not None and promised != job.promised_at:
        note_promise(session, job_id, promised, chance=body.chance, person_id=person_id)
    return job_id


def _check_times(body: BookingBody, clock: DayClock, session: Session) -> None:
    settings, fields = shop_day(session), {}
    hours = stretches(clock, [clock.day], settings.hours, off=settings.closed)
    arrives = clock.minute(body.drop_off_at)
    if not hours:
        fields["drop_off_at"] = f"The shop is closed on {clock.day:%A} {clock.day}. Choose a day on which it is open."
    elif not hours[0].start - 60 <= arrives <= hours[-1].end:
        span = f"{clock.words(hours[0].start)} to {clock.words(hours[-1].end)}"
        fields["drop_off_at"] = f"The shop is open from {span} on that day."
    if body.promised_at is not None:
        due = clock.minute(body.promised_at)
        if due <= arrives:
            fields["promised_at"] = "A promise before the car is here. Promise a later time."
        elif hours and due < hours[0].start:
            fields["promised_at"] = f"Before the shop opens at {clock.words(hours[0].start)}."
        elif due > arrives + 60 * 24 * 60:
            fields["promised_at"] = "Two months after the car came: a time that nobody means."
    if body.pick_up_from and body.pick_up_until and body.pick_up_until <= body.pick_up_from:
        fields["pick_up_until"] = "The window ends before it begins."
    if body.pick_up_from and body.pick_up_from <= body.drop_off_at:
        fields["pick_up_from"] = "Before the car is here."
    if fields:
        raise CoreError(next(iter(fields.values())), fields=fields)


def _stored(moment: datetime) -> datetime:
    zoned_moment = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    checked_day(zoned_moment.date().isoformat())
    return zoned_moment.astimezone(UTC).replace(tzinfo=None, second=0, microsecond=0)


def unbook(session: Session, job_id: str, *, version: int, person_id: str) -> str:
    """Take a booking back."""
    bookings(session).remove(job_id, version=version, person_id=person_id)
    job = jobs(session).get_present(job_id)
    if job.status == State.BOOKED:
        deeds.do(session, job, Deed.UNBOOK, person_id=person_id)
    return job_id


def promise_for(session: Session, job_id: str, drop_off_at: datetime | None) -> PromiseOut:
    """The earliest honest time for a car: on the first day that holds it without breaking another promise."""
    job = jobs(session).get_present(job_id)
    settings = shop_day(session)
    now = utc_now()
    today = DayClock(date(2000, 1, 1), settings.zone).local_day(now)
    first = today if drop_off_at is None else max(today, DayClock(today, settings.zone).local_day(drop_off_at))
    told: list[str] = []
    tried = 0
    for ahead in range(60):
        day = first + timedelta(days=ahead)
        if not stretches(DayClock(day, settings.zone), [day], settings.hours, off=settings.closed):
            continue
        tried += 1
        found = _promise_on(session, job, day, drop_off_at if ahead == 0 else None, told)
        if found is not None:
            words = found.words if day == first or found.words[0].isalpha() else f"{day:%A} {found.words}"
            return found.model_copy(update={"tried": tried, "words": words})
        if tried >= _TRIED_DAYS:
            break
    told.append(f"None of the next {tried} working days holds it. Have more people in, or ask another day.")
    return PromiseOut(
        at=None, words="No honest time on the days looked at", day=None, sure=0.9, kept=None, drop_off_at=None,
        told=told[-4:], endangers=[], tried=tried,
    )  # fmt: skip


def _promise_on(
    session: Session, job: JobRecord, day: date, drop_off_at: datetime | None, told: list[str]
) -> PromiseOut | None:
    made = load_day(session, day, extra=job)
    own = next((one for one in made.cars if one.job.id == job.id), None)
    if own is None or not own.tasks:
        told.append((own.told if own else "") or "Nothing to plan on this car yet.")
        return None
    if own.told and own.told not in told:
        told.append(own.told)
    rest = without(made.problem, {job.id})
    hours = [one for worker in made.problem.workers for one in worker.hours]
    if not hours:
        return None
    arrives = max(made.problem.now, hours[0].start if drop_off_at is None else made.clock.minute(drop_off_at))
    car = PlanCar(id=job.id, title=f"{job.number} {job.vehicle_label}", arrives=arrives)
    mine = [replace(one, lock=Lock()) for one in own.tasks]
    sure = made.starting["promise_sure"]
    found = promise(rest, car, mine, sure=sure, pace=made.starting["plan_pace_spread"])
    if found is None:
        told.append(f"{day:%A} {day.day} {day:%B} does not hold it.")
        return None
    if found.endangers:
        names = ", ".join(made.problem.car[name].title for name, _, _ in found.endangers)
        told.append(f"On {day:%A} {day.day} {day:%B} it would endanger {names}.")
        return None
    begins = min(one.start for one in found.plan.placed if made.problem.task[one.task].car == job.id)
    return PromiseOut(
        at=made.clock.moment(found.at), words=made.clock.words(found.at), day=day.isoformat(), sure=sure,
        kept=found.sure, drop_off_at=made.clock.moment(max(arrives, begins)), told=told[-4:], endangers=[], tried=1,
    )  # fmt: skip


def rescue(session: Session, day: date, job_id: str) -> RescueOut:
    """What would save a promise: the same day with one thing changed, each tried for real.

    Raises
    ------
    CoreError
        A car that is not on the sheet, or was promised nothing.
    """
    sheet = made_sheet(session, day, stamp_of(session, day))
    car = sheet.problem.car.get(job_id)
    if car is None or car.due is None or sheet.plan is None:
        raise CoreError("This car has no promise on this day. Promise it a time first.")
    now = sheet.chances.get(job_id, 0.0)
    ways = [way for way in _ways(sheet, job_id) if way.chance > now + 0.02]
    ways.sort(key=lambda one: (bool(one.costs), -one.chance))
    words = f"{car.title}: kept on {now:.0%} of days as planned"
    return RescueOut(job_id=job_id, words=words, chance=now, ways=ways[:6])


def _ways(sheet: Sheet, job_id: str) -> list[RescueWay]:
    problem, made = sheet.problem, sheet.made
    found = []
    choice = first_choice(problem)
    press = {**choice.presses, job_id: min(choice.presses.values()) - 1}
    found.append(
        _tried(sheet, job_id, problem, "Work on it before all others", replace(choice, presses=press, enters=press))
    )
    for more in (30, 60):
        workers = tuple(replace(one, overtime=one.overtime + more) for one in problem.workers)
        longer = replace(problem, workers=workers, end=problem.end + more)
        found.append(_tried(sheet, job_id, longer, f"{more} min more overtime for everybody"))
    found += [
        _tried(sheet, job_id, without(problem, {other.id}), f"{other.title} on another day")
        for other in problem.cars
        if other.id != job_id and other.due is None and other.entered is None
    ]
    for away, why in made.problem.away.items():
        name = next((one.name for one in made.people if one.id == away), away)
        if why != "is closed" and (helper := _helper(sheet, away)):
            workers = (*problem.workers, helper)
            found.append(_tried(sheet, job_id, replace(problem, workers=workers), f"{name} comes in after all"))
    return [one for one in found if one is not None]


def _helper(sheet: Sheet, away: str) -> Any:
    """Somebody who is away, as if he worked the hours of another."""
    like = next(iter(sheet.problem.workers), None)
    person = next((one for one in sheet.made.people if one.id == away), None)
    if like is None or person is None:
        return None
    return replace(like, id=away, name=person.name)


def _tried(sheet: Sheet, job_id: str, problem: Problem, words: str, choice: Choice | None = None) -> RescueWay | None:
    try:
        plan = lay(problem, choice) if choice else first_plan(problem).plan
    except DoesNotFitError:
        return None
    after = chances(problem, simulate(problem, plan, days=_QUICK_DAYS, pace=sheet.made.starting["plan_pace_spread"]))
    sure = sheet.made.starting["promise_sure"]
    worse = [
        problem.car[name].title
        for name, chance in after.items()
        if name != job_id and chance < sure and chance < sheet.chances.get(name, 1.0) - 0.02
    ]
    return RescueWay(words=words, chance=after[job_id], costs=f"endangers {', '.join(worse)}" if worse else "")

"""Decisions about a day, bookings and promises. Plain arguments, no web framework."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace
from datetime import UTC, date, timedelta
from difflib import get_close_matches
from hashlib import sha256
from hmac import compare_digest
from secrets import token_urlsafe
from threading import Lock as Mutex
from typing import Any
from zoneinfo import available_timezones

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.api.base.day_words import checked_day, checked_hours, checked_spans
from elumbra.api.day.paper import day_paper
from elumbra.api.day.schemas import (
    BayOnSheet,
    DayDecisions,
    DaySheetOut,
    LockIn,
    SheetPaperQuery,
    ShopDayBody,
    ShopDayOut,
)
from elumbra.api.day.view import Sheet, planned, sheet_out, utc_now
from elumbra.car.clock import DayClock, known_zone, machine_zone
from elumbra.car.day import DAY_SETTINGS, DEFAULTS, load_day, shop_day
from elumbra.core.deeds import OPEN
from elumbra.core.errors import CoreError
from elumbra.documents.calendar import Appointment, calendar_file
from elumbra.documents.day_sheet import day_sheet_pdf
from elumbra.storage import tasks
from elumbra.storage.bookings import bookings, day_sheets
from elumbra.storage.door_records import DaySheetRecord
from elumbra.storage.door_tables import BookingRow, DaySheetRow
from elumbra.storage.job_lists import still_open
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.store import NotFoundError, people, shop_stamp
from elumbra.storage.tables import JobRow, PersonRow, ShopValueRow, WorkTimeRow
from elumbra.tasks.day_sheet import DAY_PLAN, DayPlan, problem_json

KIND = "day_sheet"
CALENDAR_KEY = "calendar_key"
_DEADLINE_S = 30.0
_TRIED_DAYS = 10
_KEPT_SHEETS = 12
_QUARTER_S = 900
_QUICK_DAYS = 400
_made: OrderedDict[tuple[str, str, str], Sheet] = OrderedDict()
_making = Mutex()


def stamp_of(session: Session, day: date) -> str:
    """What changes whenever anything changes that a day is planned from; cheap, for screens that follow."""
    stamps = session.execute(
        select(func.count(), func.sum(JobRow.stamp), func.sum(JobRow.version)).where(
            JobRow.removed.is_(False), JobRow.status.in_(OPEN)
        )
    ).one()
    parts: list[object] = [
        tuple(stamps),
        shop_stamp(session),
        kept(session, DAY_SETTINGS)[1],
        int(utc_now().timestamp()) // _QUARTER_S,
    ]
    parts += [
        tuple(session.execute(select(func.count(), func.sum(table.version))).one())
        for table in (BookingRow, DaySheetRow, PersonRow, ShopValueRow)
    ]
    parts.append(session.scalar(select(func.count()).select_from(WorkTimeRow)))
    return sha256(f"{day}{parts}".encode()).hexdigest()[:16]


def show(session: Session, day: date) -> DaySheetOut:
    """The sheet of a day, with the best plan that is known."""
    stamp = stamp_of(session, day)
    sheet = made_sheet(session, day, stamp)
    basis, task, better = _task_of(session, sheet)
    if better is not None:
        sheet = planned(sheet.made, better=better)
    running = task if task is not None and task.status in tasks.WAITING else None
    return sheet_out(
        session,
        sheet,
        stamp=stamp,
        at=utc_now(),
        task_id=running.id if running else None,
        looked=task is not None,
        basis=basis,
    )


def made_sheet(session: Session, day: date, stamp: str) -> Sheet:
    """A day with a plan made at once; the same one as long as nothing changes."""
    key = (str(session.get_bind().url), day.isoformat(), stamp)  # type: ignore[union-attr]
    with _making:
        if key in _made:
            _made.move_to_end(key)
            return _made[key]
    found = planned(load_day(session, day))
    with _making:
        _made[key] = found
        while len(_made) > _KEPT_SHEETS:
            _made.popitem(last=False)
    return found


def _basis(sheet: Sheet) -> str:
    return sha256(problem_json(sheet.problem).encode()).hexdigest()


def _task_of(session: Session, sheet: Sheet) -> tuple[str, Any, DayPlan | None]:
    """The task that works on this very day, and the best plan that it has found."""
    basis = _basis(sheet)
    task = tasks.newest_for(session, KIND, basis)
    if task is None or not task.result:
        return basis, task, None
    return basis, task, DAY_PLAN.validate_json(task.result)


def ask_better(session: Session, day: date) -> str:
    """Have a better plan of a day looked for; the task's id.

    Raises
    ------
    CoreError
        Nothing is left to plan.
    """
    sheet = made_sheet(session, day, stamp_of(session, day))
    if not sheet.problem.tasks or sheet.plan is None:
        raise CoreError("Nothing is left to plan on this day. Book a car for it first.")
    task = tasks.enqueue(
        session, kind=KIND, job_id=None, input_hash=_basis(sheet), content=problem_json(sheet.problem),
        deadline_s=_DEADLINE_S,
    )  # fmt: skip
    return task.id


def decide(session: Session, day: date, body: DayDecisions, *, person_id: str) -> str:
    """Change what was decided about a day.

    Raises
    ------
    CoreError
        Somebody or something that there is not.
    StaleWriteError
        Somebody decided meanwhile.
    """
    name = day.isoformat()
    record = day_sheets(session).find(name)
    facts = _decided(session, day, dict(record.facts) if record else {}, body)
    if record is None:
        if body.version != 0:
            raise CoreError("This day was begun anew meanwhile. Look at it and decide again.")
        day_sheets(session).create(DaySheetRecord(id=name, facts=facts), person_id=person_id)
    else:
        day_sheets(session).update(replace(record, version=body.version, facts=facts), person_id=person_id)
    return name


def _decided(session: Session, day: date, facts: dict[str, Any], body: DayDecisions) -> dict[str, Any]:
    clock = DayClock(day, shop_day(session).zone)
    locks: dict[str, Any] = {} if body.free_all else dict(facts.get("locks", {}))
    for one in body.locks or ():
        locks.pop(one.task, None)
        if one.worker or one.start is not None:
            locks[one.task] = _lock(session, clock, one)
    facts["locks"] = locks
    if body.free_all:
        facts["bays"] = {}
    if body.bays is not None:
        facts["bays"] = {job: bay for job, bay in {**facts.get("bays", {}), **body.bays}.items() if bay}
        known = {one.name for one in shop_day(session).bays}
        for bay in facts["bays"].values():
            if bay not in known:
                raise CoreError(f"There is no bay “{bay}”.", fields={"bays": f"One of {', '.join(sorted(known))}."})
    if body.away is not None:
        for who in body.away:
            people(session).get_present(who)
        facts["away"] = {who: why for who, why in {**facts.get("away", {}), **body.away}.items() if why}
    for flag in ("together", "damp", "no_sun", "overtime"):
        value = getattr(body, flag)
        if value is not None:
            facts[flag] = value
    return facts


def _lock(session: Session, clock: DayClock, one: LockIn) -> dict[str, Any]:
    if one.worker:
        people(session).get_present(one.worker)
    start = None if one.start is None else clock.moment(one.start).isoformat()
    return {"worker": one.worker, "start": start}


def shop_day_out(session: Session) -> ShopDayOut:
    """How the shop runs its days."""
    settings, (said, version) = shop_day(session), kept(session, DAY_SETTINGS, {})
    value = {**DEFAULTS, **said}
    key = kept(session, CALENDAR_KEY, "")[0]
    return ShopDayOut(
        version=version,
        bays=[BayOnSheet(name=one.name, door=one.door, under_door=one.under_door) for one in settings.bays],
        hours=value["hours"], closed_days=list(value["closed_days"]), yard_places=value["yard_places"],
        sun=value["sun"], zone=settings.zone, machine_zone=machine_zone(),
        calendar=f"/api/calendar/{key}.ics" if key else "",
    )  # fmt: skip


def set_shop_day(session: Session, body: ShopDayBody, *, person_id: str) -> str:
    """Say how the shop runs its days.

    Raises
    ------
    CoreError
        A time zone that there is not, two bays of one name, hours that run backward.
    """
    if body.zone and not known_zone(body.zone):
        near = get_close_matches(body.zone, available_timezones(), n=1)
        hint = f" Did you mean {near[0]}?" if near else ""
        raise CoreError(f"There is no time zone “{body.zone}”.{hint}", fields={"zone": "Such as America/Chicago."})
    names = [one.name.casefold() for one in body.bays]
    if len(set(names)) < len(names):
        raise CoreError("Two bays have the same name.", fields={"bays": "Tell them apart."})
    plain = body.model_dump(mode="json", exclude={"version"})
    plain["hours"] = checked_hours(plain["hours"])
    plain["sun"] = checked_spans(plain["sun"], "the sun's hours")
    plain["closed_days"] = sorted({checked_day(one, "closed_days").isoformat() for one in body.closed_days})
    return keep(session, DAY_SETTINGS, plain, version=body.version, person_id=person_id)


def new_calendar_key(session: Session, *, person_id: str) -> str:
    """A new address for the calendar feed; the old one shows nothing any more."""
    _, version = kept(session, CALENDAR_KEY, "")
    return keep(session, CALENDAR_KEY, token_urlsafe(24), version=version, person_id=person_id)


def calendar(session: Session, *, key: str | None) -> bytes:
    """All booked cars as an iCalendar file.

    Raises
    ------
    NotFoundError
        A key that is not the feed's.
    """
    known = kept(session, CALENDAR_KEY, "")[0]
    if key is not None and (not known or not compare_digest(key, known)):
        raise NotFoundError("calendar", "at this address")
    by_id = {one.id: one for one in bookings(session).all(order="day")}
    found = []
    for job in still_open(session):
        booked = by_id.get(job.id)
        if booked is None:
            continue
        ends = job.promised_at or booked.pick_up_from or booked.drop_off_at + timedelta(hours=1)
        found.append(
            Appointment(
                uid=f"{job.id}@elumbra", title=f"{job.number} {job.vehicle_label}",
                begins=booked.drop_off_at.replace(tzinfo=UTC), ends=max(ends, booked.drop_off_at).replace(tzinfo=UTC),
                note=booked.note, customer=job.customer, sequence=booked.version,
            )
        )  # fmt: skip
    return calendar_file(found)


def printed(session: Session, day: date, query: SheetPaperQuery) -> bytes:
    """The day on paper."""
    return day_sheet_pdf(day_paper(show(session, day)), paper=query.paper)

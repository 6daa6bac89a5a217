"""The made-up shop's next working day: its open cars booked and promised, one of them too boldly."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.clock import DayClock, stretches
from elumbra.car.day import load_day, shop_day
from elumbra.core.deeds import HERE
from elumbra.core.schedule import fitting, rounded_up, simulate
from elumbra.storage import data_files
from elumbra.storage.bookings import bookings, note_promise
from elumbra.storage.database import Database
from elumbra.storage.door_records import BookingRecord
from elumbra.storage.records import JobRecord
from elumbra.storage.store import jobs
from elumbra.tasks.day_sheet import quick_plan

_BY = "demo"
_MORNING_ENDS = 120  # minutes after opening: later, the next working day is filled


def fill_day(database: Database, *, at: datetime | None = None) -> date:
    """Book and promise the demo's open cars; the day."""
    moment = at or datetime.now(UTC)
    with database.session(write=True) as session:
        day = _day(session, moment)
        rows = data_files.read_data("demo.json")["booked"]
        by_number = {job.number: job for job in jobs(session).all()}
        clock = DayClock(day, shop_day(session).zone)
        chosen = [(row, by_number[row["number"]]) for row in rows if row["number"] in by_number]
        for row, job in chosen:
            _book(session, job, clock, row)
            jobs(session).update(replace(jobs(session).get(job.id), promised_at=None), person_id=_BY)
        made = load_day(session, day, at=moment)
        fit = fitting(made.problem, clock=clock.words)
        days = simulate(fit.problem, quick_plan(fit.problem, tries=40).plan)
        for row, job in chosen:
            if row["slack"] is None or job.id not in days.ready:
                continue
            due = rounded_up(days.by(job.id, 0.5 if row["slack"] == 0 else 0.9) + (0 if row["slack"] == 0 else 15))
            promised = clock.moment(due).replace(tzinfo=None)
            jobs(session).update(replace(jobs(session).get(job.id), promised_at=promised), person_id=_BY)
            note_promise(session, job.id, promised, chance=days.chance(job.id, due), person_id=_BY)
    return day


def _day(session: Session, moment: datetime) -> date:
    """Today while the morning is young, else the next day on which the shop is open."""
    settings = shop_day(session)
    day = DayClock(date(2000, 1, 1), settings.zone).local_day(moment)
    while True:
        clock = DayClock(day, settings.zone)
        hours = stretches(clock, [day], settings.hours, off=settings.closed)
        if hours and clock.minute(moment) <= hours[0].start + _MORNING_ENDS:
            return day
        day += timedelta(days=1)


def _book(session: Session, job: JobRecord, clock: DayClock, row: dict[str, Any]) -> None:
    comes = clock.moment(clock.wall(clock.day, row["at"]))
    if job.status in HERE:
        comes -= timedelta(days=1)
    record = BookingRecord(
        id=job.id, day=clock.day.isoformat(), drop_off_at=comes.replace(tzinfo=None),
        waits_here=bool(row.get("waits_here")),
    )  # fmt: skip
    bookings(session).create(record, person_id=_BY)

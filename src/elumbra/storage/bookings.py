"""When cars come and go, what was decided about a day, and what was promised."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.core.deeds import OPEN
from elumbra.storage.declared import as_record, new_id, now
from elumbra.storage.door_records import BookingRecord, DaySheetRecord, PromiseRecord
from elumbra.storage.door_tables import BookingRow, DaySheetRow, PromiseRow
from elumbra.storage.store import Store
from elumbra.storage.tables import JobRow


def bookings(session: Session) -> Store[BookingRecord]:
    """When cars come and go, by job."""
    return Store(session, BookingRow, BookingRecord, "booking")


def day_sheets(session: Session) -> Store[DaySheetRecord]:
    """Days, by ISO day."""
    return Store(session, DaySheetRow, DaySheetRecord, "day")


def note_promise(session: Session, job_id: str, promised_at: datetime, *, chance: float | None, person_id: str) -> None:
    """Keep what was promised."""
    session.add(
        PromiseRow(id=new_id(), job_id=job_id, promised_at=promised_at, chance=chance, person_id=person_id, at=now())
    )
    session.flush()


def promises_of(session: Session, job_id: str) -> list[PromiseRecord]:
    """What was promised for a car, oldest first."""
    query = select(PromiseRow).where(PromiseRow.job_id == job_id).order_by(PromiseRow.at, PromiseRow.id)
    return [as_record(row, PromiseRecord) for row in session.scalars(query)]


def booked_days(session: Session, *, since: str, until: str) -> dict[str, int]:
    """By ISO day, how many open cars are booked for it."""
    query = (
        select(BookingRow.day, func.count())
        .join(JobRow, JobRow.id == BookingRow.id)
        .where(BookingRow.day >= since, BookingRow.day <= until, BookingRow.removed.is_(False))
        .where(JobRow.removed.is_(False), JobRow.status.in_(OPEN))
        .group_by(BookingRow.day)
    )
    return {row[0]: row[1] for row in session.execute(query)}

"""Which jobs a list shows, picked where they are kept."""

from __future__ import annotations

from sqlalchemy import ColumnElement, String, cast, func, or_, select
from sqlalchemy.orm import Session

from elumbra.storage.records import JobRecord, as_record
from elumbra.storage.tables import JobRow
from elumbra.storage.tasks import OPEN_JOBS


def still_open(session: Session) -> list[JobRecord]:
    """Jobs that are booked, in a bay or paused."""
    query = select(JobRow).where(JobRow.removed.is_(False), JobRow.status.in_(OPEN_JOBS))
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def found(session: Session, search: str, *, skip: int, most: int) -> list[JobRecord]:
    """Jobs with all words of a search in number, title, car or customer, newest number first."""
    query = select(JobRow).where(*_matches(search)).order_by(JobRow.number.desc()).offset(skip).limit(most)
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def count_found(session: Session, search: str) -> int:
    """How many jobs a search finds."""
    return session.scalar(select(func.count()).select_from(JobRow).where(*_matches(search))) or 0


def _matches(search: str) -> list[ColumnElement[bool]]:
    searched = (cast(JobRow.number, String), JobRow.title, JobRow.vehicle_label, JobRow.customer)
    words = search.split()  # SQLite's LIKE takes small and capital letters alike
    return [
        JobRow.removed.is_(False),
        *(or_(*(column.contains(word, autoescape=True) for column in searched)) for word in words),
    ]

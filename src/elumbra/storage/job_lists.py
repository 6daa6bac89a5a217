"""Which jobs a list shows, picked where they are kept."""

from __future__ import annotations

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record
from elumbra.storage.finding import jobs_with
from elumbra.storage.records import JobRecord
from elumbra.storage.tables import JobRow
from elumbra.storage.tasks import OPEN_JOBS


def still_open(session: Session) -> list[JobRecord]:
    """Jobs that are booked, in a bay or paused."""
    query = select(JobRow).where(JobRow.removed.is_(False), JobRow.status.in_(OPEN_JOBS))
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def found(session: Session, search: str, *, skip: int, most: int) -> list[JobRecord]:
    """Jobs that a search finds, as ``finding`` does, newest number first."""
    query = select(JobRow).where(*_matches(session, search)).order_by(JobRow.number.desc()).offset(skip).limit(most)
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def count_found(session: Session, search: str) -> int:
    """How many jobs a search finds."""
    return session.scalar(select(func.count()).select_from(JobRow).where(*_matches(session, search))) or 0


def _matches(session: Session, search: str) -> list[ColumnElement[bool]]:
    wanted = jobs_with(session, search)
    return [JobRow.removed.is_(False), *([JobRow.id.in_(wanted)] if wanted is not None else [])]

"""Which jobs a list shows, picked where they are kept."""

from __future__ import annotations

from sqlalchemy import ColumnElement, func, select
from sqlalchemy.orm import Session

from elumbra.core.deeds import OPEN
from elumbra.storage.declared import as_record
from elumbra.storage.finding import jobs_with
from elumbra.storage.records import JobRecord
from elumbra.storage.tables import JobRow


def still_open(session: Session) -> list[JobRecord]:
    """Jobs whose cars are to come or here."""
    query = select(JobRow).where(JobRow.removed.is_(False), JobRow.status.in_(OPEN))
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def found(session: Session, search: str, *, archived: bool = False, skip: int, most: int) -> list[JobRecord]:
    """Jobs, or archived ones, that a search finds, as ``finding`` does, newest number first."""
    query = (
        select(JobRow)
        .where(*_matches(session, search, archived))
        .order_by(JobRow.number.desc())
        .offset(skip)
        .limit(most)
    )
    return [as_record(row, JobRecord) for row in session.scalars(query)]


def count_found(session: Session, search: str, *, archived: bool = False) -> int:
    """How many jobs a search finds."""
    return session.scalar(select(func.count()).select_from(JobRow).where(*_matches(session, search, archived))) or 0


def _matches(session: Session, search: str, archived: bool) -> list[ColumnElement[bool]]:
    wanted = jobs_with(session, search)
    return [JobRow.removed.is_(archived), *([JobRow.id.in_(wanted)] if wanted is not None else [])]

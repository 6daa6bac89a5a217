"""Work times as they were recorded: replaced job by job, read kind by kind."""

from __future__ import annotations

from collections.abc import Iterable

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record
from elumbra.storage.records import StepEventRecord, WorkTime
from elumbra.storage.tables import StepEventRow, WorkTimeRow

_NEWEST = 4000  # times of a shop's last months are what its next job takes
_NEWEST_RESULTS = 400


def replace_times(session: Session, job_id: str, times: Iterable[WorkTime]) -> None:
    """A job's times as its events now say."""
    session.execute(delete(WorkTimeRow).where(WorkTimeRow.job_id == job_id))
    session.add_all(WorkTimeRow(**vars(one)) for one in times)
    session.flush()


def times_of_job(session: Session, job_id: str) -> list[WorkTime]:
    """A job's times, oldest first."""
    query = select(WorkTimeRow).where(WorkTimeRow.job_id == job_id).order_by(WorkTimeRow.at, WorkTimeRow.id)
    return [as_record(row, WorkTime) for row in session.scalars(query)]


Recorded = dict[tuple[str, str], list[tuple[str, float]]]
"""By kind of window and step or phase, person and minutes of each time."""


def recorded(session: Session) -> Recorded:
    """The shop's newest times."""
    query = select(WorkTimeRow.window_kind, WorkTimeRow.what, WorkTimeRow.person_id, WorkTimeRow.minutes)
    found: Recorded = {}
    for kind, what, person_id, minutes in session.execute(query.order_by(WorkTimeRow.at.desc()).limit(_NEWEST)):
        found.setdefault((kind, what), []).append((person_id, minutes))
    return found


def newest_of_kind(session: Session, kind: str) -> list[StepEventRecord]:
    """The shop's newest events of a kind, over all jobs."""
    query = select(StepEventRow).where(StepEventRow.kind == kind)
    rows = session.scalars(query.order_by(StepEventRow.at.desc(), StepEventRow.id).limit(_NEWEST_RESULTS))
    return [as_record(row, StepEventRecord) for row in rows]

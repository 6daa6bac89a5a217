"""The table of long work: a bounded queue that outlives a reload, in the order in which it was asked for."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from elumbra.core.deeds import OPEN
from elumbra.storage.declared import as_record, new_id, now
from elumbra.storage.records import TaskRecord
from elumbra.storage.store import NotFoundError
from elumbra.storage.tables import JobRow, TaskRow

LONGEST_QUEUE = 20
KEPT = 400  # newest tasks, besides the newest plan of every open job
WAITING = ("queued", "running")
_MOST_ATTEMPTS = 2
_DEADLINE_S = 120.0
_MEMORY_MB = 1500


class QueueFullError(Exception):
    """More work is waiting than will be done soon."""


def enqueue(
    session: Session,
    *,
    kind: str,
    job_id: str | None,
    input_hash: str,
    content: str,
    deadline_s: float = _DEADLINE_S,
    memory_mb: int = _MEMORY_MB,
) -> TaskRecord:
    """Ask for work; the same input asked for again gets the task that is already there.

    Waiting tasks of the same kind for older inputs of the same job are cancelled: their answer
    would be late.

    Raises
    ------
    QueueFullError
        The queue is full.
    """
    same = session.scalars(
        select(TaskRow)
        .where(
            TaskRow.kind == kind,
            TaskRow.input_hash == input_hash,
            TaskRow.job_id.is_(job_id) if job_id is None else TaskRow.job_id == job_id,
            TaskRow.status.in_(("queued", "running", "done")),
        )
        .order_by(TaskRow.seq.desc())
    ).first()
    if job_id is not None:
        session.execute(
            update(TaskRow)
            .where(
                TaskRow.job_id == job_id, TaskRow.kind == kind, TaskRow.status.in_(WAITING),
                TaskRow.id != (same.id if same else ""),
            )
            .values(status="cancelled", finished_at=now())
        )  # fmt: skip
    if same:
        return as_record(same, TaskRecord)
    waiting = session.scalar(select(func.count()).select_from(TaskRow).where(TaskRow.status.in_(WAITING))) or 0
    if waiting >= LONGEST_QUEUE:
        raise QueueFullError(f"{waiting} layouts are waiting already. Stop one, or try again in a minute.")
    row = TaskRow(
        id=new_id(), kind=kind, job_id=job_id, input_hash=input_hash, input=content, status="queued", progress=0,
        summary={}, error="", attempts=0, deadline_s=deadline_s, memory_mb=memory_mb, created_at=now(),
    )  # fmt: skip
    session.add(row)
    session.flush()
    _prune(session)
    return as_record(row, TaskRecord)


def _prune(session: Session) -> None:
    """Forget the oldest by sequence; a clock that jumps forgets nothing."""
    limit = session.scalar(select(TaskRow.seq).order_by(TaskRow.seq.desc()).offset(KEPT).limit(1))
    if limit is None:
        return
    newest = (
        select(func.max(TaskRow.seq))
        .join(JobRow, JobRow.id == TaskRow.job_id)
        .where(TaskRow.status == "done", JobRow.status.in_(OPEN))
        .group_by(TaskRow.job_id, TaskRow.kind)
    )
    session.execute(
        delete(TaskRow)
        .where(TaskRow.seq <= limit, TaskRow.status.not_in(WAITING), TaskRow.seq.not_in(newest))
        .execution_options(synchronize_session=False)
    )


def get(session: Session, task_id: str) -> TaskRecord:
    """A task by its id.

    Raises
    ------
    NotFoundError
        There is none.
    """
    row = session.scalars(select(TaskRow).where(TaskRow.id == task_id)).first()
    if row is None:
        raise NotFoundError("layout", task_id)
    return as_record(row, TaskRecord)


def newest_for(session: Session, kind: str, input_hash: str) -> TaskRecord | None:
    """The newest task of a kind for an input, whatever became of it; None where nobody asked."""
    query = select(TaskRow).where(TaskRow.kind == kind, TaskRow.input_hash == input_hash)
    row = session.scalars(query.order_by(TaskRow.seq.desc())).first()
    return None if row is None else as_record(row, TaskRecord)


def next_queued(session: Session) -> TaskRecord | None:
    """The task that has waited longest, marked running."""
    row = session.scalars(select(TaskRow).where(TaskRow.status == "queued").order_by(TaskRow.seq)).first()
    if row is None:
        return None
    row.status = "running"
    row.attempts += 1
    session.flush()
    return as_record(row, TaskRecord)


def record_step(
    session: Session, task_id: str, *, result: str, summary: Mapping[str, Any] | None = None, finished: bool
) -> None:
    """Keep a better result, unless the task was cancelled meanwhile."""
    values: dict[str, object] = {"result": result, "progress": TaskRow.progress + 1}
    if summary is not None:
        values["summary"] = dict(summary)
    if finished:
        values |= {"status": "done", "finished_at": now()}
    session.execute(update(TaskRow).where(TaskRow.id == task_id, TaskRow.status == "running").values(**values))


def finish(session: Session, task_id: str, *, status: str, error: str = "") -> None:
    """End a task that still waits; the best result found so far stays."""
    session.execute(
        update(TaskRow)
        .where(TaskRow.id == task_id, TaskRow.status.in_(WAITING))
        .values(status=status, error=error, finished_at=now())
    )


def stop(session: Session, task_id: str, *, otherwise: str, error: str = "") -> None:
    """End a task that still waits, as done with the best found; as ``otherwise`` where nothing is found yet.

    Raises
    ------
    NotFoundError
        There is no such task.
    """
    found = get(session, task_id).result is not None
    finish(session, task_id, status="done" if found else otherwise, error=error)


def requeue_interrupted(session: Session) -> None:
    """What was running when nobody works on it starts again; a task that ended its process twice has failed."""
    session.execute(
        update(TaskRow)
        .where(TaskRow.status == "running", TaskRow.attempts >= _MOST_ATTEMPTS)
        .values(status="failed", error="The planner was stopped twice while at this. Change the job and ask again.",
                finished_at=now())
    )  # fmt: skip
    session.execute(update(TaskRow).where(TaskRow.status == "running").values(status="queued"))


def finished_for(session: Session, kind: str, job_id: str | None, input_hash: str) -> TaskRecord | None:
    """The finished task of a job as it stands now, however long ago it was asked for."""
    row = session.scalars(
        select(TaskRow)
        .where(TaskRow.kind == kind, TaskRow.input_hash == input_hash, TaskRow.status == "done")
        .where(TaskRow.job_id.is_(None) if job_id is None else TaskRow.job_id == job_id)
        .order_by(TaskRow.seq.desc())
    ).first()
    return as_record(row, TaskRecord) if row else None


def newest_result(session: Session, kind: str, job_id: str) -> str | None:
    """What the newest finished task of a job came to, whatever state of the job it was for."""
    query = (
        select(TaskRow.result)
        .where(TaskRow.kind == kind, TaskRow.job_id == job_id, TaskRow.status == "done")
        .order_by(TaskRow.seq.desc())
    )
    return session.scalars(query).first()


def latest_summaries(session: Session, kind: str, job_ids: Iterable[str]) -> dict[str, Mapping[str, Any]]:
    """What the newest finished task of each job came to, in short."""
    query = (
        select(TaskRow.job_id, TaskRow.summary)
        .where(TaskRow.kind == kind, TaskRow.job_id.in_(list(job_ids)), TaskRow.status == "done")
        .order_by(TaskRow.seq)
    )
    return {str(job_id): summary for job_id, summary in session.execute(query)}


def latest_plans(session: Session, job_ids: Iterable[str]) -> dict[str, tuple[str, Mapping[str, Any]]]:
    """The newest finished plan of each job: what it was made from, and what it came to in short."""
    query = (
        select(TaskRow.job_id, TaskRow.input_hash, TaskRow.summary)
        .where(TaskRow.kind == "plan", TaskRow.job_id.in_(list(job_ids)), TaskRow.status == "done")
        .order_by(TaskRow.seq)
    )
    return {str(job_id): (hashed, summary) for job_id, hashed, summary in session.execute(query)}


def waiting(session: Session) -> int:
    """How many tasks are queued or running."""
    return session.scalar(select(func.count()).select_from(TaskRow).where(TaskRow.status.in_(WAITING))) or 0

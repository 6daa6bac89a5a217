"""The table of layouts being worked out: a bounded queue that outlives a reload."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from elumbra.storage.records import SolveRecord, as_record
from elumbra.storage.store import NotFoundError, new_id, now
from elumbra.storage.tables import SolveRow

LONGEST_QUEUE = 20
_KEPT_DAYS = 30
WAITING = ("queued", "running")


class QueueFullError(Exception):
    """More layouts are waiting than will be worked out soon."""


def enqueue(
    session: Session, *, job_id: str | None, input_hash: str, document: str, pull_from_customary: bool = False
) -> SolveRecord:
    """Ask for a layout; the same input asked for again gets the solve that is already there.

    Waiting solves of older inputs of the same job are cancelled: their answer would be late.

    Raises
    ------
    QueueFullError
        The queue is full.
    """
    same = session.scalars(
        select(SolveRow)
        .where(
            SolveRow.input_hash == input_hash,
            SolveRow.job_id.is_(job_id) if job_id is None else SolveRow.job_id == job_id,
            SolveRow.pull_from_customary == pull_from_customary,
            SolveRow.status.in_(("queued", "running", "done")),
        )
        .order_by(SolveRow.created_at.desc())
    ).first()
    if job_id is not None:
        session.execute(
            update(SolveRow)
            .where(
                SolveRow.job_id == job_id, SolveRow.status.in_(WAITING), SolveRow.id != (same.id if same else "")
            )
            .values(status="cancelled", finished_at=now())
        )  # fmt: skip
    if same:
        return as_record(same, SolveRecord)
    waiting = session.scalar(select(func.count()).select_from(SolveRow).where(SolveRow.status.in_(WAITING))) or 0
    if waiting >= LONGEST_QUEUE:
        raise QueueFullError(f"{waiting} layouts are waiting already. Stop one, or try again in a minute.")
    session.execute(delete(SolveRow).where(SolveRow.created_at < now() - timedelta(days=_KEPT_DAYS)))
    row = SolveRow(
        id=new_id(), job_id=job_id, input_hash=input_hash, input=document, status="queued", step=0,
        pull_from_customary=pull_from_customary, error="", created_at=_moment(),
    )  # fmt: skip
    session.add(row)
    session.flush()
    return as_record(row, SolveRecord)


def _moment() -> datetime:
    """Now, to the microsecond: solves of one job follow each other within a second."""
    return datetime.now(UTC).replace(tzinfo=None)


def get(session: Session, solve_id: str) -> SolveRecord:
    """A solve by its id.

    Raises
    ------
    NotFoundError
        There is none.
    """
    row = session.get(SolveRow, solve_id)
    if row is None:
        raise NotFoundError("layout", solve_id)
    return as_record(row, SolveRecord)


def next_queued(session: Session) -> SolveRecord | None:
    """The solve that has waited longest, marked running."""
    row = session.scalars(
        select(SolveRow).where(SolveRow.status == "queued").order_by(SolveRow.created_at, SolveRow.id)
    ).first()
    if row is None:
        return None
    row.status = "running"
    session.flush()
    return as_record(row, SolveRecord)


def record_step(session: Session, solve_id: str, *, plan: str, finished: bool) -> None:
    """Keep a better plan, unless the solve was cancelled meanwhile."""
    values: dict[str, object] = {"plan": plan, "step": SolveRow.step + 1}
    if finished:
        values |= {"status": "done", "finished_at": now()}
    session.execute(update(SolveRow).where(SolveRow.id == solve_id, SolveRow.status == "running").values(**values))


def finish(session: Session, solve_id: str, *, status: str, error: str = "") -> None:
    """End a solve that still waits; the best plan found so far stays."""
    session.execute(
        update(SolveRow)
        .where(SolveRow.id == solve_id, SolveRow.status.in_(WAITING))
        .values(status=status, error=error, finished_at=now())
    )


def requeue_interrupted(session: Session) -> None:
    """After a restart: what was running when the server stopped starts again."""
    session.execute(update(SolveRow).where(SolveRow.status == "running").values(status="queued"))


def finished_for(session: Session, job_id: str, input_hash: str) -> SolveRecord | None:
    """The finished solve of a job as it stands now, however long ago it was asked for."""
    row = session.scalars(
        select(SolveRow)
        .where(SolveRow.job_id == job_id, SolveRow.input_hash == input_hash, SolveRow.status == "done")
        .order_by(SolveRow.created_at.desc())
    ).first()
    return as_record(row, SolveRecord) if row else None


def latest_plans(session: Session, job_ids: Iterable[str]) -> dict[str, SolveRecord]:
    """The newest finished solve of each job."""
    query = (
        select(SolveRow)
        .where(SolveRow.job_id.in_(list(job_ids)), SolveRow.status == "done")
        .order_by(SolveRow.created_at, SolveRow.id)
    )
    return {str(row.job_id): as_record(row, SolveRecord) for row in session.scalars(query)}

"""Runs on the practice glass as they are kept: begun, their strokes added as they come, ended with a score."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import Integer, cast, delete, func, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record, now
from elumbra.storage.practice_records import PracticeRecord
from elumbra.storage.practice_tables import PracticeRunRow, PracticeStrokesRow
from elumbra.storage.store import NotFoundError


@dataclass(frozen=True)
class Tally:
    """What somebody has done of one lesson."""

    runs: int
    best: int | None
    passes: int


def begin_run(session: Session, record: PracticeRecord) -> str:
    """Keep a run that begins; its id."""
    session.add(PracticeRunRow(**vars(record)))
    session.flush()
    return record.id


def practice_run(session: Session, run_id: str) -> PracticeRecord:
    """A run.

    Raises
    ------
    NotFoundError
        There is none.
    """
    row = session.get(PracticeRunRow, run_id)
    if row is None:
        raise NotFoundError("practice run", run_id)
    return as_record(row, PracticeRecord)


def add_strokes(session: Session, run_id: str, *, after: int, until: int, rows: Sequence[Sequence[Any]]) -> None:
    """Keep strokes and how far the run went with them."""
    session.add(PracticeStrokesRow(run_id=run_id, after=after, until=until, rows=[list(row) for row in rows]))
    row = session.get(PracticeRunRow, run_id)
    assert row is not None
    row.steps = until
    session.flush()


def end_run(session: Session, run_id: str, *, points: int, passed: bool, score: Mapping[str, Any]) -> None:
    """The run is over: what it was worth."""
    row = session.get(PracticeRunRow, run_id)
    assert row is not None
    row.over, row.points, row.passed, row.score = True, points, passed, dict(score)
    parts = strokes_of(session, run_id)
    if len(parts) > 1:
        # Three thousand answers are three thousand rows while it is played; looked back at, it is one.
        session.execute(delete(PracticeStrokesRow).where(PracticeStrokesRow.run_id == run_id))
        whole = [stroke for _, _, rows in parts for stroke in rows]
        session.add(PracticeStrokesRow(run_id=run_id, after=0, until=parts[-1][1], rows=whole))
    session.flush()


def forget_unfinished(session: Session, *, days: int) -> int:
    """Runs that were begun so many days ago and never ended are gone; how many."""
    old = select(PracticeRunRow.id).where(~PracticeRunRow.over, PracticeRunRow.at < now() - timedelta(days=days))
    ids = list(session.scalars(old))
    session.execute(delete(PracticeStrokesRow).where(PracticeStrokesRow.run_id.in_(ids)))
    session.execute(delete(PracticeRunRow).where(PracticeRunRow.id.in_(ids)))
    return len(ids)


def strokes_of(session: Session, run_id: str, *, since: int = 0) -> list[tuple[int, int, list[list[Any]]]]:
    """A run's strokes part by part: after which step, until which, and the rows; from a step on."""
    parts = session.scalars(
        select(PracticeStrokesRow)
        .where(PracticeStrokesRow.run_id == run_id, PracticeStrokesRow.until > since)
        .order_by(PracticeStrokesRow.after)
    )
    return [(part.after, part.until, part.rows) for part in parts]


def recent_runs(session: Session, person_id: str, *, most: int) -> list[PracticeRecord]:
    """Somebody's latest runs by hand."""
    rows = session.scalars(
        select(PracticeRunRow)
        .where(PracticeRunRow.person_id == person_id, PracticeRunRow.by != "robot")
        .order_by(PracticeRunRow.at.desc(), PracticeRunRow.id)
        .limit(most)
    )
    return [as_record(row, PracticeRecord) for row in rows]


def robot_run(session: Session, setup_digest: str, *, rules: str, seed: int) -> PracticeRecord | None:
    """The robot's run on the same pane, film, day and rules, where it was shown before."""
    row = session.scalars(
        select(PracticeRunRow).where(
            PracticeRunRow.setup_digest == setup_digest, PracticeRunRow.by == "robot", PracticeRunRow.rules == rules,
            PracticeRunRow.seed == seed, PracticeRunRow.over,
        ).limit(1)
    ).first()  # fmt: skip
    return None if row is None else as_record(row, PracticeRecord)


def tallies(session: Session) -> dict[tuple[str, str], Tally]:
    """Of every person and lesson: runs that were ended by hand, the best, how many passed."""
    rows = session.execute(
        select(
            PracticeRunRow.person_id, PracticeRunRow.lesson, func.count(), func.max(PracticeRunRow.points),
            func.sum(cast(PracticeRunRow.passed, Integer)),
        )
        .where(PracticeRunRow.over, PracticeRunRow.by == "hand")
        .group_by(PracticeRunRow.person_id, PracticeRunRow.lesson)
    )  # fmt: skip
    return {(person, lesson): Tally(runs, best, passes or 0) for person, lesson, runs, best, passes in rows}

"""The glass shelf's records."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record, now
from elumbra.storage.records import JobRecord
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord, ShelfRevisionRecord
from elumbra.storage.store import shelf_panes
from elumbra.storage.tables import JobRow, ShelfCarRow, ShelfPaneRow, ShelfRevisionRow, WindowRow


def add_pane(session: Session, record: ShelfPaneRecord, *, person_id: str, why: str = "measured") -> ShelfPaneRecord:
    """A new pane of a shelf car, with its first revision."""
    made = shelf_panes(session).create(replace(record, revision=1), person_id=person_id)
    _keep(session, made, person_id=person_id, why=why)
    return made


def revise(session: Session, record: ShelfPaneRecord, *, person_id: str, why: str) -> ShelfPaneRecord:
    """A pane as it should be: a new revision, the old ones stay.

    Raises
    ------
    StaleWriteError
        Somebody else made one meanwhile.
    """
    before = shelf_panes(session).get(record.id)
    made = shelf_panes(session).update(
        replace(record, revision=before.revision + 1), person_id=person_id, action="revised"
    )
    _keep(session, made, person_id=person_id, why=why)
    return made


def _keep(session: Session, record: ShelfPaneRecord, *, person_id: str, why: str) -> None:
    row = ShelfRevisionRow(
        pane_id=record.id,
        revision=record.revision,
        content=dict(record.content),
        why=why,
        person_id=person_id,
        at=now(),
    )
    session.add(row)
    session.flush()


def revisions(session: Session, pane_ids: Sequence[str]) -> list[ShelfRevisionRecord]:
    """Every revision of some panes, newest first."""
    query = select(ShelfRevisionRow).where(ShelfRevisionRow.pane_id.in_(pane_ids))
    rows = session.scalars(query.order_by(ShelfRevisionRow.revision.desc(), ShelfRevisionRow.pane_id))
    return [as_record(row, ShelfRevisionRecord) for row in rows]


def revision(session: Session, pane_id: str, number: int) -> ShelfRevisionRecord | None:
    """One revision of a pane; None where there is none."""
    row = session.get(ShelfRevisionRow, (pane_id, number))
    return None if row is None else as_record(row, ShelfRevisionRecord)


def find_cars(session: Session, words: str, *, most: int, skip: int = 0) -> tuple[list[ShelfCarRecord], int]:
    """Cars whose words hold all of these, in any order, and how many there are in all."""
    query = select(ShelfCarRow).where(ShelfCarRow.removed.is_(False))
    for word in words.lower().split():
        escaped = word.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
        query = query.where(ShelfCarRow.search.like(f"%{escaped}%", escape="\\"))
    total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
    rows = session.scalars(query.order_by(ShelfCarRow.name, ShelfCarRow.years).limit(most).offset(skip))
    return [as_record(row, ShelfCarRecord) for row in rows], total


def panes_of(session: Session, car_ids: Sequence[str]) -> dict[str, list[ShelfPaneRecord]]:
    """Panes of some cars in walkaround order, by car."""
    found: dict[str, list[ShelfPaneRecord]] = {car_id: [] for car_id in car_ids}
    query = select(ShelfPaneRow).where(ShelfPaneRow.car_id.in_(car_ids), ShelfPaneRow.removed.is_(False))
    for row in session.scalars(query.order_by(ShelfPaneRow.ordinal, ShelfPaneRow.id)):
        found[row.car_id].append(as_record(row, ShelfPaneRecord))
    return found


def panes_near(
    session: Session, *, width: float, height: float, kind: str, within: float, most: int
) -> list[ShelfPaneRecord]:
    """Panes of a kind whose sizes are near these [mm], nearest first."""
    apart = func.abs(ShelfPaneRow.width_mm - width) + func.abs(ShelfPaneRow.height_mm - height)
    query = (
        select(ShelfPaneRow)
        .join(ShelfCarRow, ShelfCarRow.id == ShelfPaneRow.car_id)
        .where(
            ShelfPaneRow.removed.is_(False),
            ShelfCarRow.removed.is_(False),
            ShelfPaneRow.width_mm.between(width - within, width + within),
            ShelfPaneRow.height_mm.between(height - within, height + within),
            ShelfPaneRow.content["kind"].as_string() == kind,
        )
        .order_by(apart, ShelfPaneRow.id)
        .limit(most)
    )
    return [as_record(row, ShelfPaneRecord) for row in session.scalars(query)]


def jobs_using(session: Session, pane_ids: Sequence[str]) -> list[tuple[str, int | None, str, JobRecord]]:
    """Which jobs have windows from some panes: pane, revision, the window's label, the job."""
    query = (
        select(WindowRow.shelf_pane_id, WindowRow.shelf_revision, WindowRow.label, JobRow)
        .join(JobRow, JobRow.id == WindowRow.job_id)
        .where(WindowRow.shelf_pane_id.in_(pane_ids), WindowRow.removed.is_(False), JobRow.removed.is_(False))
        .order_by(JobRow.number.desc(), WindowRow.ordinal)
    )
    return [
        (str(pane_id), number, label, as_record(job, JobRecord))
        for pane_id, number, label, job in session.execute(query)
    ]


def all_cars(session: Session) -> list[ShelfCarRecord]:
    """Every car on the shelf, by name."""
    query = select(ShelfCarRow).where(ShelfCarRow.removed.is_(False)).order_by(ShelfCarRow.name, ShelfCarRow.years)
    return [as_record(row, ShelfCarRecord) for row in session.scalars(query)]

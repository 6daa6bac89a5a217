"""Cars as they went: kept once at the handover, with their papers, and read from then on."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from elumbra.core.deeds import State
from elumbra.storage.declared import as_record
from elumbra.storage.kept_records import DeliveryRecord, PaperRecord
from elumbra.storage.kept_tables import DeliveryRow, PaperRow
from elumbra.storage.tables import JobRow


def keep_delivery(session: Session, record: DeliveryRecord) -> DeliveryRecord:
    """Keep a car as it goes."""
    session.add(DeliveryRow(**vars(record)))
    session.flush()
    return record


def deliveries_of(session: Session, job_id: str) -> list[DeliveryRecord]:
    """Every time that a car went, the newest last."""
    query = select(DeliveryRow).where(DeliveryRow.job_id == job_id).order_by(DeliveryRow.number)
    return [as_record(row, DeliveryRecord) for row in session.scalars(query)]


def standing_deliveries(session: Session, job_ids: Sequence[str]) -> dict[str, DeliveryRecord]:
    """Of jobs whose car is gone, how it went last; a delivery that was undone stands no more."""
    query = (
        select(DeliveryRow)
        .join(JobRow, JobRow.id == DeliveryRow.job_id)
        .where(DeliveryRow.job_id.in_(job_ids), JobRow.status == State.DELIVERED.value)
        .order_by(DeliveryRow.number)
    )
    return {row.job_id: as_record(row, DeliveryRecord) for row in session.scalars(query)}


def never_frozen(session: Session) -> list[str]:
    """Jobs whose car is gone and was never kept as it went, oldest first: they are of an older release."""
    kept = select(DeliveryRow.job_id)
    query = select(JobRow.id).where(JobRow.status == State.DELIVERED.value, JobRow.id.not_in(kept))
    query = query.order_by(JobRow.number)
    return list(session.scalars(query))


def keep_paper(session: Session, record: PaperRecord) -> None:
    """Keep a paper as it goes with the car."""
    session.add(PaperRow(**vars(record)))
    session.flush()


def kept_paper(session: Session, delivery_id: str, name: str, size: str) -> bytes | None:
    """A paper as it went, as PDF; None where it did not go."""
    query = select(PaperRow.content).where(
        PaperRow.delivery_id == delivery_id, PaperRow.name == name, PaperRow.size == size
    )
    return session.scalar(query)


def without_person(session: Session, job_id: str, erased: str) -> None:
    """Take out of a job's deliveries what says who a person is; their papers are made anew without him."""
    for row in session.scalars(select(DeliveryRow).where(DeliveryRow.job_id == job_id)):
        job = {**row.job_file.get("job", {}), "customer": erased, "note": "", "title": erased}
        row.job_file = {**row.job_file, "job": job}
        session.execute(delete(PaperRow).where(PaperRow.delivery_id == row.id))

"""Deeds: kept one after the other, and with each the state of the job that follows from them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from typing import Any

from sqlalchemy import literal_column, select
from sqlalchemy.orm import Session

from elumbra.core.deeds import Deed, State, check_deed, state_after
from elumbra.storage.declared import as_record, now
from elumbra.storage.kept_records import DeedRecord
from elumbra.storage.kept_tables import DeedRow
from elumbra.storage.records import JobRecord
from elumbra.storage.store import jobs, people


def deeds_of(session: Session, job_id: str) -> list[DeedRecord]:
    """A job's deeds, oldest first."""
    query = select(DeedRow).where(DeedRow.job_id == job_id).order_by(literal_column("deed.rowid"))
    return [as_record(row, DeedRecord) for row in session.scalars(query)]


def counting(done: list[DeedRecord]) -> list[DeedRecord]:
    """Deeds that no step back has undone."""
    found: list[DeedRecord] = []
    for one in done:
        if Deed(one.deed) is not Deed.STEP_BACK:
            found.append(one)
        elif found:
            found.pop()
    return found


def do(
    session: Session,
    job: JobRecord,
    deed: Deed,
    *,
    person_id: str,
    reason: str = "",
    told: Mapping[str, Any] | None = None,
    at: datetime | None = None,
    action: str = "",
) -> JobRecord:
    """Keep a deed and what follows from it; other changes of ``job`` are kept with it.

    ``job`` is the job as it should be besides its state; its version is the one that the deed is based on. ``told``
    is what the deed was based on. Why is asked for where ``core.deeds.REASON_ASKED`` says so.

    Raises
    ------
    CoreError
        It makes no sense in this state, or a reason is missing.
    StaleWriteError
        Somebody changed the job meanwhile.
    """
    done = deeds_of(session, job.id)
    kinds = [Deed(one.deed) for one in done]
    if jobs(session).get(job.id).version == job.version:  # who is late is told so, not that it makes no sense
        check_deed(state_after(kinds), deed, before=bool(counting(done)), reason=reason)
    state = state_after([*kinds, deed])
    changed = jobs(session).update(replace(job, status=state.value), person_id=person_id, action=action or deed.value)
    person = people(session).find(person_id)
    record = DeedRecord(
        job_id=job.id, deed=deed.value, state=state.value, reason=reason.strip(), told=told or {}, person_id=person_id,
        person_name=person.name if person else "", at=at or now(),
    )  # fmt: skip
    session.add(DeedRow(**vars(record)))
    session.flush()
    return changed


def lead_to(session: Session, job: JobRecord, state: State, *, person_id: str, at: datetime | None = None) -> JobRecord:
    """The deeds by which a job comes to a state, for shops that are made up."""
    for deed in _ROADS[state]:
        job = do(session, job, deed, person_id=person_id, at=at)
    return job


_ROADS: Mapping[State, tuple[Deed, ...]] = {
    State.INQUIRY: (),
    State.BOOKED: (Deed.BOOK,),
    State.ARRIVED: (Deed.BOOK, Deed.ARRIVE),
    State.IN_BAY: (Deed.BOOK, Deed.ARRIVE, Deed.START),
    State.PAUSED: (Deed.BOOK, Deed.ARRIVE, Deed.START, Deed.PAUSE),
    State.READY: (Deed.BOOK, Deed.ARRIVE, Deed.START, Deed.FINISH),
    State.DELIVERED: (Deed.BOOK, Deed.ARRIVE, Deed.START, Deed.FINISH, Deed.DELIVER),
    State.NO_SHOW: (Deed.BOOK, Deed.NO_SHOW),
}

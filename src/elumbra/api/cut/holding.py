"""Film held for a job's plan: reserved until it is cut, released, planned anew or the promised day ends."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.cut.operations import job_plan
from elumbra.api.cut.schemas import HoldBody
from elumbra.core.errors import CoreError
from elumbra.core.units import format_inches
from elumbra.storage import clock, holds, ledger
from elumbra.storage.ledger import counts
from elumbra.storage.records import JobRecord, PersonRecord
from elumbra.storage.store import jobs


def hold_film(session: Session, job_id: str, body: HoldBody, *, person: PersonRecord) -> str:
    """Hold what the job's plan takes; the job's id.

    Raises
    ------
    ApiError
        The plan is not that of the job as it stands.
    CoreError
        Nothing is planned, nobody said until when, or somebody else holds that film.
    """
    job = jobs(session).get_present(job_id)
    planned = job_plan(session, job_id)
    if planned.input_hash != body.input_hash:
        raise ApiError("no_plan", "The job has changed since this plan was made. Look at the new plan first.")
    lengths = planned.plan.taken
    if not lengths:
        raise CoreError("This plan takes no film, so there is nothing to hold.")
    others = holds.held_counts(session, but_jobs=[job_id])
    for stock_id, length in lengths.items():
        left = ledger.stock_with_left(session, stock_id)
        if counts(length) > left.left_count - others.get(stock_id, 0):
            raise CoreError(
                f"{holders(session, stock_id, but_jobs=[job_id])} What is free of it is too little to hold."
            )
    holds.hold(
        session, job_id, {stock_id: counts(length) for stock_id, length in lengths.items()},
        until=_until(job, body.until), person_id=person.id, person_name=person.name,
    )  # fmt: skip
    return job_id


def _until(job: JobRecord, said: date | None) -> str:
    """The day to whose end film is held: as said, else the promised one."""
    today = clock.today_iso()
    if said is not None:
        day = said.isoformat()
    elif job.promised_at is not None:
        day = job.promised_at.replace(tzinfo=UTC).astimezone().date().isoformat()
    else:
        words = "This job has no promised day. Say until when the film is held."
        raise CoreError(words, fields={"until": words})
    if day < today:
        words = f"{day} is over. Say a day from today on."
        raise CoreError(words, fields={"until": words})
    return day


def release(session: Session, job_id: str, *, person_id: str) -> str:
    """Let go of what a job holds; the job's id."""
    jobs(session).get_present(job_id)
    holds.end(session, job_id, why=holds.RELEASED, person_id=person_id)
    return job_id


def holders(session: Session, stock_id: str, *, but_jobs: Sequence[str]) -> str:
    """Who holds how much of a piece of stock for what job, in sentences."""
    label = ledger.stock_with_left(session, stock_id).label
    told = []
    for one in holds.standing(session, stock_id=stock_id):
        if one.job_id not in but_jobs:
            job = jobs(session).get(one.job_id)
            length = format_inches(one.count / counts(1.0))
            told.append(
                f"{one.person_name} holds {length} in of {label} for job {job.number}, {job.title}, until {one.until}."
            )
    return " ".join(told)


def ask_about_holds(session: Session, taken: dict[str, int], *, job_ids: Sequence[str], sure: bool) -> None:
    """Ask before film is cut that is held for another job.

    Raises
    ------
    ApiError
        ``ask_again``, with the holders' names, until somebody is sure.
    """
    others = holds.held_counts(session, but_jobs=job_ids)
    told = [
        holders(session, stock_id, but_jobs=job_ids)
        for stock_id, count in taken.items()
        if ledger.stock_with_left(session, stock_id).left_count - count < others.get(stock_id, 0)
    ]
    if told and not sure:
        raise ApiError("ask_again", f"{' '.join(told)} Cut into it all the same?")

"""What can be done with a job as a whole, and the lists of them. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import LEAD
from elumbra.api.car_view.briefs import briefs
from elumbra.api.car_view.deeds import BY_BUTTON
from elumbra.api.car_view.law_books import check_states, home_states, judged_now
from elumbra.api.car_view.view import load_car
from elumbra.api.car_view.ways import way_for
from elumbra.api.jobs.schemas import (
    BoardOut,
    ChangeEntry,
    ChangesOut,
    DeedBody,
    History,
    HistoryEntry,
    JobCreate,
    JobList,
    JobPatch,
    ListQuery,
)
from elumbra.car import (
    glass_shelf,
    load_look,
    merged_answers,
    not_put_back,
    redos_open,
    shop_starting_values,
    stored_facts,
)
from elumbra.car.shop import own_figures
from elumbra.core.deeds import Deed, State
from elumbra.core.errors import CoreError
from elumbra.core.survey import CAR_FINDINGS
from elumbra.core.work import VehicleFacts, WindowFacts, may_be_unsaid
from elumbra.storage import data_files, deeds, holds, job_lists
from elumbra.storage.declared import new_id
from elumbra.storage.film_uses import restorable_windows
from elumbra.storage.records import JobRecord, PersonRecord, WindowRecord
from elumbra.storage.store import job_changes, job_history, jobs, next_job_number, people, shop_stamp, windows

_NEVER = datetime(9999, 1, 1)  # noqa: DTZ001  stored times carry no zone
_EARLIEST, _LATEST = datetime(2000, 1, 1, tzinfo=UTC), datetime(2200, 1, 1, tzinfo=UTC)
_EMPTY_IS_TEXT = ("customer", "note", "bay")
_MAY_BE_EMPTY = may_be_unsaid(VehicleFacts).union(_EMPTY_IS_TEXT, {"promised_at"})
_ON_PAGE = 50
ToKeep = dict[str, tuple[str, str]]


def list_jobs(session: Session, query: ListQuery, *, to_keep: ToKeep) -> JobList:
    """A page of jobs, newest number first."""
    total = job_lists.count_found(session, query.search, archived=query.archived)
    pages = max(1, -(-total // _ON_PAGE))
    page = min(query.page, pages)
    found = job_lists.found(
        session, query.search, archived=query.archived, skip=(page - 1) * _ON_PAGE, most=_ON_PAGE
    )  # fmt: skip
    return JobList(jobs=briefs(session, found, to_keep=to_keep), page=page, pages=pages, total=total)


def board(session: Session, *, to_keep: ToKeep) -> BoardOut:
    """What is in the bays, what is next, what is stuck."""
    still_open = job_lists.still_open(session)
    still_open.sort(key=lambda job: (job.promised_at or _NEVER, job.number))
    shown = briefs(session, still_open, to_keep=to_keep)
    return BoardOut(
        in_bays=sorted((b for b in shown if b.status == State.IN_BAY), key=lambda b: b.bay),
        next=[b for b in shown if b.status != State.IN_BAY and not b.problems],
        stuck=[b for b in shown if b.status != State.IN_BAY and b.problems],
        told=own_figures(session)[1],
    )


def create_job(session: Session, body: JobCreate, *, person_id: str) -> str:
    """A new job with its body style's windows; its id.

    Raises
    ------
    CoreError
        Unknown body style or state.
    """
    bodies = data_files.bodies()
    if body.body not in bodies:
        known = ", ".join(bodies)
        raise CoreError(f"There is no body style “{body.body}”.", fields={"body": f"One of {known}."})
    states = body.states or home_states(session)
    if not states:
        raise CoreError("Which state's law holds?", fields={"states": "Pick one; Shop can set it once for all jobs."})
    check_states(session, states)
    style = bodies[body.body]
    number = next_job_number(session)
    facts = {
        "vehicle_class": style["vehicle_class"],
        "states": states,
        "mirrors_both_sides": body.mirrors_both_sides,
        "model_year": body.model_year,
        "cut_method": way_for(session, person_id),
        "findings": style.get("findings", {}),
    }
    job = JobRecord(
        number=number,
        title=body.title or f"Job {number}",
        customer=body.customer,
        vehicle_label=body.vehicle_label,
        body=body.body,
        facts=stored_facts(facts, VehicleFacts),
        **judged_now(session),
    )
    jobs(session).create(job, person_id=person_id)
    rows = style["windows"]
    if body.shelf_car_id is not None:
        rows = glass_shelf.window_rows(session, body.shelf_car_id, rows)
    _create_windows(session, job, rows, person_id=person_id)
    if body.shelf_car_id is not None:
        glass_shelf.fill_job(session, job.id, body.shelf_car_id, person_id=person_id)
    return job.id


def _create_windows(session: Session, job: JobRecord, rows: Sequence[Mapping[str, Any]], *, person_id: str) -> None:
    starting = shop_starting_values(session)
    ids: dict[str, str] = {}
    for ordinal, row in enumerate(rows):
        ids[row["key"]] = new_id()
        glass = {"bare_vlt_percent": 100 * starting[f"assumed_{row['glass']}_glass_vlt"]}
        known = {name: row[name] for name in WindowFacts.__dataclass_fields__ if name in row}
        windows(session).create(
            WindowRecord(
                id=ids[row["key"]],
                job_id=job.id,
                ordinal=ordinal,
                label=row["label"],
                facts=stored_facts(known | glass, WindowFacts),
                curve=row["curve"],
                figure=row.get("figure", "four"),
                same_as_id=ids.get(row.get("same_as", "")),
                same_as_mirrored="same_as" in row,
            ),
            person_id=person_id,
        )


def change_job(session: Session, job_id: str, body: JobPatch, *, person_id: str) -> str:
    """Change what was sent."""
    changes = sent(body)
    for name, value in changes.items():
        if value is None and name not in _MAY_BE_EMPTY:
            raise CoreError(f"A job needs its {name.replace('_', ' ')}.", fields={name: "Cannot be empty."})
    changes |= {name: "" for name in _EMPTY_IS_TEXT if name in changes and changes[name] is None}
    if "states" in changes:
        check_states(session, changes["states"])
    if changes.get("promised_at") is not None:
        changes["promised_at"] = _stored_time(changes["promised_at"])
    facts = {name: changes.pop(name) for name in list(changes) if name in VehicleFacts.__dataclass_fields__}
    record = jobs(session).get_present(job_id)
    if "findings" in facts:
        facts["findings"] = merged_answers(record.facts.get("findings", {}), facts["findings"], CAR_FINDINGS)
    whole = stored_facts({**record.facts, **facts}, VehicleFacts)
    changed = replace(record, version=body.version, facts=whole, **changes)
    jobs(session).update(changed, person_id=person_id)
    return job_id


def do_deed(session: Session, job_id: str, body: DeedBody, *, person: PersonRecord) -> str:
    """Do something with the job as a whole; its id.

    Raises
    ------
    ApiError
        It is not this person's to do.
    CoreError
        It makes no sense now, a reason is missing, or it is done elsewhere.
    """
    if body.deed not in BY_BUTTON:
        where = "at Handover" if body.deed is Deed.DELIVER else "on the day sheet"
        raise CoreError(f"That is done {where}.", fields={"deed": "Not by a button."})
    if person.role not in BY_BUTTON[body.deed]:
        who = "a lead" if BY_BUTTON[body.deed] == LEAD else "someone else in the shop"
        raise ApiError("not_your_role", f"Only {who} can do that. Ask them.")
    job = jobs(session).get_present(job_id)
    if body.deed is Deed.FINISH:
        _check_put_back(session, job_id)
    back_from = State(job.status) if body.deed is Deed.STEP_BACK else None
    changed = replace(
        job, version=body.version, bay=body.bay or job.bay,
        handed_over_on="" if back_from is State.DELIVERED else job.handed_over_on,
    )  # fmt: skip
    deeds.do(session, changed, body.deed, person_id=person.id, reason=body.reason)
    if body.deed is Deed.CANCEL:
        holds.end(session, job_id, why="job canceled", person_id=person.id)
    return job_id


def _check_put_back(session: Session, job_id: str) -> None:
    """A car is not ready while something of it lies in a box, or a piece of it must be redone.

    Raises
    ------
    CoreError
        What must be redone, or was taken apart and is not put back, by name.
    """
    try:
        car, parts, _ = load_car(session, job_id)
    except CoreError:
        return  # a stuck job has no runs; it may be set aside
    if redo := redos_open(load_look(session, car, parts)):
        raise CoreError(
            f"{'; '.join(redo)}. Redo it, or decide otherwise at Look, then say that it is ready.",
            fields={"deed": f"{len(redo)} to redo."},
        )
    if apart := not_put_back(session, car, parts):
        raise CoreError(
            f"Not put back yet: {', '.join(apart)}. Put it back and tick it in the bay, then say that it is ready.",
            fields={"deed": f"{len(apart)} to put back."},
        )


def _stored_time(moment: datetime) -> datetime:
    zoned = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    if not _EARLIEST <= zoned <= _LATEST:
        raise CoreError("No car is promised for that year.", fields={"promised_at": "A day of this century."})
    return zoned.astimezone(UTC).replace(tzinfo=None, microsecond=0)


def remove_job(session: Session, job_id: str, *, version: int, person_id: str) -> str:
    """Put a job into the archive; ``restore_job`` undoes it.

    Raises
    ------
    CoreError
        Its car was delivered: what happened stays in sight.
    """
    if jobs(session).get_present(job_id).status == State.DELIVERED:
        raise CoreError(
            "A delivered car stays on record. To forget its customer, erase the customer’s data.",
            fields={"version": "Delivered."},
        )
    jobs(session).remove(job_id, version=version, person_id=person_id)
    return job_id


def restore_job(session: Session, job_id: str, *, version: int, person_id: str) -> str:
    """Bring a job back from the archive.

    Raises
    ------
    CoreError
        A film of it was taken off file meanwhile.
    """
    for window in windows(session).all(job_id=job_id):
        restorable_windows(session, window)
    jobs(session).restore(job_id, version=version, person_id=person_id)
    return job_id


def changes(session: Session, job_id: str, *, since: int) -> ChangesOut:
    """What others did meanwhile: for open screens that follow a job, so it is cheap."""
    job = jobs(session).get(job_id)
    found = job_changes(session, job_id, since=since) if since else job_history(session, job_id, most=1)
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    labels = {window.id: window.label for window in windows(session).all(job_id=job_id, removed_too=True)}
    return ChangesOut(
        stamp=f"{job.stamp}.{shop_stamp(session)}",
        last=max((entry.id for entry in found), default=since),
        entries=[
            ChangeEntry(
                id=entry.id,
                person_id=entry.person_id,
                at=entry.at.replace(tzinfo=UTC),
                person=names.get(entry.person_id, entry.person_id),
                action=entry.action,
                what=labels.get(entry.record_id, entry.record_kind),
                fields=sorted(entry.changes),
            )
            for entry in (found if since else ())
        ],
    )


def history(session: Session, job_id: str) -> History:
    """Who changed what on a job."""
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    labels = {window.id: window.label for window in windows(session).all(job_id=job_id, removed_too=True)}
    return History(
        entries=[
            HistoryEntry(
                at=entry.at.replace(tzinfo=UTC),
                person=names.get(entry.person_id, entry.person_id),
                action=entry.action,
                what=labels.get(entry.record_id, entry.record_kind),
                fields=sorted(entry.changes),
            )
            for entry in job_history(session, job_id)
        ]
    )

"""Customers: kept, found, merged, exported, erased. Plain arguments, no web framework."""

from __future__ import annotations

import json
from dataclasses import asdict, replace
from typing import Any

from sqlalchemy import delete, or_, select
from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.customers.schemas import (
    CustomerBody,
    CustomerBrief,
    CustomerJob,
    CustomerList,
    CustomerOut,
    CustomerPatch,
    EraseBody,
    FindOut,
    FindQuery,
    HitOut,
    MergeBody,
    OwnerBody,
    OwnerOut,
    VehicleOut,
)
from elumbra.core.bay import Happened
from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.storage import clock, photos
from elumbra.storage.deliveries import without_person
from elumbra.storage.finding import find_customers, find_jobs, folded
from elumbra.storage.kept import calls, customers, flaws, jobs_of_customer, quotes, signatures_of, vehicles
from elumbra.storage.kept_records import CustomerRecord, VehicleRecord
from elumbra.storage.kept_tables import SignatureRow
from elumbra.storage.ledger import on_rack
from elumbra.storage.records import JobRecord, PersonRecord
from elumbra.storage.store import films, jobs, windows
from elumbra.storage.tables import AuditRow, StepEventRow, SummaryRow

_ON_PAGE, _MOST_HITS = 50, 12
ERASED = "erased by request"


def _searched(record: CustomerRecord) -> CustomerRecord:
    return replace(record, search=folded(record.name, record.phone, record.email, record.note))


def _car_searched(record: VehicleRecord) -> VehicleRecord:
    return replace(record, search=folded(record.label, record.plate, record.vin, record.note))


def list_customers(session: Session, query: FindQuery) -> CustomerList:
    """A page of customers."""
    found, total = find_customers(session, query.search, most=_ON_PAGE, skip=(query.page - 1) * _ON_PAGE)
    return CustomerList(
        customers=[_brief(one) for one in found], page=query.page, pages=max(1, -(-total // _ON_PAGE)), total=total
    )


def _brief(one: Any) -> CustomerBrief:
    return CustomerBrief(id=one.id, name=one.name, phone=one.phone, email=one.email)


def customer(session: Session, customer_id: str) -> CustomerOut:
    """A customer with cars and jobs."""
    record = customers(session).get(customer_id)
    cars = vehicles(session).all(order="label", customer_id=customer_id)
    found = find_jobs(session, "", most=500, customer_id=customer_id)
    return CustomerOut(
        **vars(_brief(record)),
        version=record.version,
        note=record.note,
        erased_on=record.erased_on,
        merged_into=record.merged_into,
        archived=record.removed and record.merged_into is None and not record.erased_on,
        vehicles=[_vehicle(one) for one in cars],
        jobs=[
            CustomerJob(
                id=one.job.id, number=one.job.number, title=one.job.title, vehicle_label=one.job.vehicle_label,
                status=State(one.job.status), handed_over_on=one.job.handed_over_on,
            )
            for one in found
        ],
    )  # fmt: skip


def _vehicle(one: VehicleRecord) -> VehicleOut:
    return VehicleOut(id=one.id, version=one.version, label=one.label, plate=one.plate, vin=one.vin, note=one.note)


def create(session: Session, body: CustomerBody, *, person_id: str) -> str:
    """A new customer; its id."""
    record = CustomerRecord(name=body.name, phone=body.phone, email=body.email, note=body.note)
    return customers(session).create(_searched(record), person_id=person_id).id


def change(session: Session, customer_id: str, body: CustomerPatch, *, person_id: str) -> str:
    """Change what was sent; a new name goes to the customer's jobs. Its id."""
    record = customers(session).get_present(customer_id)
    said = {name: value for name, value in sent(body).items() if value is not None}
    changed = _searched(replace(record, version=body.version, **said))
    customers(session).update(changed, person_id=person_id)
    if changed.name != record.name:
        _rename_on_jobs(session, customer_id, changed.name, person_id)
    return customer_id


def _rename_on_jobs(session: Session, customer_id: str, name: str, person_id: str, *, but: str = "") -> None:
    for job_id in jobs_of_customer(session, customer_id):
        if job_id == but:
            continue
        jobs(session).update(replace(jobs(session).get(job_id), customer=name), person_id=person_id)


def owner(session: Session, job_id: str) -> OwnerOut:
    """Whose car a job is about."""
    job = jobs(session).get(job_id)
    who = customers(session).find(job.customer_id) if job.customer_id else None
    car = vehicles(session).find(job.vehicle_id) if job.vehicle_id else None
    return OwnerOut(
        customer=_brief(who) if who else None, vehicle=_vehicle(car) if car else None, name=job.customer
    )  # fmt: skip


def keep_owner(session: Session, job_id: str, body: OwnerBody, *, person_id: str) -> str:
    """Say whose car a job is about: what is on file is changed, what is not is made. The job's id.

    Raises
    ------
    StaleWriteError
        Somebody changed the job meanwhile.
    """
    job = jobs(session).get_present(job_id)
    who = _kept_customer(session, job, body, person_id)
    car = _kept_vehicle(session, job, who, body, person_id)
    changed = replace(job, version=body.version, customer=who.name, customer_id=who.id, vehicle_id=car.id)
    jobs(session).update(changed, person_id=person_id)
    return job_id


def _kept_customer(session: Session, job: JobRecord, body: OwnerBody, person_id: str) -> CustomerRecord:
    said: dict[str, Any] = {"name": body.name, "phone": body.phone, "email": body.email}
    if body.customer_id is None:
        return customers(session).create(_searched(CustomerRecord(**said)), person_id=person_id)
    record = customers(session).get_present(body.customer_id)
    changed = _searched(replace(record, **said))
    kept = customers(session).update(changed, person_id=person_id)
    if kept.name != record.name:
        _rename_on_jobs(session, kept.id, kept.name, person_id, but=job.id)
    return kept


def _kept_vehicle(
    session: Session, job: JobRecord, who: CustomerRecord, body: OwnerBody, person_id: str
) -> VehicleRecord:
    said: dict[str, Any] = {"plate": body.plate, "vin": body.vin}
    if body.vehicle_id is None:
        record = VehicleRecord(customer_id=who.id, label=job.vehicle_label, **said)
        return vehicles(session).create(_car_searched(record), person_id=person_id)
    record = vehicles(session).get_present(body.vehicle_id)
    return vehicles(session).update(
        _car_searched(replace(record, customer_id=who.id, **said)), person_id=person_id
    )  # fmt: skip


def merge(session: Session, customer_id: str, body: MergeBody, *, person_id: str) -> str:
    """One customer's cars, jobs and notes go to another; the other's id.

    Raises
    ------
    CoreError
        Into itself, or into one that was merged or erased.
    """
    record, into = customers(session).get_present(customer_id), customers(session).get_present(body.into)
    if record.id == into.id or into.merged_into or into.erased_on or record.erased_on:
        raise CoreError("Pick another customer to merge into.", fields={"into": "Another one, that is still on file."})
    for car in vehicles(session).all(customer_id=record.id):
        vehicles(session).update(replace(car, customer_id=into.id), person_id=person_id, action="merged")
    for job_id in jobs_of_customer(session, record.id):
        job = replace(jobs(session).get(job_id), customer_id=into.id, customer=into.name)
        jobs(session).update(job, person_id=person_id, action="customers merged")
    note = "\n".join(one for one in (into.note, record.note) if one)[:2000]
    kept = replace(into, note=note, phone=into.phone or record.phone, email=into.email or record.email)
    customers(session).update(_searched(kept), person_id=person_id, action="merged")
    gone = replace(record, version=body.version, merged_into=into.id, removed=True)
    customers(session).update(gone, person_id=person_id, action="merged away")
    return into.id


def export(session: Session, customer_id: str) -> tuple[str, bytes]:
    """Everything on file of one person, as open JSON: a name for the file, and its content."""
    record = customers(session).get(customer_id)
    job_ids = jobs_of_customer(session, customer_id)
    content = {
        "format": "elumbra-person",
        "format_version": 1,
        "customer": asdict(record),
        "vehicles": [asdict(one) for one in vehicles(session).all(customer_id=customer_id, removed_too=True)],
        "jobs": [_job_of(session, job_id) for job_id in job_ids],
    }
    return f"person-{record.id}", json.dumps(content, indent=2, ensure_ascii=False, default=str).encode()


def _job_of(session: Session, job_id: str) -> dict[str, Any]:
    job = jobs(session).get(job_id)
    return {
        "job": asdict(job),
        "windows": [asdict(one) for one in windows(session).all(order="ordinal", job_id=job_id, removed_too=True)],
        "quotes": [asdict(one) for one in quotes(session).all(order="number", job_id=job_id, removed_too=True)],
        "signatures": [asdict(one) for one in signatures_of(session, job_id)],
        "calls": [asdict(one) for one in calls(session).all(order="at", job_id=job_id, removed_too=True)],
        "pictures": [asdict(one) for one in photos.photos_of(session, job_id)],
    }


def erase(session: Session, customer_id: str, body: EraseBody, *, person: PersonRecord) -> str:
    """Erase one person: name, telephone, plates, notes, signatures, pictures. That it happened stays; so do cuts,
    films and figures, which say nothing of a person. The id.

    Raises
    ------
    CoreError
        The name typed is not this customer's.
    StaleWriteError
        Somebody changed the record meanwhile.
    """
    record = customers(session).get(customer_id)
    if folded(body.name) != folded(record.name):
        raise CoreError("That is not this customer's name. Type it as it stands above.", fields={"name": "Other."})
    names = [record.name]
    job_ids = jobs_of_customer(session, customer_id)
    car_ids = [one.id for one in vehicles(session).all(customer_id=customer_id, removed_too=True)]
    for car_id in car_ids:
        bare = replace(vehicles(session).get(car_id), plate="", vin="", note="", search="", removed=True)
        vehicles(session).update(bare, person_id=person.id, action="erased")
    for job_id in job_ids:
        _erase_job(session, job_id, names, person.id)
    photos.forget_photos(session, job_ids)
    bare_customer = replace(
        record, version=body.version, name=ERASED, phone="", email="", note="", search="", removed=True,
        erased_on=clock.today_iso(),
    )  # fmt: skip
    customers(session).update(bare_customer, person_id=person.id, action="erased")
    _erase_trail(session, [customer_id, *car_ids], job_ids)
    return customer_id


def _erase_job(session: Session, job_id: str, names: list[str], person_id: str) -> None:
    job = jobs(session).get(job_id)
    titled = any(folded(name) in folded(job.title) for name in names if name)
    title = f"Job {job.number}" if titled else job.title
    jobs(session).update(replace(job, customer=ERASED, note="", title=title), person_id=person_id, action="erased")
    for row in session.scalars(select(SignatureRow).where(SignatureRow.job_id == job_id)):
        row.name, row.strokes = ERASED, []
    for quote in quotes(session).all(job_id=job_id, removed_too=True):
        if quote.accepted_by or quote.note:
            bare = replace(quote, accepted_by=ERASED if quote.accepted_by else "", note="")
            quotes(session).update(bare, person_id=person_id, action="erased")
    for flaw in flaws(session).all(job_id=job_id, removed_too=True):
        if flaw.accepted_by:
            flaws(session).update(replace(flaw, accepted_by=ERASED), person_id=person_id, action="erased")
    for event in session.scalars(select(StepEventRow).where(StepEventRow.job_id == job_id)):
        if event.kind == Happened.ACKNOWLEDGED:
            event.value = json.dumps({"name": ERASED, "how": "paper", "signature": [], "erased": True})
    without_person(session, job_id, ERASED)
    session.execute(delete(SummaryRow).where(SummaryRow.job_id == job_id))
    for call in calls(session).all(job_id=job_id, removed_too=True):
        calls(session).update(replace(call, said=""), person_id=person_id, action="erased")


def _erase_trail(session: Session, record_ids: list[str], job_ids: list[str]) -> None:
    """The trail keeps who did what when; what it says of the person goes."""
    rows = session.scalars(
        select(AuditRow).where(or_(AuditRow.record_id.in_(record_ids), AuditRow.job_id.in_(job_ids)))
    )
    personal = {"name", "phone", "email", "note", "search", "plate", "vin", "customer", "title", "accepted_by", "said"}
    for row in rows:
        if personal & set(row.changes):
            bare = {key: ([None, None] if key in personal else one) for key, one in row.changes.items()}
            row.changes = bare | {"erased": [None, clock.today_iso()]}


def find(session: Session, query: FindQuery) -> FindOut:
    """One search over jobs, customers, films and the rack; nothing typed finds the newest jobs."""
    hits = [
        HitOut(
            kind="Jobs", words=f"{one.job.number} {one.job.title}",
            detail=" · ".join(word for word in (one.vehicle, one.plate, one.customer, one.phone) if word),
            to=f"/jobs/{one.job.id}",
        )
        for one in find_jobs(session, query.search, most=_MOST_HITS)
    ]  # fmt: skip
    if not query.search.strip():
        return FindOut(hits=hits)
    found, _ = find_customers(session, query.search, most=_MOST_HITS)
    hits += [
        HitOut(kind="Customers", words=one.name, detail=one.phone, to=f"/customers/{one.id}") for one in found
    ]  # fmt: skip
    wanted = folded(query.search).split()

    def named(*texts: str) -> bool:
        whole = folded(*texts)
        return all(word in whole for word in wanted)

    hits += [
        HitOut(kind="Films", words=one.name, detail="", to=f"/films/{one.id}")
        for one in films(session).all()
        if named(one.name)
    ][:_MOST_HITS]
    hits += [
        HitOut(kind="Rack", words=one.label, detail=f"lot {one.lot or 'not on file'}", to=f"/rack/{one.id}")
        for one in on_rack(session)
        if named(one.label, one.lot)
    ][:_MOST_HITS]
    return FindOut(hits=hits)

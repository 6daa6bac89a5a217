"""Finding things by any of their words: jobs by customer, plate, telephone, film or lot; and all panes of a lot."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from sqlalchemy import ColumnElement, Select, String, cast, func, or_, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record
from elumbra.storage.kept_tables import CallRow, CustomerRow, VehicleRow
from elumbra.storage.records import CuttingRecord, JobRecord
from elumbra.storage.tables import CuttingRow, FilmRow, JobRow, StockRow, WindowRow

_LONGEST, _MOST_WORDS = 120, 8


def folded(*texts: str) -> str:
    """Words as they are compared: without case or accents, and once more without what plates and telephones are
    written with.

    Examples
    --------
    >>> folded("José  Ünal", "(555) 014-2")
    'jose unal (555) 014-2 5550142'
    """
    plain = " ".join(" ".join(texts).split())
    bare = "".join(c for c in unicodedata.normalize("NFKD", plain) if not unicodedata.combining(c)).casefold()
    tight = [re.sub(r"[\s().+/-]", "", one.casefold()) for one in texts]
    extra = [one for one in tight if one and one not in bare]
    return " ".join([bare, *extra])


def words_of(search: str) -> list[str]:
    """The words of a search, as they are compared; few enough and short enough to be looked for."""
    return [folded(word).split()[0] for word in search[:_LONGEST].split()[:_MOST_WORDS] if folded(word).split()]


@dataclass(frozen=True)
class FoundJob:
    """A job with whose car it is."""

    job: JobRecord
    customer: str
    phone: str
    vehicle: str
    plate: str
    vin: str


def find_jobs(session: Session, search: str, *, most: int, customer_id: str | None = None) -> list[FoundJob]:
    """Jobs with all words of a search in number, title, car, customer, phone, plate, VIN, film or lot; newest first."""
    query = (
        select(JobRow, CustomerRow, VehicleRow)
        .outerjoin(CustomerRow, CustomerRow.id == JobRow.customer_id)
        .outerjoin(VehicleRow, VehicleRow.id == JobRow.vehicle_id)
        .where(JobRow.removed.is_(False), *(_word_found(session, word) for word in words_of(search)))
        .order_by(JobRow.number.desc())
        .limit(most)
    )
    if customer_id is not None:
        query = query.where(JobRow.customer_id == customer_id)
    return [_found(*row) for row in session.execute(query)]


def jobs_with(session: Session, search: str) -> Select[str] | None:
    """The ids of jobs that a search finds; None where nothing was typed."""
    words = words_of(search)
    if not words:
        return None
    return (
        select(JobRow.id)
        .outerjoin(CustomerRow, CustomerRow.id == JobRow.customer_id)
        .outerjoin(VehicleRow, VehicleRow.id == JobRow.vehicle_id)
        .where(*(_word_found(session, word) for word in words))
    )


def _found(job: JobRow, customer: CustomerRow | None, vehicle: VehicleRow | None) -> FoundJob:
    return FoundJob(
        as_record(job, JobRecord),
        customer.name if customer else job.customer,
        customer.phone if customer else "",
        vehicle.label if vehicle else job.vehicle_label,
        vehicle.plate if vehicle else "",
        vehicle.vin if vehicle else "",
    )


def _word_found(session: Session, word: str) -> ColumnElement[bool]:
    own = (cast(JobRow.number, String), JobRow.title, JobRow.vehicle_label, JobRow.customer)
    joined = (CustomerRow.search, VehicleRow.search)
    ways = [column.contains(word, autoescape=True) for column in (*own, *joined)]
    ways.append(JobRow.id.in_(select(CuttingRow.job_id).where(CuttingRow.lots.contains(word, autoescape=True))))
    name = func.json_extract(FilmRow.facts, "$.name")
    # Few films have the word in their name; only then are all windows looked through.
    if films := list(session.scalars(select(FilmRow.id).where(name.contains(word, autoescape=True)))):
        filmed = select(WindowRow.job_id).where(WindowRow.film_id.in_(films), WindowRow.removed.is_(False))
        ways.append(JobRow.id.in_(filmed))
    return or_(*ways)


def find_customers(session: Session, search: str, *, most: int, skip: int = 0) -> tuple[list[CustomerRow], int]:
    """Customers with all words in name, telephone, address or their cars' plates; by name, and how many there are."""
    query = select(CustomerRow).where(CustomerRow.removed.is_(False), CustomerRow.merged_into.is_(None))
    for word in words_of(search):
        cars = select(VehicleRow.customer_id).where(
            VehicleRow.removed.is_(False), VehicleRow.search.contains(word, autoescape=True)
        )
        query = query.where(or_(CustomerRow.search.contains(word, autoescape=True), CustomerRow.id.in_(cars)))
    total = session.scalar(select(func.count()).select_from(query.subquery())) or 0
    found = session.scalars(query.order_by(func.lower(CustomerRow.name), CustomerRow.id).limit(most).offset(skip))
    return list(found), total


@dataclass(frozen=True)
class LotPane:
    """A window that carries film of a lot, and whom to call."""

    job: FoundJob
    window: str
    roll: str
    on_day: str


def panes_of_lot(session: Session, film_id: str, lot: str) -> list[LotPane]:
    """Every window that film of a lot was cut for and not cut again since, newest job first."""
    cut = (
        select(CuttingRow)
        .where(CuttingRow.removed.is_(False), CuttingRow.lots.contains(lot.casefold(), autoescape=True))
        .order_by(CuttingRow.on_day)
    )
    records = [as_record(row, CuttingRecord) for row in session.scalars(cut)]
    touched = {record.job_id for record in records}
    newest: dict[str, tuple[str, str, str, str, str]] = {}
    for record in _all_cuttings(session, touched):
        for mark in record.marks:
            newest[mark.window_id] = (record.job_id, mark.film_id, mark.lot, mark.roll, record.on_day)
    jobs = {one.job.id: one for one in _jobs(session, {found[0] for found in newest.values()})}
    labels = _labels(session, touched)
    panes = [
        LotPane(jobs[job_id], labels.get(window_id, window_id), roll, day)
        for window_id, (job_id, film, of_lot, roll, day) in newest.items()
        if (film, of_lot) == (film_id, lot) and job_id in jobs
    ]
    return sorted(panes, key=lambda one: (-one.job.job.number, one.window))


def _labels(session: Session, job_ids: set[str]) -> dict[str, str]:
    query = select(WindowRow.id, WindowRow.label).where(WindowRow.job_id.in_(job_ids))
    return {window_id: label for window_id, label in session.execute(query)}  # noqa: C416  a Row is no pair to mypy


def _all_cuttings(session: Session, job_ids: set[str]) -> list[CuttingRecord]:
    query = select(CuttingRow).where(CuttingRow.job_id.in_(job_ids), CuttingRow.removed.is_(False))
    return [as_record(row, CuttingRecord) for row in session.scalars(query.order_by(CuttingRow.on_day))]


def _jobs(session: Session, job_ids: set[str]) -> list[FoundJob]:
    query = (
        select(JobRow, CustomerRow, VehicleRow)
        .outerjoin(CustomerRow, CustomerRow.id == JobRow.customer_id)
        .outerjoin(VehicleRow, VehicleRow.id == JobRow.vehicle_id)
        .where(JobRow.id.in_(job_ids))
    )
    return [_found(*row) for row in session.execute(query)]


def owner_of(session: Session, job_id: str) -> FoundJob | None:
    """A job with whose car it is."""
    return next(iter(_jobs(session, {job_id})), None)


def lots_on_file(session: Session) -> list[tuple[str, str]]:
    """Every film and lot that ever came, newest stock first."""
    query = (
        select(StockRow.film_id, StockRow.lot)
        .where(StockRow.lot != "")
        .group_by(StockRow.film_id, StockRow.lot)
        .order_by(func.max(StockRow.received_on).desc(), StockRow.lot)
    )
    return [(film_id, lot) for film_id, lot in session.execute(query)]


def open_calls(session: Session) -> Sequence[CallRow]:
    """Calls that are not settled yet, oldest first."""
    query = select(CallRow).where(CallRow.removed.is_(False), CallRow.status == "open").order_by(CallRow.at)
    return session.scalars(query).all()

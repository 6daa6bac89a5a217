"""Records of what is kept when film is on, and the stores they lie in."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.kept_tables import (
    CallRow,
    CustomerRow,
    FlawRow,
    LookRow,
    QuoteRow,
    SignatureRow,
    VehicleRow,
)
from elumbra.storage.records import Record, as_record, new_id, now
from elumbra.storage.store import Store
from elumbra.storage.tables import JobRow


@dataclass(frozen=True, kw_only=True)
class CustomerRecord(Record):
    """Somebody whose cars are filmed."""

    name: str
    phone: str = ""
    email: str = ""
    note: str = ""
    search: str = ""
    merged_into: str | None = None
    erased_on: str = ""


@dataclass(frozen=True, kw_only=True)
class VehicleRecord(Record):
    """A car that was here."""

    customer_id: str | None
    label: str
    plate: str = ""
    vin: str = ""
    note: str = ""
    search: str = ""


@dataclass(frozen=True, kw_only=True)
class FlawRecord(Record):
    """Something seen on a filmed pane."""

    job_id: str
    window_id: str
    kind: str
    x: float
    y: float
    seen_from: str
    state: str
    size_mm: float | None = None
    count: int = 1
    when: str
    note: str = ""
    answers: Mapping[str, str] = field(default_factory=dict)
    film_id: str = ""
    lot: str = ""
    decision: str = ""
    because: str = ""
    accepted_by: str = ""
    tries: int = 0
    closed: str = ""
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class LookRecord(Record):
    """A pane looked over."""

    job_id: str
    window_id: str
    when: str
    clean: bool
    film_id: str = ""
    rulers: Mapping[str, str] = field(default_factory=dict)
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class QuoteRecord(Record):
    """One version of a job's quote; money in cents."""

    job_id: str
    number: int
    lines: Sequence[Mapping[str, Any]] = field(default_factory=list)
    own_lines: Sequence[Mapping[str, Any]] = field(default_factory=list)
    scope: Mapping[str, Mapping[str, str]] = field(default_factory=dict)
    told: list[str] = field(default_factory=list)
    total_cents: int
    status: str = "offered"
    note: str = ""
    accepted_by: str = ""
    accepted_at: datetime | None = None
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class SignatureRecord:
    """Somebody signed for what stood there."""

    id: str = field(default_factory=new_id)
    job_id: str
    what: str
    about: str = ""
    name: str
    how: str
    strokes: Sequence[Any] = field(default_factory=list)
    told: Mapping[str, Any] = field(default_factory=dict)
    person_id: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class CallRecord(Record):
    """A customer called about a window."""

    job_id: str
    window_id: str
    kind: str
    said: str = ""
    answers: Mapping[str, str] = field(default_factory=dict)
    outcome: str
    bears: str
    reasons: list[str] = field(default_factory=list)
    overruled: str = ""
    status: str = "open"
    person_name: str
    at: datetime = field(default_factory=now)


def customers(session: Session) -> Store[CustomerRecord]:
    """Customers."""
    return Store(session, CustomerRow, CustomerRecord, "customer")


def vehicles(session: Session) -> Store[VehicleRecord]:
    """Cars that were here."""
    return Store(session, VehicleRow, VehicleRecord, "vehicle")


def flaws(session: Session) -> Store[FlawRecord]:
    """Flaws."""
    return Store(session, FlawRow, FlawRecord, "flaw")


def looks(session: Session) -> Store[LookRecord]:
    """Panes looked over."""
    return Store(session, LookRow, LookRecord, "look")


def quotes(session: Session) -> Store[QuoteRecord]:
    """Quotes, all versions."""
    return Store(session, QuoteRow, QuoteRecord, "quote")


def calls(session: Session) -> Store[CallRecord]:
    """Calls of customers."""
    return Store(session, CallRow, CallRecord, "call")


def sign(session: Session, record: SignatureRecord) -> SignatureRecord:
    """Keep a signature."""
    session.add(SignatureRow(**vars(record)))
    session.flush()
    return record


def signatures_of(session: Session, job_id: str, what: str = "") -> list[SignatureRecord]:
    """A job's signatures, oldest first."""
    query = select(SignatureRow).where(SignatureRow.job_id == job_id).order_by(SignatureRow.at, SignatureRow.id)
    if what:
        query = query.where(SignatureRow.what == what)
    return [as_record(row, SignatureRecord) for row in session.scalars(query)]


def accepted_quotes(session: Session, job_ids: Sequence[str]) -> dict[str, QuoteRecord]:
    """By job, the quote that was accepted and not replaced since."""
    query = select(QuoteRow).where(
        QuoteRow.job_id.in_(job_ids), QuoteRow.status == "accepted", QuoteRow.removed.is_(False)
    )
    return {row.job_id: as_record(row, QuoteRecord) for row in session.scalars(query.order_by(QuoteRow.number))}


def same_flaw_of_lot(session: Session, kind: str, film_id: str, lot: str, *, but: str) -> int:
    """On how many other panes a lot of film shows a kind of flaw."""
    query = select(func.count(func.distinct(FlawRow.window_id))).where(
        FlawRow.kind == kind, FlawRow.film_id == film_id, FlawRow.lot == lot, FlawRow.removed.is_(False),
        FlawRow.window_id != but,
    )  # fmt: skip
    return session.scalar(query) or 0


def jobs_of_customer(session: Session, customer_id: str) -> list[str]:
    """Ids of a customer's jobs, newest first."""
    query = select(JobRow.id).where(JobRow.customer_id == customer_id).order_by(JobRow.number.desc())
    return list(session.scalars(query))

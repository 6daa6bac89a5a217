"""Records of what is kept when film is on, and the stores they lie in."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record
from elumbra.storage.kept_records import (
    CallRecord,
    CustomerRecord,
    FlawRecord,
    LookRecord,
    QuoteRecord,
    SignatureRecord,
    VehicleRecord,
)
from elumbra.storage.kept_tables import (
    CallRow,
    CustomerRow,
    FlawRow,
    LookRow,
    QuoteRow,
    SignatureRow,
    VehicleRow,
)
from elumbra.storage.store import Store
from elumbra.storage.tables import JobRow


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

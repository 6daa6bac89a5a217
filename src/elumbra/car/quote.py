"""A job's quote: the shop's price list, the lines of the car as it stands, and the version that counts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.bay import cases_of, core_events, day_of, settings_for
from elumbra.car.records import JobParts
from elumbra.core.errors import CoreError
from elumbra.core.pricing import (
    Line,
    OwnLine,
    PricedFor,
    PriceList,
    changes,
    dollars,
    parse_prices,
    price_lines,
    scope_of,
    total,
)
from elumbra.core.work import Car
from elumbra.storage import clock, data_files
from elumbra.storage.declared import now
from elumbra.storage.kept import quotes, sign
from elumbra.storage.kept_records import DeliveryRecord, QuoteRecord, SignatureRecord
from elumbra.storage.kept_settings import kept, kept_then
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import DeliveredError

PRICES = "price_list"
_MOST_VERSIONS = 100


@dataclass(frozen=True)
class Quoted:
    """A job's quote as it stands."""

    prices: PriceList
    lines: Sequence[Line]  # of the car as it stands, with the newest version's own lines
    own: Sequence[OwnLine]
    versions: Sequence[QuoteRecord]  # newest first
    differs: Sequence[str]  # from the version that counts

    @property
    def counts(self) -> QuoteRecord | None:
        """The version that counts: the accepted one, else the newest offered."""
        accepted = next((one for one in self.versions if one.status == "accepted"), None)
        return accepted or next(iter(self.versions), None)

    @property
    def open(self) -> QuoteRecord | None:
        """The newest version, where it is offered and says what the car is now."""
        newest = next(iter(self.versions), None)
        if newest is None or newest.status != "offered" or too_old(newest):
            return None
        return newest if lines_of(newest) == list(self.lines) else None


def prices_of(session: Session, delivered: DeliveryRecord | None = None) -> tuple[PriceList, int]:
    """The shop's price list, ours where it has none; and its version. Of a car that is gone, that of then."""
    said, version = (kept_then(session, delivered, PRICES), 0) if delivered else kept(session, PRICES)
    return (parse_prices(said, own=True) if said else data_files.price_list()), version


def load_quote(session: Session, car: Car, parts: JobParts, own: Sequence[OwnLine] | None = None) -> Quoted:
    """A job's quote; ``own`` in place of the newest version's own lines."""
    prices, _ = prices_of(session, parts.delivered)
    versions = sorted(quotes(session).all(job_id=parts.job.id), key=lambda one: -one.number)
    if own is None:
        own = [OwnLine(str(one["words"]), int(one["cents"])) for one in (versions[0].own_lines if versions else ())]
    if parts.delivered is not None:
        lines: Sequence[Line] = [line_of(one) for one in parts.delivered.lines]
    else:
        settings = settings_for(session, None)
        removals = cases_of(session, car, day_of(core_events(session, parts.job.id)), settings)
        lines = price_lines(car, prices, removals, own)
    quoted = Quoted(prices, lines, own, versions, ())
    before = quoted.counts
    if before is None:
        return quoted
    return Quoted(prices, lines, own, versions, changes(lines_of(before), lines))


def lines_of(record: QuoteRecord) -> list[Line]:
    """The lines of a version, as it was offered."""
    return [line_of(one) for one in record.lines]


def line_of(one: Mapping[str, Any]) -> Line:
    """A line from how it is kept."""
    return Line(
        str(one["key"]), PricedFor(one["kind"]), str(one["words"]), int(one["cents"]),
        str(one.get("window_id", "")), str(one.get("why", "")),
    )  # fmt: skip


def kept_line(one: Line) -> dict[str, Any]:
    """A line as it is kept."""
    return {"key": one.key, "kind": one.kind.value, "words": one.words, "cents": one.cents,
            "window_id": one.window_id, "why": one.why}  # fmt: skip


def scope_record(car: Car) -> dict[str, Mapping[str, Any]]:
    """What a car's film covers, as a version keeps it."""
    return {window_id: {"film": one.film_id, "covers": one.covers.value} for window_id, one in scope_of(car).items()}


def offer_version(session: Session, car: Car, parts: JobParts, quoted: Quoted, note: str, person: PersonRecord) -> None:
    """Offer the car as it stands, as the next version.

    Raises
    ------
    CoreError
        Nothing to offer, nothing changed since the version that counts, more is taken off than it comes to, or the
        car is gone.
    """
    if parts.delivered is not None:
        raise DeliveredError(parts.job.handed_over_on)
    if not quoted.lines:
        raise CoreError("There is nothing to offer yet. Choose a film at Shade, or type a line.")
    if total(quoted.lines) < 0:
        raise CoreError(
            f"More is taken off than all of it comes to: {dollars(total(quoted.lines))}. Take off less.",
            fields={"own_lines": "More than the bill."},
        )
    newest = quoted.versions[0] if quoted.versions else None
    same = newest is not None and newest.status != "replaced" and lines_of(newest) == list(quoted.lines)
    if newest is not None and same and not too_old(newest):
        raise CoreError(f"Nothing changed since version {newest.number}.", fields={"own_lines": "The same."})
    if len(quoted.versions) >= _MOST_VERSIONS:
        raise CoreError(f"A job keeps at most {_MOST_VERSIONS} versions of its quote.")
    if newest is not None and newest.status == "offered":
        quotes(session).update(replace(newest, status="replaced"), person_id=person.id, action="replaced")
    quotes(session).create(
        QuoteRecord(
            job_id=parts.job.id,
            number=newest.number + 1 if newest else 1,
            lines=[kept_line(one) for one in quoted.lines],
            own_lines=[{"words": one.words, "cents": one.cents} for one in quoted.own],
            scope=scope_record(car),
            told=list(quoted.differs),
            total_cents=total(quoted.lines),
            valid_until=_valid_until(car),
            note=note,
            person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip


def too_old(record: QuoteRecord) -> bool:
    """Whether a version that was offered can be accepted no more."""
    return record.status == "offered" and bool(record.valid_until) and record.valid_until < clock.today_iso()


def _valid_until(car: Car) -> str:
    """The last day on which an offer of today can be accepted."""
    days = timedelta(days=round(car.starting["quote_valid_days"]))
    return (date.fromisoformat(clock.today_iso()) + days).isoformat()


def accept_version(
    session: Session, record: QuoteRecord, *, name: str, how: str, strokes: Sequence[Any], person: PersonRecord
) -> None:
    """The customer accepts a version: from now on it is the order. ``record`` has the version that this is based on.

    Raises
    ------
    CoreError
        Replaced meanwhile, accepted before, or it stands no more.
    StaleWriteError
        Somebody changed it meanwhile.
    """
    if record.status != "offered":
        what = f"accepted by {record.accepted_by}" if record.status == "accepted" else "replaced by a later version"
        raise CoreError(f"Version {record.number} was {what} already.", fields={"version": "Not open."})
    if too_old(record):
        raise CoreError(
            f"Version {record.number} was valid until {record.valid_until}. Offer it again, at the prices of today.",
            fields={"version": "Too old."},
        )
    for other in quotes(session).all(job_id=record.job_id, status="accepted"):
        quotes(session).update(replace(other, status="replaced"), person_id=person.id, action="replaced")
    changed = replace(record, status="accepted", accepted_by=name, accepted_at=now())
    quotes(session).update(changed, person_id=person.id, action="accepted")
    sign(
        session,
        SignatureRecord(
            job_id=record.job_id, what="quote", about=record.id, name=name, how=how, strokes=strokes,
            told={"total_cents": record.total_cents, "number": record.number}, person_id=person.id,
        ),
    )  # fmt: skip

"""A job's quote: the shop's price list, the lines of the car as it stands, and the version that counts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.bay import cases_of, core_events, day_of, settings_for
from elumbra.car.records import JobParts
from elumbra.core.bay import Event, Happened
from elumbra.core.errors import CoreError
from elumbra.core.pricing import (
    Agreed,
    Line,
    OwnLine,
    PricedFor,
    PriceList,
    changes,
    difference,
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
        return _counts(self.versions)

    @property
    def change(self) -> str:
        """What an accepted quote's change comes to, its tax too; empty where it comes to nothing."""
        before = self.counts
        return difference(lines_of(before), self.lines) if before and before.status == "accepted" else ""

    @property
    def unsettled(self) -> Sequence[str]:
        """What keeps the accepted version from being billed: ordered otherwise since. Work that came on top and was
        never accepted is not billed and holds nothing.
        """
        before = self.counts
        if before is None or not self.differs:
            return ()
        was = {one.key: one for one in lines_of(before) if one.kind is not PricedFor.TAX}
        on_top = {one.key for one in self.lines if one.kind is PricedFor.EXTRA} - was.keys()
        now = [one for one in self.lines if one.kind is not PricedFor.TAX and one.key not in on_top]
        return changes(list(was.values()), now)

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


def load_quote(
    session: Session,
    car: Car,
    parts: JobParts,
    own: Sequence[OwnLine] | None = None,
    *,
    prices: PriceList | None = None,
) -> Quoted:
    """A job's quote; ``own`` in place of the newest version's own lines, ``prices`` in place of the shop's."""
    prices = prices or prices_of(session, parts.delivered)[0]
    versions = sorted(quotes(session).all(job_id=parts.job.id), key=lambda one: -one.number)
    if own is None:
        own = [OwnLine(str(one["words"]), int(one["cents"])) for one in (versions[0].own_lines if versions else ())]
    if parts.delivered is not None:
        lines: Sequence[Line] = [line_of(one) for one in parts.delivered.lines]
    else:
        settings = settings_for(session, None)
        events = core_events(session, parts.job.id)
        removals = cases_of(session, car, day_of(events), settings)
        lines = price_lines(car, prices, removals, own, _agreed(versions, events))
    quoted = Quoted(prices, lines, own, versions, ())
    before = quoted.counts
    if before is None:
        return quoted
    return Quoted(prices, lines, own, versions, changes(lines_of(before), lines))


def _counts(versions: Sequence[QuoteRecord]) -> QuoteRecord | None:
    accepted = next((one for one in versions if one.status == "accepted"), None)
    return accepted or next(iter(versions), None)


def _agreed(versions: Sequence[QuoteRecord], events: Sequence[Event]) -> Agreed:
    """What the customer was told already: the accepted version, and removals as they were acknowledged or offered."""
    removals = {
        one.window_id: line_of(one.value["line"])
        for one in events
        if one.kind is Happened.ACKNOWLEDGED and one.window_id and isinstance(one.value.get("line"), dict)
    }
    counts = _counts(versions)
    if counts is None:
        return Agreed(removals=removals)
    lines = lines_of(counts)
    removals |= {one.window_id: one for one in lines if one.kind is PricedFor.REMOVAL}
    return Agreed({one.key: one for one in lines} if counts.status == "accepted" else {}, removals)


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
    if must_ask(session, quoted.prices):
        raise CoreError(
            "These are starting prices, not yours yet. An owner looks at the price list and says yes, or writes your "
            "own, before the first offer.",
            fields={"prices": "Starting prices."},
        )
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
            told=[*quoted.differs, *([f"The change: {quoted.change}."] if quoted.change else [])],
            total_cents=total(quoted.lines),
            valid_until=_valid_until(car),
            note=note,
            person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip


def starting_prices() -> dict[str, Any]:
    """The shipped price list, as a shop keeps its own."""
    return {name: value for name, value in data_files.read_data("prices.json").items() if name != "about"}


def must_ask(session: Session, prices: PriceList) -> bool:
    """Whether nothing can be offered before an owner's yes: nobody set the prices, and nothing was ever offered."""
    return not prices.own and not quotes(session).count()


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

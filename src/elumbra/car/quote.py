"""A job's quote: the shop's price list, the lines of the car as it stands, and the version that counts."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.bay import cases_of, core_events, day_of, settings_for
from elumbra.car.records import JobParts
from elumbra.core.pricing import Line, OwnLine, PricedFor, PriceList, changes, parse_prices, price_lines, scope_of
from elumbra.core.work import Car
from elumbra.storage import data_files
from elumbra.storage.kept import quotes
from elumbra.storage.kept_records import QuoteRecord
from elumbra.storage.kept_settings import kept

PRICES = "price_list"


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


def prices_of(session: Session) -> tuple[PriceList, int]:
    """The shop's price list, ours where it has none; and its version."""
    said, version = kept(session, PRICES)
    return (parse_prices(said, own=True) if said else data_files.price_list()), version


def load_quote(session: Session, car: Car, parts: JobParts, own: Sequence[OwnLine] | None = None) -> Quoted:
    """A job's quote; ``own`` in place of the newest version's own lines."""
    prices, _ = prices_of(session)
    versions = sorted(quotes(session).all(job_id=parts.job.id), key=lambda one: -one.number)
    if own is None:
        own = [OwnLine(str(one["words"]), int(one["cents"])) for one in (versions[0].own_lines if versions else ())]
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
    return [
        Line(
            str(one["key"]), PricedFor(one["kind"]), str(one["words"]), int(one["cents"]),
            str(one.get("window_id", "")), str(one.get("why", "")),
        )
        for one in record.lines
    ]  # fmt: skip


def scope_record(car: Car) -> dict[str, Mapping[str, Any]]:
    """What a car's film covers, as a version keeps it."""
    return {window_id: {"film": one.film_id, "covers": one.covers.value} for window_id, one in scope_of(car).items()}

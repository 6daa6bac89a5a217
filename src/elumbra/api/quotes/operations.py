"""Offering, accepting, pricing. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import zoned
from elumbra.api.car_view.exemptions import exemption_blocks
from elumbra.api.car_view.film_words import METAL, films_told, has_metal
from elumbra.api.car_view.view import load_car
from elumbra.api.quotes.schemas import (
    AcceptBody,
    OfferBody,
    OwnLineOut,
    PriceListBody,
    PriceListOut,
    QuoteLineOut,
    QuoteOut,
    QuoteVersionOut,
)
from elumbra.car import Quoted, accept_version, lines_of, load_quote, offer_version, prices_of, too_old
from elumbra.car.quote import PRICES, must_ask, starting_prices
from elumbra.core.errors import CoreError
from elumbra.core.film import Film
from elumbra.core.pricing import Line, OwnLine, dollars, parse_prices, total
from elumbra.core.work import Car
from elumbra.documents.paper import Paper
from elumbra.documents.sheet import Block, Letterhead, Rows, Sheet, Signed, Words, sheets_pdf
from elumbra.storage.kept import quotes, signatures_of
from elumbra.storage.kept_records import QuoteRecord
from elumbra.storage.kept_settings import keep
from elumbra.storage.records import JobRecord, PersonRecord

_HUNDRED = 100


def quote_of(session: Session, job_id: str) -> QuoteOut:
    """A job's quote.

    Raises
    ------
    CoreError
        Its car cannot be put together.
    """
    car, parts, _ = load_car(session, job_id)
    quoted = load_quote(session, car, parts)
    accepted = next((one for one in quoted.versions if one.status == "accepted"), None)
    return QuoteOut(
        job_id=job_id,
        customer=parts.job.customer,
        headline=_headline(quoted, accepted),
        lines=[_line(one) for one in quoted.lines],
        total=total(quoted.lines) / _HUNDRED,
        own_lines=[OwnLineOut(words=one.words, dollars=one.cents / _HUNDRED) for one in quoted.own],
        differs=list(quoted.differs),
        change=quoted.change,
        starting_prices=not quoted.prices.own,
        ask_owner=must_ask(session, quoted.prices),
        versions=[_version(one, parts.job) for one in quoted.versions],
        accepted=accepted.number if accepted else None,
        films=[f"{one.name}: {one.heat}. {one.quality}" for one in films_told(_chosen(car), starting=car.starting)],
        caution=METAL if has_metal(_chosen(car)) else "",
    )


def _chosen(car: Car) -> list[Film]:
    """The films that are chosen now."""
    return [car.job.films[window.film_id] for window in car.job.windows if window.film_id]


def _headline(quoted: Quoted, accepted: QuoteRecord | None) -> str:
    now_costs = dollars(total(quoted.lines))
    if not quoted.versions:
        return f"{now_costs}, not offered yet" if quoted.lines else "Nothing to quote yet: choose films at Shade"
    if accepted is None:
        newest = quoted.versions[0]
        changed = "; the car changed since" if quoted.differs else ""
        if too_old(quoted.versions[0]):
            changed = f"; valid until {quoted.versions[0].valid_until}, so offer it again"
        return f"{dollars(newest.total_cents)} offered, not accepted yet{changed}"
    if quoted.differs:
        by = f"a change of {quoted.change}" if quoted.change else "a change"
        return f"{dollars(accepted.total_cents)} accepted; {by} to {now_costs} is not"
    return f"{dollars(accepted.total_cents)} accepted by {accepted.accepted_by}"


def _line(one: Line) -> QuoteLineOut:
    return QuoteLineOut(
        key=one.key, kind=one.kind, words=one.words, dollars=one.cents / _HUNDRED, window_id=one.window_id, why=one.why
    )  # fmt: skip


def _version(one: QuoteRecord, job: JobRecord) -> QuoteVersionOut:
    return QuoteVersionOut(
        called=f"{job.number}-{one.number}",
        valid_until=one.valid_until,
        too_old=too_old(one),
        id=one.id,
        version=one.version,
        number=one.number,
        status=one.status,  # type: ignore[arg-type]
        lines=[_line(line) for line in lines_of(one)],
        total=one.total_cents / _HUNDRED,
        told=list(one.told),
        note=one.note,
        accepted_by=one.accepted_by,
        accepted_at=zoned(one.accepted_at),
        person=one.person_name,
        at=one.at.replace(tzinfo=UTC),
    )


def offer(session: Session, job_id: str, body: OfferBody, *, person: PersonRecord) -> str:
    """Offer the car as it stands, as the next version; the job's id.

    Raises
    ------
    CoreError
        Nothing to offer, or nothing changed since the version that counts.
    """
    car, parts, _ = load_car(session, job_id)
    own = [OwnLine(one.words, round(one.dollars * _HUNDRED)) for one in body.own_lines]
    offer_version(session, car, parts, load_quote(session, car, parts, own), body.note, person)
    return job_id


def accept(session: Session, quote_id: str, body: AcceptBody, *, person: PersonRecord) -> str:
    """The customer accepts a version: from now on it is the order. The job's id.

    Raises
    ------
    CoreError
        Replaced meanwhile, accepted before, or signed without a stroke.
    StaleWriteError
        Somebody changed it meanwhile.
    """
    record = quotes(session).get_present(quote_id)
    if body.how == "signature" and not any(len(stroke) > 1 for stroke in body.signature):
        raise CoreError("Nothing was signed. Sign in the box, or take the paper.", fields={"signature": "Empty."})
    based_on = replace(record, version=body.version)
    accept_version(session, based_on, name=body.name, how=body.how, strokes=body.signature, person=person)
    return record.job_id


def quote_paper(session: Session, quote_id: str, paper: Paper, head: Letterhead) -> tuple[str, bytes]:
    """A version on paper: its name, and the PDF."""
    record = quotes(session).get_present(quote_id)
    car, parts, _ = load_car(session, record.job_id)
    title = f"Quote {parts.job.number}-{record.number}"
    return title, sheets_pdf(
        [quote_sheet(session, record, title, _told(parts.job), car)], head, title=title, paper=paper
    )


def _told(job: JobRecord) -> str:
    return " · ".join(str(one) for one in (job.number, job.vehicle_label, job.customer) if one)


def quote_sheet(session: Session, record: QuoteRecord, title: str, told: str, car: Car) -> Sheet:
    """A version as a paper."""
    rows = [[one.words, dollars(one.cents)] for one in lines_of(record)]
    rows.append(["All together", dollars(record.total_cents)])
    signed = [one for one in signatures_of(session, record.job_id, "quote") if one.about == record.id]
    strokes = signed[-1].strokes if signed else ()
    words = f"Accepted by {record.accepted_by}" if record.accepted_by else "Name, date, signature"
    return Sheet(
        title,
        told,
        [
            Words(f"{dollars(record.total_cents)} for this car", large=True),
            Rows(("What", "Price"), rows, (0.78, 0.22), sums=1),
            *(Words(one) for one in record.told),
            *_films(record, car),
            *exemption_blocks(car),
            *([Words(record.note)] if record.note else []),
            Words(_dates(record)),
            Words("A later wish is priced and accepted before it is cut. Film is cut as ordered here."),
            Signed(words, strokes),
        ],
    )


def _dates(record: QuoteRecord) -> str:
    """When a version was offered, and until when it stands."""
    offered = record.at.replace(tzinfo=UTC).astimezone().date()
    until = f", valid until {_day(date.fromisoformat(record.valid_until))}" if record.valid_until else ""
    return f"Offered on {_day(offered)}{until}."


def _day(day: date) -> str:
    return f"{day:%B} {day.day}, {day.year}"


def _films(record: QuoteRecord, car: Car) -> list[Block]:
    """The films of a version with their heat; those that are off the job since are left out."""
    named = {str(one.get("film", "")) for one in record.scope.values()}
    films = [film for film_id, film in car.job.films.items() if film_id in named]
    rows = [[one.name, one.heat, one.quality] for one in films_told(films, starting=car.starting)]
    blocks: list[Block] = [Rows(("Film", "Heat", "What it is"), rows, (0.25, 0.3, 0.45))] if rows else []
    return [*blocks, Words(METAL, strong=True)] if has_metal(films) else blocks


def prices(session: Session) -> PriceListOut:
    """The price list as it stands."""
    found, version = prices_of(session)
    return PriceListOut(
        windows={kind: cents / _HUNDRED for kind, cents in found.windows.items()},
        strip=found.strip / _HUNDRED,
        films=dict(found.films),
        own_films=dict(found.own_films),
        minute=found.minute / _HUNDRED,
        tax_percent=found.tax_percent,
        taxed=sorted(one.value for one in found.taxed),  # type: ignore[misc]
        tax_by_line=found.tax_by_line,
        own=found.own,
        version=version,
    )


def keep_prices(session: Session, body: PriceListBody, *, person_id: str) -> str:
    """Say the shop's prices.

    Raises
    ------
    CoreError
        A kind without a price.
    StaleWriteError
        Somebody said them meanwhile.
    """
    said = body.model_dump(mode="json", exclude={"version"})
    parse_prices(said)
    return keep(session, PRICES, said, version=body.version, person_id=person_id)


def keep_starting_prices(session: Session, *, version: int, person_id: str) -> str:
    """An owner's yes: the starting prices are the shop's own from now on.

    Raises
    ------
    CoreError
        The shop has prices of its own, which stay.
    StaleWriteError
        Somebody said prices meanwhile.
    """
    if prices_of(session)[0].own:
        raise CoreError("The shop has prices of its own already; they stay.", fields={"version": "Own prices."})
    return keep(session, PRICES, starting_prices(), version=version, person_id=person_id)

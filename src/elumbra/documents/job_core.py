"""From a job file's parts to the core's values, and the law that it brings."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import asdict, replace
from functools import lru_cache

from elumbra.core.errors import LengthError
from elumbra.core.film import Film, FilmFacts, LotFigure, Stock, StockFacts, check_film
from elumbra.core.law import LAW_FORMAT, LAW_FORMAT_VERSION, FieldSource, LawBook, LawFile, parse_law_file
from elumbra.core.measure import FrozenReadings, Measures, Reading
from elumbra.core.starting import StartingValues
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, check_answers
from elumbra.core.units import parse_length
from elumbra.core.work import Job, Ordered, Reason, Vehicle, VehicleFacts, Window, WindowFacts, facts_of, has_expired
from elumbra.documents.job_file import (
    FilmPart,
    JobFile,
    LawPart,
    ReasonPart,
    SourcePart,
    StockPart,
    VehiclePart,
    WindowPart,
)

_SQUARE_MM_PER_M2 = 1_000_000


def core_film(part: FilmPart) -> Film:
    """A film as the core knows it."""
    lot = part.lot
    figure = LotFigure(lot.lot, lot.vlt_percent / 100, lot.pm_points / 100, lot.readings) if lot else None
    return Film(**facts_of(part, FilmFacts), id=part.id, lot=figure)


def core_stock(part: StockPart) -> Stock:
    """A roll, offcut or sheet as the core knows it.

    Raises
    ------
    LengthError
        A size that is not a length.
    """
    return Stock(
        id=part.id,
        film_id=part.film,
        kind=part.kind,
        width=parse_length(part.width).mm,
        length=parse_length(part.length).mm,
        price=part.price_per_m2 / _SQUARE_MM_PER_M2,
        label=part.label,
        **facts_of(part, StockFacts),
    )


def core_window(part: WindowPart) -> Window:
    """A window as the core knows it.

    Raises
    ------
    LengthError
        A reading that is not a length; the message names the window and the reading.
    """
    readings = {}
    for key, reading in part.readings.items():
        try:
            length = parse_length(reading.typed)
        except LengthError as error:
            raise LengthError(f"{part.label}, {key}: {error.message}", fields={key: error.message}) from error
        readings[key] = Reading(length.typed, length.mm, reading.mode)
    same_as = part.same_as
    check_answers(part.findings, WINDOW_FINDINGS)
    return Window(
        **facts_of(part, WindowFacts),
        id=part.id,
        label=part.label,
        film_id=part.film,
        cut_film=part.cut.film if part.cut else None,
        ordered=Ordered(part.ordered.film, part.ordered.covers) if part.ordered else None,
        layers=part.layers,
        reason=core_reason(part.reason) if part.reason else None,
        measures=Measures(
            part.level, part.figure, part.curve, FrozenReadings(readings), frozenset(part.reentrant), part.drawn
        ),
        same_as=same_as.window if same_as else None,
        same_as_mirrored=bool(same_as and same_as.mirrored),
    )


def core_reason(part: ReasonPart) -> Reason:
    """A reason as the core knows it."""
    return Reason(
        part.kind, part.film, part.wish, part.document, part.expires_on, part.note, part.person, part.on, part.state,
        part.issued_on, part.no_expiry, None if part.least_percent is None else part.least_percent / 100, part.citation,
        part.lapsed,
    )  # fmt: skip


def with_lapsed(job: Job, document: JobFile, *, today: str) -> Job:
    """The job with each reason whose document had run out marked so: for film that is cut, on the day of the cut."""
    cut_on = {one.id: one.cut.on for one in document.job.windows if one.cut}
    return replace(
        job, windows=tuple(_lapsing(one, cut_on.get(one.id) if one.is_cut else None, today) for one in job.windows)
    )  # fmt: skip


def _lapsing(window: Window, cut_on: str | None, today: str) -> Window:
    if window.reason is None or not has_expired(window.reason, today=cut_on or today):
        return window
    return replace(window, reason=replace(window.reason, lapsed=True))


def core_vehicle(part: VehiclePart) -> Vehicle:
    """A vehicle as the core knows it."""
    check_answers(part.findings, CAR_FINDINGS)
    return Vehicle(**facts_of(part, VehicleFacts), label=part.label)


def law_of(document: JobFile, shipped: LawFile, *, today: str) -> LawBook:
    """The law that a job file is judged by: the one it was judged by before, else what holds today.

    Raises
    ------
    LawError
        A record in the file that cannot be used.
    """
    if document.law is None:
        return shipped.on(today)
    part = document.law
    sources = {code: {name: one.model_dump() for name, one in of.items()} for code, of in part.sources.items()}
    return _law_book(part.version, part.day, json.dumps([part.records, sources], sort_keys=True))


@lru_cache(maxsize=256)
def _law_book(version: str, day: str, content: str) -> LawBook:
    """The same records are read once."""
    records, sources = json.loads(content)
    if not records:
        return LawBook(version, "", day, {})
    header = {"format": LAW_FORMAT, "format_version": LAW_FORMAT_VERSION, "compiled": ""}
    book = parse_law_file(header | {"version": version, "records": records}).on(day)
    return book.with_sources(
        {code: {name: FieldSource(**one) for name, one in of.items()} for code, of in sources.items()}
    )


def law_part(law: LawBook, states: Sequence[str]) -> LawPart:
    """The records of some states as they stand, with who said what of them."""
    chosen = [law.records[code] for code in states if code in law.records]
    return LawPart(
        version=law.version,
        day=law.day,
        records=[dict(record.row) for record in chosen],
        sources={
            record.code: {name: SourcePart(**asdict(source)) for name, source in record.sources.items()}
            for record in chosen
            if record.sources
        },
    )


def core_job(document: JobFile, *, starting: StartingValues) -> Job:
    """The whole job as the core knows it, its films checked.

    Raises
    ------
    FilmError, LengthError, ReadingError
        What cannot be, with its field.
    """
    films = {part.id: core_film(part) for part in document.films}
    for film in films.values():
        check_film(film, starting=starting)
    windows = tuple(core_window(part) for part in document.job.windows)
    return Job(core_vehicle(document.job.vehicle), windows, films, document.unmetered_glass)

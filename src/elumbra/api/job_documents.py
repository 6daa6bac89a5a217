"""From stored records to the one job file that screens, solver, papers and export all use."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from sqlalchemy.orm import Session

from elumbra.api.law_books import job_book
from elumbra.core.film import LotFigure
from elumbra.core.law import LawBook
from elumbra.core.light import InstalledReading, lot_figure
from elumbra.core.starting import StartingValues
from elumbra.documents.job_file import (
    FilmPart,
    JobFile,
    JobPart,
    LawPart,
    LotPart,
    ReadingPart,
    ReasonPart,
    SameAsPart,
    StockPart,
    VehiclePart,
    WindowPart,
    core_film,
)
from elumbra.storage import data_files
from elumbra.storage.clock import today_iso
from elumbra.storage.law_words import Shelf
from elumbra.storage.records import (
    FilmRecord,
    InstalledReadingRecord,
    JobRecord,
    ReasonRecord,
    StockRecord,
    WindowRecord,
)
from elumbra.storage.store import films, installed_readings, reasons, shop_values, stock, windows


def shop_starting_values(session: Session) -> StartingValues:
    """The shipped figures with the shop's own laid over them."""
    own = {record.id: record.value for record in shop_values(session).all()}
    return data_files.starting_values().with_shop_values(own)


def film_part(film: FilmRecord, lot: LotFigure | None = None) -> FilmPart:
    """A stored film as it stands in a job file, with its lot's own figure where the shop has read one."""
    values = {name: getattr(film, name) for name in FilmPart.model_fields if name != "lot"}
    part = None
    if lot is not None:
        part = LotPart(lot=lot.lot, vlt_percent=100 * lot.vlt, pm_points=100 * lot.pm, readings=lot.readings)
    return FilmPart.model_validate(values | {"lot": part})


def lot_figures(
    all_films: Sequence[FilmRecord],
    all_stock: Sequence[StockRecord],
    readings: Sequence[InstalledReadingRecord],
    starting: StartingValues,
) -> dict[str, LotFigure]:
    """By film, the own figure of the lot on the rack: where there is just one lot and it has been read."""
    found = {}
    for film in all_films:
        lots = {record.lot for record in all_stock if record.film_id == film.id and record.length_left_mm > 0}
        if len(lots) != 1 or "" in lots:
            continue
        figure = figure_of_lot(film, lots.pop(), readings, starting)
        if figure is not None:
            found[film.id] = figure
    return found


def figure_of_lot(
    film: FilmRecord, lot: str, readings: Sequence[InstalledReadingRecord], starting: StartingValues
) -> LotFigure | None:
    """One lot's figure from the readings taken of it."""
    taken = [
        InstalledReading(one.predicted_percent / 100, one.predicted_pm / 100, one.read_percent / 100)
        for one in readings
        if one.film_id == film.id and one.lot == lot
    ]
    return lot_figure(core_film(film_part(film)), lot, taken, starting=starting)


def stock_part(record: StockRecord) -> StockPart:
    """Stored stock as it stands in a job file."""
    return StockPart.model_validate(
        {
            "id": record.id,
            "film": record.film_id,
            "kind": record.kind,
            "label": record.label,
            "width": record.width_typed,
            "length": record.length_left_typed,
            "price_per_m2": record.price_per_m2,
            "lot": record.lot,
            "liner": record.liner,
        }
    )


def reason_part(reason: ReasonRecord) -> ReasonPart:
    """A lead's reason as it stands in a job file."""
    return ReasonPart.model_validate(
        {
            "kind": reason.kind,
            "film": reason.film_id,
            "wish": reason.wish,
            "document": reason.document,
            "expires_on": reason.expires_on,
            "note": reason.note,
            "person": reason.person_name,
            "on": reason.on_day,
        }
    )


def standing_reasons(records: Sequence[ReasonRecord], *, today: str) -> dict[str, ReasonRecord]:
    """By window, the latest reason whose document has not run out."""
    return {
        record.window_id: record
        for record in sorted(records, key=lambda one: one.on_day)
        if not record.expires_on or record.expires_on >= today
    }


def window_part(record: WindowRecord, reason: ReasonRecord | None = None) -> WindowPart:
    """A stored window as it stands in a job file."""
    same_as = None
    if record.same_as_id:
        same_as = SameAsPart(window=record.same_as_id, mirrored=record.same_as_mirrored)
    return WindowPart.model_validate(
        {
            "id": record.id,
            "label": record.label,
            "position": record.position,
            "side": record.side,
            "kind": record.kind,
            "glass_type": record.glass_type,
            "bare_vlt_percent": record.bare_vlt_percent,
            "bare_vlt_source": record.bare_vlt_source,
            "bare_readings_percent": record.bare_readings_percent,
            "bare_vlt_through_old_film": record.bare_vlt_through_old_film,
            "old_film": record.old_film,
            "old_film_stays": record.old_film_stays,
            "layers": record.layers,
            "factory_glass": record.factory_glass,
            "as1_mark": record.as1_mark,
            "features": record.features,
            "reason": reason_part(reason) if reason else None,
            "film": record.film_id,
            "coverage": record.coverage,
            "strip_shape": record.strip_shape,
            "strip_pieces": record.strip_pieces,
            "curve": record.curve,
            "level": record.level,
            "figure": record.figure,
            "readings": {
                key: ReadingPart.model_validate({"typed": r["typed"], "mode": r["mode"]})
                for key, r in record.readings.items()
            },
            "same_as": same_as,
        }
    )


def vehicle_part(job: JobRecord) -> VehiclePart:
    """A job's vehicle as it stands in a job file."""
    return VehiclePart.model_validate(
        {
            "label": job.vehicle_label,
            "vehicle_class": job.vehicle_class,
            "states": job.states,
            "mirrors_both_sides": job.mirrors_both_sides,
            "model_year": job.model_year,
            "registered_as": job.registered_as,
            "no_glass_at": job.no_glass_at,
        }
    )


@dataclass(frozen=True)
class JobStock:
    """What all jobs of the shop are looked at with."""

    films: Sequence[FilmRecord]
    stock: Sequence[StockRecord]
    lots: Mapping[str, LotFigure]
    shop_changes: Mapping[str, float]


def load_stock(session: Session) -> JobStock:
    """The shop's films, rack, lots and own figures."""
    own = {record.id: record.value for record in shop_values(session).all()}
    starting = data_files.starting_values().with_shop_values(own)
    all_films, all_stock = films(session).all(), stock(session).all(order="label")
    lots = lot_figures(all_films, all_stock, installed_readings(session).all(), starting)
    return JobStock(all_films, all_stock, lots, own)


def build_job_file(
    job: JobRecord,
    job_windows: Sequence[WindowRecord],
    reasons_by_window: Mapping[str, ReasonRecord],
    shop: JobStock,
    law: LawBook,
) -> JobFile:
    """A job with the films it names, all stock of those films, and the law it is judged by."""
    chosen = {window.film_id for window in job_windows if window.film_id}
    named = chosen.union(*(window.layers for window in job_windows))
    return JobFile(
        job=JobPart(
            title=job.title,
            customer=job.customer,
            note=job.note,
            vehicle=vehicle_part(job),
            windows=[window_part(record, reasons_by_window.get(record.id)) for record in job_windows],
        ),
        films=[film_part(film, shop.lots.get(film.id)) for film in shop.films if film.id in named],
        stock=[stock_part(record) for record in shop.stock if record.film_id in chosen],
        starting_values=dict(shop.shop_changes),
        law=LawPart(
            version=law.version,
            day=law.day,
            records=[dict(law.records[code].row) for code in job.states if code in law.records],
        ),
    )


def load_job_file(session: Session, job: JobRecord) -> JobFile:
    """A stored job as a job file."""
    given = standing_reasons(reasons(session).all(job_id=job.id), today=today_iso())
    return build_job_file(
        job,
        windows(session).all(order="ordinal", job_id=job.id),
        given,
        load_stock(session),
        job_book(Shelf(session), job),
    )


def input_hash(document: JobFile) -> str:
    """What a plan depends on, in one short text."""
    return hashlib.sha256(document.model_dump_json().encode()).hexdigest()

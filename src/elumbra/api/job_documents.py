"""From stored records to the one job file that screens, solver, papers and export all use."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping, Sequence

from sqlalchemy.orm import Session

from elumbra.core.starting import StartingValues
from elumbra.documents.job_file import (
    FilmPart,
    JobFile,
    JobPart,
    ReadingPart,
    SameAsPart,
    StockPart,
    VehiclePart,
    WindowPart,
)
from elumbra.storage import data_files
from elumbra.storage.records import FilmRecord, JobRecord, StockRecord, WindowRecord
from elumbra.storage.store import films, shop_values, stock, windows


def shop_starting_values(session: Session) -> StartingValues:
    """The shipped figures with the shop's own laid over them."""
    own = {record.id: record.value for record in shop_values(session).all()}
    return data_files.starting_values().with_shop_values(own)


def film_part(film: FilmRecord) -> FilmPart:
    """A stored film as it stands in a job file."""
    return FilmPart.model_validate({name: getattr(film, name) for name in FilmPart.model_fields}, from_attributes=True)


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


def window_part(record: WindowRecord) -> WindowPart:
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
            "old_film": record.old_film,
            "film": record.film_id,
            "coverage": record.coverage,
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
        }
    )


def build_job_file(
    job: JobRecord,
    job_windows: Sequence[WindowRecord],
    all_films: Sequence[FilmRecord],
    all_stock: Sequence[StockRecord],
    shop_changes: Mapping[str, float],
) -> JobFile:
    """A job with the films it names and all stock of those films."""
    named = {window.film_id for window in job_windows if window.film_id}
    return JobFile(
        job=JobPart(
            title=job.title,
            customer=job.customer,
            note=job.note,
            vehicle=vehicle_part(job),
            windows=[window_part(record) for record in job_windows],
        ),
        films=[film_part(film) for film in all_films if film.id in named],
        stock=[stock_part(record) for record in all_stock if record.film_id in named],
        starting_values=dict(shop_changes),
    )


def load_job_file(session: Session, job: JobRecord) -> JobFile:
    """A stored job as a job file."""
    own = {record.id: record.value for record in shop_values(session).all()}
    return build_job_file(
        job,
        windows(session).all(order="ordinal", job_id=job.id),
        films(session).all(),
        stock(session).all(order="label"),
        own,
    )


def input_hash(document: JobFile) -> str:
    """What a plan depends on, in one short text."""
    return hashlib.sha256(document.model_dump_json().encode()).hexdigest()

"""A made-up shop to try things on: people, films, rolls, offcuts and jobs in different states."""

from __future__ import annotations

import json
from datetime import timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.api.job_documents import input_hash, load_job_file
from elumbra.api.jobs.law_operations import record_installed
from elumbra.api.jobs.operations import import_job
from elumbra.api.jobs.schemas import InstalledIn, JobOut
from elumbra.core.units import parse_length
from elumbra.documents.make_plan import final_plan
from elumbra.storage import data_files, solves
from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from elumbra.storage.store import films, jobs, now, people, stock
from elumbra.storage.tables import PersonRow

_SEEDER = "demo"
_FILM_DEFAULTS = {"reflectance_inside_percent": None, "uv_rejection_percent": None, "warranty_years": None}


def first_people(database: Database) -> None:
    """An empty shop gets one lead, so that somebody can act."""
    with database.session(write=True) as session:
        if session.scalar(select(func.count()).select_from(PersonRow)) == 0:
            people(session).create({"name": "Shop lead", "role": "lead"}, person_id="setup", record_id="lead")


def fill_demo(database: Database) -> None:
    """Fill an empty database with the demo shop; a filled one is left alone."""
    demo = data_files.read_data("demo.json")
    with database.session(write=True) as session:
        if session.scalar(select(func.count()).select_from(PersonRow)):
            return
        for person in demo["people"]:
            people(session).create(
                {"name": person["name"], "role": person["role"]}, person_id=_SEEDER, record_id=person["id"]
            )
        _fill_rack(session, demo)
        for row in demo["jobs"]:
            _fill_job(session, row, demo["films"])


def _fill_rack(session: Session, demo: dict[str, Any]) -> None:
    for film in demo["films"]:
        values = _FILM_DEFAULTS | {key: value for key, value in film.items() if key != "id"}
        films(session).create(values, person_id=_SEEDER, record_id=film["id"])
    for row in demo["stock"]:
        values = {key: row[key] for key in ("film_id", "kind", "label", "price", "lot", "liner")}
        for name in ("width", "full_length", "length_left"):
            values |= {f"{name}_typed": row[name], f"{name}_mm": parse_length(row[name]).mm}
        stock(session).create(values, person_id=_SEEDER, record_id=row["id"])


def _fill_job(session: Session, row: dict[str, Any], all_films: list[dict[str, Any]]) -> None:
    named = {window.get("film") for window in row["job"]["windows"]}
    document = {
        "format": "elumbra-job",
        "format_version": 1,
        "job": row["job"],
        "films": [{k: v for k, v in f.items() if k != "price_per_m2"} for f in all_films if f["id"] in named],
        "stock": [],
    }
    job = import_job(session, json.dumps(document).encode(), person_id=_SEEDER)
    promised = now().replace(minute=0, second=0) + timedelta(hours=row["promised_in_hours"])
    changes = {"status": row["status"], "bay": row["bay"], "promised_at": promised, "body": row["body"]}
    record = jobs(session).update(job.id, changes, version=job.version, person_id=_SEEDER)
    for reading in row.get("installed", ()):
        _fill_reading(session, job, reading)
    loaded = load_job_file(session, record)
    plan = final_plan(loaded, data_files.law_file(), data_files.starting_values(), today=today_iso())
    solve = solves.enqueue(session, job_id=job.id, input_hash=input_hash(loaded), document=loaded.model_dump_json())
    solves.next_queued(session)
    solves.record_step(session, solve.id, plan=plan.model_dump_json(), finished=True)


def _fill_reading(session: Session, job: JobOut, reading: dict[str, Any]) -> None:
    window = next(window for window in job.windows if window.label == reading["window"])
    body = InstalledIn(read_percent=reading["read_percent"], lot=reading["lot"])
    record_installed(session, window.id, body, person_id=_SEEDER)

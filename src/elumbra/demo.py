"""A made-up shop to try things on: people, films, rolls, offcuts and jobs in different states."""

from __future__ import annotations

import json
from dataclasses import fields, replace
from datetime import UTC, date, timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.api.car_view.law_books import HOME_STATES
from elumbra.api.exchange.operations import Importer, import_job
from elumbra.api.shade.operations import record_installed
from elumbra.api.shade.schemas import InstalledIn
from elumbra.car import input_hash, job_file, load_parts, load_shop, plan_input, stored_facts
from elumbra.car.glass_shelf import put_on_shelf
from elumbra.car.quote import PRICES, starting_prices
from elumbra.core.deeds import State
from elumbra.core.film import FilmFacts, RackFacts
from elumbra.core.units import parse_length
from elumbra.documents.job_file import FORMAT_VERSION, parse_job_file
from elumbra.documents.shelf import parse_shelf_file
from elumbra.storage import clock, data_files, doors, holds, kept_settings, ledger, tasks
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from elumbra.storage.deeds import lead_to
from elumbra.storage.ledger import counts
from elumbra.storage.rack import full_rolls
from elumbra.storage.records import FilmRecord, FullRollRecord, PersonRecord, SettingRecord, StockRecord
from elumbra.storage.store import films, jobs, people, settings, windows
from elumbra.storage.tables import PersonRow
from elumbra.tasks import final_plan

_SEEDER = "demo"
_LEAD = PersonRecord(id=_SEEDER, name="demo", role="lead")


def fill_demo(database: Database) -> bool:
    """Fill an empty database with the demo shop; a filled one is left alone. Whether it was filled now."""
    demo = data_files.read_data("demo.json")
    with database.session(write=True) as session:
        if session.scalar(select(func.count()).select_from(PersonRow)):
            return False
        for person in demo["people"]:
            record = PersonRecord(
                id=person["id"], name=person["name"], role=person["role"], facts=person.get("facts", {})
            )
            people(session).create(record, person_id=_SEEDER)
            doors.set_secret(session, record.id, doors.PASSWORD, demo_password(record.id), known=True)
        known = {person["id"]: demo_password(person["id"]) for person in demo["people"]}
        kept_settings.keep(session, doors.DEMO_PASSWORDS, known, version=0, person_id=_SEEDER)
        kept_settings.keep(session, "day_settings", demo["day"], version=0, person_id=_SEEDER)
        kept_settings.keep(session, PRICES, starting_prices(), version=0, person_id=_SEEDER)
        settings(session).create(SettingRecord(id=HOME_STATES, value={"value": demo["home_states"]}), person_id=_SEEDER)
        code = settings(session).get("shop_code")
        settings(session).update(replace(code, value={"value": demo["shop_code"]}), person_id=_SEEDER)
        _fill_rack(session, demo)
        for row in demo["jobs"]:
            _fill_job(session, row, demo["films"])
        for row in demo["full_rolls"]:
            girth, core, length = (parse_length(row[name]).mm for name in ("girth", "core", "length"))
            full = FullRollRecord(
                film_id=row["film_id"], girth_mm=girth, core_mm=core, length_mm=length, on_day=_days_ago(30),
                person_name="Ines Varga",
            )  # fmt: skip
            full_rolls(session).create(full, person_id=_SEEDER)
        for car in parse_shelf_file(data_files.read_bytes("shelf_demo.json")).cars:
            put_on_shelf(session, car, person_id=_SEEDER, why="made up with the demo shop")
    return True


def demo_password(person_id: str) -> str:
    """The password of somebody in the demo; everybody knows it, and the start page says it.

    Examples
    --------
    >>> demo_password("ines")
    'demo-ines'
    """
    return f"demo-{person_id}"


def _days_ago(days: int) -> str:
    return (date.fromisoformat(clock.today_iso()) - timedelta(days=days)).isoformat()


def _fill_rack(session: Session, demo: dict[str, Any]) -> None:
    for film in demo["films"]:
        facts = stored_facts({name: film[name] for name in FilmFacts.__dataclass_fields__ if name in film}, FilmFacts)
        record = FilmRecord(id=film["id"], facts=facts, price_per_m2=film["price_per_m2"])
        films(session).create(record, person_id=_SEEDER)
    for row in demo["stock"]:
        sizes = {name: parse_length(row[name]) for name in ("width", "full_length", "length_left")}
        piece = StockRecord(
            **{key: row[key] for key in ("id", "film_id", "kind", "label", "price")},
            **{one.name: row[one.name] for one in fields(RackFacts) if one.name in row},
            received_on=_days_ago(row["received_days_ago"]),
            width_typed=sizes["width"].typed,
            width_mm=sizes["width"].mm,
            full_length_typed=sizes["full_length"].typed,
            full_length_mm=sizes["full_length"].mm,
        )
        left = sizes["length_left"]
        ledger.receive(session, piece, counts(left.mm), person_id=_SEEDER, typed=left.typed)


def _fill_job(session: Session, row: dict[str, Any], all_films: list[dict[str, Any]]) -> None:
    named = {window.get("film") for window in row["job"]["windows"]}
    document = {
        "format": "elumbra-job",
        "format_version": FORMAT_VERSION,
        "job": row["job"],
        "films": [{k: v for k, v in f.items() if k != "price_per_m2"} for f in all_films if f["id"] in named],
        "stock": [],
    }
    parsed = parse_job_file(json.dumps(document).encode())
    job = jobs(session).get(import_job(session, parsed, Importer(_LEAD, is_lead=True)))
    promised = now().replace(minute=0, second=0) + timedelta(hours=row["promised_in_hours"])
    state = State(row["state"])
    gone = promised.date().isoformat() if state is State.DELIVERED else ""
    job = jobs(session).update(
        replace(job, bay=row["bay"], promised_at=promised, body=row["body"], handed_over_on=gone), person_id=_SEEDER
    )
    lead_to(session, job, state, person_id=_SEEDER)
    for reading in row.get("installed", ()):
        _fill_reading(session, job.id, reading)
    loaded = job_file(load_parts(session, jobs(session).get(job.id)), load_shop(session))
    plan = final_plan(loaded, data_files.law_file(), data_files.starting_values(), today=clock.today_iso())
    task = tasks.enqueue(
        session, kind="plan", job_id=job.id, input_hash=input_hash(loaded), content=plan_input(loaded).model_dump_json()
    )
    tasks.next_queued(session)
    if row.get("hold_film"):
        lengths = {stock_id: counts(length) for stock_id, length in plan.taken.items()}
        day = promised.replace(tzinfo=UTC).astimezone().date().isoformat()
        holds.hold(session, job.id, lengths, until=day, person_id=_SEEDER, person_name="Ines Varga")
    tasks.record_step(session, task.id, result=plan.model_dump_json(), summary=plan.summary, finished=True)


def _fill_reading(session: Session, job_id: str, reading: dict[str, Any]) -> None:
    window = next(window for window in windows(session).all(job_id=job_id) if window.label == reading["window"])
    body = InstalledIn(read_percent=reading["read_percent"], lot=reading["lot"], film_id=window.film_id or "")
    record_installed(session, window.id, body, person_id=_SEEDER)

"""A month that the made-up shop has behind it, from a seed: so that ledger, calls and search have something to say.

Cars are those of the demo's own jobs, with other owners. Every figure is made up by chance around what the shop's
own tables expect; the same seed on the same day makes the same month.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from random import Random
from typing import Any

from sqlalchemy.orm import Session

from elumbra.core.deeds import State
from elumbra.storage import clock, data_files
from elumbra.storage.database import Database
from elumbra.storage.declared import new_id
from elumbra.storage.deeds import lead_to
from elumbra.storage.finding import folded
from elumbra.storage.kept import calls, customers, flaws, looks, quotes, sign, vehicles
from elumbra.storage.kept_records import (
    CallRecord,
    CustomerRecord,
    FlawRecord,
    LookRecord,
    QuoteRecord,
    SignatureRecord,
    VehicleRecord,
)
from elumbra.storage.kept_tables import CustomerRow
from elumbra.storage.ledger import StepEvent, counts, note_event
from elumbra.storage.rack import next_stock_number
from elumbra.storage.records import (
    CuttingRecord,
    InstalledReadingRecord,
    JobRecord,
    SettingRecord,
    StockRecord,
    WindowRecord,
    WorkTime,
)
from elumbra.storage.store import cuttings, films, installed_readings, jobs, people, settings, stock, windows
from elumbra.storage.tables import MovementRow
from elumbra.storage.work_times import replace_times

SEED = 20_261_126
_BY = "demo"
_FIRST_NUMBER, _CARS, _DAYS = 951, 26, 34
_NAMES = (
    "N. Abara", "Greta Holm", "Wren & Sons Roofing", "Pilar Soto", "T. Okonkwo", "Juniper Bakery", "L. Haas",
    "Ana Brightwater", "S. Demir", "Tall Oak School", "K. Moreau", "B. Linden", "Faye Castell", "Ivo Mattsen",
)  # fmt: skip
_LOTS = {"harbor15": ("H15-2309", "H15-2311"), "harbor35": ("H35-2108", "H35-2111"), "dusk20": ("D20-0911",),
         "dusk35": ("D35-0874",), "dusk5": ("D05-0420",), "kiln50": ("K50-1177",)}  # fmt: skip
_FLAWS = ("dots", "speck", "finger", "lint", "crease", "water_pocket", "light_gap", "nick", "peeling")
_PHASES = (
    ("protect", 4), ("outside_prep", 5), ("cut", 8), ("shrink", 5), ("inside_prep", 9), ("last_rinse", 3),
    ("peel", 3), ("place", 5), ("tack", 3), ("press", 6), ("edges", 3), ("dry", 3), ("first_look", 4),
)  # fmt: skip


@dataclass
class _Month:
    session: Session
    chance: Random
    today: date
    rolls: dict[tuple[str, str], StockRecord]
    workers: list[tuple[str, str]]


def fill_month(database: Database) -> None:
    """Put a month behind the demo shop; one that has a past already is left alone."""
    with database.session(write=True) as session:
        if session.query(CustomerRow).first() is not None:
            return
        name = data_files.read_data("demo.json")["shop"]
        shop = {"name": name, "address": "12 Larch Street", "contact": "(555) 010-4477"}
        settings(session).create(SettingRecord(id="letterhead", value={"value": shop}), person_id=_BY)
        today = date.fromisoformat(clock.today_iso())
        workers = [(one.id, one.name) for one in people(session).all() if one.role in ("lead", "installer")]
        month = _Month(session, Random(SEED), today, {}, workers)
        patterns = [job for job in jobs(session).all(order="number") if _filmed(session, job.id)]
        for film_id, lots in _LOTS.items():
            for lot in lots:
                month.rolls[film_id, lot] = _roll(month, film_id, lot)
        for number in range(_CARS):
            days_ago = max(1, round((_CARS - number) * _DAYS / _CARS))
            _car(month, patterns[number % len(patterns)], _FIRST_NUMBER + number, today - timedelta(days=days_ago))


def _filmed(session: Session, job_id: str) -> list[WindowRecord]:
    return [one for one in windows(session).all(order="ordinal", job_id=job_id) if one.film_id in _LOTS]


def _at(day: date, hour: float) -> datetime:
    return datetime.combine(day, time(8)) + timedelta(hours=hour)


def _roll(month: _Month, film_id: str, lot: str) -> StockRecord:
    """A roll that was bought a while ago and is used up by now."""
    film = films(month.session).get(film_id)
    width, length = 1524.0, 15_240.0
    bought = month.today - timedelta(days=month.chance.randint(20, 60))
    record = StockRecord(
        film_id=film_id, kind="roll", label=f"{film.name}, used up", width_typed="60", width_mm=width,
        full_length_typed="600", full_length_mm=length, price=round(film.price_per_m2 * width * length / 1e6, 2),
        lot=lot, number=next_stock_number(month.session), received_on=bought.isoformat(), removed=True,
    )  # fmt: skip
    made = stock(month.session).create(record, person_id=_BY)
    _move(month, made.id, "received", counts(length), _at(bought, 1), "")
    return made


def _move(
    month: _Month, stock_id: str, kind: str, count: int, at: datetime, note: str, job_id: str | None = None
) -> None:
    month.session.add(
        MovementRow(stock_id=stock_id, kind=kind, count=count, at=at, person_id=_BY, job_id=job_id, note=note)
    )


def _car(month: _Month, pattern: JobRecord, number: int, day: date) -> None:
    session, chance = month.session, month.chance
    name = chance.choice(_NAMES)
    customer = CustomerRecord(name=name, phone=f"(555) 01{chance.randint(10, 99)}-{chance.randint(1000, 9999)}")
    customer = replace(customer, search=folded(customer.name, customer.phone))
    who = customers(session).create(customer, person_id=_BY)
    plate = f"{chance.choice('ABKLMRTX')}{chance.choice('CDFHJNPW')}{chance.randint(10, 99)} {chance.choice('EGQSVYZ')}"
    vin = f"0DEMO{chance.randint(10**11, 10**12 - 1)}"
    car = VehicleRecord(
        customer_id=who.id, label=pattern.vehicle_label, plate=plate, vin=vin,
        search=folded(pattern.vehicle_label, plate, vin),
    )  # fmt: skip
    vehicle = vehicles(session).create(car, person_id=_BY)
    job = jobs(session).create(
        replace(
            pattern, id=new_id(), version=1, number=number, title=f"{pattern.vehicle_label}, {name}", customer=name,
            note="", status=State.INQUIRY.value, bay="", promised_at=_at(day, 9),
            created_at=_at(day - timedelta(days=2), 1),
            customer_id=who.id, vehicle_id=vehicle.id, handed_over_on=day.isoformat(), stamp=0,
        ),
        person_id=_BY,
    )  # fmt: skip
    lead_to(session, job, State.DELIVERED, person_id=_BY, at=_at(day, 9))
    panes = _windows(session, pattern.id, job.id)
    marks = _cut(month, job, panes, day)
    times = _work(month, job, panes, day)
    _seen(month, job, panes, marks, day)
    _sold(month, job, panes, name, times, day)


def _windows(session: Session, pattern_id: str, job_id: str) -> list[WindowRecord]:
    ids: dict[str, str] = {}
    made = []
    for one in windows(session).all(order="ordinal", job_id=pattern_id):
        ids[one.id] = new_id()
        same_as = ids.get(one.same_as_id or "")
        record = replace(one, id=ids[one.id], version=1, job_id=job_id, same_as_id=same_as)
        made.append(windows(session).create(record, person_id=_BY))
    return [one for one in made if one.film_id in _LOTS]


def _cut(month: _Month, job: JobRecord, panes: list[WindowRecord], day: date) -> dict[str, str]:
    """Film off the used-up rolls; each window's lot."""
    chance = month.chance
    rows: list[dict[str, Any]] = []
    for pane in panes:
        film_id = pane.film_id or ""
        lot = chance.choice(_LOTS[film_id])
        roll = month.rolls[film_id, lot]
        used = counts(chance.uniform(420.0, 760.0))
        rows.append({"window_id": pane.id, "label": pane.label, "film_id": film_id, "lot": lot, "roll": roll.label,
                     "stock_id": roll.id, "count": used})  # fmt: skip
        _move(month, roll.id, "used", -used, _at(day, 1), f"job {job.number}", job.id)
        beside = counts(chance.uniform(30.0, 150.0))
        _move(month, roll.id, "waste", -beside, _at(day, 1), f"job {job.number}", job.id)
    plans = []
    for film_id in dict.fromkeys(pane.film_id or "" for pane in panes):
        bound = chance.uniform(40.0, 120.0)
        plans.append({"film_id": film_id, "yield_percent": round(chance.uniform(68.0, 91.0), 2),
                      "new_film": round(bound * chance.uniform(1.0, 1.14), 2), "bound": round(bound, 2),
                      "proven": chance.random() < 0.7})  # fmt: skip
    cuttings(month.session).create(
        CuttingRecord(
            job_id=job.id, input_hash="demo", on_day=day.isoformat(), person_name=chance.choice(month.workers)[1],
            content={"windows": rows, "taken": [], "kept": [], "plans": plans},
        ),
        person_id=_BY,
    )  # fmt: skip
    return {row["window_id"]: row["lot"] for row in rows}


def _work(month: _Month, job: JobRecord, panes: list[WindowRecord], day: date) -> tuple[float, float]:
    """Phases ticked whole, one window after the other; what was planned and what it took."""
    chance, at, planned, worked = month.chance, 1.5, 0.0, 0.0
    times = []
    for pane in panes:
        person, _ = chance.choice(month.workers)
        kind = str(pane.facts["kind"])
        slow = 2.2 if kind in ("back_glass", "hatch") else 1.0
        for phase, minutes in _PHASES:
            took = minutes * slow * chance.lognormvariate(0.02, 0.22)
            at += took / 60
            planned, worked = planned + minutes * slow, worked + took
            event = StepEvent(
                id=new_id(), job_id=job.id, step="", kind="tick", happened_at=_at(day, at), window_id=pane.id,
                value=json.dumps({"steps": [f"demo_{phase}"], "level": "phase"}),
            )  # fmt: skip
            note_event(month.session, event, person_id=person)
            times.append(
                WorkTime(event.id, job.id, kind, f"phase:{phase}", person, round(took, 2), _at(day, at))
            )  # fmt: skip
    replace_times(month.session, job.id, times)
    return planned, worked


def _seen(month: _Month, job: JobRecord, panes: list[WindowRecord], marks: dict[str, str], day: date) -> None:
    session, chance = month.session, month.chance
    names = dict(month.workers)
    for pane in panes:
        film_id = pane.film_id or ""
        look = LookRecord(
            job_id=job.id, window_id=pane.id, when="final", clean=True, film_id=film_id,
            person_name=chance.choice(list(names.values())), at=_at(day, 8),
        )  # fmt: skip
        looks(session).create(look, person_id=_BY)
        if chance.random() < 0.3:
            _flaw(month, job, pane, marks[pane.id], day)
        foretold = chance.gauss(float(films(session).get(film_id).facts["vlt_percent"]) * 0.8, 1.2)
        installed_readings(session).create(
            InstalledReadingRecord(
                job_id=job.id, window_id=pane.id, film_id=film_id, lot=marks[pane.id],
                predicted_percent=round(max(2.0, foretold), 2), predicted_pm=2.4,
                read_percent=round(max(1.0, foretold + chance.gauss(-0.6, 1.1)), 1), on_day=day.isoformat(),
            ),
            person_id=_BY,
        )  # fmt: skip


def _flaw(month: _Month, job: JobRecord, pane: WindowRecord, lot: str, day: date) -> None:
    session, chance = month.session, month.chance
    kind = chance.choice(_FLAWS)
    redo = kind in ("crease", "light_gap") or chance.random() < 0.12
    flaw = flaws(session).create(
        FlawRecord(
            job_id=job.id, window_id=pane.id, kind=kind, x=chance.uniform(0.3, 0.7), y=chance.uniform(0.3, 0.7),
            seen_from="inside", state="wet", size_mm=round(chance.uniform(0.5, 6.0), 1), when="leaving",
            film_id=pane.film_id or "", lot=lot, decision="redo" if redo else "",
            closed="redone" if redo else "gone", person_name=chance.choice(month.workers)[1], at=_at(day, 6),
        ),
        person_id=_BY,
    )  # fmt: skip
    if not redo:
        return
    value = {"what": "creased" if kind == "crease" else "other", "spoilt": True, "flaw": flaw.id}
    words = {"crease": "crease, sharp white line", "light_gap": "light gap, film’s edge in sight"}.get(kind, kind)
    event = StepEvent(
        id=new_id(), job_id=job.id, step="", kind="wrong", happened_at=_at(day, 6), window_id=pane.id,
        value=json.dumps(value | {"note": f"seen at Look: {words}"}),
    )  # fmt: skip
    note_event(session, event, person_id=chance.choice(month.workers)[0])
    lost = counts(chance.uniform(420.0, 700.0))
    roll = month.rolls[pane.film_id or "", lot]
    _move(month, roll.id, "waste", -lost, _at(day, 6), f"job {job.number}, {pane.label}: redo, {words}", job.id)


def _sold(
    month: _Month, job: JobRecord, panes: list[WindowRecord], name: str, times: tuple[float, float], day: date
) -> None:
    session, chance = month.session, month.chance
    lines = [
        {"key": f"film:{pane.id}", "kind": "film", "words": f"{pane.label}: {pane.film_id}", "window_id": pane.id,
         "cents": 100 * chance.choice((55, 65, 72, 99, 130)), "why": ""}
        for pane in panes
    ]  # fmt: skip
    quotes(session).create(
        QuoteRecord(
            job_id=job.id, number=1, lines=lines,
            scope={pane.id: {"film": pane.film_id or "", "covers": "full"} for pane in panes},
            total_cents=sum(int(str(line["cents"])) for line in lines), status="accepted", accepted_by=name,
            accepted_at=_at(day - timedelta(days=2), 2), person_name="Sol Pereira", at=_at(day - timedelta(days=2), 1),
        ),
        person_id=_BY,
    )  # fmt: skip
    told = {"planned_minutes": round(times[0], 1), "worked_minutes": round(times[1], 1)}
    sign(session, SignatureRecord(job_id=job.id, what="handover", name=name, how="paper", told=told, person_id=_BY,
                                  at=_at(day, 9)))  # fmt: skip
    if chance.random() < 0.12:
        pane = chance.choice(panes)
        calls(session).create(
            CallRecord(
                job_id=job.id, window_id=pane.id, kind="late_bubble", said="A bubble shows since the weekend.",
                outcome="normal" if (month.today - day).days < 5 else "touch_up", bears="shop",
                reasons=["It can be put right on the pane."], person_name="Sol Pereira",
                at=_at(min(month.today, day + timedelta(days=6)), 2),
            ),
            person_id=_BY,
        )  # fmt: skip

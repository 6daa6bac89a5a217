"""A month that the made-up shop has behind it, from a seed: so that ledger, calls and search have something to say.

Cars are those of the demo's own jobs, with other owners. Every figure is made up by chance around what the shop's
own tables expect; the same seed on the same day makes the same month.
"""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import dataclass, replace
from datetime import date, datetime, time, timedelta
from random import Random
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.car import kept_line, load_bay, load_quote, scope_record, settings_for
from elumbra.core.bay import END, START
from elumbra.core.deeds import State
from elumbra.core.inspection import Fitted, verdicts_on_reading
from elumbra.core.pricing import total
from elumbra.core.work import Car
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
         "dusk35": ("D35-0874",), "dusk5": ("D05-0420",), "kiln50": ("K50-1177",), "kiln70": ("K70-0102",)}  # fmt: skip
_LAWFUL = "harbor35"
_LONG_AGO = 731
_BETWEEN_ROLLS = 4
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
        month.rolls.update(_rolls(month, today - timedelta(days=month.chance.randint(40, 60))))
        for number in range(_CARS):
            days_ago = max(1, round((_CARS - number) * _DAYS / _CARS))
            _car(month, patterns[number % len(patterns)], _FIRST_NUMBER + number, today - timedelta(days=days_ago))
        _long_ago(month, patterns[0])
        for job in jobs(session).all(status=State.DELIVERED.value, order="number"):
            if job.customer_id is None:
                _of_the_demo(month, job)


def _long_ago(month: _Month, pattern: JobRecord) -> None:
    """A car of two years ago, with a customer who called about it this week."""
    day = month.today - timedelta(days=_LONG_AGO)
    old = replace(month, rolls=_rolls(month, day - timedelta(days=30)))
    job, panes = _car(old, pattern, _FIRST_NUMBER - 1, day)
    _call(month, job, panes[0], "faded", "The driver’s window has gone purple.", ("redo", "maker"), month.today)


def _rolls(month: _Month, latest: date) -> dict[tuple[str, str], StockRecord]:
    """A roll of every lot; they came one after the other, the last on a day."""
    lots = [(film_id, lot) for film_id, of_film in _LOTS.items() for lot in of_film]
    return {lot: _roll(month, *lot, latest - timedelta(days=_BETWEEN_ROLLS * at)) for at, lot in enumerate(lots)}


def _filmed(session: Session, job_id: str) -> list[WindowRecord]:
    return [one for one in windows(session).all(order="ordinal", job_id=job_id) if one.film_id in _LOTS]


def _at(day: date, hour: float) -> datetime:
    return datetime.combine(day, time(8)) + timedelta(hours=hour)


def _roll(month: _Month, film_id: str, lot: str, bought: date) -> StockRecord:
    """A roll that was bought a while ago and is used up by now."""
    film = films(month.session).get(film_id)
    width, length = 1524.0, 15_240.0
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


def _customer(month: _Month, label: str) -> VehicleRecord:
    """Somebody with a car."""
    session, chance = month.session, month.chance
    name = chance.choice(_NAMES)
    customer = CustomerRecord(name=name, phone=f"(555) 01{chance.randint(10, 99)}-{chance.randint(1000, 9999)}")
    customer = replace(customer, search=folded(customer.name, customer.phone))
    who = customers(session).create(customer, person_id=_BY)
    plate = f"{chance.choice('ABKLMRTX')}{chance.choice('CDFHJNPW')}{chance.randint(10, 99)} {chance.choice('EGQSVYZ')}"
    vin = f"0DEMO{chance.randint(10**11, 10**12 - 1)}"
    car = VehicleRecord(
        customer_id=who.id, label=label, plate=plate, vin=vin,
        search=folded(label, plate, vin),
    )  # fmt: skip
    return vehicles(session).create(car, person_id=_BY)


def _car(month: _Month, pattern: JobRecord, number: int, day: date) -> tuple[JobRecord, list[WindowRecord]]:
    session = month.session
    vehicle = _customer(month, pattern.vehicle_label)
    name = customers(session).get(str(vehicle.customer_id)).name
    job = jobs(session).create(
        replace(
            pattern, id=new_id(), version=1, number=number, title=f"{pattern.vehicle_label}, {name}", customer=name,
            note="", facts=_settled(pattern),
            status=State.INQUIRY.value, bay="", promised_at=_at(day, 9),
            created_at=_at(day - timedelta(days=2), 1),
            customer_id=vehicle.customer_id, vehicle_id=vehicle.id, handed_over_on=day.isoformat(), stamp=0,
        ),
        person_id=_BY,
    )  # fmt: skip
    lead_to(session, job, State.DELIVERED, person_id=_BY, at=_at(day, 9))
    panes = _windows(session, pattern.id, job.id)
    marks = _cut(month, job, panes, day)
    times = _work(month, job, panes, day)
    _seen(month, job, panes, marks, day)
    _ticked(month, job, day)
    _sold(month, job, panes, name, times, day)
    return job, panes


def _settled(pattern: JobRecord) -> Mapping[str, Any]:
    """The car's facts, where nothing was left open: no car went out on a law that nobody in the shop had confirmed."""
    return {**pattern.facts, "states": ["TX"]} if "NY" in pattern.facts["states"] else pattern.facts


def _of_the_demo(month: _Month, job: JobRecord) -> None:
    """A car that the demo itself delivered: whose it is, its film and its order, as of all others."""
    session = month.session
    day = date.fromisoformat(job.handed_over_on)
    vehicle = _customer(month, job.vehicle_label)
    name = customers(session).get(str(vehicle.customer_id)).name
    owned = replace(job, customer=name, customer_id=vehicle.customer_id, vehicle_id=vehicle.id)
    jobs(session).update(owned, person_id=_BY)
    read = {one.window_id: one.lot for one in installed_readings(session).all(job_id=job.id)}
    panes = _filmed(session, job.id)
    rolls = {(str(pane.film_id), read[pane.id]): _roll(month, str(pane.film_id), read[pane.id], day) for pane in panes}
    month = replace(month, rolls=rolls)
    _cut(month, job, panes, day, read)
    _ticked(month, job, day)
    for pane in panes:
        _looked(month, job, pane, day)
    _sold(month, job, panes, name, _work(month, job, panes, day), day)


def _ticked(month: _Month, job: JobRecord, day: date) -> None:
    """Every step of the runs, by one of the workers a window."""
    session = month.session
    car, parts, _ = load_car(session, job.id)
    for name, one in load_bay(session, car, parts, settings_for(session, None)).runs.progress.items():
        if not one.run.steps:
            continue
        window_id = None if name in (START, END) else name.removeprefix("strip:")
        film = car.window(window_id).film_id if window_id else None
        run = {} if name == window_id else {"run": "strip" if window_id else name}
        value = {"steps": [step.key for step in one.run.steps], "level": "phase", "film": film or "", **run}
        event = StepEvent(
            id=new_id(), job_id=job.id, step="", kind="tick", happened_at=_at(day, 7), window_id=window_id,
            value=json.dumps(value),
        )  # fmt: skip
        note_event(session, event, person_id=month.chance.choice(month.workers)[0])


def _windows(session: Session, pattern_id: str, job_id: str) -> list[WindowRecord]:
    ids: dict[str, str] = {}
    made = []
    for one in windows(session).all(order="ordinal", job_id=pattern_id):
        ids[one.id] = new_id()
        same_as = ids.get(one.same_as_id or "")
        record = replace(one, id=ids[one.id], version=1, job_id=job_id, same_as_id=same_as)
        made.append(windows(session).create(record, person_id=_BY))
    car, _, _ = load_car(session, job_id)
    for at, one in enumerate(made):
        worst = car.shades[one.id].worst
        if one.film_id is not None and worst is not None and worst.word.unlawful:
            # What the law says no to did not go out of this shop.
            made[at] = windows(session).update(replace(one, film_id=_LAWFUL), person_id=_BY)
    return [one for one in made if one.film_id in _LOTS]


def _cut(
    month: _Month, job: JobRecord, panes: list[WindowRecord], day: date, lots: Mapping[str, str] | None = None
) -> dict[str, str]:
    """Film off the used-up rolls; each window's lot."""
    chance = month.chance
    rows: list[dict[str, Any]] = []
    for pane in panes:
        film_id = pane.film_id or ""
        lot = lots[pane.id] if lots else chance.choice(_LOTS[film_id])
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
    car, _, _ = load_car(session, job.id)
    for pane in panes:
        film_id = pane.film_id or ""
        _looked(month, job, pane, day)
        if chance.random() < 0.3:
            _flaw(month, job, pane, marks[pane.id], day)
        foretold = chance.gauss(float(films(session).get(film_id).facts["vlt_percent"]) * 0.8, 1.2)
        installed_readings(session).create(
            InstalledReadingRecord(
                job_id=job.id, window_id=pane.id, film_id=film_id, lot=marks[pane.id],
                predicted_percent=round(max(2.0, foretold), 2), predicted_pm=2.4,
                read_percent=_lawful(car, pane.id, foretold + chance.gauss(-0.6, 1.1)), on_day=day.isoformat(),
            ),
            person_id=_BY,
        )  # fmt: skip


def _lawful(car: Car, window_id: str, percent: float) -> float:
    """A reading by which the law says yes: no car went out of this shop on another."""
    read = max(1.0, percent)
    while any(one.word.unlawful for one in verdicts_on_reading(car, window_id, Fitted(read / 100, None))):
        read += 0.7
    return round(read + 0.05, 1)


def _looked(month: _Month, job: JobRecord, pane: WindowRecord, day: date) -> None:
    look = LookRecord(
        job_id=job.id, window_id=pane.id, when="final", clean=True, film_id=pane.film_id or "",
        person_name=month.chance.choice(month.workers)[1], at=_at(day, 8),
    )  # fmt: skip
    looks(month.session).create(look, person_id=_BY)


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
    (cutting,) = cuttings(session).all(job_id=job.id)
    scrap = [*cutting.content.get("scrap", ()), {"event": event.id, "window_id": pane.id}]
    cuttings(session).update(replace(cutting, content={**cutting.content, "scrap": scrap}), person_id=_BY)
    lost = counts(chance.uniform(420.0, 700.0))
    roll = month.rolls[pane.film_id or "", lot]
    _move(month, roll.id, "waste", -lost, _at(day, 6), f"job {job.number}, {pane.label}: redo, {words}", job.id)


def _sold(
    month: _Month, job: JobRecord, panes: list[WindowRecord], name: str, times: tuple[float, float], day: date
) -> None:
    session, chance = month.session, month.chance
    car, parts, _ = load_car(session, job.id)
    lines = load_quote(session, car, parts).lines
    quotes(session).create(
        QuoteRecord(
            job_id=job.id, number=1, lines=[kept_line(one) for one in lines], scope=scope_record(car),
            total_cents=total(lines), status="accepted", accepted_by=name,
            accepted_at=_at(day - timedelta(days=2), 2), person_name="Sol Pereira", at=_at(day - timedelta(days=2), 1),
        ),
        person_id=_BY,
    )  # fmt: skip
    told = {"planned_minutes": round(times[0], 1), "worked_minutes": round(times[1], 1)}
    sign(session, SignatureRecord(job_id=job.id, what="handover", name=name, how="paper", told=told, person_id=_BY,
                                  at=_at(day, 9)))  # fmt: skip
    if chance.random() < 0.12:
        outcome = "normal" if (month.today - day).days < 5 else "touch_up"
        at = min(month.today, day + timedelta(days=6))
        said = "A bubble shows since the weekend."
        _call(month, job, chance.choice(panes), "late_bubble", said, (outcome, "shop"), at)


def _call(
    month: _Month, job: JobRecord, pane: WindowRecord, kind: str, said: str, told: tuple[str, str], day: date
) -> None:
    calls(month.session).create(
        CallRecord(
            job_id=job.id, window_id=pane.id, kind=kind, said=said, outcome=told[0], bears=told[1],
            reasons=["Decided from the record of the job."], person_name="Sol Pereira", at=_at(day, 2),
        ),
        person_id=_BY,
    )  # fmt: skip

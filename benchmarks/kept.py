"""Search, board, ledger and papers on a shop of ten years: ``python benchmarks/kept.py``.

Fills a scratch shop with 10,000 jobs in the shape that ten years leave behind, then asks the API as screens do.
Prints the median, the 95th percentile and the ratio to the target.
"""

from __future__ import annotations

import json
import sys
import tempfile
import time
from collections.abc import Callable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from pathlib import Path
from random import Random
from statistics import median, quantiles
from uuid import uuid4

sys.path.insert(0, str(Path(__file__).resolve().parents[1] / "src"))

from sqlalchemy import insert, text

from elumbra.api.app import AppConfig, make_app
from elumbra.demo import fill_demo
from elumbra.demo_month import fill_month
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from elumbra.storage.finding import folded
from elumbra.storage.kept_tables import CallRow, CustomerRow, FlawRow, QuoteRow, SignatureRow, VehicleRow
from elumbra.storage.store import jobs, windows
from elumbra.storage.tables import (
    AuditRow,
    CuttingRow,
    InstalledReadingRow,
    JobRow,
    MovementRow,
    StepEventRow,
    StockRow,
    WindowRow,
    WorkTimeRow,
)

JOBS, YEARS, SEED, ASKED = 10_000, 10, 7, 40
FIRST = ("Ana", "Bo", "Cleo", "Dai", "Esme", "Finn", "Gia", "Hal", "Ines", "Jon", "Kai", "Lena", "Mara", "Nils")
LAST = ("Alder", "Birch", "Cole", "Dunn", "Elm", "Frost", "Gale", "Holt", "Ives", "Jarre", "Knox", "Lunt", "Marsh")
PHASES = ("cut", "shrink", "inside_prep", "last_rinse", "place", "press", "edges", "dry")


class _NoTasks:
    def wake(self) -> None:
        """Nothing waits here."""


def fill(database: Database) -> None:
    """Ten years of finished jobs, cloned from the demo's finished one."""
    chance = Random(SEED)
    with database.session(write=False) as session:
        pattern = next(job for job in jobs(session).all(order="number") if job.status == "done")
        panes = windows(session).all(order="ordinal", job_id=pattern.id)
    start = datetime.now(UTC).replace(tzinfo=None, hour=9, minute=0, second=0, microsecond=0) - timedelta(
        days=365 * YEARS
    )
    rows: dict[type, list[dict[str, object]]] = {}

    def put(table: type, **values: object) -> None:
        rows.setdefault(table, []).append(values)

    stock = [f"old{i}" for i in range(400)]
    for i, name in enumerate(stock):
        put(StockRow, id=name, version=1, removed=True, film_id="dusk20", kind="roll", label=f"Dusk 20, roll {i}", width_typed="60",
            width_mm=1524.0, full_length_typed="1200", full_length_mm=30480.0, price=240.0, lot=f"OLD-{i:04}", number=100_000 + i,
            received_on=str((start + timedelta(days=9 * i)).date()))  # fmt: skip
        put(
            MovementRow,
            stock_id=name,
            kind="received",
            count=30480 * 80,
            typed="",
            at=start + timedelta(days=9 * i),
            person_id="ines",
            note="",
        )
    for i in range(JOBS):
        day = start + timedelta(days=365 * YEARS * i / JOBS)
        _one(put, chance, replace(pattern, facts=dict(pattern.facts)), panes, i, day, stock)
    with database.session(write=True) as session:
        session.execute(text("PRAGMA defer_foreign_keys=ON"))
        for table, values in rows.items():
            for at in range(0, len(values), 5000):
                session.execute(insert(table), values[at : at + 5000])


def _one(put: Callable[..., None], chance: Random, pattern, panes, i: int, day: datetime, stock: list[str]) -> None:
    who, car, job_id = f"c{i}", f"v{i}", f"j{i}"
    name = f"{chance.choice(FIRST)} {chance.choice(LAST)} {i}"
    phone, plate = f"(555) {i:07}", f"ZQ{i:05}"
    put(
        CustomerRow,
        id=who,
        version=1,
        removed=False,
        name=name,
        phone=phone,
        email="",
        note="",
        search=folded(name, phone),
        erased_on="",
    )
    put(VehicleRow, id=car, version=1, removed=False, customer_id=who, label=pattern.vehicle_label, plate=plate, vin=f"VIN{i:014}",
        note="", search=folded(pattern.vehicle_label, plate, f"VIN{i:014}"))  # fmt: skip
    put(JobRow, id=job_id, version=3, removed=False, number=200_000 + i, title=f"{pattern.vehicle_label}, {name}", customer=name, note="",
        status="done", bay="", promised_at=day, vehicle_label=pattern.vehicle_label, body=pattern.body, facts=dict(pattern.facts),
        law_day=pattern.law_day, law_revision=pattern.law_revision, created_at=day, stamp=9, customer_id=who, vehicle_id=car,
        handed_over_on=str(day.date()))  # fmt: skip
    marks = []
    for pane in panes:
        window_id = f"{job_id}{pane.ordinal}"
        put(WindowRow, id=window_id, version=1, removed=False, job_id=job_id, ordinal=pane.ordinal, label=pane.label, facts=dict(pane.facts),
            layers=[], film_id=pane.film_id, curve=pane.curve, level=pane.level, figure=pane.figure, readings=dict(pane.readings),
            reentrant=[], drawn=[], same_as_mirrored=False)  # fmt: skip
        if pane.film_id is None:
            continue
        roll = chance.randrange(len(stock))
        marks.append({"window_id": window_id, "label": pane.label, "film_id": pane.film_id, "lot": f"OLD-{roll:04}", "roll": stock[roll],
                      "stock_id": stock[roll], "count": 40000})  # fmt: skip
        for kind, count in (("used", -40_000), ("waste", -6_000)):
            put(MovementRow, stock_id=stock[roll], kind=kind, count=count, typed="", at=day, person_id="ines",
                note=f"job {200_000 + i}", job_id=job_id)  # fmt: skip
        put(InstalledReadingRow, id=uuid4().hex[:16], version=1, removed=False, job_id=job_id, window_id=window_id, film_id=pane.film_id,
            lot=f"OLD-{roll:04}", predicted_percent=15.0, predicted_pm=2.0, read_percent=14.5, on_day=str(day.date()))  # fmt: skip
        for at, phase in enumerate(PHASES):
            event = uuid4().hex[:16]
            put(StepEventRow, id=event, job_id=job_id, window_id=window_id, step="", kind="tick", happened_at=day + timedelta(minutes=9 * at),
                at=day, person_id="tobi", value=json.dumps({"steps": [f"x{at}"], "level": "phase"}))  # fmt: skip
            put(WorkTimeRow, id=event, job_id=job_id, window_kind="framed_door", what=f"phase:{phase}", person_id="tobi", minutes=8.5,
                at=day + timedelta(minutes=9 * at))  # fmt: skip
        if chance.random() < 0.1:
            put(FlawRow, id=uuid4().hex[:16], version=2, removed=False, job_id=job_id, window_id=window_id, kind="speck", x=0.5, y=0.5,
                seen_from="inside", state="set", size_mm=1.0, count=1, when="final", note="", answers={}, film_id=pane.film_id,
                lot=f"OLD-{roll:04}", decision="", because="", accepted_by="", tries=0, closed="gone", person_name="Tobi Lund", at=day)  # fmt: skip
    put(CuttingRow, id=f"k{i}", version=1, removed=False, job_id=job_id, input_hash="x", on_day=str(day.date()), person_name="Tobi Lund",
        lots=" ".join(one["lot"].lower() for one in marks),
        content={"windows": marks, "taken": [], "kept": [],
                 "plans": [{"film_id": "dusk20", "yield_percent": 80.0, "new_film": 60.0, "bound": 55.0, "proven": True}]})  # fmt: skip
    put(QuoteRow, id=f"q{i}", version=2, removed=False, job_id=job_id, number=1, lines=[], own_lines=[], scope={}, told=[], total_cents=42000,
        status="accepted", note="", accepted_by=name, accepted_at=day, person_name="Sol Pereira", at=day)  # fmt: skip
    put(SignatureRow, id=f"s{i}", job_id=job_id, what="handover", about="", name=name, how="paper", strokes=[],
        told={"planned_minutes": 200.0, "worked_minutes": 214.0}, person_id="sol", at=day)  # fmt: skip
    for change in range(6):
        put(AuditRow, at=day, person_id="ines", action="changed", record_kind="job", record_id=job_id, record_version=change, job_id=job_id,
            changes={"note": ["", f"word {change}"]})  # fmt: skip
    if i % 40 == 0:
        put(CallRow, id=f"t{i}", version=1, removed=False, job_id=job_id, window_id=f"{job_id}{panes[1].ordinal}", kind="late_bubble", said="",
            answers={}, outcome="touch_up", bears="shop", reasons=[], overruled="", status="done", person_name="Sol Pereira", at=now())  # fmt: skip


def asked(client, path: str) -> list[float]:
    """Milliseconds of several askings, the first one left out: it warms what a server keeps warm."""
    found = []
    for turn in range(ASKED + 1):
        begun = time.perf_counter()
        response = client.get(path.replace("{n}", str((turn * 251) % JOBS)))
        took = 1000 * (time.perf_counter() - begun)
        assert response.status_code == 200, response.text
        if turn:
            found.append(took)
    return found


def told(name: str, times: list[float], limit: float) -> None:
    """One line."""
    p95 = quantiles(times, n=20, method="inclusive")[18]
    print(
        f"{name:<44} median {median(times):8.1f} ms   95 % {p95:8.1f} ms   aim {limit:6.0f} ms   ratio {p95 / limit:5.2f}"
    )


def main() -> None:
    """Fill, ask, print."""
    with tempfile.TemporaryDirectory() as folder:
        database = Database(Path(folder) / "elumbra.db")
        database.migrate()
        fill_demo(database)
        fill_month(database)
        begun = time.perf_counter()
        fill(database)
        size = database.path.stat().st_size / 1e6
        print(f"{JOBS} jobs of {YEARS} years filled in {time.perf_counter() - begun:.0f} s, {size:.0f} MB")
        app = make_app(AppConfig(database, _NoTasks(), b"bench"))
        client = app.test_client()
        client.post(
            "/api/session", json={"person_id": "ines", "password": "demo-ines"}, headers={"X-Write-Id": uuid4().hex}
        )
        told("search by name", asked(client, "/api/find?search=alder {n}"), 150)
        told("search by plate", asked(client, "/api/find?search=zq0{n}"), 150)
        told("search by telephone", asked(client, "/api/callers?search=555000{n}"), 150)
        told("search by lot", asked(client, "/api/callers?search=OLD-0{n}"), 150)
        told("search by nothing that is there", asked(client, "/api/find?search=xyzzy{n}"), 150)
        told("list of jobs, a page", asked(client, "/api/jobs?page=3"), 300)
        told("customers, a page", asked(client, "/api/customers?page=9"), 150)
        told("board", asked(client, "/api/board"), 300)
        told("ledger, thirteen weeks", asked(client, "/api/ledger"), 300)
        told("recall of a lot", asked(client, "/api/recall?film_id=dusk20&lot=OLD-0123"), 300)
        job = client.get("/api/jobs?search=Fenwick 4, all round").json["jobs"][0]["id"]
        told("Look of a car", asked(client, f"/api/jobs/{job}/look"), 300)
        told("papers of a car, the whole set", asked(client, f"/api/jobs/{job}/papers/set"), 2000)
        told("file for the customer", asked(client, f"/api/jobs/{job}/customer-file"), 2000)
        database.close()


if __name__ == "__main__":
    main()

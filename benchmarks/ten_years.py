"""Ten years of a busy shop: 10,000 jobs from a seed, and how the screens answer over them.

Run by ./elumbra bench; ``python benchmarks/ten_years.py FOLDER`` only fills a folder.
"""

from __future__ import annotations

import json
import random
import resource
import sys
import threading
import time
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import numpy as np
from sqlalchemy import insert, text

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from elumbra.api.app import AppConfig, make_app
from elumbra.car import stored_facts
from elumbra.core.units import format_inches, parse_length
from elumbra.core.work import VehicleFacts, WindowFacts
from elumbra.demo import fill_demo
from elumbra.storage import data_files
from elumbra.storage.database import Database
from elumbra.storage.tables import AuditRow, InstalledReadingRow, JobRow, TaskRow, WindowRow

JOBS = 10_000
STILL_OPEN = 30
LAST_DAY = datetime(2026, 11, 24, 17, 0)  # noqa: DTZ001  stored times carry no zone
FIRST_NUMBER = 2000
FILMS = ("harbor15", "harbor35", "dusk20", "dusk35", "kiln50", "kiln70")
STATES = ("TX", "FL", "CO", "NC", "OH", "GA", "AZ", "TN")
BATCH = 500


class _NoTasks:
    def wake(self) -> None:
        """Plans are not asked for here."""


def fill(folder: Path, *, jobs: int = JOBS, seed: int = 7) -> Database:
    """The demo shop with ten years of jobs behind it."""
    database = Database(folder / "elumbra.db")
    database.migrate()
    fill_demo(database)
    chance = random.Random(seed)
    for start in range(0, jobs, BATCH):
        rows: dict[Any, list[dict[str, Any]]] = {}
        for i in range(start, min(start + BATCH, jobs)):
            _one_job(rows, i, jobs, chance)
        with database.session(write=True) as session:
            for table, values in rows.items():
                session.execute(insert(table), values)
    with database.engine.connect() as connection:
        connection.exec_driver_sql("COMMIT")
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
    return database


def _one_job(rows: dict[Any, list[dict[str, Any]]], i: int, jobs: int, chance: random.Random) -> None:
    body = chance.choice(list(data_files.bodies()))
    style = data_files.bodies()[body]
    job_id = f"job{i:06}"
    opened = LAST_DAY - timedelta(minutes=(jobs - i) * 526)
    still_open = i >= jobs - STILL_OPEN
    vehicle = {"vehicle_class": style["vehicle_class"], "states": [chance.choice(STATES)], "mirrors_both_sides": True}
    rows.setdefault(JobRow, []).append(
        {
            "id": job_id, "version": 1, "removed": False, "number": FIRST_NUMBER + i, "title": f"Car {i}",
            "customer": f"Customer {chance.randrange(4000)}", "note": "", "bay": "",
            "status": chance.choice(("booked", "in_bay", "paused")) if still_open else "done",
            "promised_at": opened + timedelta(hours=6), "vehicle_label": f"{style['label']} {i % 97}", "body": body,
            "facts": stored_facts(vehicle, VehicleFacts), "law_day": opened.date().isoformat(), "law_revision": 0,
            "created_at": opened, "stamp": 1,
        }
    )  # fmt: skip
    film = chance.choice(FILMS)
    ids = {row["key"]: f"{job_id}-{n}" for n, row in enumerate(style["windows"])}
    for n, row in enumerate(style["windows"]):
        _one_window(rows, job_id, n, row, ids, film, chance)
    rows.setdefault(InstalledReadingRow, []).append(
        {
            "id": f"read{i:06}", "version": 1, "removed": False, "job_id": job_id, "window_id": ids[style["windows"][0]["key"]],
            "film_id": film, "lot": f"L{i // 400}", "predicted_percent": 30.0, "predicted_pm": 1.2,
            "read_percent": 30 + chance.gauss(0, 1), "on_day": opened.date().isoformat(),
        }
    )  # fmt: skip
    rows.setdefault(AuditRow, []).extend(
        {
            "at": opened, "person_id": "ines", "action": "created", "record_kind": kind, "record_id": record,
            "record_version": 1, "job_id": job_id, "changes": {"title": [None, f"Car {i}"]},
        }
        for kind, record in [("job", job_id), *(("window", one) for one in ids.values())]
    )  # fmt: skip
    if i >= jobs - 400:
        rows.setdefault(TaskRow, []).append(
            {
                "id": f"task{i:06}", "kind": "plan", "job_id": job_id, "input_hash": f"h{i}", "input": "x" * 6000,
                "status": "done", "progress": 2, "result": "x" * 30_000, "summary": {"cut": [], "unplaced": []},
                "error": "", "attempts": 1, "deadline_s": 120.0, "memory_mb": 1500, "created_at": opened,
            }
        )  # fmt: skip


def _one_window(
    rows: dict[Any, list[dict[str, Any]]], job_id: str, n: int, row: dict[str, Any], ids: dict[str, str], film: str,
    chance: random.Random,
) -> None:  # fmt: skip
    known = {name: row[name] for name in WindowFacts.__dataclass_fields__ if name in row}
    metered = {"bare_vlt_percent": float(chance.randint(70, 79)), "bare_vlt_source": "metered"}
    readings = {}
    if "same_as" not in row:
        for key, low, high in (("width", 26, 52), ("height", 15, 27)):
            typed = format_inches(chance.randrange(low * 16, high * 16) / 16 * 25.4)
            readings[key] = {"typed": typed, "mm": parse_length(typed).mm, "mode": "surface"}
    rows.setdefault(WindowRow, []).append(
        {
            "id": ids[row["key"]], "version": 1, "removed": False, "job_id": job_id, "ordinal": n, "label": row["label"],
            "facts": stored_facts(known | metered, WindowFacts), "layers": [],
            "film_id": None if row["position"] == "windshield" else film, "curve": row["curve"], "level": "size",
            "figure": row.get("figure", "four"), "readings": readings, "same_as_id": ids.get(row.get("same_as", "")),
            "same_as_mirrored": "same_as" in row,
        }
    )  # fmt: skip


def figures(folder: Path) -> list[tuple[str, float, str, float | None]]:
    """How the screens answer: name, figure, unit, aim."""
    database = fill(folder)
    app = make_app(AppConfig(database, _NoTasks(), b"bench"))
    client = app.test_client()
    client.post(
        "/api/session", json={"person_id": "ines", "password": "demo-ines"}, headers={"X-Write-Id": uuid4().hex}
    )
    chance = random.Random(3)
    begin = time.perf_counter()
    assert client.get("/api/board").status_code == 200
    cold = 1000 * (time.perf_counter() - begin)
    pages = client.get("/api/jobs").json["pages"]

    def p95(path: Any, times: int, *, warm: bool = False) -> float:
        taken = []
        for i in range(times):
            address = path(i)
            if warm:
                client.get(address)
            begin = time.perf_counter()
            assert client.get(address).status_code == 200
            taken.append(1000 * (time.perf_counter() - begin))
        return float(np.percentile(taken, 95))

    found = [
        ("ten years, 10,000 jobs: first screen, nothing kept yet", cold, "ms", None),
        ("first screen, p95 of 40", p95(lambda _: "/api/board", 40), "ms", 150.0),
        ("a page of jobs looked at before, p95 of 40", p95(lambda _: f"/api/jobs?page={chance.randint(1, pages)}", 40, warm=True), "ms", 150.0),
        ("a page of jobs never looked at before, p95 of 30", p95(lambda i: f"/api/jobs?page={i + 2}", 30), "ms", None),
        ("a search over all jobs, p95 of 20", p95(lambda i: f"/api/jobs?search=customer+{i * 37}", 20, warm=True), "ms", 150.0),
        ("one job, p95 of 60", p95(lambda _: f"/api/jobs/job{chance.randrange(JOBS):06}", 60), "ms", 100.0),
        ("a film's page with its readings, p95 of 20", p95(lambda i: f"/api/films/{FILMS[i % 6]}", 20), "ms", 150.0),
        ("memory of the process that answers, peak", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MB", 350.0),
    ]  # fmt: skip
    found += twenty_writers(app, database)
    database.close()
    return found


def twenty_writers(app: Any, database: Database, seconds: float = 60.0) -> list[tuple[str, float, str, float | None]]:
    """Twenty people write for a minute: errors, writes a second, the slowest of a hundred."""
    taken: list[float] = []
    errors: list[str] = []
    end = time.monotonic() + seconds

    def write(name: int) -> None:
        client = app.test_client()
        client.post(
            "/api/session", json={"person_id": "tobi", "password": "demo-tobi"}, headers={"X-Write-Id": uuid4().hex}
        )
        job = client.get(f"/api/jobs/job{name:06}").json
        version = job["version"]
        i = 0
        while time.monotonic() < end:
            i += 1
            begin = time.perf_counter()
            body = {"version": version, "note": f"note {i}"}
            answer = client.patch(f"/api/jobs/{job['id']}", json=body, headers={"X-Write-Id": uuid4().hex})
            taken.append(1000 * (time.perf_counter() - begin))
            if answer.status_code != 200:
                errors.append(answer.text)
                return
            version = answer.json["version"]

    threads = [threading.Thread(target=write, args=(i,)) for i in range(20)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    with database.session(write=False) as session:
        whole = session.execute(text("PRAGMA quick_check")).scalar()
    assert whole == "ok"
    return [
        ("twenty writers for a minute: errors", float(len(errors)), "", 0.0),
        ("twenty writers for a minute: writes a second", len(taken) / seconds, "/s", None),
        ("twenty writers for a minute: p95 of a write with its answer", float(np.percentile(taken, 95)), "ms", None),
    ]


if __name__ == "__main__":
    if len(sys.argv) == 2 and sys.argv[1] != "--json":
        fill(Path(sys.argv[1])).close()
    else:
        from tempfile import TemporaryDirectory

        with TemporaryDirectory() as made:
            print(json.dumps(figures(Path(made))))

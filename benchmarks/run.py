"""Speed figures against their aims. Prints a table; fails nothing. Run with ./elumbra bench."""

from __future__ import annotations

import gzip
import json
import re
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any
from uuid import uuid4

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from playwright.sync_api import APIRequestContext, sync_playwright

from benchmarks import cutting
from elumbra.api.shelf.operations import find
from elumbra.api.shelf.schemas import ShelfQuery
from elumbra.car.glass_shelf import put_on_shelf
from elumbra.core.film import Film
from elumbra.core.glass import Curve, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass, judge_car
from elumbra.core.light import GlassSource
from elumbra.core.measure import Figure, Level, Measures, Reading, measure_pane
from elumbra.core.work import Job, Vehicle, Window, propose, shade_car
from elumbra.demo import fill_demo
from elumbra.made_up_glass import made_up_shelf
from elumbra.storage.clock import today_iso
from elumbra.storage.data_files import law_file, starting_values
from elumbra.storage.database import Database
from tests.api.test_kill import counted, kill_often, ledger_holds, planned_rack, prepared, work_the_rack
from tests.catalogue.barrels import BACK, CROWNS, bowl_of, chart_of, crown_readings, tape_readings
from tests.catalogue.panes import INCH, QUADS, SIX, film, true_lengths
from tests.e2e.server import CHROMIUM, CHROMIUM_FLAGS, running_demo, sign_in

START = starting_values()
TODAY = today_iso()


def timed(work: Callable[[], object], *, times: int) -> float:
    """Median milliseconds."""
    taken = []
    for _ in range(times):
        begin = time.perf_counter()
        work()
        taken.append(1000 * (time.perf_counter() - begin))
    return statistics.median(taken)


def show(what: str, value: float, unit: str, aim: float | None) -> None:
    """One line: figure, aim, ratio."""
    ratio = f"aim {aim:g} {unit}, ratio {value / aim:.2f}" if aim else ""
    print(f"{what:<64} {value:9.1f} {unit:<4} {ratio}", flush=True)


def shop_films() -> list[Film]:
    """Eight films from nearly black to nearly clear."""
    shares = (0.05, 0.15, 0.20, 0.35, 0.37, 0.50, 0.55, 0.70)
    return [film(share, id=f"f{i}", reflectance=0.06) for i, share in enumerate(shares)]


def car(state: str) -> Job:
    """A wagon of eight windows, film on all but the windshield."""
    places = [
        Position(p)
        for p in ("front_side", "rear_side", "rear_side", "rear_window", "rear_side", "front_side", "windshield")
    ]
    windows = tuple(
        Window(
            id=f"w{i}", label=f"Window {i}", position=place, side=Side.CENTRE, kind=WindowKind.FRAMED_DOOR,
            bare_vlt_percent=75.0, bare_vlt_source=GlassSource.METERED,
            film_id=None if place is Position.WINDSHIELD else "f3",
        )
        for i, place in enumerate(places)
    )  # fmt: skip
    vehicle = Vehicle(
        label="wagon", vehicle_class=VehicleClass.PASSENGER, states=(state,), mirrors_both_sides=True, model_year=2020,
        registered_as=RegisteredAs.SEDAN,
    )  # fmt: skip
    return Job(vehicle, windows, {one.id: one for one in shop_films()})


def law_of_a_car() -> None:
    book = law_file().on(TODAY)
    job = car("TX")
    shaded = shade_car(job, starting=START)
    records = list(book.records.values())

    def judge_all() -> None:
        for record in records:
            judge_car(record, shaded.car, starting=START)

    def whole_check() -> None:
        fresh = shade_car(job, starting=START)
        for record in records:
            fresh.judge(record, starting=START)

    judge_all()
    show("law: a car of 7 filmed windows in 51 jurisdictions", timed(judge_all, times=25), "ms", 5)
    show("light with spreads, then law, the same car x 51", timed(whole_check, times=25), "ms", 10)
    for state in ("TX", "IL", "CO"):
        plan = car(state)
        propose(plan, shop_films(), book, starting=START)
        show(
            f"whole-car proposals from 8 films, {state}",
            timed(lambda plan=plan: propose(plan, shop_films(), book, starting=START), times=9),  # type: ignore[misc]
            "ms",
            50,
        )


def fit_of_a_pane() -> None:
    anew = measure_pane.__wrapped__  # past the memory of what was worked out before

    def show_fit(what: str, lengths: dict[str, float], curve: Curve, aim: float | None) -> None:
        exact = {key: Reading(str(mm), mm) for key, mm in lengths.items()}
        level = Level.SHAPE if curve is Curve.FLAT else Level.CURVE
        given = Measures(level, Figure.FOUR, curve, exact)
        show(what, timed(lambda: anew(given, starting=START), times=20), "ms", aim)

    flat = {key: true_lengths(QUADS["front door"])[key] for key in SIX}
    show_fit("flat pane that closes", flat, Curve.FLAT, None)
    show_fit("flat pane with a slip, suspects named", flat | {"top": flat["top"] + INCH}, Curve.FLAT, None)
    for crowns, gaps in CROWNS.items():
        bowl = bowl_of(BACK, *gaps)
        taken = tape_readings(chart_of(BACK, bowl), bowl) | crown_readings(bowl, BACK)
        show_fit(f"curved pane {crowns} mm that closes", taken, Curve.STRONG, 20)
        slipped = taken | {"diagonal_rising": taken["diagonal_rising"] + 2 * INCH}
        show_fit(f"curved pane {crowns} mm with a slip, suspects named", slipped, Curve.STRONG, 120)


def shelf_of_5000_panes() -> None:
    with TemporaryDirectory() as folder:
        database = Database(Path(folder) / "elumbra.db")
        database.migrate()
        made = [car for seed in range(18) for car in made_up_shelf(seed, 40).cars]
        with database.session(write=True) as session:
            for i, one in enumerate(made):
                named = one.model_copy(update={"name": f"{one.name} {i}"})
                put_on_shelf(session, named, person_id="bench", why="bench")
        with database.session(write=False) as session:
            total = find(session, ShelfQuery()).total_panes
            for words in ("", "mor", "sedan 2019 lower", "roof 4", "nothing at all"):
                taken = timed(lambda words=words: find(session, ShelfQuery(words=words)), times=15)  # type: ignore[misc]
                show(f"shelf search over {total} panes, “{words}”", taken, "ms", 30)
        database.close()


def first_route_size() -> None:
    dist = ROOT / "frontend" / "dist"
    page = (dist / "index.html").read_text()
    names = set(re.findall(r"assets/[\w.-]+\.js", page))
    names |= {str(p.relative_to(dist)) for p in dist.glob("assets/board-*.js")}
    total = sum(len(gzip.compress((dist / name).read_bytes())) for name in names)
    show("first route: JavaScript, gzip", total / 1000, "kB", 300)


def server_and_screen() -> None:
    with TemporaryDirectory() as folder, running_demo(Path(folder)) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        sign_in(page, "Ines Varga")
        page.get_by_role("heading", name="In the bays now").wait_for()
        taken = []
        for _ in range(5):
            begin = time.perf_counter()
            page.goto(address)
            page.get_by_role("heading", name="In the bays now").wait_for()
            taken.append(1000 * (time.perf_counter() - begin))
        show("first screen usable, warm cache", statistics.median(taken), "ms", 1000)
        client = page.context.request
        job = client.get(f"{address}/api/board").json()["in_bays"][0]["id"]
        pieces = [{"width": str(20 + i), "height": str(11 + i % 7), "count": 4} for i in range(10)]
        headers = {"X-Write-Id": uuid4().hex}
        client.post(
            f"{address}/api/quick-cut",
            data=json.dumps({"pieces": pieces}),
            headers=headers | {"Content-Type": "application/json"},
        )
        calls = []
        for i in range(60):
            begin = time.perf_counter()
            if i % 2:
                client.get(f"{address}/api/jobs/{job}")
            else:
                window = client.get(f"{address}/api/jobs/{job}").json()["windows"][0]
                begin = time.perf_counter()
                body = {"version": window["version"], "bare_vlt_percent": 70 + i % 7}
                client.patch(
                    f"{address}/api/windows/{window['id']}",
                    data=json.dumps(body),
                    headers={"X-Write-Id": uuid4().hex, "Content-Type": "application/json"},
                )
            calls.append(1000 * (time.perf_counter() - begin))
        show("job screen's calls while a solve runs, p95 of 60", float(np.percentile(calls, 95)), "ms", 60)
        browser.close()


def survey_screen() -> None:
    with TemporaryDirectory() as folder, running_demo(Path(folder)) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page()
        page.goto(address)
        sign_in(page, "Ines Varga")
        page.get_by_role("heading", name="In the bays now").wait_for()
        calls, slips = survey_calls(page.context.request, address)
        show("survey screen's calls, p95 of 90", float(np.percentile(calls, 95)), "ms", 60)
        show("a reading that does not close, with its suspects, median", statistics.median(slips), "ms", None)
        browser.close()


def survey_calls(client: APIRequestContext, address: str) -> tuple[list[float], list[float]]:
    """Milliseconds of a reading that closes, a finding and a look at the job, in turn; and of readings that do not close."""
    jobs = client.get(f"{address}/api/jobs").json()["jobs"]
    job = next(one["id"] for one in jobs if one["title"].startswith("Larkspur"))

    def back_glass() -> dict[str, Any]:
        windows = client.get(f"{address}/api/jobs/{job}").json()["windows"]
        return next(one for one in windows if one["label"] == "Back glass")

    def patch(body: dict[str, Any]) -> float:
        window = back_glass()
        headers = {"X-Write-Id": uuid4().hex, "Content-Type": "application/json"}
        content = json.dumps({"version": window["version"]} | body)
        begin = time.perf_counter()
        done = client.patch(f"{address}/api/windows/{window['id']}", data=content, headers=headers)
        assert done.status == 200, done.text()
        return 1000 * (time.perf_counter() - begin)

    def bottom(off_mm: float) -> float:
        return patch({"readings": {"bottom": {"typed": f"{true + off_mm:.1f} mm"}}})

    true = back_glass()["readings"]["bottom"]["mm"]
    calls, slips = [], []
    for i in range(30):
        calls.append(bottom(0.2 + i / 50))
        calls.append(patch({"findings": {"wiper": ("none", "off")[i % 2]}}))
        begin = time.perf_counter()
        client.get(f"{address}/api/jobs/{job}")
        calls.append(1000 * (time.perf_counter() - begin))
        if i % 3 == 0:
            slips.append(bottom(40 + i))
    return calls, slips


def ten_years() -> None:
    """In a process of its own, for its memory is one of the figures."""
    script = ROOT / "benchmarks" / "ten_years.py"
    done = subprocess.run([sys.executable, script, "--json"], capture_output=True, text=True, check=True)
    for name, value, unit, aim in json.loads(done.stdout):
        show(name, value, unit, aim)


def hard_kills() -> None:
    with TemporaryDirectory() as folder:
        path = Path(folder) / "elumbra.db"
        prepared(path)
        _, answered = kill_often(path, 200)
        found = counted(path)
    show("200 hard kills under writes: answered writes", float(len(answered)), "", None)
    show("lost", float(len(answered - set(found))), "", 0)
    show("doubled", float(sum(count > 1 for count in found.values())), "", 0)
    with TemporaryDirectory() as folder:
        path, demo = Path(folder) / "elumbra.db", Path(folder) / "demo.db"
        filled = Database(demo)
        filled.migrate()
        fill_demo(filled)
        filled.close()
        planned_rack(path, demo)
        _, answered = kill_often(path, 200, write=work_the_rack)
        cuts = ledger_holds(path)
    show("200 hard kills under work on the rack, ledger held: answered", float(len(answered)), "", None)
    show("cuts booked and taken back among them", float(cuts), "", None)


if __name__ == "__main__":
    cutting.main()
    hard_kills()
    ten_years()
    law_of_a_car()
    fit_of_a_pane()
    shelf_of_5000_panes()
    first_route_size()
    server_and_screen()
    survey_screen()
    show("memory of this process, peak", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MB", None)

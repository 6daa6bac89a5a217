import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from io import BytesIO
from typing import Any

import pytest
from pypdf import PdfReader
from sqlalchemy import text

from elumbra.api.app import AppConfig, make_app
from elumbra.storage.database import Database
from elumbra.tasks import TaskRunner
from tests.api.conftest import Desk
from tests.api.test_ground_rules import job_id
from tests.api.test_jobs import opened, patch, read, window_of

ROLL = {
    "film_id": "kiln50", "kind": "roll", "label": "K50-36", "width": "36", "full_length": "100'", "length_left": "80' 6",
    "price": 800, "lot": "K9", "liner": "up",
}  # fmt: skip
FILM = {
    "name": "New 40",
    "construction": "ceramic",
    "vlt_percent": 40,
    "vlt_basis": "on_3mm_clear",
    "reflectance_percent": 9,
}


def test_new_roll_is_on_the_rack_with_its_price_by_area(desk: Desk) -> None:
    rack = desk.do("POST", "/stock", ROLL, status=201)
    (item,) = [item for item in rack["stock"] if item["label"] == "K50-36"]
    assert item["length_left_mm"] == pytest.approx((80 * 12 + 6) * 25.4)
    assert item["price_per_m2"] == pytest.approx(800 / (0.9144 * 30.48), rel=1e-6)


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"width": "abc"}, "width", "not a size"),
        ({"width": "1"}, "width", "2 to 120 in wide"),
        ({"length_left": "101'"}, "length_left", "No more can be left"),
        ({"full_length": "0", "length_left": "0"}, "full_length", "More than nothing"),
        ({"price": -1}, "price", "At least 0"),
        ({"film_id": "gone"}, None, "no film “gone”"),
    ],
)
def test_stock_that_cannot_be_is_refused(desk: Desk, change: dict[str, Any], field: str | None, says: str) -> None:
    answer = desk.do("POST", "/stock", ROLL | change, status=404 if field is None else 422)
    assert says in (answer["message"] if field is None else answer["fields"][field])


def test_roll_narrower_than_every_piece_is_named_by_the_plan_not_refused(desk: Desk) -> None:
    desk.do("POST", "/stock", ROLL | {"width": "10", "label": "strip roll"}, status=201)


@pytest.mark.parametrize(
    ("change", "field", "says"),
    [
        ({"vlt_percent": 120}, "vlt_percent", "At most 100"),
        ({"vlt_percent": 70, "reflectance_percent": 45}, "reflectance_percent", "make 115 %"),
        ({"vlt_percent": 95, "reflectance_percent": 2}, "vlt_percent", "the glass alone passes 90 %"),
        ({"name": " "}, "name", "Cannot be empty"),
    ],
)
def test_film_that_cannot_be_is_refused(desk: Desk, change: dict[str, Any], field: str, says: str) -> None:
    before = len(desk.get("/rack")["films"])
    answer = desk.do("POST", "/films", FILM | change, status=422)
    assert says in answer["fields"][field]
    assert len(desk.get("/rack")["films"]) == before


def test_film_in_use_stays_and_unused_goes(desk: Desk) -> None:
    answer = desk.do("POST", "/archive/film/dusk20", {"version": 1}, status=422)
    assert "stays on file, for it is named in: job 1002, Driver quarter (on it)" in answer["message"]
    rack = desk.do("POST", "/films", FILM, status=201)
    (film,) = [film for film in rack["films"] if film["name"] == "New 40"]
    changed = desk.do("PUT", f"/films/{film['id']}", FILM | {"vlt_percent": 41, "version": 1})
    assert next(f for f in changed["films"] if f["id"] == film["id"])["vlt_percent"] == 41
    desk.do("POST", f"/archive/film/{film['id']}", {"version": 2})


def test_shop_value_changes_plans_and_goes_back(desk: Desk) -> None:
    before = opened(desk)["input_hash"]
    desk.do("PUT", "/starting-values/blank_play_mm", {"value": 12, "version": 0})
    assert opened(desk)["input_hash"] != before
    values = desk.do("PUT", "/starting-values/blank_play_mm", {"value": None, "version": 1})
    (play,) = [v for v in values["values"] if v["name"] == "blank_play_mm"]
    assert (play["value"], play["changed_by_shop"]) == (25.4, False)
    assert opened(desk)["input_hash"] == before
    desk.do("PUT", "/starting-values/nonsense", {"value": 1, "version": 0}, status=422)


def test_layout_of_an_unchanged_job_is_there_already(desk: Desk) -> None:
    solve = desk.do("POST", f"/jobs/{job_id(desk)}/layout", status=202)
    assert solve["status"] == "done"
    assert solve["plan"]["finished"]


def test_changed_job_waits_for_its_own_layout_and_prints_no_old_one(desk: Desk) -> None:
    job = opened(desk)
    patch(desk, window_of(job, "Driver rear"), readings={"bow_top": read("3/4")})
    solve = desk.do("POST", f"/jobs/{job['id']}/layout", status=202)
    assert solve["status"] == "queued"
    answer = desk.do("GET", f"/jobs/{job['id']}/cut-sheet.pdf", status=409)
    assert answer["code"] == "no_plan"
    assert "Open the Cut station" in answer["message"]
    assert desk.do("POST", f"/tasks/{solve['id']}/cancel")["status"] == "cancelled"


def test_cut_sheet_and_drawing_download(desk: Desk) -> None:
    job = job_id(desk)
    pdf = desk.call("GET", f"/jobs/{job}/cut-sheet.pdf?paper=a4")
    assert pdf.mimetype == "application/pdf"
    assert "Fenwick 4" in PdfReader(BytesIO(pdf.data)).pages[0].extract_text()
    svg = desk.call("GET", f"/jobs/{job}/layout.svg?film_id=harbor15")
    assert svg.data.startswith(b"<?xml")
    desk.do("GET", f"/jobs/{job}/layout.svg?film_id=kiln70", status=404)
    desk.do("GET", f"/jobs/{job}/cut-sheet.pdf?paper=napkin", status=422)


@pytest.mark.parametrize(
    ("piece", "field"),
    [({"width": "abc", "height": "20"}, "pieces.0.width"), ({"width": "30", "height": "0"}, "pieces.0.height")],
)
def test_quick_cut_refuses_where_it_was_typed(desk: Desk, piece: dict[str, str], field: str) -> None:
    assert field in desk.do("POST", "/quick-cut", {"pieces": [piece]}, status=422)["fields"]


# --- with the real solver process ---------------------------------------------------------


@contextmanager
def solving(database: Database) -> Iterator[Desk]:
    """The lead's desk in a shop that works plans out."""
    runner = TaskRunner(database)
    runner.start()
    client = Desk(make_app(AppConfig(database, runner, b"test")).test_client())
    client.sign_in("ines")
    try:
        yield client
    finally:
        runner.stop()


@pytest.fixture
def live(database: Database) -> Iterator[Desk]:
    with solving(database) as client:
        yield client


def wait(desk: Desk, task: Any, *, holds: Any = None) -> Any:
    """The task once it has ended, or once something holds of it; a busy machine only makes that later."""
    end = time.monotonic() + 600
    pause = threading.Event()
    while task["status"] in ("queued", "running") and not (holds and holds(task)):
        assert time.monotonic() < end, task["status"]
        pause.wait(0.05)
        task = desk.get(f"/tasks/{task['id']}")
    return task


def test_task_process_works_out_a_changed_job(live: Desk) -> None:
    job = opened(live)
    patch(live, window_of(job, "Driver rear"), readings={"bow_top": read("3/4")})
    solve = wait(live, live.do("POST", f"/jobs/{job['id']}/layout", status=202))
    assert solve["status"] == "done", solve["error"]
    assert solve["plan"]["proven"]
    assert solve["progress"] >= 2, "a verified first layout, then the proven one"
    assert live.call("GET", f"/jobs/{job['id']}/cut-sheet.pdf").status_code == 200


def test_quick_cut_with_an_empty_rack_names_the_width_to_pull(live: Desk) -> None:
    body = {"pieces": [{"width": "39 3/8", "height": "27", "curved": True}]}
    solve = wait(live, live.do("POST", "/quick-cut", body, status=202))
    (film,) = solve["plan"]["films"]
    assert film["hypothetical"]
    (used,) = [stock for stock in film["stocks"] if stock["used_mm"] > 0]
    assert used["width_mm"] == pytest.approx(30 * 25.4), "27 + 2 in of play needs a 30 in roll"


def test_a_stopped_plan_keeps_the_best_found_and_the_next_one_runs(live: Desk) -> None:
    pieces = [{"width": str(20 + i), "height": str(11 + i % 7), "count": 4} for i in range(10)]
    long = live.do("POST", "/quick-cut", {"pieces": pieces}, status=202)
    wait(live, long, holds=lambda task: task["plan"] is not None)
    stopped = live.do("POST", f"/tasks/{long['id']}/cancel")
    assert stopped["status"] == "done", "what is kept can be cut and printed"
    assert all(film["finished"] for film in stopped["plan"]["films"]), "nobody improves it any more"
    quick = wait(live, live.do("POST", "/quick-cut", {"pieces": [{"width": "20", "height": "10"}]}, status=202))
    assert quick["status"] == "done"


def test_a_roll_that_an_older_release_dated_out_of_this_century_still_shows_and_is_dated_anew(
    desk: Desk, database: Database
) -> None:
    with database.session(write=True) as session:
        session.execute(text("UPDATE stock SET received_on = '1026-03-01' WHERE id = 'r01'"))
    roll = next(one for one in desk.get("/rack")["stock"] if one["id"] == "r01")
    assert roll["received_on"] == "1026-03-01"
    names = ("film_id", "kind", "label", "width", "full_length", "length_left", "price", "version")
    body = {name: roll[name] for name in names}
    desk.do("PUT", "/stock/r01", {**body, "received_on": "9999-03-01"}, status=422)
    kept = desk.do("PUT", "/stock/r01", {**body, "received_on": "2026-03-01"})
    assert next(one for one in kept["stock"] if one["id"] == "r01")["received_on"] == "2026-03-01"

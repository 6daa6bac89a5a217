"""One bad record breaks nothing else; roles, versions and write ids hold; what the machine cannot do is told."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable
from dataclasses import asdict, fields
from typing import Any
from uuid import uuid4

import pytest
from hypothesis import HealthCheck, given
from hypothesis import strategies as st
from sqlalchemy import text

from elumbra.core.film import FilmFacts
from elumbra.core.work import VehicleFacts, WindowFacts, with_consequences
from elumbra.storage.database import Database
from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, put, read, window_of
from tests.catalogue.facts import fact_of
from tests.catalogue.jobs import job_document
from tests.effort import effort, examples


def run(database: Database, statement: str, **values: Any) -> None:
    """Something that a hand, or another release, may have left in the file."""
    with database.session(write=True) as session:
        session.execute(text(statement), values)
        session.execute(text("UPDATE shop_stamp SET stamp = stamp + 1"))


# --- one bad record


def test_a_film_named_anywhere_stays_on_file_and_says_where(desk: Desk) -> None:
    film = desk.do("POST", "/films", {"name": "Only 60", "construction": "ceramic", "vlt_percent": 60}, status=201)
    film_id = next(one["id"] for one in film["films"] if one["name"] == "Only 60")

    def refused() -> str:
        message: str = desk.do("POST", f"/archive/film/{film_id}", {"version": 1}, status=422)["message"]
        return message

    job = opened(desk)
    layered = patch(desk, window_of(job, "Driver front"), old_film=True, old_film_stays=True, layers=[film_id])
    assert "Driver front (as a layer that stays)" in refused()
    bare = patch(desk, window_of(layered, "Driver front"), layers=[])
    extra = desk.do(
        "POST", f"/jobs/{job['id']}/windows", {"label": "Vent", "position": "rear_side", "kind": "quarter"}, status=201
    )
    assert bare["id"] == extra["id"]
    filmed = patch(desk, window_of(extra, "Vent"), film_id=film_id)
    vent = window_of(filmed, "Vent")
    desk.do("POST", f"/windows/{vent['id']}/remove", {"version": vent["version"]})
    assert "Vent (on it, a window taken out)" in refused()
    back = desk.do("POST", f"/windows/{vent['id']}/restore", {"version": vent["version"] + 1})
    patch(desk, window_of(back, "Vent"), film_id=None)
    desk.do("POST", f"/archive/film/{film_id}", {"version": 1})


def test_a_film_in_a_lead_s_reason_stays_on_file(desk: Desk) -> None:
    film = desk.do("POST", "/films", {"name": "Dark 4", "construction": "dyed", "vlt_percent": 4}, status=201)
    film_id = next(one["id"] for one in film["films"] if one["name"] == "Dark 4")
    job = patch(desk, window_of(opened(desk, "Larkspur coupe, limo fronts"), "Driver front"), film_id=film_id)
    window = window_of(job, "Driver front")
    body = {"version": window["version"], "film_id": film_id, "kind": "off_road_or_show", "document": "folder 1"}
    given = desk.do("POST", f"/windows/{window['id']}/reason", body, status=201)
    patch(desk, window_of(given, "Driver front"), film_id=None)
    answer = desk.do("POST", f"/archive/film/{film_id}", {"version": 1}, status=422)
    assert "Driver front (in a lead's reason)" in answer["message"]


def test_a_removed_film_is_put_on_nothing_and_restored_into_nothing(desk: Desk, database: Database) -> None:
    job = opened(desk)
    window = window_of(job, "Driver front")
    gone = patch(desk, window, film_id="kiln70")
    mirror = window_of(gone, "Passenger front")
    desk.do("POST", f"/windows/{mirror['id']}/remove", {"version": mirror["version"]})
    run(database, "UPDATE window SET film_id = 'kiln70' WHERE id = :id", id=mirror["id"])
    run(database, "UPDATE film SET removed = 1 WHERE id = 'kiln70'")
    now = window_of(opened(desk), "Driver front")
    assert now["worst"] == "Clears", "a job that still names it goes on"
    for change in ({"film_id": "kiln70"}, {"layers": ["kiln70"]}):
        refused = patch(desk, window_of(opened(desk), "Driver rear"), status=422, **change)
        assert "Kiln 70 was taken off file, so it cannot be put on Driver rear" in refused["message"]
    put(desk, opened(desk), "kiln70", ["Driver rear"], status=422)
    back = desk.do("POST", f"/windows/{mirror['id']}/restore", {"version": mirror["version"] + 1}, status=422)
    assert "Kiln 70 was taken off file" in back["message"]
    roll = {"film_id": "kiln70", "kind": "roll", "label": "x", "width": "20", "full_length": "9", "length_left": "9"}
    desk.do("POST", "/stock", roll | {"price": 1}, status=422)


@pytest.mark.parametrize(
    ("damage", "says"),
    [
        ("UPDATE window SET facts = '{\"position\": \"underneath\"}' WHERE id = :id", "This job's record cannot be read"),
        ("UPDATE window SET facts = '{}' WHERE id = :id", "This job's record cannot be read"),
        ("UPDATE window SET readings = '{\"width\": {\"typed\": \"a yard\", \"mode\": \"surface\"}}' WHERE id = :id", "a yard"),
        ("UPDATE film SET facts = json_set(facts, '$.vlt_percent', 150) WHERE id = 'harbor35'", "Mend it at Films"),
        ("UPDATE job SET facts = json_set(facts, '$.states', json('[\"ZZ\"]')) WHERE id = :job", "no state “ZZ”"),
    ],
)  # fmt: skip
def test_a_job_that_cannot_be_computed_is_stuck_and_breaks_nothing_else(
    desk: Desk, database: Database, damage: str, says: str
) -> None:
    job = opened(desk)
    run(
        database,
        damage,
        **{k: v for k, v in {"id": job["windows"][0]["id"], "job": job["id"]}.items() if f":{k}" in damage},
    )
    board, listed = desk.get("/board"), desk.get("/jobs")
    others = [one for one in listed["jobs"] if not one["stuck"]]
    assert len(others) >= 3
    assert all(one["worst"] for one in others if one["filmed"])
    stuck = next(one for one in board["stuck"] + board["in_bays"] if one["id"] == job["id"])
    assert any(words.startswith("Stuck: ") and says in words for words in stuck["problems"])
    shown = desk.get(f"/jobs/{job['id']}")
    assert says in shown["stuck"]
    assert shown["windows"] == []
    desk.get("/rack")
    desk.get("/rules")
    assert desk.do("POST", f"/jobs/{job['id']}/layout", status=422)["message"] == shown["stuck"]


def test_a_figure_that_makes_readings_impossible_holds_those_windows_and_no_others(desk: Desk) -> None:
    """The largest reading set to its allowed least: every longer pane is held with the reason, and can be mended."""
    values = desk.get("/starting-values")["values"]
    low = next(value["low"] for value in values if value["name"] == "reading_max_mm")
    desk.do("PUT", "/starting-values/reading_max_mm", {"value": low, "version": 0})
    assert desk.get("/board")["in_bays"]
    job = opened(desk)
    assert job["stuck"] is None
    problems = {window["label"]: window["pane"]["problem"] for window in job["windows"]}
    assert "longer than any car glass" in problems["Back glass"]
    assert job["windows"][0]["verdicts"], "the law is still asked"
    held = [window for window in job["windows"] if window["film_id"] and window["pane"]["problem"]]
    assert held
    assert all(window["held"] == window["pane"]["problem"] for window in held)
    named = patch(desk, window_of(job, "Back glass"), label="Rear glass")
    assert window_of(named, "Rear glass"), "other things of it can still be changed"
    desk.do("PUT", "/starting-values/reading_max_mm", {"value": None, "version": 1})
    assert all(window["pane"]["problem"] == "" for window in opened(desk)["windows"])


def test_a_figure_that_a_release_narrowed_is_told_and_brought_into_range(desk: Desk, database: Database) -> None:
    run(database, "INSERT INTO shop_value (id, version, removed, value) VALUES ('blank_play_mm', 1, 0, 9000)")
    run(database, "INSERT INTO shop_value (id, version, removed, value) VALUES ('no_longer_there', 1, 0, 2)")
    told = desk.get("/board")["told"]
    assert any("the shop's 9000 mm lies outside" in words for words in told)
    assert any("“no_longer_there” is no figure of this release" in words for words in told)
    values = {value["name"]: value for value in desk.get("/starting-values")["values"]}
    play = values["blank_play_mm"]
    assert (play["value"], play["record_version"]) == (play["high"], 1)
    assert opened(desk)["stuck"] is None


# --- every fact, through the API


def changeable(kind: type[Any]) -> list[str]:
    return [one.name for one in fields(kind)]


@examples(5, suppress_health_check=[HealthCheck.function_scoped_fixture, HealthCheck.too_slow])
@given(data=st.data())
@pytest.mark.parametrize("name", changeable(WindowFacts))
def test_each_window_fact_is_patched_kept_and_shown(desk: Desk, name: str, data: st.DataObject) -> None:
    value = json.loads(json.dumps(data.draw(fact_of(WindowFacts, name)), default=asdict))
    job = opened(desk)
    window = window_of(job, "Driver rear")
    after = patch(desk, window, **{name: value})
    shown = window_of(after, "Driver rear")
    expected = json.loads(json.dumps(with_consequences({name: value})))[name]
    if name == "findings":  # one by one, what is not sent stays
        expected = window[name] | expected
    assert shown[name] == expected
    exported = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    assert next(one for one in exported["job"]["windows"] if one["label"] == "Driver rear")[name] == expected


@pytest.mark.parametrize("name", [name for name in changeable(VehicleFacts) if name != "states"])
def test_each_vehicle_fact_is_patched_kept_and_shown(desk: Desk, name: str) -> None:
    other = {
        "vehicle_class": "multipurpose", "mirrors_both_sides": False, "model_year": 1999, "registered_as": "van",
        "no_glass_at": ["roof"], "persons": 7, "truck_chassis": True, "off_road_parts": False, "two_lots_allowed": True,
        "into_holds": True, "cut_method": "plotter",
        "findings": {"age": "old", "on_arrival": ["wet"], "wishes": "As dark as it may be."},
    }  # fmt: skip
    job = opened(desk, "Larkspur coupe, limo fronts")
    after = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], name: other[name]})
    assert after[name] == other[name] != job[name]
    exported = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    assert exported["job"]["vehicle"][name] == other[name]


def test_each_film_fact_is_kept_shown_and_exported(desk: Desk) -> None:
    given = {
        "name": "All said", "construction": "metal", "vlt_percent": 31, "vlt_basis": "film_alone",
        "reflectance_percent": 21, "colours": ["brown", "gold"], "colour_words": "bronze", "mirror_finish": True, "solar_transmittance_percent": 33,
        "solar_reflectance_percent": 22, "shrink_limit_percent": 2.5, "reflectance_inside_percent": 19,
        "uv_rejection_percent": 98, "warranty": "years", "warranty_years": 6,
    }  # fmt: skip
    assert set(given) == set(changeable(FilmFacts)), "a new fact is tried here too"
    rack = desk.do("POST", "/films", given | {"price_per_m2": 7}, status=201)
    film = next(one for one in rack["films"] if one["name"] == "All said")
    assert {name: film[name] for name in given} == given
    job = patch(desk, window_of(opened(desk), "Driver rear"), film_id=film["id"])
    exported = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    told = next(one for one in exported["films"] if one["name"] == "All said")
    assert {name: told[name] for name in given} == given


# --- roles


def with_reason(kind: str = "off_road_or_show", expires: str = "") -> bytes:
    document = job_document() | {"format_version": 2}
    for film in document["films"]:
        film |= {"vlt_percent": 5}
    document["job"]["windows"][0]["reason"] = {
        "kind": kind, "film": "carbon35", "wish": "made up", "document": "folder 9", "expires_on": expires,
        "person": "Somebody Else", "on": "2020-01-01",
    }  # fmt: skip
    return json.dumps(document).encode()


def test_only_a_lead_brings_new_films_and_reasons_and_none_brings_a_name(desk: Desk, desk_of: Any) -> None:
    counter = desk_of("sol")
    refused = counter.do("POST", "/jobs/import", data=with_reason(), status=422)
    assert "only a lead puts a new film on file" in refused["message"]
    by_lead = desk.do("POST", "/jobs/import", data=with_reason(), status=201)
    front = window_of(by_lead, "Driver front")
    assert front["worst"] == "Too dark"
    assert front["reason"]["standing"]
    assert "by Ines Varga on " in front["reason"]["words"]
    assert "Somebody Else" not in json.dumps(by_lead)
    by_counter = counter.do("POST", "/jobs/import", data=with_reason(), status=201)
    assert window_of(by_counter, "Driver front")["reason"] is None, "the films are on file now; the reason stays behind"
    assert "Too dark in Texas" in window_of(by_counter, "Driver front")["held"]


def test_a_document_in_a_file_releases_what_one_that_is_typed_would(desk: Desk) -> None:
    for content, says in ((with_reason("medical_exemption", "2020-01-01"), "expired on 2020-01-01"),
                        (with_reason("medical_exemption"), "the day it expires was not read")):  # fmt: skip
        front = window_of(desk.do("POST", "/jobs/import", data=content, status=201), "Driver front")
        assert says in front["held"]
        assert not front["reason"]["standing"]


# --- versions and write ids


def test_a_write_id_used_again_with_another_body_is_refused(desk: Desk) -> None:
    body = {"vehicle_label": "One", "body": "sedan", "states": ["TX"]}
    desk.do("POST", "/jobs", body, status=201, write_id="one-write-id")
    answer = desk.do("POST", "/jobs", body | {"vehicle_label": "Two"}, status=400, write_id="one-write-id")
    assert answer["code"] == "write_id_used"


def test_a_starting_value_somebody_else_set_is_not_overwritten(desk: Desk) -> None:
    desk.do("PUT", "/starting-values/blank_play_mm", {"value": 12, "version": 0})
    stale = desk.do("PUT", "/starting-values/blank_play_mm", {"value": 13, "version": 0}, status=409)
    assert stale["code"] == "stale_version"
    desk.do("PUT", "/starting-values/blank_play_mm", {"value": 13, "version": 1})


def test_what_is_kept_of_a_write_is_small(desk: Desk, database: Database) -> None:
    patch(desk, window_of(opened(desk), "Driver front"), readings={"top": read("22 5/8")})
    with database.session(write=False) as session:
        rows = session.execute(text("SELECT length(request) + length(digest) + length(about) FROM write")).scalars()
        assert max(rows) < 300


def test_a_note_keeps_the_plan_and_the_paper_has_the_new_name(desk: Desk) -> None:
    job = opened(desk)
    body = {"version": job["version"], "note": "rings first", "title": "Renamed car", "customer": "C. Else"}
    after = desk.do("PATCH", f"/jobs/{job['id']}", body)
    assert after["input_hash"] == job["input_hash"]
    solve = desk.do("POST", f"/jobs/{job['id']}/layout", status=202)
    assert (solve["status"], solve["plan"]["title"], solve["plan"]["customer"]) == ("done", "Renamed car", "C. Else")


def test_the_list_comes_in_pages_and_finds_by_every_word(desk: Desk) -> None:
    for i in range(60):
        body = {
            "vehicle_label": f"{('Blue', 'Red')[i % 2]} car %_",
            "customer": "Ada",
            "body": "sedan",
            "states": ["TX"],
        }
        desk.do("POST", "/jobs", body, status=201)
    first, second = desk.get("/jobs"), desk.get("/jobs?page=2")
    assert (len(first["jobs"]), first["pages"]) == (50, 2)
    assert len(second["jobs"]) == first["total"] - 50
    numbers = [job["number"] for job in first["jobs"] + second["jobs"]]
    assert numbers == sorted(numbers, reverse=True)
    assert desk.get("/jobs?search=ada+red+%25_")["total"] == 30
    assert desk.get("/jobs?search=nothing+at+all") == {"jobs": [], "page": 1, "pages": 1, "total": 0}
    assert desk.get("/jobs?page=99999")["page"] == 2


# --- locks, full disks


def test_twenty_writers_are_all_heard_and_none_is_lost(desk_of: Any, database: Database) -> None:
    desks = [desk_of(person) for person in ("ines", "tobi", "mara", "sol") * 5]
    made = desks[0].do("POST", "/jobs", {"vehicle_label": "Busy", "body": "suv", "states": ["TX"]}, status=201)
    failures: list[str] = []
    writes = effort(2, 8)

    def write(desk: Desk, name: int) -> None:
        for i in range(writes):
            body = {"vehicle_label": f"w{name} {i}", "body": "sedan", "states": ["TX"]}
            answer = desk.call("POST", "/jobs", body)
            if answer.status_code != 201:
                failures.append(answer.text)
            answer = desk.call("GET", f"/jobs/{made['id']}")
            if answer.status_code != 200:
                failures.append(answer.text)

    threads = [threading.Thread(target=write, args=(desk, i)) for i, desk in enumerate(desks)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert failures == []
    with database.session(write=False) as session:
        count = session.execute(text("SELECT count(*), count(DISTINCT number) FROM job WHERE vehicle_label LIKE 'w%'"))
        assert tuple(count.one()) == (20 * writes, 20 * writes)


def test_a_lock_that_somebody_else_holds_is_told_in_a_sentence(
    desk: Desk, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr("elumbra.storage.database._RETRIES", 1)
    monkeypatch.setattr("elumbra.storage.database._RETRY_SECONDS", 0.01)
    desk.get("/board")
    other = Database(database.path)
    for connection in (database.engine.connect(),):
        connection.exec_driver_sql("PRAGMA busy_timeout=50")
        connection.close()
    with other.session(write=True):
        answer = desk.do("POST", "/jobs", {"vehicle_label": "x", "body": "sedan", "states": ["TX"]}, status=503)
        assert desk.get("/board"), "reading goes on"
    other.close()
    assert answer["code"] == "busy"
    assert "was not kept" in answer["message"]
    desk.do("POST", "/jobs", {"vehicle_label": "x", "body": "sedan", "states": ["TX"]}, status=201)


def test_a_full_disk_is_told_and_loses_nothing(desk: Desk, database: Database) -> None:
    before = len(desk.get("/jobs")["jobs"])
    pool: Callable[..., Any] = database.engine.connect
    with pool() as connection:
        pages = connection.exec_driver_sql("PRAGMA page_count").scalar()
        connection.exec_driver_sql(f"PRAGMA max_page_count={pages}")
    for i in range(400):
        body = {"vehicle_label": f"Fill {i}", "note": "", "body": "suv", "states": ["TX"]}
        answer = desk.call("POST", "/jobs", {k: v for k, v in body.items() if k != "note"}, write_id=uuid4().hex)
        if answer.status_code != 201:
            break
    assert answer.status_code == 507
    assert answer.json["code"] == "disk_full"
    assert "nothing that was kept before is lost" in answer.json["message"]
    assert desk.get("/jobs")["total"] == before + i
    with pool() as connection:
        connection.exec_driver_sql("PRAGMA max_page_count=1000000")
    desk.do("POST", "/jobs", {"vehicle_label": "After", "body": "sedan", "states": ["TX"]}, status=201)


# --- doors


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({}, 200),
        ({"Host": "127.0.0.1:8420"}, 200),
        ({"Host": "localhost"}, 200),
        ({"Host": "evil.example"}, 403),
        ({"Host": "127.0.0.1.evil.example"}, 403),
        ({"Host": "localhost:8420", "Origin": "http://localhost:8420"}, 200),
        ({"Host": "localhost:8420", "Origin": "http://localhost:9999"}, 403),
        ({"Origin": "https://evil.example"}, 403),
        ({"Origin": "null"}, 403),
    ],
)
def test_only_our_own_pages_and_names_come_in(app: Any, headers: dict[str, str], status: int) -> None:
    response = app.test_client().get("/api/health", headers=headers)
    assert response.status_code == status
    assert response.headers["X-Content-Type-Options"] == "nosniff"
    assert "frame-ancestors 'none'" in response.headers["Content-Security-Policy"]


@pytest.mark.parametrize(
    ("method", "path", "status"),
    [
        ("GET", "/nothing", 404),
        ("POST", "/nothing", 404),
        ("DELETE", "/nothing/at/all", 404),
        ("GET", "/quick-cut", 405),
        ("DELETE", "/jobs", 405),
        ("POST", "/board", 405),
        ("PATCH", "/films/x", 405),
    ],
)
@pytest.mark.parametrize("with_front_end", [True, False])
def test_unknown_addresses_are_404_and_wrong_methods_405(
    database: Database, tasks: Any, tmp_path: Any, method: str, path: str, status: int, with_front_end: bool
) -> None:
    from elumbra.api.app import AppConfig, make_app

    (tmp_path / "index.html").write_text("<html>")
    app = make_app(AppConfig(database, tasks, b"test", tmp_path if with_front_end else None))
    client = Desk(app.test_client())
    client.sign_in("ines")
    answer = client.call(method, path)
    assert answer.status_code == status, answer.text
    assert answer.json["code"] == ("not_found" if status == 404 else "method_not_allowed")


DEEP = "[" * 3000 + "]" * 3000


@pytest.mark.parametrize(
    "content",
    [
        b'{"format": "elumbra-job", "format_version": 3, "job": ' + DEEP.encode() + b"}",
        b'{"format": "elumbra-job", "format_version": 3, "x": ' + b"9" * 5000 + b"}",
        b'{"format": "elumbra-job", "format_version": 3, "x": 1e400}',
        b'{"format": "elumbra-job", "format_version": 3, "job": {"title": "\\ud800"}}',
        b'{"format": "elumbra-job", "format_version": 3, "job": {"title": "\\u0000"}}',
        b"\xff\xfe",
        b"",
        b"null",
    ],
)
@pytest.mark.parametrize("path", ["/jobs/import", "/rules/file"])
def test_bombs_and_broken_files_are_refused(desk: Desk, path: str, content: bytes) -> None:
    answer = desk.call("POST", path, data=content)
    assert 400 <= answer.status_code < 500, answer.text
    assert answer.json["message"]


@pytest.mark.parametrize(
    ("method", "path", "raw"),
    [
        ("POST", "/jobs", DEEP),
        ("POST", "/jobs", '{"vehicle_label": "\\ud800", "body": "sedan", "states": ["TX"]}'),
        (
            "POST",
            "/jobs",
            '{"vehicle_label": "x", "body": "sedan", "states": ["TX"], "model_year": ' + "9" * 5000 + "}",
        ),
        ("POST", "/jobs", '{"vehicle_label": "x\\u0000", "body": "sedan", "states": ["TX"]}'),
        ("PATCH", "/jobs/{job}", '{"version": 1, "promised_at": "9999-12-31T23:59:59-23:59"}'),
        ("PATCH", "/jobs/{job}", '{"version": 99999999999999999999}'),
        ("GET", "/jobs/" + "x" * 3000, None),
        ("POST", "/windows/" + "x" * 200 + "/remove", '{"version": 1}'),
        ("PUT", "/starting-values/blank_play_mm", '{"value": 1e308, "version": 0}'),
        ("PUT", "/starting-values/blank_play_mm", '{"value": NaN, "version": 0}'),
        ("GET", "/jobs?page=99999999999999999999", None),
        ("GET", "/rules/look-up?state=" + "T" * 500 + "&vehicle_class=passenger&position=front_side&film_id=x", None),
        ("POST", "/rules/TX/words", '{"field": "statute", "value": ' + DEEP[:400] + DEEP[-400:] + ', "citation": "x"}'),
    ],
)
def test_what_nothing_on_a_car_can_be_is_a_refusal(desk: Desk, method: str, path: str, raw: str | None) -> None:
    job = opened(desk)
    client = desk._client
    headers = {"X-Write-Id": uuid4().hex, "Content-Type": "application/json"}
    answer = client.open(f"/api{path.format(job=job['id'])}", method=method, data=raw, headers=headers)
    assert 400 <= answer.status_code < 500, answer.text
    assert answer.json["message"]

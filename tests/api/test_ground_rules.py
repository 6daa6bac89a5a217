"""What holds for every route: person, role, write id, version, one error shape."""

import json
from typing import Any

import pytest
from sqlalchemy import event

from elumbra.api.app import AppConfig, make_app
from elumbra.api.archive.operations import archive
from elumbra.api.base.refusals import STATUS_OF
from elumbra.storage.database import Database
from elumbra.storage.store import jobs
from tests.api.conftest import Desk, StandInTasks
from tests.e2e.server import ROOT


def job_id(desk: Desk, title: str = "Fenwick 4, all round") -> str:
    found: str = next(job["id"] for job in desk.get("/jobs")["jobs"] if job["title"] == title)
    return found


def test_every_api_route_says_who_may_call_it(app: Any) -> None:
    undeclared = [
        rule.rule
        for rule in app.url_map.iter_rules()
        if rule.rule.startswith("/api") and not hasattr(app.view_functions[rule.endpoint], "__elumbra_roles__")
    ]
    assert undeclared == []


NEW_RECORDS = {"/api/films", "/api/jobs", "/api/jobs/import", "/api/jobs/{id}/windows", "/api/stock",
               "/api/jobs/{id}/openings", "/api/films/{id}/full-rolls", "/api/jobs/{id}/photos", "/api/shelf/cars", "/api/shelf/cars/{id}/duplicate",
               "/api/shelf/import", "/api/customers", "/api/windows/{id}/looks", "/api/windows/{id}/flaws", "/api/windows/{id}/calls",
               "/api/jobs/{id}/quotes", "/api/jobs/{id}/redo",
               "/api/people", "/api/practice/runs", "/api/practice/runs/read",
               "/api/windows/{id}/installed"}  # fmt: skip
# What happens in the bay is only ever added, each event once by its own id; so is what was signed.
NO_RECORDS = {"/api/practice/runs/{id}/strokes", "/api/practice/runs/{id}/shown", "/api/session", "/api/session/owner", "/api/session/password", "/api/session/password/{id}", "/api/session/pin", "/api/session/device", "/api/people/enrolment", "/api/keeping/copy", "/api/keeping/rehearse", "/api/keeping/restore", "/api/shop-day/calendar", "/api/days/{day}/plan", "/api/jobs/{id}/bay/events", "/api/jobs/{id}/handover/check", "/api/jobs/{id}/strip-off/acknowledge", "/api/jobs/{id}/cutter", "/api/cutter/orders", "/api/jobs/{id}/hold", "/api/jobs/{id}/release-film", "/api/meter/readings", "/api/shelf/drawing", "/api/quick-cut", "/api/jobs/{id}/layout", "/api/tasks/{id}/cancel",
              "/api/rules/file", "/api/rules/look-up", "/api/jobs/{id}/cut", "/api/day/layout", "/api/day/cut", "/api/jobs/{id}/sheet", "/api/rule-words/{id}/withdraw"}  # fmt: skip


def test_every_write_of_a_record_names_the_version_it_is_based_on() -> None:
    document = json.loads((ROOT / "docs" / "reference" / "openapi.json").read_text(encoding="utf-8"))

    def words(schema: Any) -> set[str]:
        if "$ref" in schema:
            return words(document["components"]["schemas"][schema["$ref"].rsplit("/", 1)[-1]])
        inner = [schema[key] for key in ("items", "additionalProperties") if isinstance(schema.get(key), dict)]
        inner += schema.get("properties", {}).values()
        return set(schema.get("properties", {})).union(*map(words, inner))

    unversioned = set()
    for path, operations in document["paths"].items():
        for method in {"post", "put", "patch", "delete"} & set(operations):
            operation = operations[method]
            body = operation.get("requestBody", {}).get("content", {}).get("application/json", {}).get("schema", {})
            named = words(body) | {parameter["name"] for parameter in operation.get("parameters", [])}
            if not named & {"version", "versions", "replaces"}:
                unversioned.add(path)
    assert unversioned == NEW_RECORDS | NO_RECORDS


def test_route_that_does_not_say_is_refused(database: Database, tasks: StandInTasks) -> None:
    app = make_app(AppConfig(database, tasks, b"test"))
    app.add_url_rule("/api/secret", view_func=lambda: "open", endpoint="secret")
    desk = Desk(app.test_client())
    desk.sign_in("ines")
    response = desk.call("GET", "/secret")
    assert response.status_code == STATUS_OF["undeclared_route"]
    assert response.json["code"] == "undeclared_route"


def test_nobody_may_act_without_a_name(desk_of: Any) -> None:
    body = desk_of(None).do("GET", "/board", status=401)
    assert body["code"] == "no_person"
    assert "pick your name" in body["message"]


def test_people_are_offered_before_anybody_is_chosen_and_may_leave(desk_of: Any) -> None:
    desk = desk_of(None)
    assert len(desk.get("/session")["people"]) == 6
    assert desk.sign_in("tobi")["person"]["name"] == "Tobi Lund"
    assert desk.do("POST", "/session", {"person_id": None})["person"] is None
    assert (
        desk.do("POST", "/session", {"person_id": "ghost", "password": "anything"}, status=401)["code"]
        == "wrong_secret"
    )


@pytest.mark.parametrize(
    ("person", "method", "path", "body", "status"),
    [
        ("sol", "PUT", "/starting-values/blank_play_mm", {"value": 20, "version": 0}, 403),
        ("tobi", "PUT", "/starting-values/blank_play_mm", {"value": 20, "version": 0}, 403),
        ("ines", "PUT", "/starting-values/blank_play_mm", {"value": 20, "version": 0}, 200),
        ("sol", "POST", "/archive/stock/r01", {"version": 1}, 403),
        ("tobi", "POST", "/archive/stock/r01", {"version": 1}, 403),
        ("ines", "POST", "/archive/stock/r01", {"version": 1}, 200),
    ],
)
def test_roles_hold(desk_of: Any, person: str, method: str, path: str, body: Any, status: int) -> None:
    answer = desk_of(person).do(method, path, body, status=status)
    if status == 403:
        assert answer["code"] == "not_your_role"
        assert "this needs the" in answer["message"]


def test_a_write_without_its_id_is_refused(desk: Desk) -> None:
    answer = desk.do("POST", "/archive/stock/r01", {"version": 1}, status=400, write_id="short")
    assert answer["code"] == "no_write_id"


def test_sent_twice_is_done_once_and_answered_twice(desk: Desk) -> None:
    body = {"vehicle_label": "Twice", "body": "sedan", "states": ["TX"]}
    first = desk.do("POST", "/jobs", body, status=201, write_id="same-write-id")
    again = desk.do("POST", "/jobs", body, status=201, write_id="same-write-id")
    assert first == again
    assert sum(job["vehicle_label"] == "Twice" for job in desk.get("/jobs")["jobs"]) == 1


def test_a_refused_write_may_be_sent_again_with_the_same_id(desk: Desk) -> None:
    body = {"vehicle_label": "Again", "body": "spaceship", "states": ["TX"]}
    desk.do("POST", "/jobs", body, status=422, write_id="refused-first")
    desk.do("POST", "/jobs", body | {"body": "sedan"}, status=201, write_id="refused-first")


def test_a_write_id_is_not_good_for_another_request(desk: Desk) -> None:
    desk.do("POST", "/archive/stock/r01", {"version": 1}, write_id="one-write-id")
    desk.do("POST", "/archive/stock/r02", {"version": 1}, write_id="one-write-id", status=400)


def test_stale_write_is_refused_with_what_changed_and_by_whom(desk_of: Any) -> None:
    ines, tobi = desk_of("ines"), desk_of("tobi")
    job = ines.get(f"/jobs/{job_id(ines)}")
    window = job["windows"][0]
    tobi.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], "bare_vlt_percent": 70})
    answer = ines.do(
        "PATCH", f"/windows/{window['id']}", {"version": window["version"], "glass_type": "laminated"}, status=409
    )
    assert answer["code"] == "stale_version"
    assert [(c["field"], c["now"], c["person_id"]) for c in answer["changed"]] == [("bare_vlt_percent", 70.0, "tobi")]
    assert answer["version"] == window["version"] + 1


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "code"),
    [
        ("GET", "/nothing-here", None, 404, "not_found"),
        ("GET", "/jobs/ghost", None, 404, "not_found"),
        ("PUT", "/board", {}, 405, "method_not_allowed"),
        ("POST", "/jobs", {"body": "sedan"}, 422, "invalid"),
        ("POST", "/jobs", {"vehicle_label": "x", "body": "sedan", "states": ["TX"], "colour": 1}, 422, "invalid"),
        ("PUT", "/starting-values/blank_play_mm", {"value": 9000, "version": 0}, 422, "refused"),
    ],
)
def test_every_refusal_has_one_shape(desk: Desk, method: str, path: str, body: Any, status: int, code: str) -> None:
    answer = desk.do(method, path, body, status=status)
    assert set(answer) == {"code", "message", "fields", "changed", "version"}
    assert answer["code"] == code
    assert answer["message"]
    if code == "invalid":
        assert answer["fields"]


def test_unexpected_errors_tell_nothing_inside_and_save_nothing(
    desk: Desk, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    def broken(*given: Any, **more: Any) -> None:
        archive(*given, **more)
        raise RuntimeError("secret detail")

    monkeypatch.setattr("elumbra.api.archive.operations.archive", broken)
    before = len(desk.get("/board")["next"])
    answer = desk.do("POST", "/archive/stock/r01", {"version": 1}, status=500)
    assert answer["code"] == "server_error"
    assert "secret" not in answer["message"]
    assert "secret detail" in caplog.text
    monkeypatch.undo()
    assert any(item["id"] == "r01" for item in desk.get("/rack")["stock"])
    assert len(desk.get("/board")["next"]) == before


def test_lists_take_the_same_few_queries_however_long(desk: Desk, database: Database) -> None:
    def count(path: str) -> int:
        seen: list[str] = []

        def note(_c: Any, _cur: Any, statement: str, *_: Any) -> None:
            if statement.startswith("SELECT"):
                seen.append(statement)

        event.listen(database.engine, "before_cursor_execute", note)
        desk.get(path)
        event.remove(database.engine, "before_cursor_execute", note)
        return len(seen)

    def more(label: str) -> None:
        for i in range(5):
            desk.do("POST", "/jobs", {"vehicle_label": f"{label} {i}", "body": "suv", "states": ["TX"]}, status=201)

    paths = ("/board", "/jobs")
    for path in paths:
        desk.get(path)
    kept = {path: count(path) for path in paths}
    assert max(kept.values()) <= 10, "who acts (sitting, person, idle rule), the jobs, stamps, summaries, law, plans"
    fresh = []
    for label in ("More", "Yet more"):
        more(label)
        fresh.append(count("/jobs"))
        assert {path: count(path) for path in paths} == kept, "worked out once, then kept"
    assert fresh[0] == fresh[1] <= 24


def test_tasks_are_worked_on_only_when_the_write_is_safe(desk: Desk, tasks: StandInTasks, database: Database) -> None:
    desk.do("POST", "/quick-cut", {"pieces": [{"width": "x", "height": "3"}]}, status=422)
    assert tasks.woken == 0
    desk.do("POST", "/quick-cut", {"pieces": [{"width": "30", "height": "20"}]}, status=202)
    assert tasks.woken == 1
    with database.session(write=False) as session:
        assert jobs(session).all()


def test_health_needs_nobody(desk_of: Any) -> None:
    assert desk_of(None).get("/health")["ok"] is True

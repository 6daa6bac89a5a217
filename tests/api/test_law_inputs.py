"""What cannot be, refused where it is given, with nothing half saved; and who may do what."""

from __future__ import annotations

from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_law import job_of, pane


@pytest.fixture
def window(desk: Desk) -> Any:
    return pane(job_of(desk, "Fenwick 4, all round"), "Driver front")


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"bare_readings_percent": [70, 170]}, "bare_readings_percent.1"),
        ({"bare_readings_percent": [-1]}, "bare_readings_percent.0"),
        ({"bare_readings_percent": [70.0] * 21}, "bare_readings_percent"),
        ({"bare_vlt_percent": 100.5}, "bare_vlt_percent"),
        ({"findings": {"spolier": "4"}}, "findings.spolier"),
        ({"strip_pieces": 3}, "strip_pieces"),
        ({"strip_pieces": 0}, "strip_pieces"),
        ({"strip_shape": "wavy"}, "strip_shape"),
        ({"layers": ["a", "b", "c", "d", "e"]}, "layers"),
        ({"factory_glass": "maybe"}, "factory_glass"),
        ({"tinted": True}, "tinted"),
    ],
)
def test_window_facts_that_cannot_be_are_named_by_field(
    desk: Desk, window: Any, body: dict[str, Any], field: str
) -> None:
    refused = desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"]} | body, status=422)
    assert field in refused["fields"]
    assert pane(job_of(desk, "Fenwick 4, all round"), "Driver front") == window


@pytest.mark.parametrize("name", ["strip_shape", "layers", "old_film_stays", "bare_readings_percent"])
def test_facts_that_must_be_something_cannot_be_emptied(desk: Desk, window: Any, name: str) -> None:
    refused = desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], name: None}, status=422)
    assert refused["fields"] == {name: "Cannot be empty."}


@pytest.mark.parametrize("name", ["factory_glass", "as1_mark"])
def test_yes_no_facts_go_back_to_not_known(desk: Desk, window: Any, name: str) -> None:
    told = pane(
        desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], name: False}), "Driver front"
    )
    assert told[name] is False
    back = desk.do("PATCH", f"/windows/{window['id']}", {"version": told["version"], name: None})
    assert pane(back, "Driver front")[name] is None


def test_a_layer_must_be_a_film_on_file(desk: Desk, window: Any) -> None:
    body = {"version": window["version"], "layers": ["gone"]}
    assert "no film “gone”" in desk.do("PATCH", f"/windows/{window['id']}", body, status=404)["message"]


def test_old_film_left_on_darkens_and_counts_as_a_sheet(desk: Desk, window: Any) -> None:
    """76 glass with a Kiln 70 (alone 70) that stays and a Harbor 35 (37 on 3 mm): 0.76 x 0.7/0.9175 x 0.37/0.9."""
    body = {"version": window["version"], "old_film": True, "old_film_stays": True, "layers": ["kiln70"]}
    changed = pane(desk.do("PATCH", f"/windows/{window['id']}", body), "Driver front")
    assert changed["shade"]["vlt_percent"] == pytest.approx(76 * 0.70 / 0.917546 * 0.37 / 0.90, abs=0.01)
    assert changed["worst"] == "Too dark"
    unnamed = {"version": changed["version"], "layers": []}
    unknown = pane(desk.do("PATCH", f"/windows/{window['id']}", unnamed), "Driver front")
    assert (unknown["worst"], unknown["shade"]["vlt_percent"]) == ("Cannot tell", None)
    through = {"version": unknown["version"], "bare_vlt_through_old_film": True, "bare_vlt_percent": 50}
    metered = pane(desk.do("PATCH", f"/windows/{window['id']}", through), "Driver front")
    assert metered["shade"]["vlt_percent"] == pytest.approx(50 * 0.37 / 0.90)
    assert "50 % glass and old film" in metered["shade"]["formula"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"registered_as": "spaceship"}, "registered_as"),
        ({"no_glass_at": ["bonnet"]}, "no_glass_at.0"),
        ({"states": ["TX", "TX"]}, "states"),
        ({"states": []}, "states"),
        ({"model_year": 1492}, "model_year"),
    ],
)
def test_vehicle_facts_that_cannot_be_are_named_by_field(desk: Desk, body: dict[str, Any], field: str) -> None:
    job = job_of(desk, "Alder SUV")
    assert field in desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"]} | body, status=422)["fields"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"read_percent": 101, "lot": "L"}, "read_percent"),
        ({"read_percent": -1, "lot": "L"}, "read_percent"),
        ({"read_percent": 20, "lot": " "}, "lot"),
        ({"read_percent": 20}, "lot"),
    ],
)
def test_readings_after_installation_that_cannot_be(desk: Desk, window: Any, body: dict[str, Any], field: str) -> None:
    assert field in desk.do("POST", f"/windows/{window['id']}/installed", body, status=422)["fields"]


@pytest.mark.parametrize(
    ("body", "field"),
    [
        ({"kind": "because"}, "kind"),
        ({"kind": "medical_exemption", "expires_on": "May 2027"}, "expires_on"),
        ({"kind": "medical_exemption", "document": "x" * 121}, "document"),
    ],
)
def test_reasons_of_no_listed_kind_are_refused(desk: Desk, body: dict[str, Any], field: str) -> None:
    window = pane(job_of(desk, "Larkspur coupe"), "Driver front")
    given = {"film_id": window["film_id"]} | body
    assert field in desk.do("POST", f"/windows/{window['id']}/reason", given, status=422)["fields"]


def test_an_expired_reason_holds_the_window_again(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    window = pane(job_of(desk, "Larkspur coupe"), "Driver front")
    body = {
        "film_id": "dusk5",
        "version": window["version"],
        "kind": "medical_exemption",
        "document": "M",
        "state": "FL",
        "issued_on": "2026-01-05",
        "citation": "§ 3 of the made-up rules",
        "expires_on": "2030-05-01",
    }
    job = desk.do("POST", f"/windows/{window['id']}/reason", body, status=201)
    monkeypatch.setattr("elumbra.storage.clock.today_iso", lambda: "2030-05-02")
    later = job_of(desk, "Larkspur coupe")
    expired = pane(later, "Driver front")
    assert (expired["reason"]["expired"], expired["reason"]["standing"]) == (True, False)
    assert "Too dark" in expired["held"]
    assert later["input_hash"] != job["input_hash"], "the plan that cut it is no longer the job's"


@pytest.mark.parametrize(
    ("person", "method", "path", "body", "status"),
    [
        ("sol", "GET", "/rules", None, 200),
        ("sol", "POST", "/rules/file", {}, 403),
        ("tobi", "POST", "/rule-words/x/withdraw", None, 403),
        ("sol", "POST", "/jobs/{job}/judge-again", {"version": 1}, 403),
        ("tobi", "POST", "/reasons/x/withdraw", {"version": 1}, 403),
        ("sol", "POST", "/windows/{window}/installed", {"read_percent": 5, "lot": "L"}, 403),
        ("tobi", "POST", "/installed-readings/x/remove", None, 403),
        ("sol", "GET", "/jobs/{job}/proposals", None, 200),
        ("sol", "GET", "/windows/{window}/strip", None, 200),
        ("ines", "POST", "/rule-words/x/withdraw", None, 404),
        ("ines", "GET", "/films/gone", None, 404),
        ("ines", "GET", "/jobs/gone/everywhere", None, 404),
        ("ines", "GET", "/windows/gone/strip", None, 404),
    ],
)
def test_each_role_may_do_its_own(
    desk: Desk, desk_of: Any, person: str, method: str, path: str, body: Any, status: int
) -> None:
    job = job_of(desk, "Drover crew")
    named = path.format(job=job["id"], window=pane(job, "Windshield")["id"])
    assert desk_of(person).call(method, named, body).status_code == status


def test_a_write_sent_twice_is_done_once_here_too(desk: Desk) -> None:
    window = pane(job_of(desk, "Morrow SUV"), "Hatch glass")
    for _ in range(2):
        body = {"read_percent": 6.2, "lot": "D35-2309", "film_id": window["film_id"]}
        desk.do("POST", f"/windows/{window['id']}/installed", body, status=201, write_id="the-same-write-id")
    lot = next(one for one in desk.get("/films/dusk35")["lots"] if one["lot"] == "D35-2309")
    assert len(lot["readings"]) == 1


def test_every_law_write_leaves_its_trace_in_the_job_s_history(desk: Desk) -> None:
    job = job_of(desk, "Larkspur coupe")
    window = pane(job, "Driver front")
    body = {"film_id": "dusk5", "version": window["version"], "kind": "off_road_or_show", "document": "folder 3"}
    desk.do("POST", f"/windows/{window['id']}/reason", body, status=201)
    desk.do("POST", f"/jobs/{job['id']}/judge-again", {"version": job["version"]})
    history = desk.get(f"/jobs/{job['id']}/history")["entries"]
    assert ("created", "reason") in [(entry["action"], entry["what"]) for entry in history]
    assert history[0]["person"] == "Ines Varga"


# --- the demo shop shows what it should


@pytest.mark.parametrize(
    ("title", "worst", "problem"),
    [
        ("Fenwick 4, all round", "Clears", None),
        ("Larkspur coupe", "Too dark", "Too dark in Florida"),
        ("Tansy hatch", "Clears", None),
        ("Morrow SUV", "Close", "readings do not close"),
        ("Drover crew", "Clears", None),
        ("Hauler van", "Clears", "no film"),
        ("Alder SUV", "Cannot tell", "Cannot tell in New York"),
        ("Fenwick 4, rears only", "Clears", None),
    ],
)
def test_demo_job_stands_where_it_should(desk: Desk, title: str, worst: str, problem: str | None) -> None:
    job = next(one for one in desk.get("/jobs")["jobs"] if one["title"].startswith(title))
    assert job["worst"] == worst
    assert bool(job["problems"]) is (problem is not None)
    assert problem is None or any(problem in words for words in job["problems"])


def test_strip_windshield_is_drawn_bare_with_its_strip(desk: Desk) -> None:
    windshield = pane(job_of(desk, "Drover crew"), "Windshield")
    assert len(windshield["strip_rings"]) == 1
    assert windshield["shade"]["backdrop"] < windshield["shade"]["bare_backdrop"], "the strip is darker than the glass"
    full = pane(job_of(desk, "Fenwick 4, all round"), "Driver front")
    assert full["strip_rings"] == []

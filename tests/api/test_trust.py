"""Trust in an hour: a state read through in one sitting, odd figures asked again, the shop's own setting."""

from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, window_of


def field(rule: Any, path: str) -> Any:
    return next(one for one in rule["fields"] if one["path"] == path)


def confirm(desk: Desk, code: str, paths: list[str], *, status: int = 201, **over: Any) -> Any:
    rule = desk.get(f"/rules/{code}")
    fields = [{"field": path, "value": field(rule, path)["value"]} for path in paths]
    body = {"fields": fields, "citation": "read in the code, p. 12"} | over
    return desk.do("POST", f"/rules/{code}/confirm", body, status=status)


def test_a_state_is_confirmed_in_one_go_with_its_linked_rules(desk: Desk) -> None:
    before = desk.get("/rules/IL")
    assert before["confirmed_on"] == ""
    open_fields = [one["path"] for one in before["fields"] if one["unconfirmed"]]
    assert "clauses.IL.fronts" in open_fields, "a linked rule compiled from memory waits for somebody too"
    after = confirm(desk, "IL", open_fields, effective_from="2020-01-01")
    assert [one["path"] for one in after["fields"] if one["unconfirmed"]] == []
    assert field(after, "clauses.IL.fronts")["source"]["citation"] == "read in the code, p. 12"
    assert after["confirmed_on"]
    assert not after["stale"]
    brief = next(one for one in desk.get("/rules")["states"] if one["code"] == "IL")
    assert (brief["unconfirmed"], brief["overruled"]) == (0, 0)


def test_all_ticked_or_none(desk: Desk) -> None:
    bad = [{"field": "passenger.front_side", "value": {"kind": "floor", "value": 35}}, {"field": "nope", "value": 1}]
    body = {"fields": bad, "citation": "somewhere"}
    assert "field" in desk.do("POST", "/rules/IL/confirm", body, status=422)["fields"]
    assert field(desk.get("/rules/IL"), "passenger.front_side")["source"] is None
    assert "citation" in confirm(desk, "IL", ["statute"], status=422, citation=" ")["fields"]


def test_a_confirmation_of_more_than_twelve_months_ago_is_told(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    today = confirm(desk, "FL", ["statute"])["confirmed_on"]
    year_on = f"{int(today[:4]) + 1}{today[4:]}"
    monkeypatch.setattr("elumbra.storage.clock.today_iso", lambda: year_on)
    assert desk.get("/rules/FL")["stale"]
    assert next(one for one in desk.get("/rules")["states"] if one["code"] == "FL")["stale"]


@pytest.mark.parametrize(
    ("typed", "asked"),
    [(0.28, "Did you mean 28 %?"), (2, "darker than any film"), (17, "11 points under the 28 % on file"), (18, "10 points"),
     (19, None), (35, None), (0, "darker than any film")],
)  # fmt: skip
def test_an_odd_limit_is_asked_again_and_taken_when_it_is_meant(desk: Desk, typed: float, asked: str | None) -> None:
    """Florida's 28 % at the front side."""
    body = {"field": "passenger.front_side", "value": {"kind": "floor", "value": typed}, "citation": "new act"}
    if asked is not None:
        refused = desk.do("POST", "/rules/FL/words", body, status=422)
        assert refused["code"] == "ask_again"
        assert asked in refused["fields"]["value"]
        assert field(desk.get("/rules/FL"), "passenger.front_side")["source"] is None
    rule = desk.do("POST", "/rules/FL/words", body | {"sure": True}, status=201)
    assert field(rule, "passenger.front_side")["value"] == {"kind": "floor", "value": typed}


def test_the_shop_settles_a_dispute_by_its_word(desk: Desk) -> None:
    """Utah, 43 or 35 %: the stricter decides and says so, until somebody has looked."""
    said = field(desk.get("/rules/UT"), "passenger.front_side")
    assert (said["words"], said["disputed"]) == ("43 %", ["43 %", "35 %"])
    case = {
        "state": "UT", "film_id": "dusk35", "car": {"vehicle_class": "passenger", "mirrors_both_sides": True},
        "window": {"position": "front_side", "bare_readings_percent": [95]},
    }  # fmt: skip
    found = desk.do("POST", "/rules/look-up", case)["verdict"]
    assert found["word"] == "Too dark"
    assert any("43 % or 35 %. The stricter decides" in clause["sentence"] for clause in found["clauses"])
    body = {"field": "passenger.front_side", "value": {"kind": "floor", "value": 35}, "citation": "act of 2024"}
    desk.do("POST", "/rules/UT/words", body, status=201)
    found = desk.do("POST", "/rules/look-up", case)["verdict"]
    assert found["word"] in ("Clears", "Close")
    assert not any("stricter decides" in clause["sentence"] for clause in found["clauses"])


def test_working_inside_the_tolerance_is_the_shops_choice_by_state_and_goes_by_its_word(desk: Desk) -> None:
    """Illinois fronts: 36 on 95 % glass is 38; on 84 it is 33.6 under 35, within the law's 5 points."""
    job = opened(desk, "Fenwick 4, rears only")
    desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "states": ["IL"]})
    for label in ("Driver rear", "Passenger rear", "Back glass"):
        patch(desk, window_of(opened(desk, "Fenwick 4, rears only"), label), film_id=None)
    front = window_of(opened(desk, "Fenwick 4, rears only"), "Driver front")
    job = patch(desk, front, film_id="dusk35", bare_readings_percent=[84])
    held = window_of(job, "Driver front")
    assert (held["worst"], held["held_at"]) == ("Within tolerance", "shade")
    assert "does not work inside the law's tolerance" in held["held"]
    body = {"field": "works_inside_tolerance", "value": True, "citation": "owner's decision"}
    desk.do("POST", "/rules/IL/words", body, status=201)
    job = opened(desk, "Fenwick 4, rears only")
    job = desk.do("POST", f"/jobs/{job['id']}/judge-again", {"version": job["version"]})
    free = window_of(job, "Driver front")
    assert (free["worst"], free["held"]) == ("Within tolerance", None)
    no_tolerance = {"field": "works_inside_tolerance", "value": True, "citation": "x"}
    assert "field" in desk.do("POST", "/rules/FL/words", no_tolerance, status=422)["fields"]


def test_a_linked_rule_that_the_shop_says_does_not_hold_is_left_out(desk: Desk) -> None:
    case = {
        "state": "WA", "film_id": "kiln70",
        "car": {"vehicle_class": "passenger", "mirrors_both_sides": False},
        "window": {"position": "rear_side", "bare_readings_percent": [80]},
    }  # fmt: skip
    ids = {clause["id"] for clause in desk.do("POST", "/rules/look-up", case)["verdict"]["clauses"]}
    assert "WA.one_sheet" in ids
    body = {"field": "clauses.WA.one_sheet", "value": False, "citation": "repealed, letter of 2026-05-02"}
    rule = desk.do("POST", "/rules/WA/words", body, status=201)
    assert field(rule, "clauses.WA.one_sheet")["source"]["overruled"]
    ids = {clause["id"] for clause in desk.do("POST", "/rules/look-up", case)["verdict"]["clauses"]}
    assert "WA.one_sheet" not in ids


# ---- where the shop is


def test_new_jobs_start_with_the_home_state_and_never_with_the_last_jobs(desk: Desk) -> None:
    new = {"vehicle_label": "A car", "body": "sedan"}
    lists = desk.get("/pick-lists")
    desk.do("PUT", "/home-states", {"states": ["ZZ"], "version": lists["home"]["record_version"]}, status=422)
    kept = desk.do("PUT", "/home-states", {"states": ["NM", "AZ"], "version": lists["home"]["record_version"]})
    assert kept["home"]["states"] == ["NM", "AZ"]
    assert desk.do("POST", "/jobs", new, status=201)["states"] == ["NM", "AZ"]
    desk.do("POST", "/jobs", new | {"states": ["FL"]}, status=201)
    after = desk.do("POST", "/jobs", new, status=201)
    assert (after["states"], after["mirrors_both_sides"], after["registered_as"]) == (["NM", "AZ"], None, None)
    stale = {"states": ["TX"], "version": lists["home"]["record_version"]}
    desk.do("PUT", "/home-states", stale, status=409)


def test_a_registration_that_contradicts_the_class_is_pointed_out(desk: Desk) -> None:
    job = opened(desk)
    assert job["class_contradiction"] == ""
    job = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "registered_as": "pickup"})
    assert "Registered as pickup, yet judged as a passenger car" in job["class_contradiction"]


def test_a_look_up_asks_about_a_film_and_keeps_nothing_of_the_answer(desk: Desk) -> None:
    film = {"name": "Odd", "construction": "metal", "vlt_percent": 60, "reflectance_percent": 15}
    rack = desk.do("POST", "/films", film, status=201)
    film_id = next(one["id"] for one in rack["films"] if one["name"] == "Odd")
    case = {
        "state": "AR", "film_id": film_id, "car": {"vehicle_class": "passenger", "model_year": 2020},
        "window": {"position": "front_side", "bare_readings_percent": [80]},
    }  # fmt: skip
    first = desk.do("POST", "/rules/look-up", case)["verdict"]
    assert {question["asks"] for question in first["questions"]} == {"film_finish", "film_colour"}
    told = case | {"film": {"mirror_finish": False, "colours": ["grey"]}}
    assert desk.do("POST", "/rules/look-up", told)["verdict"]["word"] == "Clears"
    kept = next(one for one in desk.get("/rack")["films"] if one["id"] == film_id)
    assert (kept["mirror_finish"], kept["colours"]) == (None, [])

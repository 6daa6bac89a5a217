"""Look through the API: flaws with place, cause and decision; redo to Cut and back; the reading judged; what holds a car."""

from __future__ import annotations

from io import BytesIO
from typing import Any

import pytest
from PIL import Image

from elumbra.storage.database import Database
from tests.api.conftest import Desk
from tests.api.test_bay import balance, bay, happened, run_of, send, ticked
from tests.api.test_jobs import opened, patch, read, window_of
from tests.api.test_knife import cut
from tests.api.test_rack_and_layouts import live
from tests.catalogue.pictures import picture

__all__ = ["live"]


def look(desk: Desk, job: Any) -> Any:
    return desk.get(f"/jobs/{job['id']}/look")


def seen(found: Any, label: str) -> Any:
    return next(one for one in found["windows"] if one["label"] == label)


def flaw(
    desk: Desk, job: Any, label: str = "Driver front", kind: str = "finger", *, status: int = 201, **over: Any
) -> Any:
    body = {"kind": kind, "x": 0.5, "y": 0.5, "size": "1/8", **over}
    return desk.do("POST", f"/windows/{window_of(job, label)['id']}/flaws", body, status=status)


def beside(job: Any, label: str, *, left: bool = True) -> dict[str, float]:
    """A point a finger's breadth inside the steepest edge on one side."""
    ring = window_of(job, label)["pane"]["ring"]
    width, height = (max(point[i] for point in ring) for i in (0, 1))
    edges = [(a, b) for a, b in zip(ring, ring[1:] + ring[:1], strict=True) if abs(b[1] - a[1]) > 60]
    (a, b) = min(edges, key=lambda edge: edge[0][0] if left else -edge[0][0])
    x = (a[0] + b[0]) / 2 + (10 if left else -10)
    return {"x": x / width, "y": (a[1] + b[1]) / 2 / height}


def newest(found: Any, label: str = "Driver front") -> Any:
    return seen(found, label)["flaws"][-1]


def decide(desk: Desk, one: Any, *, status: int = 200, **over: Any) -> Any:
    return desk.do("POST", f"/flaws/{one['id']}/decide", {"version": one["version"], **over}, status=status)


def clean(desk: Desk, job: Any, label: str, *, when: str = "final", status: int = 201, **over: Any) -> Any:
    body = {"when": when, "clean": True, **over}
    return desk.do("POST", f"/windows/{window_of(job, label)['id']}/looks", body, status=status)


def metered(desk: Desk, job: Any, label: str, percent: float, lot: str = "H35-2207") -> Any:
    window = window_of(job, label)
    body = {"read_percent": percent, "lot": lot, "film_id": window["film_id"]}
    return desk.do("POST", f"/windows/{window['id']}/installed", body, status=201)


def fitted(desk: Desk, job: Any) -> None:
    """Everything of a car's work ticked, and nothing lies in a box."""
    runs = bay(desk, job)["runs"]
    for run in runs:
        if not run["strip"] and run["steps"]:
            body = (
                ticked(run) if run["window_id"] else ticked(run) | {"value": {"run": run["name"]}, "run": run["name"]}
            )
            send(desk, job, {key: one for key, one in body.items() if key != "value"})


def test_a_flaw_is_put_with_one_touch_and_tells_where_why_and_what_to_do(desk: Desk) -> None:
    job = opened(desk)
    found = flaw(desk, job, kind="dots", count=3, **beside(job, "Driver front"))
    one = newest(found)
    assert (one["zone"], one["where"]) == ("edge", "at a side")
    assert one["causes"][0]["id"] == "dirty_seal"
    assert [cause["percent"] for cause in one["causes"]] == sorted((c["percent"] for c in one["causes"]), reverse=True)
    assert sum(cause["percent"] for cause in one["causes"]) == pytest.approx(100, abs=0.5)
    assert 1 <= len(one["questions"]) <= 2
    assert next(step["do"] for step in one["remedy"]) == "Press each dot out, first cold"
    assert (one["decision"], one["settled"]) == ("touch_up", False)
    assert one["remedy"][1]["heat"] == "warm"
    assert one["remedy"][1]["press"] == "light"


def test_an_answer_moves_the_causes_and_what_is_recorded_goes_before_it(desk: Desk) -> None:
    job = opened(desk)
    one = newest(flaw(desk, job, kind="dots", **beside(job, "Driver front")))
    share = one["causes"][0]["percent"]
    body = {"version": one["version"], "fact": "seals_cleaned", "told": "no"}
    after = newest(desk.do("POST", f"/flaws/{one['id']}/answer", body))
    assert after["causes"][0]["percent"] > share
    assert any(said["words"] == "side seals flushed and carded" for said in after["causes"][0]["speaks_for"])
    body = {"version": after["version"], "fact": "years", "told": "no"}
    assert "fact" in desk.do("POST", f"/flaws/{one['id']}/answer", body, status=422)["fields"]


def test_what_the_run_recorded_speaks(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver front")
    keys = [step["key"] for step in run["steps"]]
    skipped = [key for key in keys if not key.startswith(("seals_flush", "seals_card"))]
    send(desk, job, happened("tick", window_id=run["window_id"], steps=skipped, film=run["film"], level="step"))
    one = newest(flaw(desk, job, kind="dots", **beside(job, "Driver front")))
    first = one["causes"][0]
    assert first["id"] == "dirty_seal"
    assert {"words": "side seals flushed and carded", "told": "no"} in first["speaks_for"]
    assert all(question["fact"] != "seals_cleaned" for question in one["questions"])


def test_what_cannot_be_is_refused_with_the_field(desk: Desk) -> None:
    job = opened(desk)
    assert "Did you mean “finger”" in flaw(desk, job, kind="fingre", status=422)["fields"]["kind"]
    assert "size" in flaw(desk, job, size="about so", status=422)["fields"]
    assert "x" in flaw(desk, job, x=1.4, status=422)["fields"]
    assert "beside the glass" in flaw(desk, job, x=0.0, y=1.0, status=422)["message"]
    assert flaw(desk, job, label="Windshield", status=422)["message"].startswith("Windshield has no film")
    assert "rulers.left" in clean(desk, job, "Driver front", rulers={"left": "deep"}, status=422)["fields"]
    assert seen(look(desk, job), "Driver front")["flaws"] == []


def test_clean_is_one_touch_and_refused_while_something_stands_open(desk: Desk) -> None:
    job = opened(desk)
    # Before the work nobody can say it; a flaw can be noted at any time.
    for when in ("leaving", "final"):
        assert "not finished" in clean(desk, job, "Driver rear", when=when, status=422)["message"]
    fitted(desk, job)
    found = clean(desk, job, "Driver rear", when="leaving")
    assert seen(found, "Driver rear")["leaving"]["clean"]
    assert seen(found, "Driver rear")["answer"] == "Look once more at the end"
    flaw(desk, job, kind="crease")
    refused = clean(desk, job, "Driver front", status=422)
    assert "crease" in refused["message"]
    taken = seen(found, "Driver rear")["leaving"]
    back = desk.do("POST", f"/looks/{taken['id']}/remove", {"version": taken["version"]})
    assert seen(back, "Driver rear")["leaving"] is None


def test_small_specks_stay_by_the_standard_until_there_are_too_many(desk: Desk) -> None:
    job = opened(desk)
    places = ((0.3, 0.3), (0.6, 0.6), (0.75, 0.3))
    for number, (x, y) in enumerate(places):
        found = flaw(desk, job, kind="speck", x=x, y=y, size="1 mm", state="set")
        flaws = seen(found, "Driver front")["flaws"]
        expected = "keep" if number < 2 else "redo"
        assert {one["decision"] for one in flaws} == {expected}, number
    one = flaws[-1]
    assert "3 of them on one window; 2 may stay" in one["because"]
    body = {"version": one["version"]}
    back = desk.do("POST", f"/flaws/{one['id']}/remove", body)
    assert {other["decision"] for other in seen(back, "Driver front")["flaws"]} == {"keep"}
    fitted(desk, job)
    clean(desk, job, "Driver front")


def test_overruling_needs_a_reason_and_the_lead(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    one = newest(flaw(desk, job, kind="crease"))
    assert "because" in decide(desk, one, decision="keep", status=422)["fields"]
    assert decide(desk_of("tobi"), one, decision="keep", because="small", status=403)["code"] == "not_your_role"
    kept = newest(decide(desk, one, decision="keep", because="The owner sells the car tomorrow."))
    assert (kept["decision"], kept["overruled"], kept["settled"]) == ("keep", True, True)
    assert decide(desk, one, decision="redo", because="x", status=409)["code"] == "stale_version"


def test_a_hidden_nick_is_accepted_by_the_owner_by_name(desk: Desk) -> None:
    job = opened(desk)
    found = flaw(desk, job, kind="nick", x=0.5, y=0.999, size="2 mm", state="set")
    one = newest(found)
    assert (one["zone"], one["decision"], one["asks_owner"], one["settled"]) == ("hidden", "keep", True, False)
    assert "accepted_by" in decide(desk, one, decision="keep", status=422)["fields"]
    assert newest(decide(desk, one, decision="keep", accepted_by="R. Alder"))["settled"]
    in_view = newest(flaw(desk, job, kind="nick", x=0.5, y=0.5, size="2 mm", state="set"))
    assert in_view["decision"] == "redo"


def test_a_touch_up_that_does_not_help_becomes_a_redo(desk: Desk) -> None:
    job = opened(desk)
    one = newest(flaw(desk, job))
    for tried in (1, 2):
        body = {"version": one["version"], "gone": False}
        one = newest(desk.do("POST", f"/flaws/{one['id']}/look-again", body))
        assert one["tries"] == tried
    assert one["decision"] == "redo"
    assert "Touched up 2 times" in one["because"]


def test_a_redo_goes_to_cut_with_its_cost_and_back_to_the_bay(live: Desk, database: Database) -> None:
    job = opened(live)
    cut(live, job)
    job = opened(live)
    fitted(live, job)
    one = newest(flaw(live, job, kind="crease"))
    assert one["redo"]["total"] == pytest.approx(one["redo"]["film"] + one["redo"]["labour"], abs=0.02)
    assert one["redo"]["film"] > 0
    assert one["redo"]["minutes"] > 10
    label = window_of(job, "Driver front")["cut"]["roll"]
    before = balance(database, label)
    decided = newest(decide(live, one, decision="redo"))
    assert decided["redo_open"]
    after = balance(database, label)
    assert after["waste"] < before.get("waste", 0)
    assert sum(after.values()) == sum(before.values())
    assert (
        window_of(opened(live), "Driver front")["cut"] is None
        or not window_of(opened(live), "Driver front")["cut"]["standing"]
    )
    run = run_of(bay(live, job), "Driver front")
    assert any(step["again"] for step in run["steps"])
    assert run["next"] is not None
    body = {"version": decided["version"], "gone": True}
    assert "being redone" in live.do("POST", f"/flaws/{one['id']}/look-again", body, status=422)["message"]
    assert any("must be redone" in held["words"] for held in look(live, job)["holds"])
    cut(live, job)
    send(live, job, ticked(run_of(bay(live, job), "Driver front")))
    gone = live.do("POST", f"/flaws/{one['id']}/look-again", body)
    assert newest(gone)["closed"] == "redone"
    clean(live, job, "Driver front")


def test_a_redo_is_taken_back(live: Desk, database: Database) -> None:
    job = opened(live)
    cut(live, job)
    job = opened(live)
    label = window_of(job, "Driver front")["cut"]["roll"]
    before = balance(database, label)
    one = newest(decide(live, newest(flaw(live, job, kind="crease")), decision="redo"))
    refused = live.do("POST", f"/flaws/{one['id']}/remove", {"version": one["version"]}, status=422)
    assert "Take that back first" in refused["message"]
    decide(live, one)
    assert balance(database, label) == before | {"waste": before.get("waste", 0)}
    assert window_of(opened(live), "Driver front")["cut"]["standing"]


def test_the_twin_of_a_double_cut_speaks(live: Desk) -> None:
    job = opened(live)
    one = newest(flaw(live, job, kind="light_gap", **beside(job, "Driver front")))
    before = {cause["id"]: cause["percent"] for cause in one["causes"]}
    found = flaw(live, job, label="Passenger front", kind="light_gap", **beside(job, "Passenger front", left=False))
    after = {cause["id"]: cause["percent"] for cause in newest(found)["causes"]}
    assert after["piece_small"] > before["piece_small"]


def test_the_law_is_judged_on_the_reading_and_the_lowest_of_the_day_counts(desk: Desk) -> None:
    job = opened(desk)
    window = seen(look(desk, job), "Driver front")
    assert (window["wording"], window["word"]) == ("none", None)
    metered(desk, job, "Driver front", 33.0)
    window = seen(look(desk, job), "Driver front")
    assert window["word"] in ("Clears", "Close")
    assert window["wording"] == "lawful"
    metered(desk, job, "Driver front", 20.0)
    metered(desk, job, "Driver front", 33.0)
    window = seen(look(desk, job), "Driver front")
    assert window["word"] == "Too dark"
    assert window["wording"] == "none"
    held = [one["words"] for one in look(desk, job)["holds"]]
    assert any(words.startswith("Driver front: Too dark by the reading") for words in held)


def test_a_strip_is_judged_by_its_deepest_ruler_reading(desk: Desk) -> None:
    job = opened(desk, "Drover crew cab, fronts and strip")
    window = seen(look(desk, job), "Windshield")
    assert window["strip"]
    assert "in_strip" in window["hunt"]
    assert window["word"] is None
    fitted(desk, job)
    found = clean(desk, job, "Windshield", rulers={"left": "4 7/8", "middle": "5", "right": "4 7/8"})
    shallow = seen(found, "Windshield")
    deep = seen(clean(desk, job, "Windshield", rulers={"left": "5", "middle": "9", "right": "5"}), "Windshield")
    assert (shallow["deepest_mm"], deep["deepest_mm"]) == (pytest.approx(127), pytest.approx(228.6))
    order = ["Not allowed", "Too dark", "Cannot tell", "No rule on file", "Within tolerance", "Close", "Clears"]
    assert order.index(deep["word"]) < order.index(shallow["word"])
    assert deep["wording"] == "none"


def test_the_shop_writes_its_own_standard(desk: Desk, desk_of: Any) -> None:
    ours = desk.get("/look-standard")
    assert (ours["own"], ours["unit"]) == (False, "window")
    rules = [{"kind": "speck", "zone": "view", "most": 1, "mm": 0.5}]
    body = {"unit": "car", "rules": rules, "version": ours["version"]}
    desk_of("tobi").do("PUT", "/look-standard", body, status=403)
    assert desk.do("PUT", "/look-standard", body)["own"]
    doubled = {**body, "rules": rules * 2, "version": 1}
    assert "twice" in desk.do("PUT", "/look-standard", doubled, status=422)["message"]
    job = opened(desk)
    assert newest(flaw(desk, job, kind="speck", size="1 mm", state="set"))["decision"] == "redo"
    desk.do("PUT", "/look-standard", {"unit": "window", "rules": [], "version": 1})
    assert not desk.get("/look-standard")["own"]


def test_a_photo_belongs_to_its_flaw(desk: Desk) -> None:
    job = opened(desk)
    one = newest(flaw(desk, job))
    body = {"content": picture(), "window_id": one["window_id"], "flaw_id": one["id"]}
    desk.do("POST", f"/jobs/{job['id']}/photos", body, status=201)
    (photo,) = newest(look(desk, job))["photos"]
    small = desk.call("GET", f"/jobs/{job['id']}/photos/{photo}?small=1")
    assert small.status_code == 200
    assert Image.open(BytesIO(small.data)).size == (40, 20)
    other = opened(desk, "Morrow SUV, fronts to match")
    body = {"content": picture(), "flaw_id": one["id"]}
    assert "flaw_id" in desk.do("POST", f"/jobs/{other['id']}/photos", body, status=422)["fields"]


def test_a_stuck_or_changed_pane_breaks_nothing(desk: Desk) -> None:
    job = opened(desk)
    flaw(desk, job, label="Back glass", kind="haze", x=0.7, y=0.7)
    patch(desk, window_of(job, "Back glass"), readings={"top": read("30")})
    assert newest(look(desk, job), "Back glass")["zone"] in ("view", "edge", "hidden")


def test_a_flaw_is_corrected_where_it_was_put_wrong(desk: Desk) -> None:
    job = opened(desk)
    one = newest(flaw(desk, job, kind="dots", size="1/8", count=3))
    after = newest(
        desk.do("PATCH", f"/flaws/{one['id']}", {"version": one["version"], "kind": "crease", "size": "1/2"})
    )
    assert (after["kind"], after["count"]) == ("crease", 3)
    assert after["size_mm"] == pytest.approx(12.7)
    assert after["decision"] == "redo", "what follows is worked out anew"
    moved = newest(
        desk.do("PATCH", f"/flaws/{one['id']}", {"version": after["version"], **beside(job, "Driver front")})
    )
    assert (one["zone"], moved["zone"]) == ("view", "edge")
    body = {"version": moved["version"]}
    assert desk.do("PATCH", f"/flaws/{one['id']}", body | {"size": "big"}, status=422)["fields"]
    assert desk.do("PATCH", f"/flaws/{one['id']}", body | {"kind": "dragon"}, status=422)
    assert desk.do("PATCH", f"/flaws/{one['id']}", {"version": 1, "count": 2}, status=409)["code"] == "stale_version"

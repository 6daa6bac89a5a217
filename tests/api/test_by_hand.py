"""Pieces placed by hand, through the API: tried, kept by the plan, told when they cannot be, freed when cut again."""

from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_jobs import opened, window_of
from tests.api.test_knife import cut, planned
from tests.api.test_rack_and_layouts import live
from tests.api.test_rack_ledger import again, balanced
from tests.api.test_ways import by
from tests.effort import sample

__all__ = ["live"]


def piece_of(plan: Any, label: str) -> Any:
    (found,) = [piece for film in plan["films"] for piece in film["pieces"] if piece["label"] == label]
    return found


def tried(desk: Desk, job: Any, piece: Any, *, status: int = 200, **over: Any) -> Any:
    place = {name: piece[name] for name in ("window_id", "part", "stock_id", "x_mm", "y_mm")}
    asked = place | {"turn": int(piece["turn"])} | over
    query = "&".join(f"{name}={value}" for name, value in asked.items())
    return desk.do("GET", f"/jobs/{job['id']}/places?{query}", status=status)


def put(desk: Desk, job: Any, label: str, place: Any) -> Any:
    window = window_of(job, label)
    kept = {"stock": place["stock_id"], "x_mm": place["x_mm"], "y_mm": place["y_mm"], "turn": place["turn"]}
    desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], "by_hand": [kept]})
    return again(desk, job)


@pytest.mark.parametrize("method", ["bulk", "plotter"])
def test_a_place_that_is_said_to_do_is_where_the_plan_puts_it(live: Desk, method: str) -> None:
    """On every roll of the film, also where film lies liner down and is seen mirrored."""
    job = by(live, opened(live), method)
    plan = planned(live, job)["plan"]
    piece = piece_of(plan, "Driver rear")
    film = next(one for one in plan["films"] if piece in one["pieces"])
    held = 0
    for stock in sample(film["stocks"], 2):
        place = tried(live, job, piece, stock_id=stock["id"], x_mm=40, y_mm=30)
        if place["refused"]:
            continue
        held += 1
        job = put(live, job, "Driver rear", place)
        found = piece_of(planned(live, job)["plan"], "Driver rear")
        assert found["by_hand"]
        assert (found["stock_id"], found["turn"]) == (stock["id"], place["turn"])
        assert found["y_mm"] == pytest.approx(place["y_mm"], abs=0.01)
        if method == "plotter":
            assert found["x_mm"] == pytest.approx(place["x_mm"], abs=0.01)
    assert held


def test_what_cannot_be_is_told_and_planned_like_the_others(live: Desk) -> None:
    job = opened(live)
    plan = planned(live, job)["plan"]
    piece = piece_of(plan, "Back glass")
    assert "may not lie this way round" in tried(live, job, piece, turn=90)["refused"]
    assert "reaches over the end" in tried(live, job, piece, x_mm=99_000)["refused"]
    assert tried(live, job, piece, turn=45, status=422)["fields"]
    assert tried(live, job, piece, window_id="nobody", status=404)["code"] == "not_found"
    place = {"stock_id": piece["stock_id"], "x_mm": 99_000, "y_mm": 0, "turn": 0}
    job = put(live, job, "Back glass", place)
    after = planned(live, job)["plan"]
    film = next(one for one in after["films"] if one["by_hand_refused"])
    assert film["by_hand_refused"][0].startswith("Back glass: It reaches over the end of")
    assert not piece_of(after, "Back glass")["by_hand"]


def test_a_place_is_tried_beside_places_of_other_kinds_and_such_as_cannot_be(live: Desk) -> None:
    """A mixed car: a pattern placed by hand, and a blank whose place is no place, are nothing to stumble over."""
    job = by(live, opened(live), "bulk", Back_glass="plotter")
    plan = planned(live, job)["plan"]
    back, rear = piece_of(plan, "Back glass"), piece_of(plan, "Driver rear")
    place = {"stock_id": back["stock_id"], "x_mm": 900.0, "y_mm": 20.0, "turn": 0}
    job = put(live, job, "Back glass", place)
    job = put(live, job, "Passenger rear", place | {"turn": 270})
    for stock in next(one for one in plan["films"] if rear in one["pieces"])["stocks"]:
        answer = tried(live, job, rear, stock_id=stock["id"], x_mm=5, y_mm=5)
        assert answer["along_mm"] > 0
    assert tried(live, job, back, x_mm=20, y_mm=20)["along_mm"] > 0
    after = planned(live, job)["plan"]
    told = [words for film in after["films"] for words in film["by_hand_refused"]]
    assert any(words.startswith("Passenger rear: It may not lie this way round") for words in told)


def test_a_spoilt_piece_is_free_again_and_its_first_film_is_not_booked_twice(live: Desk) -> None:
    job = opened(live)
    piece = piece_of(planned(live, job)["plan"], "Driver rear")
    job = put(live, job, "Driver rear", tried(live, job, piece))
    planned(live, job)
    job = cut(live, again(live, job))
    balanced(live)
    (cutting,) = job["cuttings"]
    window = window_of(job, "Driver rear")
    job = live.do(
        "POST", f"/cuttings/{cutting['id']}/cut-again", {"version": cutting["version"], "window_id": window["id"]}
    )
    assert window_of(job, "Driver rear")["by_hand"] == []
    plan = planned(live, job)["plan"]
    assert [piece["label"] for film in plan["films"] for piece in film["pieces"]] == ["Driver rear"]
    cut(live, job)
    balanced(live)

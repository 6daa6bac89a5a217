"""Cars that are cut together: never dearer than each by itself, booked to each job its share, taken back together."""

from typing import Any

from tests.api.conftest import Desk
from tests.api.test_rack_and_layouts import live, wait
from tests.api.test_rack_ledger import balanced

__all__ = ["live"]


def cars_sharing(desk: Desk) -> list[str]:
    """The film that most cars need, and those cars."""
    cars = desk.get("/day/cars")["cars"]
    by_film: dict[str, list[str]] = {}
    for car in cars:
        for film in car["films"]:
            by_film.setdefault(film["film_id"], []).append(car["job_id"])
    return max(by_film.values(), key=len)


def planned_day(desk: Desk, job_ids: list[str]) -> Any:
    task = desk.do("POST", "/day/layout", {"job_ids": job_ids}, status=202)
    wait(desk, task)
    task = desk.get(f"/day/tasks/{task['id']}?jobs={','.join(job_ids)}")
    assert task["status"] == "done", task["error"]
    return task


def left(desk: Desk) -> dict[str, float]:
    return {one["label"]: one["length_left_mm"] for one in desk.get("/rack")["stock"]}


def test_cars_together_cost_no_more_than_each_alone_and_each_job_is_booked_its_share(live: Desk) -> None:
    job_ids = cars_sharing(live)
    assert len(job_ids) >= 2
    before = left(live)
    task = planned_day(live, job_ids)
    plan = task["plan"]
    assert [car["job_id"] for car in plan["cars"]] == sorted(
        job_ids, key=lambda one: [car["job_id"] for car in live.get("/day/cars")["cars"]].index(one)
    )
    shared = [film for film in plan["films"] if film["each_alone"]]
    assert shared
    for film in shared:
        assert len(film["shared_by"]) >= 2
        assert film["score"]["net"] <= film["each_alone"]["net"] + 1e-6
    assert all(piece["label"].split(" ")[0].isdigit() for film in plan["films"] for piece in film["pieces"])
    text = live.call("GET", f"/day/cut-sheet.pdf?jobs={','.join(job_ids)}")
    assert text.data.startswith(b"%PDF")
    body = {"job_ids": job_ids, "input_hash": task["input_hash"]}
    assert live.do("POST", "/day/cut", body | {"input_hash": "another"}, status=409)["code"] == "no_plan"
    live.do("POST", "/day/cut", body)
    balanced(live)
    for job_id in job_ids:
        job = live.get(f"/jobs/{job_id}")
        assert len(job["cuttings"]) == 1
        assert job["cuttings"][0]["windows"], "each job has its own share of what was cut"
        assert job["cuttings"][0]["taken"]
        for mark in job["cuttings"][0]["windows"]:
            assert not mark[0].isdigit(), "under the window's own name"
    (cutting,) = live.get(f"/jobs/{job_ids[-1]}")["cuttings"]
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    balanced(live)
    assert left(live) == before
    assert all(live.get(f"/jobs/{job_id}")["cuttings"] == [] for job_id in job_ids)


def test_one_car_is_left_out_and_a_day_of_nobody_is_refused(live: Desk) -> None:
    job_ids = cars_sharing(live)
    fewer = planned_day(live, job_ids[:1])
    assert [car["job_id"] for car in fewer["plan"]["cars"]] == job_ids[:1]
    assert all(film["each_alone"] is None for film in fewer["plan"]["films"])
    assert live.do("POST", "/day/layout", {"job_ids": []}, status=422)
    assert live.do("POST", "/day/layout", {"job_ids": ["nobody"]}, status=404)["code"] == "not_found"

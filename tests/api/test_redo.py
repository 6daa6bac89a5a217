"""A redo: a job of its own for windows of a delivered car, linked to the one that it mends, which stays as it went."""

from __future__ import annotations

from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_handover import begin_ready, ready_file, sign
from tests.api.test_jobs import opened, window_of

__all__ = ["ready_file"]


@pytest.fixture
def gone(desk: Desk) -> Any:
    job = opened(desk)
    sign(desk, job)
    return desk.get(f"/jobs/{job['id']}")


def redo(desk: Desk, job: Any, *labels: str, status: int = 201) -> Any:
    ids = [window_of(job, one)["id"] for one in labels]
    return desk.do("POST", f"/jobs/{job['id']}/redo", {"windows": ids}, status=status)


@begin_ready
def test_a_redo_has_the_glass_and_film_of_the_car_as_it_went_and_is_linked_both_ways(desk: Desk, gone: Any) -> None:
    before = desk.get(f"/jobs/{gone['id']}/handover")
    made = redo(desk, gone, "Driver front")
    assert made["title"] == f"Redo: {gone['title']}"
    assert made["redo_of"] == {"id": gone["id"], "number": gone["number"]}
    assert (made["status"], made["cuttings"], made["customer"]) == ("inquiry", [], gone["customer"])
    old, new = window_of(gone, "Driver front"), window_of(made, "Driver front")
    assert (new["film_id"], new["old_film"], new["old_film_stays"]) == (old["film_id"], True, False)
    assert new["readings"] == old["readings"]
    assert new["cut"] is None
    other, stays = window_of(gone, "Driver rear"), window_of(made, "Driver rear")
    assert (stays["film_id"], stays["old_film_stays"], stays["layers"]) == (None, True, [other["film_id"]])
    after = desk.get(f"/jobs/{gone['id']}")
    assert after["redone_in"] == [{"id": made["id"], "number": made["number"]}]
    assert desk.get(f"/jobs/{gone['id']}/handover") == before, "the car as it went is not touched"
    lines = desk.get(f"/jobs/{made['id']}/quote")["lines"]
    assert {one["kind"] for one in lines} >= {"film", "removal"}


@begin_ready
def test_a_redo_is_of_a_car_that_went_and_of_windows_that_it_filmed(desk: Desk) -> None:
    job = opened(desk)
    early = redo(desk, job, "Driver front", status=422)
    assert "still here" in early["message"]
    sign(desk, job)
    bare = next(one for one in job["windows"] if one["film_id"] is None)
    refused = desk.do("POST", f"/jobs/{job['id']}/redo", {"windows": [bare["id"]]}, status=422)
    assert set(refused["fields"]) == {"windows"}
    desk.do("POST", f"/jobs/{job['id']}/redo", {"windows": []}, status=422)
    redo(desk, job, "Driver front")
    redo(desk, job, "Driver front", "Passenger front")
    assert len(desk.get(f"/jobs/{job['id']}")["redone_in"]) == 2

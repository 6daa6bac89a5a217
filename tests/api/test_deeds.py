"""What is done with a job as a whole: its state follows, nobody types one, a step back has a reason."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

import pytest
from sqlalchemy import text
from sqlalchemy.exc import DatabaseError

from elumbra.demo_day import fill_day
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from tests.api.conftest import Desk
from tests.api.test_jobs import opened

LARKSPUR = "Larkspur coupe, limo fronts"


def done(desk: Desk, job: Any, deed: str, *, status: int = 200, **over: Any) -> Any:
    version = desk.get(f"/jobs/{job['id']}")["version"]
    return desk.do("POST", f"/jobs/{job['id']}/deeds", {"version": version, "deed": deed, **over}, status=status)


def new_job(desk: Desk) -> Any:
    return desk.do("POST", "/jobs", {"vehicle_label": "Fenwick 4", "body": "sedan", "states": ["TX"]}, status=201)


def can(job: Any) -> set[str]:
    return {one["deed"] for one in job["next_deeds"]}


def test_a_state_cannot_be_typed(desk: Desk) -> None:
    job = opened(desk)
    refused = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "status": "delivered"}, status=422)
    assert "status" in refused["fields"]
    assert opened(desk)["status"] == "in_bay"


def test_a_job_goes_from_inquiry_to_ready_by_deeds_each_with_who_and_when(desk: Desk) -> None:
    job = new_job(desk)
    assert (job["status"], job["deeds"]) == ("inquiry", [])
    assert can(job) == {"arrive", "start", "cancel", "no_show"}
    for deed, state in (("arrive", "arrived"), ("start", "in_bay"), ("pause", "paused"), ("start", "in_bay"), ("finish", "ready")):  # fmt: skip
        job = done(desk, job, deed, **({"bay": "Bay 1"} if deed == "start" else {}))
        assert job["status"] == state
    assert job["bay"] == "Bay 1"
    assert [one["deed"] for one in job["deeds"]] == ["arrive", "start", "pause", "start", "finish"]
    assert {one["person"] for one in job["deeds"]} == {"Ines Varga"}


def test_a_step_back_is_a_leads_with_a_reason_and_stays_on_record(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    done(desk, job, "pause")
    refused = done(desk_of("tobi"), job, "step_back", status=403, reason="Too early.")
    assert refused["message"] == "Only a lead can do that. Ask them."
    assert done(desk, job, "step_back", status=422)["message"] == "Say why."
    back = done(desk, job, "step_back", reason="Paused by mistake.")
    assert back["status"] == "in_bay"
    assert [(one["deed"], one["reason"]) for one in back["deeds"][-2:]] == [
        ("pause", ""), ("step_back", "Paused by mistake."),
    ]  # fmt: skip


@pytest.mark.parametrize(("who", "deed"), [("nils", "cancel"), ("nils", "step_back"), ("sol", "start")])
def test_each_deed_has_its_people(desk: Desk, desk_of: Any, who: str, deed: str) -> None:
    job = opened(desk, LARKSPUR)
    told = done(desk_of(who), job, deed, status=403, reason="Why not.")
    assert told["code"] == "not_your_role"
    assert opened(desk, LARKSPUR)["status"] == "booked"


def test_a_canceled_job_leaves_board_and_day_and_comes_back(desk: Desk, database: Database) -> None:
    day = fill_day(database).isoformat()
    job = opened(desk, LARKSPUR)
    assert done(desk, job, "cancel", status=422)["fields"] == {"reason": "Cannot be empty."}
    gone = done(desk, job, "cancel", reason="Sold the car.")
    assert gone["status"] == "cancelled"
    board = desk.get("/board")
    shown = {one["id"] for part in ("in_bays", "next", "stuck") for one in board[part]}
    assert job["id"] not in shown
    assert job["id"] not in {one["job_id"] for one in desk.get(f"/days/{day}")["cars"]}
    assert done(desk, job, "step_back", reason="Kept it after all.")["status"] == "booked"
    assert job["id"] in {one["job_id"] for one in desk.get(f"/days/{day}")["cars"]}


def test_booking_and_taking_the_booking_back_are_deeds(desk: Desk) -> None:
    job = new_job(desk)
    sheet = desk.get(f"/jobs/{job['id']}/booking")
    start = (now() + timedelta(days=1)).replace(hour=15, minute=0)
    while start.weekday() != 2:
        start += timedelta(days=1)
    body = {"version": sheet["version"], "job_version": sheet["job_version"], "drop_off_at": f"{start.isoformat(timespec='minutes')}:00Z"}  # fmt: skip
    desk.do("PUT", f"/jobs/{job['id']}/booking", body)
    booked = desk.get(f"/jobs/{job['id']}")
    assert (booked["status"], [one["deed"] for one in booked["deeds"]]) == ("booked", ["book"])
    version = desk.get(f"/jobs/{job['id']}/booking")["version"]
    desk.do("POST", f"/jobs/{job['id']}/booking/remove", {"version": version})
    free = desk.get(f"/jobs/{job['id']}")
    assert (free["status"], [one["deed"] for one in free["deeds"]]) == ("inquiry", ["book", "unbook"])


def test_a_car_is_delivered_at_handover_and_booked_on_the_day_sheet_alone(desk: Desk) -> None:
    job = opened(desk)
    assert done(desk, job, "deliver", status=422)["message"] == "That is done at Handover."
    assert done(desk, job, "book", status=422)["message"] == "That is done on the day sheet."
    assert "deliver" not in can(opened(desk))


def test_two_who_do_different_things_at_once_are_told(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    done(desk, job, "pause")
    late = desk_of("tobi").do(
        "POST", f"/jobs/{job['id']}/deeds", {"version": job["version"], "deed": "start"}, status=409
    )
    assert late["code"] == "stale_version"
    assert done(desk, job, "pause", status=422)["message"].startswith("This job is paused.")


def test_a_stuck_job_can_still_be_canceled(desk: Desk, database: Database) -> None:
    job = opened(desk, LARKSPUR)
    with database.session(write=True) as session:
        session.execute(text("UPDATE job SET facts = json_set(facts, '$.states', json('[\"QQ\"]')) WHERE id = :id"), {"id": job["id"]})  # fmt: skip
    stuck = desk.get(f"/jobs/{job['id']}")
    assert stuck["stuck"]
    assert "cancel" in can(stuck)
    assert done(desk, job, "cancel", reason="No such state.")["status"] == "cancelled"


@pytest.mark.parametrize("statement", ["UPDATE deed SET state = 'delivered'", "DELETE FROM deed"])
def test_deeds_are_never_changed(database: Database, statement: str) -> None:
    with pytest.raises(DatabaseError, match="append-only"), database.session(write=True) as session:
        session.execute(text(statement))

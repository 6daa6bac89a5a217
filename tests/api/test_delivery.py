"""A car goes when all that was ordered is made; what a lead lets go; spoilt pieces of which nobody booked the film."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from sqlalchemy import update

from elumbra.storage.database import Database
from elumbra.storage.kept_tables import LookRow
from tests.api.conftest import Desk
from tests.api.test_bay import again, bay, happened, run_of, send, ticked
from tests.api.test_handover import (
    accepted,
    begin_ready,
    handover,
    named,
    offered,
    owned,
    paper,
    ready_file,
    sign,
    text_of,
)
from tests.api.test_jobs import opened, window_of
from tests.api.test_knife import balance, cut, planned
from tests.api.test_look import clean, fitted, metered
from tests.api.test_rack_and_layouts import live

__all__ = ["live", "ready_file"]


def holds(desk: Desk, job: Any, label: str = "") -> list[str]:
    """What keeps the car here; of one window, without its name."""
    words = [one["words"] for one in handover(desk, job)["held"]]
    return [one.removeprefix(f"{label}: ") for one in words if one.startswith(label)]


def let_go(desk: Desk, job: Any, *labels: str, reason: str = "Wants the car back.", status: int = 200) -> Any:
    fresh = again(desk, job)
    body = [
        {"window_id": one["id"], "version": one["version"], "reason": reason}
        for one in (window_of(fresh, label) for label in labels)
    ]
    return desk.do("POST", f"/jobs/{job['id']}/handover/let-go", {"windows": body}, status=status)


def test_a_car_on_which_nothing_was_cut_or_begun_stays_here(desk: Desk) -> None:
    job = opened(desk)
    told = holds(desk, job)
    for window in job["windows"]:
        if window["film_id"]:
            assert f"{window['label']}: its film is not booked as cut, and not on yet" in told
    refused = sign(desk, job, status=422)
    assert refused["message"].startswith("The car cannot go yet. ")
    assert again(desk, job)["status"] != "delivered"
    assert "No film" in text_of(paper(desk, job, "record")), "nothing is on the car, whatever was chosen"


def test_each_step_of_the_work_lets_go_of_its_own_hold(live: Desk, database: Database) -> None:
    job = opened(live)
    cut(live, job)
    assert holds(live, job, "Driver rear") == ["no film on yet"]
    rear = run_of(bay(live, job), "Driver rear")
    making = [step["key"] for step in rear["steps"] if step["phase"] not in ("put_back", "close")]
    send(live, job, happened("tick", window_id=rear["window_id"], steps=making[:1], film=rear["film"], level="step"))
    following = run_of(bay(live, job), "Driver rear")["steps"][1]["say"]
    assert holds(live, job, "Driver rear") == [f"work not finished, next: {following}"]
    send(live, job, happened("tick", window_id=rear["window_id"], steps=making, film=rear["film"], level="step"))
    assert "not looked over at the end" in holds(live, job, "Driver rear")
    clean(live, job, "Driver rear")
    assert not [one for one in holds(live, job, "Driver rear") if "look" in one or "work" in one]
    # Worked on once more after the look, a minute later: looked at once more.
    with database.session(write=True) as session:
        session.execute(update(LookRow).values(at=datetime.now(UTC) - timedelta(minutes=1)))
    wrong = happened("wrong", window_id=rear["window_id"], what="hair", spoilt=False, step=making[-1])
    send(live, job, wrong)
    assert any(one.startswith("work not finished") for one in holds(live, job, "Driver rear"))
    send(live, job, ticked(run_of(bay(live, job), "Driver rear")))
    assert "looked over before its last work: look at it again" in holds(live, job, "Driver rear")
    assert "the car may go" not in live.get(f"/jobs/{job['id']}/look")["headline"]


@begin_ready
def test_two_touches_on_clean_do_not_hand_over_what_was_taken_back(desk: Desk) -> None:
    job = opened(desk)
    assert holds(desk, job) == []
    cutting = job["cuttings"][-1]
    desk.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    assert holds(desk, job, "Driver front") == ["its film was never booked as cut"]
    sign(desk, job, status=422)


@pytest.fixture
def half_done(live: Desk) -> Any:
    """A car that is ordered and cut; its fronts are on, looked over and metered, the rest is not begun."""
    named(live)
    job = opened(live)
    offered(live, job)
    accepted(live, job)
    cut(live, job)
    owned(live, job)
    fitted(live, opened(live))
    for label in ("Driver front", "Passenger front"):
        clean(live, job, label)
        metered(live, job, label, 33.0)
    back = [run for run in bay(live, job)["runs"] if run["window_id"] and "front" not in run["label"]]
    taken = [step["done"]["event_id"] for run in back for step in run["steps"] if step["done"]]
    windows = {step["done"]["event_id"]: run["window_id"] for run in back for step in run["steps"] if step["done"]}
    undone = dict.fromkeys(taken)
    send(live, job, *(happened("undo", window_id=windows[one], event=one) for one in undone))
    return again(live, job)


REST = ("Driver rear", "Passenger rear", "Back glass")


def test_a_lead_lets_the_rest_go_with_a_reason_and_the_customer_signs_for_the_new_price(
    live: Desk, half_done: Any, desk_of: Any, database: Database
) -> None:
    job = half_done
    before = live.get(f"/jobs/{job['id']}/quote")
    rolls = {window_of(job, label)["cut"]["roll"] for label in REST}
    used = {label: balance(database, label) for label in rolls}
    assert {one["may_be_let_go"] for one in handover(live, job)["held"]} == {True}
    assert let_go(desk_of("tobi"), job, *REST, status=403)["code"] == "not_your_role"
    assert let_go(live, job, *REST, reason="  ", status=422)["fields"]
    assert "nothing that could be let go" in let_go(live, job, "Driver front", status=422)["message"]
    found = let_go(live, job, *REST)
    assert [one["words"] for one in found["let_go"]] == [
        f"{label}, Harbor 15: Wants the car back." for label in ("Driver rear", "Back glass", "Passenger rear")
    ]
    assert found["held"] == []
    quote = live.get(f"/jobs/{job['id']}/quote")
    newest = quote["versions"][0]
    assert newest["number"] == before["versions"][0]["number"] + 1
    gone = {line["window_id"] for line in before["lines"]} - {line["window_id"] for line in newest["lines"]}
    assert gone == {window_of(job, label)["id"] for label in REST}
    assert newest["total"] < before["total"]
    assert "Driver rear is left out: Wants the car back." in newest["note"]
    for label in rolls:
        after = balance(database, label)
        assert after["used"] > used[label]["used"], "what was cut for them is waste"
        assert sum(after.values()) == sum(used[label].values())
    assert found["accepts"] == f"version {newest['number']} of the quote, ${newest['total']:,.2f}"
    # One signature for the car and for its price.
    sign(live, job)
    assert live.get(f"/jobs/{job['id']}/quote")["accepted"] == newest["number"]
    record = text_of(paper(live, job, "record"))
    assert "2 windows filmed" in record
    assert "Left out" in record
    assert f"${newest['total']:,.2f}" in text_of(paper(live, job, "invoice"))


def test_a_car_from_which_everything_is_let_go_is_canceled_instead(live: Desk) -> None:
    job = opened(live)
    offered(live, job)
    filmed = [window["label"] for window in job["windows"] if window["film_id"]]
    told = let_go(live, job, *filmed, status=422)
    assert "Cancel the job instead" in told["message"]
    assert [window["film_id"] for window in again(live, job)["windows"]] == [w["film_id"] for w in job["windows"]]


def test_a_piece_spoilt_before_it_was_booked_asks_what_it_was(live: Desk, database: Database) -> None:
    job = opened(live)
    window = window_of(job, "Driver rear")
    torn = happened("wrong", window_id=window["id"], what="torn", spoilt=True)
    found = send(live, job, torn)
    assert run_of(found, "Driver rear")["scrap"] == [torn["id"]]
    assert "1 piece to be cut again" in found["headline"]
    asked = "a piece is scrap that nobody booked: book what was cut, or say that no film was used"
    assert asked in holds(live, job, "Driver rear")
    # Booked now: the torn piece leaves the rack as waste, and the window is cut once more.
    cut(live, job)
    assert run_of(bay(live, job), "Driver rear")["scrap"] == []
    fresh = again(live, job)
    assert window_of(fresh, "Driver rear")["cut"] is None
    roll = window_of(fresh, "Passenger rear")["cut"]["roll"]
    wasted = balance(database, roll)["waste"]
    plan = planned(live, fresh)["plan"]
    assert {piece["window_id"] for film in plan["films"] for piece in film["pieces"]} == {window["id"]}
    cut(live, fresh)
    assert window_of(again(live, job), "Driver rear")["cut"] is not None
    # Said by mistake after all: only what was really lost stays lost.
    send(live, job, happened("undo", window_id=window["id"], event=torn["id"]))
    assert balance(database, roll)["waste"] <= wasted


def test_the_list_of_film_used_is_the_ledgers_own(live: Desk, database: Database) -> None:
    def used() -> dict[str, float]:
        lines = [one for one in live.get("/rack/used")["lines"] if one["job_id"] == job["id"]]
        return {name: sum(one[name] for one in lines) for name in ("taken_mm", "used_mm", "waste_mm")}

    def by_movements(kinds: tuple[str, ...]) -> float:
        return sum(-balance(database, roll).get(kind, 0) for roll in rolls for kind in kinds) * 0.0125

    job = opened(live)
    cut(live, job)
    rolls = {window["cut"]["roll"] for window in again(live, job)["windows"] if window["cut"]}
    before = used()
    rear = window_of(again(live, job), "Driver rear")
    send(live, job, happened("wrong", window_id=rear["id"], what="torn", spoilt=True))
    after = used()
    assert after["taken_mm"] == pytest.approx(before["taken_mm"])
    assert after["waste_mm"] > before["waste_mm"], "a spoilt piece is waste on every screen"
    assert after["used_mm"] == pytest.approx(by_movements(("used",)))
    assert after["taken_mm"] == pytest.approx(by_movements(("used", "kept", "waste")))
    cutting = again(live, job)["cuttings"][-1]
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    assert used() == {"taken_mm": 0, "used_mm": 0, "waste_mm": 0}


def test_a_spoilt_piece_that_was_no_film_of_the_rack_is_said_to_be_so(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    window = window_of(job, "Driver rear")
    torn = happened("wrong", window_id=window["id"], what="torn", spoilt=True)
    send(desk, job, torn)
    no_film = happened("no_film", window_id=window["id"], event=torn["id"])
    refused = send(desk_of("nils"), job, no_film)["refused"]
    assert "is learning" in refused[0]["why"]
    found = send(desk, job, happened("no_film", window_id=window["id"], event=torn["id"]))
    assert run_of(found, "Driver rear")["scrap"] == []
    only_at_handover = send(desk, job, happened("let_go", window_id=window["id"], reason="No."))["refused"]
    assert only_at_handover[0]["why"] == "This is said at Handover."

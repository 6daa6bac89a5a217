"""The bay through the API: runs, events kept once, lead's reasons, mishaps to the ledger, schools, thermometer, card."""

from __future__ import annotations

import io
import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import pytest
from pypdf import PdfReader

from elumbra.simulators.thermometer import Thermometer, make_server
from elumbra.storage.database import Database
from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, window_of
from tests.api.test_knife import balance, cut, planned
from tests.api.test_rack_and_layouts import live
from tests.api.test_rack_ledger import again

__all__ = ["live"]
SUV = "Morrow SUV, fronts to match"


def bay(desk: Desk, job: Any, **query: str) -> Any:
    return desk.get(f"/jobs/{job['id']}/bay?" + "&".join(f"{name}={value}" for name, value in query.items()))


def run_of(found: Any, name: str) -> Any:
    return next(run for run in found["runs"] if name in (run["name"], run["label"]) and not run["strip"])


def happened(kind: str, **over: Any) -> dict[str, Any]:
    return {"id": uuid4().hex, "kind": kind, "happened_at": datetime.now(UTC).isoformat(), **over}


def send(desk: Desk, job: Any, *events: dict[str, Any], sent_at: datetime | None = None, status: int = 200) -> Any:
    body = {"sent_at": (sent_at or datetime.now(UTC)).isoformat(), "events": list(events)}
    return desk.do("POST", f"/jobs/{job['id']}/bay/events", body, status=status)


def ticked(run: Any, count: int | None = None, **over: Any) -> dict[str, Any]:
    keys = [step["key"] for step in run["steps"] if step["done"] is None]
    return happened("tick", window_id=run["window_id"], steps=keys[:count], film=run["film"], level="step", **over)


def test_a_car_has_a_run_for_every_window_with_film(desk: Desk) -> None:
    job = opened(desk)
    found = bay(desk, job)
    filmed = [window["id"] for window in job["windows"] if window["film_id"]]
    assert {run["name"] for run in found["runs"]} == {"start", "end", *filmed}
    assert found["order"][0]["why"].startswith("Back glass first")
    assert found["headline"].startswith("5 of 5 windows to do, about ")
    back = run_of(found, "Back glass")
    said = [step["say"] for step in back["steps"]]
    assert any(words.startswith("Press the H: cross line 14 1/4 in up") for words in said), said
    assert all("{" not in words for words in said)
    metric = run_of(bay(desk, job, unit="mm"), "Back glass")
    assert any("cross line 362 mm up" in step["say"] for step in metric["steps"])
    assert [key for block in back["blocks"] for key in block["keys"]] == [step["key"] for step in back["steps"]]


def test_what_happened_is_kept_once_however_often_and_late_it_is_sent(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver rear")
    first, second = ticked(run, 3), ticked(run, 5)
    send(desk, job, second)
    for _ in range(2):
        found = send(desk, job, first, second)
    now = run_of(found, "Driver rear")
    assert [bool(step["done"]) for step in now["steps"][:6]] == [True] * 5 + [False]
    assert now["next"] == now["steps"][5]["key"]
    undone = send(desk, job, happened("undo", window_id=run["window_id"], event=second["id"]))
    assert run_of(undone, "Driver rear")["next"] == now["steps"][3]["key"]


def test_a_tablet_with_a_wrong_clock_is_set_right(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Back glass")
    keys = [step["key"] for step in run["steps"]]
    wait = keys.index("sheet_dry")
    off = timedelta(hours=-7)
    wrong_now = datetime.now(UTC) + off
    event = happened("tick", window_id=run["window_id"], steps=keys[: wait + 1], film=run["film"])
    event["happened_at"] = (wrong_now - timedelta(minutes=1)).isoformat()
    found = run_of(send(desk, job, event, sent_at=wrong_now), "Back glass")
    ready = datetime.fromisoformat(found["waits_until"])
    # Dried for six minutes, of which one has passed, whatever the tablet's clock says.
    assert timedelta(minutes=4) < ready - datetime.now(UTC) < timedelta(minutes=6)
    assert found["waits_for"] == "Let it dry fully"
    for year in ("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00"):
        odd = ticked(run_of(bay(desk, job), "Passenger front"), 1) | {"happened_at": year}
        body = {"sent_at": year, "events": [odd]}
        desk.do("POST", f"/jobs/{job['id']}/bay/events", body)
    future = ticked(run_of(bay(desk, job), "Driver front"), 1)
    future["happened_at"] = (datetime.now(UTC) + timedelta(days=90)).isoformat()
    done = run_of(send(desk, job, future), "Driver front")["steps"][0]["done"]
    assert datetime.fromisoformat(done["at"]) <= datetime.now(UTC)


def test_what_cannot_be_is_refused_by_itself_and_the_rest_is_kept(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver front")
    good = ticked(run, 1)
    bad = [
        happened("tick", window_id=run["window_id"]),
        happened("tick", window_id="nobody", steps=["x"]),
        happened("wrong", window_id=run["window_id"], what="bored"),
        happened("go_on", reason=" ") | {"reason": ""},
        happened("acknowledged"),
    ]
    found = send(desk, job, *bad, good)
    assert run_of(found, "Driver front")["steps"][0]["done"]["event_id"] == good["id"]
    why = {one["id"]: one["why"] for one in found["refused"]}
    assert why[bad[0]["id"]] == "Nothing is said of its steps."
    assert why[bad[1]["id"]] == "That window is not of this car."
    assert why[bad[2]["id"]] == "“bored” is none of the things that can go wrong."
    assert why[bad[3]["id"]] == "Nothing is said of its reason."
    assert why[bad[4]["id"]] == "This is said at Strip-off."
    for body in ({"events": []}, {"events": [good | {"id": "x"}]}, {"events": [good | {"hue": 1}]}):
        desk.do("POST", f"/jobs/{job['id']}/bay/events", {"sent_at": good["happened_at"], **body}, status=422)
    desk.do("POST", "/jobs/nobody/bay/events", {"sent_at": good["happened_at"], "events": [good]}, status=404)


def test_two_people_on_one_car_and_a_step_taken_twice(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver rear")
    send(desk, job, happened("take", window_id=run["window_id"]), ticked(run, 2))
    desk.sign_in("tobi")
    both = run_of(send(desk, job, ticked(run, 4)), "Driver rear")
    assert both["taken_by"] == "Ines Varga"
    assert (both["steps"][0]["done"]["person"], both["steps"][0]["done"]["also"]) == ("Ines Varga", ["Tobi Lund"])
    assert both["steps"][3]["done"]["person"] == "Tobi Lund"
    paused = run_of(send(desk, job, happened("pause", window_id=run["window_id"])), "Driver rear")
    assert (paused["paused"], paused["paused_by"]) == (True, "Tobi Lund")
    assert paused["next"] == both["steps"][4]["key"]


def test_only_a_lead_goes_on_in_the_cold_and_closes_a_hatch_early(desk: Desk) -> None:
    job = opened(desk, SUV)
    cold = send(desk, job, happened("conditions", glass_c=1.0, shop_c=12.0, humidity=0.5))
    assert cold["day"]["stop"].startswith("Too cold: 34 °F (1 °C) at the glass")
    desk.sign_in("tobi")
    reason = happened("go_on", reason="Heaters are on"), happened("hatch_early", reason="Door must shut")
    refused = send(desk, job, *reason)
    assert [one["why"] for one in refused["refused"]] == ["Tobi Lund works as installer; this needs the lead."] * 2
    assert refused["day"]["go_on"] == ""
    end = happened("tick", run="end", steps=["hatch_down"])
    shut = send(desk, job, end)
    assert shut["hatch_held"]
    assert shut["refused"][0]["why"].startswith("The hatch stays open until the last window is closed. Still open: ")
    desk.sign_in("ines")
    given = send(
        desk, job, happened("go_on", reason="Heaters are on"), happened("hatch_early", reason="Door must shut")
    )
    assert given["day"]["go_on"] == "Heaters are on"
    assert not given["hatch_held"]
    colder = send(desk, job, happened("conditions", glass_c=-3.0, shop_c=12.0, humidity=0.5))
    assert colder["day"]["go_on"] == "", "it was said of another day"
    closed = send(desk, job, happened("tick", run="end", steps=["hatch_down"]))
    assert run_of(closed, "end")["steps"][0]["done"]["person"] == "Ines Varga"


def test_the_day_changes_dose_and_cure(desk: Desk) -> None:
    job = opened(desk)
    assert bay(desk, job)["day"]["soap"] == "8 strokes (1.0 ml/l)"
    hot = send(desk, job, happened("conditions", glass_c=34.0, shop_c=31.0, humidity=0.8, outside_low_c=20.0))["day"]
    assert (hot["soap_ml_per_l"], hot["cure_days"], hot["area"]) == (2.5, 3, "half a pane at a time")
    assert run_of(bay(desk, job), "start")["steps"][-4]["say"].startswith("Mix a richer one for cleaning: ")


def test_everything_taken_apart_is_put_back_before_the_car_is_ready(desk: Desk) -> None:
    job = opened(desk)
    window = window_of(job, "Driver front")
    job = patch(desk, window, findings={"weather_strip": "easy"})
    run = run_of(bay(desk, job), "Driver front")
    keys = [step["key"] for step in run["steps"]]
    found = send(desk, job, ticked(run, keys.index("strip_out") + 1))
    assert {"label": "Driver front", "thing": "weather strip"} in found["apart"]
    path, body = f"/jobs/{job['id']}/deeds", {"version": again(desk, job)["version"], "deed": "finish"}
    refused = desk.do("POST", path, body, status=422)
    assert "weather strip (Driver front)" in refused["message"]
    assert refused["message"].startswith("Not put back yet: ")
    send(desk, job, ticked(run_of(bay(desk, job), "Driver front")))
    desk.do("POST", path, body | {"version": again(desk, job)["version"]})


def test_a_spoilt_piece_is_waste_with_its_reason_and_is_cut_again(live: Desk, database: Database) -> None:
    job = opened(live)
    cut(live, job)
    window = window_of(again(live, job), "Driver rear")
    label = window["cut"]["roll"]
    before = balance(database, label)
    wrong = happened("wrong", window_id=window["id"], what="creased", spoilt=True, step="door_bow", note="corner")
    for _ in range(2):
        found = send(live, job, wrong)
    after = balance(database, label)
    lost = after["waste"] - before["waste"]
    assert lost < 0
    assert after["used"] - before["used"] == -lost, "what was used is waste; nothing else moved"
    assert sum(after.values()) == sum(before.values())
    run = run_of(found, "Driver rear")
    assert [step["key"] for step in run["steps"] if step["again"]]
    told = live.get(f"/stock/{stock_id(live, label)}")
    assert any("creased: corner" in one["note"] for one in told["movements"])
    fresh = again(live, job)
    assert window_of(fresh, "Driver rear")["cut"] is None
    plan = planned(live, fresh)["plan"]
    again_cut = {piece["window_id"] for film in plan["films"] for piece in film["pieces"]}
    assert again_cut == {window["id"]}, "the rest is not cut twice"
    undone = send(live, job, happened("undo", window_id=window["id"], event=wrong["id"]))
    assert not any(step["again"] for step in run_of(undone, "Driver rear")["steps"])
    assert balance(database, label) == before, "said by mistake: as if it had not been said"
    assert window_of(again(live, job), "Driver rear")["cut"]["roll"] == label
    send(live, job, happened("wrong", window_id=window["id"], what="torn", spoilt=True))
    fresh = again(live, job)
    # Taken back as a whole, the day's cut leaves the rack as it was.
    cutting = fresh["cuttings"][-1]
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    assert balance(database, label)["used"] == 0
    assert balance(database, label)["waste"] == 0


def stock_id(desk: Desk, label: str) -> str:
    rack = desk.get("/rack")
    return next(one["id"] for one in rack["stock"] if one["label"] == label)


def test_a_fault_of_a_double_cut_opens_on_its_twin_until_it_is_called_sound(desk: Desk) -> None:
    job = opened(desk)
    found = bay(desk, job)
    run, twin = run_of(found, "Driver rear"), run_of(found, "Passenger rear")
    assert (run["twin"], twin["twin"]) == ("Passenger rear", "Driver rear")
    wrong = happened("wrong", window_id=run["window_id"], what="short", spoilt=True, step=run["next"])
    other = run_of(send(desk, job, wrong), "Passenger rear")
    assert other["steps"][0]["say"].startswith("Its twin had the same")
    assert other["mishap"] == wrong["id"]
    sound = send(desk, job, happened("fine", window_id=twin["window_id"], event=wrong["id"]))
    assert not any(step["again"] for step in run_of(sound, "Passenger rear")["steps"])


def test_an_order_that_changes_changes_the_runs_and_loses_no_tick(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver front")
    send(desk, job, ticked(run))
    assert run_of(bay(desk, job), "Driver front")["done"]
    window = window_of(job, "Driver front")
    other = next(film["id"] for film in job["films"] if film["id"] != window["film_id"])
    job = patch(desk, window, film_id=other)
    changed = run_of(bay(desk, job), "Driver front")
    assert not changed["done"]
    assert changed["dropped"] > 0
    windshield = window_of(job, "Windshield")
    job = patch(desk, windshield, film_id=other, coverage="strip", readings={"strip_depth": {"typed": "5"}})
    more = bay(desk, job)
    assert any(step["say"].startswith("Mark its foot: 5 in") for step in run_of(more, "Windshield")["steps"])
    gone = patch(desk, window_of(job, "Back glass"), film_id=None)
    assert window_of(job, "Back glass")["id"] not in {run["name"] for run in bay(desk, gone)["runs"]}
    assert window_of(gone, "Driver front")["ticks"]["bay"] == "open"


def test_times_are_kept_corrected_and_replace_the_customary_ones(desk: Desk) -> None:
    job = opened(desk)
    start = datetime.now(UTC) - timedelta(hours=2)

    def at(minutes: float, event: dict[str, Any]) -> dict[str, Any]:
        return event | {"happened_at": (start + timedelta(minutes=minutes)).isoformat()}

    now = 0.0
    for label in ("Driver front", "Driver rear", "Passenger front", "Passenger rear"):
        run = run_of(bay(desk, job), label)
        block = next(block for block in run["blocks"] if block["phase"] == "inside_prep")
        before = [key for one in run["blocks"][: run["blocks"].index(block)] for key in one["keys"]]
        found = send(
            desk, job,
            at(now, happened("tick", window_id=run["window_id"], steps=before, level="already", film=run["film"])),
            at(now + 4, happened("tick", window_id=run["window_id"], steps=block["keys"], level="phase",
                                 film=run["film"])),
        )  # fmt: skip
        now += 10
    times = [one for one in found["times"] if one["words"] == "inside prep"]
    assert [one["minutes"] for one in times] == [4.0] * 4
    four = next(one for one in run_of(found, "Driver front")["blocks"] if one["phase"] == "inside_prep")
    assert four["own"] == 0, "too few"
    corrected = send(desk, job, happened("time", event=times[0]["event_id"], minutes=9.0))
    assert sorted(one["minutes"] for one in corrected["times"] if one["words"] == "inside prep")[-1] == 9.0


def test_schools_of_shop_and_person_change_steps_and_figures(desk: Desk) -> None:
    job = opened(desk)
    before = [step["key"] for step in run_of(bay(desk, job), "Driver rear")["steps"]]
    assert "door_front_first" in before
    schools = desk.get("/bay-schools")
    assert {one["name"] for one in schools["schools"]} >= {"s_enter", "s_soap", "s_top_edge"}
    body = {"schools": {"s_enter": "rear", "s_soap": "ml"}, "home": False, "version": 0}
    desk.do("PUT", "/bay-schools/shop", body)
    found = bay(desk, job)
    keys = [step["key"] for step in run_of(found, "Driver rear")["steps"]]
    assert ("door_rear_first" in keys, "door_front_first" in keys) == (True, False)
    assert found["day"]["soap"] == "11 ml (1.0 ml/l)"
    desk.do("PUT", "/bay-schools/own", {"schools": {"s_enter": "either"}, "learner": True, "version": 0})
    own = bay(desk, job)
    assert own["learner"]
    assert "door_either_first" in [step["key"] for step in run_of(own, "Driver rear")["steps"]]
    desk.do("PUT", "/bay-schools/shop", body, status=409)
    wrong = desk.do("PUT", "/bay-schools/shop", {**body, "schools": {"s_enter": "roof"}, "version": 1}, status=422)
    assert "“roof” is none of front, rear, either" in wrong["message"]
    desk.sign_in("tobi")
    desk.do("PUT", "/bay-schools/shop", {**body, "version": 1}, status=403)


def test_the_job_card_is_the_whole_run_on_paper(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver rear")
    send(desk, job, ticked(run, 2))
    for paper, width in (("letter", 612), ("a4", 595)):
        response = desk.call("GET", f"/jobs/{job['id']}/job-card.pdf?paper={paper}")
        pages = PdfReader(io.BytesIO(response.data)).pages
        assert round(float(pages[0].mediabox.width)) == width
        text = " ".join(" ".join(page.extract_text() for page in pages).split())
        for step in run["steps"]:
            assert " ".join(step["say"].split()) in text, step["say"]
        assert "Soap: 8 strokes (1.0 ml/l)" in text


@pytest.fixture
def thermometer() -> Iterator[tuple[str, Thermometer]]:
    told = Thermometer(glass=12.5, shop=18.0, humidity=61)
    server = make_server(0, told)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    yield f"127.0.0.1:{server.server_address[1]}", told
    server.shutdown()
    server.server_close()


def test_the_thermometer_is_read_and_its_faults_are_told(desk: Desk, thermometer: tuple[str, Thermometer]) -> None:
    address, told = thermometer
    found = desk.do("PUT", "/thermometer", {"address": address, "version": 0})
    assert (found["there"], found["glass_c"], found["shop_c"], found["humidity"]) == (True, 12.5, 18.0, 0.61)
    told.fault = "garbage"
    assert "which is no reading" in desk.get("/thermometer")["told"]
    told.fault, told.values["GLASS"] = "", 110.0
    assert "which no shop has" in desk.get("/thermometer")["told"]
    desk.do("PUT", "/thermometer", {"address": "nowhere", "version": 1}, status=422)
    desk.do("PUT", "/thermometer", {"address": "127.0.0.1:1", "version": 1})
    gone = desk.get("/thermometer")
    assert (gone["there"], gone["glass_c"]) == (False, None)
    assert "type the temperature" in gone["told"]


def test_a_closed_or_stuck_job_keeps_what_is_sent_late(desk: Desk) -> None:
    job = opened(desk)
    run = run_of(bay(desk, job), "Driver front")
    late = ticked(run, 2)
    body = {"version": job["version"], "deed": "cancel", "reason": "The customer sold the car."}
    desk.do("POST", f"/jobs/{job['id']}/deeds", body)
    assert run_of(send(desk, job, late), "Driver front")["steps"][1]["done"]["event_id"] == late["id"]

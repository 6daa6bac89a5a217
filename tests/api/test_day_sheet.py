"""The day sheet through the API: plans, decisions by hand, bookings, promises, rescue, calendar, print."""

from __future__ import annotations

import os
import subprocess
import sys
from datetime import UTC, date, datetime, timedelta
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import pytest

from elumbra.car.clock import DayClock
from elumbra.car.day import load_day
from elumbra.core.schedule import faults
from elumbra.demo_day import fill_day
from elumbra.documents.calendar import Appointment, CalendarError, calendar_file, parse_calendar
from elumbra.storage import tasks as queue
from elumbra.storage.database import Database
from elumbra.tasks.day_sheet import DAY_PLAN, PROBLEM, day_plans, problem_json, quick_plan
from tests.api.conftest import Desk, StandInTasks

ROOT = Path(__file__).resolve().parents[2]
MONDAY = datetime(2031, 3, 3, 12, 0, tzinfo=UTC)


@pytest.fixture
def day(database: Database) -> str:
    """The demo's cars booked for its next working day."""
    return fill_day(database).isoformat()


def test_a_sheet_is_whole_and_can_be_worked(database: Database, desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    assert len(sheet["cars"]) == 7
    assert {one["id"] for one in sheet["people"]} == {"ines", "tobi", "mara", "nils", "ruth"}
    assert sheet["headline"]
    with database.session(write=False) as session:
        made = load_day(session, date.fromisoformat(day))
    plan = quick_plan(made.problem, tries=4)
    assert faults(made.problem, plan.plan) == []
    assert {one["id"] for one in sheet["tasks"]} == {one.id for one in made.problem.tasks}
    booked = [one for one in sheet["cars"] if one["chance"] is not None]
    assert all(0 <= one["chance"] <= 1 for one in booked)
    assert len(booked) == 6


def test_a_better_plan_is_looked_for_in_the_solver_process_and_shown(
    database: Database, desk: Desk, day: str, tasks: StandInTasks
) -> None:
    before = desk.get(f"/days/{day}")
    asked = desk.do("POST", f"/days/{day}/plan")
    assert asked["task_id"]
    assert tasks.woken == 1
    with database.session(write=True) as session:
        record = queue.next_queued(session)
        assert record is not None
        assert record.kind == "day_sheet"
        problem = PROBLEM.validate_json(record.input)
    *_, best = day_plans(problem, list_seconds=0.3, seconds=1.0)
    assert faults(problem, best.plan) == []
    with database.session(write=True) as session:
        queue.record_step(session, record.id, result=DAY_PLAN.dump_json(best).decode(), finished=True)
    after = desk.get(f"/days/{day}")
    assert (after["overtime"], after["waiting"]) == (best.measure.overtime, best.measure.waiting)
    past = [max(0, best.plan.ready[car.id] - car.due) for car in problem.cars if car.due is not None]
    assert after["late"] == sum(past)
    assert before["tasks"]
    assert after["looked"]
    assert after["task_id"] is None


def test_a_day_is_the_same_text_in_every_process(database: Database, day: str) -> None:
    with database.session(write=False) as session:
        text = problem_json(load_day(session, date.fromisoformat(day)).problem)
    again = "import sys; from elumbra.tasks.day_sheet import *; print(problem_json(PROBLEM.validate_json(sys.stdin.read())))"
    for seed in ("1", "2"):
        done = subprocess.run(
            [sys.executable, "-c", again], input=text, capture_output=True, text=True, check=True,
            env=os.environ | {"PYTHONHASHSEED": seed, "PYTHONPATH": str(ROOT / "src")},
        )  # fmt: skip
        assert done.stdout.strip() == text, "a plan that was found is found again after a restart"


def test_what_is_put_by_hand_stays_and_is_let_go(desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    task = next(one for one in sheet["tasks"] if one["worker"] == "tobi" and one["start"] > 600)
    lock = {"task": task["id"], "worker": "mara", "start": task["start"] + 30}
    held = desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "locks": [lock]})
    moved = next(one for one in held["tasks"] if one["id"] == task["id"])
    assert (moved["worker"], moved["start"], moved["locked"]) == ("mara", task["start"] + 30, True)
    desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "locks": []}, status=409)
    free = desk.do("PUT", f"/days/{day}", {"version": held["version"], "free_all": True})
    assert not any(one["locked"] for one in free["tasks"])


def test_what_cannot_be_kept_by_hand_is_told_once_and_costs_no_car_its_place(desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    shrinks = [one for one in sheet["tasks"] if one["words"] == "shrink" and one["skill"] == "shrink_curved"]
    job = shrinks[0]["job_id"]
    locks = [{"task": one["id"], "worker": "nils", "start": one["start"]} for one in shrinks if one["job_id"] == job]
    held = desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "locks": locks})
    told = [one["why"] for one in held["cannot"] if one["job_id"] == job]
    assert any("Nils Brandt may not shrink strongly curved glass." in words for words in told)
    assert len(told) == len(set(told))
    assert {one["job_id"] for one in held["tasks"]} == {one["job_id"] for one in sheet["tasks"]}
    assert set(held["decided"]["by_hand"]) == {one["task"] for one in locks}


def test_somebody_away_damp_weather_no_sun_and_a_bay_by_hand_change_the_plan(desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    away = desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "away": {"tobi": "is ill"}})
    assert not [one for one in away["tasks"] if one["worker"] == "tobi" and one["start"] < 1440]
    assert next(one for one in away["people"] if one["id"] == "tobi")["away"] == "is ill"
    job = next(one for one in away["cars"] if one["status"] == "booked")
    put = desk.do("PUT", f"/days/{day}", {"version": away["version"], "bays": {job["job_id"]: "Bay 2"}, "damp": True})
    assert next(one for one in put["cars"] if one["job_id"] == job["job_id"])["bay"] == "Bay 2"
    waits = lambda one: sum(task["wait_until"] - task["end"] for task in one["tasks"])  # noqa: E731
    assert waits(put) > waits(away), "drying takes longer"
    body = {"version": put["version"], "bays": {job["job_id"]: "Bay 9"}}
    assert desk.do("PUT", f"/days/{day}", body, status=422)["message"] == "There is no bay “Bay 9”."
    body = {"version": put["version"], "away": {"ghost": "x"}}
    desk.do("PUT", f"/days/{day}", body, status=404)


def test_films_that_several_cars_take_are_cut_together(desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    film = sheet["together"][0]
    chosen = desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "together": [film["film_id"]]})
    whole = [one for one in chosen["tasks"] if one["id"] == f"together:{film['film_id']}"]
    assert len(whole) == 1
    assert whole[0]["words"] == f"cut blanks for {film['cars']} cars"
    benches = [one for one in sheet["tasks"] if one["id"].endswith(f":bench:{film['film_id']}")]
    saved = sum(one["end"] - one["start"] for one in benches) - (whole[0]["end"] - whole[0]["start"])
    assert saved == film["saves"]


def test_the_sheet_is_planned_anew_from_the_ticks_of_the_bay(desk: Desk, database: Database) -> None:
    now = datetime.now(UTC)
    today = DayClock(date(2000, 1, 1), desk.get("/shop-day")["zone"]).local_day(now).isoformat()
    sheet = desk.get(f"/days/{today}")
    car = next(one for one in sheet["cars"] if one["status"] == "in_bay")
    stamp = desk.get(f"/days/{today}/stamp")["stamp"]
    bay = desk.get(f"/jobs/{car['job_id']}/bay")
    run = next(one for one in bay["runs"] if one["next"])
    events = [
        {"id": f"tick-{i:08}", "kind": "tick", "happened_at": now.isoformat(), "window_id": run["window_id"],
         "steps": [step["key"]], "level": "step", "film": run["film"],
         "run": "strip" if run["strip"] else None if run["window_id"] else run["name"]}
        for i, step in enumerate(run["steps"][:4])
    ]  # fmt: skip
    desk.do("POST", f"/jobs/{car['job_id']}/bay/events", {"sent_at": now.isoformat(), "events": events})
    assert desk.get(f"/days/{today}/stamp")["stamp"] != stamp
    after = next(one for one in desk.get(f"/days/{today}")["cars"] if one["job_id"] == car["job_id"])
    assert after["work"] < car["work"]


def test_a_booking_is_kept_with_its_promise_and_taken_back(desk: Desk) -> None:
    job = next(one for one in desk.get("/jobs")["jobs"] if one["status"] == "booked")
    zone = ZoneInfo(desk.get("/shop-day")["zone"])
    comes = datetime(2031, 3, 3, 8, 30, tzinfo=zone)
    body = {
        "version": 0, "job_version": job["version"], "drop_off_at": comes.isoformat(),
        "promised_at": (comes + timedelta(hours=6)).isoformat(), "chance": 0.93,
        "pick_up_from": (comes + timedelta(hours=7)).isoformat(), "waits_here": True, "note": "key in the box",
    }  # fmt: skip
    booked = desk.do("PUT", f"/jobs/{job['id']}/booking", body)
    assert (booked["day"], booked["waits_here"], booked["note"]) == ("2031-03-03", True, "key in the box")
    assert [(one["chance"], one["person"]) for one in booked["promises"]] == [(0.93, "Ines Varga")]
    sheet = desk.get("/days/2031-03-03")
    assert [one["number"] for one in sheet["cars"]] == [job["number"]]
    assert sheet["cars"][0]["waits_here"]
    desk.do("PUT", f"/jobs/{job['id']}/booking", body, status=409)
    gone = desk.do("POST", f"/jobs/{job['id']}/booking/remove", {"version": booked["version"]})
    assert gone["day"] is None
    again = desk.do(
        "PUT", f"/jobs/{job['id']}/booking", body | {"version": gone["version"], "job_version": gone["job_version"]}
    )
    assert again["day"] == "2031-03-03"


@pytest.mark.parametrize(
    ("change", "field", "said"),
    [
        ({"promised": -1}, "promised_at", "A promise before the car is here. Promise a later time."),
        ({"comes": (2031, 3, 2, 9)}, "drop_off_at", "The shop is closed on Sunday 2031-03-02. Choose a day on which it is open."),
        ({"comes": (2031, 3, 3, 4)}, "drop_off_at", "The shop is open from 8:00 AM to 5:00 PM on that day."),
        ({"until": -1}, "pick_up_until", "The window ends before it begins."),
        ({"promised": 24 * 90}, "promised_at", "Two months after the car came: a time that nobody means."),
    ],
)  # fmt: skip
def test_impossible_times_are_refused_where_they_are_typed(
    desk: Desk, change: dict[str, Any], field: str, said: str
) -> None:
    job = next(one for one in desk.get("/jobs")["jobs"] if one["status"] == "booked")
    zone = ZoneInfo(desk.get("/shop-day")["zone"])
    comes = datetime(*change.get("comes", (2031, 3, 3, 9)), tzinfo=zone)  # type: ignore[misc]
    body = {
        "version": 0, "job_version": job["version"], "drop_off_at": comes.isoformat(),
        "promised_at": (comes + timedelta(hours=change.get("promised", 6))).isoformat(),
        "pick_up_from": (comes + timedelta(hours=7)).isoformat(),
        "pick_up_until": (comes + timedelta(hours=7 + change.get("until", 1))).isoformat(),
    }  # fmt: skip
    answer = desk.do("PUT", f"/jobs/{job['id']}/booking", body, status=422)
    assert answer["fields"][field] == said


def test_an_honest_time_is_found_and_breaks_no_other_promise(desk: Desk, day: str) -> None:
    job = next(one for one in desk.get("/jobs")["jobs"] if one["number"] == 1006)
    found = desk.get(f"/jobs/{job['id']}/promise")
    assert found["at"] is not None
    assert found["kept"] >= found["sure"] == 0.9
    assert found["endangers"] == []
    assert datetime.fromisoformat(found["at"]).minute % 15 == 0
    none = desk.do("POST", "/jobs", {"vehicle_label": "Empty", "body": "sedan", "states": ["TX"]}, status=201)
    guess = desk.get(f"/jobs/{none['id']}/promise")
    assert any("customary times" in one for one in guess["told"]), "nobody chose film yet: said, and estimated"


def test_what_would_save_a_promise_is_tried_for_real(desk: Desk, day: str) -> None:
    sheet = desk.get(f"/days/{day}")
    ill = desk.do("PUT", f"/days/{day}", {"version": sheet["version"], "away": {"tobi": "is ill", "mara": "is ill"}})
    assert ill["danger"], "two people less endanger promises"
    worst = ill["danger"][0]
    saved = desk.get(f"/days/{day}/rescue/{worst['job_id']}")
    assert saved["chance"] == pytest.approx(worst["chance"], abs=0.01)
    assert all(way["chance"] > saved["chance"] for way in saved["ways"])
    unpromised = next(one for one in ill["cars"] if one["due"] is None)
    desk.do("GET", f"/days/{day}/rescue/{unpromised['job_id']}", status=422)


def test_a_car_that_law_or_film_holds_back_waits_for_an_answer_and_stays_planned(desk: Desk, day: str) -> None:
    def waiting() -> dict[int, dict[str, Any]]:
        sheet = desk.get(f"/days/{day}")
        numbers = {one["job_id"]: one["number"] for one in sheet["cars"]}
        return {numbers[one["job_id"]]: one for one in sheet["waits"]}

    before = waiting()
    assert before[1002]["station"] == "shade"
    assert "Driver front: Too dark in Florida" in before[1002]["words"]
    assert before[1002]["words"].endswith("And 2 more windows.")
    assert before[1004]["station"] == "survey"  # readings that do not close
    assert {1003, 1009}.isdisjoint(before)  # old film that is still on is work, and planned
    job = next(one for one in desk.get("/jobs")["jobs"] if one["number"] == 1003)
    opened = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "states": ["NY"]})
    held = [one for one in opened["windows"] if one["held_at"] == "shade"]
    assert held
    now = waiting()[1003]
    assert (now["station"], now["window_id"]) == ("shade", held[0]["id"])
    assert f"{held[0]['label']}: " in now["words"]
    assert [task for task in desk.get(f"/days/{day}")["tasks"] if task["job_id"] == job["id"]]
    desk.do("PATCH", f"/jobs/{job['id']}", {"version": opened["version"], "states": job["states"]})
    assert 1003 not in waiting()


def test_one_stuck_car_is_told_and_breaks_nothing_else(desk: Desk, day: str, monkeypatch: pytest.MonkeyPatch) -> None:
    from elumbra.car import day as making
    from elumbra.core.errors import CoreError

    whole = making.assemble
    seen = []

    def stuck(document: Any, *rest: Any, **named: Any) -> Any:
        if not seen or seen[0] == document.job.title:
            seen.append(document.job.title)
            raise CoreError("its film is off file")
        return whole(document, *rest, **named)

    monkeypatch.setattr(making, "assemble", stuck)
    sheet = desk.get(f"/days/{day}")
    (out,) = [one for one in sheet["cars"] if one["stuck"]]
    assert out["told"] == "Stuck: its film is off file"
    assert len([one for one in sheet["cars"] if one["ready"] is not None]) == 6


def test_an_empty_day_a_closed_day_and_no_day(desk: Desk) -> None:
    assert desk.get("/days/2031-03-04")["headline"] == "No car is booked for this day"
    assert desk.do("POST", "/days/2031-03-04/plan", status=422)["message"].startswith("Nothing is left to plan")
    assert desk.do("GET", "/days/2031-02-30", status=422)["message"] == "“2031-02-30” is no day."
    desk.do("GET", "/days/yesterday", status=422)


def test_bays_hours_and_zone_of_the_shop(desk: Desk) -> None:
    before = desk.get("/shop-day")
    body = {name: before[name] for name in ("bays", "hours", "closed_days", "yard_places", "sun", "version")}
    said = desk.do("PUT", "/shop-day", body | {"zone": "America/Chicgo"}, status=422)
    assert said["message"] == "There is no time zone “America/Chicgo”. Did you mean America/Chicago?"
    twice = [*body["bays"], body["bays"][0]]
    assert "same name" in desk.do("PUT", "/shop-day", body | {"zone": "", "bays": twice}, status=422)["message"]
    kept = desk.do("PUT", "/shop-day", body | {"zone": "America/Chicago", "closed_days": ["2031-03-03"]})
    assert (kept["zone"], kept["closed_days"]) == ("America/Chicago", ["2031-03-03"])
    assert desk.get("/days/2031-03-03")["headline"] == "No car is booked for this day"


def test_the_change_to_summer_time_costs_an_hour_and_no_promise(database: Database, desk: Desk) -> None:
    """8 March 2026 has 23 hours in Chicago: eight in the morning is minute 420, and half past two still 2:30 PM."""
    clock = DayClock(date(2026, 3, 8), "America/Chicago")
    assert clock.wall(date(2026, 3, 8), "08:00") == 420
    assert clock.words(clock.wall(date(2026, 3, 8), "14:30")) == "2:30 PM"
    assert clock.minute(datetime(2026, 3, 8, 19, 30, tzinfo=UTC)) == clock.wall(date(2026, 3, 8), "14:30")
    back = DayClock(date(2026, 11, 1), "America/Chicago")
    assert back.wall(date(2026, 11, 1), "08:00") == 540
    assert back.moment(540) == datetime(2026, 11, 1, 14, 0, tzinfo=UTC)


def test_the_calendar_reads_back_equal_and_its_address_is_secret(desk: Desk, desk_of: Any, day: str) -> None:
    response = desk.call("GET", "/calendar.ics")
    found = parse_calendar(response.data)
    assert calendar_file(found) == response.data, "written, read and written again: the same bytes"
    assert {one.title.split()[0] for one in found} == {"1001", "1002", "1003", "1004", "1005", "1007", "1009"}
    nobody = desk_of(None)
    assert nobody.call("GET", "/calendar/guess.ics").status_code == 404
    path = desk.do("POST", "/shop-day/calendar")["calendar"].removeprefix("/api")
    assert nobody.call("GET", path).data == response.data
    desk.do("POST", "/shop-day/calendar")
    assert nobody.call("GET", path).status_code == 404, "the old address shows nothing any more"


def test_appointments_in_every_script_read_back_equal() -> None:
    at = datetime(2031, 3, 3, 14, 30, tzinfo=UTC)
    told = [
        Appointment("a@elumbra", "1001 Bäckerei; Öl, Ruß", at, at + timedelta(hours=3), "Ярослав", "line\none, two; three\\"),
        Appointment("b@elumbra", "日本語のクルマ " * 12, at, at + timedelta(minutes=5), "", "", 4),
    ]  # fmt: skip
    assert parse_calendar(calendar_file(told)) == told
    with pytest.raises(CalendarError):
        parse_calendar(b"not a calendar")


@pytest.mark.parametrize("paper", ["letter", "a4"])
def test_the_printed_day_names_every_car_person_and_time_zone(desk: Desk, day: str, paper: str) -> None:
    from io import BytesIO

    from pypdf import PdfReader

    sheet = desk.get(f"/days/{day}")
    response = desk.call("GET", f"/days/{day}/sheet.pdf?paper={paper}")
    reader = PdfReader(BytesIO(response.data))
    text = "\n".join(page.extract_text() for page in reader.pages)
    assert sheet["headline"] in text
    assert sheet["zone"] in text
    for car in sheet["cars"]:
        assert str(car["number"]) in text
    for hand in sheet["people"]:
        assert hand["name"] in text
    assert len(sheet["cars"]) <= 10
    assert len(reader.pages) == 1
    for task in sheet["tasks"]:  # what each does at each car is on the one page
        assert task["words"].split()[0] in text
    assert reader.metadata.title == f"Day sheet {sheet['title']}, times of {sheet['zone']}"  # type: ignore[union-attr]
    assert reader.trailer["/Root"]["/Lang"] == "en-US"


def test_what_is_short_is_short_by_the_day_its_car_comes(desk: Desk, day: str) -> None:
    least = next(one for one in desk.get("/starting-values")["values"] if one["name"] == "low_stock_mm")
    desk.do("PUT", "/starting-values/low_stock_mm", {"value": least["high"], "version": 0})
    lines = desk.get("/rack/purchase")["lines"]
    booked = {1001, 1002, 1003, 1004, 1005, 1007, 1009}
    told = [one for one in lines if set(one["jobs"]) & booked]
    assert told
    assert {one["by_day"] for one in told if set(one["jobs"]) <= booked} == {day}


def test_readings_taken_by_two_while_one_was_offline_are_told_with_both_values(desk_of: Any) -> None:
    tobi, mara = desk_of("tobi"), desk_of("mara")
    job = next(one for one in tobi.get("/jobs")["jobs"] if one["status"] == "in_bay")["id"]
    now = datetime.now(UTC)

    def read(who: Desk, name: str, minutes_ago: int, **value: float) -> dict[str, Any]:
        event = {
            "id": name,
            "kind": "conditions",
            "happened_at": (now - timedelta(minutes=minutes_ago)).isoformat(),
            **value,
        }
        body = {"sent_at": now.isoformat(), "events": [event]}
        found: dict[str, Any] = who.do("POST", f"/jobs/{job}/bay/events", body)
        return found

    assert read(mara, "mara-read-01", 5, glass_c=24.0)["told"] == []
    late = read(tobi, "tobi-read-01", 12, glass_c=20.0)
    assert late["told"] == ["glass: you said 68 °F (20 °C), Mara Quist 75 °F (24 °C). The later reading counts."]
    assert late["day"]["glass_c"] == 24.0
    assert read(tobi, "tobi-read-02", 1, glass_c=22.0)["told"] == [], "what is read after it is no conflict"


def test_two_cars_said_to_stand_in_one_bay_are_told_and_the_day_can_be_worked(database: Database, desk: Desk) -> None:
    here = [one for one in desk.get("/jobs")["jobs"] if one["status"] == "in_bay"]
    assert len(here) == 2
    desk.do("PATCH", f"/jobs/{here[0]['id']}", {"version": here[0]["version"], "bay": here[1]["bay"]})
    today = DayClock(date(2000, 1, 1), desk.get("/shop-day")["zone"]).local_day(datetime.now(UTC))
    sheet = desk.get(f"/days/{today.isoformat()}")
    assert any(f"is said to stand in {here[1]['bay']} as well" in one for one in sheet["told"])
    with database.session(write=False) as session:
        made = load_day(session, today)
    assert faults(made.problem, quick_plan(made.problem).plan) == []


def test_a_day_that_is_over_is_shown_and_not_planned(desk: Desk, day: str) -> None:
    long_ago = (date.fromisoformat(day) - timedelta(days=30)).isoformat()
    assert desk.get(f"/days/{long_ago}")["tasks"] == []
    job = next(one for one in desk.get("/jobs")["jobs"] if one["number"] == 1006)
    zone = ZoneInfo(desk.get("/shop-day")["zone"])
    comes = datetime.fromisoformat(f"{long_ago}T09:00").replace(tzinfo=zone)
    while comes.weekday() > 4:
        comes -= timedelta(days=1)
    body = {"version": 0, "job_version": job["version"], "drop_off_at": comes.isoformat()}
    desk.do("PUT", f"/jobs/{job['id']}/booking", body)
    sheet = desk.get(f"/days/{comes.date().isoformat()}")
    assert [one["told"] for one in sheet["cars"]] == ["The day is over."]
    assert sheet["tasks"] == []

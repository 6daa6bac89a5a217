"""Runs on the practice glass over the wire: each step once, nothing lost, other rules refused, who may see what."""

from __future__ import annotations

import base64
import json
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from elumbra.car.practice import STAGE, Stage, lesson_setup
from elumbra.core.practice import BY_NAME, COLUMNS, MOST_STEPS, ROWS, Do, shown
from elumbra.storage import data_files
from elumbra.storage.data_files import starting_values
from elumbra.storage.database import Database
from elumbra.storage.practice import forget_unfinished, strokes_of
from tests.api.conftest import Desk
from tests.effort import effort

DeskOf = Callable[[str | None], Desk]


def begun(desk: Desk, lesson: str = "rear_door", *, seed: int = 5) -> Any:
    return desk.do("POST", "/practice/runs", {"lesson": lesson, "seed": seed}, status=201)


def play(desk: Desk, run: str, after: int, until: int, *strokes: list[Any]) -> Any:
    body = {"after": after, "until": until, "strokes": list(strokes)}
    return desk.do("POST", f"/practice/runs/{run}/strokes", body)


def cells(text: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), dtype=np.uint8).reshape(ROWS, COLUMNS)


def test_six_lessons_are_offered_with_what_each_needs_and_where_to_begin(desk: Desk) -> None:
    home = desk.get("/practice")
    assert home["headline"] == "Begin with: A door, nearly flat"
    assert [lesson["word"] for lesson in home["lessons"]] == ["snap", "card", "card", "card", "hard", "hard"]
    assert all(len(lesson["outline"]) > 10 and lesson["mine"]["runs"] == 0 for lesson in home["lessons"])
    assert home["runs"] == []
    assert home["today"] is None
    assert any("does not slide" in words for words in home["simplified"])


def test_a_run_is_played_step_by_step_and_each_step_once(desk: Desk) -> None:
    run = begun(desk)
    assert run["frame"]["step"] == 0
    assert run["frame"]["hint"]["about"] == "wet"
    first = play(desk, run["id"], 0, 2, [0, "wet"], [1, "lay", "across"])
    assert (first["step"], first["taken"], first["way"]) == (2, True, "across")
    assert set(np.unique(cells(first["looks"]))) == {2}, "wet all over"
    again = play(desk, run["id"], 0, 2, [0, "wet"], [1, "lay", "across"])
    assert (again["step"], again["taken"]) == (2, False), "sent again: it stands where it stood"
    held = play(desk, run["id"], 2, 4, [2, "h", "across"])
    assert held["h_way"] == "across"
    assert (cells(held["looks"]) == 5).any()
    creased = play(desk, run["id"], 4, 8, [4, "card", 0, 215], [5, "card", 0, 215])
    assert [one["rule"] for one in creased["events"]] == ["shut_in"]
    assert creased["events"][0]["words"] == BY_NAME["shut_in"].words
    assert cells(creased["marks"]).any()


def test_a_run_goes_on_where_it_stood_after_the_server_forgot_all_it_held(desk: Desk, database: Database) -> None:
    run = begun(desk)
    play(desk, run["id"], 0, 30, [0, "wet"], [1, "lay", "across"], [2, "h", "across"])
    before = play(desk, run["id"], 30, 60, *[[30 + k, "glove", 40 * k - 400, 60] for k in range(20)])
    STAGE.__init__()  # type: ignore[misc]
    after = desk.get(f"/practice/runs/{run['id']}")["frame"]
    assert {**after, "taken": True} == before
    STAGE.__init__()  # type: ignore[misc]
    assert play(desk, run["id"], 60, 61)["step"] == 61


@pytest.mark.parametrize(
    ("body", "words"),
    [
        ({"after": 0, "until": 60, "strokes": []}, "A screen plays at most 50 steps at once: it slept, or its clock jumped. Go on here."),
        ({"after": 0, "until": 5, "strokes": [[3, "lift"], [2, "lift"]]}, "Stroke 2 is of step 2, and step 3 is past. Strokes come in order; take up the run from where it stands."),
        ({"after": 0, "until": 5, "strokes": [[7, "lift"]]}, "A stroke of step 7 lies outside of steps 0 to 4."),
        ({"after": 0, "until": 5, "strokes": [[1, "saw", 1, 1]]}, "Stroke 1: “saw” is nothing that a hand does here."),
        ({"after": 0, "until": 5, "strokes": [[1, "card", 1, 1]] * 9}, "Step 1 has more than 8 strokes: two hands do no more in a tenth."),
    ],
)  # fmt: skip
def test_bad_strokes_are_told_and_nothing_of_them_is_kept(desk: Desk, body: Any, words: str) -> None:
    run = begun(desk)
    refused = desk.do("POST", f"/practice/runs/{run['id']}/strokes", body, status=422)
    assert refused["message"] == words
    assert desk.get(f"/practice/runs/{run['id']}")["frame"]["step"] == 0
    assert play(desk, run["id"], 0, 1)["taken"]


def test_a_thousand_strokes_at_once_and_a_step_past_the_end_are_refused(desk: Desk) -> None:
    run = begun(desk)
    for body in (
        {"after": 0, "until": 50, "strokes": [[1, "card", 1, 1]] * 1000},
        {"after": 0, "until": MOST_STEPS + 1, "strokes": []},
        {"after": 0, "until": 4, "strokes": [[1, "card", "NaN", 1, 1, 1, 1, 1]]},
    ):
        assert desk.call("POST", f"/practice/runs/{run['id']}/strokes", body).status_code == 422


def _robot(desk: Desk, lesson: str = "door", *, seed: int = 5) -> Any:
    run = begun(desk, lesson, seed=seed)
    return run, desk.do("POST", f"/practice/runs/{run['id']}/shown", {}, status=201)


def test_the_robot_shows_the_same_pane_once_and_it_passes(desk: Desk) -> None:
    run, proof = _robot(desk)
    assert proof["by"] == "robot"
    assert proof["score"]["passed"]
    assert proof["score"]["headline"] == "Passed: it lies flat and nothing was ruined."
    again = desk.do("POST", f"/practice/runs/{run['id']}/shown", {}, status=201)
    assert again["id"] == proof["id"], "what was shown is not worked out twice"
    home = desk.get("/practice")
    assert home["lessons"][0]["mine"] == {"runs": 0, "best": None, "passes": 0}, "the robot's pass is nobody's"


def test_a_pass_by_hand_is_kept_with_its_reasons_and_the_next_lesson_is_named(desk: Desk) -> None:
    lesson = data_files.lessons()[0]
    run = begun(desk, lesson.key, seed=9)
    from elumbra.car.practice import board_for  # the very board that the server plays on

    done = shown(board_for(lesson_setup(lesson, starting_values())), seed=9, school=lesson.school)
    step = 0
    while step < done.run.step:
        end = min(step + 50, done.run.step)
        part = [stroke.row() for stroke in done.strokes if step <= stroke.step < end]
        frame = play(desk, run["id"], step, end, *part)
        step = frame["step"]
    assert frame["over"]
    score = desk.get(f"/practice/runs/{run['id']}")["score"]
    assert score["passed"]
    assert {part["name"] for part in score["parts"]} == {"flat", "damage", "order", "time", "glass"}
    assert score["points"] == sum(part["points"] for part in score["parts"])
    home = desk.get("/practice")
    assert home["lessons"][0]["mine"] == {"runs": 1, "best": score["points"], "passes": 1}
    assert home["headline"] == "Next: A rear door that bends both ways"
    assert home["runs"][0]["passed"]
    late = play(desk, run["id"], step, step + 1, [step, "card", 0, 0])
    assert not late["taken"], "after the look nothing is played"


def test_any_moment_is_seen_again_with_the_heat_until_then(desk: Desk) -> None:
    _, proof = _robot(desk)
    end = desk.get(f"/practice/runs/{proof['id']}/at?step={MOST_STEPS}")
    assert end["frame"]["over"]
    middle = desk.get(f"/practice/runs/{proof['id']}/at?step=250")
    assert middle["frame"]["step"] == 250
    assert (cells(middle["trace"]) <= cells(end["trace"])).all(), "the trace only grows"
    assert 2 * int(cells(end["trace"]).max()) in range(105, 186)
    assert all(240 <= row[0] < 250 for row in middle["hands"])
    assert middle["hands"]
    start = desk.get(f"/practice/runs/{proof['id']}/at?step=0")
    assert start["frame"]["step"] == 0
    assert desk.get(f"/practice/runs/{proof['id']}/at?step=250") == middle, "and the same again"


def test_a_run_travels_as_a_file_and_is_played_by_its_own_rules_or_refused(desk: Desk) -> None:
    _, proof = _robot(desk)
    response = desk.call("GET", f"/practice/runs/{proof['id']}/file")
    assert len(response.data) < 200_000
    content = json.loads(response.data)
    taken = desk.do("POST", "/practice/runs/read", content, status=201)
    assert taken["by"] == "file"
    assert taken["score"]["points"] == proof["score"]["points"], "the same strokes give the same end"
    other = desk.do("POST", "/practice/runs/read", {**content, "rules": "0/1999"}, status=422)
    assert other["message"].startswith("This run was made by other rules (0/1999; now ")
    for change in (
        {"setup": {}}, {"setup": {**content["setup"], "limit": 7}}, {"setup": {**content["setup"], "changed": {"x": "y"}}},
        {"setup": {**content["setup"], "mirrored": "no"}}, {"setup": {**content["setup"], "changed": [1]}}, {"setup": {**content["setup"], "pane": {"x": 1}}},
        {"strokes": [[5, "lift"], [1, "lift"]]}, {"strokes": [[0, "gun", 1, 1, 1, 1e400]]},
    ):  # fmt: skip
        refused = desk.call("POST", "/practice/runs/read", data=json.dumps({**content, **change}).encode())
        assert refused.status_code in (400, 415, 422)


def test_a_run_of_other_rules_keeps_its_score_and_is_not_played(desk: Desk, database: Database) -> None:
    run = begun(desk)
    with database.session(write=True) as session:
        session.connection().exec_driver_sql("UPDATE practice_run SET rules = '0/old'")
    shown_ = desk.get(f"/practice/runs/{run['id']}")
    assert shown_["frame"] is None
    assert shown_["stuck"].startswith("This run was made by other rules (0/old; now ")
    body = {"after": 0, "until": 1, "strokes": []}
    assert desk.do("POST", f"/practice/runs/{run['id']}/strokes", body, status=422)["message"] == shown_["stuck"]
    assert desk.call("GET", f"/practice/runs/{run['id']}/at?step=0").status_code == 422
    assert len(desk.get("/practice")["runs"]) == 1, "and the list stands"


def test_practise_a_window_of_a_job_and_a_pane_of_the_shelf(desk: Desk) -> None:
    jobs = desk.get("/jobs")["jobs"]
    window = next(
        window["id"] for job in jobs for window in desk.get(f"/jobs/{job['id']}")["windows"]
        if window["label"] == "Back glass"
    )  # fmt: skip
    run = desk.do("POST", "/practice/runs", {"window_id": window}, status=201)
    assert run["title"] == "Back glass"
    heat = desk.get(f"/windows/{window}/shrink")["view"]
    if heat["limit_percent"]:
        assert run["word"] == heat["word"], "Heat and the practice glass say one word of one pane"
    cars = desk.get("/shelf")["cars"]
    mirrored = 0
    for car in cars[: effort(3, 12)]:
        for pane in desk.get(f"/shelf/cars/{car['id']}")["panes"][:3]:
            response = desk.call("POST", "/practice/runs", {"pane_id": pane["id"]})
            assert response.status_code in (201, 422), response.text
            if response.status_code == 422:
                assert response.json["message"]
            else:
                mirrored += response.json["title"].startswith("Passenger")
    assert mirrored or len(cars[: effort(3, 12)]) < 12


def test_the_school_is_the_one_that_heat_advises_unless_another_is_asked_for(desk: Desk) -> None:
    jobs = desk.get("/jobs")["jobs"]
    seen = set()
    for job in jobs[: effort(1, 4)]:
        for window in desk.get(f"/jobs/{job['id']}")["windows"]:
            run = desk.call("POST", "/practice/runs", {"window_id": window["id"]})
            view = desk.get(f"/windows/{window['id']}/shrink")["view"]
            if run.status_code != 201 or view is None or window["coverage"] == "strip":
                continue
            words = [one["words"] for one in view["school"]]
            dry = any(one.startswith("dry") for one in words)
            if run.json["word"] == view["word"] and view["part"] == 0:
                assert (run.json["school"] == "dry") == (dry or len(words) == 1), (window["label"], words)
                seen.add(run.json["school"])
            asked = desk.do("POST", "/practice/runs", {"window_id": window["id"], "school": "wet"}, status=201)
            assert asked["school"] == "wet"
    assert seen


def test_one_pane_is_named_and_it_must_be_there(desk: Desk) -> None:
    told = desk.do("POST", "/practice/runs", {}, status=422)
    assert told["message"] == "Name one pane to practise on: a lesson, a window of a job, or a pane of the shelf."
    assert desk.call("POST", "/practice/runs", {"lesson": "door", "pane_id": "x"}).status_code == 422
    for body in ({"lesson": "nothing"}, {"window_id": "nothing"}, {"pane_id": "nothing"}):
        assert desk.do("POST", "/practice/runs", body, status=404)["code"] == "not_found"
    assert desk.call("GET", "/practice/runs/nothing").status_code == 404


def test_a_run_is_seen_by_who_played_it_and_by_the_lead_and_played_by_him_alone(desk_of: DeskOf) -> None:
    nils, tobi, ines = desk_of("nils"), desk_of("tobi"), desk_of("ines")
    run = begun(nils)
    assert tobi.do("GET", f"/practice/runs/{run['id']}", status=403)["code"] == "not_your_role"
    seen = ines.get(f"/practice/runs/{run['id']}")
    assert not seen["mine"]
    assert seen["person"].startswith("Nils")
    body = {"after": 0, "until": 1, "strokes": []}
    told = ines.do("POST", f"/practice/runs/{run['id']}/strokes", body, status=403)
    assert told["message"] == "Only who began this run plays it."


def test_the_lead_sees_who_may_shrink_what_alone_and_says_so(desk_of: DeskOf) -> None:
    nils, ines = desk_of("nils"), desk_of("ines")
    assert nils.get("/practice")["learners"] == []
    home = ines.get("/practice")
    assert {one["person_id"] for one in home["learners"]} >= {"nils", "tobi", "mara"}
    body = {"words": ["card", "snap"], "version": home["alone_version"]}
    assert nils.call("PUT", "/practice/people/nils/alone", body).status_code == 403
    said = ines.do("PUT", "/practice/people/nils/alone", body)
    assert next(one for one in said["learners"] if one["person_id"] == "nils")["alone"] == ["snap", "card"]
    assert nils.get("/practice")["alone"] == ["snap", "card"]
    assert ines.do("PUT", "/practice/people/nils/alone", body, status=409)["code"] == "stale_version"
    gone = {"words": [], "version": said["alone_version"]}
    assert ines.call("PUT", "/practice/people/ghost/alone", gone).status_code == 404


def test_a_lesson_passed_twice_counts_as_shown(desk_of: DeskOf, database: Database) -> None:
    nils, ines = desk_of("nils"), desk_of("ines")
    begun(nils, "door"), begun(nils, "door")
    with database.session(write=True) as session:
        session.connection().exec_driver_sql("UPDATE practice_run SET over = 1, passed = 1, points = 90")
    learner = next(one for one in ines.get("/practice")["learners"] if one["person_id"] == "nils")
    assert learner["lessons"]["door"]["passes"] == 2, learner
    assert learner["shown"] == ["snap"]
    assert learner["lessons"]["door"] == {"runs": 2, "best": 90, "passes": 2}
    assert learner["alone"] == [], "who may do it alone is the lead's word, not the count's"


def test_the_lead_sets_his_own_car_as_todays_lesson(desk_of: DeskOf) -> None:
    ines, nils = desk_of("ines"), desk_of("nils")
    job = ines.get("/jobs")["jobs"][0]
    window = ines.get(f"/jobs/{job['id']}")["windows"][0]
    body = {"window_id": window["id"], "note": "Mind the lower corners.", "version": 0}
    assert nils.call("PUT", "/practice/today", body).status_code == 403
    ines.do("PUT", "/practice/today", body)
    today = nils.get("/practice")["today"]
    assert today["window_id"] == window["id"]
    assert today["note"] == "Mind the lower corners."
    assert today["title"].startswith(window["label"])
    taken = ines.do("PUT", "/practice/today", {"window_id": None, "version": 1})
    assert taken["today"] is None


def test_a_run_that_is_over_is_one_row_and_one_that_nobody_ended_is_forgotten(desk: Desk, database: Database) -> None:
    ended, open_, old = (begun(desk)["id"] for _ in range(3))
    for run in (ended, open_, old):
        play(desk, run, 0, 1, [0, "wet"])
        play(desk, run, 1, 2, [1, "lay", "across"])
    before = desk.get(f"/practice/runs/{ended}/at?step=2")
    over = play(desk, ended, 2, 3, [2, "look"])
    assert over["over"]
    with database.session(write=True) as session:
        assert [(after, until) for after, until, _ in strokes_of(session, ended)] == [(0, 3)]
        assert len(strokes_of(session, open_)) == 2
        session.connection().exec_driver_sql(
            "UPDATE practice_run SET at = '2020-01-01 00:00:00' WHERE id IN (?, ?)", (old, ended)
        )
        assert forget_unfinished(session, days=30) == 1
    assert desk.call("GET", f"/practice/runs/{old}").status_code == 404
    assert desk.get(f"/practice/runs/{open_}")["frame"]["step"] == 2
    STAGE.__init__()  # type: ignore[misc]
    assert desk.get(f"/practice/runs/{ended}/at?step=2") == before, "and it is seen again as it was"


def test_few_runs_are_held_and_any_is_played_on() -> None:
    """More learners than are held at once: each run is worked out anew from its strokes."""
    stage = Stage()
    setup = lesson_setup(data_files.lessons()[0], starting_values())
    parts = [(0, 3, [[0, Do.WET.value], [1, Do.LAY.value, "across"]])]
    for k in range(30):
        with stage.of(f"run{k}", setup, k, parts) as playing:
            assert playing.run.step == 3
    with stage.of("run0", setup, 0, parts) as playing:
        assert playing.run.step == 3
    assert stage.reached("run29") == 3
    assert stage.reached("run1") == 0

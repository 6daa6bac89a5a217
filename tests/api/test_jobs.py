import json
from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_ground_rules import job_id
from tests.catalogue.jobs import job_document


def opened(desk: Desk, title: str = "Fenwick 4, all round") -> Any:
    return desk.get(f"/jobs/{job_id(desk, title)}")


def window_of(job: Any, label: str) -> Any:
    return next(window for window in job["windows"] if window["label"] == label)


def patch(desk: Desk, window: Any, status: int = 200, **change: Any) -> Any:
    return desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], **change}, status=status)


def read(typed: str) -> dict[str, str]:
    return {"typed": typed}


def test_new_sedan_has_its_windows_in_walkaround_order(desk: Desk) -> None:
    job = desk.do(
        "POST",
        "/jobs",
        {"vehicle_label": "New sedan", "body": "sedan", "states": ["TX"], "mirrors_both_sides": True},
        status=201,
    )
    labels = ["Driver front", "Driver rear", "Back glass", "Passenger rear", "Passenger front", "Windshield"]
    assert [window["label"] for window in job["windows"]] == labels
    assert window_of(job, "Passenger front")["same_as_mirrored"] is True
    assert window_of(job, "Driver front")["bare_vlt_source"] == "assumed"


FRONT, SIDE, REAR, SHIELD = "front_side", "rear_side", "rear_window", "windshield"
# The glass of each body style in the order round the car, by hand: doors, what stands behind them, back, and the other side.
BODIES = {
    "sedan": [(FRONT, "framed_door"), (SIDE, "framed_door"), (REAR, "back_glass"), (SIDE, "framed_door"),
              (FRONT, "framed_door"), (SHIELD, "windshield")],
    "coupe": [(FRONT, "frameless_door"), (SIDE, "quarter"), (REAR, "back_glass"), (SIDE, "quarter"),
              (FRONT, "frameless_door"), (SHIELD, "windshield")],
    "hatchback": [(FRONT, "framed_door"), (SIDE, "framed_door"), (SIDE, "quarter"), (REAR, "hatch"), (SIDE, "quarter"),
                  (SIDE, "framed_door"), (FRONT, "framed_door"), (SHIELD, "windshield")],
    "suv": [(FRONT, "framed_door"), (SIDE, "framed_door"), (SIDE, "fixed_side"), (REAR, "hatch"), (SIDE, "fixed_side"),
            (SIDE, "framed_door"), (FRONT, "framed_door"), (SHIELD, "windshield")],
    "crew_cab": [(FRONT, "framed_door"), (SIDE, "framed_door"), (REAR, "back_glass"), (SIDE, "framed_door"),
                 (FRONT, "framed_door"), (SHIELD, "windshield")],
    "van": [(FRONT, "framed_door"), (SIDE, "fixed_side"), (SIDE, "fixed_side"), (REAR, "back_glass"),
            (SIDE, "fixed_side"), (SIDE, "fixed_side"), (FRONT, "framed_door"), (SHIELD, "windshield")],
    "side_by_side": [(SHIELD, "windshield"), (FRONT, "fixed_side"), (REAR, "fixed_side"), (FRONT, "fixed_side")],
    "removal_only": [(FRONT, "framed_door"), (SIDE, "framed_door"), (REAR, "back_glass"), (SIDE, "framed_door"),
                     (FRONT, "framed_door")],
}  # fmt: skip


def test_every_body_style_makes_a_job(desk: Desk) -> None:
    assert {one["key"] for one in desk.get("/pick-lists")["bodies"]} == set(BODIES)
    for body, glass in BODIES.items():
        job = desk.do("POST", "/jobs", {"vehicle_label": body, "body": body, "states": ["FL", "TX"]}, status=201)
        assert [(one["position"], one["kind"]) for one in job["windows"]] == glass, body
        assert len({one["label"] for one in job["windows"]}) == len(glass), body


def test_reading_redraws_the_pane_and_its_mirror_image(desk: Desk) -> None:
    job = opened(desk)
    before = window_of(job, "Driver rear")
    after = patch(desk, before, readings={"top": read("22 1/2"), "diagonal_rising": read("29 11/16")})
    driver, passenger = window_of(after, "Driver rear"), window_of(after, "Passenger rear")
    assert driver["pane"]["ring"] != before["pane"]["ring"]
    assert driver["readings"]["top"]["typed"] == "22 1/2"
    assert driver["pane"]["width_mm"] == pytest.approx(passenger["pane"]["width_mm"])
    assert after["input_hash"] != job["input_hash"]


def test_typed_metric_stays_metric(desk: Desk) -> None:
    after = patch(
        desk, window_of(opened(desk, "Tansy hatch, rears 20"), "Driver front"), readings={"width": read("1000 mm")}
    )
    reading = window_of(after, "Driver front")["readings"]["width"]
    assert (reading["typed"], reading["mm"]) == ("1000 mm", 1000.0)


@pytest.mark.parametrize(
    ("readings", "field", "says"),
    [
        ({"top": "abc"}, "readings.top", "not a size"),
        ({"top": "0"}, "readings.top", "more than nothing"),
        ({"top": "-3"}, "readings.top", "negative"),
        ({"top": "30'"}, "readings.top", "longer than any car glass"),
        ({"diagonal_rising": "70"}, "readings.diagonal_rising", "together"),
        ({"sideways": "10"}, "readings.sideways", "not a reading"),
    ],
)
def test_impossible_reading_is_refused_where_typed_and_not_half_saved(
    desk: Desk, readings: dict[str, str], field: str, says: str
) -> None:
    window = window_of(opened(desk), "Driver front")
    answer = patch(
        desk, window, status=422, bare_vlt_percent=50, readings={key: read(typed) for key, typed in readings.items()}
    )
    assert says in answer["fields"][field]
    kept = window_of(opened(desk), "Driver front")
    assert kept["version"] == window["version"]
    assert kept["bare_vlt_percent"] == window["bare_vlt_percent"]


@pytest.mark.parametrize("percent", [-1, 101, 1e9])
def test_vlt_outside_0_to_100_is_refused(desk: Desk, percent: float) -> None:
    answer = patch(desk, window_of(opened(desk), "Driver front"), status=422, bare_vlt_percent=percent)
    assert "bare_vlt_percent" in answer["fields"]


def test_slip_raises_the_alarm_and_the_asked_reading_names_it(desk: Desk) -> None:
    job = opened(desk, "Morrow SUV, fronts to match")
    window = window_of(job, "Driver rear")
    fit = window["pane"]["fit"]
    assert fit["alarm"]
    assert fit["ask_for"]
    assert any(change["key"] == "diagonal_rising" for change in fit["changes"])
    # The true pane: corners (0,0) (31,0) (30.2,19.6) (0.6,20) in inches.
    true = {
        "bottom_left_to_top": "25 1/16",
        "bottom_left_to_right": "32 3/8",
        "mid_width": "30 5/16",
        "mid_height": "19 13/16",
    }
    for _ in range(3):
        asked = window["pane"]["fit"]["ask_for"]
        if asked is None:
            break
        assert asked["key"] in true, asked
        window = window_of(patch(desk, window, readings={asked["key"]: read(true[asked["key"]])}), "Driver rear")
    assert window["pane"]["fit"]["culprit"]["key"] == "diagonal_rising"


def put(desk: Desk, job: Any, film_id: str | None, labels: list[str], *, status: int = 200) -> Any:
    """A film on several windows of a job as it was looked at."""
    chosen = [window for window in job["windows"] if window["label"] in labels]
    films = {window["id"]: {"film_id": film_id, "version": window["version"]} for window in chosen}
    return desk.do("POST", f"/jobs/{job['id']}/films", {"films": films}, status=status)


def test_a_film_for_many_windows_changes_verdicts_at_once(desk: Desk) -> None:
    job = opened(desk)
    labels = [window["label"] for window in job["windows"] if window["position"] != "windshield"]
    after = put(desk, job, "dusk5", labels)
    assert window_of(after, "Driver front")["worst"] == "Too dark"
    assert window_of(after, "Back glass")["worst"] == "Clears"
    assert window_of(after, "Windshield")["worst"] is None
    assert put(desk, job, "dusk20", labels, status=409)["code"] == "stale_version"
    bare = put(desk, after, None, labels)
    assert all(window["worst"] is None for window in bare["windows"])
    put(desk, bare, "gone", labels, status=404)
    other = opened(desk, "Tansy hatch, rears 20")
    elsewhere = {other["windows"][0]["id"]: {"film_id": "dusk5", "version": 1}}
    desk.do("POST", f"/jobs/{job['id']}/films", {"films": elsewhere}, status=422)


def test_darkest_stocked_film_that_clears(desk: Desk) -> None:
    """Texas front 25 on 76 % glass: Dusk 35 (36 sheet) gives 30.4 and clears; Dusk 20 gives 16.9 and does not."""
    window = window_of(opened(desk), "Driver front")
    assert window["darkest_clearing"] == "dusk35"
    words = {choice["film_id"]: choice["word"] for choice in window["choices"]}
    assert words["dusk20"] == "Too dark"
    assert words["glint20"] == "Not allowed"


def test_states_are_judged_each_and_worst_counts(desk: Desk) -> None:
    job = opened(desk)
    after = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "states": ["TX", "NH"]})
    front = window_of(after, "Driver front")
    assert [verdict["word"] for verdict in front["verdicts"]] == ["Clears", "Not allowed"]
    assert front["worst"] == "Not allowed"
    answer = desk.do("PATCH", f"/jobs/{job['id']}", {"version": after["version"], "states": ["ZZ"]}, status=422)
    assert "There is no state “ZZ”" in answer["message"]


def test_board_shows_bays_next_and_what_is_stuck(desk: Desk) -> None:
    board = desk.get("/board")
    assert [job["bay"] for job in board["in_bays"]] == ["Bay 1", "Bay 2"]
    assert all(job["status"] != "delivered" for job in board["next"])
    stuck = {job["title"]: job["problems"] for job in board["stuck"] + board["in_bays"] if job["problems"]}
    titles = [job["title"] for place in ("in_bays", "next", "stuck") for job in board[place]]
    assert len(titles) == len(set(titles)), "each job once"
    assert "Fenwick 4, all round" not in stuck
    assert any("Too dark in Florida" in problem for problem in stuck["Larkspur coupe, limo fronts"])
    assert any("readings do not close" in problem for problem in stuck["Morrow SUV, fronts to match"])
    assert any("the widest on the rack is 24 in" in problem for problem in stuck["Hauler van, heat film"])


def test_archived_job_is_off_the_lists_and_comes_back(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    path, body = f"/jobs/{job['id']}/remove", {"version": job["version"]}
    for who in ("nils", "tobi", "sol"):
        assert desk_of(who).do("POST", path, body, status=403)["code"] == "not_your_role"
    removed = desk.do("POST", f"/jobs/{job['id']}/remove", {"version": job["version"]})
    assert all(other["id"] != job["id"] for other in desk.get("/jobs")["jobs"])
    assert [other["id"] for other in desk.get("/jobs?archived=1")["jobs"]] == [job["id"]]
    assert [other["id"] for other in desk.get("/jobs?archived=1&search=fenwick")["jobs"]] == [job["id"]]
    assert desk.get("/jobs?archived=1&search=zebra")["total"] == 0
    desk.do("POST", f"/jobs/{job['id']}/restore", {"version": removed["version"]})
    assert any(other["id"] == job["id"] for other in desk.get("/jobs")["jobs"])


def test_a_delivered_car_is_never_archived(desk: Desk) -> None:
    job = opened(desk, "Fenwick 4, rears only")
    assert job["status"] == "delivered"
    told = desk.do("POST", f"/jobs/{job['id']}/remove", {"version": job["version"]}, status=422)["message"]
    assert told == "A delivered car stays on record. To forget its customer, erase the customer’s data."
    assert any(other["id"] == job["id"] for other in desk.get("/jobs")["jobs"])


def test_window_others_measure_from_cannot_be_taken_out(desk: Desk) -> None:
    job = opened(desk)
    source, mirror = window_of(job, "Driver front"), window_of(job, "Passenger front")
    answer = desk.do("POST", f"/windows/{source['id']}/remove", {"version": source["version"]}, status=422)
    assert "Passenger front takes its measures from Driver front" in answer["message"]
    after = desk.do("POST", f"/windows/{mirror['id']}/remove", {"version": mirror["version"]})
    assert len(after["windows"]) == len(job["windows"]) - 1
    back = desk.do("POST", f"/windows/{mirror['id']}/restore", {"version": mirror["version"] + 1})
    assert len(back["windows"]) == len(job["windows"])


def test_added_window_stands_last(desk: Desk) -> None:
    job = opened(desk)
    body = {"label": "Sunroof", "position": "roof", "kind": "sunroof"}
    after = desk.do("POST", f"/jobs/{job['id']}/windows", body, status=201)
    assert after["windows"][-1]["label"] == "Sunroof"
    filmed = patch(desk, after["windows"][-1], film_id="dusk20", bare_vlt_percent=70)
    assert filmed["windows"][-1]["worst"] == "No rule on file"


def test_changing_to_three_corners_keeps_only_its_readings(desk: Desk) -> None:
    job = opened(desk)
    after = patch(desk, window_of(job, "Driver front"), figure="three")
    assert "diagonal_rising" not in window_of(after, "Driver front")["readings"]


def test_same_glass_circle_is_refused(desk: Desk) -> None:
    job = opened(desk)
    source, mirror = window_of(job, "Driver front"), window_of(job, "Passenger front")
    answer = patch(desk, source, status=422, same_as_id=mirror["id"])
    assert "refers to itself" in answer["message"]


def test_history_says_who_changed_what(desk_of: Any) -> None:
    tobi = desk_of("tobi")
    job = opened(tobi)
    patch(tobi, window_of(job, "Driver front"), bare_vlt_percent=71)
    newest = tobi.get(f"/jobs/{job['id']}/history")["entries"][0]
    assert (newest["person"], newest["what"], newest["fields"]) == ("Tobi Lund", "Driver front", ["bare_vlt_percent"])


def test_exported_job_opens_again_the_same(desk: Desk) -> None:
    job = opened(desk)
    exported = desk.call("GET", f"/jobs/{job['id']}/export")
    assert "attachment" in exported.headers["Content-Disposition"]
    again = desk.do("POST", "/jobs/import", data=exported.data, status=201)
    assert again["id"] != job["id"]
    assert again["number"] > job["number"]
    for one, other in zip(job["windows"], again["windows"], strict=True):
        for key in ("label", "readings", "film_id", "pane", "worst", "curve", "kind"):
            assert one[key] == other[key], key


def test_imported_films_that_the_shop_lacks_come_along(desk: Desk) -> None:
    job = desk.do("POST", "/jobs/import", data=json.dumps(job_document()).encode(), status=201)
    names = {film["name"]: film["stocked"] for film in job["films"]}
    assert names["Carbon 35"] is False
    again = desk.do("POST", "/jobs/import", data=json.dumps(job_document()).encode(), status=201)
    assert sum(film["name"] == "Carbon 35" for film in again["films"]) == 1


@pytest.mark.parametrize(
    ("data", "says"),
    [
        (b"{", "broken at line 1"),
        (b'{"format": "elumbra-job", "format_version": 99}', "format version 99"),
        (json.dumps(job_document() | {"films": []}).encode(), "There is no film"),
    ],
)
def test_bad_job_file_saves_nothing(desk: Desk, data: bytes, says: str) -> None:
    before = len(desk.get("/jobs")["jobs"])
    answer = desk.do("POST", "/jobs/import", data=data, status=422)
    assert says in answer["message"]
    assert len(desk.get("/jobs")["jobs"]) == before


def test_job_file_with_impossible_readings_saves_nothing(desk: Desk) -> None:
    document = job_document()
    document["job"]["windows"][0]["readings"]["diagonal_rising"]["typed"] = "99"
    films = len(desk.get("/rack")["films"])
    desk.do("POST", "/jobs/import", data=json.dumps(document).encode(), status=422)
    assert len(desk.get("/rack")["films"]) == films, "not even the films"


def test_huge_file_is_refused(desk: Desk) -> None:
    assert desk.do("POST", "/jobs/import", data=b" " * 5_000_000, status=413)["code"] == "too_large"

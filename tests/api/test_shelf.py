"""The glass shelf through the API: same car as, nearest, versions, feedback, in and out, two people."""

from __future__ import annotations

import json
from typing import Any

import numpy as np
import pytest
from shapely import Polygon

from elumbra.documents.outline_in import read_outline
from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, read, window_of

TRUCK = "crew_cab"


def cars(desk: Desk, words: str = "") -> Any:
    return desk.get(f"/shelf?words={words}")


def first(desk: Desk, words: str = "") -> Any:
    return desk.get(f"/shelf/cars/{cars(desk, words)['cars'][0]['id']}")


def pane_of(car: Any, label: str) -> Any:
    return next(one for one in car["panes"] if one["content"]["label"] == label)


def new_job(desk: Desk, car: Any, **over: Any) -> Any:
    body = {"vehicle_label": car["name"], "body": car["body"], "states": ["TX"], "shelf_car_id": car["id"]}
    return desk.do("POST", "/jobs", body | over, status=201)


def keep(desk: Desk, title: str = "Fenwick 4, all round", name: str = "Fenwick 4", **over: Any) -> Any:
    body = {"job_id": opened(desk, title)["id"], "name": name, "years": "2022", "doors": 4}
    return desk.do("POST", "/shelf/cars", body | over, status=201)


# --- search


def test_words_in_any_order_find_a_car_as_you_type(desk: Desk) -> None:
    everything = cars(desk)
    assert everything["total"] >= 40
    assert everything["total_panes"] >= 250
    one = everything["cars"][0]
    name, years = one["name"].split()[0], one["years"][:4]
    for words in (
        f"{name} {years}",
        f"{years} {name}",
        f"{name[:3].lower()} {years[:3]}",
        f"  {years}   {name.upper()} ",
    ):
        assert one["id"] in {car["id"] for car in cars(desk, words)["cars"]}, words
    assert cars(desk, "nothing has this")["total"] == 0
    assert cars(desk, "%25")["total"] == 0, "a percent sign is a letter here"


def test_pages_hold_every_car_once(desk: Desk) -> None:
    seen = [car["id"] for page in range(1, cars(desk)["pages"] + 1) for car in desk.get(f"/shelf?page={page}")["cars"]]
    assert len(seen) == len(set(seen)) == cars(desk)["total"]


# --- same car as


def test_same_car_as_fills_every_window_and_says_from_where(desk: Desk) -> None:
    car = first(desk, "sedan")
    job = new_job(desk, car)
    assert [one["label"] for one in job["windows"]] == [one["content"]["label"] for one in car["panes"]]
    for window, pane in zip(job["windows"], car["panes"], strict=True):
        assert window["shelf"]["pane_id"] == pane["id"]
        assert window["shelf"]["revision"] == pane["revision"]
        assert window["pane"]["width_mm"] == pytest.approx(pane["width_mm"], abs=0.2)
        assert window["pane"]["height_mm"] == pytest.approx(pane["height_mm"], abs=0.2)
        assert window["bare_vlt_source"] == "assumed"
        assert window["bare_vlt_percent"] is not None
        assert window["pane"]["mirror_doubt"] == ""


def test_the_shelf_brings_no_mark_of_this_very_glass(desk: Desk) -> None:
    car = first(desk, "sedan")
    assert any(one["content"]["glass_type"] == "tempered" for one in car["panes"])
    job = new_job(desk, car)
    assert {one["glass_type"] for one in job["windows"] if one["position"] != "windshield"} <= {"unknown", "plastic"}


def test_a_truck_with_a_three_part_rear_glass_gets_its_three_panes(desk: Desk) -> None:
    car = first(desk, "crew slider")
    job = new_job(desk, car)
    assert {"Rear slider, left", "Rear slider, middle", "Rear slider, right"} <= {
        one["label"] for one in job["windows"]
    }
    assert "Rear window" not in {one["label"] for one in job["windows"]}


def test_what_belongs_to_the_model_comes_along_and_what_belongs_to_the_car_does_not(desk: Desk) -> None:
    patch(desk, window_of(opened(desk), "Driver rear"), findings={"side_seals": "worn", "latch": "electric"})
    car = keep(desk)
    kept = pane_of(car, "Driver rear")["content"]["findings"]
    assert kept["latch"] == "electric"
    assert "side_seals" not in kept
    job = new_job(desk, car)
    assert window_of(job, "Driver rear")["findings"]["latch"] == "electric"
    assert "side_seals" not in window_of(job, "Driver rear")["findings"]


def test_a_shelf_car_without_every_window_leaves_those_of_the_body_to_measure(desk: Desk) -> None:
    car = first(desk, "sedan")
    windshield = pane_of(car, "Windshield")
    car = desk.do("POST", f"/shelf/panes/{windshield['id']}/remove", {"version": windshield["version"]})
    job = new_job(desk, car)
    assert window_of(job, "Windshield")["readings"] == {}
    assert window_of(job, "Windshield")["shelf"] is None


def test_an_open_job_takes_its_glass_from_the_shelf_and_a_stale_screen_is_told(desk: Desk) -> None:
    car = first(desk, "sedan")
    job = opened(desk)
    versions = {one["id"]: one["version"] for one in job["windows"]}
    patch(desk, window_of(job, "Driver front"), readings={"bow_top": read("1/2")})
    refused = desk.do("POST", f"/jobs/{job['id']}/from-shelf", {"car_id": car["id"], "versions": versions}, status=409)
    assert refused["code"] == "stale_version"
    assert window_of(opened(desk), "Driver rear")["shelf"] is None, "nothing is half filled"
    fresh = {one["id"]: one["version"] for one in opened(desk)["windows"]}
    after = desk.do("POST", f"/jobs/{job['id']}/from-shelf", {"car_id": car["id"], "versions": fresh})
    assert all(one["shelf"] for one in after["windows"])


# --- nearest


def test_the_nearest_record_is_offered_with_its_misfit_and_stretched_to_the_two_sizes(desk: Desk) -> None:
    car = first(desk, "sedan")
    back = pane_of(car, "Back glass")
    job = opened(desk, "Alder SUV, rears in New York")
    window = patch(desk, job["windows"][0], kind="back_glass", position="rear_window", side="centre", curve="both_ways")
    window = window["windows"][0]
    sizes = {"width": read(f"{back['width_mm'] + 12:.1f} mm"), "height": read(f"{back['height_mm'] - 6:.1f} mm")}
    clean = dict.fromkeys(window["readings"])
    window = patch(desk, window, level="size", readings=clean | sizes)["windows"][0]
    near = desk.get(f"/windows/{window['id']}/near")["near"]
    mine = next(one for one in near if one["pane_id"] == back["id"])
    assert mine["misfit_mm"] == pytest.approx(6, abs=0.6)
    assert "wider" in mine["told"] or "narrower" in mine["told"]
    body = {"version": window["version"], "pane_id": back["id"], "scaled": True}
    taken = desk.do("POST", f"/windows/{window['id']}/from-shelf", body)["windows"][0]
    assert taken["pane"]["width_mm"] == pytest.approx(back["width_mm"] + 12, abs=0.5)
    assert taken["pane"]["height_mm"] == pytest.approx(back["height_mm"] - 6, abs=0.5)
    assert taken["pane"]["measured"]


def test_without_two_sizes_the_shelf_says_what_to_read(desk: Desk) -> None:
    window = window_of(opened(desk), "Windshield")
    assert "width and height first" in desk.do("GET", f"/windows/{window['id']}/near", status=422)["message"]


# --- versions and feedback


def test_a_word_after_cutting_makes_a_version_that_the_next_job_goes_by(desk: Desk) -> None:
    car = first(desk, "sedan")
    before_job = new_job(desk, car)
    pane = pane_of(car, "Driver rear")
    told = {"version": pane["version"], "word": "short", "edge": "bottom", "by": "1/4", "note": "wind"}
    after = pane_of(desk.do("POST", f"/shelf/panes/{pane['id']}/fitted", told), "Driver rear")
    assert after["revision"] == pane["revision"] + 1
    assert after["content"]["fitted"]["word"] == "short"
    assert after["content"]["readings"]["more_bottom"]["typed"] == "1/4"
    assert after["height_mm"] == pytest.approx(pane["height_mm"] + 6.35, abs=0.3)
    assert [one["revision"] for one in after["revisions"]] == [2, 1]
    assert "short by 1/4" in after["revisions"][0]["why"]
    # A job keeps the version it was cut by; the next one goes by the new one.
    kept = window_of(opened_id(desk, before_job["id"]), "Driver rear")
    assert (kept["shelf"]["revision"], kept["shelf"]["newest"]) == (1, 2)
    assert kept["pane"]["height_mm"] == pytest.approx(pane["height_mm"], abs=0.2)
    following = window_of(new_job(desk, car), "Driver rear")
    assert following["shelf"]["revision"] == 2
    assert following["pane"]["height_mm"] == pytest.approx(after["height_mm"], abs=0.2)
    # The other side is its mirror image, and follows.
    mirrored = pane_of(desk.get(f"/shelf/cars/{car['id']}"), "Passenger rear")
    assert mirrored["height_mm"] == pytest.approx(after["height_mm"], abs=0.2)
    uses = {(one["number"], one["revision"]) for one in after["uses"]} | {(0, 0)}
    assert (before_job["number"], 1) in uses


def opened_id(desk: Desk, job_id: str) -> Any:
    return desk.get(f"/jobs/{job_id}")


def test_two_words_add_up_and_cancel(desk: Desk) -> None:
    pane = pane_of(first(desk, "sedan"), "Driver rear")
    for word, typed in (("short", "1/4"), ("long", "1/8"), ("long", "1/8")):
        body = {"version": pane["version"], "word": word, "edge": "left", "by": typed}
        pane = pane_of(desk.do("POST", f"/shelf/panes/{pane['id']}/fitted", body), "Driver rear")
    readings = pane["content"]["readings"]
    assert not {"more_left", "less_left"} & set(readings)


def test_what_was_off_on_the_mirror_image_corrects_the_pane_that_was_read(desk: Desk) -> None:
    car = first(desk, "sedan")
    passenger = pane_of(car, "Passenger rear")
    body = {"version": passenger["version"], "word": "short", "edge": "left", "by": "3/8"}
    after = desk.do("POST", f"/shelf/panes/{passenger['id']}/fitted", body)
    assert pane_of(after, "Passenger rear")["content"]["fitted"]["edge"] == "left"
    assert pane_of(after, "Driver rear")["content"]["readings"]["more_right"]["typed"] == "3/8"


@pytest.mark.parametrize(
    ("told", "field"),
    [
        ({"word": "short"}, "edge"),
        ({"word": "short", "edge": "bottom"}, "by"),
        ({"word": "long", "edge": "roof", "by": "1/4"}, "edge"),
        ({"word": "loose"}, "word"),
    ],
)
def test_a_word_that_says_nothing_is_refused_by_its_field(desk: Desk, told: dict[str, Any], field: str) -> None:
    pane = pane_of(first(desk, "sedan"), "Driver rear")
    refused = desk.do("POST", f"/shelf/panes/{pane['id']}/fitted", {"version": pane["version"], **told}, status=422)
    assert field in refused["fields"]


def test_two_people_changing_one_pane_are_told(desk_of: Any) -> None:
    ines, tobi = desk_of("ines"), desk_of("tobi")
    pane = pane_of(first(ines, "sedan"), "Driver rear")
    ines.do("PATCH", f"/shelf/panes/{pane['id']}", {"version": pane["version"], "trim": "sport trim"})
    refused = tobi.do("PATCH", f"/shelf/panes/{pane['id']}", {"version": pane["version"], "label": "Rear"}, status=409)
    assert refused["code"] == "stale_version"


def test_readings_no_pane_can_have_make_no_version(desk: Desk) -> None:
    pane = pane_of(first(desk, "sedan"), "Driver rear")
    body = {"version": pane["version"], "readings": {"diagonal_rising": "95"}}
    refused = desk.do("PATCH", f"/shelf/panes/{pane['id']}", body, status=422)
    assert refused["fields"]
    assert pane_of(first(desk, "sedan"), "Driver rear")["revision"] == pane["revision"]


# --- duplicate, the other side


def test_a_duplicate_has_the_same_glass_under_another_name_and_no_word_of_fit(desk: Desk) -> None:
    car = first(desk, "sedan")
    pane = pane_of(car, "Back glass")
    desk.do("POST", f"/shelf/panes/{pane['id']}/fitted", {"version": pane["version"], "word": "right"})
    copy = desk.do("POST", f"/shelf/cars/{car['id']}/duplicate", {"name": "Thistle 4", "years": "2025"}, status=201)
    assert [one["content"]["label"] for one in copy["panes"]] == [one["content"]["label"] for one in car["panes"]]
    assert pane_of(copy, "Back glass")["content"]["fitted"] is None
    assert pane_of(copy, "Back glass")["width_mm"] == pytest.approx(pane["width_mm"])
    assert cars(desk, "thistle 2025")["total"] == 1


def test_the_other_side_is_made_from_one_side(desk: Desk) -> None:
    car = first(desk, "sedan")
    gone = pane_of(car, "Passenger rear")
    car = desk.do("POST", f"/shelf/panes/{gone['id']}/remove", {"version": gone["version"]})
    driver = pane_of(car, "Driver rear")
    car = desk.do("POST", f"/shelf/panes/{driver['id']}/other-side", {"version": driver["version"]}, status=201)
    made = pane_of(car, "Passenger rear")
    assert made["same_as"] == "Driver rear"
    mirror = np.array(made["ring"]) * [-1, 1]
    one, other = Polygon(mirror - mirror.min(0)), Polygon(np.array(driver["ring"]) - np.array(driver["ring"]).min(0))
    assert one.symmetric_difference(other).area < 0.002 * other.area
    again = desk.do("POST", f"/shelf/panes/{driver['id']}/other-side", {"version": driver["version"]}, status=422)
    assert "already" in again["message"]
    desk.do("POST", f"/shelf/panes/{driver['id']}/remove", {"version": driver["version"]}, status=422)


def test_a_car_taken_off_comes_back_and_jobs_keep_what_they_have(desk: Desk) -> None:
    car = first(desk, "sedan")
    job = new_job(desk, car)
    (gone,) = desk.do("POST", f"/archive/shelf_car/{car['id']}", {"version": car["version"]})["items"]
    assert (gone["id"], gone["person"]) == (car["id"], "Ines Varga")
    assert desk.get(f"/shelf/cars/{car['id']}")["removed"]
    assert car["id"] not in {one["id"] for one in cars(desk, car["name"])["cars"]}
    assert window_of(opened_id(desk, job["id"]), "Driver rear")["pane"]["measured"]
    back = desk.do("POST", f"/archive/shelf_car/{car['id']}/restore", {"version": gone["version"]})
    assert back["items"] == []
    assert not desk.get(f"/shelf/cars/{car['id']}")["removed"]


# --- in and out


def test_the_whole_shelf_goes_out_and_comes_in_again_once(desk: Desk) -> None:
    content = desk.call("GET", "/shelf/file").data
    total = cars(desk)["total"]
    told = desk.do("POST", "/shelf/import", data=content)
    assert (told["added"], told["already_here"], told["left_out"]) == (0, total, [])
    document = json.loads(content)
    document["cars"][0]["name"] = "Thistle 4"
    told = desk.do("POST", "/shelf/import", data=json.dumps(document).encode())
    assert (told["added"], told["already_here"]) == (1, total - 1)


def test_a_car_with_a_pane_that_cannot_be_is_left_out_and_the_others_come_in(desk: Desk) -> None:
    document = json.loads(desk.call("GET", "/shelf/file").data)
    document["cars"] = document["cars"][:2]
    document["cars"][0]["name"], document["cars"][1]["name"] = "Thistle 4", "Broken 4"
    pane = next(one for one in document["cars"][1]["panes"] if "diagonal_rising" in one["readings"])
    pane["readings"]["diagonal_rising"]["typed"] = "120"
    told = desk.do("POST", "/shelf/import", data=json.dumps(document).encode())
    assert told["added"] == 1
    assert "Broken 4" in told["left_out"][0]


def test_a_newer_shelf_file_is_refused_with_nothing_lost(desk: Desk) -> None:
    content = json.dumps({"format": "elumbra-shelf", "format_version": 2, "cars": []}).encode()
    assert "version 2" in desk.do("POST", "/shelf/import", data=content, status=422)["message"]


@pytest.mark.parametrize("kind", ["svg", "dxf", "csv"])
def test_a_pane_goes_out_as_a_file(desk: Desk, kind: str) -> None:
    pane = pane_of(first(desk, "sedan"), "Back glass")
    response = desk.call("GET", f"/shelf/panes/{pane['id']}/file/{kind}")
    assert response.status_code == 200
    assert (
        response.headers["Content-Disposition"].endswith(f'.{kind}"') or kind in response.headers["Content-Disposition"]
    )
    if kind != "csv":
        ring = read_outline(response.data).ring
        assert float(np.ptp(ring[:, 0])) == pytest.approx(pane["width_mm"], abs=0.05)
    else:
        assert response.text.splitlines()[0] == "key,reading,typed,mm,tape"


def test_a_drawing_is_looked_at_and_then_taken_for_a_window(desk: Desk) -> None:
    svg = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 50"><path d="M0 40 L90 40 L80 0 L20 0 Z"/></svg>'
    seen = desk.do("POST", "/shelf/drawing", {"content": svg})
    assert not seen["scale_known"]
    seen = desk.do("POST", "/shelf/drawing", {"content": svg, "width": "36"})
    assert (seen["scale_known"], round(seen["width_mm"], 1)) == (True, 914.4)
    window = window_of(opened(desk), "Windshield")
    body = {"version": window["version"], "ring": seen["ring"]}
    after = window_of(desk.do("POST", f"/windows/{window['id']}/outline", body), "Windshield")
    assert (after["figure"], after["pane"]["measured"]) == ("drawn", True)
    assert after["pane"]["width_mm"] == pytest.approx(914.4, abs=0.05)
    assert after["asked_readings"] == [] or set(after["asked_readings"]) <= {"crown_across", "crown_up"}
    exported = json.loads(desk.call("GET", f"/jobs/{opened(desk)['id']}/export").data)
    again = desk.do("POST", "/jobs/import", data=json.dumps(exported).encode(), status=201)
    assert window_of(again, "Windshield")["pane"]["width_mm"] == pytest.approx(914.4, abs=0.05)


def test_a_drawing_that_is_none_and_a_ring_that_crosses_are_refused(desk: Desk) -> None:
    assert "neither SVG nor DXF" in desk.do("POST", "/shelf/drawing", {"content": "hello"}, status=422)["message"]
    assert "width" in desk.do("POST", "/shelf/drawing", {"content": "<svg/>", "width": "wide"}, status=422)["fields"]
    window = window_of(opened(desk), "Windshield")
    body = {"version": window["version"], "ring": [[0, 0], [900, 450], [900, 0], [0, 450]]}
    assert "crosses itself" in desk.do("POST", f"/windows/{window['id']}/outline", body, status=422)["message"]


def test_keeping_a_car_measures_nothing_twice_and_nothing_unmeasured(desk: Desk) -> None:
    car = keep(desk)
    job = opened(desk)
    assert all(one["shelf"] for one in job["windows"])
    assert pane_of(car, "Passenger rear")["same_as"] == "Driver rear"
    assert pane_of(car, "Driver rear")["content"]["measured_by"] == "Ines Varga"
    empty = desk.do("POST", "/jobs", {"vehicle_label": "Bare", "body": "sedan", "states": ["TX"]}, status=201)
    refused = desk.do("POST", "/shelf/cars", {"job_id": empty["id"], "name": "Bare"}, status=422)
    assert "Nothing on this car is measured" in refused["message"]


def test_a_job_file_keeps_where_its_glass_came_from_in_the_same_shop_only(desk: Desk) -> None:
    job = new_job(desk, first(desk, "sedan"))
    exported = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    again = desk.do("POST", "/jobs/import", data=json.dumps(exported).encode(), status=201)
    assert [one["shelf"]["pane_id"] for one in again["windows"]] == [one["shelf"]["pane_id"] for one in job["windows"]]
    for window in exported["job"]["windows"]:
        window["shelf"]["pane"] = "another-shop"
    foreign = desk.do("POST", "/jobs/import", data=json.dumps(exported).encode(), status=201)
    assert [one["shelf"] for one in foreign["windows"]] == [None] * len(job["windows"])
    assert foreign["windows"][0]["readings"] == job["windows"][0]["readings"]


def test_counter_staff_look_but_do_not_change_the_shelf(desk_of: Any) -> None:
    sol = desk_of("sol")
    car = first(sol, "sedan")
    sol.do("PATCH", f"/shelf/cars/{car['id']}", {"version": car["version"], "name": "X"}, status=403)
    sol.do("POST", f"/archive/shelf_car/{car['id']}", {"version": car["version"]}, status=403)
    sol.do("POST", "/shelf/import", data=b"{}", status=403)


def test_a_car_of_the_shelf_is_renamed_and_found_by_its_new_name(desk: Desk) -> None:
    car = keep(desk)
    after = desk.do(
        "PATCH", f"/shelf/cars/{car['id']}", {"version": car["version"], "name": "Thistle Nine", "trim": "lift"}
    )
    assert (after["name"], after["trim"], after["years"]) == ("Thistle Nine", "lift", car["years"])
    assert [one["id"] for one in cars(desk, "thistle")["cars"]] == [car["id"]]
    body = {"version": after["version"], "name": None}
    assert "needs a name" in desk.do("PATCH", f"/shelf/cars/{car['id']}", body, status=422)["message"]

"""Strip-off through the API: ways, what was signed before the run, how it went, the bare glass back to Shade."""

import io
from typing import Any

from pypdf import PdfReader

from tests.api.conftest import Desk
from tests.api.test_bay import bay, happened, send
from tests.api.test_jobs import opened, patch, window_of
from tests.api.test_rack_ledger import again

PURPLE = "Fenwick 4, purple film off"
SIGNED = [[[0.1, 0.5], [0.4, 0.2], [0.8, 0.7]]]


def strip(desk: Desk, job: Any) -> Any:
    return desk.get(f"/jobs/{job['id']}/strip-off")


def of(found: Any, label: str) -> Any:
    return next(one for one in found["windows"] if one["label"] == label)


def sign(desk: Desk, job: Any, *, status: int = 200, **over: Any) -> Any:
    windows = [one["window_id"] for one in strip(desk, job)["windows"]]
    body = {"windows": windows, "name": "A. Rell", "how": "signature", "signature": SIGNED, **over}
    return desk.do("POST", f"/jobs/{job['id']}/strip-off/acknowledge", body, status=status)


def test_each_window_has_its_ways_best_first_with_refusals_last(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    found = strip(desk, job)
    assert found["headline"] == "Old film comes off 5 windows; 5 not signed yet"
    back, front = of(found, "Back glass"), of(found, "Driver front")
    assert [way["way"] for way in back["ways"]][:2] == ["steam", "heat"]
    assert back["sentence"].startswith("Steam: ")
    assert all(way["refused"] == "" for way in back["ways"][:2])
    assert all(way["refused"] for way in back["ways"][2:])
    assert back["glue"]["words"] == "pad and faintly soapy water"
    assert back["ways"][0]["basis"] == "our assumption, until twenty own results are there"
    assert front["ways"][0]["lines_risk_percent"] == 0
    low, high = found["price"]["low"], found["price"]["high"]
    assert 0 < low < high
    night = patch(desk, window_of(job, "Back glass"), strip_night=True)
    assert strip(desk, night)["windows"][2]["ways"][0]["way"] == "soak"
    chosen = patch(desk, window_of(night, "Back glass"), strip_way="heat")
    assert of(strip(desk, chosen), "Back glass")["sentence"].startswith("Heat and peel: ")
    sunny = send(desk, job, happened("conditions", glass_c=28.0, shop_c=26.0, outside_low_c=22.0, sun="back"))
    assert sunny["day"]["stop"] == ""
    assert of(strip(desk, job), "Driver rear")["ways"][0]["way"] == "bag"


def test_the_run_starts_only_once_risk_and_price_are_signed(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    back = window_of(job, "Back glass")
    tick = happened("tick", window_id=back["id"], run="strip", steps=["so_ack"])
    refused = send(desk, job, tick)["refused"]
    assert refused[0]["why"] == (
        "Risk and price are not acknowledged by the customer yet. Have it signed at Strip-off first."
    )
    for over in ({"signature": []}, {"name": ""}, {"windows": [window_of(job, "Windshield")["id"]]}, {"windows": []}):
        sign(desk, job, status=422, **over)
    signed = of(sign(desk, job), "Back glass")
    assert (signed["acknowledged"]["by"], signed["acknowledged"]["how"]) == ("A. Rell", "signature")
    found = send(desk, job, tick | {"id": tick["id"][::-1]})
    assert found["refused"] == []
    run = next(run for run in found["runs"] if run["name"] == f"strip:{back['id']}")
    assert run["steps"][0]["done"]
    assert run["steps"][0]["say"].startswith("Risk and price are signed: risk and price, ")
    # What was fitted there is another run, untouched.
    assert not any(step["done"] for one in found["runs"] if not one["strip"] for step in one["steps"])


def test_which_layer_came_off_is_a_branch_of_the_run(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    sign(desk, job)
    window = window_of(job, "Driver front")["id"]

    def keys(found: Any) -> list[str]:
        run = next(run for run in found["runs"] if run["name"] == f"strip:{window}")
        return [step["key"] for step in run["steps"]]

    assert "so_under" not in keys(bay(desk, job))
    face = send(desk, job, happened("branch", window_id=window, run="strip", layer="face_only"))
    assert keys(face).index("so_under") == keys(face).index("so_which") + 1
    assert "so_under" not in keys(send(desk, job, happened("branch", window_id=window, run="strip", layer="both")))


def test_a_reading_of_the_bare_glass_goes_back_to_shade_and_a_changed_word_is_said_loudly(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    window = window_of(job, "Driver front")
    assert window["ticks"]["strip_off"] == "open"
    body = {"layer": "both", "glue": "no", "readings_percent": [36.0, 36.4], "version": window["version"]}
    result = desk.do("POST", f"/windows/{window['id']}/strip-off/result", body)
    assert result["before"] != result["after"] == "Too dark"
    assert result["loud"].startswith("Driver front: Too dark now, it was ")
    assert "36 % through the bare glass" in result["loud"]
    fresh = window_of(again(desk, job), "Driver front")
    assert fresh["old_film_off"]
    assert fresh["bare_readings_percent"] == [36.0, 36.4]
    assert fresh["ticks"]["strip_off"] == "done"
    assert of(strip(desk, job), "Driver front")["off"]
    desk.do("POST", f"/windows/{window['id']}/strip-off/result", body, status=409)
    other = window_of(again(desk, job), "Windshield")
    refused = desk.do(
        "POST", f"/windows/{other['id']}/strip-off/result", body | {"version": other["version"]}, status=422
    )
    assert refused["message"] == "No old film comes off this window."


def test_own_results_count_once_there_are_twenty(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    for i in range(20):
        window = window_of(again(desk, job), "Driver rear")
        body = {"layer": "both" if i % 4 else "face_only", "glue": "no", "version": window["version"]}
        desk.do("POST", f"/windows/{window['id']}/strip-off/result", body)
    heat = next(way for way in of(strip(desk, job), "Passenger rear")["ways"] if way["way"] == "heat")
    assert (heat["own"]["number"], heat["own"]["percent"]) == (20, 75.0)
    assert heat["basis"] == "own results, n = 20"
    assert heat["own"]["low_percent"] < 75 < heat["own"]["high_percent"]


def test_a_removal_only_job_is_quoted_signed_and_closed_without_film(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    for label in ("Driver front", "Passenger front"):
        job = patch(desk, window_of(job, label), film_id=None)
    found = strip(desk, job)
    assert all(one["removal_only"] for one in found["windows"])
    assert bay(desk, job)["headline"] == "Only old film comes off"
    sign(desk, job)
    text = " ".join(
        page.extract_text()
        for page in PdfReader(io.BytesIO(desk.call("GET", f"/jobs/{job['id']}/strip-off.pdf?paper=a4").data)).pages
    )
    words = " ".join(text.split())
    assert "A. Rell, signed on the screen" in words
    assert "The worst case is a new back glass" in words
    assert f"All together {found['price']['low']:.0f} to {found['price']['high']:.0f} $" in words
    for one in found["windows"]:
        version = window_of(again(desk, job), one["label"])["version"]
        body = {"layer": "both", "glue": "no", "version": version}
        desk.do("POST", f"/windows/{one['window_id']}/strip-off/result", body)
    assert strip(desk, job)["headline"] == "All old film is off"
    body = {"version": again(desk, job)["version"], "deed": "start"}
    body["version"] = desk.do("POST", f"/jobs/{job['id']}/deeds", body)["version"]
    assert desk.do("POST", f"/jobs/{job['id']}/deeds", body | {"deed": "finish"})["status"] == "ready"


def test_what_is_at_hand_decides(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    found = desk.do("PUT", f"/removal-tools/{job['id']}", {"tools": ["gun"], "version": 0})
    assert of(found, "Back glass")["ways"][0]["way"] == "heat"
    assert "Not at hand: steamer." in next(
        way["refused"] for way in of(found, "Back glass")["ways"] if way["way"] == "steam"
    )
    desk.do("PUT", f"/removal-tools/{job['id']}", {"tools": [], "version": 0}, status=409)
    none = desk.do("PUT", f"/removal-tools/{job['id']}", {"tools": [], "version": 1})
    assert of(none, "Back glass")["sentence"].startswith("No way as things stand: ")
    assert all("Not at hand: " in way["refused"] for way in of(none, "Back glass")["ways"])
    desk.sign_in("tobi")
    desk.do("PUT", f"/removal-tools/{job['id']}", {"tools": ["gun"], "version": 2}, status=403)


def test_a_car_without_old_film_says_so(desk: Desk) -> None:
    job = opened(desk)
    found = strip(desk, job)
    paper = desk.do("GET", f"/jobs/{job['id']}/strip-off.pdf", status=404)
    assert paper["message"].startswith("No old film on this car: there is nothing to sign.")
    assert (found["headline"], found["windows"]) == ("No old film on this car", [])

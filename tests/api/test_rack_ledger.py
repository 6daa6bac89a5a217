"""The rack as a ledger: holds, corrections, the bin, recounts, codes and labels, lists."""

import csv
import json
import re
from datetime import date, timedelta
from io import BytesIO, StringIO
from math import pi
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pypdf import PdfReader

from elumbra.core.errors import CoreError
from elumbra.core.film import SHOP_LETTERS, FullRoll, StockCode, check_full_roll, parse_code, recount
from elumbra.storage import ledger
from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from tests.api.conftest import Desk
from tests.api.test_jobs import opened
from tests.api.test_knife import cut, planned
from tests.api.test_rack_and_layouts import ROLL, live
from tests.effort import examples

__all__ = ["live"]

SHOP = "K7QD"  # of the demo


def item(desk: Desk, label: str) -> Any:
    """A piece of stock on the rack by its label."""
    (found,) = [one for one in desk.get("/rack")["stock"] if one["label"] == label]
    return found


def page(desk: Desk, label: str) -> Any:
    return desk.get(f"/stock/{item(desk, label)['id']}")


# --- codes and labels --------------------------------------------------------------------------------------------


@given(st.text(SHOP_LETTERS, min_size=4, max_size=4), st.integers(1, 99_999), st.data())
def test_every_wrong_and_every_two_exchanged_characters_of_a_code_are_told(
    shop: str, number: int, data: st.DataObject
) -> None:
    code = StockCode(shop, number)
    assert parse_code(str(code)) == code
    assert parse_code(str(code).lower().replace("-", " ")) == code
    plain = f"{shop}{number}{str(code)[-1]}"
    i = data.draw(st.integers(0, len(plain) - 1))
    other = data.draw(st.sampled_from("0123456789ABCDEFGHJKMNPQRSTUVWXYZ"))
    j = data.draw(st.integers(0, len(plain) - 2))
    swapped = plain[:j] + plain[j + 1] + plain[j] + plain[j + 2 :]
    for wrong in (plain[:i] + other + plain[i + 1 :], swapped):
        if wrong != plain:
            with pytest.raises(CoreError, match=r"no code of a label|misread"):
                parse_code(wrong)


def test_a_code_leads_to_its_stock_and_another_shop_s_is_named(desk: Desk) -> None:
    roll = item(desk, "D20-40")
    assert roll["code"].startswith(SHOP)
    found = desk.get(f"/codes/{roll['code'].lower()}")
    assert (found["stock_id"], found["removed"]) == (roll["id"], False)
    foreign = desk.do("GET", f"/codes/{StockCode('ZZZZ', 3)}", status=422)["message"]
    assert foreign == f"{StockCode('ZZZZ', 3)} is the label of another shop; ours begin with K7QD. Film from there is entered anew, with its lot."  # fmt: skip
    assert "misread" in desk.do("GET", f"/codes/{SHOP}-2-2", status=422)["message"]
    desk.do("GET", f"/codes/{StockCode(SHOP, 4711)}", status=404)


@pytest.mark.parametrize(("on", "pages"), [("letter", 1), ("a4", 1), ("roll", 2)])
def test_labels_say_film_lot_size_side_and_code(desk: Desk, on: str, pages: int) -> None:
    one, other = item(desk, "D20-40"), item(desk, "D5-20")
    pdf = PdfReader(BytesIO(desk.call("GET", f"/labels.pdf?ids={one['id']},{other['id']}&on={on}").data))
    assert len(pdf.pages) == pages
    text = " ".join(part.extract_text() for part in pdf.pages)
    for words in ("D20-40", "Dusk 20", "lot D20-2311", "40 × 1200 in", one["code"], other["code"], "liner up"):
        assert words in text


# --- what is left, and why -----------------------------------------------------------------------------------------


def fields_of(desk: Desk, label: str, **over: Any) -> tuple[str, dict[str, Any]]:
    found = item(desk, label)
    return found["id"], {name: found[name] for name in ROLL} | {"version": found["version"]} | over


def test_another_length_is_a_correction_and_needs_its_reason(desk: Desk) -> None:
    stock_id, body = fields_of(desk, "D20-40", length_left="60'")
    refused = desk.do("PUT", f"/stock/{stock_id}", body, status=422)
    assert refused["fields"] == {"reason": "61' is what the ledger says. Say why it is 60' now."}
    desk.do("PUT", f"/stock/{stock_id}", body | {"reason": "counted by hand"})
    after = page(desk, "D20-40")
    assert after["movements"][0]["note"] == "counted by hand"
    assert after["balance"]["waste_mm"] == pytest.approx(304.8)
    assert after["stock"]["length_left_mm"] == pytest.approx(60 * 304.8)


def test_what_is_thrown_away_is_waste_and_off_the_rack(desk: Desk) -> None:
    found = item(desk, "Offcut 2")
    rest = found["length_left_mm"]
    desk.do("POST", f"/stock/{found['id']}/bin", {"version": found["version"], "reason": "creased"})
    assert all(one["label"] != "Offcut 2" for one in desk.get("/rack")["stock"])
    gone = desk.get(f"/stock/{found['id']}")
    assert gone["removed"]
    assert (gone["balance"]["waste_mm"], gone["balance"]["left_mm"]) == (pytest.approx(rest), 0)
    desk.do("POST", f"/stock/{found['id']}/bin", {"version": 9, "reason": "again"}, status=404)


def balanced(desk: Desk) -> None:
    """Received = used + waste + kept + left, for every piece of stock there ever was."""
    for one in desk.get("/rack")["stock"]:
        sums = desk.get(f"/stock/{one['id']}")["balance"]
        parts = sums["used_mm"] + sums["waste_mm"] + sums["kept_mm"] + sums["left_mm"]
        assert sums["received_mm"] == pytest.approx(parts, abs=1e-9)
        assert min(sums.values()) >= 0


def test_the_ledger_balances_after_cutting_slitting_and_taking_back(live: Desk) -> None:
    job = cut(live, opened(live))
    balanced(live)
    used = live.get("/rack/used")
    assert used["taken_mm"] == pytest.approx(
        sum(line["used_mm"] + line["kept_mm"] + line["waste_mm"] for line in used["lines"])
    )
    assert {line["job_number"] for line in used["lines"]} == {job["number"]}
    rows = list(csv.reader(StringIO(live.call("GET", "/rack/used.csv").data.decode("utf-8-sig"))))
    assert len(rows) == 1 + len(used["lines"])
    (cutting,) = job["cuttings"]
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    balanced(live)
    assert live.get("/rack/used")["lines"] == []
    roll = item(live, "D20-40")
    live.do("POST", f"/stock/{roll['id']}/slit", {"version": roll["version"], "at": "10 in"})
    balanced(live)


def test_a_roll_that_may_not_be_slit_is_not(desk: Desk) -> None:
    stock_id, body = fields_of(desk, "D20-40", slittable=False)
    desk.do("PUT", f"/stock/{stock_id}", body)
    refused = desk.do("POST", f"/stock/{stock_id}/slit", {"version": body["version"] + 1, "at": "10"}, status=422)
    assert "said not to be slit" in refused["message"]


# --- recount ---------------------------------------------------------------------------------------------------------


@examples(60)
@given(st.floats(0.05, 0.15), st.floats(200, 320), st.floats(5_000, 60_000), st.floats(0.05, 1.0), st.floats(0.5, 3.0))
def test_a_girth_gives_the_length_back(thickness: float, core: float, full: float, share: float, sigma: float) -> None:
    """Wound film's side area is its length times its thickness: π(R² − r²) = L·t."""

    def girth(length: float) -> float:
        return float((core**2 + 4 * pi * thickness * length) ** 0.5)

    found = recount(girth(share * full), core, [FullRoll(girth(full), core, full)], tape_sigma=sigma)
    assert found.length == pytest.approx(share * full, rel=1e-9)
    assert found.thickness == pytest.approx(thickness, rel=1e-9)
    assert found.low <= share * full <= found.high


def test_a_tape_read_over_and_over_spreads_as_is_said() -> None:
    """Both girths and cores read ten thousand times: 95 % of the lengths lie within the half-width."""
    rng = np.random.default_rng(5)
    core, full, thickness, sigma = 270.0, 30_480.0, 0.09, 1.0
    true = 20_000.0
    girths = [np.sqrt(core**2 + 4 * pi * thickness * length) for length in (full, true)]
    said = recount(float(girths[1]), core, [FullRoll(float(girths[0]), core, full)], tape_sigma=sigma)
    g0, c0, g1, c1 = (value + rng.normal(0, sigma, 10_000) for value in (girths[0], core, girths[1], core))
    lengths = full * (g1**2 - c1**2) / (g0**2 - c0**2)
    assert np.mean(np.abs(lengths - true) <= said.pm) == pytest.approx(0.95, abs=0.01)


@pytest.mark.parametrize(
    ("roll", "says"),
    [
        (FullRoll(200, 270, 30_480), "must read more than round its core"),
        (FullRoll(271, 270, 30_480), "Read the girth and the length again"),
        (FullRoll(900, 270, 30_480), "Read the girth and the length again"),
    ],
)
def test_a_full_roll_that_cannot_be_is_refused(roll: FullRoll, says: str) -> None:
    with pytest.raises(CoreError, match=says):
        check_full_roll(roll)


def test_a_recount_proposes_only_where_the_ledger_lies_outside_and_never_writes(desk: Desk, database: Database) -> None:
    roll = item(desk, "D20-40")
    before = page(desk, "D20-40")
    (full,) = before["full_rolls"]
    # By the demo's full roll: 61 ft on it give a girth that anybody can work out.
    side = (full["girth_mm"] ** 2 - full["core_mm"] ** 2) / full["length_mm"]
    for left, agrees in ((61 * 304.8, True), (90 * 304.8, False)):
        girth = (full["core_mm"] ** 2 + side * left) ** 0.5
        found = desk.get(f"/stock/{roll['id']}/recount?girth={girth:.2f}mm&core={full['core_mm']}mm")
        assert found["length_mm"] == pytest.approx(left, rel=1e-3)
        assert (found["agrees"], found["proposed"] is None) == (agrees, agrees)
        assert found["ledger_mm"] == pytest.approx(61 * 304.8)
    with database.session(write=False) as session:
        assert len(ledger.movements(session, roll["id"])) == 1
    harbor = item(desk, "H35-40")
    told = desk.do("GET", f"/stock/{harbor['id']}/recount?girth=13&core=10", status=422)["message"]
    assert "No full roll of this film has been measured" in told


# --- film held for a job -----------------------------------------------------------------------------------------------


def again(desk: Desk, job: Any) -> Any:
    """The job as it stands now."""
    return desk.get(f"/jobs/{job['id']}")


def held(desk: Desk, job: Any, *, status: int = 200, **body: Any) -> Any:
    task = planned(desk, job)
    return desk.do("POST", f"/jobs/{job['id']}/hold", {"input_hash": task["input_hash"], **body}, status=status)


def test_film_is_held_until_it_is_cut_and_planning_alone_holds_nothing(live: Desk) -> None:
    job = opened(live)
    planned(live, job)
    assert again(live, job)["holds"] == []
    job = held(live, job)
    assert job["holds"]
    for one in job["holds"]:
        stock = item(live, one["label"])
        assert stock["held_mm"] == pytest.approx(one["length_mm"])
        assert stock["free_mm"] == pytest.approx(stock["length_left_mm"] - one["length_mm"])
    held_before = [one["label"] for one in job["holds"]]
    job = cut(live, job)
    assert job["holds"] == []
    assert all(one["held_mm"] == 0 for one in live.get("/rack")["stock"] if one["label"] in held_before)


def test_a_canceled_job_holds_no_film(live: Desk) -> None:
    job = opened(live)
    before = {one["label"]: one["held_mm"] for one in live.get("/rack")["stock"]}  # for other jobs
    held(live, job)
    assert again(live, job)["holds"]
    body = {"version": again(live, job)["version"], "deed": "cancel", "reason": "Sold the car."}
    assert live.do("POST", f"/jobs/{job['id']}/deeds", body)["holds"] == []
    assert {one["label"]: one["held_mm"] for one in live.get("/rack")["stock"]} == before


def test_a_held_roll_is_not_planned_on_and_cutting_into_it_names_the_hold_and_asks(live: Desk) -> None:
    first = opened(live)
    second = _copy(live, first)
    stock_id, body = fields_of(live, "H35-40", length_left="100 in", reason="for this test")
    live.do("PUT", f"/stock/{stock_id}", body)
    for other in ("H35-20", "H35-60"):
        if any(one["label"] == other for one in live.get("/rack")["stock"]):
            gone = item(live, other)
            live.do("POST", f"/archive/stock/{gone['id']}", {"version": gone["version"]})
    held(live, again(live, first))
    plan = planned(live, again(live, second))["plan"]
    assert plan["reserved"], "the second planner sees the hold"
    assert re.match(r"Ines Varga, for job 1001, .*, until \d{4}-\d\d-\d\d", plan["reserved"][0]["words"])
    used = {s["label"]: s["used_mm"] for film in plan["films"] for s in film["stocks"]}
    stock = item(live, "H35-40")
    assert used.get("H35-40", 0) <= stock["free_mm"] + 1e-6
    second = again(live, second)
    live.do("PATCH", f"/jobs/{second['id']}", {"version": second["version"], "into_holds": True})
    task = planned(live, again(live, second))
    asked = live.do("POST", f"/jobs/{second['id']}/cut", {"input_hash": task["input_hash"]}, status=422)
    assert asked["code"] == "ask_again"
    assert "Ines Varga holds" in asked["message"]
    assert asked["message"].endswith("Cut into it all the same?")
    live.do("POST", f"/jobs/{second['id']}/cut", {"input_hash": task["input_hash"], "sure": True})
    balanced(live)


def _copy(desk: Desk, job: Any) -> Any:
    """The same car once more, by way of its file."""
    document = json.loads(desk.call("GET", f"/jobs/{job['id']}/export").data)
    return desk.do("POST", "/jobs/import", document, status=201)


def test_a_hold_ends_when_released_when_planned_anew_and_with_its_day(
    live: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = held(live, opened(live))
    job = live.do("POST", f"/jobs/{job['id']}/release-film")
    assert job["holds"] == []
    job = held(live, job)
    window = next(one for one in job["windows"] if one["label"] == "Back glass")
    live.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], "film_id": None})
    planned(live, again(live, job))
    assert again(live, job)["holds"] == [], "another plan takes other lengths"
    held(live, again(live, job))
    day = date.fromisoformat(again(live, job)["holds"][0]["until"]) + timedelta(days=1)
    monkeypatch.setattr("elumbra.storage.clock.today_iso", day.isoformat)
    assert again(live, job)["holds"] == []


def test_without_a_promised_day_it_is_asked_until_when(live: Desk) -> None:
    job = opened(live)
    job = live.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "promised_at": None})
    assert "until" in held(live, job, status=422)["fields"]
    assert "is over" in held(live, job, status=422, until="2020-01-01")["message"]
    day = (date.fromisoformat(today_iso()) + timedelta(days=3)).isoformat()
    assert held(live, job, until=day)["holds"][0]["until"] == day


# --- lists --------------------------------------------------------------------------------------------------------------


def test_what_is_short_for_booked_jobs_is_to_be_bought(live: Desk) -> None:
    job = opened(live)
    stock_id, body = fields_of(live, "H35-40", length_left="10 in", reason="for this test")
    live.do("PUT", f"/stock/{stock_id}", body)
    planned(live, again(live, job))
    lines = live.get("/rack/purchase")["lines"]
    assert lines
    for line in lines:
        assert line["short_mm"] == pytest.approx(max(0, line["booked_mm"] - line["left_mm"]))
        assert line["short_mm"] > 0 or line["low"]
    text = live.call("GET", "/rack/purchase.csv").data.decode("utf-8-sig")
    assert text.startswith("Film,Width in,Booked in,Left in,Short in,Low,By,Jobs")
    pdf = PdfReader(BytesIO(live.call("GET", "/rack/purchase.pdf?paper=a4").data))
    assert "Film to buy" in pdf.pages[0].extract_text()


def test_an_offcut_says_which_booked_windows_strips_and_quarters_it_can_become(desk: Desk) -> None:
    found = {one["stock_id"]: one for one in desk.get("/rack/offcuts")["offcuts"]}
    offcut = item(desk, "Offcut 2")
    told = found[offcut["id"]]
    assert told["could_become"] == page(desk, "Offcut 2")["could_become"]
    assert any(one["job_id"] and "Tansy hatch" in one["words"] for one in told["could_become"])
    # 12 1/2 × 48 1/4 in: four quarters of 12 × 16 do not fit, three do.
    assert {"words": "3 quarter windows", "job_id": None} in told["could_become"]
    assert told["old"] is False


def test_a_tape_round_a_roll_proposes_and_writes_nothing(desk: Desk) -> None:
    """Film of 0.1 mm on a core of 9 1/2 in: girth² = core² + 4π · 0.1 mm · length."""
    desk.do("POST", "/stock", ROLL, status=201)
    roll = item(desk, "K50-36")
    core = 9.5 * 25.4

    def girth(feet: float) -> str:
        return f"{(core**2 + 4 * pi * 0.1 * feet * 304.8) ** 0.5:.3f} mm"

    path = f"/stock/{roll['id']}/recount"
    unknown = desk.do("GET", f"{path}?girth={girth(80.5)}&core=9 1/2", status=422)
    assert "full roll" in unknown["message"]
    said = desk.do("GET", f"{path}?girth=round&core=9 1/2", status=422)
    assert list(said["fields"]) == ["girth"]
    film = f"/films/{roll['film_id']}/full-rolls"
    desk.do("POST", film, {"girth": girth(100), "core": "9 1/2", "length": "100 ft"}, status=201)
    same = desk.get(f"{path}?girth={girth(80.5)}&core=9 1/2")
    assert same["length_mm"] == pytest.approx(80.5 * 304.8, rel=1e-3)
    assert same["thickness_mm"] == pytest.approx(0.1, rel=1e-3)
    assert (same["agrees"], same["proposed"], same["rolls"]) == (True, None, 1)
    less = desk.get(f"{path}?girth={girth(40)}&core=9 1/2")
    assert not less["agrees"]
    assert "That cannot both be" in less["words"]
    assert item(desk, "K50-36")["length_left_mm"] == roll["length_left_mm"], "nothing was written"
    (known,) = page(desk, "K50-36")["full_rolls"]
    desk.do("POST", f"/full-rolls/{known['id']}/remove", {"version": known["version"]})
    desk.do("GET", f"{path}?girth={girth(40)}&core=9 1/2", status=422)
    offcut = next(one for one in desk.get("/rack")["stock"] if one["kind"] == "offcut")
    flat = desk.do("GET", f"/stock/{offcut['id']}/recount?girth=30&core=9", status=422)
    assert "is no roll" in flat["message"]

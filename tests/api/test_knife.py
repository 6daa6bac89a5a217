"""Film is cut: what comes off the rack, what goes on it, what each window keeps of it, and the way back."""

import json
from typing import Any

import pytest

from elumbra.storage import ledger
from elumbra.storage.database import Database
from elumbra.storage.ledger import counts
from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, read, window_of
from tests.api.test_rack_and_layouts import ROLL, live, wait

__all__ = ["live"]

SIXTEENTH = 127


def planned(desk: Desk, job: Any) -> Any:
    """The finished plan of a job as it stands."""
    task = wait(desk, desk.do("POST", f"/jobs/{job['id']}/layout", status=202))
    assert task["status"] == "done", task["error"]
    return task


def cut(desk: Desk, job: Any, *, status: int = 200, **body: Any) -> Any:
    task = planned(desk, job)
    return desk.do("POST", f"/jobs/{job['id']}/cut", {"input_hash": task["input_hash"], **body}, status=status)


def left(database: Database) -> dict[str, int]:
    """What is left of each piece of stock, in counts, by label."""
    with database.session(write=False) as session:
        return {record.label: record.left_count for record in ledger.on_rack(session)}


def balance(database: Database, label: str) -> dict[str, int]:
    """A stock's movements added up by kind."""
    with database.session(write=False) as session:
        (record,) = [one for one in ledger.on_rack(session) if one.label == label]
        sums: dict[str, int] = {}
        for one in ledger.movements(session, record.id):
            sums[one.kind] = sums.get(one.kind, 0) + one.count
        return sums


def test_what_is_cut_comes_off_the_rolls_to_the_sixteenth(live: Desk, database: Database) -> None:
    job, before = opened(live), left(database)
    plan = planned(live, job)["plan"]
    after_cut = cut(live, job)
    after = left(database)
    pulled = {
        stock["label"]: stock["used_mm"]
        for film in plan["films"] for stock in film["stocks"] if stock["kind"] == "roll" and stock["used_mm"]
    }  # fmt: skip
    assert pulled
    for label, mm in pulled.items():
        assert before[label] - after[label] == counts(mm), label
        assert (before[label] - after[label]) % SIXTEENTH == 0, "blanks are cut in whole sixteenths"
        sums = balance(database, label)
        assert (
            sums["received"]
            + sums.get("corrected", 0)
            + sums.get("used", 0)
            + sums.get("kept", 0)
            + sums.get("waste", 0)
            == after[label]
        ), "received = used + waste + kept + left"
        assert min(-sums.get(kind, 0) for kind in ("used", "kept", "waste")) >= 0
    assert after_cut["readiness"] == "All 5 windows are cut"


def test_each_window_keeps_lot_and_roll_and_kept_offcuts_lie_on_the_rack_with_their_label(
    live: Desk, database: Database
) -> None:
    job = cut(live, opened(live))
    front = window_of(job, "Driver front")
    assert (front["cut"]["roll"], front["cut"]["lot"], front["cut"]["standing"]) == ("H35-40", "H35-2403", True)
    assert (front["ticks"]["cut"], front["held"]) == ("done", None)
    (cutting,) = job["cuttings"]
    assert cutting["windows"]
    assert cutting["may_be_taken_back"]
    labels = [one["label"] for one in cutting["kept"]]
    assert labels == [f"1001-{letter}" for letter in "ABCDEFG"[: len(labels)]]
    rack = {item["label"]: item for item in live.get("/rack")["stock"]}
    for label in labels:
        assert rack[label]["kind"] == "offcut"
        assert rack[label]["length_left_mm"] == pytest.approx(rack[label]["full_length_mm"], abs=0.0125)
        assert rack[label]["lot"]
    document = json.loads(live.call("GET", f"/jobs/{job['id']}/export").data)
    (exported,) = [one for one in document["job"]["windows"] if one["label"] == "Driver front"]
    assert exported["cut"]["lot"] == "H35-2403"
    again = live.do("POST", "/jobs/import", data=json.dumps(document).encode(), status=201)
    assert again["readiness"] == "All 5 windows are cut", "film that was cut elsewhere stays cut"
    assert not again["cuttings"][0]["may_be_taken_back"], "nothing of it came off this rack"


def test_an_offcut_nobody_keeps_is_waste(live: Desk, database: Database) -> None:
    job, before = opened(live), set(left(database))
    done = cut(live, job, keep=[])
    assert done["cuttings"][0]["kept"] == []
    assert set(left(database)) == before
    assert "kept" not in balance(database, "H35-40")


def test_a_plan_is_cut_once_however_often_it_is_sent(live: Desk, database: Database) -> None:
    job = opened(live)
    task = planned(live, job)
    body = {"input_hash": task["input_hash"]}
    live.do("POST", f"/jobs/{job['id']}/cut", body)
    once = left(database)
    refused = live.do("POST", f"/jobs/{job['id']}/cut", body, status=409)
    assert refused["code"] == "already_cut"
    assert "has booked this plan as cut" in refused["message"]
    assert left(database) == once


def test_a_plan_of_another_state_of_the_job_is_not_booked(live: Desk, database: Database) -> None:
    job, before = opened(live), left(database)
    task = planned(live, job)
    patch(live, window_of(job, "Driver rear"), film_id="dusk20")
    refused = live.do("POST", f"/jobs/{job['id']}/cut", {"input_hash": task["input_hash"]}, status=409)
    assert refused["code"] == "no_plan"
    planned(live, job)
    refused = live.do("POST", f"/jobs/{job['id']}/cut", {"input_hash": task["input_hash"]}, status=409)
    assert refused["code"] == "no_plan"
    assert left(database) == before


def test_a_cut_is_taken_back_within_its_day_to_the_last_count(live: Desk, database: Database) -> None:
    job, before = opened(live), left(database)
    (cutting,) = cut(live, job)["cuttings"]
    assert left(database) != before
    back = live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    assert left(database) == before
    assert back["cuttings"] == []
    assert back["readiness"] == "5 windows ready"
    assert window_of(back, "Driver front")["cut"] is None
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"] + 1}, status=404)
    assert cut(live, back)["readiness"] == "All 5 windows are cut", "and can be cut again"


def test_a_cut_of_another_day_or_whose_offcut_is_used_stays(
    live: Desk, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    (cutting,) = cut(live, opened(live))["cuttings"]
    path, body = f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]}
    monkeypatch.setattr("elumbra.storage.clock.today_iso", lambda: "2099-01-01")
    assert "only on its day" in live.do("POST", path, body, status=422)["message"]
    monkeypatch.undo()
    label = cutting["kept"][0]["label"]
    rack = live.get("/rack")["stock"]
    (offcut,) = [item for item in rack if item["label"] == label]
    fields = {name: offcut[name] for name in ROLL} | {
        "version": offcut["version"],
        "length_left": "10",
        "sure": True,
        "reason": "torn",
    }
    live.do("PUT", f"/stock/{offcut['id']}", fields)
    assert f"The offcut {label} has been used or changed" in live.do("POST", path, body, status=422)["message"]


def test_a_late_window_and_a_spoilt_one_are_planned_and_the_rest_is_not_cut_twice(live: Desk) -> None:
    job = cut(live, opened(live))
    late = window_of(job, "Windshield")
    assert late["film_id"] is None
    done = {window["label"]: window for window in job["windows"]}
    (cutting,) = job["cuttings"]
    job = live.do(
        "POST", f"/cuttings/{cutting['id']}/cut-again",
        {"version": cutting["version"], "window_id": done["Driver rear"]["id"]},
    )  # fmt: skip
    assert job["readiness"] == "1 window ready; 4 already cut"
    plan = planned(live, job)["plan"]
    assert {piece["label"] for film in plan["films"] for piece in film["pieces"]} == {"Driver rear"}
    again = cut(live, job)
    assert len(again["cuttings"]) == 2
    assert again["readiness"] == "All 5 windows are cut"


def test_another_film_on_a_cut_window_is_cut_and_the_old_one_stays_on_record(live: Desk) -> None:
    job = cut(live, opened(live))
    changed = patch(live, window_of(job, "Driver rear"), film_id="dusk20")
    window = window_of(changed, "Driver rear")
    assert (window["cut"]["film_id"], window["cut"]["standing"]) == ("harbor15", False)
    assert changed["readiness"] == "1 window ready; 4 already cut"


# ---- the rack


def put(desk: Desk, **over: Any) -> Any:
    rack = desk.do("POST", "/stock", ROLL | over, status=201)
    return next(item for item in rack["stock"] if item["label"] == over.get("label", ROLL["label"]))


def test_a_slit_roll_is_two_as_long_and_as_wide_together(desk: Desk, database: Database) -> None:
    roll = put(desk, width="20", label="S20")
    rack = desk.do("POST", f"/stock/{roll['id']}/slit", {"version": roll["version"], "at": "10"})
    halves = [item for item in rack["stock"] if item["label"].startswith("S20")]
    assert [item["width_mm"] for item in halves] == [254.0, 254.0]
    assert {item["length_left_mm"] for item in halves} == {roll["length_left_mm"]}
    assert len({item["label"] for item in halves}) == 2
    for item in halves:
        assert item["price_per_m2"] == pytest.approx(roll["price_per_m2"], abs=0.01)
    assert {item["lot"] for item in halves} == {"K9"}
    desk.do("POST", f"/stock/{roll['id']}/slit", {"version": roll["version"] + 1, "at": "10"}, status=404)


@pytest.mark.parametrize("at", ["1", "19", "wide", "0"])
def test_a_roll_is_not_slit_into_nothing(desk: Desk, at: str) -> None:
    roll = put(desk, width="20", label="S20")
    answer = desk.do("POST", f"/stock/{roll['id']}/slit", {"version": roll["version"], "at": at}, status=422)
    assert "at" in answer["fields"]


def test_two_rolls_are_not_called_the_same_and_a_price_of_nothing_is_asked_about(desk: Desk) -> None:
    put(desk, label="K50-36")
    assert "label" in desk.do("POST", "/stock", ROLL | {"label": " k50-36"}, status=422)["fields"]
    asked = desk.do("POST", "/stock", ROLL | {"label": "free", "price": 0}, status=422)
    assert (asked["code"], set(asked["fields"])) == ("ask_again", {"price"})
    put(desk, label="free", price=0, sure=True)


def test_new_stock_has_its_liner_unchecked_until_somebody_checks(desk: Desk) -> None:
    without = {name: value for name, value in ROLL.items() if name != "liner"}
    rack = desk.do("POST", "/stock", without, status=201)
    assert next(item for item in rack["stock"] if item["label"] == "K50-36")["liner"] == "unknown"


# ---- less play, one lot


def only_stock(desk: Desk, film_id: str, *rolls: dict[str, Any]) -> None:
    """The rack of one film, emptied and filled anew."""
    for item in desk.get("/rack")["stock"]:
        if item["film_id"] == film_id:
            desk.do("POST", f"/archive/stock/{item['id']}", {"version": item["version"]})
    for roll in rolls:
        put(desk, film_id=film_id, **roll)


def test_a_pane_short_by_less_than_its_play_fits_with_what_there_is_and_says_so(live: Desk) -> None:
    """A strongly curved pane 23 in high needs 25 in of width; on a 24 3/4 in roll 7/8 in of play are left each side."""
    job = opened(live)
    only_stock(live, "harbor15", {"width": "24 3/4", "label": "narrow"})
    back = window_of(job, "Back glass")
    patch(live, back, level="size", curve="both_ways", readings={"width": read("50"), "height": read("23")})
    plan = planned(live, job)["plan"]
    (short,) = [item for film in plan["films"] for item in film["unplaced"] if item["label"] == "Back glass"]
    assert short["fits_with_play_mm"] == pytest.approx(7 / 8 * 25.4)
    job = patch(live, window_of(opened(live), "Back glass"), play_mm=short["fits_with_play_mm"])
    plan = planned(live, job)["plan"]
    (piece,) = [one for film in plan["films"] for one in film["pieces"] if one["label"] == "Back glass"]
    assert (piece["play_mm"], piece["across_mm"]) == (pytest.approx(22.225), pytest.approx(24.75 * 25.4))


def test_a_pair_stays_on_one_lot_unless_somebody_allows_two(live: Desk) -> None:
    """Each of two short rolls holds one rear door, of 32 1/2 in, and not both."""
    job = opened(live)
    patch(live, window_of(job, "Back glass"), film_id=None)
    rolls = ({"width": "24", "full_length": "40", "length_left": "40", "label": f"R{lot}", "lot": lot} for lot in "AB")
    only_stock(live, "harbor15", *rolls)
    films = planned(live, job)["plan"]["films"]
    (film,) = [one for one in films if one["film_id"] == "harbor15"]
    (missing,) = film["unplaced"]
    assert missing["label"] in ("Driver rear", "Passenger rear")
    assert missing["two_lots"]
    assert "No one lot" in missing["reason"]
    assert film["short"]["most"]["split"] == [film["pieces"][0]["label"]]
    job = opened(live)
    live.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "two_lots_allowed": True})
    (film,) = [one for one in planned(live, job)["plan"]["films"] if one["film_id"] == "harbor15"]
    assert film["unplaced"] == []
    lots = {stock["id"]: stock["lot"] for stock in film["stocks"]}
    assert {lots[piece["stock_id"]] for piece in film["pieces"]} == {"A", "B"}


def test_what_is_short_is_told_with_what_would_do_and_each_of_it_does(live: Desk) -> None:
    """Two rear doors take 32 1/2 in each; a roll of 24 in by 62 in holds one of them, by 3 in too little."""
    job = opened(live)
    patch(live, window_of(job, "Back glass"), film_id=None)
    only_stock(live, "harbor15", {"width": "24", "full_length": "62", "length_left": "62", "label": "H15"})

    def film() -> Any:
        films = planned(live, opened(live))["plan"]["films"]
        return next(one for one in films if one["film_id"] == "harbor15")

    short = film()["short"]
    (longer,) = short["longer"]
    assert (longer["label"], longer["more_mm"]) == ("H15", pytest.approx(3 * 25.4))
    assert longer["at_least_mm"] == longer["more_mm"]
    narrowest = {round(one["width_mm"] / 25.4): one["length_mm"] for one in short["new_rolls"]}
    assert narrowest[24] == pytest.approx(65 * 25.4), "a new roll is of another lot: both of the pair come from it"
    assert (short["most"]["windows"], short["most"]["of"], len(short["most"]["split"])) == (1, 2, 1)
    assert short["less_extra"]["less_mm"] == pytest.approx(0.75 * 25.4)  # 1 1/2 in off each of two pieces
    offered = [one["film_id"] for one in short["other_films"]]
    assert offered
    assert "harbor15" not in offered
    assert {tuple(sorted(one["labels"])) for one in short["other_films"]} == {("Driver rear", "Passenger rear")}
    for one in short["less_extra"]["windows"]:
        label = next(w["label"] for w in opened(live)["windows"] if w["id"] == one["window_id"])
        patch(live, window_of(opened(live), label), play_mm=one["play_mm"])
    assert film()["unplaced"] == []
    assert film()["short"] is None
    for label in short["other_films"][0]["labels"]:
        patch(live, window_of(opened(live), label), film_id=offered[0], play_mm=None)
    films = planned(live, opened(live))["plan"]["films"]
    assert next(one for one in films if one["film_id"] == offered[0])["unplaced"] == []


def test_quick_cut_says_what_is_short_of_typed_pieces(live: Desk) -> None:
    """Two of 38 by 20 in with an inch all round on a roll of 24 in with 78 left: 2 in more, or 1/2 in less extra."""
    only_stock(live, "harbor15", {"width": "24", "full_length": "78", "length_left": "78", "label": "H15"})
    body = {"pieces": [{"width": "38", "height": "20", "count": 2}], "film_id": "harbor15"}
    (film,) = wait(live, live.do("POST", "/quick-cut", body, status=202))["plan"]["films"]
    short = film["short"]
    assert [one["more_mm"] / 25.4 for one in short["longer"]] == pytest.approx([2])
    assert short["less_extra"]["less_mm"] == pytest.approx(0.5 * 25.4)
    assert (short["most"]["windows"], short["most"]["of"]) == (1, 2)
    assert short["other_films"] == [], "typed pieces are of no car that a law could speak of"


# ---- sheets


@pytest.mark.parametrize(
    ("pieces", "fits", "over_in"),
    [
        # Two fronts of 36 × 20, laid one after the other: 2 × 38 = 76 of 78 in.
        ([{"width": "36", "height": "20", "count": 2}], True, 2),
        ([{"width": "38", "height": "20", "count": 2}], False, -2),
        ([{"width": "10", "height": "8"}], True, 78 - 10),
    ],
)
def test_a_home_sheet_says_whether_all_goes_on_it_and_the_least_that_does(
    live: Desk, pieces: list[dict[str, Any]], fits: bool, over_in: float
) -> None:
    body = {"pieces": pieces, "sheet": {"width": "24 in", "length": "6.5 ft"}}
    task = wait(live, live.do("POST", "/quick-cut", body, status=202))
    (film,) = task["plan"]["films"]
    sheet = film["sheet"]
    assert (not film["unplaced"]) is fits
    assert sheet["length_mm"] == pytest.approx(78 * 25.4)
    assert sheet["length_mm"] - sheet["needed_mm"] == pytest.approx(over_in * 25.4)
    assert sheet["least_width_mm"] * sheet["least_length_mm"] <= 24 * 25.4 * sheet["needed_mm"] + 1e-6


def test_a_sheet_that_is_no_size_is_refused_where_it_is_typed(desk: Desk) -> None:
    body = {"pieces": [{"width": "10", "height": "8"}], "sheet": {"width": "24 in", "length": "long"}}
    assert "sheet.length" in desk.do("POST", "/quick-cut", body, status=422)["fields"]


# ---- others' changes


def test_an_open_screen_is_told_what_others_did_since(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    first = desk.get(f"/jobs/{job['id']}/changes")
    assert first["entries"] == [], "what was there when the screen was opened is no news"
    patch(desk_of("tobi"), window_of(job, "Driver rear"), film_id="dusk20")
    told = desk.get(f"/jobs/{job['id']}/changes?since={first['last']}")
    assert told["stamp"] != first["stamp"]
    (entry,) = told["entries"]
    assert (entry["person"], entry["what"], entry["fields"]) == ("Tobi Lund", "Driver rear", ["film_id"])
    quiet = desk.get(f"/jobs/{job['id']}/changes?since={told['last']}")
    assert (quiet["entries"], quiet["stamp"]) == ([], told["stamp"])
    put(desk, label="another")
    assert desk.get(f"/jobs/{job['id']}/changes?since={told['last']}")["stamp"] != told["stamp"], "the rack counts too"

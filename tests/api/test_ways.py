"""Ways of cutting, through the API: patterns, ready-cut kits, mixed in one car."""

import io
from typing import Any

import ezdxf
from pypdf import PdfReader

from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, window_of
from tests.api.test_knife import cut, planned
from tests.api.test_rack_and_layouts import live, wait
from tests.api.test_rack_ledger import again, balanced

__all__ = ["live"]


def by(desk: Desk, job: Any, method: str, **windows: str) -> Any:
    """The job cut by one way, some windows by another."""
    job = desk.do("PATCH", f"/jobs/{job['id']}", {"version": job["version"], "cut_method": method})
    for label, other in windows.items():
        window = window_of(job, label.replace("_", " "))
        job = desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], "cut_method": other})
    return again(desk, job)


def test_a_mixed_car_is_planned_booked_and_balanced(live: Desk) -> None:
    """Patterns for the plotter, a blank by hand and a ready-cut piece in one car: each laid out and booked in its way."""
    job = by(live, opened(live), "plotter", Driver_rear="bulk", Passenger_rear="kit")
    plan = planned(live, job)["plan"]
    kinds = {p["label"]: (p["kind"], p["method"]) for film in plan["films"] for p in film["pieces"]}
    assert kinds["Driver rear"] == ("blank", "bulk")
    assert kinds["Back glass"] == ("pattern", "plotter")
    assert "Passenger rear" not in kinds
    assert [one["label"] for film in plan["films"] for one in film["ready_cut"]] == ["Passenger rear"]
    ways = {way["method"]: way for film in plan["films"] for way in film["ways"]}
    assert set(ways) == {"plotter", "bulk", "kit"}
    assert all(way["steps"] and way["minutes"] > 0 for way in ways.values())
    back = next(p for film in plan["films"] for p in film["pieces"] if p["label"] == "Back glass")
    assert {one["edge"] for one in back["allowances"]} == {"top", "right", "bottom", "left"}
    after = cut(live, job)
    assert after["readiness"] == "All 5 windows are cut"
    assert window_of(after, "Passenger rear")["cut"]["roll"] == "ready-cut kit"
    balanced(live)
    (cutting,) = after["cuttings"]
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    balanced(live)


def test_files_for_the_cutter_download_and_other_stock_is_refused(live: Desk) -> None:
    job = by(live, opened(live), "plotter")
    plan = planned(live, job)["plan"]
    film = next(one for one in plan["films"] if one["pieces"])
    stock = next(one for one in film["stocks"] if one["used_mm"] > 0)
    query = f"film_id={film['film_id']}&stock_id={stock['id']}"
    text = live.call("GET", f"/jobs/{job['id']}/cutter.hpgl?{query}&speed_mm_s=400&force_g=110").data.decode()
    assert text.startswith("IN;VS40;FS110;SP2;")
    assert text.endswith("PU;SP0;\n")
    drawing = live.call("GET", f"/jobs/{job['id']}/cutter.dxf?{query}").data.decode()
    layers = {entity.dxf.layer for entity in ezdxf.read(io.StringIO(drawing)).modelspace()}
    assert layers == {"cut", "mark", "roll_edge"}
    assert live.call("GET", f"/jobs/{job['id']}/pieces.csv").status_code == 200
    refused = live.do("GET", f"/jobs/{job['id']}/cutter.dxf?film_id={film['film_id']}&stock_id=r01", status=404)
    assert refused["message"] == "This plan cuts nothing from that stock."


def test_a_pattern_needs_the_shape_and_says_so(live: Desk) -> None:
    job = opened(live)
    window = window_of(job, "Driver rear")
    sizes = {"width": {"typed": "30"}, "height": {"typed": "18"}}
    job = live.do(
        "PATCH", f"/windows/{window['id']}",
        {"version": window["version"], "level": "size", "readings": sizes, "cut_method": "plotter"},
    )  # fmt: skip
    held = window_of(again(live, job), "Driver rear")["held"]
    assert "A pattern needs its shape, not only its size. Read four sides and two diagonals at Survey." in str(held)


def test_new_jobs_are_cut_as_their_maker_likes_else_as_the_shop_does(desk: Desk, desk_of: Any) -> None:
    ways = desk.get("/ways-of-cutting")
    assert (ways["shop"], ways["own"], ways["shop_version"]) == ("bulk", None, 0)
    ways = desk.do("PUT", "/ways-of-cutting/shop", {"way": "plotter", "version": 0})
    installer = desk_of("tobi")
    refused = installer.do("PUT", "/ways-of-cutting/shop", {"way": "pen", "version": 1}, status=403)
    assert refused["code"] == "not_your_role"
    installer.do("PUT", "/ways-of-cutting/own", {"way": "pen", "version": 0})
    new = {"title": "T", "vehicle_label": "Rook", "body": "sedan", "states": ["TX"]}
    assert desk.do("POST", "/jobs", new, status=201)["cut_method"] == "plotter"
    assert installer.do("POST", "/jobs", new, status=201)["cut_method"] == "pen"
    assert desk.get("/ways-of-cutting")["own"] is None
    stale = desk.do("PUT", "/ways-of-cutting/shop", {"way": "pen", "version": 0}, status=409)
    assert stale["code"] == "stale_version"
    installer.do("PUT", "/ways-of-cutting/own", {"way": None, "version": 1})
    assert installer.do("POST", "/jobs", new, status=201)["cut_method"] == "plotter"


def test_every_piece_has_a_label_that_says_whose_it_is_and_from_what(live: Desk) -> None:
    job = by(live, opened(live), "bulk", Back_glass="plotter")
    plan = planned(live, job)["plan"]
    pieces = [(film, piece) for film in plan["films"] for piece in film["pieces"]]
    for on, pages in (("letter", 1), ("roll", len(pieces))):
        pdf = live.call("GET", f"/jobs/{job['id']}/piece-labels.pdf?on={on}").data
        sheets = PdfReader(io.BytesIO(pdf)).pages
        assert len(sheets) == pages
        text = " ".join(sheet.extract_text() for sheet in sheets)
        for film, piece in pieces:
            stock = next(one for one in film["stocks"] if one["id"] == piece["stock_id"])
            for words in (piece["mark"], piece["label"], film["film_name"], f"off {stock['label']}", stock["lot"]):
                assert words in text
        assert str(job["number"]) in text


def test_a_bought_sheet_holds_more_by_outlines_than_by_blanks_and_the_least_that_does_is_named(live: Desk) -> None:
    """Two fronts on 24 × 78 in: as blanks they are short, along their outlines with 1/2 in all round they fit."""
    job = opened(live)
    for label in ("Driver rear", "Passenger rear", "Back glass"):
        job = patch(live, window_of(job, label), film_id=None)
    task = wait(live, live.do("POST", f"/jobs/{job['id']}/sheet", {"width": "24", "length": "78"}, status=202))
    (film,) = task["plan"]["films"]
    sheet, outlines = film["sheet"], film["sheet"]["by_outlines"]
    assert outlines["play_mm"] == 12.7
    assert outlines["needed_mm"] < sheet["needed_mm"]
    assert outlines["needed_mm"] <= 78 * 25.4
    assert outlines["least_width_mm"] in (508, 609.6)
    assert {piece["label"] for piece in film["pieces"]} == {"Driver front", "Passenger front"}
    assert film["unplaced"] == []
    short = wait(live, live.do("POST", f"/jobs/{job['id']}/sheet", {"width": "24", "length": "40"}, status=202))
    assert len(short["plan"]["films"][0]["unplaced"]) == 1
    refused = live.do("POST", f"/jobs/{job['id']}/sheet", {"width": "wide", "length": "78"}, status=422)
    assert list(refused["fields"]) == ["width"]

"""Heat through the API: tried lines, the turned film, strips, ways with money, papers, the shop's school."""

import io
from typing import Any

import ezdxf
import numpy as np
import pytest
from pypdf import PdfReader
from shapely import Polygon
from svgelements import SVG
from svgelements import Polygon as SvgPolygon

from tests.api.conftest import Desk
from tests.api.test_jobs import opened, window_of
from tests.api.test_knife import patch, planned
from tests.api.test_rack_and_layouts import live
from tests.api.test_rack_ledger import again
from tests.effort import sample

__all__ = ["live"]
COUPE = "Larkspur coupe, limo fronts"


def at_heat(desk: Desk, window: Any, **query: Any) -> Any:
    return desk.get(f"/windows/{window['id']}/shrink?" + "&".join(f"{name}={value}" for name, value in query.items()))


def back(desk: Desk) -> tuple[Any, Any]:
    job = opened(desk, COUPE)
    return job, window_of(job, "Back glass")


def test_a_line_is_tried_kept_and_taken_back(desk: Desk) -> None:
    _, window = back(desk)
    best = at_heat(desk, window)["view"]
    assert best["anchor"]["best"]
    assert best["word"] == "will not shrink"
    lower = at_heat(desk, window, height_mm=best["anchor"]["height_mm"] - 100)["view"]
    assert not lower["anchor"]["best"]
    assert lower["shrink"]["percent"] > best["shrink"]["percent"]
    assert lower["anchor"]["height_mm"] == pytest.approx(best["anchor"]["height_mm"] - 100, abs=0.01)
    kept = patch(desk, window, cross_line_mm=lower["anchor"]["height_mm"], cross_slope=0.02)
    window = window_of(kept, "Back glass")
    assert at_heat(desk, window)["view"]["anchor"]["slope"] == 0.02
    assert at_heat(desk, window, best=True)["view"]["anchor"]["best"]
    freed = patch(desk, window, cross_line_mm=None, cross_slope=0)
    assert at_heat(desk, window_of(freed, "Back glass"))["view"]["anchor"]["best"]


def test_lines_and_slopes_that_cannot_be_are_refused_or_told(desk: Desk) -> None:
    _, window = back(desk)
    for query in ("height_mm=-1", "height_mm=9999", "slope=3", "part=9", "height_mm=nan", "turned=perhaps"):
        assert desk.call("GET", f"/windows/{window['id']}/shrink?{query}").status_code == 422, query
    off = at_heat(desk, window, height_mm=2900)
    assert off["view"] is None
    assert "off the glass" in off["stuck"]
    assert off["mend_at"] == "heat"
    desk.do("GET", "/windows/nobody/shrink", status=404)
    desk.do("PATCH", f"/windows/{window['id']}", {"version": window["version"], "cross_slope": 2}, status=422)


def test_will_not_shrink_holds_the_cut_and_strips_release_it(live: Desk) -> None:
    job, window = back(live)
    assert (window["held_at"], window["ticks"]["heat"], window["ticks"]["cut"]) == ("heat", "trouble", "trouble")
    ways = {way["kind"]: way for way in live.get(f"/windows/{window['id']}/shrink/ways")["ways"]}
    assert not ways["as_it_is"]["works"]
    assert not ways["turned"]["works"]
    assert ways["strips"]["works"]
    assert ways["strips"]["dollars"] > ways["as_it_is"]["dollars"]
    assert ways["strips"]["more_dollars"] == pytest.approx(ways["strips"]["dollars"] - ways["as_it_is"]["dollars"])
    job = patch(live, window, in_strips=True)
    window = window_of(job, "Back glass")
    assert window["held"] is None
    plan = planned(live, job)["plan"]
    strips = [piece for film in plan["films"] for piece in film["pieces"] if piece["window_id"] == window["id"]]
    assert sorted(piece["part"] for piece in strips) == ["strip_1", "strip_2"]
    both = at_heat(live, window)["view"]
    assert [strip["number"] for strip in both["strips"]] == [1, 2]
    first = at_heat(live, window, part=1)["view"]
    assert first["sentence"].startswith("Strip 1 of 2: one piece")
    assert first["shrink"]["high_percent"] <= first["limit_percent"]
    # A reason by a person does too, and another film on the rack would.
    job = patch(
        live, window, in_strips=False, one_piece_because="This model takes it", one_piece_film=window["film_id"]
    )
    assert window_of(job, "Back glass")["held"] is None


def test_the_plotter_gets_the_true_pattern_with_its_ticks(live: Desk) -> None:
    job = opened(live, "Fenwick 4, all round")
    window = window_of(job, "Back glass")
    job = patch(live, window, cut_method="plotter")
    plan = planned(live, job)["plan"]
    (piece,) = [piece for film in plan["films"] for piece in film["pieces"] if piece["label"] == "Back glass"]
    assert piece["true_pattern"]
    assert len(piece["ticks"]) == 4
    view = at_heat(live, window_of(job, "Back glass"))["view"]
    area = Polygon(view["cut_line"]).area
    assert Polygon(piece["cut_line"]).area == pytest.approx(area, rel=1e-4)
    assert view["projection"]["largest_mm"] > view["developed"]["largest_mm"] > 0
    assert view["film_area_mm2"] - view["glass_area_mm2"] == pytest.approx(view["spare_mm2"], abs=3)
    rings = {}
    at = f"/windows/{window['id']}"
    svg = SVG.parse(io.BytesIO(live.call("GET", f"{at}/pattern.svg").data))
    rings["svg"] = (
        min(
            Polygon([(p.x, p.y) for p in shape.points]).area
            for shape in svg.elements()
            if isinstance(shape, SvgPolygon)
        )
        * (25.4 / 96) ** 2
    )
    drawing = ezdxf.read(io.StringIO(live.call("GET", f"{at}/pattern.dxf").text))
    (cut,) = drawing.modelspace().query('LWPOLYLINE[layer=="cut"]')
    rings["dxf"] = Polygon([point[:2] for point in cut.get_points()]).area
    assert len(drawing.modelspace().query('LWPOLYLINE[layer=="mark"]')) == 4
    for name, found in rings.items():
        assert found == pytest.approx(area, rel=2e-3), name
    hpgl = live.call(
        "GET", f"/jobs/{job['id']}/cut.hpgl?stock_id={piece['stock_id']}&film_id={plan['films'][0]['film_id']}"
    )
    assert hpgl.status_code in (200, 404)


def test_the_wall_sheet_says_the_answer_on_either_paper(desk: Desk) -> None:
    job = opened(desk, "Tansy hatch, rears 20")
    window = window_of(job, "Hatch glass")
    sentence = at_heat(desk, window)["view"]["sentence"]
    for paper in ("letter", "a4"):
        pages = PdfReader(
            io.BytesIO(desk.call("GET", f"/windows/{window['id']}/wall-sheet.pdf?paper={paper}").data)
        ).pages
        assert len(pages) == 1
        text = " ".join(pages[0].extract_text().split())
        assert sentence in text
        assert "Film softens at about 105 °C (221 °F)" in text
    unmeasured = window_of(job, "Windshield")
    told = desk.do("GET", f"/windows/{unmeasured['id']}/wall-sheet.pdf", status=404)
    assert "Not measured" in told["message"]


def test_the_whole_car_and_a_window_that_is_not_measured(desk: Desk) -> None:
    job = opened(desk, COUPE)
    car = desk.get(f"/jobs/{job['id']}/shrink")
    assert car["headline"] == "4 of 5 windows take their film in one piece; 1 will not"
    assert car["minutes"] == pytest.approx(sum(one["minutes"] for one in car["windows"]), abs=0.2)
    shield = at_heat(desk, window_of(job, "Windshield"))
    assert (shield["view"], shield["mend_at"]) == (None, "survey")
    assert desk.get(f"/windows/{shield['window_id']}/shrink/ways") == {"ways": []}


def test_the_shops_own_school_is_told_beside_what_was_computed(desk: Desk) -> None:
    _, window = back(desk)
    said = desk.get("/shrink-school")
    assert (said["water"], said["version"]) == (None, 0)
    own = desk.do("PUT", "/shrink-school", {"water": "wet", "hand": None, "place": None, "version": 0})
    assert own["water"] == "wet"
    school = {one["ask"]: one for one in at_heat(desk, window)["view"]["school"]}
    assert school["water"]["overruled"]
    assert "computed was dry" in school["water"]["why"]
    desk.do("PUT", "/shrink-school", {"water": "dry", "hand": None, "place": None, "version": 0}, status=409)
    desk.do("PUT", "/shrink-school", {"water": "damp", "hand": None, "place": None, "version": 1}, status=422)


def test_survey_asks_for_the_reading_that_settles_the_verdict(desk: Desk) -> None:
    job, window = back(desk)
    gone = {
        key: None
        for key in ("crown_across", "crown_across_chord", "crown_up", "crown_up_chord")
        if key in window["readings"]
    }
    ends = {key: None for key in window["readings"] if key.startswith("crown_")}
    job = patch(desk, window, readings=gone | ends, film_id="harbor15")
    window = window_of(job, "Back glass")
    view = at_heat(desk, window)["view"]
    assert view["shrink"]["high_percent"] > view["limit_percent"]
    assert view["shrink"]["low_percent"] <= view["limit_percent"]
    assert window["settled_by"] in ("crown_up", "crown_across")
    assert "settles it" in view["asks"]


def test_answers_are_numbers_on_panes_of_every_kind(desk: Desk) -> None:
    """No pane of the demo shop breaks the view; every drawing is finite and its H lies on the pane."""
    for row in sample(desk.get("/jobs")["jobs"], 2, seed=1):
        job = again(desk, row)
        for window in job["windows"]:
            view = at_heat(desk, window)["view"]
            if view is None:
                continue
            for ring in (view["outline"], view["cut_line"], view["profile_across"], view["profile_up"]):
                assert np.isfinite(np.array(ring)).all()
            low, high = view["side_lines_mm"]
            assert low < high
            assert view["shrink"]["low_percent"] <= view["shrink"]["percent"] <= view["shrink"]["high_percent"]

"""Outlines in and out: round trips, what is repaired and told by number, and a table of hostile files."""

from __future__ import annotations

import csv
import io
import json
from math import cos, pi, sin
from pathlib import Path

import ezdxf
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon

from elumbra.core.glass import WindowKind
from elumbra.documents.outline_in import read_outline
from elumbra.documents.outline_out import LAYERS, pane_drawing, readings_csv, to_dxf, to_svg
from elumbra.documents.outline_ring import OutlineError
from elumbra.documents.shelf import ShelfFile, ShelfFileError, measured, pane_measures, parse_shelf_file, to_bytes
from elumbra.made_up_glass import made_up_shelf
from tests.catalogue.panes import starting
from tests.effort import examples

START = starting()
SHELF = made_up_shelf(cars=14)
READ_PANES = [pane for car in SHELF.cars for pane in car.panes if pane.same_as is None]
BOX = [(0, 0), (900, 0), (820, 460), (60, 450)]


def svg(inside: str, *, size: str = 'width="1000mm" height="600mm" viewBox="0 0 1000 600"', before: str = "") -> bytes:
    return f'{before}<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" {size}>{inside}</svg>'.encode()


def points(corners: list[tuple[float, float]]) -> str:
    return " ".join(f"{x},{600 - y}" for x, y in corners)


def same_shape(ring: np.ndarray, corners: list[tuple[float, float]]) -> float:
    """Greatest distance between two outlines' lines, laid over each other by their least corners [mm]."""
    one, other = np.asarray(ring, float), np.asarray(corners, float)
    return float(Polygon(one - one.min(0)).exterior.hausdorff_distance(Polygon(other - other.min(0)).exterior))


def numbers(content: bytes, width: float | None = None) -> set[int]:
    return {one.number for one in read_outline(content, width=width).findings}


# --- round trips


@pytest.mark.parametrize("pane", READ_PANES, ids=lambda pane: f"{pane.label}-{pane.kind}")
def test_every_pane_of_a_shelf_comes_back_from_its_drawings(pane: object) -> None:
    found = measured(pane, starting=START)  # type: ignore[arg-type]
    assert found.outline is not None
    drawing = pane_drawing("pane", found.outline, pane.kind, pane.findings, starting=START)  # type: ignore[attr-defined]
    for written in (to_svg(drawing), to_dxf(drawing)):
        back = read_outline(written)
        assert back.scale_known
        assert same_shape(back.ring, found.outline.ring) < 0.01
        assert {one.number for one in back.findings} <= {209}


@examples(30, deadline=None)
@given(st.integers(3, 40), st.integers(0, 10_000))
def test_any_ring_comes_back_from_svg_and_dxf(n: int, seed: int) -> None:
    rng = np.random.default_rng(seed)
    turns = 2 * np.pi * (np.arange(n) + rng.uniform(-0.3, 0.3, n)) / n
    ring = np.stack([600 * np.cos(turns), 300 * np.sin(turns)], axis=1) * rng.uniform(0.8, 1.2, (n, 1))
    corners = [(float(x), float(y)) for x, y in ring - ring.min(0)]
    document = ezdxf.new()
    document.units = ezdxf.units.MM
    document.modelspace().add_lwpolyline(corners, close=True)
    text = io.StringIO()
    document.write(text)
    assert same_shape(read_outline(text.getvalue().encode()).ring, corners) < 0.01
    assert same_shape(read_outline(svg(f'<polygon points="{points(corners)}"/>')).ring, corners) < 0.01


def test_a_shelf_comes_back_from_its_file() -> None:
    assert parse_shelf_file(to_bytes(SHELF)) == SHELF


def test_layers_are_named_and_hold_what_was_found() -> None:
    back = next(pane for pane in READ_PANES if pane.kind is WindowKind.BACK_GLASS and "defroster" in pane.findings)
    outline = measured(back, starting=START).outline
    assert outline is not None
    drawing = pane_drawing("x", outline, back.kind, back.findings, starting=START)
    document = ezdxf.read(io.StringIO(to_dxf(drawing).decode()))
    by_layer = {layer: [e for e in document.modelspace() if e.dxf.layer == layer] for layer in LAYERS}
    assert all(by_layer[layer] for layer in LAYERS if layer != "mark"), "ticks are a true pattern's"
    assert len(by_layer["defroster"]) == int(str(back.findings["defroster_lines"]))
    text = to_svg(drawing).decode()
    assert [layer for layer in LAYERS if f'id="{layer}"' in text] == list(LAYERS)


def test_the_made_up_shelf_that_ships_is_the_one_its_script_makes() -> None:
    shipped = Path(__file__).resolve().parents[2] / "src" / "elumbra" / "data" / "shelf_demo.json"
    assert shipped.read_bytes() == to_bytes(made_up_shelf())
    shelf = parse_shelf_file(shipped.read_bytes())
    panes = [pane for car in shelf.cars for pane in car.panes]
    assert len(shelf.cars) >= 40
    assert len(panes) >= 250
    assert {pane.kind for pane in panes} == set(WindowKind)
    assert all(pane.made_up for pane in panes)
    assert len({car.name for car in shelf.cars}) == len(shelf.cars)


def test_readings_as_csv_say_what_was_typed_and_mm() -> None:
    pane = READ_PANES[0]
    rows = list(csv.DictReader(io.StringIO(readings_csv(pane_measures(pane).readings).decode())))
    assert {row["key"]: row["typed"] for row in rows} == {key: one.typed for key, one in pane.readings.items()}
    assert all(float(row["mm"]) >= 0 and row["tape"] in ("surface", "chord") for row in rows)


# --- what a drawing may say


def test_paths_nested_transforms_and_units() -> None:
    inner = '<g transform="translate(100 20)"><g transform="rotate(90) scale(2)"><path d="M0 0 h200 v-300 h-200 z"/></g></g>'
    assert same_shape(read_outline(svg(inner)).ring, [(0, 0), (600, 0), (600, 400), (0, 400)]) < 0.005
    inches = svg(
        f'<polygon points="{points([(0, 0), (30, 0), (30, 18), (0, 18)])}"/>',
        size='width="40in" height="24in" viewBox="0 0 40 24"',
    )
    assert same_shape(read_outline(inches).ring, [(0, 0), (762, 0), (762, 457.2), (0, 457.2)]) < 0.005


def test_curves_are_followed_closely() -> None:
    circle = [(400 + 300 * cos(t), 300 + 300 * sin(t)) for t in np.linspace(0, 2 * pi, 4000, endpoint=False)]
    assert same_shape(read_outline(svg('<circle cx="400" cy="300" r="300"/>')).ring, circle) < 0.01
    document = ezdxf.new()
    document.units = ezdxf.units.MM
    model = document.modelspace()
    model.add_arc((0, 0), 300, 0, 180)
    model.add_line((-300, 0), (300, 0))
    text = io.StringIO()
    document.write(text)
    half = [(300 * cos(t), 300 * sin(t)) for t in np.linspace(0, pi, 4000)]
    assert same_shape(read_outline(text.getvalue().encode()).ring, half) < 0.01


def test_one_typed_width_sets_a_scale_that_is_not_known() -> None:
    unsized = svg(f'<polygon points="{points(BOX)}"/>', size='viewBox="0 0 1000 600"')
    assert not read_outline(unsized).scale_known
    sized = read_outline(unsized, width=1200.0)
    assert sized.scale_known
    assert float(np.ptp(sized.ring[:, 0])) == pytest.approx(1200)


def lines_dxf(*parts: list[tuple[float, float]], units: int = 4) -> bytes:
    document = ezdxf.new()
    document.header["$INSUNITS"] = units
    for part in parts:
        document.modelspace().add_lwpolyline(part)
    text = io.StringIO()
    document.write(text)
    return text.getvalue().encode()


def test_open_lines_are_joined_within_the_stated_tolerance_and_told() -> None:
    pieces = ([(0, 0), (900, 0)], [(820.0, 460), (900.3, 0.2)], [(820, 460), (60, 450), (0, 0.3)])
    found = read_outline(lines_dxf(*pieces))
    assert same_shape(found.ring, BOX) < 0.6
    assert 301 in {one.number for one in found.findings}
    with pytest.raises(OutlineError, match=r"ends of the longest lie .* apart"):
        read_outline(lines_dxf([(0, 0), (900, 0), (820, 460), (60, 450), (0, 9)]))


def test_the_largest_closed_line_is_taken_and_the_rest_told() -> None:
    found = read_outline(
        svg(f'<polygon points="{points(BOX)}"/><rect x="300" y="300" width="80" height="40"/><path d="M0 0 L5 5"/>')
    )
    assert same_shape(found.ring, BOX) < 0.005
    assert {one.number for one in found.findings} == {302, 303}


@pytest.mark.parametrize(("units", "mm"), [(1, 25.4), (4, 1.0), (5, 10.0), (6, 1000.0)])
def test_dxf_units(units: int, mm: float) -> None:
    corners = [(x / mm, y / mm) for x, y in BOX]
    assert same_shape(read_outline(lines_dxf([*corners, corners[0]], units=units)).ring, BOX) < 0.005


def test_splines_and_blocks_are_told_by_number() -> None:
    document = ezdxf.new()
    document.units = ezdxf.units.MM
    block = document.blocks.new("B")
    block.add_line((0, 0), (1, 1))
    model = document.modelspace()
    model.add_lwpolyline(BOX, close=True)
    model.add_spline([(0, 0), (50, 80), (100, 0)])
    model.add_blockref("B", (0, 0))
    model.add_text("glass")
    text = io.StringIO()
    document.write(text)
    assert numbers(text.getvalue().encode()) == {206, 207, 208}


# --- hostile and broken files: each refused or repaired, in words, with nothing executed or fetched

GOOD = f'<polygon points="{points(BOX)}"/>'
BOMB = '<!DOCTYPE svg [<!ENTITY a "aaaaaaaaaa"><!ENTITY b "&a;&a;&a;&a;&a;&a;&a;&a;"><!ENTITY c "&b;&b;&b;&b;&b;&b;&b;&b;">]>'
FILES = {
    "script": (svg(f"<script>alert(1)</script>{GOOD}"), {201}),
    "event handler": (svg(f'<g onload="alert(1)">{GOOD}</g>'), {201}),
    "animation": (svg(f'<animate attributeName="x"/>{GOOD}'), {201}),
    "foreign object": (svg(f"<foreignObject><p/></foreignObject>{GOOD}"), {201}),
    "picture from elsewhere": (svg(f'<image href="file:///etc/passwd"/>{GOOD}'), {202}),
    "use of another file": (svg(f'<use xlink:href="http://127.0.0.1:9/x.svg#a"/>{GOOD}'), {202}),
    "style sheet": (svg(f'<style>polygon{{display:none}} @import url("http://127.0.0.1:9/");</style>{GOOD}'), {203}),
    "style attribute": (svg(f'<g style="background:url(http://127.0.0.1:9/)">{GOOD}</g>'), {203}),
    "text": (svg(f"<text>wide</text>{GOOD}"), {204}),
    "use of use": (svg(f'<g id="a">{GOOD}</g><g id="b"><use href="#a"/></g><use href="#b"/>'), {205, 302}),
    "touches itself": (svg('<polygon points="0,0 900,0 900,450 500,450 500,449.999 500,450 0,450"/>'), None),
}  # fmt: skip
REFUSED = {
    "entity bomb": (svg(GOOD.replace("0,600", "&c;"), before=BOMB), "entities"),
    "external entity": (svg(GOOD, before='<!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>'), "entities"),
    "crossing": (svg('<polygon points="0,0 900,450 900,0 0,450"/>'), "crosses itself"),
    "open": (svg('<path d="M0 0 L900 0 L900 400"/>'), "closes"),
    "30 m wide": (svg('<polygon points="0,0 30000,0 30000,400 0,400"/>'), "no car glass"),
    "one point": (svg('<path d="M5 5 z"/>'), "nothing"),
    "a straight line there and back": (svg('<path d="M0 0 L900 0 L0 0 z"/>'), "nothing"),
    "no line": (svg("<g/>"), "no line"),
    "not a number": (svg('<polygon points="0,0 nan,5 9,inf"/>'), None),
    "absurd numbers": (svg('<path d="M0 0 H1e308 V1e308 H-1e308 z"/>'), None),
    "nested deep": (svg("<g>" * 300 + GOOD + "</g>" * 300), "nested"),
    "many elements": (svg("<g/>" * 6000), "elements"),
    "many points": (svg(f'<polygon points="{" ".join("1,1" for _ in range(200_000))}"/>'), "points"),
    "broken xml": (b"<svg><polygon", "broken"),
    "other xml": (b"<html><body/></html>", "no SVG"),
    "empty": (b"", "neither"),
    "picture": (b"\x89PNG\r\n\x1a\n", "neither"),
    "binary dxf": (b"AutoCAD Binary DXF\r\n\x1a\x00....", "binary"),
    "truncated dxf": (lines_dxf([*BOX, BOX[0]])[:900], None),
    "dxf of noise": (b"0\nSECTION\n" + bytes(range(1, 200)) * 40, None),
    "too large": (b"<svg>" + b" " * 4_100_000, "MB"),
}  # fmt: skip


@pytest.mark.parametrize("name", FILES)
def test_what_acts_or_fetches_is_left_out_and_the_outline_stays(name: str) -> None:
    content, wanted = FILES[name]
    found = read_outline(content)
    if wanted is not None:
        assert {one.number for one in found.findings} == wanted
        assert same_shape(found.ring, BOX) < 0.005
    assert Polygon(found.ring).is_valid
    assert all(one.words for one in found.findings)


@pytest.mark.parametrize("name", REFUSED)
def test_what_cannot_be_an_outline_is_refused_in_words(name: str) -> None:
    content, says = REFUSED[name]
    with pytest.raises(OutlineError, match=says) as refusal:
        read_outline(content)
    assert len(refusal.value.message) > 20


@examples(150, deadline=None)
@given(st.binary(max_size=400), st.sampled_from([svg(GOOD), lines_dxf([*BOX, BOX[0]])]), st.integers(0, 3000))
def test_damaged_files_are_read_or_refused_and_never_break(noise: bytes, whole: bytes, at: int) -> None:
    content = whole[:at] + noise + whole[at + len(noise) :]
    try:
        found = read_outline(content)
    except OutlineError as refusal:
        assert refusal.message
    else:
        assert Polygon(found.ring).is_valid


# --- shelf files


def shelf_json(**over: object) -> bytes:
    return json.dumps(json.loads(to_bytes(ShelfFile(cars=SHELF.cars[:1]))) | over).encode()


@pytest.mark.parametrize(
    ("content", "says"),
    [
        (shelf_json(format_version=2), "version 2"),
        (shelf_json(format="elumbra-job"), "not an Elumbra shelf file"),
        (shelf_json(cars=[{"name": ""}]), "cars"),
        (shelf_json(surprise=1), "surprise"),
        (b"{", "no JSON"),
        (b"\xff\xfe", "no JSON"),
        (b"[" * 100_000, "no JSON"),
    ],
)
def test_shelf_files_that_cannot_be_opened_say_why(content: bytes, says: str) -> None:
    with pytest.raises(ShelfFileError, match=says):
        parse_shelf_file(content)


def test_a_pane_that_mirrors_itself_or_nothing_is_refused_by_its_place() -> None:
    document = json.loads(shelf_json())
    for same_as in (0, 55):
        document["cars"][0]["panes"][0]["same_as"] = same_as
        with pytest.raises(ShelfFileError) as refusal:
            parse_shelf_file(json.dumps(document).encode())
        assert "cars[0].panes[0].same_as" in refusal.value.fields

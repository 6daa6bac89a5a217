"""What a cutter is sent reads back equal, piece by piece, and keeps the hand."""

import csv
import io
import re
import xml.etree.ElementTree as ET

import ezdxf
import numpy as np
import pytest
from shapely import Polygon

from elumbra.documents.cutter_files import CutterSettings, to_csv, to_dxf, to_hpgl
from elumbra.documents.layout_svg import layout_svg
from tests.catalogue.jobs import job_document
from tests.documents.test_plan import plan_of


def hpgl_lines(text: str) -> list[np.ndarray]:
    """What an HP-GL file cuts with pen 1, read by a few lines of our own [mm]."""
    lines, at, pen = [], None, 0
    for word in text.split(";"):
        found = re.fullmatch(r"(PU|PD|SP)([\d,.-]*)", word.strip())
        if not found:
            continue
        numbers = [int(n) for n in found.group(2).split(",") if n]
        if found.group(1) == "SP":
            pen = numbers[0]
        elif found.group(1) == "PU" and numbers:
            at = numbers
        elif found.group(1) == "PD" and pen == 1 and at:
            lines.append(np.array([at, *zip(numbers[::2], numbers[1::2], strict=True)], float) / 40)
    return lines


def svg_lines(content: bytes, stock_id: str, width: float) -> list[np.ndarray]:
    """The cut lines of one stock in a layout drawing, its y counted from the top [mm]."""
    svg = "{http://www.w3.org/2000/svg}"
    group = next(one for one in ET.fromstring(content).iter(f"{svg}g") if one.get("data-stock") == stock_id)
    rings = [one.get("points", "") for one in group.iter(f"{svg}polygon") if one.get("class") == "cut"]
    points = [np.array([[float(n) for n in pair.split(",")] for pair in ring.split()]) for ring in rings]
    return [np.column_stack([ring[:, 0], width - ring[:, 1]]) for ring in points]


@pytest.mark.parametrize("liner", ["up", "down"])
def test_a_cutter_s_files_read_back_equal_and_keep_the_hand(liner: str) -> None:
    document = job_document()
    document["job"]["vehicle"]["cut_method"] = "plotter"
    for stock in document["stock"]:
        stock["liner"] = liner
    plan = plan_of(document)
    film = plan.films[0]
    assert {piece.kind for piece in film.pieces} == {"pattern"}
    for stock in (one for one in film.stocks if one.used_mm > 0):
        pieces = [piece for piece in film.pieces if piece.stock_id == stock.id]
        drawing = ezdxf.read(io.StringIO(to_dxf(film, stock.id).decode()))
        cut = [
            np.array([p[:2] for p in e.get_points()]) for e in drawing.modelspace().query('LWPOLYLINE[layer=="cut"]')
        ]
        plotted = hpgl_lines(to_hpgl(film, stock.id, CutterSettings()).decode())
        for lines in (cut, plotted, svg_lines(layout_svg(film), stock.id, stock.width_mm)):
            assert len(lines) == len(pieces)
            for piece in pieces:
                due = Polygon(piece.cut_line)
                got = min(
                    (Polygon(line).buffer(0) for line in lines), key=lambda one: one.symmetric_difference(due).area
                )
                assert got.exterior.hausdorff_distance(due.exterior) < 0.05
                flipped = Polygon([(2 * piece.x_mm + piece.along_mm - x, y) for x, y in piece.cut_line])
                assert got.symmetric_difference(flipped).area > 50 * got.symmetric_difference(due).area
    rows = to_csv(film).decode("utf-8-sig").splitlines()
    assert len(rows) == 1 + len(film.pieces)
    told = {row["mark"]: row for row in csv.DictReader(rows)}
    for piece in film.pieces:
        sizes = [float(told[piece.mark][name]) for name in ("along_mm", "across_mm", "x_mm", "y_mm")]
        assert sizes == pytest.approx([piece.along_mm, piece.across_mm, piece.x_mm, piece.y_mm], abs=0.05)

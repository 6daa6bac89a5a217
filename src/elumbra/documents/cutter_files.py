"""What a cutter is sent: one stock's cut lines as DXF, HP-GL or CSV, as they lie seen from above.

A plan's cut lines are already those of the side that lies up; the hand of a file is that of the roll
as it is loaded. Blanks are cut as rectangles, patterns along their cut line.

HP-GL has 40 units a millimetre. Along the roll is the first coordinate, so that the film runs to and
fro as little as may be: pieces are cut from the free end on, inner lines before outer ones. Tried on
the simulated cutter that ships, never on a real one.
"""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass

from ezdxf import units
from ezdxf.document import Drawing

from elumbra.documents.plan import FilmPlan, PlanPiece, Point
from elumbra.documents.table_csv import as_text

UNITS_PER_MM = 40
LAYERS = {"cut": 5, "mark": 8, "roll_edge": 7}


@dataclass(frozen=True)
class CutterSettings:
    """How a cutter is driven."""

    cut_pen: int = 1
    mark_pen: int = 2
    speed_mm_s: int = 300
    force_g: int = 90
    overcut_mm: float = 1.0  # along the line past its start, so that the piece comes free
    marks: bool = True  # each piece's mark, drawn as a small cross in its middle


def cut_ring(piece: PlanPiece) -> list[Point]:
    """The line that frees a piece, closed, the first point not repeated [mm]."""
    if piece.kind == "pattern":
        return piece.cut_line
    x, y, u, v = piece.x_mm, piece.y_mm, piece.x_mm + piece.along_mm, piece.y_mm + piece.across_mm
    return [[x, y], [u, y], [u, v], [x, v]]


def in_cutting_order(plan: FilmPlan, stock_id: str) -> list[PlanPiece]:
    """Pieces of one stock from its free end on, so that what is cut is not pulled over again."""
    return sorted(
        (piece for piece in plan.pieces if piece.stock_id == stock_id),
        key=lambda piece: (piece.x_mm, piece.y_mm, piece.mark),
    )


def to_dxf(plan: FilmPlan, stock_id: str) -> bytes:
    """One stock as DXF in millimetres: layers cut, mark, roll_edge."""
    document = Drawing.new("AC1024")
    document.units = units.MM
    for name, colour in LAYERS.items():
        document.layers.add(name, color=colour)
    model = document.modelspace()
    stock = next(one for one in plan.stocks if one.id == stock_id)
    edge = [(0.0, 0.0), (stock.used_mm, 0.0), (stock.used_mm, stock.width_mm), (0.0, stock.width_mm)]
    model.add_lwpolyline(edge, close=True, dxfattribs={"layer": "roll_edge"})
    for piece in in_cutting_order(plan, stock_id):
        model.add_lwpolyline([(x, y) for x, y in cut_ring(piece)], close=True, dxfattribs={"layer": "cut"})
        for tick in piece.ticks:
            model.add_lwpolyline([(x, y) for x, y in tick], dxfattribs={"layer": "mark"})
        text = model.add_text(f"{piece.mark} {piece.label}", height=12, dxfattribs={"layer": "mark"})
        text.set_placement((piece.x_mm + piece.along_mm / 3, piece.y_mm + piece.across_mm / 2))
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")


def to_hpgl(plan: FilmPlan, stock_id: str, settings: CutterSettings, *, after: int = 0) -> bytes:
    """One stock as HP-GL: speed and force, marks with their pen, then each cut line with its overcut.

    ``after`` leaves out so many pieces in cutting order: those that were cut before a stop.
    """
    words = ["IN", f"VS{settings.speed_mm_s // 10}", f"FS{settings.force_g}"]
    pieces = in_cutting_order(plan, stock_id)[after:]
    if settings.marks:
        words.append(f"SP{settings.mark_pen}")
        for piece in pieces:
            x, y = piece.x_mm + piece.along_mm / 2, piece.y_mm + piece.across_mm / 2
            for start, *rest in piece.ticks:
                words += [_up(*start), _down(rest)]
            words += [_up(x - _CROSS, y), _down([[x + _CROSS, y]]), _up(x, y - _CROSS), _down([[x, y + _CROSS]])]
    words.append(f"SP{settings.cut_pen}")
    for piece in pieces:
        ring = cut_ring(piece)
        words += [_up(*ring[0]), _down([*ring[1:], ring[0], *_overcut(ring, settings.overcut_mm)])]
    words += ["PU", "SP0"]
    return (";".join(words) + ";\n").encode("ascii")


_CROSS = 4.0


def _overcut(ring: list[Point], length: float) -> list[Point]:
    """The first stretch of a line once more."""
    path: list[Point] = []
    left, at = length, ring[0]
    for to in [*ring[1:], ring[0]]:
        step = ((to[0] - at[0]) ** 2 + (to[1] - at[1]) ** 2) ** 0.5
        if left <= 0:
            break
        share = min(1.0, left / step) if step else 1.0
        path.append([at[0] + share * (to[0] - at[0]), at[1] + share * (to[1] - at[1])])
        left, at = left - step, to
    return path


def _up(x: float, y: float) -> str:
    return f"PU{_units(x)},{_units(y)}"


def _down(points: list[Point]) -> str:
    return "PD" + ",".join(f"{_units(x)},{_units(y)}" for x, y in points)


def _units(mm: float) -> int:
    return round(mm * UNITS_PER_MM)


def to_csv(plan: FilmPlan) -> bytes:
    """Every piece, one a line, sizes and place in mm."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(["mark", "window", "stock", "way", "x_mm", "y_mm", "along_mm", "across_mm", "turn", "pair"])
    stocks = {stock.id: stock.label for stock in plan.stocks}
    for piece in plan.pieces:
        label = as_text(piece.label)
        sizes = (f"{value:.4f}" for value in (piece.x_mm, piece.y_mm, piece.along_mm, piece.across_mm))
        writer.writerow(
            [piece.mark, label, stocks[piece.stock_id], piece.method, *sizes, f"{piece.turn:g}", piece.pair_mark or ""]
        )
    return stream.getvalue().encode("utf-8-sig")

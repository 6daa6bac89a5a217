"""The layout as SVG to true scale: one millimetre in the file is one millimetre of film."""

from __future__ import annotations

from collections.abc import Sequence
from xml.etree import ElementTree as ET

from elumbra.core.units import format_inches
from elumbra.documents.plan import FilmPlan, PlanPiece, PlanStock

_MARGIN = 60.0
_GAP = 160.0
_TEXT = 26.0
_INCH = 25.4
_INK = "#201d1a"
_SUN = "#b86e00"


def layout_svg(plan: FilmPlan, *, told: Sequence[str] = ()) -> bytes:
    """All stock that one film's pieces are cut from, one below the other.

    Parameters
    ----------
    plan
        One film of a plan document; with nothing placed the drawing is empty but valid.
    told
        Lines below the drawing: how many windows are ready, and each that is held back.

    Returns
    -------
    bytes
        UTF-8 SVG, ``width`` and ``height`` in mm, y of the drawing turned so that the near
        factory edge of each stock lies below.
    """
    used = [stock for stock in plan.stocks if stock.used_mm > 0]
    width = max((stock.used_mm for stock in used), default=0.0) + 2 * _MARGIN
    height = sum(stock.width_mm + _GAP for stock in used) + 2 * _MARGIN + len(told) * 1.5 * _TEXT
    root = ET.Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{width:.2f}mm",
            "height": f"{height:.2f}mm",
            "viewBox": f"0 0 {width:.2f} {height:.2f}",
            "font-family": "Barlow, sans-serif",
            "font-size": f"{_TEXT}",
        },
    )
    ET.SubElement(root, "title").text = f"{plan.film_name}: cut layout, true scale, seen from above"
    top = _MARGIN
    for stock in used:
        place = {"transform": f"translate({_MARGIN} {top + _GAP / 2:.2f})", "data-stock": stock.id}
        group = ET.SubElement(root, "g", place)
        _draw_stock(group, stock, plan)
        top += stock.width_mm + _GAP
    for line in told:
        top += 1.5 * _TEXT
        _text(root, line, _MARGIN, top)
    ET.indent(root)
    return bytes(ET.tostring(root, encoding="utf-8", xml_declaration=True))


def _draw_stock(group: ET.Element, stock: PlanStock, plan: FilmPlan) -> None:
    heading = (
        f"{stock.label} · {format_inches(stock.width_mm)} in wide · cut {format_inches(stock.used_mm)} in · "
        f"seen from above, {stock.facing} · roll unrolls left to right (machine direction)"
    )
    _text(group, heading, 0, -_TEXT, bold=True)
    _rect(group, 0, 0, stock.used_mm, stock.width_mm, stroke=_INK, width=2)
    for piece in plan.pieces:
        if piece.stock_id == stock.id:
            _draw_piece(group, piece, stock.width_mm)
    for cut in plan.cuts:
        if cut.stock_id == stock.id:
            (x1, y1), (x2, y2) = cut.start, cut.end
            line = {"x1": x1, "y1": stock.width_mm - y1, "x2": x2, "y2": stock.width_mm - y2}
            style = {"stroke": _SUN, "stroke-width": "1.5", "data-cut": str(cut.number), "data-kind": cut.kind}
            ET.SubElement(group, "line", {key: f"{value:.2f}" for key, value in line.items()} | style)
    _ruler(group, stock)


def _draw_piece(group: ET.Element, piece: PlanPiece, stock_width: float) -> None:
    top = stock_width - piece.y_mm - piece.across_mm
    holder = ET.SubElement(
        group, "g", {"data-mark": piece.mark, "data-window": piece.window_id, "data-turn": str(piece.turn)}
    )
    if piece.kind == "pattern":
        line = " ".join(f"{x:.3f},{stock_width - y:.3f}" for x, y in piece.cut_line)
        ET.SubElement(holder, "polygon", {"points": line, "fill": "none", "stroke": _SUN, "class": "cut"})
        for tick in piece.ticks:
            ends = " ".join(f"{x:.3f},{stock_width - y:.3f}" for x, y in tick)
            ET.SubElement(holder, "polyline", {"points": ends, "fill": "none", "stroke": _INK, "class": "tick"})
    else:
        _rect(holder, piece.x_mm, top, piece.along_mm, piece.across_mm, stroke=_INK, width=1)
    points = " ".join(f"{x:.2f},{stock_width - y:.2f}" for x, y in piece.outline)
    outline = {"points": points, "fill": "none", "stroke": _INK, "stroke-width": "1", "class": "glass"}
    if not piece.measured:
        outline["stroke-dasharray"] = "12 8"
    ET.SubElement(holder, "polygon", outline)
    middle_x, middle_y = piece.x_mm + piece.along_mm / 2, top + piece.across_mm / 2
    size = f"{format_inches(piece.along_mm)} × {format_inches(piece.across_mm)}"
    _text(holder, f"{piece.mark} {piece.label}", middle_x, middle_y, anchor="middle", bold=True)
    _text(holder, size, middle_x, middle_y + _TEXT * 1.2, anchor="middle")
    if piece.unlawful:
        ET.SubElement(holder, "desc").text = piece.unlawful
        _text(holder, piece.unlawful.split(";")[0], middle_x, middle_y + _TEXT * 2.4, anchor="middle", bold=True)


def _ruler(group: ET.Element, stock: PlanStock) -> None:
    base = stock.width_mm
    inch = 0
    while inch * _INCH <= stock.used_mm + 1e-6:
        long = inch % 10 == 0
        tick = {"x1": inch * _INCH, "x2": inch * _INCH, "y1": base, "y2": base + (18 if long else 8)}
        ET.SubElement(group, "line", {key: f"{value:.2f}" for key, value in tick.items()} | {"stroke": _INK})
        if long:
            _text(group, str(inch), inch * _INCH, base + 18 + _TEXT, anchor="middle")
        inch += 2


def _rect(parent: ET.Element, x: float, y: float, w: float, h: float, *, stroke: str, width: float) -> None:
    box = {"x": x, "y": y, "width": w, "height": h}
    style = {"fill": "none", "stroke": stroke, "stroke-width": str(width)}
    ET.SubElement(parent, "rect", {key: f"{value:.2f}" for key, value in box.items()} | style)


def _text(parent: ET.Element, words: str, x: float, y: float, *, anchor: str = "start", bold: bool = False) -> None:
    place = {"x": f"{x:.2f}", "y": f"{y:.2f}", "text-anchor": anchor, "fill": _INK}
    if bold:
        place["font-weight"] = "700"
    ET.SubElement(parent, "text", place).text = words

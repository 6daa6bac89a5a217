"""A pane as a drawing: SVG and DXF with layers glass, border, defroster, cut; its readings as CSV."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping
from dataclasses import dataclass
from xml.etree.ElementTree import Element, SubElement, tostring

import numpy as np
from ezdxf import units
from ezdxf.document import Drawing
from numpy.typing import NDArray
from shapely import LineString, Polygon

from elumbra.core.cut import cut_line, fixed_edge, inside_borders
from elumbra.core.glass import Outline, WindowKind
from elumbra.core.measure import Readings, label
from elumbra.core.starting import StartingValues
from elumbra.core.survey import Answers, length_of

Points = NDArray[np.float64]
LAYERS = ("glass", "border", "defroster", "cut", "mark")
_MARGIN = 10.0
_COLOURS = {"glass": 7, "border": 8, "defroster": 30, "cut": 5, "mark": 8}
_STROKES = {"glass": "#1c1a17", "border": "#6b6256", "defroster": "#b36b00", "cut": "#4b3f72", "mark": "#1c1a17"}


@dataclass(frozen=True)
class PaneDrawing:
    """A pane's lines by layer, mm, seen from outside, y up."""

    title: str
    rings: Mapping[str, tuple[Points, ...]]  # closed
    lines: Mapping[str, tuple[Points, ...]]  # open


def pane_drawing(
    title: str, outline: Outline, kind: WindowKind, findings: Answers, *, starting: StartingValues
) -> PaneDrawing:
    """The lines of a pane: its glass, what is printed on it as far as it was read, and where film is cut.

    The cut line is laid off in the plane: behind the seals of a door, onto the border of fixed
    glass, into its gasket (handbook, section 5). On curved glass the true
    flat pattern is another.
    """
    glass = Polygon(outline.ring)
    edge = fixed_edge(findings)
    inside = inside_borders(glass, edge.borders) if edge.read else None
    rings = {"glass": (outline.ring,), "cut": (cut_line(outline, kind, edge=edge, starting=starting).ring,)}
    if inside is not None:
        rings["border"] = (np.asarray(inside.exterior.coords)[:-1],)
    return PaneDrawing(title, rings, {"defroster": _defroster(glass, findings)})


def _defroster(glass: Polygon, findings: Answers) -> tuple[Points, ...]:
    first, pitch = length_of(findings, "defroster_first"), length_of(findings, "defroster_pitch")
    if first is None or not pitch or pitch <= 0:
        return ()
    low_x, low_y, high_x, high_y = glass.bounds
    most = int((high_y - low_y) / pitch) + 1
    count = findings.get("defroster_lines")
    found = []
    for i in range(min(int(str(count)), most) if count else most):
        y = high_y - first - i * pitch
        if y <= low_y:
            break
        line = glass.intersection(LineString([(low_x - 1, y), (high_x + 1, y)]))
        if isinstance(line, LineString) and line.length > 0:
            found.append(np.asarray(line.coords))
    return tuple(found)


def to_svg(drawing: PaneDrawing) -> bytes:
    """A drawing as SVG in millimetres, one group a layer."""
    everything = np.vstack([line for lines in (*drawing.rings.values(), *drawing.lines.values()) for line in lines])
    low, high = everything.min(axis=0) - _MARGIN, everything.max(axis=0) + _MARGIN
    width, height = high - low
    root = Element(
        "svg",
        {
            "xmlns": "http://www.w3.org/2000/svg",
            "width": f"{width:.4f}mm",
            "height": f"{height:.4f}mm",
            "viewBox": f"0 0 {width:.4f} {height:.4f}",
        },
    )
    SubElement(root, "title").text = drawing.title
    for layer in LAYERS:
        group = SubElement(root, "g", {"id": layer, "fill": "none", "stroke": _STROKES[layer], "stroke-width": "0.5"})
        for tag, lines in (("polygon", drawing.rings.get(layer, ())), ("polyline", drawing.lines.get(layer, ()))):
            for line in lines:
                at = np.stack([line[:, 0] - low[0], high[1] - line[:, 1]], axis=1)
                SubElement(group, tag, {"points": " ".join(f"{x:.4f},{y:.4f}" for x, y in at)})
    return b'<?xml version="1.0" encoding="UTF-8"?>\n' + tostring(root) + b"\n"


def to_dxf(drawing: PaneDrawing) -> bytes:
    """A drawing as DXF in millimetres, one layer each, closed polylines."""
    document = Drawing.new("AC1024")
    document.units = units.MM
    for layer in LAYERS:
        document.layers.add(layer, color=_COLOURS[layer])
    model = document.modelspace()
    for layer in LAYERS:
        for ring in drawing.rings.get(layer, ()):
            model.add_lwpolyline(ring.tolist(), close=True, dxfattribs={"layer": layer})
        for line in drawing.lines.get(layer, ()):
            model.add_lwpolyline(line.tolist(), dxfattribs={"layer": layer})
    stream = io.StringIO()
    document.write(stream)
    return stream.getvalue().encode("utf-8")


def readings_csv(readings: Readings) -> bytes:
    """A pane's readings, one a line: key, name, as typed, mm, how the tape lay."""
    stream = io.StringIO()
    writer = csv.writer(stream, lineterminator="\n")
    writer.writerow(["key", "reading", "typed", "mm", "tape"])
    for key, one in readings.items():
        writer.writerow([key, label(key), one.typed, f"{one.mm:.4f}", one.mode.value])
    return stream.getvalue().encode("utf-8")

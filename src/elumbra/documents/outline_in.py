"""An outline from a drawing: SVG or DXF in, one closed ring and numbered findings out.

Nothing in a file is executed or fetched. What was repaired and what was left out is told by
number: 1xx the file, 2xx its parts, 3xx the ring. Never tried on files of every program there
is; what cannot be read is refused with the reason.
"""

from __future__ import annotations

import io
import re
from collections.abc import Iterable
from itertools import pairwise
from math import acos, atan, ceil
from typing import Any
from xml.etree.ElementTree import Element, tostring

import numpy as np
from defusedxml import DefusedXmlException
from defusedxml.ElementTree import ParseError, fromstring
from ezdxf import recover, units
from ezdxf.enums import InsertUnits
from ezdxf.lldxf.const import DXFError
from ezdxf.math import Vec2, Vec3, bulge_center, bulge_radius
from svgelements import SVG, Path, Shape

from elumbra.documents.outline_ring import (
    HAIR,
    JOIN_MM,
    MOST_LINES,
    DrawnOutline,
    Notes,
    OutlineError,
    Points,
    check_size,
    finished,
    one_ring,
)

LARGEST_FILE = 4_000_000
FLATTEN_MM = 0.003  # how far a polygon may leave the curve that it stands for
_MOST_ELEMENTS = 5000
_MOST_TEXT = 400_000
_SVG = "http://www.w3.org/2000/svg"
_HREF = "{http://www.w3.org/1999/xlink}href"
_DRAWN = {"svg", "g", "path", "polygon", "polyline", "rect", "circle", "ellipse", "line", "use", "defs", "symbol"}
_ACTING = {"script", "foreignObject", "animate", "animateTransform", "set"}
_SILENT = {"title", "desc", "metadata", "namedview"}
_KEPT = {
    "d", "points", "x", "y", "x1", "y1", "x2", "y2", "cx", "cy", "r", "rx", "ry", "width", "height", "viewBox",
    "transform", "id", "href", _HREF, "preserveAspectRatio",
}  # fmt: skip
GLASS = "glass"
BESIDE_GLASS = frozenset({"border", "defroster", "cut"})  # layers of a pane, as they are written
_PHYSICAL = re.compile(r"^\s*[\d.eE+]+\s*(mm|cm|in|pt|pc|Q)\s*$")


def read_outline(content: bytes, *, width: float | None = None) -> DrawnOutline:
    """The outline that a drawing holds.

    Parameters
    ----------
    content
        The file, SVG or DXF as text.
    width
        Greatest width of the pane [mm]: sets the scale, where given.

    Raises
    ------
    OutlineError
        No such file, or nothing in it that can be a pane of glass.
    """
    if len(content) > LARGEST_FILE:
        raise OutlineError(
            f"This file has {len(content) / 1e6:.1f} MB; an outline has at most {LARGEST_FILE / 1e6:.0f}."
        )
    notes = Notes()
    start = content[:400].lstrip(b"\xef\xbb\xbf \t\r\n")
    if start.startswith(b"<"):
        lines, scale_known = _from_svg(content, notes)
    elif b"Binary DXF" in content[:40]:
        raise OutlineError("This is a binary DXF. Save it as text (ASCII) DXF and bring it again.")
    elif b"SECTION" in content[:4000]:
        lines, scale_known = _from_dxf(content, notes)
    else:
        raise OutlineError("This is neither SVG nor DXF. Export the outline as one of them.")
    ring = one_ring(lines, notes, tolerance=JOIN_MM if scale_known or width is None else None)
    if width is not None:
        ring = ring * (width / max(float(np.ptp(ring[:, 0])), HAIR))
        scale_known = True
    if scale_known:
        check_size(ring)
    return DrawnOutline(finished(ring, notes), scale_known, notes.told())


# --- SVG


def _from_svg(content: bytes, notes: Notes) -> tuple[list[Points], bool]:
    try:
        root = fromstring(content, forbid_dtd=True)
    except DefusedXmlException as error:
        raise OutlineError(
            "This file defines entities or a document type, which no drawing needs and which can be a trap. "
            "Export it again as plain SVG."
        ) from error
    except (ParseError, ValueError) as error:
        raise OutlineError(f"This SVG is broken: {error}. Export it again.") from error
    if _name(root) != "svg":
        raise OutlineError("This is XML, but no SVG drawing.")
    count = sum(1 for _ in root.iter())
    if count > _MOST_ELEMENTS:
        raise OutlineError(f"This drawing has {count} elements; an outline has at most {_MOST_ELEMENTS}.")
    if sum(len(value) for one in root.iter() for value in one.attrib.values()) > _MOST_TEXT:
        raise OutlineError("This drawing has far more points than an outline needs. Simplify it first.")
    copies = {
        one.get("id") for one in root.iter() if any(_name(part) == "use" for part in one.iter()) and one.get("id")
    }
    clean = _cleaned(root, notes, copies, depth=0)
    notes.add(209, _keep_glass(clean))
    scale_known = bool(_PHYSICAL.match(root.get("width", "")))
    clean.set("xmlns", _SVG)
    try:
        drawing = SVG.parse(io.BytesIO(tostring(clean)), ppi=25.4, reify=True)
        lines = [line for shape in drawing.elements() if isinstance(shape, Shape) for line in _svg_lines(shape)]
    except (ValueError, TypeError, ZeroDivisionError, IndexError, KeyError, AttributeError, OverflowError) as error:
        raise OutlineError("A line in this SVG cannot be read. Export it again as plain paths.") from error
    return lines, scale_known


def _keep_glass(root: Element) -> int:
    """Where a group is called “glass”, take the other named layers out; how many lines that were."""
    groups = {(one.get("id") or "").lower(): one for one in root.iter("g")}
    if GLASS not in groups:
        return 0
    gone = 0
    for parent in list(root.iter()):
        for part in list(parent):
            if (part.get("id") or "").lower() in BESIDE_GLASS:
                gone += sum(1 for one in part.iter() if _name(one) not in ("g", "svg"))
                parent.remove(part)
    return gone


def _name(element: Element) -> str:
    return element.tag.rsplit("}", 1)[-1] if isinstance(element.tag, str) else ""


def _cleaned(element: Element, notes: Notes, copies: set[str | None], *, depth: int) -> Element:
    """The drawn part of a file, with nothing that acts, fetches or styles."""
    if depth > 60:
        raise OutlineError("This drawing is nested far deeper than an outline.")
    clean = Element(_name(element))
    for key, value in element.attrib.items():
        plain = key.rsplit("}", 1)[-1]
        if left_out := _attribute_left_out(plain, value):
            notes.add(left_out)
        elif key in _KEPT or plain == "href":
            clean.set("href" if plain == "href" else key, value)
    for part in element:
        number = _element_left_out(part, copies)
        if number is None:
            clean.append(_cleaned(part, notes, copies, depth=depth + 1))
        elif number:
            notes.add(number)
    return clean


def _attribute_left_out(name: str, value: str) -> int:
    """The finding's number of an attribute that acts, styles or fetches; else 0."""
    if name.lower().startswith("on"):
        return 201
    if name in ("style", "class"):
        return 203
    return 202 if name == "href" and not value.startswith("#") else 0


def _element_left_out(element: Element, copies: set[str | None]) -> int | None:
    """None: it is drawn; the number of a finding, or 0 where nobody misses it."""
    name = _name(element)
    if name in _ACTING:
        return 201
    if name == "style":
        return 203
    if name == "image" or (name == "use" and not _href(element).startswith("#")):
        return 202
    if name == "use" and _href(element)[1:] in copies:
        return 205
    if name in _DRAWN:
        return None
    return 0 if not name or name in _SILENT else 204


def _href(element: Element) -> str:
    return element.get("href") or element.get(_HREF) or ""


def _svg_lines(shape: Shape) -> Iterable[Points]:
    for part in Path(shape).as_subpaths():
        points: list[tuple[float, float]] = []
        for segment in Path(part):
            points += _svg_points(segment)
        if len(points) > 1:
            line = np.array(points, dtype=float) * [1.0, -1.0]
            if not np.all(np.isfinite(line)):
                raise OutlineError("A line in this drawing runs off to nowhere. Export it again.")
            yield line


def _svg_points(segment: Any) -> list[tuple[float, float]]:
    """A segment's points: ends of straight ones, as many as it takes of bent ones."""
    start, end = getattr(segment, "start", None), getattr(segment, "end", None)
    name = type(segment).__name__
    if end is None:
        return []
    if name in ("Move", "Line", "Close") or start is None:
        return [(float(end.x), float(end.y))]
    several = 16
    while several < 2048:
        shares = np.linspace(0.0, 1.0, several + 1)
        found: Points = np.array(segment.npoint(shares), dtype=float)
        middles: Points = np.array(segment.npoint((shares[1:] + shares[:-1]) / 2), dtype=float)
        off = middles - (found[1:] + found[:-1]) / 2
        if np.max(np.hypot(*off.T), initial=0.0) <= FLATTEN_MM:
            break
        several *= 2
    return [(float(x), float(y)) for x, y in found[1:]]


# --- DXF


def _from_dxf(content: bytes, notes: Notes) -> tuple[list[Points], bool]:
    try:
        drawing, audit = recover.read(io.BytesIO(content))
    except (OSError, DXFError, ValueError, TypeError, IndexError, KeyError, AttributeError) as error:
        raise OutlineError("This DXF is broken beyond recovery, perhaps cut off. Export it again.") from error
    if audit.has_errors or audit.has_fixes:
        notes.add(101)
    model = drawing.modelspace()
    if len(model) > MOST_LINES:
        raise OutlineError(f"This drawing has {len(model)} entities; an outline has at most {MOST_LINES}.")
    unit = int(drawing.header.get("$INSUNITS", 0))
    scale_known = unit != 0
    scale = units.conversion_factor(InsertUnits(unit), InsertUnits.Millimeters) if scale_known else 1.0
    lines = []
    layered = any(str(entity.dxf.get("layer", "")).lower() == GLASS for entity in model)
    for entity in model:
        if layered and str(entity.dxf.get("layer", "")).lower() in BESIDE_GLASS:
            notes.add(209)
            continue
        kind = entity.dxftype()
        if kind in ("LWPOLYLINE", "POLYLINE", "LINE", "ARC", "CIRCLE"):
            lines += _dxf_lines(entity, scale)
        else:
            notes.add({"SPLINE": 206, "INSERT": 207}.get(kind, 208))
    return lines, scale_known


def _dxf_lines(entity: Any, scale: float) -> list[Points]:
    try:
        points = np.array([(p.x, p.y) for p in _dxf_points(entity, FLATTEN_MM / scale)], dtype=float) * scale
    except (TypeError, ValueError, DXFError, ZeroDivisionError, OverflowError, AttributeError):
        return []
    return [points] if len(points) > 1 and np.all(np.isfinite(points)) else []


def _dxf_points(entity: Any, sag: float) -> list[Vec3]:
    """An entity's points in the drawing's own axes, arcs no farther than ``sag`` from their chords."""
    kind = entity.dxftype()
    if kind == "LINE":
        return [entity.dxf.start, entity.dxf.end]
    if kind in ("ARC", "CIRCLE"):
        return list(entity.flattening(sag))
    if kind == "LWPOLYLINE":
        corners = [(Vec2(x, y), bulge) for x, y, bulge in entity.get_points("xyb")]
        closed = bool(entity.closed)
    else:
        corners = [(Vec2(one.dxf.location), one.dxf.get("bulge", 0.0)) for one in entity.vertices]
        closed = bool(entity.is_closed)
    if closed:
        corners.append(corners[0])
    points = [corners[0][0]]
    for (start, bulge), (end, _) in pairwise(corners):
        points += _bulged(start, end, bulge, sag)
    return list(entity.ocs().points_to_wcs(Vec3(p) for p in points))


def _bulged(start: Vec2, end: Vec2, bulge: float, sag: float) -> list[Vec2]:
    """The points after the first of an edge that is an arc where its bulge is not nothing."""
    if abs(bulge) < HAIR or start.distance(end) < HAIR:
        return [end]
    centre, radius = bulge_center(start, end, bulge), bulge_radius(start, end, bulge)
    sweep = 4 * atan(bulge)
    step = 2 * acos(max(-1.0, 1 - sag / radius))
    several = min(2048, max(1, ceil(abs(sweep) / step)))
    begin = (start - centre).angle
    return [centre + Vec2.from_angle(begin + sweep * i / several, radius) for i in range(1, several)] + [end]

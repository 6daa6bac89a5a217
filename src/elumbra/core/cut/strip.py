"""A sun strip on its real windshield: the lower edge, where the ruler lies, what it must read.

Depth is measured straight down from the top of the glass, for that is how the law and the
ruler measure it::

        left      middle     right
      ──┬───────────┬──────────┬──      top of the glass, higher in the middle
        │           │          │
      ──┴───────────┴──────────┴──      straight: deeper in the middle than at the corners
                                        roof line: as deep everywhere

A straight edge on a curved top looks bowed; one that follows the roof line needs a plotted
line or the roof edge as guide (handbook, section 9).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from shapely.geometry import LineString, Polygon, box
from shapely.geometry.polygon import orient

from elumbra.core.errors import CoreError
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Outline
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches

_SAMPLES = 121
_CORNER_INSET = 0.04  # of the top's width: the ruler lies clear of the rounded corner
_TINY_MM2 = 400.0  # a scrap, not a piece


class StripShape(StrEnum):
    """How the lower edge runs."""

    STRAIGHT = "straight"
    ROOF_LINE = "roof_line"


@dataclass(frozen=True)
class Housing:
    """A camera or sensor housing in the middle of the top: width and depth from the top [mm]."""

    width: float
    depth: float


@dataclass(frozen=True)
class Ruler:
    """Where the ruler lies and what it must read, seen from outside."""

    at: str  # left, middle, right
    x: float  # mm from the pane's left
    top: float  # y of the glass's top there [mm]
    reads: float  # mm down to the strip's lower edge


@dataclass(frozen=True)
class StripPlan:
    """A strip laid out on its pane, seen from outside; lengths in mm."""

    shape: StripShape
    edge: Points  # lower edge, left to right, (n, 2)
    pieces: tuple[Points, ...]  # outlines, left to right, each counter-clockwise
    rulers: tuple[Ruler, ...]
    deepest: float
    blank_width: float
    blank_height: float
    cautions: tuple[str, ...]


def plan_strip(
    outline: Outline,
    *,
    depth: float,
    shape: StripShape,
    pieces: int,
    housing: Housing | None,
    starting: StartingValues,
) -> StripPlan:
    """Lay a strip out on a windshield.

    Parameters
    ----------
    outline
        The windshield seen from outside.
    depth
        How far it reaches down at its deepest [mm].
    shape
        Straight, or following the roof line.
    pieces
        1 or 2; two leave the housing's width bare in the middle.
    housing
        What stands in the way, or None.
    starting
        Allowances and gaps.

    Raises
    ------
    CoreError
        A strip deeper than the glass, or pieces that are neither one nor two.
    """
    if not 0 < depth < outline.height:
        raise CoreError(
            f"A strip of {format_inches(depth)} in does not fit on glass {format_inches(outline.height)} in high.",
            fields={"depth": "More than nothing and less than the glass is high."},
        )
    if pieces not in (1, 2):
        raise CoreError("A strip is one piece or two.", fields={"pieces": "1 or 2."})
    pane = Polygon(outline.ring)
    left, right = _top_corners(outline)
    xs = np.linspace(left, right, _SAMPLES)
    tops = np.array([_top_at(pane, x) for x in xs])
    drop = _lower_edge(xs, tops, depth, shape)
    edge = np.column_stack([xs, drop])
    whole = _above(pane, edge, outline)
    parts, cautions = _cut_out(whole, pieces, housing, outline, depth, starting)
    cautions += _edge_cautions(xs, tops, drop, shape, starting)
    low_x, low_y, high_x, high_y = whole.bounds
    play = starting["blank_play_mm"]
    return StripPlan(
        shape,
        edge,
        tuple(np.array(orient(part).exterior.coords[:-1]) for part in parts),
        _rulers(pane, xs, drop),
        float(np.max(tops - drop)),
        high_x - low_x + 2 * play,
        high_y - low_y + 2 * play,
        tuple(cautions),
    )


def _top_corners(outline: Outline) -> tuple[float, float]:
    """The x of both upper corners: the two highest of the pane's corners, left then right."""
    highest = sorted(outline.corners.tolist(), key=lambda point: -point[1])[:2]
    first, second = sorted(point[0] for point in highest)
    return float(first), float(second)


def _top_at(pane: Polygon, x: float) -> float:
    """The top of the glass at x [mm]."""
    low_x, low_y, high_x, high_y = pane.bounds
    inside = min(max(x, low_x + 1e-6), high_x - 1e-6)
    crossed = pane.intersection(LineString([(inside, low_y - 1), (inside, high_y + 1)]))
    return float(crossed.bounds[3]) if not crossed.is_empty else float(high_y)


def _lower_edge(xs: Points, tops: Points, depth: float, shape: StripShape) -> Points:
    """Height of the lower edge at each x: parallel to the chord of both corners, or to the top itself."""
    if shape is StripShape.ROOF_LINE:
        return np.asarray(tops - depth)
    chord = tops[0] + (tops[-1] - tops[0]) * (xs - xs[0]) / (xs[-1] - xs[0])
    crown = float(np.max(tops - chord))
    return np.asarray(chord + crown - depth)


def _above(pane: Polygon, edge: Points, outline: Outline) -> Polygon:
    """The pane's part above the edge, which goes on level past both corners."""
    far, high = outline.width, float(outline.ring[:, 1].max()) + 10
    left, right = edge[0], edge[-1]
    ring = [(left[0] - far, left[1]), *edge.tolist(), (right[0] + far, right[1]), (right[0] + far, high)]
    cut = pane.intersection(Polygon([*ring, (left[0] - far, high)]).buffer(0))
    return cut if isinstance(cut, Polygon) else max(cut.geoms, key=lambda part: part.area)


def _cut_out(
    whole: Polygon, pieces: int, housing: Housing | None, outline: Outline, depth: float, starting: StartingValues
) -> tuple[list[Polygon], list[str]]:
    """The pieces left to right once the housing is left bare, and what to mind."""
    if housing is None:
        if pieces == 2:
            return _halves(whole, 0.0, outline), ["Two pieces without a housing between them meet in the middle."]
        return [whole], []
    gap = starting["housing_gap_mm"]
    bare = housing.width + 2 * gap
    if pieces == 2:
        return _halves(whole, bare, outline), []
    if housing.depth + gap >= depth:
        return (
            _halves(whole, bare, outline),
            ["The housing reaches through the strip: one piece cannot go round it, so it is laid as two."],
        )
    middle, top = _middle(outline), float(outline.ring[:, 1].max())
    notch = box(middle - bare / 2, top - housing.depth - gap, middle + bare / 2, top + 10)
    cut = whole.difference(notch)
    return [cut if isinstance(cut, Polygon) else max(cut.geoms, key=lambda part: part.area)], []


def _middle(outline: Outline) -> float:
    left, right = _top_corners(outline)
    return (left + right) / 2


def _halves(whole: Polygon, bare: float, outline: Outline) -> list[Polygon]:
    low_x, low_y, high_x, high_y = whole.bounds
    middle = _middle(outline)
    left = whole.intersection(box(low_x - 1, low_y - 1, middle - bare / 2, high_y + 1))
    right = whole.intersection(box(middle + bare / 2, low_y - 1, high_x + 1, high_y + 1))
    return [part for part in (left, right) if isinstance(part, Polygon) and part.area > _TINY_MM2]


def _rulers(pane: Polygon, xs: Points, drop: Points) -> tuple[Ruler, ...]:
    span = xs[-1] - xs[0]
    places = (
        ("left", xs[0] + _CORNER_INSET * span),
        ("middle", (xs[0] + xs[-1]) / 2),
        ("right", xs[-1] - _CORNER_INSET * span),
    )
    found = []
    for at, x in places:
        top = _top_at(pane, float(x))
        found.append(Ruler(at, float(x), top, top - float(np.interp(x, xs, drop))))
    return tuple(found)


def _edge_cautions(xs: Points, tops: Points, drop: Points, shape: StripShape, starting: StartingValues) -> list[str]:
    reads = tops - drop
    if shape is StripShape.STRAIGHT and float(reads.min()) <= starting["strip_edge_allowance_mm"]:
        return ["The top is so curved that a straight edge runs out before the corners. Follow the roof line."]
    if shape is StripShape.STRAIGHT and float(reads.max() - reads.min()) > 4 * starting["strip_even_mm"]:
        return ["A straight edge on this curved top looks bowed from outside; following the roof line looks even."]
    if shape is StripShape.ROOF_LINE and float(reads.max() - reads.min()) <= starting["strip_even_mm"]:
        chord = tops[0] + (tops[-1] - tops[0]) * (xs - xs[0]) / (xs[-1] - xs[0])
        if float(np.max(tops - chord)) > 4 * starting["strip_even_mm"]:
            return ["Needs a plotted line, or the clean roof edge as guide."]
    return []

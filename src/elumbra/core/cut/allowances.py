"""How far a piece reaches past the edge that is seen, edge by edge (handbook, section 5).

Seen from outside, an edge is called by where its outward side looks: top, bottom, left or right.
Positive reaches past the visible edge, negative stays inside it.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np
from shapely import MultiPolygon, Polygon, box

from elumbra.core.errors import CoreError
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import DOORS, Outline, WindowKind
from elumbra.core.starting import StartingValues
from elumbra.core.survey import Answers, length_of

EDGES = ("top", "right", "bottom", "left")
_MICRO_MM = 1.6  # up to a sixteenth is a micro edge, more a clear line
_STEEP = np.sqrt(0.5)  # an edge that leans more than halfway counts as a side
_SMALLEST_AREA = 1.0


class Rim(StrEnum):
    """What fixed glass ends in."""

    BORDER = "border"  # a dark one, printed on it
    GASKET = "gasket"  # plain rubber, no border
    BARE = "bare"


@dataclass(frozen=True)
class FixedEdge:
    """The edge of fixed glass as it was read. Of a pane that nobody looked at a dark border is taken for granted."""

    rim: Rim | None = None  # None: nobody looked
    borders: Mapping[str, float] = field(default_factory=dict)  # width of the dark border by edge [mm], where read

    @property
    def read(self) -> bool:
        """Whether a border's width was read anywhere, so that it can be laid off."""
        return any(self.borders.values())

    def without(self, edges: Collection[str]) -> FixedEdge:
        """The same of a piece that ends elsewhere at some edges."""
        return replace(self, borders={edge: mm for edge, mm in self.borders.items() if edge not in edges})


def fixed_edge(answers: Answers) -> FixedEdge:
    """The edge of fixed glass from what was read at Survey; widths count only where it has a border.

    Examples
    --------
    >>> fixed_edge({"edge": "border", "border_top": "1"}).borders["top"]
    25.4
    >>> fixed_edge({}).rim is None
    True
    >>> fixed_edge({"edge": "gasket", "border_top": "1"}).read
    False
    """
    said = answers.get("edge")
    rim = Rim(said) if isinstance(said, str) else None
    if rim in (Rim.GASKET, Rim.BARE):
        return FixedEdge(rim)
    return FixedEdge(rim, {edge: length_of(answers, f"border_{edge}") or 0.0 for edge in EDGES})


@dataclass(frozen=True)
class EdgeAllowance:
    """How far the cut line lies past one edge [mm], and why."""

    edge: str
    name: str
    mm: float


@dataclass(frozen=True)
class CutLine:
    """Where film is cut for a pane, seen from outside, with the allowances it is laid off by."""

    ring: Points
    allowances: tuple[EdgeAllowance, ...]
    glass: Points | None = None  # the pane itself beside a true pattern, on the same flat film
    ticks: tuple[
        tuple[tuple[float, float], tuple[float, float]], ...
    ] = ()  # outside a true pattern: cross line, centre

    @property
    def true(self) -> bool:
        """Whether this is the true pattern of curved glass, and not its drawing laid out."""
        return self.glass is not None


def edge_allowances(
    kind: WindowKind, *, is_strip: bool, starting: StartingValues, edge: FixedEdge | None = None
) -> tuple[EdgeAllowance, ...]:
    """The allowances of a pane by how it is held (handbook, section 5).

    A door goes behind its seals, is tucked at its foot and stays just under the glass's top; a
    frameless one stays tight inside every free edge. Fixed glass is cut onto its dark border, which
    is taken for granted until somebody looks; old glass goes to its gasket and is tucked; a bare
    edge is never reached over.
    """
    side, tuck = starting["side_allowance_mm"], starting["bottom_tuck_mm"]
    top = EdgeAllowance("top", _top_name(starting["micro_edge_mm"]), -starting["micro_edge_mm"])
    foot = EdgeAllowance("bottom", "tuck at the foot", tuck)
    if is_strip:
        past = starting["strip_edge_allowance_mm"]
        around = tuple(EdgeAllowance(edge, "past the visible edge", past) for edge in ("top", "right", "left"))
        return (*around, EdgeAllowance("bottom", "the good edge", 0.0))
    if kind is WindowKind.FRAMED_DOOR:
        sides = tuple(EdgeAllowance(edge, "behind the seal", side) for edge in ("right", "left"))
        return (top, *sides, foot)
    if kind is WindowKind.FRAMELESS_DOOR:
        free = tuple(EdgeAllowance(edge, "inside the free edge", top.mm) for edge in ("right", "left"))
        return (top, *free, foot)
    name, mm = _fixed(edge or FixedEdge(), starting)
    return tuple(EdgeAllowance(one, name, mm) for one in EDGES)


def _fixed(edge: FixedEdge, starting: StartingValues) -> tuple[str, float]:
    """What the edges of fixed glass are called, and how far past what is seen they are cut."""
    if edge.read:
        return "onto the border", starting["border_allowance_mm"]
    match edge.rim:
        case Rim.GASKET:
            return "into the gasket", starting["gasket_tuck_mm"]
        case Rim.BARE:
            return "inside the bare edge", -starting["micro_edge_mm"]
        case Rim.BORDER:
            return "onto the border, width not read", starting["border_allowance_mm"]
        case None:
            return "onto the border, edge not read", starting["border_allowance_mm"]


def _top_name(below: float) -> str:
    return "micro edge" if below <= _MICRO_MM else "clear line"


def check_outline(outline: Outline) -> None:
    """Refuse a pane whose outline crosses itself: nothing can be cut or shrunk for it.

    Raises
    ------
    CoreError
        It does.
    """
    if not Polygon(outline.ring).is_valid:
        raise CoreError("Its outline crosses itself, so no pattern can be cut from it. Read it again at Survey.")


def cut_line(
    outline: Outline,
    kind: WindowKind,
    *,
    edge: FixedEdge,
    starting: StartingValues,
    is_strip: bool = False,
    inner: frozenset[str] = frozenset(),
) -> CutLine:
    """Where film is cut for a pane; laid off in the plane, corners rounded.

    Parameters
    ----------
    outline
        The pane, or its strip, seen from outside.
    kind
        How the pane is held.
    edge
        What fixed glass ends in. Where a border's width is not read, the piece covers the pane to its own edge.
    starting
        The allowances.
    is_strip
        Whether the outline is a strip's.
    inner
        Edges at which it overlaps another piece on the same pane: cut where the outline ends.

    Raises
    ------
    CoreError
        The outline crosses itself, or the allowances leave nothing of it.
    """
    check_outline(outline)
    glass = Polygon(outline.ring)
    told = allowances_of(kind, edge=edge, is_strip=is_strip, inner=inner, starting=starting)
    fixed = not is_strip and kind not in DOORS
    seen = inside_borders(glass, edge.borders) if fixed and edge.read else None
    if seen is not None:
        shape = seen.buffer(starting["border_allowance_mm"], join_style="mitre").intersection(glass)
    elif fixed and edge.rim in (Rim.BORDER, None):
        shape = glass  # the border lies somewhere on it
    else:
        shape = _laid_off(glass, {one.edge: one.mm for one in told})
    return CutLine(_rounded(shape, starting["corner_radius_mm"]), told)


def inside_borders(glass: Polygon, borders: Mapping[str, float]) -> Polygon | None:
    """What is seen between the borders; None where they leave nothing."""
    low_x, low_y, high_x, high_y = glass.bounds
    left, bottom, right, top = (borders.get(edge, 0.0) for edge in ("left", "bottom", "right", "top"))
    window = box(low_x + left, low_y + bottom, high_x - right, high_y - top)
    seen = glass.buffer(-min(left, bottom, right, top), join_style="mitre").intersection(window)
    return seen if isinstance(seen, Polygon) and seen.area > 0 else None


def edge_of(direction: Points) -> str:
    """The edge that a piece of a counter-clockwise ring belongs to, by its direction, shape ``(2,)``."""
    out = np.array([direction[1], -direction[0]])
    out = out / max(float(np.hypot(*out)), 1e-12)
    if out[1] > _STEEP:
        return "top"
    if out[1] < -_STEEP:
        return "bottom"
    return "right" if out[0] > 0 else "left"


def allowances_of(
    kind: WindowKind,
    *,
    edge: FixedEdge,
    is_strip: bool,
    starting: StartingValues,
    inner: frozenset[str] = frozenset(),
) -> tuple[EdgeAllowance, ...]:
    """The allowances of a pane, or of a piece of it: no further than the overlap at its inner edges."""
    return _inside(edge_allowances(kind, is_strip=is_strip, starting=starting, edge=edge), inner)


def _inside(allowances: tuple[EdgeAllowance, ...], inner: frozenset[str]) -> tuple[EdgeAllowance, ...]:
    """Edges where a piece overlaps the next strip reach no further: the overlap is in the outline."""
    return tuple(EdgeAllowance(one.edge, "overlap", 0.0) if one.edge in inner else one for one in allowances)


def edge_middles(ring: Points) -> dict[str, tuple[float, float]]:
    """By edge, the point halfway along it, on a counter-clockwise ring of shape ``(n, 2)``.

    Examples
    --------
    >>> edge_middles(np.array([[0.0, 0.0], [8.0, 0.0], [8.0, 4.0], [0.0, 4.0]]))["top"]
    (4.0, 4.0)
    """
    starts, ends = ring, np.roll(ring, -1, axis=0)
    lengths = np.hypot(*(ends - starts).T)
    found: dict[str, list[int]] = {}
    for i in np.flatnonzero(lengths > _HAIR).tolist():
        found.setdefault(edge_of(ends[i] - starts[i]), []).append(i)
    middles = {}
    for edge, stretches in found.items():
        weights = lengths[stretches]
        centre = ((starts[stretches] + ends[stretches]) / 2 * weights[:, None]).sum(axis=0) / weights.sum()
        points = np.concatenate([(starts[stretches] + ends[stretches]) / 2, starts[stretches], ends[stretches]])
        nearest = points[int(np.argmin(np.hypot(*(points - centre).T)))]
        middles[edge] = (float(nearest[0]), float(nearest[1]))
    return middles


def _laid_off(glass: Polygon, by: Mapping[str, float]) -> Polygon:
    """Every stretch of the outline moved out by its own allowance, its neighbours met again."""
    ring = np.asarray(glass.exterior.coords)
    if _doubled_area(ring[:-1]) < 0:
        ring = ring[::-1]
    starts, ends = ring[:-1], ring[1:]
    lengths = np.hypot(*(ends - starts).T)
    starts, ends, lengths = starts[lengths > _HAIR], ends[lengths > _HAIR], lengths[lengths > _HAIR]
    along = (ends - starts) / lengths[:, None]
    out = np.column_stack([along[:, 1], -along[:, 0]])
    moves = np.array([_move(way, length, by) for way, length in zip(along, lengths.tolist(), strict=True)])
    points = []
    for i in range(len(starts)):
        before = i - 1
        first = ends[before] + moves[before] * out[before]  # the end of the one before, moved
        second = starts[i] + moves[i] * out[i]
        turn = float(along[before, 0] * along[i, 1] - along[before, 1] * along[i, 0])
        if abs(turn) > _SHARP:
            reach = float(np.dot(second - first, np.array([along[i, 1], -along[i, 0]]))) / turn
            points.append(first + reach * along[before])
        else:
            points += [first, second]
    shape = Polygon(np.array(points)).buffer(0)
    if isinstance(shape, MultiPolygon):
        shape = max(shape.geoms, key=lambda part: part.area)
    if not isinstance(shape, Polygon) or shape.area < _SMALLEST_AREA:
        raise CoreError("The allowances leave nothing of this pane. Look at them at Shop.")
    return Polygon(shape.exterior)


_HAIR = 1e-6
_SHARP = 0.2  # sine of the angle from which on two stretches meet in a corner
_LONG_MM = 40.0  # a stretch this long is an edge by itself, shorter ones go round a corner
_BLEND = np.deg2rad(25)


def _move(along: Points, length: float, by: Mapping[str, float]) -> float:
    """How far a stretch moves out: as its edge does, and round a corner from one edge's to the next one's."""
    if length >= _LONG_MM:
        return by[edge_of(along)]
    angle = float(np.arctan2(-along[0], along[1]))  # of the outward side: 0 looks right, a quarter turn up
    quarter = np.pi / 2
    sector = int(np.floor(angle / quarter))
    edges = ("right", "top", "left", "bottom")
    one, other = by[edges[sector % 4]], by[edges[(sector + 1) % 4]]
    share = (angle - sector * quarter - quarter / 2) / _BLEND
    return one + (other - one) * float(np.clip((share + 1) / 2, 0.0, 1.0))


def _doubled_area(ring: Points) -> float:
    return float(np.dot(ring[:, 0], np.roll(ring[:, 1], -1)) - np.dot(ring[:, 1], np.roll(ring[:, 0], -1)))


def _rounded(shape: Polygon, radius: float) -> Points:
    """The outline with its corners rounded as far as its size allows; counter-clockwise, the end left out."""
    opened = shape.buffer(-radius).buffer(radius) if radius else shape
    if not isinstance(opened, Polygon) or opened.is_empty:
        opened = shape
    ring = np.asarray(opened.simplify(_SMOOTH_MM).exterior.coords)[:-1]
    return ring if _doubled_area(ring) > 0 else ring[::-1]


_SMOOTH_MM = 0.02

"""The one closed ring that a drawing's lines make, with what was repaired or left out told by number.

1xx the file, 2xx its parts, 3xx the ring.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from shapely import MultiPoint, Polygon, make_valid, remove_repeated_points
from shapely.validation import explain_validity

from elumbra.core.errors import CoreError
from elumbra.documents.job_file import MOST_POINTS

Points = NDArray[np.float64]

JOIN_MM = 0.5  # ends that lie no farther apart belong together
WIDEST_MM, NARROWEST_MM = 5000.0, 20.0
MOST_LINES = 5000
HAIR = 1e-6
_FAR = 1e7
_NUMBERS = {
    101: "had to be recovered: it is damaged",
    201: "scripts and event handlers left out",
    202: "references to other files left out",
    203: "style rules left out; only the drawn lines count",
    204: "pictures, texts and other elements that draw no line left out",
    205: "copies of copies left out",
    206: "splines left out: make polylines or arcs of them",
    207: "blocks left out: explode them first",
    208: "other entities left out",
    209: "lines on other layers left out; “glass” is the outline",
    301: "gaps between ends closed",
    302: "other lines left out; the largest closed one is taken",
    303: "open lines that meet nothing left out",
    304: "points thinned out, nowhere farther than 0.005 mm",
    305: "a place where the outline touches itself cut off",
    306: "repeated points left out",
}


class OutlineError(CoreError):
    """A drawing from which no outline can be made."""


@dataclass(frozen=True)
class OutlineFinding:
    """Something that was repaired or left out."""

    number: int
    words: str
    repaired: bool  # else left out


@dataclass(frozen=True)
class DrawnOutline:
    """An outline as read, y up."""

    ring: Points  # (n, 2), counter-clockwise; mm where the scale is known
    scale_known: bool
    findings: tuple[OutlineFinding, ...]


@dataclass
class Notes:
    """What was repaired or left out, counted by number."""

    counts: dict[int, int] = field(default_factory=dict)

    def add(self, number: int, count: int = 1) -> None:
        """Count something under its number."""
        if count:
            self.counts[number] = self.counts.get(number, 0) + count

    def told(self) -> tuple[OutlineFinding, ...]:
        """Each in words, by number."""
        found = []
        for number, count in sorted(self.counts.items()):
            words = _NUMBERS[number]
            found.append(
                OutlineFinding(number, words if number in (101, 203, 304) else f"{count} {words}", number in _REPAIRS)
            )
        return tuple(found)


_REPAIRS = frozenset({101, 301, 304, 305, 306})


def one_ring(lines: Sequence[Points], notes: Notes, *, tolerance: float | None) -> Points:
    """The largest closed line, open ones joined where their ends meet."""
    if not lines:
        raise OutlineError("There is no line in this drawing that could be an outline.")
    if len(lines) > MOST_LINES:
        raise OutlineError(f"This drawing has {len(lines)} lines; an outline has at most {MOST_LINES}.")
    if any(not np.all(np.abs(line) < _FAR) for line in lines):
        raise OutlineError("A line in this drawing runs off to nowhere. Export it again.")
    lines = [line for line in lines if float(np.max(np.ptp(line, axis=0))) > HAIR]
    if not lines:
        raise OutlineError("What is drawn here encloses nothing: a point is no pane.")
    near = tolerance if tolerance is not None else 1e-3 * max(float(np.max(np.ptp(line, axis=0))) for line in lines)
    closed: list[Points] = []
    still_open: list[Points] = []
    for line in lines:
        (closed if _is_closed(line, near, notes) else still_open).append(line)
    joined, left = _joined(still_open, near, notes)
    closed += joined
    rings = [ring for ring in (without_repeats(line) for line in closed) if len(ring) >= 3 and _spread(ring) > 0]
    if not rings:
        if left:
            ends = max(float(np.hypot(*(line[0] - line[-1]))) for line in left)
            raise OutlineError(
                f"No line in this drawing closes: the ends of the longest lie {ends:.1f} apart, and {near:.1f} is the "
                "most that is joined. Close it and bring it again."
            )
        raise OutlineError("What is drawn here encloses nothing: a point or a straight line is no pane.")
    rings.sort(key=_spread, reverse=True)
    notes.add(302, len(rings) - 1)
    notes.add(303, len(left))
    return rings[0]


def _is_closed(line: Points, near: float, notes: Notes) -> bool:
    gap = float(np.hypot(*(line[0] - line[-1])))
    if len(line) < 4 or gap > near:
        return False
    notes.add(301, int(gap > HAIR))
    return True


def _joined(lines: list[Points], near: float, notes: Notes) -> tuple[list[Points], list[Points]]:
    """Chains of open lines that close, and what is left."""
    left = list(lines)
    closed: list[Points] = []
    over: list[Points] = []
    while left:
        chain = left.pop()
        grown = True
        while grown and np.hypot(*(chain[0] - chain[-1])) > HAIR:
            grown = False
            for i, other in enumerate(left):
                turned = other if _gap(chain, other) <= _gap(chain, other[::-1]) else other[::-1]
                if (gap := _gap(chain, turned)) <= near:
                    notes.add(301, int(gap > HAIR))
                    chain = np.vstack([chain, turned[1:] if gap <= HAIR else turned])
                    left.pop(i)
                    grown = True
                    break
        whole = len(chain) > 3 and np.hypot(*(chain[0] - chain[-1])) <= near
        if whole:
            notes.add(301, int(np.hypot(*(chain[0] - chain[-1])) > HAIR))
        (closed if whole else over).append(chain)
    return closed, over


def _gap(chain: Points, other: Points) -> float:
    return float(np.hypot(*(chain[-1] - other[0])))


def without_repeats(line: Points) -> Points:
    """A closed line without its repeated points, its end not told twice."""
    ring = line[:-1] if np.hypot(*(line[0] - line[-1])) <= JOIN_MM and len(line) > 3 else line
    keep = np.hypot(*(ring - np.roll(ring, 1, axis=0)).T) > HAIR
    return np.asarray(ring[keep])


def _spread(ring: Points) -> float:
    """Area that a ring spans, also one that crosses itself and so encloses as much as it takes away."""
    return float(MultiPoint(ring).convex_hull.area)


def check_size(ring: Points) -> None:
    """Refuse what is too large or too small to be a pane.

    Raises
    ------
    OutlineError
        The ring [mm] is no pane.
    """
    wide, high = (float(one) for one in np.ptp(ring, axis=0))
    if max(wide, high) > WIDEST_MM:
        raise OutlineError(
            f"This outline is {wide / 1000:.1f} m wide and {high / 1000:.1f} m high; no car glass is. "
            "Wrong units? Type the pane's greatest width, and that sets the scale."
        )
    if min(wide, high) < NARROWEST_MM:
        raise OutlineError(
            f"This outline is {wide:.1f} mm wide and {high:.1f} mm high; no car glass is. "
            "Wrong units? Type the pane's greatest width, and that sets the scale."
        )


def finished(ring: Points, notes: Notes) -> Points:
    """One simple ring, counter-clockwise, of no more points than are kept."""
    polygon = Polygon(ring)
    if not polygon.is_valid:
        whole = make_valid(polygon)
        parts = sorted((part for part in getattr(whole, "geoms", [whole]) if part.area > 0), key=lambda part: part.area)
        if not parts or parts[-1].area < 0.98 * sum(part.area for part in parts):
            raise OutlineError(
                f"This outline crosses itself ({explain_validity(polygon)}). Mend it and bring it again."
            )
        notes.add(305)
        polygon = Polygon(parts[-1].exterior)
    if len(polygon.exterior.coords) > MOST_POINTS:
        for tolerance in (0.001, 0.0025, 0.005):
            polygon = Polygon(polygon.exterior.simplify(tolerance))
        notes.add(304)
        if len(polygon.exterior.coords) > MOST_POINTS:
            raise OutlineError(
                f"This outline still has more than {MOST_POINTS} points. Simplify it and bring it again."
            )
    clean = remove_repeated_points(polygon)
    points = np.asarray(clean.exterior.coords)[:-1]
    if not clean.exterior.is_ccw:
        points = points[::-1]
    return np.asarray(points - points.min(axis=0))

"""Where on a pane a flaw is: the zone that the standard counts by, and the part that speaks of its cause."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import hypot

import numpy as np

from elumbra.core.errors import CoreError
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Outline
from elumbra.core.inspection.book import Zone
from elumbra.core.starting import StartingValues


class Part(StrEnum):
    """Parts of a pane, as one speaks of them."""

    TOP = "top"
    FOOT = "foot"
    SIDE = "side"
    CORNER = "corner"
    MIDDLE = "middle"


@dataclass(frozen=True)
class Place:
    """Where a flaw is: a corner is also the edges that meet there."""

    zone: Zone
    parts: frozenset[Part]
    to_edge_mm: float


_STEEP = 0.8  # an edge that climbs more than three fifths of its length is a side: a slanted pillar is one


def place_of(
    outline: Outline | None,
    x: float,
    y: float,
    *,
    starting: StartingValues,
    hidden: Mapping[Part, float] | None = None,
) -> Place:
    """Where a point of the pane lies.

    Parameters
    ----------
    outline
        The pane seen from outside; None where it is not measured: then every flaw counts as looked through.
    x, y
        Shares of its greatest width from the left and of its height from the foot, 0 to 1, seen from outside.
    starting
        How far from the edge each zone reaches.
    hidden
        How far from each edge the pane is covered [mm], where the survey read it: the dark border.

    Raises
    ------
    CoreError
        The point lies beside the glass.

    Examples
    --------
    >>> from elumbra.core.glass import rectangle_outline
    >>> from elumbra.core.starting import StartingValue, StartingValues
    >>> name = ("look_hidden_mm", "look_edge_mm", "look_corner_mm")
    >>> figures = {n: StartingValue(n, n, v, "mm", 0, 100, "") for n, v in zip(name, (6, 25, 80))}
    >>> pane = rectangle_outline(width=900, height=450)
    >>> there = place_of(pane, 0.5, 0.03, starting=StartingValues("", figures, ()))
    >>> there.zone.value, sorted(there.parts), there.to_edge_mm
    ('edge', [<Part.FOOT: 'foot'>], 13.5)
    """
    if not (0 <= x <= 1 and 0 <= y <= 1):
        raise CoreError("That is beside the glass. Put the mark on the pane.", fields={"x": "On the pane."})
    if outline is None:
        return Place(Zone.VIEW, frozenset({_unmeasured(x, y)}), 0.0)
    ring = outline.ring
    low, high = ring.min(axis=0), ring.max(axis=0)
    point = low + np.array([x, y]) * (high - low)
    near = _edges_by_distance(ring, point)
    distance, part = near[0]
    if not _inside(ring, point) and distance > starting["look_edge_mm"]:
        raise CoreError("That is beside the glass. Put the mark on the pane.", fields={"x": "On the pane."})
    edge, corner = starting["look_edge_mm"], starting["look_corner_mm"]
    parts = {other for away, other in near if away <= edge}
    close = {other for away, other in near if away <= corner}
    if len(close) > 1 and (Part.SIDE in close) and parts:
        parts |= close | {Part.CORNER}
    covered = (hidden or {}).get(part, starting["look_hidden_mm"])
    zone = Zone.HIDDEN if distance <= covered else Zone.EDGE if parts else Zone.VIEW
    return Place(zone, frozenset(parts or {Part.MIDDLE}), round(distance, 1))


def _unmeasured(x: float, y: float) -> Part:
    if y > 0.85:
        return Part.TOP
    if y < 0.15:
        return Part.FOOT
    return Part.SIDE if min(x, 1 - x) < 0.1 else Part.MIDDLE


def _edges_by_distance(ring: Points, point: Points) -> list[tuple[float, Part]]:
    """Each part of the outline with its least distance from a point, nearest first."""
    least: dict[Part, float] = {}
    ends = np.roll(ring, -1, axis=0)
    for start, end in zip(ring, ends, strict=True):
        run = end - start
        length = hypot(*run)
        if length == 0:
            continue
        share = float(np.clip((point - start) @ run / length**2, 0.0, 1.0))
        away = hypot(*(point - start - share * run))
        part = _part(run[0] / length)
        least[part] = min(away, least.get(part, away))
    return sorted((away, part) for part, away in least.items())


def _part(dx: float) -> Part:
    """Walked counter-clockwise, the foot runs to the right and the top to the left."""
    if abs(dx) < _STEEP:
        return Part.SIDE
    return Part.FOOT if dx > 0 else Part.TOP


def _inside(ring: Points, point: Points) -> bool:
    x, y = point
    ends = np.roll(ring, -1, axis=0)
    crosses = (ring[:, 1] > y) != (ends[:, 1] > y)
    with np.errstate(divide="ignore", invalid="ignore"):
        at = ring[:, 0] + (y - ring[:, 1]) * (ends[:, 0] - ring[:, 0]) / (ends[:, 1] - ring[:, 1])
    return bool(np.count_nonzero(crosses & (x < at)) % 2)

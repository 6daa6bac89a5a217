"""Contours of the map and profiles of the glass, for screens and papers."""

from __future__ import annotations

from dataclasses import dataclass
from math import floor, log10

import contourpy
import numpy as np
from shapely import LineString, MultiLineString, Polygon

from elumbra.core.shrink.net import Array, Net
from elumbra.core.shrink.required import Field

_MOST_LEVELS = 7
_STEPS = (1.0, 2.0, 2.5, 5.0)
_SHORTEST_MM = 12.0
_ALONG = 41


@dataclass(frozen=True)
class Contour:
    """Where film must shrink by as much: lines in film coordinates, each of shape (n, 2) [mm]."""

    shrink: float  # share; under 0 it would have to stretch
    is_limit: bool
    lines: tuple[Array, ...]


def levels_for(largest: float, *, least: float) -> tuple[float, ...]:
    """Round steps up to the largest shrink, at most seven.

    Examples
    --------
    >>> levels_for(0.018, least=0.001)
    (0.005, 0.01, 0.015)
    >>> levels_for(0.0005, least=0.001)
    ()
    """
    if largest <= least:
        return ()
    rough = largest / _MOST_LEVELS
    power = 10.0 ** floor(log10(rough))
    step = next((unit * power for unit in _STEPS if unit * power >= rough), 10 * power)
    return tuple(round(step * k, 10) for k in range(1, int(largest / step + 1e-9) + 1))


def contours(field: Field, ring: Array, *, largest: float, limit: float, least: float) -> tuple[Contour, ...]:
    """The map's contours inside the pane, the film's limit among them where it is reached."""
    pane = Polygon(ring)
    generator = contourpy.contour_generator(field.u, field.v, field.shrink)
    levels = [(level, False) for level in levels_for(largest, least=least) if abs(level - limit) > limit / 50]
    if largest > limit:
        levels.append((limit, True))
    stretch = float(-field.shrink[field.inside].min()) if field.inside.any() else 0.0
    levels += [(-level, False) for level in levels_for(stretch, least=least)]
    found = []
    for level, is_limit in sorted(levels):
        lines: list[Array] = []
        for line in generator.lines(level):
            part = LineString(np.asarray(line)).intersection(pane)
            pieces = part.geoms if isinstance(part, MultiLineString) else [part]
            lines += [np.asarray(one.coords) for one in pieces if one.length > _SHORTEST_MM]
        if lines:
            found.append(Contour(level, is_limit, tuple(lines)))
    return tuple(found)


def profile(net: Net, start: tuple[float, float], end: tuple[float, float]) -> Array:
    """The glass along a line of the film: distance along the straightedge and gap under it, shape (n, 2) [mm]."""
    share = np.linspace(0.0, 1.0, _ALONG)
    here = net.at(start[0] + share * (end[0] - start[0]), start[1] + share * (end[1] - start[1]))
    points = net.face.points(here.x, here.y)
    chord = points[-1] - points[0]
    long = max(float(np.linalg.norm(chord)), 1e-9)
    along = (points - points[0]) @ (chord / long)
    off = points - points[0] - along[:, None] * (chord / long)
    return np.column_stack([along, np.linalg.norm(off, axis=1)])

"""The pane that is practised on: how much film must go where, for film and H laid either way.

Vocabulary
----------
lie
    The pane on its flat film, anchored one way: u along the cross line of the H, v at right angles to it [mm].
required
    1 − J on the film's own grid, 0 where it would have to stretch: film stands off there, and no hand mends it.
excess
    required − s, s being what film has shrunk: over 0 it is slack and stands up, under 0 it is taut.
along
    Whether the roll's direction runs along the cross line. Film shrinks along its roll only, and what is too long
    is too long along the cross line: where the H lies across the roll's direction no heat helps.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from shapely import Polygon, contains_xy

from elumbra.core.geom.polygon import Points
from elumbra.core.shrink import HeatPlan, Net, Required, ShrinkWord, Unrolled, upright
from elumbra.core.starting import StartingValues

Floats = NDArray[np.float64]
Mask = NDArray[np.bool_]

COLUMNS, ROWS = 60, 40
_EXACT = 1e7  # required shrink is kept to a hundred-thousandth of a point, so that every machine has the same


@dataclass(frozen=True)
class Lie:
    """A pane on its film, anchored one way. Grids are of shape ``(ROWS, COLUMNS)``, rows up, columns along u."""

    way: Unrolled
    u: Floats  # (COLUMNS,) [mm]
    v: Floats  # (ROWS,) [mm]
    required: Floats  # share, at least 0
    on_glass: Mask
    side_lines: tuple[float, float]  # of the H, along u [mm]
    ring: Points  # the pane's outline in (u, v), (n, 2) [mm]
    plan: HeatPlan

    @cached_property
    def over_u(self) -> Floats:
        """U of each cell."""
        return np.broadcast_to(self.u, (ROWS, COLUMNS))

    @cached_property
    def over_v(self) -> Floats:
        """V of each cell."""
        return np.broadcast_to(self.v[:, None], (ROWS, COLUMNS))

    @cached_property
    def held_by_h(self) -> Mask:
        """Cells under the three lines of the H: one row through the middle, one column near each side."""
        held = np.zeros((ROWS, COLUMNS), dtype=bool)
        held[int(np.argmin(np.abs(self.v)))] = True
        for line in self.side_lines:
            held[:, int(np.argmin(np.abs(self.u - line)))] = True
        return held & self.on_glass

    @property
    def cell(self) -> tuple[float, float]:
        """Width and height of a cell [mm]."""
        return float(self.u[1] - self.u[0]), float(self.v[1] - self.v[0])

    def drawn(self, points: Points) -> Points:
        """Points of the film as the pane is seen from outside."""
        return upright(points, self.way)

    def on_film(self, x: float, y: float) -> tuple[float, float]:
        """A point as it is seen from outside, on the film."""
        return (x, y) if self.way is Unrolled.ACROSS else (y, -x)


@dataclass(frozen=True)
class Board:
    """A pane to practise on, with its film. ``lies`` lacks a way in which no flat film lies on it."""

    lies: Mapping[Unrolled, Lie]
    limit: float  # the most that this film shrinks, a share
    word: ShrinkWord  # what it takes, laid across
    laminated: bool
    values: StartingValues


def lie_of(piece: Required, plan: HeatPlan, net: Net, *, play: float) -> Lie:
    """A pane on its film.

    Parameters
    ----------
    piece, plan, net
        What the pane's film needs, how it is held and heated, and how it lies.
    play
        Film over the edge of the glass [mm].
    """
    low, high = piece.ring.min(axis=0) - play, piece.ring.max(axis=0) + play
    u, v = np.linspace(low[0], high[0], COLUMNS), np.linspace(low[1], high[1], ROWS)
    needed = np.rint(np.maximum(1 - net.marched(u, v), 0.0) * _EXACT) / _EXACT
    over_u, over_v = np.meshgrid(u, v)
    on_glass = contains_xy(Polygon(piece.ring), over_u.ravel(), over_v.ravel()).reshape(ROWS, COLUMNS)
    return Lie(net.anchor.way, u, v, needed, on_glass, plan.side_lines, piece.ring, plan)

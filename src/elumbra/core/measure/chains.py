"""Corners of a pane one after another from its sides and the diagonals of corner 1, in a plane."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from elumbra.core.geom import is_simple
from elumbra.core.geom.polygon import Points
from elumbra.core.measure.figures import Figure, plan_of


def chained(lengths: Mapping[str, float], figure: Figure, reentrant: frozenset[str] = frozenset()) -> Points:
    """Corners one after another from the sides and the diagonals of corner 1, in a plane.

    Each further corner lies on the left of the line from corner 1 to the one before, but where
    corners point inward: then the way round is the one that leaves just those inward and meets
    the joining reading best.
    """
    n = figure.corners
    plan = plan_of(figure)
    straight = _placed(lengths, figure, (1,) * (n - 2))
    if n < 4 or not reentrant:
        return straight
    inward = frozenset(plan.corners.index(name) for name in reentrant)
    drawn = [one for one in ways_round(lengths, figure) if one.simple and one.inward == inward]
    return min(drawn, key=lambda one: one.miss).corners if drawn else straight


@dataclass(frozen=True)
class WayRound:
    """One of the ways in which sides and diagonals of corner 1 can be laid."""

    corners: Points
    miss: float  # by which the joining reading is missed [mm]
    simple: bool
    inward: frozenset[int]


def ways_round(lengths: Mapping[str, float], figure: Figure) -> list[WayRound]:
    """Every way, each corner on either side of the line before it, the plain one first."""
    n = figure.corners
    joining = lengths[plan_of(figure).joining]
    found = []
    for code in range(2 ** (n - 2)):
        turns = tuple(-1 if code >> i & 1 else 1 for i in range(n - 2))
        corners = _placed(lengths, figure, turns)
        miss = abs(float(np.hypot(*(corners[1] - corners[n - 1]))) - joining)
        simple = signed_area(corners) > 0 and is_simple(corners)
        found.append(WayRound(corners, miss, simple, inward_corners(corners)))
    return found


def _placed(lengths: Mapping[str, float], figure: Figure, turns: tuple[int, ...]) -> Points:
    between = {frozenset(near + far): key for key, (near, far) in plan_of(figure).needed.items()}

    def read(i: int, k: int) -> float:
        return lengths[between[frozenset((i, k))]]

    corners = [np.zeros(2), np.array([read(0, 1), 0.0])]
    for k, turn in zip(range(2, figure.corners), turns, strict=True):
        corners.append(_apex(corners[-1], read(0, k), read(k - 1, k), turn))
    return np.array(corners)


def inward_corners(corners: Points) -> frozenset[int]:
    """Corners, counted from 0, at which a counter-clockwise figure turns right."""
    before, after = corners - np.roll(corners, 1, axis=0), np.roll(corners, -1, axis=0) - corners
    turn = before[:, 0] * after[:, 1] - before[:, 1] * after[:, 0]
    return frozenset(i for i, one in enumerate(turn.tolist()) if one < 0)


def _apex(base: Points, from_first: float, from_base: float, turn: int) -> Points:
    """Third corner of a triangle over the line from corner 1; flat triangles keep a little height."""
    length = max(float(np.hypot(*base)), 1e-6)
    along = base / length
    x = (length**2 + from_first**2 - from_base**2) / (2 * length)
    up = np.sqrt(max(from_first**2 - x**2, (0.02 * from_first) ** 2))
    return np.asarray(along * x + turn * np.array([-along[1], along[0]]) * up)


def signed_area(corners: Points) -> float:
    """Twice the area [mm²], more than nothing where the corners run counter-clockwise."""
    x, y = corners[:, 0], corners[:, 1]
    return float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))

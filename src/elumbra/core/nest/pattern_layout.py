"""Patterns, where they lie on the stock, and what a plan of them comes to.

Directions are those of the blanks: x along the roll, y across it, as seen liner side up.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from elumbra.core.geom.polygon import Points
from elumbra.core.nest.layout import Leftover, Turn, Unplaced
from elumbra.core.starting import StartingValues


def rotation(turn: Turn) -> Points:
    """The matrix, shape ``(2, 2)``, that points as rows are multiplied with to be turned.

    Examples
    --------
    >>> (np.array([[1.0, 0.0]]) @ rotation(Turn.SIDEWAYS)).tolist()
    [[0.0, 1.0]]
    """
    angle = np.deg2rad(int(turn))
    cos, sin = round(float(np.cos(angle)), 12), round(float(np.sin(angle)), 12)
    return np.array([[cos, sin], [-sin, cos]])


@dataclass(frozen=True)
class Pattern:
    """A piece with its cut line, seen liner side up, least x and y at 0; counter-clockwise."""

    id: str
    label: str
    ring: Points
    turns: tuple[Turn, ...]
    pair: str = ""

    def turned(self, turn: Turn) -> Points:
        """The cut line turned, least x and y at 0 again."""
        ring = self.ring @ rotation(turn)
        return np.asarray(ring - ring.min(axis=0))

    def across(self, turn: Turn) -> float:
        """How far it reaches across the roll when turned so [mm]."""
        return float(self.turned(turn)[:, 1].max())


@dataclass(frozen=True)
class PatternPlaced:
    """A pattern on its stock: turned, then moved so that its least corner lies at x, y."""

    pattern_id: str
    turn: Turn
    x: float
    y: float
    ring: Points


@dataclass(frozen=True)
class PatternStrip:
    """A full-width length of one stock, from ``x`` on, with patterns on it."""

    stock_id: str
    x: float
    length: float
    placed: tuple[PatternPlaced, ...]


@dataclass(frozen=True)
class PatternRules:
    """What a pattern layout keeps to [mm]."""

    gap: float
    margin: float

    @classmethod
    def from_starting(cls, starting: StartingValues) -> PatternRules:
        """The shop's figures."""
        return cls(starting["knife_gap_mm"], starting["edge_margin_mm"])


@dataclass(frozen=True)
class PatternPlan:
    """A verified layout of patterns and what it costs."""

    strips: tuple[PatternStrip, ...]
    unplaced: tuple[Unplaced, ...]
    rests: tuple[Leftover, ...]  # the largest rectangle of each strip, cut off square around it
    new_film: float  # [$]
    offcuts_used: float
    kept: float
    minutes: float
    net: float
    roll_length: float
    placed_area: float
    taken_area: float
    bound: float  # least money for film by area alone
    finished: bool


def strip_of(stock_id: str, placed: Sequence[PatternPlaced], rules: PatternRules) -> PatternStrip:
    """The strip that holds patterns with their margin behind."""
    reach = max(float(item.ring[:, 0].max()) for item in placed)
    return PatternStrip(stock_id, 0.0, reach + rules.margin, tuple(placed))

"""Where fingers will stand, the H that holds the film, and the order in which it is heated (handbook, section 8).

Fingers are an estimate: their number and height follow from a wave length that is our starting value.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise
from math import ceil, pi, sqrt

import numpy as np

from elumbra.core.geom import span_at
from elumbra.core.shrink.net import Anchor, Net, Unrolled
from elumbra.core.shrink.required import Glass, Required
from elumbra.core.shrink.verdict import Bears, ShrinkWord
from elumbra.core.starting import StartingValues

_COLUMNS = 33


class Quarter(StrEnum):
    """A quarter of the film between the lines of the H, seen from outside."""

    UPPER_LEFT = "upper left"
    UPPER_RIGHT = "upper right"
    LOWER_LEFT = "lower left"
    LOWER_RIGHT = "lower right"


@dataclass(frozen=True)
class Finger:
    """One finger's ridge in film coordinates [mm]: from where it starts to the edge."""

    u: float
    start: float
    end: float


@dataclass(frozen=True)
class Zone:
    """A quarter of the film: what must go there, its fingers, and the bites in which it is taken."""

    quarter: Quarter
    largest: float  # share
    spare: float  # film too long along its outer row, all fingers together [mm]
    word: ShrinkWord
    fingers: tuple[Finger, ...]
    height: float  # of each finger, an estimate [mm]
    bites: tuple[tuple[float, float], ...]  # from, to along u, from the middle outward [mm]
    minutes: float


@dataclass(frozen=True)
class HeatPlan:
    """How a piece is held and heated."""

    side_lines: tuple[float, float]  # where the H's two lines stand, along u [mm]
    from_edges: float  # how far that is from the pane's edge on the cross line [mm]
    zones: tuple[Zone, ...]  # in the order they are heated
    ridges_shrink: bool  # ridges run across the machine direction, as they must
    minutes: float


def heat_plan(glass: Glass, anchor: Anchor, piece: Required, bears: Bears, *, starting: StartingValues) -> HeatPlan:
    """The H, the fingers and the order of heating of one piece.

    Parameters
    ----------
    glass, anchor, piece
        The pane, where its film is anchored and what that needs.
    bears
        What the film bears.
    starting
        Wave length of a finger, bites, minutes.
    """
    left, right = span_at(piece.ring, 1, 0.0)
    inset = min(starting["h_side_mm"], (right - left) / 4)
    lines = (left + inset, right - inset)
    zones = []
    for quarter in Quarter:
        up = quarter in (Quarter.UPPER_LEFT, Quarter.UPPER_RIGHT)
        on_left = quarter in (Quarter.UPPER_LEFT, Quarter.LOWER_LEFT)
        span = (lines[0], 0.0) if on_left else (0.0, lines[1])
        zones.append(_zone(glass, anchor, piece, bears, quarter, span, up=up, starting=starting))
    halves = [zones[:2], zones[2:]]
    halves.sort(key=lambda half: sum(zone.spare for zone in half))  # the easier half first
    ordered = tuple(zone for half in halves for zone in half)
    needed = any(zone.word is not ShrinkWord.FLAT for zone in ordered)
    minutes = (starting["h_minutes"] if needed else 0.0) + sum(zone.minutes for zone in ordered)
    return HeatPlan(lines, inset, ordered, anchor.way is Unrolled.ACROSS or not needed, minutes)


def _zone(
    glass: Glass,
    anchor: Anchor,
    piece: Required,
    bears: Bears,
    quarter: Quarter,
    span: tuple[float, float],
    *,
    up: bool,
    starting: StartingValues,
) -> Zone:
    u = np.linspace(*span, _COLUMNS)
    v = np.array([span_at(piece.ring, 0, float(one))[1 if up else 0] for one in u])
    shrink = np.maximum(1 - Net(glass.face, anchor).at(u, v).j, 0.0)
    width = abs(span[1] - span[0])
    between = np.diff(u)
    spare = float(np.sum((shrink[1:] + shrink[:-1]) / 2 * np.abs(between)))
    largest = float(shrink.max())
    word = bears.word(largest)
    fingers: tuple[Finger, ...] = ()
    height = 0.0
    if word is not ShrinkWord.FLAT and width > 0:
        number = max(1, round(width / starting["finger_wave_mm"]))
        summed = np.concatenate([[0.0], np.cumsum((shrink[1:] + shrink[:-1]) / 2 * np.abs(between))])
        places = np.interp((np.arange(number) + 0.5) / number * summed[-1], summed, u)
        ends = np.interp(places, u, v)
        at_end = np.maximum(np.interp(places, u, shrink), bears.flat)
        # What must go grows with the distance squared: below the first word the film lies by itself.
        starts = ends * np.sqrt(bears.flat / at_end)
        fingers = tuple(Finger(*one) for one in zip(places.tolist(), starts.tolist(), ends.tolist(), strict=True))
        wave = width / number
        height = 2 * wave / pi * sqrt(spare / width)
    bites = max(1, ceil(width / starting["heat_bite_mm"])) if fingers else 0
    middle, outer = (span[1], span[0]) if abs(span[0]) > abs(span[1]) else span
    marks = np.linspace(middle, outer, bites + 1).tolist()
    each = (
        starting["snap_minutes"] / 4
        if word is ShrinkWord.SNAP
        else starting["heat_bite_minutes"] * (0.5 + largest / bears.limit)
    )
    minutes = each if word is ShrinkWord.SNAP else each * bites
    return Zone(
        quarter,
        largest,
        spare,
        word,
        fingers,
        height,
        tuple(pairwise(marks)),
        minutes if fingers else 0.0,
    )

"""Numbered knife cuts of a layout, and how each pane lies on its blank.

Handedness (heart, section 1): film is laid on the pane's outer face with its liner toward
the installer, so **seen from its liner side a piece has the pane's outline as seen from
outside; seen from its hard-coat side it is the mirror image**. What is drawn on the stock
therefore depends on which face of the stock lies up.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from elumbra.core.film import LinerSide, Stock
from elumbra.core.geom import bounds
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Outline
from elumbra.core.nest.layout import TOUCHING, Lane, Layout, Placed, Section, Turn


class CutKind(StrEnum):
    """The three stages of cuts, in the order they are made."""

    ACROSS_ROLL = "across_roll"
    ALONG = "along"
    ACROSS_LANE = "across_lane"


@dataclass(frozen=True)
class CutStep:
    """One straight cut; ``at`` is what the ruler reads, from where ``measured_from`` says."""

    number: int
    stock_id: str
    kind: CutKind
    at: float
    measured_from: str
    start: tuple[float, float]  # on the stock: along, across [mm]
    end: tuple[float, float]


def cut_steps(layout: Layout, stocks: Mapping[str, Stock]) -> tuple[CutStep, ...]:
    """The cuts that free every blank, numbered in working order.

    Each section is first cut off the stock, then parted along the roll, then across its
    lanes, so that nothing has to be held that is still on the roll.
    """
    steps: list[CutStep] = []
    for section in layout.sections:
        width = stocks[section.stock_id].width
        _add(steps, section.stock_id, CutKind.ACROSS_ROLL, section.length, "the film's free end",
             (section.x + section.length, 0.0), (section.x + section.length, width))  # fmt: skip
        for y in _cuts_along(section, width):
            _add(steps, section.stock_id, CutKind.ALONG, y, "the near edge",
                 (section.x, y), (section.x + section.length, y))  # fmt: skip
        for lane in sorted(section.lanes, key=lambda lane: lane.y):
            for x in _cuts_across(section, lane):
                _add(steps, section.stock_id, CutKind.ACROSS_LANE, x - section.x, "the left end of the strip",
                     (x, lane.y), (x, lane.y + lane.width))  # fmt: skip
    return tuple(steps)


def _add(
    steps: list[CutStep],
    stock_id: str,
    kind: CutKind,
    at: float,
    measured_from: str,
    start: tuple[float, float],
    end: tuple[float, float],
) -> None:
    steps.append(CutStep(len(steps) + 1, stock_id, kind, at, measured_from, start, end))


def _cuts_along(section: Section, width: float) -> list[float]:
    edges = {round(y, 6) for lane in section.lanes for y in (lane.y, lane.y + lane.width)}
    return sorted(y for y in edges if TOUCHING < y < width - TOUCHING)


def _cuts_across(section: Section, lane: Lane) -> list[float]:
    ends = sorted(item.x + item.along for item in lane.placed)
    return [x for x in ends if x < section.x + section.length - TOUCHING]


def outline_on_blank(outline: Outline, item: Placed, *, liner: LinerSide, play: float) -> Points:
    """A pane's outline where it lies on its blank, in the stock's own directions.

    Parameters
    ----------
    outline
        The pane seen from outside the car.
    item
        Where its blank lies.
    liner
        Which face of the stock carries the liner; drawn liner up where nobody knows.
    play
        Play of the blank on each side [mm].

    Returns
    -------
    Points
        Ring on the stock, along and across [mm], as seen from above.
    """
    ring = outline.ring[::-1] if liner is LinerSide.DOWN else outline.ring
    return points_on_blank(ring, outline, item, liner=liner, play=play)


def points_on_blank(points: Points, outline: Outline, item: Placed, *, liner: LinerSide, play: float) -> Points:
    """Points of a pane, shape ``(n, 2)``, where they lie on its blank; see ``outline_on_blank``."""
    low_x, low_y, high_x, high_y = bounds(outline.ring)
    width, height = high_x - low_x, high_y - low_y
    along = high_x - points[:, 0] if liner is LinerSide.DOWN else points[:, 0] - low_x
    seen = np.column_stack([along, points[:, 1] - low_y])
    if item.turn is Turn.UPRIGHT:
        turned = seen
    elif item.turn is Turn.UPSIDE_DOWN:
        turned = np.array([width, height]) - seen
    else:
        # A quarter turn counter-clockwise: the head lies left, the foot right, where the further
        # play of its cut is.
        turned = np.column_stack([height - seen[:, 1], seen[:, 0]])
    at_y = item.across - height - play if item.turn is Turn.UPSIDE_DOWN else play
    return np.asarray(turned + np.array([item.x + play, item.y + at_y]))

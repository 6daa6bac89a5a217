"""What a hand does on the practice glass: strokes, each at a step of a tenth of a second.

A stroke is a short row, the same in a log, a file and a request: the step, a word, and what the word takes.

    [0, "sheet"]                      dryer sheet over the wet glass; dry after a while
    [0, "wet"]                        slip all over the glass
    [90, "lay", "across"]             film on, the roll's direction across the car or up the pane
    [95, "h", "across"]               the H, its cross line across or up
    [120, "gun", x, y, 1, 60]         gun held there for this step: high (1) or low (0), 10 to 100 % of its nearness
    [121, "card", x, y]               card, or "glove", or "mist", at a point as seen from outside [mm]
    [300, "lift"]                     film up and surplus water off; it may be laid anew
    [900, "trim"]                     cut at the edge of the glass
    [910, "look"]                     looked over from inside: the run is over
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import isfinite
from typing import Any

from elumbra.core.errors import CoreError
from elumbra.core.shrink import Unrolled

STEP_S = 0.1
"""A step of practice [s]."""
MOST_STEPS = 9_000
"""A run ends after a quarter of an hour."""
MOST_AT_ONCE = 8
"""Strokes within one step: two hands do no more."""
FARTHEST_MM = 5_000.0


class StrokeError(CoreError):
    """Strokes that no hand makes: out of order, unknown, too many at once, or after the end."""


class Do(StrEnum):
    """What a stroke does."""

    SHEET = "sheet"
    WET = "wet"
    LAY = "lay"
    H = "h"
    GUN = "gun"
    CARD = "card"
    GLOVE = "glove"
    MIST = "mist"
    LIFT = "lift"
    TRIM = "trim"
    LOOK = "look"


_AT_A_POINT = frozenset({Do.GUN, Do.CARD, Do.GLOVE, Do.MIST})
_WITH_A_WAY = frozenset({Do.LAY, Do.H})
PRESSING = frozenset({Do.CARD, Do.GLOVE})


@dataclass(frozen=True)
class Stroke:
    """One thing that a hand does in one step."""

    step: int
    do: Do
    x: float = 0.0  # as seen from outside [mm]
    y: float = 0.0
    way: Unrolled = Unrolled.ACROSS
    high: bool = True
    near: float = 1.0  # share of what the gun gives at working distance

    def row(self) -> list[Any]:
        """The stroke as it is kept."""
        row: list[Any] = [self.step, self.do.value]
        if self.do in _AT_A_POINT:
            row += [round(self.x), round(self.y)]
        if self.do in _WITH_A_WAY:
            row.append(self.way.value)
        if self.do is Do.GUN:
            row += [int(self.high), round(self.near * 100)]
        return row


def read_strokes(rows: Sequence[Sequence[Any]], *, after: int = 0) -> tuple[Stroke, ...]:
    """Strokes from their rows.

    Parameters
    ----------
    rows
        In order of their steps.
    after
        The step that the run has reached: none may be before it.

    Raises
    ------
    StrokeError
        A row that is no stroke, out of order, or more at one step than two hands do.

    Examples
    --------
    >>> read_strokes([[3, "gun", 120, -40, 1, 60]])[0].near
    0.6
    >>> read_strokes([[3, "gum", 1, 1]])
    Traceback (most recent call last):
        ...
    elumbra.core.practice.hand.StrokeError: Stroke 1: “gum” is nothing that a hand does here.
    """
    strokes: list[Stroke] = []
    reached, at_once = after, 0
    for number, row in enumerate(rows, start=1):
        stroke = _read(number, row)
        if stroke.step < reached:
            raise StrokeError(
                f"Stroke {number} is of step {stroke.step}, and step {reached} is past. Strokes come in order; "
                "take up the run from where it stands."
            )
        at_once = at_once + 1 if stroke.step == reached and strokes else 1
        reached = stroke.step
        if at_once > MOST_AT_ONCE:
            raise StrokeError(f"Step {reached} has more than {MOST_AT_ONCE} strokes: two hands do no more in a tenth.")
        strokes.append(stroke)
    return tuple(strokes)


def _read(number: int, row: Sequence[Any]) -> Stroke:
    if len(row) < 2 or type(row[0]) is not int or not 0 <= row[0] < MOST_STEPS:
        raise StrokeError(
            f"Stroke {number} does not begin with a step from 0 to {MOST_STEPS - 1}: a run is a quarter of an hour."
        )
    if row[1] not in list(Do):
        raise StrokeError(f"Stroke {number}: “{row[1]}” is nothing that a hand does here.")
    do = Do(row[1])
    rest = list(row[2:])
    takes = 4 if do is Do.GUN else 2 if do in _AT_A_POINT else 1 if do in _WITH_A_WAY else 0
    if len(rest) != takes:
        raise StrokeError(f"Stroke {number}: “{do}” takes {takes} more, not {len(rest)}.")
    if do in _WITH_A_WAY:
        if rest[0] not in list(Unrolled):
            raise StrokeError(f"Stroke {number}: “{rest[0]}” is no way; across or up.")
        return Stroke(row[0], do, way=Unrolled(rest[0]))
    if do not in _AT_A_POINT:
        return Stroke(row[0], do)
    if not all(type(one) in (int, float) and isfinite(one) for one in rest):
        raise StrokeError(f"Stroke {number}: “{do}” takes numbers.")
    if max(abs(rest[0]), abs(rest[1])) > FARTHEST_MM:
        raise StrokeError(f"Stroke {number} is more than {FARTHEST_MM / 1000:.0f} m off the glass.")
    if do is not Do.GUN:
        return Stroke(row[0], do, float(round(rest[0])), float(round(rest[1])))
    if rest[2] not in (0, 1) or not 10 <= rest[3] <= 100:
        raise StrokeError(f"Stroke {number}: the gun is low (0) or high (1), and near by 10 to 100 percent.")
    return Stroke(
        row[0], do, float(round(rest[0])), float(round(rest[1])), high=rest[2] == 1, near=round(rest[3]) / 100
    )

"""Where readings lie on a pane's drawing, and what a pane is good for as it is known."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Curve
from elumbra.core.measure.figures import Figure, plan_of
from elumbra.core.measure.readings import Level, Measures, crown_keys_asked

_SKETCH_WIDTH, _SKETCH_HEIGHT = 900.0, 450.0


class LineKind(StrEnum):
    """What a line on the drawing stands for."""

    SIDE = "side"
    DIAGONAL = "diagonal"
    EXTRA = "extra"  # a further reading
    CORNER = "corner"  # a radius
    CROWN = "crown"


@dataclass(frozen=True)
class ReadingLine:
    """A reading on the drawing: from and to in the pane's own mm."""

    key: str
    kind: LineKind
    start: tuple[float, float]
    end: tuple[float, float]


def sketch(figure: Figure) -> Points:
    """Corners to show before any are solved: numbered places to read between, not a shape.

    Examples
    --------
    >>> sketch(Figure.THREE).tolist()
    [[0.0, 0.0], [900.0, 0.0], [450.0, 450.0]]
    """
    n = figure.corners
    if n == 4:
        return np.array([[0, 0], [1, 0], [0.92, 1], [0.12, 1]]) * [_SKETCH_WIDTH, _SKETCH_HEIGHT]
    if n < 4:
        return np.array([[0, 0], [1, 0], [0.5, 1]]) * [_SKETCH_WIDTH, _SKETCH_HEIGHT]
    turns = -np.pi / 2 - np.pi / n + 2 * np.pi * np.arange(n) / n
    round_ = np.stack([np.cos(turns), np.sin(turns)], axis=1)
    low, high = round_.min(axis=0), round_.max(axis=0)
    return np.asarray((round_ - low) / (high - low) * [_SKETCH_WIDTH, _SKETCH_HEIGHT])


def reading_lines(figure: Figure, corners: Points) -> tuple[ReadingLine, ...]:
    """Every straight reading, radius and crown of a figure as it lies on such corners."""
    if figure is Figure.DRAWN or len(corners) != figure.corners:
        return ()
    plan = plan_of(figure)
    lines = []
    for key, ends in plan.all.items():
        kind = LineKind.SIDE if key in plan.edges else LineKind.DIAGONAL if key in plan.needed else LineKind.EXTRA
        start, end = (corners[list(which)].mean(axis=0) for which in ends)
        lines.append(ReadingLine(key, kind, _pair(start), _pair(end)))
    for name, corner in zip(plan.corners, corners, strict=True):
        lines.append(ReadingLine(f"radius_{name}", LineKind.CORNER, _pair(corner), _pair(corner)))
    low, high = corners.min(axis=0), corners.max(axis=0)
    middle = (low + high) / 2
    lines.append(
        ReadingLine(
            "crown_across", LineKind.CROWN, (float(low[0]), float(middle[1])), (float(high[0]), float(middle[1]))
        )
    )
    lines.append(
        ReadingLine("crown_up", LineKind.CROWN, (float(middle[0]), float(low[1])), (float(middle[0]), float(high[1])))
    )
    return tuple(lines)


def _pair(point: Points) -> tuple[float, float]:
    return float(point[0]), float(point[1])


@dataclass(frozen=True)
class Serves:
    """What a pane is good for as it is known, and what is wanting for it."""

    level: Level
    words: str
    missing: tuple[str, ...]  # readings; none: good for it


_PURPOSES = (
    (Level.SIZE, "law and hand-cut blank"),
    (Level.SHAPE, "exact allowances"),
    (Level.CURVE, "shrink and pattern"),
)


def serves(measures: Measures) -> tuple[Serves, ...]:
    """Each purpose with the readings that it lacks.

    Corners stand for the greatest sizes; glass called flat has no crowns to read.
    """
    shape = [key for key in plan_of(measures.figure).asked if key not in measures.readings]
    size = [key for key in ("width", "height") if key not in measures.readings]
    crowns = [] if measures.curve is Curve.FLAT else [
        key for key in crown_keys_asked(measures.readings) if key not in measures.readings
    ]  # fmt: skip
    drawn = measures.figure is Figure.DRAWN
    missing = {
        Level.SIZE: [] if drawn or not shape else size,
        Level.SHAPE: [] if drawn else shape,
        Level.CURVE: ([] if drawn else shape) + crowns,
    }
    return tuple(Serves(level, words, tuple(missing[level])) for level, words in _PURPOSES)

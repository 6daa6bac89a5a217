"""From readings to an outline: the one door through which a measured pane comes."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.geom import arc_through, bounds, is_simple, rounded
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Curve, Outline, Surface, radius_from_gap, rectangle_outline
from elumbra.core.measure.fit import CornerFit, fit_corners
from elumbra.core.measure.readings import (
    SIZE_KEYS,
    Figure,
    Level,
    Measures,
    Readings,
    check_readings,
    corner_names,
    edges,
    shape_keys,
)
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class MeasuredPane:
    """A pane as far as its readings tell."""

    outline: Outline | None  # None while readings are missing
    fit: CornerFit | None  # only at level shape
    missing: tuple[str, ...]
    cautions: tuple[str, ...]
    surface: Surface | None = None  # its curve, where a crown was read
    problem: str = ""  # readings that no pane can have: then nothing else is known

    def mirrored(self) -> MeasuredPane:
        """The pane of the other side of the car."""
        return replace(self, outline=self.outline.mirrored()) if self.outline else self


def unreadable_pane(problem: str) -> MeasuredPane:
    """A pane whose readings cannot be, with the reason."""
    return MeasuredPane(None, None, (), (), problem=problem)


@lru_cache(maxsize=4096)
def measure_pane(measures: Measures, *, starting: StartingValues) -> MeasuredPane:
    """Work out a pane's outline from what has been read so far; the same measures are worked out once.

    At level *shape* with readings missing, the greatest width and height still serve for a
    dashed stand-in when both are there.

    Raises
    ------
    ReadingError
        Readings that no pane can have.
    """
    readings, figure = measures.readings, measures.figure
    check_readings(readings, figure=figure, starting=starting)
    size_missing = tuple(key for key in SIZE_KEYS if key not in readings)
    stand_in = None
    if not size_missing:
        stand_in = rectangle_outline(width=readings["width"].mm, height=readings["height"].mm)
    if measures.level is Level.SIZE:
        return MeasuredPane(stand_in, None, size_missing, (), _surface(stand_in, readings))
    fit = fit_corners(readings, figure=figure, starting=starting)
    if fit is None:
        missing = tuple(key for key in shape_keys(figure) if key not in readings)
        return MeasuredPane(stand_in, None, missing, (), _surface(stand_in, readings))
    outline = _outline(fit.corners, readings, figure)
    cautions = _cautions(outline, readings, measures.curve, starting)
    return MeasuredPane(outline, fit, (), cautions, _surface(outline, readings))


def _surface(outline: Outline | None, readings: Readings) -> Surface | None:
    """The pane's curve from its crowns, read across its whole width and height."""
    across, up = readings.get("crown_across"), readings.get("crown_up")
    if outline is None or (across is None and up is None):
        return None
    return Surface(
        radius_across=radius_from_gap(gap=across.mm if across else 0.0, chord=outline.width),
        radius_up=radius_from_gap(gap=up.mm if up else 0.0, chord=outline.height),
    )


def _outline(corners: Points, readings: Readings, figure: Figure) -> Outline:
    following = np.roll(corners, -1, axis=0)
    parts = [
        arc_through(start, end, bow=readings[f"bow_{edge}"].mm if f"bow_{edge}" in readings else 0.0)
        for edge, start, end in zip(edges(figure), corners, following, strict=True)
    ]
    ring = np.vstack(parts)
    if not is_simple(ring):
        raise ReadingError("These bows make the edges cross. Read them again.")
    radii = [readings[f"radius_{name}"].mm if f"radius_{name}" in readings else 0.0 for name in corner_names(figure)]
    if any(radii):
        ring = rounded(ring, corners, radii)
    low_x, low_y, _, _ = bounds(ring)
    origin = np.array([low_x, low_y])
    return Outline(ring - origin, corners - origin, measured=True)


def _cautions(outline: Outline, readings: Readings, curve: Curve, starting: StartingValues) -> tuple[str, ...]:
    cautions = []
    if curve.binds_direction:
        cautions.append("Curved both ways: this flat drawing is good for a blank, not yet for a pattern.")
    slack = starting["misclosure_alarm_sigma"] * starting["tape_sigma_mm"]
    for key, found in (("width", outline.width), ("height", outline.height)):
        if key in readings and abs(readings[key].mm - found) > slack:
            cautions.append(
                f"Greatest {key} was read as {readings[key].typed}, the drawn pane has {found / 25.4:.2f} in."
            )
    return tuple(cautions)

"""Whether a pane's sizes are such as glass of its kind has, or a slip of the tape or of the unit."""

from __future__ import annotations

from dataclasses import dataclass

from elumbra.core.glass import WindowKind
from elumbra.core.measure import MeasuredPane
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class UsualSize:
    """What the longer size of glass of a kind usually is [mm]."""

    low: float
    high: float


def size_in_doubt(kind: WindowKind, pane: MeasuredPane, *, starting: StartingValues) -> UsualSize | None:
    """What is usual, where a pane is far smaller, larger or narrower; None where it is as glass of its kind is.

    It asks and never holds: odd glass there is.
    """
    if pane.outline is None:
        return None
    longer, shorter = sorted((pane.outline.width, pane.outline.height), reverse=True)
    usual = UsualSize(starting[f"{kind.value}_long_low_mm"], starting[f"{kind.value}_long_high_mm"])
    narrow = shorter < starting["pane_short_share"] * longer
    return usual if narrow or not usual.low <= longer <= usual.high else None

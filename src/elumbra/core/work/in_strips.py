"""A pane in several strips: on its defroster lines, each at its own best line."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache

from elumbra.core.geom.polygon import Points
from elumbra.core.measure import MeasuredPane
from elumbra.core.shrink import Glass, Measuring, Strip, Unrolled, fine, least_strips, required_of_each
from elumbra.core.survey import length_of
from elumbra.core.work.job import Window
from elumbra.core.work.laid import OnGlass, lay

_COARSE_MM = 60.0
_STRIP_ANCHORS = (0.35, 0.425, 0.5, 0.575, 0.65)


def defroster_lines(window: Window, pane: MeasuredPane) -> tuple[float, ...]:
    """Heights of the surveyed defroster lines on the pane's drawing [mm], from the top down."""
    first, pitch = (length_of(window.findings, f"defroster_{one}") for one in ("first", "pitch"))
    if first is None or not pitch or pane.outline is None:
        return ()
    height = pane.outline.height
    told = window.findings.get("defroster_lines")
    number = int(str(told)) if told and str(told).isdigit() else int((height - first) / pitch) + 1
    heights = (height - first - pitch * k for k in range(max(number, 0)))
    return tuple(one for one in heights if 0 < one < height)


@lru_cache(maxsize=64)
def strips_of(on: OnGlass, limit: float, lines: tuple[float, ...]) -> tuple[Strip, ...]:
    """The fewest strips that a film of such a limit takes; on defroster lines where there are any.

    Raises
    ------
    ShrinkError
        Strips so narrow that nobody would lay them.
    """
    whole = lay(on, Unrolled.ACROSS)
    sure = whole.shrink.high / whole.shrink.value if whole.shrink.value > 0 else 1.0
    return least_strips(on.ring, _needs_of(on, sure), limit=limit, overlap=on.starting["strip_overlap_mm"], lines=lines)


def _needs_of(on: OnGlass, sure: float) -> Callable[[Points], float]:
    """What a part of the pane needs at its best anchor, as far as readings leave it open."""

    def needs(ring: Points) -> float:
        part = Glass(on.glass.face, on.found.charted(fine(ring)))
        measuring = Measuring(on.found.face, part.ring, Unrolled.ACROSS)
        most = measuring.most()
        anchors = [measuring.anchor_at(share * most) for share in _STRIP_ANCHORS]
        found = [
            one.largest for one in required_of_each(part, anchors, segment=_COARSE_MM, rough=True) if one is not None
        ]
        return min(found, default=1.0) * sure

    return needs

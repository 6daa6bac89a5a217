"""Old film on a window: whether it comes off, and how that was decided."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from elumbra.core.bay.progress import Event, Happened
from elumbra.core.bay.situation import Removal
from elumbra.core.removal import Advice
from elumbra.core.work import Tick, Window, comes_off, is_off


def strip_tick(window: Window, *, run_done: bool) -> Tick | None:
    """A window's tick at Strip-off; None where no old film comes off."""
    if not comes_off(window):
        return None
    return Tick.DONE if is_off(window) or run_done else Tick.OPEN


def removals_of(windows: Sequence[Window], advice: Mapping[str, Advice], events: Sequence[Event]) -> dict[str, Removal]:
    """By window whose old film comes off, how: as a person chose, else as advised; which layer came off so far."""
    signed = {one.window_id for one in events if one.kind is Happened.ACKNOWLEDGED}
    layers = {one.window_id: str(one.value.get("layer", "")) for one in events if one.kind is Happened.BRANCH}
    found = {}
    for window in windows:
        if window.id not in advice:
            continue
        ranked = advice[window.id]
        way = window.strip_way or ranked.ranked[0].way
        layer = layers.get(window.id, "")
        found[window.id] = Removal(
            way=way.value,
            glue_by=ranked.glue.way.value,
            came_off=layer if layer in ("both", "face_only") else "not_yet",
            price=next(one.price.high for one in ranked.ranked if one.way is way),
            acknowledged=window.id in signed,
        )
    return found

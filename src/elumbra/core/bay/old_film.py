"""Old film on a window: whether it comes off, what that hangs on, and how it was decided."""

from __future__ import annotations

from collections.abc import Mapping, Sequence

from elumbra.core.bay.day import Day, SunSide
from elumbra.core.bay.progress import Event, Happened
from elumbra.core.bay.situation import Removal
from elumbra.core.removal import Advice, Case, OldLook, Tool
from elumbra.core.survey import Answers
from elumbra.core.work import Tick, Window

_COLDEST_C = -50.0


def comes_off(window: Window) -> bool:
    """Whether a window's old film comes off, or came off in this job."""
    return window.old_film and not window.old_film_stays


def strip_tick(window: Window, *, run_done: bool) -> Tick | None:
    """A window's tick at Strip-off; None where no old film comes off."""
    if not comes_off(window):
        return None
    return Tick.DONE if window.old_film_off or run_done else Tick.OPEN


def case_of(window: Window, day: Day, tools: frozenset[Tool]) -> Case:
    """A window with old film as the adviser asks."""
    found: Answers = window.findings
    years, looks = found.get("old_film_years"), found.get("old_film_look", ())
    return Case(
        kind=window.kind,
        glass=window.glass_type,
        years=int(str(years)) if years is not None else None,
        two_layers=found.get("old_film_layers") == "two",
        looks=frozenset(OldLook(one) for one in looks if one in list(OldLook)),
        lines=_lines(found),
        chipped="chipped" in found.get("condition", ()),
        celsius=day.coldest if day.outside_low_c is None else max(day.outside_low_c, day.coldest or _COLDEST_C),
        sun=day.sun is not SunSide.NONE,
        night=window.strip_night,
        tools=tools,
    )


def _lines(found: Answers) -> bool | None:
    """Whether there are printed lines; None while one of the two was not looked for and the other is not there."""
    said = [found.get("defroster"), found.get("antenna")]
    if "yes" in said:
        return True
    return False if said == ["no", "no"] else None


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

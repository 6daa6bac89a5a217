"""Where a window stands at Strip-off and in the bay: from what happened, where anything did."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from elumbra.car import Bay, JobParts, load_bay, settings_for
from elumbra.core.bay import strip_key, strip_tick
from elumbra.core.work import Car, Station, Tick, Window
from elumbra.storage.ledger import has_events


def bay_if_begun(session: Session, car: Car, parts: JobParts) -> Bay | None:
    """A job's work; None while nothing has happened, which costs no run."""
    if not has_events(session, parts.job.id):
        return None
    return load_bay(session, car, parts, settings_for(session, None))


def work_ticks(window: Window, bay: Bay | None) -> Mapping[Station, Tick | None]:
    """A window's ticks where hands work on it."""
    strip, own = (bay.runs.progress.get(name) if bay else None for name in (strip_key(window.id), window.id))
    return {
        Station.STRIP_OFF: strip_tick(window, run_done=strip is not None and strip.done),
        Station.BAY: Tick.DONE if own is not None and own.done else Tick.OPEN,
    }

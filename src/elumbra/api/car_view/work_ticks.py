"""Where a window stands at Strip-off and in the bay: from what happened, where anything did."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy.orm import Session

from elumbra.car import Bay, JobParts, load_bay, settings_for
from elumbra.core.bay import strip_key
from elumbra.core.work import Car, Station, Tick, Window
from elumbra.storage.ledger import has_events


def bay_if_begun(session: Session, car: Car, parts: JobParts) -> Bay | None:
    """A job's work; None while nothing has happened, which costs no run."""
    if not has_events(session, parts.job.id):
        return None
    return load_bay(session, car, parts, settings_for(session, ""))


def work_ticks(window: Window, bay: Bay | None) -> Mapping[Station, Tick | None]:
    """A window's ticks where hands work on it."""
    old = window.old_film and not window.old_film_stays
    if window.old_film_off or (bay and (run := bay.runs.progress.get(strip_key(window.id))) and run.done):
        strip: Tick | None = Tick.DONE
    else:
        strip = Tick.OPEN
    done = bay is not None and (run := bay.runs.progress.get(window.id)) is not None and run.done
    return {Station.STRIP_OFF: strip if old else None, Station.BAY: Tick.DONE if done else Tick.OPEN}

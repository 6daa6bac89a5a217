"""Where a window stands where hands work on it and where it is judged: from what happened, where anything did."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from sqlalchemy.orm import Session

from elumbra.car import Bay, JobParts, load_bay, settings_for
from elumbra.core.bay import strip_key, strip_tick
from elumbra.core.work import Car, Station, Tick, Window
from elumbra.storage.kept import flaws, looks
from elumbra.storage.ledger import has_events


@dataclass(frozen=True)
class Seen:
    """What was seen on a car's windows, as far as their ticks go."""

    handed_over: bool = False
    quoted: bool = False
    final: frozenset[str] = field(default_factory=frozenset)  # windows looked over at the end
    flawed: frozenset[str] = field(default_factory=frozenset)  # windows with a flaw that stands open


def seen_on(session: Session, parts: JobParts) -> Seen:
    """What was seen so far on a job's windows."""
    films = {window.id: window.film_id for window in parts.windows}
    final = {one.window_id: one.at for one in looks(session).all(order="at", job_id=parts.job.id, when="final")
             if one.film_id == films.get(one.window_id)}  # fmt: skip
    stands = flaws(session).all(job_id=parts.job.id, closed="")
    # A pane is called clean only once nothing on it stands unsettled: what was seen before that stays by right.
    unsettled = {one.window_id for one in stands if one.window_id not in final or one.at > final[one.window_id]}
    return Seen(
        bool(parts.job.handed_over_on), parts.accepted is not None, frozenset(final), frozenset(unsettled)
    )  # fmt: skip


def bay_if_begun(session: Session, car: Car, parts: JobParts) -> Bay | None:
    """A job's work; None while nothing has happened, which costs no run."""
    if not has_events(session, parts.job.id):
        return None
    return load_bay(session, car, parts, settings_for(session, None))


def work_ticks(window: Window, bay: Bay | None, seen: Seen) -> Mapping[Station, Tick | None]:
    """A window's ticks where hands work on it, where it is judged, and where it is sold."""
    strip, own = (bay.runs.progress.get(name) if bay else None for name in (strip_key(window.id), window.id))
    look = Tick.TROUBLE if window.id in seen.flawed else Tick.DONE if window.id in seen.final else Tick.OPEN
    quote = None
    if seen.quoted:
        quote = Tick.TROUBLE if window.off_order else Tick.DONE
    return {
        Station.STRIP_OFF: strip_tick(window, run_done=strip is not None and strip.done),
        Station.BAY: Tick.DONE if own is not None and own.done else Tick.OPEN,
        Station.LOOK: look,
        Station.HANDOVER: Tick.DONE if seen.handed_over else Tick.OPEN,
        Station.QUOTE: quote,
    }

"""A window's film is spoilt: it is planned and cut once more, and what it took is waste with its reason."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.bay import core_events
from elumbra.core.bay import Event, Happened
from elumbra.core.units import format_inches
from elumbra.storage import data_files, ledger
from elumbra.storage.ledger import MovementKind, counts
from elumbra.storage.records import CuttingRecord
from elumbra.storage.store import NotFoundError, cuttings, jobs, windows

Lost = dict[str, Any]
"""Stock and count that were booked as waste."""


def cut_again(
    session: Session,
    cutting_id: str,
    window_id: str,
    *,
    version: int,
    person_id: str,
    lost: Sequence[Lost] = (),
    event_id: str = "",
) -> str:
    """A window's film is spoilt: it is planned and cut once more. The job's id.

    ``lost`` says what of the cut was booked as waste, so that it is undone where the whole cut is taken back;
    ``event_id`` is what went wrong, where that was said in the bay or at Look.

    Raises
    ------
    NotFoundError
        Nothing was cut for this window then.
    """
    record = cuttings(session).get_present(cutting_id)
    if window_id not in {mark.window_id for mark in record.marks}:
        raise NotFoundError("window of this cut", window_id)
    again = [*record.content.get("again", ()), window_id]
    content = {**record.content, "again": again, "lost": [*record.content.get("lost", ()), *lost]}
    if event_id:
        content["scrap"] = [*record.content.get("scrap", ()), {"event": event_id, "window_id": window_id}]
    changed = replace(record, version=version, content=content)
    cuttings(session).update(changed, person_id=person_id, action="cut again")
    _placed_no_more(session, window_id, person_id)
    return record.job_id


def _placed_no_more(session: Session, window_id: str, person_id: str) -> None:
    """The film that its pieces were put on by hand is cut: the new ones are planned."""
    window = windows(session).find(window_id)
    if window is not None and not window.removed and window.facts.get("by_hand"):
        free = replace(window, facts={**window.facts, "by_hand": []})
        windows(session).update(free, person_id=person_id, action="planned anew")


def spoilt(session: Session, job_id: str, window_id: str, *, why: str, event_id: str, person_id: str) -> str:
    """Book a window's piece as waste and have it cut again; what was booked, in words.

    Empty where no cut of it was booked: then no film of the rack is known to be lost.
    """
    record = _cutting_of(session, job_id, window_id)
    if record is None:
        return ""
    lost, told = _to_waste(session, record, window_id, why, person_id)
    lost = [one | {"event": event_id, "window_id": window_id} for one in lost]
    cut_again(session, record.id, window_id, version=record.version, person_id=person_id, lost=lost, event_id=event_id)
    return "; ".join(told) or "Its film is cut again; how much is lost was not kept by the release that booked it."


def _cutting_of(session: Session, job_id: str, window_id: str) -> CuttingRecord | None:
    """The cutting that a window's film is from, the newest first."""
    for record in reversed(cuttings(session).all(order="on_day", job_id=job_id)):
        if any(mark.window_id == window_id for mark in record.marks):
            return record
    return None


def _to_waste(
    session: Session, record: CuttingRecord, window_id: str, why: str, person_id: str
) -> tuple[list[Lost], list[str]]:
    """What a piece used is waste instead: the roll's sum stays as it is."""
    job = jobs(session).get(record.job_id)
    told = []
    lost: list[Lost] = []
    for mark in record.marks:
        if mark.window_id != window_id or not mark.stock_id or not mark.count:
            continue
        for kind, count in ((MovementKind.USED, mark.count), (MovementKind.WASTE, -mark.count)):
            ledger.move(
                session, mark.stock_id, kind, count, person_id=person_id, job_id=job.id, cutting_id=record.id,
                note=f"job {job.number}, {mark.label}: {why}",
            )  # fmt: skip
        lost.append({"stock_id": mark.stock_id, "count": mark.count})
        told.append(f"{format_inches(mark.count / counts(1.0))} in of {mark.roll} booked as waste")
    return lost, told


def unsettled_scrap(events: Sequence[Event], standing: Sequence[CuttingRecord]) -> dict[str, list[Event]]:
    """By window, what spoilt a piece of which nobody knows what film it was, oldest first.

    A spoilt piece is settled once its film is booked as waste, or somebody said that it was no film of the rack.
    ``standing`` are the cuttings that were not taken back.
    """
    told = {str(one.value.get("event", "")) for one in events if one.kind in (Happened.UNDO, Happened.NO_FILM)}
    told |= {
        str(one.get("event", ""))
        for record in standing
        for name in ("lost", "scrap")
        for one in record.content.get(name, ())
    }
    found: dict[str, list[Event]] = {}
    for one in sorted(events, key=lambda event: (event.at, event.id)):
        if one.kind is Happened.WRONG and one.value.get("spoilt") and one.window_id and one.id not in told:
            found.setdefault(one.window_id, []).append(one)
    return found


def settle_scrap(session: Session, job_id: str, window_ids: Collection[str], *, person_id: str) -> list[str]:
    """Film was booked for windows of which a piece had been spoilt before anybody booked it: that piece is meant.

    It is booked as waste, and the window is cut once more. What was done, in sentences.
    """
    scrap = unsettled_scrap(core_events(session, job_id), cuttings(session).all(order="on_day", job_id=job_id))
    oldest = {window_id: scrap[window_id][0] for window_id in window_ids if window_id in scrap}
    return [
        spoilt(session, job_id, window_id, why=why_spoilt(one.value), event_id=one.id, person_id=person_id)
        for window_id, one in oldest.items()
    ]


def why_spoilt(value: Mapping[str, Any]) -> str:
    """What spoilt a piece, as the roll's movements tell it.

    Examples
    --------
    >>> why_spoilt({"note": "dropped"})
    'spoilt: dropped'
    """
    wrong = data_files.step_book().wrongs.get(str(value.get("what", "")))
    note = str(value.get("note") or "")
    return (wrong.words.lower() if wrong else "spoilt") + (f": {note}" if note else "")


def spoilt_no_more(session: Session, job_id: str, event_id: str, *, person_id: str) -> None:
    """Undo what an event booked as spoilt: its film is used again, the window is cut as it was.

    Nothing is done where the cut was taken back, or the window was cut again meanwhile: then the waste is real.
    """
    job = jobs(session).get(job_id)
    standing = cuttings(session).all(order="on_day", job_id=job_id)
    for record in standing:
        mine = [one for one in record.content.get("lost", ()) if one.get("event") == event_id]
        scrap = [one for one in record.content.get("scrap", ()) if one["event"] == event_id]
        if not mine and not scrap:
            continue
        window_id = (mine or scrap)[0]["window_id"]
        if any(mark.window_id == window_id for other in standing for mark in other.marks):
            return
        for one in mine:
            for kind, count in ((MovementKind.USED, -one["count"]), (MovementKind.WASTE, one["count"])):
                ledger.move(
                    session, one["stock_id"], kind, count, person_id=person_id, job_id=job_id, cutting_id=record.id,
                    note=f"job {job.number}, said by mistake",
                )  # fmt: skip
        again = list(record.content.get("again", ()))
        again.remove(window_id)
        rest = {
            name: [one for one in record.content.get(name, ()) if one not in out]
            for name, out in (("lost", mine), ("scrap", scrap))
        }
        changed = replace(record, content={**record.content, "again": again, **rest})
        cuttings(session).update(changed, person_id=person_id, action="not spoilt after all")
        return

"""A window's whole history, from every place that keeps a part of it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime

from elumbra.car.look import CarLook
from elumbra.core.bay import PHASE_WORDS, Happened
from elumbra.core.inspection import Call, Told
from elumbra.storage import clock
from elumbra.storage.finding import owner_of
from elumbra.storage.kept import calls, signatures_of
from elumbra.storage.store import people


@dataclass(frozen=True)
class Happening:
    """Something that happened to a window, and who did it."""

    at: datetime | None
    words: str
    person: str = ""


def window_history(look: CarLook, window_id: str) -> list[Happening]:
    """All that is on record of a window, oldest first."""
    session, parts = look.session, look.parts
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    found: list[Happening] = []
    for record in parts.cuttings:
        found += [
            Happening(
                _noon(record.on_day),
                f"Cut from {mark.roll or 'a roll'}, lot {mark.lot or 'not on record'}",
                record.person_name,
            )
            for mark in record.marks
            if mark.window_id == window_id
        ]
    found += _work(look, window_id)
    at = look.windows.get(window_id)
    if at is not None:
        found += [
            Happening(one.at, f"Looked over: {'clean' if one.clean else 'flaws put on it'}", one.person_name)
            for one in at.looks.values()
        ]
        for flaw in at.flaws:
            words = look.book.flaw(flaw.kind).words
            ended = {"gone": ", gone since", "redone": ", piece redone", "kept": ", kept"}.get(flaw.closed, "")
            accepted = f", accepted by {flaw.accepted_by}" if flaw.accepted_by else ""
            found.append(Happening(flaw.at, f"Seen: {words}{accepted}{ended}", flaw.person_name))
        found += [
            Happening(_noon(one.on_day), f"Metered: {one.read_percent:.1f} %, foretold {one.predicted_percent:.1f} %")
            for one in at.readings
        ]
    found += [
        Happening(one.at, f"Called about: {look.book.flaw(one.kind).words}. {one.said}".strip(), one.person_name)
        for one in calls(session).all(order="at", window_id=window_id)
    ]
    found += [
        Happening(one.at, f"Signed at hand-over by {one.name}", names.get(one.person_id, ""))
        for one in signatures_of(session, parts.job.id, "handover")
    ]
    return sorted(found, key=lambda one: one.at or datetime.min)  # noqa: DTZ901  stored times carry no zone


def _noon(day: str) -> datetime | None:
    return datetime.fromisoformat(f"{day}T12:00:00") if day else None


def _stored(seconds: float) -> datetime:
    return datetime.fromtimestamp(seconds, UTC).replace(tzinfo=None)


def _work(look: CarLook, window_id: str) -> list[Happening]:
    """What was ticked, phase by phase, and what went wrong."""
    found = []
    for name in (f"strip:{window_id}", window_id):
        progress = look.bay.runs.progress.get(name)
        if progress is None:
            continue
        for block in progress.run.blocks:
            ticks = [progress.ticks[one.key] for one in block.steps if one.key in progress.ticks]
            if ticks:
                people_there = ", ".join(dict.fromkeys(one.person for one in ticks))
                at = _stored(max(one.at for one in ticks))
                words = PHASE_WORDS[block.phase]
                found.append(Happening(at, f"Done: {words}{', again' if block.repeat > 1 else ''}", people_there))
    undone = {str(one.value.get("event", "")) for one in look.bay.events if one.kind is Happened.UNDO}
    for event in look.bay.events:
        if event.kind is Happened.WRONG and event.window_id == window_id and event.id not in undone:
            at = _stored(event.at)
            what = str(event.value.get("note") or event.value.get("what") or "something")
            found.append(Happening(at, f"Went wrong: {what}", event.person))
    return found


def call_of(look: CarLook, window_id: str, kind: str, answers: Mapping[str, Told]) -> Call:
    """What is on record when a customer calls about a window."""
    at, job = look.windows.get(window_id), look.parts.job
    window, mark = look.car.window(window_id), look.parts.cuts.get(window_id)
    owner = owner_of(look.session, job.id)
    accepted = next((one.accepted_by for one in (at.flaws if at else ()) if one.kind == kind and one.accepted_by), "")
    days = None
    if job.handed_over_on:
        handed = datetime.fromisoformat(job.handed_over_on).date()
        days = max(0, (datetime.fromisoformat(clock.today_iso()).date() - handed).days)
    return Call(
        kind=kind,
        days=days,
        cure_days=look.bay.runs.answer.cure_days,
        film=look.car.job.films.get(window.film_id or (mark.film_id if mark else "")),
        lot=mark.lot if mark else "",
        car_on_record=bool(owner and (owner.plate or owner.vin)),
        accepted_by=accepted,
        answers=dict(answers),
    )

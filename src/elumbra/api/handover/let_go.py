"""A lead delivers a car without what is not made on some windows. Plain arguments, no web framework."""

from __future__ import annotations

import json
from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.api.handover.parts import HandoverParts, load_handover
from elumbra.api.handover.schemas import LetGoBody, LetGoIn
from elumbra.car import hold_back, load_quote, offer_version, spoilt
from elumbra.core.bay import Happened
from elumbra.core.deeds import Lack
from elumbra.core.errors import CoreError
from elumbra.core.work import comes_off
from elumbra.storage.declared import new_id, now
from elumbra.storage.ledger import StepEvent, note_event
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import windows


def let_go(session: Session, job_id: str, body: LetGoBody, *, person: PersonRecord) -> str:
    """A lead delivers the car without what is not made on some windows; the job's id.

    They leave the order, each with its reason; film that was cut for them is waste. Where a quote was offered, its next
    version says so.

    Raises
    ------
    CoreError
        There is nothing on a window that could be let go, or nothing would be left on the car.
    StaleWriteError
        Somebody changed a window meanwhile.
    """
    parts = load_handover(session, job_id, person)
    held: dict[str, set[Lack]] = {}
    for one in hold_back(parts.look):
        if one.lack is not None and one.may_be_let_go:
            held.setdefault(one.window_id, set()).add(one.lack)
    for said in body.windows:
        if said.window_id not in held:
            raise CoreError(
                "This window has nothing that could be let go any more. Look again.", fields={"window_id": "Made."}
            )
        _take_out(session, parts, said, held[said.window_id], person)
    car, after, _ = load_car(session, job_id)
    if not any(window.film_id is not None or comes_off(window) for window in car.job.windows):
        raise CoreError(
            "Nothing would be left on this car. Cancel the job instead, with the reason.", fields={"windows": "All."}
        )
    quoted = load_quote(session, car, after)
    if not quoted.versions:
        return job_id
    labels = {window.id: window.label for window in parts.look.car.job.windows}
    note = "; ".join(f"{labels[one.window_id]} is left out: {one.reason}" for one in body.windows)
    offer_version(session, car, after, quoted, note, person)
    return job_id


def _take_out(session: Session, parts: HandoverParts, said: LetGoIn, missing: set[Lack], person: PersonRecord) -> None:
    """What is not made on a window leaves the order."""
    window, record = parts.look.car.window(said.window_id), windows(session).get_present(said.window_id)
    film = parts.look.car.job.films[window.film_id].name if window.film_id else ""
    event_id = new_id()
    value = {"reason": said.reason, "film": film, "removal": Lack.REMOVAL in missing}
    note_event(
        session,
        StepEvent(
            id=event_id, job_id=record.job_id, step="", kind=Happened.LET_GO.value, happened_at=now(),
            window_id=window.id, value=json.dumps(value),
        ),
        person_id=person.id,
    )  # fmt: skip
    stays = {"old_film_stays": True} if Lack.REMOVAL in missing else {}
    changed = replace(record, version=said.version, film_id=None, facts={**record.facts, **stays})
    windows(session).update(changed, person_id=person.id, action=f"let go: {said.reason}")
    if window.is_cut:
        why = f"let go: {said.reason}"
        spoilt(session, record.job_id, window.id, why=why, event_id=event_id, person_id=person.id)

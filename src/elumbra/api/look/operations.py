"""What is done at Look, kept once. Plain arguments, no web framework."""

from __future__ import annotations

import json
from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.view import load_car
from elumbra.api.look.schemas import (
    AnswerBody,
    DecideBody,
    FlawBody,
    FlawPatch,
    LookAgainBody,
    LookBody,
    StandardBody,
)
from elumbra.car import CarLook, load_look, spoilt, spoilt_no_more
from elumbra.car.look import CALLBACK, GONE, REDONE, STANDARD
from elumbra.core.bay import Happened
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.inspection import Decision, parse_standard, place_of
from elumbra.core.units import parse_length
from elumbra.storage import data_files
from elumbra.storage.declared import new_id, now
from elumbra.storage.kept import flaws, looks
from elumbra.storage.kept_records import FlawRecord, LookRecord
from elumbra.storage.kept_settings import keep
from elumbra.storage.ledger import StepEvent, note_event
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import windows

_MOST_FLAWS = 200


def look_of(session: Session, job_id: str, *, person_id: str | None = None) -> CarLook:
    """A job's car looked over.

    Raises
    ------
    CoreError
        It cannot be put together.
    """
    car, parts, _ = load_car(session, job_id)
    return load_look(session, car, parts, person_id=person_id)


def keep_look(session: Session, window_id: str, body: LookBody, *, person: PersonRecord) -> str:
    """Keep that a pane was looked over; the job's id.

    Raises
    ------
    CoreError
        No film is on it, a flaw on it stands open while it is called clean, or a ruler reading is no length.
    """
    record = windows(session).get_present(window_id)
    if record.film_id is None:
        raise CoreError(f"{record.label} has no film to look at.", fields={"clean": "Choose its film at Shade."})
    for where, typed in body.rulers.items():
        try:
            parse_length(typed)
        except LengthError as error:
            raise CoreError(error.message, fields={f"rulers.{where}": error.message}) from error
    if body.clean:
        look = look_of(session, record.job_id)
        if body.when != CALLBACK and not look.windows[window_id].made:
            raise CoreError(
                f"{record.label}: its work in the bay is not finished, so nobody can say yet that it has no flaws. "
                "A flaw that is seen can be noted at any time.",
                fields={"clean": "Finish it at Bay first."},
            )
        stands = look.unsettled(window_id)
        if stands:
            words = ", ".join(look.book.flaw(one.kind).words for one in stands)
            raise CoreError(
                f"{record.label} is not clean: {words}. Look at it again and close it, or decide what becomes of it.",
                fields={"clean": f"{len(stands)} open."},
            )
    looks(session).create(
        LookRecord(
            job_id=record.job_id, window_id=window_id, when=body.when, clean=body.clean, film_id=record.film_id,
            rulers={str(where): typed for where, typed in body.rulers.items()}, person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip
    return record.job_id


def take_look_back(session: Session, look_id: str, *, version: int, person_id: str) -> str:
    """It was not looked over after all; the job's id."""
    return looks(session).remove(look_id, version=version, person_id=person_id).job_id


def add_flaw(session: Session, window_id: str, body: FlawBody, *, person: PersonRecord) -> str:
    """Put a flaw on a pane; the job's id.

    Raises
    ------
    CoreError
        Beside the glass, an unknown kind, a size that is none, or no film on the pane.
    """
    record = windows(session).get_present(window_id)
    if record.film_id is None:
        raise CoreError(f"{record.label} has no film that could have a flaw.", fields={"kind": "No film on it."})
    if flaws(session).count(job_id=record.job_id) >= _MOST_FLAWS:
        raise CoreError(f"A job keeps at most {_MOST_FLAWS} flaws. Strip a pane that has so many.")
    data_files.flaw_book().flaw(body.kind)
    car, parts, _ = load_car(session, record.job_id)
    place_of(car.panes[window_id].outline, body.x, body.y, starting=car.starting)
    mark = parts.cuts.get(window_id)
    flaws(session).create(
        FlawRecord(
            job_id=record.job_id, window_id=window_id, kind=body.kind, x=body.x, y=body.y,
            seen_from=body.seen_from.value, state=body.state.value, size_mm=_size(body.size), count=body.count,
            when=body.when, note=body.note, film_id=record.film_id, lot=mark.lot if mark else "",
            person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip
    return record.job_id


def _size(typed: str | None) -> float | None:
    if not typed:
        return None
    try:
        return parse_length(typed).mm
    except LengthError as error:
        raise CoreError(error.message, fields={"size": error.message}) from error


def change_flaw(session: Session, flaw_id: str, body: FlawPatch, *, person_id: str) -> str:
    """Change what was sent; the job's id.

    Raises
    ------
    CoreError
        As for ``add_flaw``.
    StaleWriteError
        Somebody changed it meanwhile.
    """
    record = flaws(session).get_present(flaw_id)
    said = sent(body)
    if "kind" in said:
        data_files.flaw_book().flaw(body.kind or "")
    if "size" in said:
        said["size_mm"] = _size(said.pop("size"))
    for name in ("state",):
        if said.get(name) is not None:
            said[name] = said[name].value
    changes = {name: value for name, value in said.items() if value is not None or name == "size_mm"}
    changed = replace(record, version=body.version, **changes)
    car, _, _ = load_car(session, record.job_id)
    place_of(car.panes[record.window_id].outline, changed.x, changed.y, starting=car.starting)
    flaws(session).update(changed, person_id=person_id)
    return record.job_id


def answer_question(session: Session, flaw_id: str, body: AnswerBody, *, person_id: str) -> str:
    """Keep an answer to a question on its cause; the job's id.

    Raises
    ------
    CoreError
        Nobody asks that.
    """
    record = flaws(session).get_present(flaw_id)
    known = data_files.flaw_book().evidence.get(body.fact)
    if known is None or not known.ask:
        raise CoreError("Nobody asks that.", fields={"fact": "Unknown."})
    answers = {**record.answers, body.fact: body.told.value}
    flaws(session).update(replace(record, version=body.version, answers=answers), person_id=person_id)
    return record.job_id


def remove_flaw(session: Session, flaw_id: str, *, version: int, person_id: str) -> str:
    """It was put there by mistake; the job's id.

    Raises
    ------
    CoreError
        Its piece is being redone: take that back first.
    """
    record = flaws(session).get(flaw_id)
    if record.decision == Decision.REDO.value and not record.closed:
        raise CoreError("Its piece is being cut again. Take that back first.", fields={"decision": "Redo is open."})
    return flaws(session).remove(flaw_id, version=version, person_id=person_id).job_id


def restore_flaw(session: Session, flaw_id: str, *, version: int, person_id: str) -> str:
    """Undo that; the job's id."""
    return flaws(session).restore(flaw_id, version=version, person_id=person_id).job_id


def decide(session: Session, flaw_id: str, body: DecideBody, *, person: PersonRecord) -> str:
    """What becomes of a flaw: as the standard says, or overruled with a reason. The job's id.

    A redo books the piece as waste, has it cut again, and puts what must be done again into the run.

    Raises
    ------
    CoreError
        Overruled without a reason, or what asks for the owner is kept without a name.
    ApiError
        Only the lead lets stay what the standard does not.
    """
    record = flaws(session).get_present(flaw_id)
    look = look_of(session, record.job_id)
    if record.closed:
        raise CoreError(
            "This flaw is closed. Put a new one on the pane if there is one.", fields={"decision": "Closed."}
        )
    judged = look.judged[flaw_id]
    _check(judged.decision, judged.asks_owner, body, person)
    before, after = record.decision, body.decision.value if body.decision else ""
    if before != after and after == Decision.REDO.value:
        _redo(session, look, record, person)
    elif before != after and before == Decision.REDO.value:
        _no_redo(session, look, record, person)
    changed = replace(
        record, version=body.version, decision=after, because=body.because, accepted_by=body.accepted_by
    )  # fmt: skip
    flaws(session).update(changed, person_id=person.id, action=f"decided: {after or 'as the standard'}")
    return record.job_id


def _check(standard: Decision, asks_owner: bool, body: DecideBody, person: PersonRecord) -> None:
    if body.decision is None:
        return
    if body.decision is Decision.KEEP and asks_owner:
        if not body.accepted_by and not body.because:
            raise CoreError("The owner accepts it by name.", fields={"accepted_by": "Whose word is it?"})
        return
    if body.decision is standard:
        return
    if not body.because:
        raise CoreError(
            "The standard says otherwise. Give the reason, it is kept and printed.", fields={"because": "Why?"}
        )
    if body.decision is Decision.KEEP and not person.leads:
        raise ApiError("not_your_role", "Only the lead lets stay what the standard does not.")


def _redo(session: Session, look: CarLook, record: FlawRecord, person: PersonRecord) -> None:
    flaw = look.book.flaw(record.kind)
    event_id = new_id()
    value = {"what": flaw.wrong, "spoilt": True, "note": f"seen at Look: {flaw.words}", "flaw": record.id}
    note_event(
        session,
        StepEvent(
            id=event_id, job_id=record.job_id, step="", kind=Happened.WRONG.value, happened_at=now(),
            window_id=record.window_id, value=json.dumps(value),
        ),
        person_id=person.id,
    )  # fmt: skip
    why = f"redo, {flaw.words}"
    spoilt(session, record.job_id, record.window_id, why=why, event_id=event_id, person_id=person.id)


def _no_redo(session: Session, look: CarLook, record: FlawRecord, person: PersonRecord) -> None:
    """Take a redo back: the newest one that was put into the run because of this flaw."""
    mine = [one for one in look.bay.events if one.kind is Happened.WRONG and one.value.get("flaw") == record.id]
    if not mine:
        return
    event_id = mine[-1].id
    note_event(
        session,
        StepEvent(
            id=new_id(), job_id=record.job_id, step="", kind=Happened.UNDO.value, happened_at=now(),
            window_id=record.window_id, value=json.dumps({"event": event_id}),
        ),
        person_id=person.id,
    )  # fmt: skip
    spoilt_no_more(session, record.job_id, event_id, person_id=person.id)


def redo_is_open(look: CarLook, record: FlawRecord) -> bool:
    """Whether a redo was decided and the new piece is not on yet."""
    if record.decision != Decision.REDO.value or record.closed:
        return False
    progress = look.bay.runs.progress.get(record.window_id)
    if progress is not None and progress.begun and not progress.done:
        return True
    window = look.car.window(record.window_id)
    return bool(look.parts.cuttings) and window.film_id is not None and not window.is_cut


def look_again(session: Session, flaw_id: str, body: LookAgainBody, *, person_id: str) -> str:
    """Looked at again: gone, or tried once more in vain; the job's id.

    Raises
    ------
    CoreError
        The new piece is not on yet.
    """
    record = flaws(session).get_present(flaw_id)
    look = look_of(session, record.job_id)
    if redo_is_open(look, record):
        label = look.windows[record.window_id].window.label
        raise CoreError(f"{label} is being redone: cut it and run it through Bay first.", fields={"gone": "Not yet."})
    redone = record.decision == Decision.REDO.value
    if not body.gone:
        changed = replace(record, version=body.version, tries=record.tries + 1, decision="", because="")
    else:
        changed = replace(record, version=body.version, closed=REDONE if redone else GONE)
    flaws(session).update(changed, person_id=person_id, action="gone" if body.gone else "still there")
    if body.gone and redone:
        _with_the_old_piece(session, record, person_id)
    return record.job_id


def _with_the_old_piece(session: Session, record: FlawRecord, person_id: str) -> None:
    """All that was seen on the old piece before went with it."""
    for other in flaws(session).all(window_id=record.window_id):
        if not other.closed and other.id != record.id and other.at <= record.at:
            flaws(session).update(replace(other, closed=REDONE), person_id=person_id, action="gone with its piece")


def keep_standard(session: Session, body: StandardBody, *, person_id: str) -> str:
    """Write the shop's standard; no rules: ours again.

    Raises
    ------
    CoreError
        A rule that cannot be counted, or stands twice.
    StaleWriteError
        Somebody wrote it meanwhile.
    """
    rules = [{"kind": one.kind, "zone": one.zone.value, "most": one.most, "mm": one.mm} for one in body.rules]
    said = {"unit": body.unit.value, "rules": rules} if rules else None
    if said:
        parse_standard(said, data_files.flaw_book().flaws)
    return keep(session, STANDARD, said, version=body.version, person_id=person_id)

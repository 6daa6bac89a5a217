"""Answering calls, and recalling a lot. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.calls.schemas import (
    AdviceQuery,
    CallAdviceOut,
    CallAsk,
    CallBody,
    CalledJob,
    CalledWindow,
    CallerQuery,
    CallersOut,
    CallPatch,
    HappeningOut,
    HistoryOut,
    KindOut,
    LotNameOut,
    LotPaperQuery,
    LotQuery,
    LotsOut,
    OpenCall,
    RecallOut,
    RecallRow,
)
from elumbra.api.car_view.view import load_car
from elumbra.car import CarLook, call_of, load_look, window_history
from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.core.inspection import Bears, CallAdvice, Outcome, Told, advise_call
from elumbra.core.words import counted
from elumbra.documents.paper import table_pdf
from elumbra.documents.table_csv import table_csv
from elumbra.storage import data_files
from elumbra.storage.declared import as_record
from elumbra.storage.finding import FoundJob, find_jobs, lots_on_file, open_calls, owner_of, panes_of_lot
from elumbra.storage.kept import calls
from elumbra.storage.kept_records import CallRecord
from elumbra.storage.photos import photos_of
from elumbra.storage.records import CuttingRecord, PersonRecord
from elumbra.storage.store import cuttings, films, windows

_MOST = 30
_COLUMNS = ("Job", "Car", "Plate", "VIN", "Window", "Customer", "Telephone", "Roll", "Cut on")


def callers(session: Session, query: CallerQuery) -> CallersOut:
    """Jobs that a caller may mean; nothing typed finds none."""
    found = find_jobs(session, query.search, most=_MOST) if query.search.strip() else []
    ids = [one.job.id for one in found]
    names = {one.id: one.name for one in films(session).all(removed_too=True)}
    lots = _lots(cuttings(session).all(order="on_day", job_id=ids)) if ids else {}
    by_job: dict[str, list[CalledWindow]] = {}
    for window in windows(session).all(order="ordinal", job_id=ids) if ids else ():
        if window.film_id is None and window.id not in lots:
            continue
        by_job.setdefault(window.job_id, []).append(
            CalledWindow(
                id=window.id, label=window.label, film=names.get(window.film_id or "", ""), lot=lots.get(window.id, "")
            )
        )  # fmt: skip
    return CallersOut(
        jobs=[_job(one, by_job.get(one.job.id, [])) for one in found],
        open=[_open(session, as_record(row, CallRecord)) for row in open_calls(session)],
    )


def _lots(records: Sequence[CuttingRecord]) -> dict[str, str]:
    return {mark.window_id: mark.lot for record in records for mark in record.marks}


def _job(one: FoundJob, own: list[CalledWindow]) -> CalledJob:
    return CalledJob(
        id=one.job.id, number=one.job.number, title=one.job.title, vehicle=one.vehicle, plate=one.plate, vin=one.vin,
        customer=one.customer, phone=one.phone, status=State(one.job.status), handed_over_on=one.job.handed_over_on,
        windows=own,
    )  # fmt: skip


def _open(session: Session, one: CallRecord) -> OpenCall:
    window = windows(session).get(one.window_id)
    owner = owner_of(session, one.job_id)
    whose = f"{owner.customer}, {owner.vehicle}" if owner else ""
    words = data_files.flaw_book().flaw(one.kind).words
    return OpenCall(
        id=one.id, version=one.version, job_id=one.job_id, window_id=one.window_id,
        words=f"{whose} · {window.label}: {words}", outcome=Outcome(one.outcome), bears=Bears(one.bears),
        at=one.at.replace(tzinfo=UTC), person=one.person_name,
    )  # fmt: skip


def _look(session: Session, window_id: str) -> CarLook:
    record = windows(session).get(window_id)
    car, parts, _ = load_car(session, record.job_id)
    return load_look(session, car, parts)


def history(session: Session, window_id: str) -> HistoryOut:
    """A window's whole history.

    Raises
    ------
    CoreError
        Its car cannot be put together.
    """
    look = _look(session, window_id)
    call = call_of(look, window_id, next(iter(look.book.flaws)), {})
    owner = owner_of(session, look.parts.job.id)
    window = look.car.window(window_id)
    job = look.parts.job
    return HistoryOut(
        job_id=job.id,
        window_id=window_id,
        label=window.label,
        title=f"{job.number} {job.vehicle_label}",
        customer=owner.customer if owner else job.customer,
        phone=owner.phone if owner else "",
        plate=owner.plate if owner else "",
        vin=owner.vin if owner else "",
        film=call.film.name if call.film else "",
        lot=call.lot,
        handed_over_on=job.handed_over_on,
        days=call.days,
        kinds=[KindOut(id=one.id, words=one.words) for one in look.book.flaws.values()],
        history=[
            HappeningOut(at=one.at.replace(tzinfo=UTC) if one.at else None, words=one.words, person=one.person)
            for one in window_history(look, window_id)
        ],
        photos=[one.id for one in photos_of(session, job.id) if one.window_id in (window_id, None)],
        calls=[_open(session, one) for one in calls(session).all(order="at", window_id=window_id)],
    )


def _answers(text: str) -> dict[str, Told]:
    found = {}
    for one in text.split(","):
        name, _, told = one.partition(":")
        if told in (Told.YES.value, Told.NO.value):
            found[name.strip()] = Told(told)
    return found


def advice(session: Session, window_id: str, query: AdviceQuery) -> CallAdviceOut:
    """What to tell a caller.

    Raises
    ------
    CoreError
        An unknown kind of flaw.
    """
    return _advice_out(_advice(_look(session, window_id), window_id, query.kind, _answers(query.answers)))


def _advice(look: CarLook, window_id: str, kind: str, answers: Mapping[str, Told]) -> CallAdvice:
    return advise_call(call_of(look, window_id, kind, answers), look.book, starting=look.car.starting)


def _advice_out(one: CallAdvice) -> CallAdviceOut:
    return CallAdviceOut(
        outcome=one.outcome, bears=one.bears, say=one.say, reasons=list(one.reasons),
        questions=[CallAsk(fact=ask.fact, ask=ask.ask) for ask in one.questions], missing=list(one.missing),
    )  # fmt: skip


def keep_call(session: Session, window_id: str, body: CallBody, *, person: PersonRecord) -> str:
    """Keep a call as it was answered; the window's id.

    Raises
    ------
    CoreError
        Overruled without a reason.
    ApiError
        Only the lead overrules.
    """
    look = _look(session, window_id)
    told = _advice(look, window_id, body.kind, body.answers)
    outcome, bears = body.outcome or told.outcome, body.bears or told.bears
    if (outcome, bears) != (told.outcome, told.bears):
        if not person.leads:
            raise ApiError("not_your_role", "Only the lead decides otherwise than the advice.")
        if not body.because:
            raise CoreError("Say why it is decided otherwise.", fields={"because": "Why?"})
    calls(session).create(
        CallRecord(
            job_id=look.parts.job.id, window_id=window_id, kind=body.kind, said=body.said,
            answers={name: one.value for name, one in body.answers.items()}, outcome=outcome.value, bears=bears.value,
            reasons=list(told.reasons), overruled=body.because,
            status="done" if outcome is Outcome.NORMAL else "open", person_name=person.name,
        ),
        person_id=person.id,
    )  # fmt: skip
    return window_id


def settle(session: Session, call_id: str, body: CallPatch, *, person_id: str) -> str:
    """A call is settled, or open again; the window's id."""
    record = calls(session).get_present(call_id)
    changed = replace(record, version=body.version, status=body.status)
    return calls(session).update(changed, person_id=person_id).window_id


def lots(session: Session) -> LotsOut:
    """Every lot that ever came."""
    names = {one.id: one.name for one in films(session).all(removed_too=True)}
    return LotsOut(
        lots=[LotNameOut(film_id=film, film=names.get(film, film), lot=lot) for film, lot in lots_on_file(session)]
    )


def recall(session: Session, query: LotQuery) -> RecallOut:
    """Every window with film of a lot, with names and numbers."""
    film = films(session).find(query.film_id)
    return RecallOut(
        film=film.name if film else query.film_id,
        lot=query.lot,
        rows=[
            RecallRow(
                job_id=one.job.job.id, number=one.job.job.number, vehicle=one.job.vehicle, plate=one.job.plate,
                vin=one.job.vin, window=one.window, customer=one.job.customer, phone=one.job.phone, roll=one.roll,
                on_day=one.on_day,
            )
            for one in panes_of_lot(session, query.film_id, query.lot)
        ],
    )  # fmt: skip


def _cells(found: RecallOut) -> list[list[str]]:
    return [
        [str(one.number), one.vehicle, one.plate, one.vin, one.window, one.customer, one.phone, one.roll, one.on_day]
        for one in found.rows
    ]


def recall_csv(session: Session, query: LotQuery) -> tuple[str, bytes]:
    """The list as CSV; no cell of it is a formula."""
    found = recall(session, query)
    return f"lot {found.lot}", table_csv(_COLUMNS, _cells(found))


def recall_pdf(session: Session, query: LotPaperQuery) -> tuple[str, bytes]:
    """The list to print."""
    found = recall(session, LotQuery(film_id=query.film_id, lot=query.lot))
    cars = len({one.job_id for one in found.rows})
    told = f"{counted(len(found.rows), 'window')} on {counted(cars, 'car')}: film of this lot."
    title = f"Lot {found.lot}, {found.film}"
    return title, table_pdf(title, told, _COLUMNS, _cells(found), paper=query.paper)

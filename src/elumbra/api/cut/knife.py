"""Film is cut: what a plan takes off the rack is booked once, and can be taken back within the day."""

from __future__ import annotations

from dataclasses import asdict, replace

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.cut.holding import ask_about_holds
from elumbra.api.cut.operations import job_plan
from elumbra.api.cut.schemas import CutBody
from elumbra.core.cut import Booking, book
from elumbra.core.errors import CoreError
from elumbra.core.units import format_inches
from elumbra.documents.plan import FilmPlan, PlanLeftover, PlanStock
from elumbra.storage import clock, holds, ledger
from elumbra.storage.ledger import MovementKind, counts
from elumbra.storage.records import CutMark, CuttingRecord, JobRecord, Kept, PersonRecord, StockRecord, Taken, new_id
from elumbra.storage.store import NotFoundError, cuttings, jobs, stock, windows

_BOOKED = ((MovementKind.USED, "used"), (MovementKind.KEPT, "kept"), (MovementKind.WASTE, "waste"))


def film_is_cut(session: Session, job_id: str, body: CutBody, *, person: PersonRecord) -> str:
    """Book the job's plan as cut; the job's id.

    Lengths come off the rolls, an offcut or sheet is used up, kept offcuts go on the rack with a
    label of their own, and every window keeps the lot and roll that its film is from.

    Raises
    ------
    ApiError
        This plan was cut before, or is not the plan of the job as it stands.
    CoreError
        Nothing of it can be cut.
    """
    job = jobs(session).get_present(job_id)
    for done in cuttings(session).all(job_id=job_id):
        if done.input_hash == body.input_hash:
            raise ApiError(
                "already_cut",
                f"{done.person_name} has booked this plan as cut on {done.on_day}. Take that back first, or say "
                "which windows are cut again.",
            )
    planned = job_plan(session, job_id)
    plan = planned.plan
    if planned.input_hash != body.input_hash:
        raise ApiError("no_plan", "The job has changed since this plan was made. Look at the new plan first.")
    if not plan.cut_windows:
        raise CoreError("There is nothing to cut in this plan.")
    ask_about_holds(
        session, {stock_id: counts(length) for stock_id, length in plan.taken.items()}, job_id=job_id, sure=body.sure
    )
    holds.end(session, job_id, why=holds.CUT, person_id=person.id)
    cutting_id = new_id()
    marks, taken, kept = [], [], []
    cuttings(session).create(
        CuttingRecord(
            id=cutting_id, job_id=job_id, input_hash=body.input_hash, on_day=clock.today_iso(), person_name=person.name
        ),
        person_id=person.id,
    )
    for film in plan.films:
        for source in (one for one in film.stocks if one.used_mm > 0):
            rests = [one for one in film.leftovers if one.stock_id == source.id and one.label]
            wanted = [one for one in rests if body.keep is None or one.label in body.keep]
            left = ledger.stock_with_left(session, source.id)
            booked = _booking(film, source, left, wanted)
            _opened(session, left, person.id)
            _move(session, left, booked, cutting_id, job, person.id, sign=-1)
            taken.append(_taken(left, booked))
            kept += [_put_on_rack(session, left, one, job, cutting_id, person.id) for one in wanted]
            marks += _marks(film, source)
        marks += [CutMark(one.window_id, one.label, film.film_id, "", "ready-cut kit") for one in film.ready_cut]
    record = cuttings(session).get(cutting_id)
    content = {
        "windows": [{"window_id": m.window_id, "label": m.label, "film_id": m.film_id, "lot": m.lot, "roll": m.roll}
                    for m in marks],
        "taken": [asdict(one) for one in taken],
        "kept": [asdict(one) for one in kept],
    }  # fmt: skip
    cuttings(session).update(replace(record, content=content), person_id=person.id, action="film cut")
    return job_id


def _opened(session: Session, record: StockRecord, person_id: str) -> None:
    """The first time that film is cut off it, a roll was opened today."""
    if not record.opened_on:
        opened = replace(stock(session).get(record.id), opened_on=clock.today_iso())
        stock(session).update(opened, person_id=person_id, action="opened")


def _booking(film: FilmPlan, source: PlanStock, left: StockRecord, kept: list[PlanLeftover]) -> Booking:
    """A roll gives the length that is pulled; an offcut or sheet all of it."""
    used = sum(piece.film_area for piece in film.pieces if piece.stock_id == source.id)
    taken = counts(source.used_mm) if source.kind == "roll" else left.left_count
    if taken > left.left_count:
        raise ApiError("no_plan", f"There is less left on {left.label} than this plan takes. Plan again.")
    area = sum(one.along_mm * one.across_mm for one in kept)
    return book(taken=taken, width=left.width_mm, used_area=used, kept_area=area)


def _move(
    session: Session,
    source: StockRecord,
    booked: Booking,
    cutting_id: str,
    job: JobRecord,
    person_id: str,
    *,
    sign: int,
) -> None:
    for kind, name in _BOOKED:
        if count := getattr(booked, name):
            ledger.move(
                session, source.id, kind, sign * count, person_id=person_id, job_id=job.id, cutting_id=cutting_id,
                note=f"job {job.number}" if sign < 0 else f"job {job.number}, taken back",
            )  # fmt: skip


def _taken(source: StockRecord, booked: Booking) -> Taken:
    length = format_inches(booked.taken / counts(1.0))
    return Taken(source.id, source.label, length, booked.used, booked.kept, booked.waste)


def _put_on_rack(
    session: Session, source: StockRecord, rest: PlanLeftover, job: JobRecord, cutting_id: str, person_id: str
) -> Kept:
    width, length = format_inches(rest.across_mm), format_inches(rest.along_mm)
    offcut = ledger.receive(
        session,
        StockRecord(
            film_id=source.film_id, kind="offcut", label=rest.label, width_typed=f"{rest.across_mm:.4f} mm",
            width_mm=rest.across_mm, full_length_typed=f"{rest.along_mm:.4f} mm", full_length_mm=rest.along_mm,
            price=round(source.price_per_m2 * rest.across_mm * rest.along_mm / 1e6, 2), lot=source.lot,
            liner=source.liner, place=source.place if source.kind != "roll" else "",
        ),
        counts(rest.along_mm),
        person_id=person_id, job_id=job.id, cutting_id=cutting_id, note=f"off {source.label}",
    )  # fmt: skip
    return Kept(offcut.id, rest.label, f"{width} × {length} in")


def _marks(film: FilmPlan, source: PlanStock) -> list[CutMark]:
    """One a window, whatever number of pieces it has."""
    found = {
        piece.window_id: CutMark(piece.window_id, piece.label, film.film_id, source.lot, source.label)
        for piece in film.pieces
        if piece.stock_id == source.id
    }
    return list(found.values())


def take_back(session: Session, cutting_id: str, *, version: int, person_id: str) -> str:
    """Undo a cut within its day: film goes back on the rolls, kept offcuts off the rack. The job's id.

    Raises
    ------
    CoreError
        Another day, or an offcut of it has been used or changed since.
    """
    record = cuttings(session).get(cutting_id)
    if record.removed:
        raise NotFoundError("cutting", cutting_id)
    if record.foreign:
        raise CoreError("This film was cut in another shop, so nothing of it can go back on this rack.")
    if record.on_day != clock.today_iso():
        raise CoreError(
            f"This was cut on {record.on_day}; a cut is taken back only on its day. Say which windows are cut again, "
            "or correct what is left at the Rack."
        )
    job = jobs(session).get(record.job_id)
    for one in record.kept:
        offcut = ledger.stock_with_left(session, one.stock_id)
        if offcut.removed or len(ledger.movements(session, one.stock_id)) > 1:
            raise CoreError(
                f"The offcut {one.label} has been used or changed since, so this cut cannot be taken back. "
                "Correct what is left at the Rack."
            )
        ledger.move(
            session, offcut.id, MovementKind.RECEIVED, -offcut.left_count, person_id=person_id, job_id=job.id,
            cutting_id=cutting_id, note="taken back",
        )  # fmt: skip
        stock(session).remove(offcut.id, version=offcut.version, person_id=person_id)
    for taken in record.taken:
        source = stock(session).get(taken.stock_id)
        _move(session, source, Booking(taken.used, taken.kept, taken.waste), cutting_id, job, person_id, sign=1)
    gone = replace(record, version=version, removed=True)
    cuttings(session).update(gone, person_id=person_id, action="cut taken back")
    return record.job_id


def cut_again(session: Session, cutting_id: str, window_id: str, *, version: int, person_id: str) -> str:
    """A window's film is spoilt: it is planned and cut once more. The job's id.

    Raises
    ------
    NotFoundError
        Nothing was cut for this window then.
    """
    record = cuttings(session).get_present(cutting_id)
    if window_id not in {mark.window_id for mark in record.marks}:
        raise NotFoundError("window of this cut", window_id)
    again = [*record.content.get("again", ()), window_id]
    changed = replace(record, version=version, content={**record.content, "again": again})
    cuttings(session).update(changed, person_id=person_id, action="cut again")
    _placed_no_more(session, window_id, person_id)
    return record.job_id


def _placed_no_more(session: Session, window_id: str, person_id: str) -> None:
    """The film that its pieces were put on by hand is cut: the new ones are planned."""
    window = windows(session).find(window_id)
    if window is not None and not window.removed and window.facts.get("by_hand"):
        free = replace(window, facts={**window.facts, "by_hand": []})
        windows(session).update(free, person_id=person_id, action="planned anew")

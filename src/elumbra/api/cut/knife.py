"""Film is cut: what a plan takes off the rack is booked once, and can be taken back within the day."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field, replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.cut.holding import ask_about_holds
from elumbra.api.cut.operations import job_plan
from elumbra.api.cut.schemas import CutBody
from elumbra.car import settle_scrap
from elumbra.core.cut import Booking, book, shared_out
from elumbra.core.errors import CoreError
from elumbra.core.units import format_inches
from elumbra.documents.plan import FilmPlan, PlanDocument, PlanLeftover, PlanStock
from elumbra.storage import clock, holds, ledger
from elumbra.storage.declared import new_id
from elumbra.storage.ledger import MovementKind, counts
from elumbra.storage.records import CutMark, CuttingRecord, JobRecord, Kept, PersonRecord, StockRecord, Taken
from elumbra.storage.store import NotFoundError, cuttings, jobs, stock, windows

_BOOKED = ((MovementKind.USED, "used"), (MovementKind.KEPT, "kept"), (MovementKind.WASTE, "waste"))


def film_is_cut(session: Session, job_id: str, body: CutBody, *, person: PersonRecord) -> str:
    """Book the job's plan as cut; the job's id. See ``book_plan``.

    Raises
    ------
    ApiError
        This plan was cut before, or is not the plan of the job as it stands.
    CoreError
        Nothing of it can be cut.
    """
    job = jobs(session).get_present(job_id)
    refuse_second(session, [job], body.input_hash)
    planned = job_plan(session, job_id)
    if planned.input_hash != body.input_hash:
        raise ApiError("no_plan", "The job has changed since this plan was made. Look at the new plan first.")
    book_plan(session, planned.plan, [job], body, person=person)
    return job_id


def refuse_second(session: Session, shared: Sequence[JobRecord], input_hash: str) -> None:
    """Refuse a plan that was booked for any of these jobs before.

    Raises
    ------
    ApiError
        It was.
    """
    for job in shared:
        for done in cuttings(session).all(job_id=job.id):
            if done.input_hash == input_hash:
                raise ApiError(
                    "already_cut",
                    f"{done.person_name} has booked this plan as cut on {done.on_day}. Take that back first, or say "
                    "which windows are cut again.",
                )


def book_plan(
    session: Session, plan: PlanDocument, shared: Sequence[JobRecord], body: CutBody, *, person: PersonRecord
) -> None:
    """Book a plan of one job, or of several that are cut together.

    Lengths come off the rolls, an offcut or sheet is used up, kept offcuts go on the rack with a
    label of their own, and every window keeps the lot and roll that its film is from.

    Raises
    ------
    ApiError
        Film held for others is cut and nobody is sure yet; a roll has less left than the plan takes.
    CoreError
        There is nothing to cut.
    """
    if not plan.cut_windows:
        raise CoreError("There is nothing to cut in this plan.")
    ids = [job.id for job in shared]
    lengths = {stock_id: counts(length) for stock_id, length in plan.taken.items()}
    ask_about_holds(session, lengths, job_ids=ids, sure=body.sure)
    for job_id in ids:
        holds.end(session, job_id, why=holds.CUT, person_id=person.id)
    job_of = {window.id: window.job_id for window in windows(session).all(job_id=ids, removed_too=True)}
    day = new_id() if len(shared) > 1 else ""
    cut = [job for job in shared if any(job_of.get(window) == job.id for window in plan.cut_windows)]
    parts = {job.id: _Part(job, new_id(), job_of) for job in cut}
    for part in parts.values():
        record = CuttingRecord(
            id=part.id, job_id=part.job.id, input_hash=body.input_hash, on_day=clock.today_iso(),
            person_name=person.name,
        )  # fmt: skip
        cuttings(session).create(record, person_id=person.id)
    for film in plan.films:
        for source in (one for one in film.stocks if one.used_mm > 0):
            _book_source(session, film, source, list(parts.values()), body.keep, person.id)
        for part in parts.values():
            part.marks += [
                part.own(CutMark(one.window_id, one.label, film.film_id, "", "ready-cut kit"))
                for one in film.ready_cut
                if part.cuts(one.window_id)
            ]
    for part in parts.values():
        record = cuttings(session).get(part.id)
        content = part.content | ({"day": day} if day else {}) | {"plans": _figures(plan, part)}
        cuttings(session).update(replace(record, content=content), person_id=person.id, action="film cut")
        settle_scrap(session, part.job.id, {mark.window_id for mark in part.marks}, person_id=person.id)


def _figures(plan: PlanDocument, part: _Part) -> list[dict[str, Any]]:
    """What the layouts came to that this job's film is from, for the ledger; money in dollars."""
    return [
        {
            "film_id": film.film_id, "yield_percent": round(film.score.yield_percent, 2),
            "new_film": round(film.score.new_film, 2), "bound": round(film.bound_free, 2), "proven": film.proven,
        }
        for film in plan.films
        if any(part.cuts(piece.window_id) for piece in film.pieces)
    ]  # fmt: skip


@dataclass
class _Part:
    """One job's share of what is cut."""

    job: JobRecord
    id: str  # of its cutting
    job_of: Mapping[str, str]
    marks: list[CutMark] = field(default_factory=list)
    taken: list[Taken] = field(default_factory=list)
    kept: list[Kept] = field(default_factory=list)

    def cuts(self, window_id: str) -> bool:
        return self.job_of.get(window_id) == self.job.id

    def own(self, mark: CutMark) -> CutMark:
        """A mark under the window's name within its job."""
        return replace(mark, label=mark.label.removeprefix(f"{self.job.number} "))

    def area(self, film: FilmPlan, source: PlanStock) -> float:
        return sum(p.film_area for p in film.pieces if p.stock_id == source.id and self.cuts(p.window_id))

    @property
    def content(self) -> dict[str, object]:
        return {
            "windows": [
                {
                    "window_id": m.window_id,
                    "label": m.label,
                    "film_id": m.film_id,
                    "lot": m.lot,
                    "roll": m.roll,
                    "stock_id": m.stock_id,
                    "count": m.count,
                }
                for m in self.marks
            ],
            "taken": [asdict(one) for one in self.taken],
            "kept": [asdict(one) for one in self.kept],
        }


def _book_source(
    session: Session,
    film: FilmPlan,
    source: PlanStock,
    parts: Sequence[_Part],
    keep: Sequence[str] | None,
    person_id: str,
) -> None:
    """Book what one piece of stock gave, shared out over the jobs by the area of their pieces."""
    rests = [one for one in film.leftovers if one.stock_id == source.id and one.label]
    wanted = [one for one in rests if keep is None or one.label in keep]
    left = ledger.stock_with_left(session, source.id)
    whole = _booking(film, source, left, wanted)
    _opened(session, left, person_id)
    shares = shared_out(whole, [part.area(film, source) for part in parts])
    for part, share in zip(parts, shares, strict=True):
        if not share.taken:
            continue
        _move(session, left, share, part.id, part.job, person_id, sign=-1)
        part.taken.append(_taken(left, share))
        own = [mark for mark in _marks(film, source) if part.cuts(mark.window_id)]
        part.marks += [part.own(mark) for mark in _with_counts(own, film, source, share.used)]
        if share.kept:
            part.kept += [_put_on_rack(session, left, one, part.job, part.id, person_id) for one in wanted]


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
        source.another(
            kind="offcut", label=rest.label, width_typed=f"{rest.across_mm:.4f} mm", width_mm=rest.across_mm,
            full_length_typed=f"{rest.along_mm:.4f} mm", full_length_mm=rest.along_mm,
            price=round(source.price_per_m2 * rest.across_mm * rest.along_mm / 1e6, 2),
            place="" if source.kind == "roll" else source.place, received_on="", opened_on="", slittable=True,
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


def _with_counts(marks: list[CutMark], film: FilmPlan, source: PlanStock, used: int) -> list[CutMark]:
    """What each window used of what was taken, by the area of its pieces."""
    areas = [
        sum(p.film_area for p in film.pieces if p.stock_id == source.id and p.window_id == mark.window_id)
        for mark in marks
    ]
    shares = shared_out(Booking(used, 0, 0), areas)
    return [replace(mark, stock_id=source.id, count=one.used) for mark, one in zip(marks, shares, strict=True)]


def take_back(session: Session, cutting_id: str, *, version: int, person_id: str) -> str:
    """Undo a cut within its day: film goes back on the rolls, kept offcuts off the rack. The job's id.

    Cars that were cut together are taken back together: their film is one length.

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
    together = [record]
    if record.day:
        same_day = cuttings(session).all(on_day=record.on_day)
        together += [one for one in same_day if one.day == record.day and one.id != record.id]
    for one in together:
        _give_back(session, one, person_id)
        gone = replace(one, version=version if one is record else one.version, removed=True)
        cuttings(session).update(gone, person_id=person_id, action="cut taken back")
    return record.job_id


def _give_back(session: Session, record: CuttingRecord, person_id: str) -> None:
    """Put back on the rack what one cutting took off it."""
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
            cutting_id=record.id, note="taken back",
        )  # fmt: skip
        stock(session).remove(offcut.id, version=offcut.version, person_id=person_id)
    for taken in record.taken:
        source = stock(session).get(taken.stock_id)
        _move(session, source, Booking(taken.used, taken.kept, taken.waste), record.id, job, person_id, sign=1)
    for one in record.content.get("lost", ()):
        for kind, count in ((MovementKind.USED, -one["count"]), (MovementKind.WASTE, one["count"])):
            ledger.move(
                session, one["stock_id"], kind, count, person_id=person_id, job_id=job.id, cutting_id=record.id,
                note=f"job {job.number}, taken back",
            )  # fmt: skip

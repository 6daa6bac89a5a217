"""Asking for cut plans and printing them. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from hashlib import sha256
from typing import cast

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.cut.labels import kept_labels, with_labels
from elumbra.api.cut.schemas import CutterQuery, CutterSend, QuickBody, QuickSheet, SheetBody, TaskOut, TaskStatus
from elumbra.car import (
    Shop,
    assemble,
    input_hash,
    job_file,
    load_parts,
    load_shop,
    named,
    plan_input,
    prices_of,
    stock_part,
)
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.film import StockKind
from elumbra.core.pricing import PricedFor, price_lines
from elumbra.core.units import parse_length
from elumbra.core.work import Car
from elumbra.documents.job_file import FilmPart, JobFile, StockPart
from elumbra.documents.plan import FilmPlan, PlanDocument, PlanReserved, slug
from elumbra.storage import clock, data_files, holds, tasks
from elumbra.storage.ledger import counts
from elumbra.storage.records import JobRecord, TaskRecord
from elumbra.storage.store import jobs
from elumbra.tasks.plan import PlanInput
from elumbra.tasks.sheets import SheetInput

_MOST_QUICK_PIECES = 40
_NO_PLAY = {"blank_play_mm": 3.0}  # sizes that are blanks already


def task_out(record: TaskRecord) -> TaskOut:
    """A task as the screens show it."""
    plan = PlanDocument.model_validate_json(record.result) if record.result else None
    if plan and record.status not in tasks.WAITING:
        plan = plan.as_ended()
    return TaskOut(
        id=record.id,
        job_id=record.job_id,
        status=cast(TaskStatus, record.status),
        progress=record.progress,
        input_hash=record.input_hash,
        plan=plan,
        error=record.error,
    )


def job_document(session: Session, job: JobRecord) -> JobFile:
    """A job as it stands, with its films and their stock."""
    return job_file(load_parts(session, job), load_shop(session))


def plan_job(session: Session, job_id: str) -> str:
    """Ask for the plan of a job as it stands now; the task's id.

    Raises
    ------
    CoreError
        The job is stuck; the message says why.
    """
    parts, shop = load_parts(session, jobs(session).get_present(job_id)), load_shop(session)
    document = job_file(parts, shop)
    car = assemble(document, data_files.law_file(), data_files.starting_values(), today=clock.today_iso())
    last = tasks.newest_result(session, "plan", job_id)
    earlier = PlanDocument.model_validate_json(last) if last else None
    asked = PlanInput.after(plan_input(document).model_dump_json(), earlier).model_copy(
        update={"prices": _window_prices(session, car), **_other_films(shop, document, job_id)}
    )
    content = asked.model_dump_json()
    return tasks.enqueue(
        session, kind="plan", job_id=job_id, input_hash=input_hash(document), content=content
    ).id  # fmt: skip


def _window_prices(session: Session, car: Car) -> dict[str, float]:
    """What the film of each window comes to by the shop's price list [$]."""
    lines = price_lines(car, prices_of(session)[0], {})
    return {line.window_id: line.cents / 100 for line in lines if line.kind is PricedFor.FILM}


def _other_films(shop: Shop, document: JobFile, job_id: str) -> dict[str, object]:
    """What lies on the rack beside the films of the job."""
    others = shop.parts.keys() - shop.unreadable.keys() - {part.id for part in document.films}
    held = shop.held_by_others(job_id)
    stock = [stock_part(one, held.get(one.id, 0)) for one in shop.stock if one.film_id in others]
    films = {part.film for part in stock}
    return {"films": [part for part in shop.parts.values() if part.id in films], "stock": stock}


def get_task(session: Session, task_id: str) -> TaskOut:
    """How far a task is."""
    record = tasks.get(session, task_id)
    shown = task_out(record)
    if record.job_id is None or shown.plan is None:
        return shown
    job = jobs(session).get(record.job_id)
    return shown.model_copy(update={"plan": _of_job(session, shown.plan, job)})


def cancel_task(session: Session, task_id: str) -> str:
    """Stop working on a task; the best found so far is kept."""
    tasks.stop(session, task_id, otherwise="cancelled")
    return task_id


def quick_cut(session: Session, document: JobFile) -> str:
    """Ask for the layout of typed sizes, from one film's stock or, without any, from full rolls."""
    return tasks.enqueue(
        session, kind="quick_cut", job_id=None, input_hash=input_hash(document),
        content=PlanInput(job=document.model_dump_json()).model_dump_json(),
    ).id  # fmt: skip


def plan_on_sheet(session: Session, job_id: str, body: SheetBody) -> str:
    """Ask whether a job's pieces go on a bought sheet, by blanks and by outlines; the task's id.

    Raises
    ------
    CoreError
        A size that is none, or a job that is stuck.
    """
    sizes = {}
    for name in ("width", "length"):
        try:
            sizes[name] = parse_length(getattr(body, name)).mm
            if sizes[name] <= 0:
                raise LengthError("More than nothing.")
        except LengthError as error:
            raise CoreError(error.message, fields={name: error.message}) from error
    document = job_document(session, jobs(session).get_present(job_id))
    assemble(document, data_files.law_file(), data_files.starting_values(), today=clock.today_iso())
    asked = SheetInput(
        job=plan_input(document).model_copy(update={"stock": []}), width_mm=sizes["width"], length_mm=sizes["length"],
        label=f"sheet {body.width} × {body.length}",
    )  # fmt: skip
    content = asked.model_dump_json()
    hashed = sha256(content.encode()).hexdigest()
    return tasks.enqueue(session, kind="sheets", job_id=None, input_hash=hashed, content=content).id


def quick_document(session: Session, body: QuickBody) -> JobFile:
    """Typed sizes as a job of panes of no car.

    Raises
    ------
    CoreError
        ``fields`` names each size that is none.
    """
    windows = _quick_windows(body)
    shop = load_shop(session)
    film: FilmPart | dict[str, object] = {
        "id": "film", "name": "Any film", "construction": "dyed", "vlt_percent": 50,
    }  # fmt: skip
    on_rack: list[StockPart] = []
    if body.film_id is not None:
        found = shop.parts.get(body.film_id)
        if found is None or shop.films[body.film_id].removed:
            raise CoreError("This film is not on file any more.", fields={"film_id": "Choose another."})
        film = replace(found, id="film")
        on_rack = [
            stock_part(record).model_copy(update={"film": "film"})
            for record in shop.stock
            if record.film_id == body.film_id
        ]
    if body.sheet is not None:
        on_rack = [_sheet_of(body.sheet)]
    return JobFile.model_validate(
        {
            "job": {
                "title": "Quick cut",
                "vehicle": {"label": "No vehicle", "vehicle_class": "passenger", "states": ["TX"]},
                "windows": windows,
            },
            "films": [film],
            "stock": on_rack,
            "starting_values": dict(shop.changes) if body.trimmed else {**shop.changes, **_NO_PLAY},
        }
    )


def _sheet_of(sheet: QuickSheet) -> StockPart:
    for name in ("width", "length"):
        try:
            if parse_length(getattr(sheet, name)).mm <= 0:
                raise LengthError("More than nothing.")
        except LengthError as error:
            raise CoreError(error.message, fields={f"sheet.{name}": error.message}) from error
    return StockPart(
        id="sheet", film="film", kind=StockKind.SHEET, label=f"sheet {sheet.width} × {sheet.length}",
        width=sheet.width, length=sheet.length, price_per_m2=1.0,
    )  # fmt: skip


def _quick_windows(body: QuickBody) -> list[dict[str, object]]:
    problems: dict[str, str] = {}
    windows: list[dict[str, object]] = []
    for i, piece in enumerate(body.pieces):
        for name in ("width", "height"):
            try:
                if parse_length(getattr(piece, name)).mm <= 0:
                    problems[f"pieces.{i}.{name}"] = "More than nothing."
            except LengthError as error:
                problems[f"pieces.{i}.{name}"] = error.message
        for copy in range(piece.count):
            suffix = f" ({copy + 1})" if piece.count > 1 else ""
            windows.append(
                {
                    "id": f"p{i + 1}-{copy + 1}",
                    "label": f"{piece.width} × {piece.height}{suffix}",
                    "position": "roof",  # no car, so no law to hold it against
                    "kind": "fixed_side",
                    "film": "film",
                    "curve": "both_ways" if piece.curved else "flat",
                    "readings": {"width": {"typed": piece.width}, "height": {"typed": piece.height}},
                }
            )
    if problems:
        raise CoreError(next(iter(problems.values())), fields=problems)
    if len(windows) > _MOST_QUICK_PIECES:
        raise CoreError(f"Quick cut takes up to {_MOST_QUICK_PIECES} pieces; make a job for more.")
    return windows


@dataclass(frozen=True)
class JobPlan:
    """The plan of a job as it stands, and the state that it was made from."""

    plan: PlanDocument
    input_hash: str


def job_plan(session: Session, job_id: str) -> JobPlan:
    """The plan of a job as it stands now, under its names of now.

    Raises
    ------
    ApiError
        Nothing has been worked out for these inputs yet.
    """
    job = jobs(session).get(job_id)
    document = job_document(session, job)
    hashed = input_hash(document)
    found = tasks.finished_for(session, "plan", job_id, hashed)
    if found is None or found.result is None:
        raise ApiError(
            "no_plan", "The cut plan is not ready for what the job says now. Open the Cut station and wait for it."
        )
    plan = named(PlanDocument.model_validate_json(found.result).as_ended(), document.job)
    return JobPlan(_of_job(session, plan, job), hashed)


def _of_job(session: Session, plan: PlanDocument, job: JobRecord) -> PlanDocument:
    """A plan with its job's number and names, the day, and labels for the offcuts that it leaves."""
    names = {
        "number": job.number, "printed_on": clock.today_iso(), "title": job.title, "customer": job.customer,
        "vehicle": job.vehicle_label,
    }  # fmt: skip
    reserved = [] if job.facts.get("into_holds") else reserved_of(session, plan, [job.id])
    return with_labels(plan.model_copy(update=names | {"reserved": reserved}), kept_labels(session, job))


def reserved_of(session: Session, plan: PlanDocument, job_ids: Sequence[str]) -> list[PlanReserved]:
    """Film of this plan's kinds that is held for other jobs than these."""
    on_rack = {stock.id: stock for film in plan.films for stock in film.stocks}
    found = []
    for one in holds.standing(session, stock_id=list(on_rack)):
        if one.job_id not in job_ids:
            job = jobs(session).get(one.job_id)
            found.append(
                PlanReserved(
                    stock_id=one.stock_id, label=on_rack[one.stock_id].label, length_mm=one.count / counts(1.0),
                    words=f"{one.person_name}, for job {job.number}, {job.title}, until {one.until}",
                )
            )  # fmt: skip
    return found


def stock_plan(session: Session, job_id: str, query: CutterQuery | CutterSend) -> tuple[PlanDocument, FilmPlan, str]:
    """The plan of a job, the film that is asked for, and the name of the stock that it is cut from.

    Raises
    ------
    ApiError
        Nothing of this plan is cut from that stock.
    """
    plan = job_plan(session, job_id).plan
    film = film_plan(plan, query.film_id)
    for stock in film.stocks:
        if stock.id == query.stock_id and stock.used_mm > 0:
            return plan, film, slug(stock.label)
    raise ApiError("not_found", "This plan cuts nothing from that stock.")


def film_plan(plan: PlanDocument, film_id: str | None) -> FilmPlan:
    """One film of a plan; the first where none is named.

    Raises
    ------
    ApiError
        The plan has no such film.
    """
    for film in plan.films:
        if film_id in (None, film.film_id):
            return film
    raise ApiError("not_found", "This plan cuts nothing from that film.")

"""Asking for layouts and printing them."""

from __future__ import annotations

from typing import cast

from sqlalchemy.orm import Session

from elumbra.api.errors import ApiError
from elumbra.api.job_documents import film_part, input_hash, load_job_file, stock_part
from elumbra.api.layouts.schemas import QuickBody, SolveOut, SolveStatus
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.units import parse_length
from elumbra.documents.job_file import JobFile
from elumbra.documents.plan import FilmPlan, PlanDocument
from elumbra.storage import solves
from elumbra.storage.records import SolveRecord
from elumbra.storage.store import films, jobs, shop_values, stock

_MOST_QUICK_PIECES = 40


def solve_out(record: SolveRecord) -> SolveOut:
    """A solve as the screens show it."""
    return SolveOut(
        id=record.id,
        job_id=record.job_id,
        status=cast(SolveStatus, record.status),
        step=record.step,
        input_hash=record.input_hash,
        plan=PlanDocument.model_validate_json(record.plan) if record.plan else None,
        error=record.error,
    )


def solve_job(session: Session, job_id: str) -> SolveOut:
    """Ask for the layout of a job as it stands now."""
    document = load_job_file(session, jobs(session).get(job_id))
    record = solves.enqueue(
        session, job_id=job_id, input_hash=input_hash(document), document=document.model_dump_json()
    )
    return solve_out(record)


def get_solve(session: Session, solve_id: str) -> SolveOut:
    """How far a layout is."""
    return solve_out(solves.get(session, solve_id))


def cancel_solve(session: Session, solve_id: str) -> SolveOut:
    """Stop working on a layout; the best found so far is kept."""
    solves.finish(session, solve_id, status="cancelled")
    return get_solve(session, solve_id)


def quick_cut(session: Session, body: QuickBody) -> SolveOut:
    """Ask for the layout of typed sizes, from one film's stock or, without any, from full rolls."""
    document = _quick_document(session, body)
    record = solves.enqueue(
        session, job_id=None, input_hash=input_hash(document), document=document.model_dump_json(),
        pull_from_customary=True,
    )  # fmt: skip
    return solve_out(record)


def _quick_document(session: Session, body: QuickBody) -> JobFile:
    problems: dict[str, str] = {}
    windows = []
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
    own = {record.id: record.value for record in shop_values(session).all()}
    if not body.trimmed:
        own |= {"blank_play_mm": 3.0}
    film = {"id": "film", "name": "Any film", "construction": "dyed", "vlt_percent": 50}
    on_rack = []
    if body.film_id is not None:
        record = films(session).get(body.film_id)
        film = film_part(record).model_dump(mode="json") | {"id": "film"}
        parts = [stock_part(s).model_dump(mode="json") for s in stock(session).all(order="label", film_id=record.id)]
        on_rack = [part | {"film": "film"} for part in parts]
    return JobFile.model_validate(
        {
            "job": {
                "title": "Quick cut",
                "vehicle": {"label": "No vehicle", "vehicle_class": "passenger", "states": ["TX"]},
                "windows": windows,
            },
            "films": [film],
            "stock": on_rack,
            "starting_values": own,
        }
    )


def job_plan(session: Session, job_id: str) -> tuple[PlanDocument, int]:
    """The plan of a job as it stands now, and its number.

    Raises
    ------
    ApiError
        Nothing has been worked out for these inputs yet.
    """
    job = jobs(session).get(job_id)
    found = solves.finished_for(session, job_id, input_hash(load_job_file(session, job)))
    if found is None or found.plan is None:
        raise ApiError(
            "no_plan", "The cut plan is not ready for what the job says now. Open the Cut station and wait for it."
        )
    return PlanDocument.model_validate_json(found.plan), job.number


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

"""URLs of layouts and papers."""

from __future__ import annotations

from flask import Response, current_app
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from elumbra.api.answers import ERRORS, IdPath, answer, download
from elumbra.api.layouts import operations
from elumbra.api.layouts.schemas import QuickBody, SolveOut
from elumbra.api.roles import EVERYONE, allow
from elumbra.api.unit_of_work import after_commit, db
from elumbra.documents.cut_sheet import Paper, cut_sheet_pdf
from elumbra.documents.layout_svg import layout_svg

bp = APIBlueprint("layouts", __name__, url_prefix="/api")


class PaperQuery(BaseModel):
    """Paper to print on."""

    paper: Paper = Paper.LETTER


class FilmQuery(BaseModel):
    """Film whose layout is drawn."""

    film_id: str | None = None


def _wake_solver() -> None:
    after_commit(current_app.config["SOLVER"].wake)


@bp.post("/jobs/<string:id>/layout", responses={202: SolveOut, **ERRORS})
@allow(EVERYONE)
def solve_job(path: IdPath) -> Response:
    """Ask for the layout of a job as it stands."""
    solve = operations.solve_job(db(), path.id)
    _wake_solver()
    return answer(solve, 202)


@bp.get("/layouts/<string:id>", responses={200: SolveOut, **ERRORS})
@allow(EVERYONE)
def get_solve(path: IdPath) -> Response:
    """How far a layout is; the best verified one so far."""
    return answer(operations.get_solve(db(), path.id))


@bp.post("/layouts/<string:id>/cancel", responses={200: SolveOut, **ERRORS})
@allow(EVERYONE)
def cancel_solve(path: IdPath) -> Response:
    """Stop working on a layout."""
    solve = operations.cancel_solve(db(), path.id)
    _wake_solver()
    return answer(solve)


@bp.post("/quick-cut", responses={202: SolveOut, **ERRORS})
@allow(EVERYONE)
def quick_cut(body: QuickBody) -> Response:
    """Ask for the layout of typed sizes."""
    solve = operations.quick_cut(db(), body)
    _wake_solver()
    return answer(solve, 202)


@bp.get("/jobs/<string:id>/cut-sheet.pdf")
@allow(EVERYONE)
def cut_sheet(path: IdPath, query: PaperQuery) -> Response:
    """The cut sheet as PDF."""
    plan, number = operations.job_plan(db(), path.id)
    pdf = cut_sheet_pdf(plan, paper=query.paper)
    return download(pdf, name=f"cut-sheet-{number}.pdf", mimetype="application/pdf")


@bp.get("/jobs/<string:id>/layout.svg")
@allow(EVERYONE)
def layout_drawing(path: IdPath, query: FilmQuery) -> Response:
    """One film's layout as SVG to true scale."""
    plan, number = operations.job_plan(db(), path.id)
    svg = layout_svg(operations.film_plan(plan, query.film_id))
    return download(svg, name=f"layout-{number}.svg", mimetype="image/svg+xml")

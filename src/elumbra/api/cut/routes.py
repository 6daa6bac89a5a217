"""URLs of cut plans and papers."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from pydantic import BaseModel

from elumbra.api.base.bodies import Id, IdPath, PaperQuery, VersionBody
from elumbra.api.base.roles import EVERYONE, LEAD, TRUSTED, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.cut import day, holding, knife, operations, placing, plotting
from elumbra.api.cut.schemas import (
    AgainBody,
    CutBody,
    CutterAddress,
    CutterOrder,
    CutterOut,
    CutterQuery,
    CutterSend,
    DayBody,
    DayCutBody,
    DayOut,
    DayQuery,
    HoldBody,
    PlaceOut,
    PlaceTry,
    QuickBody,
    SheetBody,
    TaskOut,
)
from elumbra.api.web import (
    ERRORS,
    Blueprint,
    Response,
    acting,
    answer,
    current_app,
    download,
    read,
    shows_prices,
    write,
)
from elumbra.car import cut_again as cut_again_of
from elumbra.documents.cut_sheet import cut_sheet_pdf
from elumbra.documents.cutter_files import CutterSettings, to_csv, to_dxf, to_hpgl
from elumbra.documents.labels import LabelOn
from elumbra.documents.layout_svg import layout_svg
from elumbra.documents.piece_labels import piece_labels_pdf

bp = Blueprint("cut", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}
_CSV: dict[Any, Any] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}
_DXF: dict[Any, Any] = {200: {"content": {"image/vnd.dxf": {"schema": {"type": "string"}}}}}
_HPGL: dict[Any, Any] = {200: {"content": {"application/vnd.hp-hpgl": {"schema": {"type": "string"}}}}}
_SVG: dict[Any, Any] = {200: {"content": {"image/svg+xml": {"schema": {"type": "string"}}}}}


class DayPaperQuery(DayQuery, PaperQuery):
    """Cars that are cut together, and the paper."""


class DayFilmQuery(DayQuery):
    """Cars that are cut together, and the film whose layout is drawn."""

    film_id: Id | None = None


class PieceLabelQuery(BaseModel):
    """What labels are printed on."""

    on: LabelOn = LabelOn.LETTER


class DayLabelQuery(DayQuery, PieceLabelQuery):
    """Cars that are cut together, and what their pieces' labels are printed on."""


class FilmQuery(BaseModel):
    """Film whose layout is drawn."""

    film_id: Id | None = None


def _asked(do: Callable[..., str], status: int = 202) -> Response:
    """A change of the queue, told to whoever works through it once it is safe."""
    task_id = write(do)
    current_app.config["TASKS"].wake()
    return answer(read(lambda session: operations.get_task(session, task_id)), status)


@bp.post("/jobs/<string:id>/layout", responses={202: TaskOut, **ERRORS})
@allow(EVERYONE)
def plan_job(path: IdPath) -> Response:
    """Ask for the cut plan of a job as it stands."""
    return _asked(lambda session: operations.plan_job(session, path.id))


@bp.post("/jobs/<string:id>/sheet", responses={202: TaskOut, **ERRORS})
@allow(EVERYONE)
def plan_on_sheet(path: IdPath, body: SheetBody) -> Response:
    """Ask whether a job's pieces go on a bought sheet."""
    return _asked(lambda session: operations.plan_on_sheet(session, path.id, body))


@bp.get("/tasks/<string:id>", responses={200: TaskOut, **ERRORS})
@allow(EVERYONE)
def get_task(path: IdPath) -> Response:
    """How far a plan is; the best verified one so far."""
    return answer(read(lambda session: operations.get_task(session, path.id)))


@bp.post("/tasks/<string:id>/cancel", responses={200: TaskOut, **ERRORS})
@allow(EVERYONE)
def cancel_task(path: IdPath) -> Response:
    """Stop working on a plan."""
    return _asked(lambda session: operations.cancel_task(session, path.id), 200)


@bp.post("/quick-cut", responses={202: TaskOut, **ERRORS})
@allow(EVERYONE)
def quick_cut(body: QuickBody) -> Response:
    """Ask for the layout of typed sizes."""
    document = read(lambda session: operations.quick_document(session, body))
    return _asked(lambda session: operations.quick_cut(session, document))


@bp.get("/day/cars", responses={200: DayOut, **ERRORS})
@allow(EVERYONE)
def day_cars() -> Response:
    """Open jobs that still need film, first promised first."""
    return answer(read(day.day_cars))


@bp.post("/day/layout", responses={202: TaskOut, **ERRORS})
@allow(EVERYONE)
def plan_day(body: DayBody) -> Response:
    """Ask for the plan of several cars together."""
    task_id = write(lambda session: day.plan_day(session, body.job_ids))
    current_app.config["TASKS"].wake()
    return answer(read(lambda session: day.day_task(session, body.job_ids, task_id)), 202)


@bp.get("/day/cut-sheet.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def day_cut_sheet(query: DayPaperQuery) -> Response:
    """The cut sheet of several cars together as PDF."""
    plan, _ = read(lambda session: day.day_plan(session, query.job_ids))
    pdf = cut_sheet_pdf(plan, paper=query.paper, prices=shows_prices())
    return download(pdf, name=f"cut-sheet-{plan.file_stem()}.pdf", mimetype="application/pdf")


@bp.get("/day/layout.svg", responses={**_SVG, **ERRORS})
@allow(EVERYONE)
def day_drawing(query: DayFilmQuery) -> Response:
    """One film's layout for several cars as SVG to true scale."""
    plan, _ = read(lambda session: day.day_plan(session, query.job_ids))
    film = operations.film_plan(plan, query.film_id)
    return download(
        layout_svg(film, told=plan.gate_lines()), name=f"layout-{plan.file_stem(film)}.svg", mimetype="image/svg+xml"
    )


@bp.get("/day/tasks/<string:id>", responses={200: TaskOut, **ERRORS})
@allow(EVERYONE)
def day_task(path: IdPath, query: DayQuery) -> Response:
    """How far the plan of several cars is; the best verified one so far."""
    return answer(read(lambda session: day.day_task(session, query.job_ids, path.id)))


@bp.post("/day/cut", responses={200: DayOut, **ERRORS})
@allow(EVERYONE)
def day_is_cut(body: DayCutBody) -> Response:
    """Book the plan of several cars as cut, each job its share; what is still open."""
    write(lambda session: day.day_is_cut(session, body, person=acting()))
    return answer(read(day.day_cars))


@bp.get("/jobs/<string:id>/cut-sheet.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def cut_sheet(path: IdPath, query: PaperQuery) -> Response:
    """The cut sheet as PDF."""
    plan = read(lambda session: operations.job_plan(session, path.id)).plan
    pdf = cut_sheet_pdf(plan, paper=query.paper, prices=shows_prices())
    return download(pdf, name=f"cut-sheet-{plan.file_stem()}.pdf", mimetype="application/pdf")


@bp.get("/jobs/<string:id>/piece-labels.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def piece_labels(path: IdPath, query: PieceLabelQuery) -> Response:
    """A label for each piece as PDF."""
    plan = read(lambda session: operations.job_plan(session, path.id)).plan
    name = f"piece-labels-{plan.file_stem()}.pdf"
    return download(piece_labels_pdf(plan, on=query.on), name=name, mimetype="application/pdf")


@bp.get("/day/piece-labels.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def day_piece_labels(query: DayLabelQuery) -> Response:
    """A label for each piece of several cars as PDF."""
    plan, _ = read(lambda session: day.day_plan(session, query.job_ids))
    name = f"piece-labels-{plan.file_stem()}.pdf"
    return download(piece_labels_pdf(plan, on=query.on), name=name, mimetype="application/pdf")


@bp.get("/jobs/<string:id>/layout.svg", responses={**_SVG, **ERRORS})
@allow(EVERYONE)
def layout_drawing(path: IdPath, query: FilmQuery) -> Response:
    """One film's layout as SVG to true scale."""
    plan = read(lambda session: operations.job_plan(session, path.id)).plan
    film = operations.film_plan(plan, query.film_id)
    return download(
        layout_svg(film, told=plan.gate_lines()), name=f"layout-{plan.file_stem(film)}.svg", mimetype="image/svg+xml"
    )


@bp.get("/jobs/<string:id>/cutter.dxf", responses={**_DXF, **ERRORS})
@allow(EVERYONE)
def cutter_dxf(path: IdPath, query: CutterQuery) -> Response:
    """One stock's cut lines as DXF, as they lie seen from above."""
    plan, film, stock = read(lambda session: operations.stock_plan(session, path.id, query))
    name = f"cut-{plan.file_stem(film)}-{stock}.dxf"
    return download(to_dxf(film, query.stock_id), name=name, mimetype="image/vnd.dxf")


@bp.get("/jobs/<string:id>/cutter.hpgl", responses={**_HPGL, **ERRORS})
@allow(EVERYONE)
def cutter_hpgl(path: IdPath, query: CutterQuery) -> Response:
    """One stock's cut lines as HP-GL for a cutter."""
    plan, film, stock = read(lambda session: operations.stock_plan(session, path.id, query))
    name = f"cut-{plan.file_stem(film)}-{stock}.hpgl"
    settings = CutterSettings(
        speed_mm_s=query.speed_mm_s, force_g=query.force_g, overcut_mm=query.overcut_mm, marks=query.marks
    )
    return download(to_hpgl(film, query.stock_id, settings), name=name, mimetype="application/vnd.hp-hpgl")


@bp.get("/jobs/<string:id>/pieces.csv", responses={**_CSV, **ERRORS})
@allow(EVERYONE)
def pieces_csv(path: IdPath, query: FilmQuery) -> Response:
    """Every piece of a film as CSV."""
    plan = read(lambda session: operations.job_plan(session, path.id)).plan
    film = operations.film_plan(plan, query.film_id)
    return download(to_csv(film), name=f"pieces-{plan.file_stem(film)}.csv", mimetype="text/csv")


@bp.get("/cutter", responses={200: CutterOut, **ERRORS})
@allow(EVERYONE)
def cutter_state() -> Response:
    """What the cutter is at."""
    return answer(plotting.state(read(plotting.address)))


@bp.put("/cutter", responses={200: CutterOut, **ERRORS})
@allow(LEAD)
def set_cutter(body: CutterAddress) -> Response:
    """Say where the cutter is."""
    write(lambda session: plotting.set_address(session, body.address, version=body.version, person_id=acting().id))
    return answer(plotting.state(read(plotting.address)))


@bp.post("/jobs/<string:id>/cutter", responses={200: CutterOut, **ERRORS})
@allow(EVERYONE)
def send_to_cutter(path: IdPath, body: CutterSend) -> Response:
    """Send one stock's cut lines to the cutter; nothing is booked by that."""
    where, content = read(lambda session: (plotting.address(session), plotting.content_of(session, path.id, body)))
    return answer(plotting.send(where, content))


@bp.post("/cutter/orders", responses={200: CutterOut, **ERRORS})
@allow(EVERYONE)
def order_cutter(body: CutterOrder) -> Response:
    """Pause the cutter, let it go on, or stop its job."""
    return answer(plotting.order(read(plotting.address), body.word))


@bp.post("/jobs/<string:id>/cut", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def film_is_cut(path: IdPath, body: CutBody) -> Response:
    """Book the plan as cut: film off the rolls, offcuts on the rack, lot and roll on each window."""
    return _job(write(lambda session: knife.film_is_cut(session, path.id, body, person=acting())))


@bp.get("/jobs/<string:id>/places", responses={200: PlaceOut, **ERRORS})
@allow(EVERYONE)
def try_place(path: IdPath, query: PlaceTry) -> Response:
    """Whether a piece can be cut where somebody holds it."""
    return answer(read(lambda session: placing.try_piece(session, path.id, query)))


@bp.post("/jobs/<string:id>/hold", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def hold_film(path: IdPath, body: HoldBody) -> Response:
    """Hold the film that the job's plan takes."""
    return _job(write(lambda session: holding.hold_film(session, path.id, body, person=acting())))


@bp.post("/jobs/<string:id>/release-film", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def release_film(path: IdPath) -> Response:
    """Let go of the film that a job holds."""
    return _job(write(lambda session: holding.release(session, path.id, person_id=acting().id)))


@bp.post("/cuttings/<string:id>/take-back", responses={200: JobOut, **ERRORS})
@allow(TRUSTED)
def take_back(path: IdPath, body: VersionBody) -> Response:
    """Undo a cut within its day."""
    return _job(
        write(lambda session: knife.take_back(session, path.id, version=body.version, person_id=acting().id))
    )  # fmt: skip


@bp.post("/cuttings/<string:id>/cut-again", responses={200: JobOut, **ERRORS})
@allow(TRUSTED)
def cut_again(path: IdPath, body: AgainBody) -> Response:
    """A window's film is spoilt: plan and cut it once more."""
    return _job(
        write(
            lambda session: cut_again_of(session, path.id, body.window_id, version=body.version, person_id=acting().id)
        )
    )


def _job(job_id: str) -> Response:
    return answer(read(lambda session: job_screen(session, job_id)))

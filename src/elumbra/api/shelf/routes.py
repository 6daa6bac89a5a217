"""URLs of the glass shelf."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.shelf import files, fill, operations, panes
from elumbra.api.shelf.schemas import (
    CarFields,
    CarFromJob,
    CarPatch,
    DrawingIn,
    DrawingOut,
    DrawnIn,
    FillJob,
    FillWindow,
    FittedIn,
    NearList,
    PanePatch,
    ShelfCarOut,
    ShelfImported,
    ShelfList,
    ShelfPath,
    ShelfQuery,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, request, write

bp = Blueprint("shelf", __name__, url_prefix="/api")


def _shown(car_id: str, status: int = 200) -> Response:
    return answer(read(lambda session: operations.show(session, car_id)), status)


@bp.get("/shelf", responses={200: ShelfList, **ERRORS})
@allow(EVERYONE)
def find_cars(query: ShelfQuery) -> Response:
    """Cars by words in any order."""
    return answer(read(lambda session: operations.find(session, query)))


@bp.get("/shelf/file", responses={200: None, **ERRORS})
@allow(EVERYONE)
def export_shelf() -> Response:
    """The whole shelf as one file."""
    content = read(files.whole_shelf)
    return download(content, name="glass-shelf.json", mimetype="application/json")


@bp.post("/shelf/import", responses={200: ShelfImported, **ERRORS})
@allow(BENCH)
def import_shelf() -> Response:
    """The cars of a shelf file."""
    content = request.get_data()
    told = write(lambda session: files.bring_in(session, content, person_id=acting().id).model_dump_json())
    return answer(ShelfImported.model_validate_json(told))


@bp.post("/shelf/drawing", responses={200: DrawingOut, **ERRORS})
@allow(EVERYONE)
def read_drawing(body: DrawingIn) -> Response:
    """The outline in a drawing, to be looked at before it is taken."""
    return answer(fill.read_drawing(body))


@bp.post("/shelf/cars", responses={201: ShelfCarOut, **ERRORS})
@allow(EVERYONE)
def keep_job(body: CarFromJob) -> Response:
    """A job's glass, kept for every car like it."""
    return _shown(write(lambda session: operations.keep_job(session, body, person=acting())), 201)


@bp.get("/shelf/cars/<string:id>", responses={200: ShelfCarOut, **ERRORS})
@allow(EVERYONE)
def show_car(path: IdPath) -> Response:
    """A car with its panes, their revisions and the jobs that used them."""
    return _shown(path.id)


@bp.patch("/shelf/cars/<string:id>", responses={200: ShelfCarOut, **ERRORS})
@allow(BENCH)
def change_car(path: IdPath, body: CarPatch) -> Response:
    """Change what a car is called."""
    return _shown(write(lambda session: operations.change_car(session, path.id, body, person_id=acting().id)))


@bp.post("/shelf/cars/<string:id>/duplicate", responses={201: ShelfCarOut, **ERRORS})
@allow(BENCH)
def duplicate_car(path: IdPath, body: CarFields) -> Response:
    """The same glass under another name."""
    return _shown(write(lambda session: operations.duplicate(session, path.id, body, person_id=acting().id)), 201)


@bp.patch("/shelf/panes/<string:id>", responses={200: ShelfCarOut, **ERRORS})
@allow(BENCH)
def change_pane(path: IdPath, body: PanePatch) -> Response:
    """A new revision of a pane."""
    return _shown(write(lambda session: panes.change_pane(session, path.id, body, person_id=acting().id)))


@bp.post("/shelf/panes/<string:id>/fitted", responses={200: ShelfCarOut, **ERRORS})
@allow(EVERYONE)
def pane_fitted(path: IdPath, body: FittedIn) -> Response:
    """How a piece cut by a pane fitted."""
    return _shown(write(lambda session: panes.fitted(session, path.id, body, person=acting())))


@bp.post("/shelf/panes/<string:id>/other-side", responses={201: ShelfCarOut, **ERRORS})
@allow(BENCH)
def pane_other_side(path: IdPath, body: VersionBody) -> Response:
    """The pane of the other side, as the mirror image of this one."""
    return _shown(
        write(lambda session: panes.other_side(session, path.id, version=body.version, person_id=acting().id)),
        201,
    )


@bp.post("/shelf/panes/<string:id>/remove", responses={200: ShelfCarOut, **ERRORS})
@allow(BENCH)
def remove_pane(path: IdPath, body: VersionBody) -> Response:
    """Take a pane off its car."""
    return _shown(
        write(lambda session: panes.remove_pane(session, path.id, version=body.version, person_id=acting().id))
    )


@bp.get("/shelf/panes/<string:id>/file/<string:kind>", responses={200: None, **ERRORS})
@allow(EVERYONE)
def pane_file(path: ShelfPath) -> Response:
    """A pane as a drawing, SVG or DXF, or its readings as CSV."""
    found = read(lambda session: files.pane_file(session, path.id, path.kind))
    return download(found.content, name=found.name, mimetype=found.mimetype)


@bp.post("/jobs/<string:id>/from-shelf", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def fill_job(path: IdPath, body: FillJob) -> Response:
    """Give every window of a job the glass of a car on the shelf."""
    write(lambda session: fill.fill_job(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, path.id)))


@bp.get("/windows/<string:id>/near", responses={200: NearList, **ERRORS})
@allow(EVERYONE)
def near(path: IdPath) -> Response:
    """Records of the shelf near a window's size."""
    return answer(read(lambda session: fill.near(session, path.id)))


@bp.post("/windows/<string:id>/from-shelf", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def fill_window(path: IdPath, body: FillWindow) -> Response:
    """Give a window a pane of the shelf."""
    job_id = write(lambda session: fill.fill_window(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/outline", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def take_drawing(path: IdPath, body: DrawnIn) -> Response:
    """Take an outline from a drawing for a window's."""
    job_id = write(lambda session: fill.take_drawing(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))

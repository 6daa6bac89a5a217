"""URLs of windows."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.survey import operations
from elumbra.api.survey.schemas import WindowCreate, WindowPatch
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write

bp = Blueprint("survey", __name__, url_prefix="/api")


@bp.post("/jobs/<string:id>/windows", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def add_window(path: IdPath, body: WindowCreate) -> Response:
    """A further window."""
    job_id = write(lambda session: operations.add_window(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.patch("/windows/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def change_window(path: IdPath, body: WindowPatch) -> Response:
    """Change a window or its readings."""
    job_id = write(lambda session: operations.change_window(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/remove", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def remove_window(path: IdPath, body: VersionBody) -> Response:
    """Take a window out of its job."""
    job_id = write(
        lambda session: operations.remove_window(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/restore", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def restore_window(path: IdPath, body: VersionBody) -> Response:
    """Bring a removed window back."""
    job_id = write(
        lambda session: operations.restore_window(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))

"""URLs of jobs."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import EVERYONE, LEAD, allow
from elumbra.api.car_view.briefs import keep
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.jobs import operations
from elumbra.api.jobs.schemas import (
    BoardOut,
    ChangesOut,
    DeedBody,
    History,
    JobCreate,
    JobList,
    JobPatch,
    ListQuery,
    SinceQuery,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, current_app, read, write

bp = Blueprint("jobs", __name__, url_prefix="/api")
List = TypeVar("List")


def _listed(view: Callable[[operations.ToKeep], List]) -> List:
    """A list, and the summaries kept that had to be worked out for it."""
    to_keep: operations.ToKeep = {}
    found = view(to_keep)
    keep(lambda: current_app.config["DATABASE"].session(write=True), to_keep)
    return found


@bp.get("/board", responses={200: BoardOut, **ERRORS})
@allow(EVERYONE)
def get_board() -> Response:
    """The first screen."""
    return answer(_listed(lambda kept: read(lambda session: operations.board(session, to_keep=kept))))


@bp.get("/jobs", responses={200: JobList, **ERRORS})
@allow(EVERYONE)
def list_jobs(query: ListQuery) -> Response:
    """A page of jobs, newest first; a search looks at number, title, car and customer."""
    return answer(_listed(lambda kept: read(lambda session: operations.list_jobs(session, query, to_keep=kept))))


@bp.post("/jobs", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def create_job(body: JobCreate) -> Response:
    """A new job from a body style."""
    job_id = write(lambda session: operations.create_job(session, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.get("/jobs/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def get_job(path: IdPath) -> Response:
    """A job with its windows and all that follows from them."""
    return answer(read(lambda session: job_screen(session, path.id)))


@bp.patch("/jobs/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def change_job(path: IdPath, body: JobPatch) -> Response:
    """Change a job."""
    job_id = write(lambda session: operations.change_job(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/jobs/<string:id>/deeds", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def do_deed(path: IdPath, body: DeedBody) -> Response:
    """Do something with the job as a whole: the state follows."""
    job_id = write(lambda session: operations.do_deed(session, path.id, body, person=acting()))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/jobs/<string:id>/remove", responses={200: JobOut, **ERRORS})
@allow(LEAD)
def remove_job(path: IdPath, body: VersionBody) -> Response:
    """Put a job into the archive."""
    job_id = write(lambda session: operations.remove_job(session, path.id, version=body.version, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/jobs/<string:id>/restore", responses={200: JobOut, **ERRORS})
@allow(LEAD)
def restore_job(path: IdPath, body: VersionBody) -> Response:
    """Bring a job back from the archive."""
    job_id = write(
        lambda session: operations.restore_job(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.get("/jobs/<string:id>/changes", responses={200: ChangesOut, **ERRORS})
@allow(EVERYONE)
def changes(path: IdPath, query: SinceQuery) -> Response:
    """What others changed since, for screens that follow a job."""
    return answer(read(lambda session: operations.changes(session, path.id, since=query.since)))


@bp.get("/jobs/<string:id>/history", responses={200: History, **ERRORS})
@allow(EVERYONE)
def job_history(path: IdPath) -> Response:
    """Who changed what."""
    return answer(read(lambda session: operations.history(session, path.id)))

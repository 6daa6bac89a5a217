"""URLs of jobs and windows."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint

from elumbra.api.answers import ERRORS, IdPath, VersionBody, answer, download
from elumbra.api.jobs import operations
from elumbra.api.jobs.schemas import (
    BoardOut,
    FilmForMany,
    History,
    JobCreate,
    JobList,
    JobOut,
    JobPatch,
    WindowCreate,
    WindowPatch,
)
from elumbra.api.roles import BENCH, EVERYONE, allow
from elumbra.api.unit_of_work import acting, db
from elumbra.documents.job_file import to_bytes

bp = APIBlueprint("jobs", __name__, url_prefix="/api")


@bp.get("/board", responses={200: BoardOut, **ERRORS})
@allow(EVERYONE)
def get_board() -> Response:
    """The first screen."""
    return answer(operations.board(db()))


@bp.get("/jobs", responses={200: JobList, **ERRORS})
@allow(EVERYONE)
def list_jobs() -> Response:
    """All jobs."""
    return answer(operations.list_jobs(db()))


@bp.post("/jobs", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def create_job(body: JobCreate) -> Response:
    """A new job from a body style."""
    return answer(operations.create_job(db(), body, person_id=acting().id), 201)


@bp.post("/jobs/import", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def import_job() -> Response:
    """A new job from a job file, sent as the request's body."""
    return answer(operations.import_job(db(), request.get_data(), person_id=acting().id), 201)


@bp.get("/jobs/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def get_job(path: IdPath) -> Response:
    """A job with its windows and all that follows from them."""
    return answer(operations.get_job(db(), path.id))


@bp.patch("/jobs/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def change_job(path: IdPath, body: JobPatch) -> Response:
    """Change a job."""
    return answer(operations.change_job(db(), path.id, body, person_id=acting().id))


@bp.post("/jobs/<string:id>/remove", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def remove_job(path: IdPath, body: VersionBody) -> Response:
    """Take a job off the lists."""
    return answer(operations.remove_job(db(), path.id, version=body.version, person_id=acting().id))


@bp.post("/jobs/<string:id>/restore", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def restore_job(path: IdPath, body: VersionBody) -> Response:
    """Undo taking a job off the lists."""
    return answer(operations.restore_job(db(), path.id, version=body.version, person_id=acting().id))


@bp.get("/jobs/<string:id>/history", responses={200: History, **ERRORS})
@allow(EVERYONE)
def job_history(path: IdPath) -> Response:
    """Who changed what."""
    return answer(operations.history(db(), path.id))


@bp.get("/jobs/<string:id>/export")
@allow(EVERYONE)
def export_job(path: IdPath) -> Response:
    """The job as one JSON file that another shop can open."""
    document, number = operations.export_job(db(), path.id)
    return download(to_bytes(document), name=f"job-{number}.json", mimetype="application/json")


@bp.post("/jobs/<string:id>/film", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def film_for_many(path: IdPath, body: FilmForMany) -> Response:
    """One film for several windows."""
    job = operations.film_for_many(db(), path.id, body.film_id, body.window_ids, person_id=acting().id)
    return answer(job)


@bp.post("/jobs/<string:id>/windows", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def add_window(path: IdPath, body: WindowCreate) -> Response:
    """A further window."""
    return answer(operations.add_window(db(), path.id, body, person_id=acting().id), 201)


@bp.patch("/windows/<string:id>", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def change_window(path: IdPath, body: WindowPatch) -> Response:
    """Change a window or its readings."""
    return answer(operations.change_window(db(), path.id, body, person_id=acting().id))


@bp.post("/windows/<string:id>/remove", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def remove_window(path: IdPath, body: VersionBody) -> Response:
    """Take a window out of its job."""
    return answer(operations.remove_window(db(), path.id, version=body.version, person_id=acting().id))


@bp.post("/windows/<string:id>/restore", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def restore_window(path: IdPath, body: VersionBody) -> Response:
    """Bring a removed window back."""
    return answer(operations.restore_window(db(), path.id, version=body.version, person_id=acting().id))

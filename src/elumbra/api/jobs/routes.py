"""URLs of jobs and windows."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint

from elumbra.api.answers import ERRORS, IdPath, VersionBody, answer, download
from elumbra.api.jobs import law_operations, operations
from elumbra.api.jobs.schemas import (
    BoardOut,
    EverywhereOut,
    FilmForMany,
    FilmsByWindow,
    History,
    InstalledIn,
    JobCreate,
    JobList,
    JobOut,
    JobPatch,
    ProposalsOut,
    ReasonIn,
    StripOut,
    WindowCreate,
    WindowPatch,
)
from elumbra.api.roles import BENCH, EVERYONE, LEAD, allow
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


@bp.post("/jobs/<string:id>/judge-again", responses={200: JobOut, **ERRORS})
@allow(BENCH)
def judge_again(path: IdPath, body: VersionBody) -> Response:
    """Judge the job by the rule book as it stands today."""
    return answer(law_operations.judge_again(db(), path.id, version=body.version, person_id=acting().id))


@bp.post("/jobs/<string:id>/films", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def films_by_window(path: IdPath, body: FilmsByWindow) -> Response:
    """A film for each of several windows, as a proposal has it."""
    return answer(law_operations.films_by_window(db(), path.id, body.films, person_id=acting().id))


@bp.get("/jobs/<string:id>/proposals", responses={200: ProposalsOut, **ERRORS})
@allow(EVERYONE)
def proposals(path: IdPath) -> Response:
    """Up to four whole-car proposals, lawful as a whole."""
    return answer(law_operations.proposals(db(), path.id))


@bp.get("/jobs/<string:id>/everywhere", responses={200: EverywhereOut, **ERRORS})
@allow(EVERYONE)
def everywhere(path: IdPath) -> Response:
    """The plan in every jurisdiction on file."""
    return answer(law_operations.everywhere(db(), path.id))


@bp.get("/windows/<string:id>/strip", responses={200: StripOut, **ERRORS})
@allow(EVERYONE)
def strip(path: IdPath) -> Response:
    """A windshield's strip laid out on its glass."""
    return answer(law_operations.strip(db(), path.id))


@bp.post("/windows/<string:id>/reason", responses={201: JobOut, **ERRORS})
@allow(LEAD)
def give_reason(path: IdPath, body: ReasonIn) -> Response:
    """A lead's reason for an unlawful film, or the record that the wish was declined."""
    return answer(law_operations.give_reason(db(), path.id, body, lead=acting()), 201)


@bp.post("/reasons/<string:id>/withdraw", responses={200: JobOut, **ERRORS})
@allow(LEAD)
def withdraw_reason(path: IdPath, body: VersionBody) -> Response:
    """Take a reason back."""
    return answer(law_operations.withdraw_reason(db(), path.id, version=body.version, person_id=acting().id))


@bp.post("/windows/<string:id>/installed", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def record_installed(path: IdPath, body: InstalledIn) -> Response:
    """A pane metered with its new film on."""
    return answer(law_operations.record_installed(db(), path.id, body, person_id=acting().id), 201)

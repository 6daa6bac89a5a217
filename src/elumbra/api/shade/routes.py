"""URLs of films on windows and of the law."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import BENCH, EVERYONE, HANDS, LEAD, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.shade import operations
from elumbra.api.shade.schemas import EverywhereOut, FilmsByWindow, InstalledIn, ProposalsOut, ReasonIn, StripOut
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, read, write

bp = Blueprint("shade", __name__, url_prefix="/api")


@bp.post("/jobs/<string:id>/films", responses={200: JobOut, **ERRORS})
@allow(EVERYONE)
def films_by_window(path: IdPath, body: FilmsByWindow) -> Response:
    """A film, or none, for each of several windows."""
    job_id = write(lambda session: operations.films_by_window(session, path.id, body.films, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/jobs/<string:id>/judge-again", responses={200: JobOut, **ERRORS})
@allow(HANDS)
def judge_again(path: IdPath, body: VersionBody) -> Response:
    """Judge the job by the rule book as it stands today."""
    job_id = write(
        lambda session: operations.judge_again(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.get("/jobs/<string:id>/proposals", responses={200: ProposalsOut, **ERRORS})
@allow(EVERYONE)
def proposals(path: IdPath) -> Response:
    """Up to four whole-car proposals, lawful as a whole."""
    return answer(read(lambda session: operations.proposals(session, path.id)))


@bp.get("/jobs/<string:id>/everywhere", responses={200: EverywhereOut, **ERRORS})
@allow(EVERYONE)
def everywhere(path: IdPath) -> Response:
    """The plan in every jurisdiction on file."""
    return answer(read(lambda session: operations.everywhere(session, path.id)))


@bp.get("/windows/<string:id>/strip", responses={200: StripOut, **ERRORS})
@allow(EVERYONE)
def strip(path: IdPath) -> Response:
    """A windshield's strip laid out on its glass."""
    return answer(read(lambda session: operations.strip(session, path.id)))


@bp.post("/windows/<string:id>/reason", responses={201: JobOut, **ERRORS})
@allow(LEAD)
def give_reason(path: IdPath, body: ReasonIn) -> Response:
    """A lead's reason for an unlawful film, or the record that the wish was declined."""
    job_id = write(lambda session: operations.give_reason(session, path.id, body, lead=acting()))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


@bp.post("/reasons/<string:id>/withdraw", responses={200: JobOut, **ERRORS})
@allow(LEAD)
def withdraw_reason(path: IdPath, body: VersionBody) -> Response:
    """Take a reason back."""
    job_id = write(
        lambda session: operations.withdraw_reason(session, path.id, version=body.version, person_id=acting().id)
    )
    return answer(read(lambda session: job_screen(session, job_id)))


@bp.post("/windows/<string:id>/installed", responses={201: JobOut, **ERRORS})
@allow(BENCH)
def record_installed(path: IdPath, body: InstalledIn) -> Response:
    """A pane metered with its new film on."""
    job_id = write(lambda session: operations.record_installed(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: job_screen(session, job_id)), 201)

"""URLs of whole jobs as files."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from elumbra.api.base.bodies import Body, Id, IdPath
from elumbra.api.base.roles import EVERYONE, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.exchange import operations
from elumbra.api.exchange import redo as redos
from elumbra.api.exchange.operations import Importer
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, request, write
from elumbra.documents.job_file import JobFile, parse_job_file, to_bytes

bp = Blueprint("exchange", __name__, url_prefix="/api")


@bp.get("/jobs/<string:id>/export", responses={200: JobFile, **ERRORS})
@allow(EVERYONE, money=True)
def export_job(path: IdPath) -> Response:
    """The job as one JSON file that another shop can open."""
    document, number = read(lambda session: operations.export_job(session, path.id))
    return download(to_bytes(document), name=f"job-{number}.json", mimetype="application/json")


@bp.post("/jobs/import", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def import_job() -> Response:
    """A new job from a job file, sent as the request's body."""
    document = parse_job_file(request.get_data())
    importer = Importer(acting(), is_lead=acting().leads)
    job_id = write(lambda session: operations.import_job(session, document, importer))
    return answer(read(lambda session: job_screen(session, job_id)), 201)


class RedoBody(Body):
    """The windows of a delivered car that are done again."""

    windows: Annotated[list[Id], Field(min_length=1, max_length=60)]


@bp.post("/jobs/<string:id>/redo", responses={201: JobOut, **ERRORS})
@allow(EVERYONE)
def redo(path: IdPath, body: RedoBody) -> Response:
    """A new job for windows of a delivered car, linked to the one that it mends."""
    importer = Importer(acting(), is_lead=acting().leads)
    job_id = write(lambda session: redos.redo(session, path.id, body.windows, importer))
    return answer(read(lambda session: job_screen(session, job_id)), 201)

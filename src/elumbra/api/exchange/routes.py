"""URLs of whole jobs as files."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, allow
from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.exchange import operations
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

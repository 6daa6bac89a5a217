"""URLs of Strip-off."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, allow
from elumbra.api.strip import operations
from elumbra.api.strip.papers import paper_of
from elumbra.api.strip.schemas import (
    AcknowledgeBody,
    ResultBody,
    ResultOut,
    StripCarOut,
    StripPaperQuery,
    ToolsBody,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("strip", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}


@bp.get("/jobs/<string:id>/strip-off", responses={200: StripCarOut, **ERRORS})
@allow(EVERYONE)
def show_strip_off(path: IdPath) -> Response:
    """How old film comes off this car."""
    return _car(path.id)


def _car(job_id: str) -> Response:
    person = acting()
    return answer(read(lambda session: operations.strip_car(session, job_id, person_id=person.id)))


@bp.post("/jobs/<string:id>/strip-off/acknowledge", responses={200: StripCarOut, **ERRORS})
@allow(EVERYONE)
def acknowledge(path: IdPath, body: AcknowledgeBody) -> Response:
    """The customer knows that defroster lines may lift, and the price."""
    return _car(write(lambda session: operations.acknowledge(session, path.id, body, person=acting())))


@bp.post("/windows/<string:id>/strip-off/result", responses={200: ResultOut, **ERRORS})
@allow(BENCH)
def keep_result(path: IdPath, body: ResultBody) -> Response:
    """How it came off, and what the bare glass reads."""
    before = [""]

    def do(session: Any) -> str:
        window_id, before[0] = operations.keep_result(session, path.id, body, person=acting())
        return window_id

    write(do)
    return answer(read(lambda session: operations.result_of(session, path.id, before[0])))


@bp.get("/jobs/<string:id>/strip-off.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def strip_paper(path: IdPath, query: StripPaperQuery) -> Response:
    """Quote and acknowledgement of the removal, to sign."""
    person = acting()
    name, content = read(lambda session: paper_of(session, path.id, query.paper, person_id=person.id))
    return download(content, name=f"old film {name}.pdf", mimetype="application/pdf", inline=True)


@bp.put("/removal-tools/<string:id>", responses={200: StripCarOut, **ERRORS})
@allow(LEAD)
def set_tools(path: IdPath, body: ToolsBody) -> Response:
    """What is at hand for taking film off; the answer is about one job."""
    write(lambda session: operations.set_tools(session, body, person_id=acting().id))
    return _car(path.id)

"""URLs of Handover."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, LEAD, TRUSTED, allow
from elumbra.api.handover import let_go, operations
from elumbra.api.handover.schemas import (
    CheckBody,
    HandoverOut,
    HandoverPaperQuery,
    LetGoBody,
    LetterheadBody,
    LetterheadOut,
    PaperPath,
    SignBody,
    TakeBackBody,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("handover", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}
_HTML: dict[Any, Any] = {200: {"content": {"text/html": {"schema": {"type": "string"}}}}}


def _car(job_id: str) -> Response:
    person = acting()
    return answer(read(lambda session: operations.handover(session, job_id, person=person)))


@bp.get("/jobs/<string:id>/handover", responses={200: HandoverOut, **ERRORS})
@allow(EVERYONE)
def show_handover(path: IdPath) -> Response:
    """What holds the car, its papers, who signed."""
    return _car(path.id)


@bp.post("/jobs/<string:id>/handover/check", responses={200: HandoverOut, **ERRORS})
@allow(EVERYONE)
def check(path: IdPath, body: CheckBody) -> Response:
    """Tick a line of the checklist."""
    return _car(write(lambda session: operations.check(session, path.id, body, person=acting())))


@bp.post("/jobs/<string:id>/handover/sign", responses={200: HandoverOut, **ERRORS})
@allow(TRUSTED)
def hand_over(path: IdPath, body: SignBody) -> Response:
    """The customer takes the car."""
    return _car(write(lambda session: operations.hand_over(session, path.id, body, person=acting())))


@bp.post("/jobs/<string:id>/handover/let-go", responses={200: HandoverOut, **ERRORS})
@allow(LEAD)
def deliver_without(path: IdPath, body: LetGoBody) -> Response:
    """A lead delivers the car without what is not made on some windows."""
    return _car(write(lambda session: let_go.let_go(session, path.id, body, person=acting())))


@bp.post("/jobs/<string:id>/handover/take-back", responses={200: HandoverOut, **ERRORS})
@allow(LEAD)
def take_back(path: IdPath, body: TakeBackBody) -> Response:
    """It was not handed over after all."""
    person = acting()
    return _car(write(lambda session: operations.take_back(session, path.id, body, person_id=person.id)))


@bp.get("/jobs/<string:id>/papers/<string:name>", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def paper(path: PaperPath, query: HandoverPaperQuery) -> Response:
    """A paper as PDF, or all that are ready."""
    person = acting()
    name, content = read(lambda session: operations.paper(session, path.id, path.name, query.paper, person=person))
    return download(content, name=f"{name}.pdf", mimetype="application/pdf", inline=True)


@bp.get("/jobs/<string:id>/customer-file", responses={**_HTML, **ERRORS})
@allow(EVERYONE)
def customer_file(path: IdPath) -> Response:
    """Everything for the customer in one file; without the invoice for who does not see prices."""
    person = acting()
    name, content = read(lambda session: operations.customer_file(session, path.id, person=person))
    return download(content, name=f"{name}.html", mimetype="text/html")


@bp.get("/letterhead", responses={200: LetterheadOut, **ERRORS})
@allow(EVERYONE)
def show_letterhead() -> Response:
    """In whose name papers go out."""
    return answer(read(operations.show_letterhead))


@bp.put("/letterhead", responses={200: LetterheadOut, **ERRORS})
@allow(LEAD)
def keep_letterhead(body: LetterheadBody) -> Response:
    """Say in whose name papers go out."""
    write(lambda session: operations.keep_letterhead(session, body, person_id=acting().id))
    return answer(read(operations.show_letterhead))

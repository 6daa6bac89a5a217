"""URLs of calls and of the recall of a lot."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, TRUSTED, allow
from elumbra.api.calls import operations
from elumbra.api.calls.schemas import (
    AdviceQuery,
    CallAdviceOut,
    CallBody,
    CallerQuery,
    CallersOut,
    CallPatch,
    HistoryOut,
    LotPaperQuery,
    LotQuery,
    LotsOut,
    RecallOut,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, write

bp = Blueprint("calls", __name__, url_prefix="/api")
_PDF: dict[Any, Any] = {200: {"content": {"application/pdf": {"schema": {"type": "string", "format": "binary"}}}}}
_CSV: dict[Any, Any] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}


@bp.get("/callers", responses={200: CallersOut, **ERRORS})
@allow(EVERYONE)
def callers(query: CallerQuery) -> Response:
    """Jobs that a caller may mean, and calls that are open."""
    return answer(read(lambda session: operations.callers(session, query)))


def _history(window_id: str, status: int = 200) -> Response:
    return answer(read(lambda session: operations.history(session, window_id)), status)


@bp.get("/windows/<string:id>/history", responses={200: HistoryOut, **ERRORS})
@allow(EVERYONE)
def history(path: IdPath) -> Response:
    """A window's whole history."""
    return _history(path.id)


@bp.get("/windows/<string:id>/call-advice", responses={200: CallAdviceOut, **ERRORS})
@allow(EVERYONE)
def call_advice(path: IdPath, query: AdviceQuery) -> Response:
    """What to tell a caller."""
    return answer(read(lambda session: operations.advice(session, path.id, query)))


@bp.post("/windows/<string:id>/calls", responses={201: HistoryOut, **ERRORS})
@allow(EVERYONE)
def keep_call(path: IdPath, body: CallBody) -> Response:
    """Keep a call."""
    return _history(write(lambda session: operations.keep_call(session, path.id, body, person=acting())), 201)


@bp.patch("/calls/<string:id>", responses={200: HistoryOut, **ERRORS})
@allow(TRUSTED)
def settle_call(path: IdPath, body: CallPatch) -> Response:
    """A call is settled, or open again."""
    return _history(write(lambda session: operations.settle(session, path.id, body, person_id=acting().id)))


@bp.get("/lots", responses={200: LotsOut, **ERRORS})
@allow(EVERYONE)
def lots() -> Response:
    """Every lot that ever came."""
    return answer(read(operations.lots))


@bp.get("/recall", responses={200: RecallOut, **ERRORS})
@allow(EVERYONE)
def recall(query: LotQuery) -> Response:
    """Every window with film of a lot."""
    return answer(read(lambda session: operations.recall(session, query)))


@bp.get("/recall.csv", responses={**_CSV, **ERRORS})
@allow(EVERYONE)
def recall_csv(query: LotQuery) -> Response:
    """The same as CSV."""
    name, content = read(lambda session: operations.recall_csv(session, query))
    return download(content, name=f"{name}.csv", mimetype="text/csv")


@bp.get("/recall.pdf", responses={**_PDF, **ERRORS})
@allow(EVERYONE)
def recall_pdf(query: LotPaperQuery) -> Response:
    """The same to print."""
    name, content = read(lambda session: operations.recall_pdf(session, query))
    return download(content, name=f"{name}.pdf", mimetype="application/pdf", inline=True)

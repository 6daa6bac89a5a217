"""URLs of the ledger."""

from __future__ import annotations

from typing import Any

from elumbra.api.base.roles import EVERYONE, allow
from elumbra.api.ledger import operations
from elumbra.api.ledger.schemas import LedgerFileQuery, LedgerOut, LedgerQuery
from elumbra.api.web import ERRORS, Blueprint, Response, answer, download, read

bp = Blueprint("ledger", __name__, url_prefix="/api")
_CSV: dict[Any, Any] = {200: {"content": {"text/csv": {"schema": {"type": "string"}}}}}


@bp.get("/ledger", responses={200: LedgerOut, **ERRORS})
@allow(EVERYONE, money=True)
def show_ledger(query: LedgerQuery) -> Response:
    """Film, waste, redo, readings, time and money over some weeks."""
    return answer(read(lambda session: operations.ledger(session, query)))


@bp.get("/ledger.csv", responses={**_CSV, **ERRORS})
@allow(EVERYONE, money=True)
def ledger_csv(query: LedgerFileQuery) -> Response:
    """One table of it."""
    name, content = read(lambda session: operations.as_csv(session, query))
    return download(content, name=f"{name}.csv", mimetype="text/csv")

"""URLs of the rule book."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.roles import EVERYONE, LEAD, allow
from elumbra.api.rules import counter, operations
from elumbra.api.rules.schemas import ConfirmIn, FileOut, LookUpIn, LookUpOut, RuleBookOut, RuleOut, WordIn
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, download, read, request, write

bp = Blueprint("rules", __name__, url_prefix="/api")


@bp.get("/rules", responses={200: RuleBookOut, **ERRORS})
@allow(EVERYONE)
def rule_book() -> Response:
    """All jurisdictions as they stand today."""
    return answer(read(operations.rule_book))


@bp.post("/rules/look-up", responses={200: LookUpOut, **ERRORS})
@allow(EVERYONE)
def look_up(body: LookUpIn) -> Response:
    """A quick answer for one pane of a car that is not a job; nothing is kept of it."""
    return answer(read(lambda session: counter.look_up(session, body)))


@bp.get("/rules/file", responses={200: {"content": {"application/json": {"schema": {"type": "object"}}}}, **ERRORS})
@allow(EVERYONE)
def export_file() -> Response:
    """The law file as it stands, the shop's words in it."""
    return download(read(operations.export_file), name="law.json", mimetype="application/json")


@bp.post("/rules/file", responses={201: FileOut, **ERRORS})
@allow(LEAD)
def take_in_file() -> Response:
    """Use another law file, sent as the request's body."""
    text = operations.read_file(request.get_data())
    write(lambda session: operations.take_in_file(session, text, person_id=acting().id))
    return answer(read(operations.file_taken_in), 201)


@bp.get("/rules/<string:id>", responses={200: RuleOut, **ERRORS})
@allow(EVERYONE)
def rule_page(path: IdPath) -> Response:
    """A jurisdiction's page."""
    return answer(read(lambda session: operations.rule_page(session, path.id)))


@bp.post("/rules/<string:id>/words", responses={201: RuleOut, **ERRORS})
@allow(LEAD)
def say(path: IdPath, body: WordIn) -> Response:
    """Confirm or overrule one field."""
    code = write(lambda session: operations.say(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: operations.rule_page(session, code)), 201)


@bp.post("/rules/<string:id>/confirm", responses={201: RuleOut, **ERRORS})
@allow(LEAD)
def confirm(path: IdPath, body: ConfirmIn) -> Response:
    """Confirm or overrule several fields read in one sitting, all or none."""
    code = write(lambda session: operations.confirm(session, path.id, body, person_id=acting().id))
    return answer(read(lambda session: operations.rule_page(session, code)), 201)


@bp.post("/rule-words/<string:id>/withdraw", responses={200: RuleOut, **ERRORS})
@allow(LEAD)
def withdraw(path: IdPath) -> Response:
    """Take the shop's word on a field back."""
    code = write(lambda session: operations.withdraw(session, path.id, person_id=acting().id))
    return answer(read(lambda session: operations.rule_page(session, code)))

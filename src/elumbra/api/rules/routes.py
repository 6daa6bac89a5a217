"""URLs of the rule book."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3 import APIBlueprint

from elumbra.api.answers import ERRORS, IdPath, answer, download
from elumbra.api.roles import EVERYONE, LEAD, allow
from elumbra.api.rules import operations
from elumbra.api.rules.schemas import FileOut, LookUpOut, LookUpQuery, RuleBookOut, RuleOut, WordIn
from elumbra.api.unit_of_work import acting, db

bp = APIBlueprint("rules", __name__, url_prefix="/api")


@bp.get("/rules", responses={200: RuleBookOut, **ERRORS})
@allow(EVERYONE)
def rule_book() -> Response:
    """All jurisdictions as they stand today."""
    return answer(operations.rule_book(db()))


@bp.get("/rules/look-up", responses={200: LookUpOut, **ERRORS})
@allow(EVERYONE)
def look_up(query: LookUpQuery) -> Response:
    """A quick answer for one pane of a car that is not a job."""
    return answer(operations.look_up(db(), query))


@bp.get("/rules/file")
@allow(EVERYONE)
def export_file() -> Response:
    """The law file as it stands, the shop's words in it."""
    return download(operations.export_file(db()), name="law.json", mimetype="application/json")


@bp.post("/rules/file", responses={201: FileOut, **ERRORS})
@allow(LEAD)
def take_in_file() -> Response:
    """Use another law file, sent as the request's body."""
    return answer(operations.take_in_file(db(), request.get_data(), person_id=acting().id), 201)


@bp.get("/rules/<string:id>", responses={200: RuleOut, **ERRORS})
@allow(EVERYONE)
def rule_page(path: IdPath) -> Response:
    """A jurisdiction's page."""
    return answer(operations.rule_page(db(), path.id))


@bp.post("/rules/<string:id>/words", responses={201: RuleOut, **ERRORS})
@allow(LEAD)
def say(path: IdPath, body: WordIn) -> Response:
    """Confirm or overrule one field."""
    return answer(operations.say(db(), path.id, body, person_id=acting().id), 201)


@bp.post("/rule-words/<string:id>/withdraw", responses={200: RuleOut, **ERRORS})
@allow(LEAD)
def withdraw(path: IdPath) -> Response:
    """Take the shop's word on a field back."""
    return answer(operations.withdraw(db(), path.id, person_id=acting().id))

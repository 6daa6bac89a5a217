"""The single error handler: whatever is refused leaves in one shape."""

from __future__ import annotations

import logging
from collections.abc import Mapping
from typing import Any

from flask import Flask, Response, jsonify, request
from pydantic import ValidationError
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from elumbra.api.base.refusals import STATUS_OF, ApiError, ChangedFieldBody, ErrorBody
from elumbra.api.web.unit_of_work import shows_prices
from elumbra.core.errors import CoreError
from elumbra.storage.database import BusyError, DiskFullError, ReadOnlyError, UnusableDatabaseError
from elumbra.storage.doors import TooManyGuessesError
from elumbra.storage.store import NotFoundError, StaleWriteError
from elumbra.storage.tasks import QueueFullError

_log = logging.getLogger(__name__)
_CODE_OF_STATUS = {
    400: "bad_request", 404: "not_found", 405: "method_not_allowed", 413: "too_large", 415: "unsupported_media",
}  # fmt: skip
_PRICES = {"price", "price_per_m2"}  # of stock and films
_BUSY = "Somebody else is writing at this moment. What you sent was not kept; it is sent again by itself."
_FULL = (
    "The disk is full: this was not kept, and nothing that was kept before is lost. Free some room on the machine "
    "that runs Elumbra, then send it again."
)
_READ_ONLY = (
    "The shop’s file may only be read: this was not kept. Make the disk and the file writable on the machine that "
    "runs Elumbra, then send it again."
)
_OURS = "Something went wrong on our side; nothing was saved. Try again, and tell the lead if it stays."


def error_response(body: ErrorBody) -> Response:
    """The response of a refusal."""
    response = jsonify(body.model_dump())
    response.status_code = STATUS_OF[body.code]
    return response


def body_of(error: Exception) -> ErrorBody:
    """What is said about an error; only unexpected ones are logged."""
    if isinstance(error, ApiError):
        return ErrorBody(code=error.code, message=error.message, fields=error.fields)
    if isinstance(error, CoreError):
        return ErrorBody(code="refused", message=error.message, fields=error.fields)
    if isinstance(error, NotFoundError):
        return ErrorBody(code="not_found", message=str(error.args[0]))
    if isinstance(error, StaleWriteError):
        shown = shows_prices()
        changed = [
            ChangedFieldBody(
                field=c.field, now=c.now if shown or c.field not in _PRICES else None, person_id=c.person_id,
                at=c.at.isoformat(),
            )
            for c in error.changed
        ]  # fmt: skip
        return ErrorBody(code="stale_version", message=str(error), changed=changed, version=error.version)
    if isinstance(error, ValidationError):
        return _validation_body(error)
    if isinstance(error, RecursionError):
        return ErrorBody(code="bad_request", message="What was sent is nested far deeper than anything here.")
    if isinstance(error, HTTPException):
        code = _CODE_OF_STATUS.get(error.code or 500, "bad_request" if (error.code or 500) < 500 else "server_error")
        return ErrorBody(code=code, message=error.description or "This cannot be done.")
    return _machine_body(error)


def _machine_body(error: Exception) -> ErrorBody:
    if isinstance(error, TooManyGuessesError):
        return ErrorBody(code="too_many", message=str(error))
    if isinstance(error, QueueFullError):
        return ErrorBody(code="queue_full", message=str(error))
    if isinstance(error, BusyError):
        return ErrorBody(code="busy", message=_BUSY)
    if isinstance(error, DiskFullError):
        return ErrorBody(code="disk_full", message=_FULL)
    if isinstance(error, ReadOnlyError):
        return ErrorBody(code="read_only", message=_READ_ONLY)
    if isinstance(error, UnusableDatabaseError):
        return ErrorBody(code="refused", message=str(error))
    _log.exception("unexpected error at %s", request.path, exc_info=error)
    return ErrorBody(code="server_error", message=_OURS)


_SENTENCES = {
    "less_than_equal": "At most {le}.",
    "less_than": "Under {lt}.",
    "greater_than_equal": "At least {ge}.",
    "greater_than": "More than {gt}.",
    "string_too_short": "At least {min_length} characters.",
    "string_too_long": "At most {max_length} characters.",
    "too_long": "At most {max_length} of them.",
    "too_short": "At least {min_length} of them.",
    "missing": "Is needed.",
    "extra_forbidden": "Is not a field here.",
    "finite_number": "A number that can be written out.",
}


def _validation_body(error: ValidationError) -> ErrorBody:
    problems = error.errors(include_url=False, include_input=False)
    fields = {".".join(str(part) for part in problem["loc"])[:120]: _sentence(problem) for problem in problems}
    place, sentence = next(iter(fields.items()))
    return ErrorBody(code="invalid", message=f"{place}: {sentence}" if place else sentence, fields=fields)


def _sentence(problem: Mapping[str, Any]) -> str:
    known = _SENTENCES.get(problem["type"])
    if problem["type"] == "string_too_short" and problem.get("ctx", {}).get("min_length") == 1:
        return "Cannot be empty."
    if known:
        return known.format(**problem.get("ctx", {}))
    return f"{problem['msg'].removeprefix('Value error, ').rstrip('.')}."


def on_validation_error(error: ValidationError) -> Response:
    """For the request parser."""
    return error_response(_validation_body(error))


def api_methods(app: Flask, path: str) -> set[str]:
    """Methods that the API takes at an address; none where it has no such address."""
    adapter = app.url_map.bind("")
    found = set()
    for method in ("GET", "POST", "PUT", "PATCH", "DELETE"):
        try:
            endpoint, _ = adapter.match(path, method=method)
        except HTTPException:
            continue
        if hasattr(app.view_functions[endpoint], "__elumbra_roles__"):
            found.add(method)
    return found


def no_such_address(app: Flask, path: str) -> Response:
    """The refusal of an API address or method that there is not."""
    methods = api_methods(app, path)
    if not methods:
        return error_response(ErrorBody(code="not_found", message="There is no such address in the API."))
    words = f"This address takes {' or '.join(sorted(methods))}, not {request.method}."
    response = error_response(ErrorBody(code="method_not_allowed", message=words))
    response.headers["Allow"] = ", ".join(sorted(methods))
    return response


def register(app: Flask) -> None:
    """Handle every error."""

    @app.errorhandler(Exception)
    def _handle(error: Exception) -> Response:
        if isinstance(error, MethodNotAllowed) and request.path.startswith("/api/"):
            return no_such_address(app, request.path)
        return error_response(body_of(error))

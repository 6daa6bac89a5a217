"""One shape for everything that is refused, and one table from code to status.

{"code": "stale_version", "message": "what, why and the mend", "fields": {...}, "changed": [...]}
"""

from __future__ import annotations

import logging
from typing import Any

from flask import Flask, Response, jsonify, request
from pydantic import BaseModel, ValidationError
from werkzeug.exceptions import HTTPException

from elumbra.core.errors import CoreError
from elumbra.storage.solves import QueueFullError
from elumbra.storage.store import NotFoundError, StaleWriteError

_log = logging.getLogger(__name__)

STATUS_OF: dict[str, int] = {
    "no_write_id": 400,
    "bad_request": 400,
    "no_person": 401,
    "not_your_role": 403,
    "not_found": 404,
    "method_not_allowed": 405,
    "stale_version": 409,
    "no_plan": 409,
    "too_large": 413,
    "refused": 422,
    "invalid": 422,
    "server_error": 500,
    "undeclared_route": 500,
    "queue_full": 503,
}
_CODE_OF_STATUS = {
    400: "bad_request", 404: "not_found", 405: "method_not_allowed", 413: "too_large", 415: "bad_request",
}  # fmt: skip


class ChangedFieldBody(BaseModel):
    """A field that someone else changed meanwhile."""

    field: str
    now: Any
    person_id: str
    at: str


class ErrorBody(BaseModel):
    """Everything that is refused looks like this."""

    code: str
    message: str
    fields: dict[str, str] = {}
    changed: list[ChangedFieldBody] = []
    version: int | None = None


class ApiError(Exception):
    """A refusal made by the API itself."""

    def __init__(self, code: str, message: str, *, fields: dict[str, str] | None = None) -> None:
        super().__init__(message)
        self.code, self.message, self.fields = code, message, fields or {}


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
        changed = [
            ChangedFieldBody(field=c.field, now=c.now, person_id=c.person_id, at=c.at.isoformat())
            for c in error.changed
        ]
        return ErrorBody(code="stale_version", message=str(error), changed=changed, version=error.version)
    if isinstance(error, QueueFullError):
        return ErrorBody(code="queue_full", message=str(error))
    if isinstance(error, ValidationError):
        return _validation_body(error)
    if isinstance(error, HTTPException):
        code = _CODE_OF_STATUS.get(error.code or 500, "server_error")
        return ErrorBody(code=code, message=error.description or "This cannot be done.")
    _log.exception("unexpected error at %s", request.path, exc_info=error)
    return ErrorBody(
        code="server_error",
        message="Something went wrong on our side; nothing was saved. Try again, and tell the lead if it stays.",
    )


def _validation_body(error: ValidationError) -> ErrorBody:
    fields = {".".join(str(part) for part in problem["loc"]): f"{problem['msg']}." for problem in error.errors()}
    place, sentence = next(iter(fields.items()))
    return ErrorBody(code="invalid", message=f"{place}: {sentence}", fields=fields)


def on_validation_error(error: ValidationError) -> Response:
    """For the request parser."""
    return error_response(_validation_body(error))


def register(app: Flask) -> None:
    """The single error handler."""

    @app.errorhandler(Exception)
    def _handle(error: Exception) -> Response:
        return error_response(body_of(error))

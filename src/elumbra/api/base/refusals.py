"""One shape for everything that is refused, and one table from code to status.

{"code": "stale_version", "message": "what, why and the mend", "fields": {...}, "changed": [...]}
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

STATUS_OF: dict[str, int] = {
    "no_write_id": 400,
    "write_id_used": 400,
    "bad_request": 400,
    "no_person": 401,
    "wrong_secret": 401,
    "not_your_role": 403,
    "no_prices": 403,
    "no_owner": 403,
    "not_enrolled": 403,
    "foreign_page": 403,
    "not_found": 404,
    "method_not_allowed": 405,
    "stale_version": 409,
    "no_plan": 409,
    "already_cut": 409,
    "too_large": 413,
    "unsupported_media": 415,
    "too_many": 429,
    "ask_again": 422,
    "refused": 422,
    "invalid": 422,
    "server_error": 500,
    "undeclared_route": 500,
    "queue_full": 503,
    "busy": 503,
    "disk_full": 507,
    "read_only": 507,
}


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

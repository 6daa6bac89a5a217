"""Small helpers that every feature's handlers share."""

from __future__ import annotations

from copy import deepcopy
from functools import cache
from typing import Any

from flask import Response, current_app
from pydantic import BaseModel, ConfigDict

from elumbra.api.errors import ErrorBody

ERRORS: dict[Any, Any] = {"4XX": ErrorBody, "5XX": ErrorBody}


class Body(BaseModel):
    """A request body: unknown fields are refused."""

    model_config = ConfigDict(extra="forbid")


class Described(BaseModel):
    """An answer of many routes: its schema is worked out once, for that takes a good part of the start."""

    @classmethod
    def model_json_schema(cls, **given: Any) -> dict[str, Any]:  # type: ignore[override]
        """The JSON schema, a copy for each caller."""
        key = tuple(sorted(given.items()))
        return deepcopy(_schema(cls, key))


@cache
def _schema(model: type[BaseModel], key: tuple[tuple[str, Any], ...]) -> dict[str, Any]:
    return BaseModel.model_json_schema.__func__(model, **dict(key))  # type: ignore[attr-defined, no-any-return]


class IdPath(BaseModel):
    """The id in a path."""

    id: str


class VersionBody(Body):
    """The version that a write is based on."""

    version: int


def answer(model: BaseModel, status: int = 200) -> Response:
    """A model as JSON."""
    return current_app.response_class(model.model_dump_json(), status=status, mimetype="application/json")


def download(content: bytes, *, name: str, mimetype: str, inline: bool = False) -> Response:
    """A file to save, or to show in the browser."""
    response = current_app.response_class(content, mimetype=mimetype)
    kind = "inline" if inline else "attachment"
    safe = "".join(c if c.isalnum() or c in "-_. " else "-" for c in name)
    response.headers["Content-Disposition"] = f'{kind}; filename="{safe.encode("ascii", "replace").decode()}"'
    return response

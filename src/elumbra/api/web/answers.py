"""Answers as the web sends them."""

from __future__ import annotations

from typing import Any

from flask import Response, current_app
from pydantic import BaseModel

from elumbra.api.base.refusals import ErrorBody
from elumbra.api.web.unit_of_work import shows_prices
from elumbra.documents.money import seen_by

# 422 by name too: the framework would describe its own shape for it.
ERRORS: dict[Any, Any] = {422: ErrorBody, "4XX": ErrorBody, "5XX": ErrorBody}


def answer(model: BaseModel, status: int = 200) -> Response:
    """A model as JSON, without money for who does not see prices."""
    content = model.model_dump_json(context=seen_by(shows_prices()))
    return current_app.response_class(content, status=status, mimetype="application/json")


def download(content: bytes, *, name: str, mimetype: str, inline: bool = False) -> Response:
    """A file to save, or to show in the browser."""
    response = current_app.response_class(content, mimetype=mimetype)
    kind = "inline" if inline else "attachment"
    safe = "".join(c if c.isalnum() or c in "-_. " else "-" for c in name)
    response.headers["Content-Disposition"] = f'{kind}; filename="{safe.encode("ascii", "replace").decode()}"'
    return response

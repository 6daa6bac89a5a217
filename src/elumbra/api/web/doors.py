"""Who may knock: a page of another site must not drive a server that listens on this machine."""

from __future__ import annotations

from urllib.parse import urlsplit

from flask import Flask, Response, request

from elumbra.api.base.refusals import ErrorBody
from elumbra.api.web.errors import error_response

_POLICY = "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'"
_LOOPBACK = frozenset({"localhost", "127.0.0.1", "::1"})


def register(app: Flask, hosts: frozenset[str] = frozenset()) -> None:
    """Check Host and Origin of every request, and send the browser's cautions with every answer.

    ``hosts`` are names besides this machine's own by which the server may be called.
    """
    allowed = _LOOPBACK | hosts

    @app.before_request
    def _at_the_door() -> Response | None:
        origin = request.headers.get("Origin")
        if not _named(f"//{request.host}", allowed):
            words = "This server answers only under its own name. Open the address that it printed when it started."
        elif origin is not None and (not _named(origin, allowed) or not _same_port(origin)):
            words = "This came from a page of another site, so it was not done."
        else:
            return None
        return error_response(ErrorBody(code="foreign_page", message=words))

    @app.after_request
    def _cautions(response: Response) -> Response:
        response.headers["Content-Security-Policy"] = _POLICY
        response.headers["X-Content-Type-Options"] = "nosniff"
        response.headers["Referrer-Policy"] = "same-origin"
        response.headers["Cross-Origin-Resource-Policy"] = "same-origin"
        return response


def _named(address: str, allowed: frozenset[str]) -> bool:
    try:
        return urlsplit(address).hostname in allowed
    except ValueError:
        return False


def _same_port(origin: str) -> bool:
    try:
        return urlsplit(origin).port == urlsplit(f"//{request.host}").port
    except ValueError:
        return False

"""The web layer: the only place that knows Flask."""

from flask import Response, current_app, request
from flask import session as cookie
from flask_openapi3 import APIBlueprint as Blueprint

from elumbra.api.web.answers import ERRORS, answer, download
from elumbra.api.web.unit_of_work import acting, read, write

__all__ = [
    "ERRORS",
    "Blueprint",
    "Response",
    "acting",
    "answer",
    "cookie",
    "current_app",
    "download",
    "read",
    "request",
    "write",
]

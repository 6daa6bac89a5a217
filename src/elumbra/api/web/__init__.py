"""The web layer: the only place that knows Flask."""

from flask import Response, current_app, request

from elumbra.api.web import sittings
from elumbra.api.web.answers import ERRORS, answer, download
from elumbra.api.web.blueprint import Blueprint
from elumbra.api.web.unit_of_work import acting, change, read, shows_prices, write

__all__ = [
    "ERRORS",
    "Blueprint",
    "Response",
    "acting",
    "answer",
    "change",
    "current_app",
    "download",
    "read",
    "request",
    "shows_prices",
    "sittings",
    "write",
]

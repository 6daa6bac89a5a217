"""The application factory: the only place where the parts are put together."""

from __future__ import annotations

import os
import secrets
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import Protocol

from flask import Flask, Response, send_from_directory
from flask_openapi3 import Info, OpenAPI

from elumbra import __version__
from elumbra.api import errors, unit_of_work
from elumbra.api.errors import ErrorBody, on_validation_error
from elumbra.api.jobs.routes import bp as jobs_bp
from elumbra.api.layouts.routes import bp as layouts_bp
from elumbra.api.rack.routes import bp as rack_bp
from elumbra.api.rules.routes import bp as rules_bp
from elumbra.api.session.routes import bp as session_bp
from elumbra.api.shop.routes import bp as shop_bp
from elumbra.documents.job_file import LARGEST_FILE
from elumbra.storage.database import Database

_FOREVER = 31_536_000


class Solver(Protocol):
    """Whoever works through the queue of layouts."""

    def wake(self) -> None:
        """Something was queued or cancelled."""


@dataclass(frozen=True)
class AppConfig:
    """What an application is made of."""

    database: Database
    solver: Solver
    secret: bytes
    front_end: Path | None = None  # the built front end


def make_app(config: AppConfig) -> OpenAPI:
    """The Flask application with its API, its one error handler and the front end."""
    app = OpenAPI(
        "elumbra",
        info=Info(title="Elumbra", version=__version__),
        doc_ui=False,
        validation_error_model=ErrorBody,
        validation_error_callback=on_validation_error,
        static_folder=None,
    )
    app.config.update(
        SECRET_KEY=config.secret,
        SOLVER=config.solver,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        PERMANENT_SESSION_LIFETIME=timedelta(days=30),
        MAX_CONTENT_LENGTH=2 * LARGEST_FILE + 1000,  # a law file is the largest that comes in,
    )
    errors.register(app)
    unit_of_work.register(app, config.database)
    for blueprint in (session_bp, jobs_bp, rack_bp, layouts_bp, rules_bp, shop_bp):
        app.register_api(blueprint)
    if config.front_end is not None:
        _serve_front_end(app, config.front_end)
    return app


def _serve_front_end(app: Flask, folder: Path) -> None:
    """Built files by name; every other path is the one page, which routes by itself."""

    def front_end(path: str) -> Response:
        if path.startswith("api/"):
            return errors.error_response(ErrorBody(code="not_found", message="There is no such address in the API."))
        name = path if (folder / path).is_file() else "index.html"
        response = send_from_directory(folder, name)
        lasting = name.startswith("assets/")
        response.headers["Cache-Control"] = f"public, max-age={_FOREVER}, immutable" if lasting else "no-cache"
        response.headers["Content-Security-Policy"] = (
            "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; frame-ancestors 'none'"
        )
        response.headers["X-Content-Type-Options"] = "nosniff"
        return response

    # Not part of the API: added past the OpenAPI decorators.
    app.add_url_rule("/", view_func=front_end, defaults={"path": "index.html"})
    app.add_url_rule("/<path:path>", view_func=front_end)


def load_secret(folder: Path) -> bytes:
    """The key that signs cookies, made on first use and readable by the owner only."""
    path = folder / "secret.key"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(descriptor, "wb") as file:
            file.write(secrets.token_bytes(32))
    return path.read_bytes()

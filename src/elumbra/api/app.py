"""The application factory: the only place where the parts are put together."""

from __future__ import annotations

import os
import secrets
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path
from typing import Protocol

from flask import Flask, Response, request, send_from_directory
from flask_openapi3 import Info, OpenAPI

from elumbra import __version__
from elumbra.api.archive.routes import bp as archive_bp
from elumbra.api.base.refusals import ErrorBody
from elumbra.api.bay.routes import bp as bay_bp
from elumbra.api.calls.routes import bp as calls_bp
from elumbra.api.customers.routes import bp as customers_bp
from elumbra.api.cut.routes import bp as cut_bp
from elumbra.api.day.routes import bp as day_bp
from elumbra.api.exchange.routes import bp as exchange_bp
from elumbra.api.handover.routes import bp as handover_bp
from elumbra.api.heat.routes import bp as heat_bp
from elumbra.api.jobs.routes import bp as jobs_bp
from elumbra.api.keeping.operations import Keeper
from elumbra.api.keeping.routes import bp as keeping_bp
from elumbra.api.ledger.routes import bp as ledger_bp
from elumbra.api.look.routes import bp as look_bp
from elumbra.api.people.operations import Lan
from elumbra.api.people.routes import bp as people_bp
from elumbra.api.practice.routes import bp as practice_bp
from elumbra.api.quotes.routes import bp as quotes_bp
from elumbra.api.rack.routes import bp as rack_bp
from elumbra.api.rules.routes import bp as rules_bp
from elumbra.api.session.routes import bp as session_bp
from elumbra.api.shade.routes import bp as shade_bp
from elumbra.api.shelf.routes import bp as shelf_bp
from elumbra.api.shop.routes import bp as shop_bp
from elumbra.api.strip.routes import bp as strip_bp
from elumbra.api.survey.routes import bp as survey_bp
from elumbra.api.web import doors, errors, unit_of_work
from elumbra.api.web.errors import no_such_address, on_validation_error
from elumbra.api.web.sittings import SittingCookies
from elumbra.documents.job_file import LARGEST_FILE
from elumbra.storage.database import Database

_FOREVER = 31_536_000
_SECRET_BYTES = 32
BLUEPRINTS = (
    session_bp, jobs_bp, survey_bp, shade_bp, cut_bp, exchange_bp, rack_bp, rules_bp, shop_bp, shelf_bp, heat_bp,
    strip_bp, bay_bp, look_bp, quotes_bp, customers_bp, calls_bp, archive_bp, handover_bp, ledger_bp, people_bp,
    day_bp, keeping_bp, practice_bp,
)  # fmt: skip


class Tasks(Protocol):
    """Whoever works through the queue of tasks."""

    def wake(self) -> None:
        """Something was queued or cancelled."""


class UnusableSecretError(Exception):
    """The key that signs cookies cannot be used; the message says why and what mends it."""


@dataclass(frozen=True)
class AppConfig:
    """What an application is made of."""

    database: Database
    tasks: Tasks
    secret: bytes
    front_end: Path | None = None  # the built front end
    hosts: frozenset[str] = frozenset()  # names besides this machine's own
    rate: doors.Rate | None = None
    keeper: Keeper | None = None  # whoever makes copies; None: nobody does
    lan: Lan | None = None  # where the shop's devices find this server


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
        TASKS=config.tasks,
        SESSION_COOKIE_NAME="elumbra",
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        KEEPER=config.keeper,
        LAN=config.lan,
        PERMANENT_SESSION_LIFETIME=timedelta(days=30),
        MAX_CONTENT_LENGTH=2 * LARGEST_FILE + 1000,  # a law file is the largest that comes in
    )
    app.session_interface = SittingCookies()
    errors.register(app)
    doors.register(app, config.hosts, rate=config.rate)
    unit_of_work.register(app, config.database)
    for blueprint in BLUEPRINTS:
        app.register_api(blueprint)
    if config.front_end is not None:
        _serve_front_end(app, config.front_end)
    return app


def _serve_front_end(app: Flask, folder: Path) -> None:
    """Built files by name; every other path is the one page, which routes by itself."""

    def front_end(path: str) -> Response:
        if path.startswith("api/"):
            return no_such_address(app, request.path)
        name = path if "\x00" not in path and (folder / path).is_file() else "index.html"
        response = send_from_directory(folder, name)
        lasting = name.startswith("assets/")
        response.headers["Cache-Control"] = f"public, max-age={_FOREVER}, immutable" if lasting else "no-cache"
        return response

    front_end.__elumbra_page__ = True  # type: ignore[attr-defined]
    # Not part of the API: added past the OpenAPI decorators.
    app.add_url_rule("/", view_func=front_end, defaults={"path": "index.html"})
    app.add_url_rule("/<path:path>", view_func=front_end)


def load_secret(folder: Path) -> bytes:
    """The key that signs cookies, made on first use, written whole, readable by its owner only.

    Raises
    ------
    UnusableSecretError
        It is there and is not such a key.
    """
    path = folder / "secret.key"
    if not path.exists():
        folder.mkdir(parents=True, exist_ok=True)
        unfinished = folder / f"secret.key.{os.getpid()}"
        descriptor = os.open(unfinished, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
        with os.fdopen(descriptor, "wb") as file:
            file.write(secrets.token_bytes(_SECRET_BYTES))
            file.flush()
            os.fsync(file.fileno())
        unfinished.replace(path)
    secret = path.read_bytes()
    if len(secret) != _SECRET_BYTES:
        raise UnusableSecretError(
            f"{path} is not a key of ours: it has {len(secret)} bytes, not {_SECRET_BYTES}. "
            "Delete it; a new one is made, and everybody picks their name again."
        )
    path.chmod(0o600)
    return secret

"""One request, one transaction, one acting person: opened and ended here and nowhere else.

Every write carries a client-made id (header ``X-Write-Id``). A write that was done already is
answered again from its record; it is done once.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime

from flask import Flask, Response, current_app, g, request
from flask import session as cookie
from sqlalchemy.orm import Session

from elumbra.api.errors import ApiError
from elumbra.api.roles import ANYBODY, Role
from elumbra.storage.database import Database
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import NotFoundError, now, people
from elumbra.storage.tables import WriteRow

WRITE_ID = "X-Write-Id"
_READS = frozenset({"GET", "HEAD", "OPTIONS"})
_LONGEST_WRITE_ID = 64


def db() -> Session:
    """The request's database session."""
    session: Session = g.session
    return session


def acting() -> PersonRecord:
    """The acting person."""
    person: PersonRecord = g.person
    return person


def register(app: Flask, database: Database) -> None:
    """Open and end the transaction of every API request."""

    @app.before_request
    def _begin() -> Response | None:
        if not request.path.startswith("/api/"):
            return None
        if request.endpoint is None:
            return None  # the router answers not found
        writing = request.method not in _READS
        g.transaction = database.session(write=writing)
        g.session = g.transaction.__enter__()
        g.person = _acting_person(_declared_roles(app))
        return _answered_before() if writing else None

    @app.after_request
    def _end(response: Response) -> Response:
        transaction = g.pop("transaction", None)
        if transaction is None:
            return response
        if response.status_code < 400:
            _remember(response)
            transaction.__exit__(None, None, None)
            for callback in g.pop("after_commit", []):
                callback()
        else:
            _roll_back(transaction)
        response.headers.setdefault("Cache-Control", "no-store")
        return response

    @app.teardown_request
    def _abandon(_: BaseException | None) -> None:
        transaction = g.pop("transaction", None)
        if transaction is not None:
            _roll_back(transaction)


class _RolledBackError(Exception):
    pass


def _roll_back(transaction: object) -> None:
    error = _RolledBackError()
    with suppress(_RolledBackError):
        transaction.__exit__(_RolledBackError, error, None)  # type: ignore[attr-defined]


def _declared_roles(app: Flask) -> frozenset[Role]:
    view = app.view_functions[request.endpoint or ""]
    roles: frozenset[Role] | None = getattr(view, "__elumbra_roles__", None)
    if roles is None:
        raise ApiError("undeclared_route", f"{request.path} does not say who may call it.")
    return roles


def _acting_person(roles: frozenset[Role]) -> PersonRecord | None:
    if roles == ANYBODY:
        return None
    person_id = cookie.get("person_id")
    if person_id is None:
        raise ApiError("no_person", "Say who you are first: pick your name on the start page.")
    try:
        person = people(g.session).get(person_id)
    except NotFoundError:
        cookie.clear()
        raise ApiError("no_person", "This person is no longer here. Pick your name on the start page.") from None
    if Role(person.role) not in roles:
        able = " or ".join(sorted(role.value for role in roles))
        raise ApiError("not_your_role", f"{person.name} works as {person.role}; this needs the {able}.")
    return person


def _answered_before() -> Response | None:
    if g.person is None:
        return None
    write_id = request.headers.get(WRITE_ID, "")
    if not 8 <= len(write_id) <= _LONGEST_WRITE_ID:
        raise ApiError("no_write_id", f"A write needs its own id in the header {WRITE_ID} (8 to 64 characters).")
    row = g.session.get(WriteRow, write_id)
    if row is None:
        return None
    if row.person_id != g.person.id or row.request != _request_line():
        raise ApiError("bad_request", "This write id was used for another request. Make a new one.")
    g.answered_before = True
    return current_app.response_class(row.body, status=row.status, mimetype="application/json")


def _remember(response: Response) -> None:
    if request.method in _READS or g.person is None or g.get("answered_before"):
        return
    g.session.add(
        WriteRow(
            id=request.headers[WRITE_ID], at=now(), person_id=g.person.id, request=_request_line(),
            status=response.status_code, body=response.get_data(as_text=True),
        )
    )  # fmt: skip


def _request_line() -> str:
    return f"{request.method} {request.path}"


def after_commit(callback: object) -> None:
    """Call something once the request's transaction is safe on disk."""
    g.setdefault("after_commit", []).append(callback)


def zoned(moment: datetime | None) -> datetime | None:
    """A stored time with its zone."""
    return None if moment is None else moment.replace(tzinfo=UTC)

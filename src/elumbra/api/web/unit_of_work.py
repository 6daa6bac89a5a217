"""One request, one acting person; a write is one transaction, and its answer is worked out after it.

The order is: who may do this (no lock), the write itself under the lock, the commit, and only
then the answer. Every write carries a client-made id (header ``X-Write-Id``). A write that was
done already is not done again: its answer is worked out once more.
"""

from __future__ import annotations

from collections.abc import Callable
from hashlib import sha256
from typing import TypeVar

from flask import Flask, Response, current_app, g, request
from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import ANYBODY, Role, sees_prices
from elumbra.api.web import sittings
from elumbra.storage.database import Database
from elumbra.storage.declared import now
from elumbra.storage.records import PersonRecord
from elumbra.storage.tables import WriteRow

Result = TypeVar("Result")
WRITE_ID = "X-Write-Id"
_LONGEST_WRITE_ID = 64


def _database() -> Database:
    database: Database = current_app.config["DATABASE"]
    return database


def acting() -> PersonRecord:
    """The acting person."""
    person: PersonRecord = g.person
    return person


def shows_prices() -> bool:
    """Whether the acting person sees prices; nobody does before having said who he is."""
    person: PersonRecord | None = g.get("person")
    return person is not None and sees_prices(person.role, person.facts)


def read(view: Callable[[Session], Result]) -> Result:
    """Work something out from the database as it stands."""
    with _database().session(write=False) as session:
        return view(session)


def write(do: Callable[[Session], str]) -> str:
    """Do a write once, and commit it.

    Parameters
    ----------
    do
        The write; it returns the id of the record that the answer is about.

    Returns
    -------
    str
        That id; of the write that was done before, where this one was sent again.

    Raises
    ------
    ApiError
        No write id, or one that stands for another request.
    """
    write_id = request.headers.get(WRITE_ID, "")
    if not 8 <= len(write_id) <= _LONGEST_WRITE_ID:
        raise ApiError("no_write_id", f"A write needs its own id in the header {WRITE_ID} (8 to 64 characters).")
    line, digest = f"{request.method} {request.path}", sha256(request.get_data()).hexdigest()
    with _database().session(write=True) as session:
        before = session.get(WriteRow, write_id)
        if before is not None:
            if (before.person_id, before.request, before.digest) != (acting().id, line, digest):
                raise ApiError("write_id_used", "This write id was used for another request. Make a new one.")
            return before.about
        about = do(session)
        session.add(
            WriteRow(id=write_id, at=now(), person_id=acting().id, request=line, digest=digest, about=about)
        )  # fmt: skip
    return about


def change(do: Callable[[Session], Result]) -> Result:
    """A write that nobody sends twice, such as a sitting that begins or ends."""
    with _database().session(write=True) as session:
        return do(session)


def register(app: Flask, database: Database) -> None:
    """Know who is acting before any route of the API is entered."""
    app.config["DATABASE"] = database

    @app.before_request
    def _begin() -> Response | None:
        if request.path.startswith("/api/") and request.endpoint is not None:
            view = app.view_functions[request.endpoint]
            if getattr(view, "__elumbra_page__", False):
                return None
            if not sittings.at_the_machine() and (why := read(sittings.lan_refusal)):
                raise ApiError("no_owner", why)
            g.person = _acting_person(view)
        return None

    @app.after_request
    def _never_stored(response: Response) -> Response:
        if request.path.startswith("/api/"):
            response.headers.setdefault("Cache-Control", "no-store")
        return response


def _declared_roles(view: object) -> frozenset[Role]:
    roles: frozenset[Role] | None = getattr(view, "__elumbra_roles__", None)
    if roles is None:
        raise ApiError("undeclared_route", f"{request.path} does not say who may call it.")
    return roles


def _acting_person(view: object) -> PersonRecord | None:
    roles = _declared_roles(view)
    if roles == ANYBODY:
        return None
    found = read(sittings.seat)
    person = found.person
    if person is None:
        raise ApiError("no_person", found.ended or "Say who you are first: pick your name on the start page.")
    if Role(person.role) not in roles:
        able = " or ".join(sorted(role.value for role in roles))
        raise ApiError("not_your_role", f"{person.name} works as {person.role}; this needs the {able}.")
    if getattr(view, "__elumbra_money__", False) and not sees_prices(person.role, person.facts):
        raise ApiError("no_prices", f"{person.name} does not see prices here. The owner can change that under People.")
    if found.stale:
        sittings.note_seen(_database())
    return person

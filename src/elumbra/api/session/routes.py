"""Choosing the acting person; passwords come later."""

from __future__ import annotations

from pydantic import BaseModel
from sqlalchemy.orm import Session

from elumbra.api.base.bodies import Body, Id
from elumbra.api.base.roles import ANYBODY, allow
from elumbra.api.web import ERRORS, Blueprint, Response, answer, cookie, read
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people

bp = Blueprint("session", __name__, url_prefix="/api/session")


class PersonOut(BaseModel):
    """Someone who works in the shop."""

    id: str
    name: str
    role: str


class SessionOut(BaseModel):
    """Who is acting, and who could be."""

    person: PersonOut | None
    people: list[PersonOut]


class ChooseBody(Body):
    """The person who acts from now on, or nobody."""

    person_id: Id | None


def _out(person: PersonRecord) -> PersonOut:
    return PersonOut(id=person.id, name=person.name, role=person.role)


def _session(session: Session, person_id: str | None) -> SessionOut:
    everybody = [_out(person) for person in people(session).all(order="name")]
    acting = next((person for person in everybody if person.id == person_id), None)
    return SessionOut(person=acting, people=everybody)


@bp.get("", responses={200: SessionOut, **ERRORS})
@allow(ANYBODY)
def get_session() -> Response:
    """Who is acting on this screen."""
    person_id = cookie.get("person_id")
    return answer(read(lambda session: _session(session, person_id)))


@bp.post("", responses={200: SessionOut, **ERRORS})
@allow(ANYBODY)
def choose_person(body: ChooseBody) -> Response:
    """Act as somebody, or leave."""
    person_id = body.person_id
    if person_id is None:
        cookie.clear()
    else:
        cookie["person_id"] = read(lambda session: people(session).get_present(person_id)).id
        cookie.permanent = True
    return answer(read(lambda session: _session(session, person_id)))

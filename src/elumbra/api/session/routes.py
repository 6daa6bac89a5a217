"""Choosing the acting person; passwords come later."""

from __future__ import annotations

from flask import Response
from flask import session as cookie
from flask_openapi3 import APIBlueprint
from pydantic import BaseModel

from elumbra.api.answers import ERRORS, Body, answer
from elumbra.api.roles import ANYBODY, allow
from elumbra.api.unit_of_work import db
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people

bp = APIBlueprint("session", __name__, url_prefix="/api/session")


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

    person_id: str | None


def _out(person: PersonRecord) -> PersonOut:
    return PersonOut(id=person.id, name=person.name, role=person.role)


def _session(person_id: str | None) -> SessionOut:
    store = people(db())
    everybody = [_out(person) for person in store.all(order="name")]
    acting = next((person for person in everybody if person.id == person_id), None)
    return SessionOut(person=acting, people=everybody)


@bp.get("", responses={200: SessionOut, **ERRORS})
@allow(ANYBODY)
def get_session() -> Response:
    """Who is acting on this screen."""
    return answer(_session(cookie.get("person_id")))


@bp.post("", responses={200: SessionOut, **ERRORS})
@allow(ANYBODY)
def choose_person(body: ChooseBody) -> Response:
    """Act as somebody, or leave."""
    if body.person_id is None:
        cookie.clear()
    else:
        cookie["person_id"] = people(db()).get(body.person_id).id
        cookie.permanent = True
    return answer(_session(body.person_id))

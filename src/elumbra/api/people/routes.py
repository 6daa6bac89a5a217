"""URLs of people, devices and doors."""

from __future__ import annotations

from elumbra.api.base.bodies import IdPath, VersionBody
from elumbra.api.base.roles import LEAD, OWNER, allow
from elumbra.api.people import operations
from elumbra.api.people.operations import Lan
from elumbra.api.people.schemas import (
    DoorsBody,
    EnrolmentOut,
    NewPasswordBody,
    PeopleOut,
    PersonCreate,
    PersonPatch,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, change, current_app, read, sittings, write

bp = Blueprint("people", __name__, url_prefix="/api/people")
_DONE = {200: PeopleOut, **ERRORS}


def _lan() -> Lan:
    lan: Lan = current_app.config.get("LAN") or Lan()
    return lan


def _page(status: int = 200) -> Response:
    lan, device = _lan(), read(sittings.seat).device
    return answer(
        read(lambda session: operations.people_page(session, lan=lan, device_id=device.id if device else "")), status
    )


@bp.get("", responses=_DONE)
@allow(LEAD)
def show_people() -> Response:
    """Everybody, every device, every door."""
    return _page()


@bp.post("", responses={201: PeopleOut, **ERRORS})
@allow(OWNER)
def create_person(body: PersonCreate) -> Response:
    """Somebody new."""
    change(lambda session: operations.create_person(session, body, person_id=acting().id))
    return _page(201)


@bp.patch("/<string:id>", responses=_DONE)
@allow(OWNER)
def change_person(path: IdPath, body: PersonPatch) -> Response:
    """Change somebody's name, role, hours, skills, days off."""
    write(lambda session: operations.change_person(session, path.id, body, person_id=acting().id))
    return _page()


@bp.post("/<string:id>/remove", responses=_DONE)
@allow(OWNER)
def remove_person(path: IdPath, body: VersionBody) -> Response:
    """Take somebody off the list."""
    write(lambda session: operations.remove_person(session, path.id, version=body.version, person_id=acting().id))
    return _page()


@bp.post("/<string:id>/restore", responses=_DONE)
@allow(OWNER)
def restore_person(path: IdPath, body: VersionBody) -> Response:
    """Bring somebody back."""
    write(lambda session: operations.restore_person(session, path.id, version=body.version, person_id=acting().id))
    return _page()


@bp.put("/<string:id>/password", responses=_DONE)
@allow(OWNER)
def new_password(path: IdPath, body: NewPasswordBody) -> Response:
    """Give somebody a password until he changes it."""
    change(lambda session: operations.new_password(session, path.id, body))
    return _page()


@bp.put("/doors", responses=_DONE)
@allow(OWNER)
def set_doors(body: DoorsBody) -> Response:
    """How long a screen stays open, and whether this is a home."""
    write(lambda session: operations.set_doors(session, body, person_id=acting().id))
    return _page()


@bp.post("/enrolment", responses={200: EnrolmentOut, **ERRORS})
@allow(OWNER)
def make_enrolment() -> Response:
    """A code for one device, as a picture too."""
    lan = _lan()
    return answer(change(lambda session: operations.enrolment(session, lan=lan, person_id=acting().id)))


@bp.post("/devices/<string:id>/remove", responses=_DONE)
@allow(OWNER)
def remove_device(path: IdPath, body: VersionBody) -> Response:
    """Take a device off the list."""
    write(lambda session: operations.remove_device(session, path.id, version=body.version, person_id=acting().id))
    return _page()

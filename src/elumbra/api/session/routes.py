"""URLs of signing in and out, and of what is one's own."""

from __future__ import annotations

from dataclasses import replace

from elumbra.api.base.bodies import IdPath
from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import ANYBODY, EVERYONE, allow
from elumbra.api.session import operations
from elumbra.api.session.operations import At, Try
from elumbra.api.session.schemas import (
    EnrolBody,
    FirstOwnerBody,
    OwnPasswordBody,
    OwnPinBody,
    OwnSettingsBody,
    SessionOut,
    SignInBody,
)
from elumbra.api.web import ERRORS, Blueprint, Response, acting, answer, change, read, request, sittings, write
from elumbra.storage import doors
from elumbra.storage.records import PersonRecord

bp = Blueprint("session", __name__, url_prefix="/api/session")
_DONE = {200: SessionOut, **ERRORS}


def _at() -> At:
    found = read(sittings.seat)
    return At(
        found.person, found.device, sittings.peer(), sittings.at_the_machine(), request.is_secure, found.ended
    )  # fmt: skip


def _session() -> Response:
    at = _at()
    return answer(read(lambda session: operations.session_of(session, at)))


def _prove(tried: Try) -> PersonRecord:
    """Compare outside any lock; a wrong try is counted, a right one ends the count."""
    if tried.person is None or not operations.compared(tried):
        raise operations.refusal(tried, change(lambda session: operations.wrong(session, tried)))
    change(lambda session: doors.note_right(session, list(tried.subjects)))
    return tried.person


@bp.get("", responses=_DONE)
@allow(ANYBODY)
def get_session() -> Response:
    """Who is acting on this screen."""
    return _session()


@bp.post("", responses=_DONE)
@allow(ANYBODY)
def sign_in(body: SignInBody) -> Response:
    """Sign in with password or PIN; with nobody named, whoever sits there leaves."""
    if body.person_id is None and body.name is None:
        change(sittings.get_up)
        return _session()
    at = _at()
    person = _prove(read(lambda session: operations.try_of(session, body, at)))
    change(lambda session: sittings.sit_down(session, person.id))
    return _session()


@bp.post("/owner", responses=_DONE)
@allow(ANYBODY)
def first_owner(body: FirstOwnerBody) -> Response:
    """The first person of a new shop, from the machine itself."""
    at = _at()
    person_id = change(lambda session: operations.first_owner(session, body, at))
    change(lambda session: sittings.sit_down(session, person_id))
    return _session()


@bp.post("/password/<string:id>", responses=_DONE)
@allow(ANYBODY)
def first_password(path: IdPath, body: OwnPasswordBody) -> Response:
    """The owner's first password after an older release, from the machine itself."""
    at = _at()
    person = read(lambda session: operations.may_set_without_old(session, path.id, at))
    if person is None:
        raise ApiError("not_your_role", "Only an owner without a password sets one here, at the machine itself.")
    change(lambda session: operations.set_own_password(session, body.new, person=person))
    change(lambda session: sittings.sit_down(session, person.id))
    return _session()


@bp.put("/password", responses=_DONE)
@allow(EVERYONE)
def own_password(body: OwnPasswordBody) -> Response:
    """Change one's own password; all one's other screens are signed out."""
    person, at = acting(), _at()
    sign_in = SignInBody(person_id=person.id, password=body.old or "")
    if read(lambda session: doors.has_secret(session, person.id, doors.PASSWORD)):
        _prove(read(lambda session: operations.try_of(session, sign_in, at)))
    # Not by its write id: what is kept of a write would be a quick hash of the password.
    change(lambda session: operations.set_own_password(session, body.new, person=person))
    change(lambda session: doors.send_away(session, person_id=person.id))
    change(lambda session: sittings.sit_down(session, person.id))
    return _session()


@bp.put("/pin", responses=_DONE)
@allow(EVERYONE)
def own_pin(body: OwnPinBody) -> Response:
    """Set one's PIN for enrolled devices, or take it away; the password is asked for again."""
    person, at = acting(), _at()
    sign_in = SignInBody(person_id=person.id, password=body.password)
    _prove(read(lambda session: operations.try_of(session, sign_in, at)))
    change(lambda session: operations.set_own_pin(session, body.pin, person=person))
    return _session()


@bp.put("/settings", responses=_DONE)
@allow(EVERYONE)
def own_settings(body: OwnSettingsBody) -> Response:
    """How one likes one's screens, on every device."""
    write(lambda session: operations.set_own_settings(session, body, person_id=acting().id))
    return _session()


@bp.post("/device", responses=_DONE)
@allow(ANYBODY)
def enrol_device(body: EnrolBody) -> Response:
    """Enrol the device that asks, by a code that the owner gave out."""
    address = sittings.peer()
    subjects = [f"enrol:{address}"]
    if wait := read(lambda session: doors.wait_for(session, subjects)):
        raise doors.TooManyGuessesError(wait)
    try:
        token = change(lambda session: operations.enrol(session, body.code, body.name))
    except ApiError:
        change(lambda session: doors.note_wrong(session, subjects))
        raise
    at = replace(_at(), device=read(lambda session: doors.device_of(session, token)))
    response = answer(read(lambda session: operations.session_of(session, at)))
    return sittings.is_device(response, token)

"""Signing in and out, the first owner, one's own password, PIN and settings. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise
from typing import Any

from sqlalchemy.orm import Session

from elumbra import __version__
from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import Role, sees_prices
from elumbra.api.session.schemas import (
    FirstOwnerBody,
    NameOut,
    OwnSettings,
    OwnSettingsBody,
    SeatedOut,
    SessionOut,
    SignInBody,
)
from elumbra.core.errors import CoreError
from elumbra.storage import doors
from elumbra.storage.door_records import DeviceRecord
from elumbra.storage.doors import DEMO_PASSWORDS, HOME, PASSWORD, PIN, TooManyGuessesError
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people

_TRIVIAL = frozenset(
    {"password", "passwort", "12345678", "123456789", "1234567890", "qwertyui", "elumbra1", "windowfilm"}
)


@dataclass(frozen=True)
class At:
    """The screen that asks."""

    person: PersonRecord | None
    device: DeviceRecord | None
    address: str
    machine: bool
    secure: bool
    ended: str = ""


def settings_name(person_id: str) -> str:
    """Name of the setting with how somebody likes his screens."""
    return f"own_settings:{person_id}"


def session_of(session: Session, at: At) -> SessionOut:
    """Who is acting on a screen."""
    first = doors.nobody_is_here(session)
    listed = at.machine or at.device is not None
    everybody = people(session).all(order="name") if listed else []
    known = kept(session, DEMO_PASSWORDS, {})[0] if at.machine else {}
    return SessionOut(
        person=None if at.person is None else _seated(session, at.person),
        people=[
            NameOut(
                id=one.id, name=one.name, role=one.role,
                pin=at.device is not None and doors.has_secret(session, one.id, PIN),
                no_password=one.role == Role.OWNER and not doors.has_secret(session, one.id, PASSWORD),
            )
            for one in everybody
        ],
        first_start=first,
        home=bool(kept(session, HOME, default=False)[0]),
        device=at.device.name if at.device else "",
        at_the_machine=at.machine,
        secure=at.secure or at.machine,
        must_change=at.person is not None and doors.to_be_changed(session, at.person.id),
        ended=at.ended,
        known_passwords=dict(known),
        version=__version__,
    )  # fmt: skip


def _seated(session: Session, person: PersonRecord) -> SeatedOut:
    value, version = kept(session, settings_name(person.id), {})
    return SeatedOut(
        id=person.id, name=person.name, role=person.role, prices=sees_prices(person.role, person.facts),
        pin=doors.has_secret(session, person.id, PIN), settings=own_settings(value), settings_version=version,
    )  # fmt: skip


def own_settings(value: Mapping[str, Any]) -> OwnSettings:
    """Settings as they were kept; what this release does not know is left out."""
    known = {name: one for name, one in value.items() if name in OwnSettings.model_fields}
    try:
        return OwnSettings.model_validate(known)
    except ValueError:
        return OwnSettings()


@dataclass(frozen=True)
class Try:
    """A sign-in that is to be compared, outside any transaction, for that takes its time."""

    person: PersonRecord | None
    hashed: str
    secret: str
    subjects: tuple[str, ...]
    is_pin: bool


def try_of(session: Session, body: SignInBody, at: At) -> Try:
    """What a sign-in is held against.

    Raises
    ------
    TooManyGuessesError
        Wrong tries in a row.
    ApiError
        A PIN on a device that nobody enrolled; neither password nor PIN.
    """
    person = _named(session, body)
    who = person.id if person is not None else (body.name or body.person_id or "").casefold()[:60]
    place = at.device.id if at.device else at.address
    subjects = (f"person:{who}:{place}", f"from:{place}")
    if wait := doors.wait_for(session, list(subjects)):
        raise TooManyGuessesError(wait)
    is_pin = body.pin is not None
    if is_pin and at.device is None:
        raise ApiError("not_enrolled", "A PIN counts only on a device that the owner enrolled. Use your password here.")
    secret = body.pin if is_pin else body.password
    hashed = doors.secret_hash(session, person.id, PIN if is_pin else PASSWORD) if person is not None else ""
    if person is not None and not is_pin and not hashed and person.role == Role.OWNER and at.machine:
        raise ApiError("wrong_secret", "You have no password yet. Choose one first: “Set a password” under your name.")
    if not secret:
        raise ApiError("wrong_secret", "Type your password.", fields={"password": "Is needed."})
    return Try(person, hashed, secret, subjects, is_pin)


def _named(session: Session, body: SignInBody) -> PersonRecord | None:
    if body.person_id is not None:
        found = people(session).find(body.person_id)
    else:
        wanted = (body.name or "").casefold()
        found = next((one for one in people(session).all() if one.name.casefold() == wanted), None)
    return None if found is None or found.removed else found


def compared(tried: Try) -> bool:
    """Whether it was right; takes as long where nobody has that name."""
    return doors.matches(tried.hashed, tried.secret) and tried.person is not None


def wrong(session: Session, tried: Try) -> int:
    """Note a wrong try; seconds to wait before the next."""
    doors.note_wrong(session, list(tried.subjects))
    return doors.wait_for(session, list(tried.subjects))


def refusal(tried: Try, wait: int) -> ApiError:
    """What is said of a wrong try; not which of name and password it was."""
    words = "That PIN is not right." if tried.is_pin else "That name and password do not go together."
    more = f" Wait {wait} seconds before the next try." if wait else ""
    return ApiError("wrong_secret", words + more, fields={"pin" if tried.is_pin else "password": "Not right."})


def first_owner(session: Session, body: FirstOwnerBody, at: At) -> str:
    """The first person of a new shop; his id.

    Raises
    ------
    ApiError
        Not from the machine itself, or the shop has people already.
    CoreError
        No password, though it is no home.
    """
    if not at.machine:
        raise ApiError("no_owner", "Nobody owns this shop yet. Begin on the machine that runs Elumbra.")
    if not doors.nobody_is_here(session):
        raise ApiError("refused", "This shop has people already. Sign in as one of them.")
    if body.password is None and not body.home:
        raise CoreError("Choose a password of at least 8 characters.", fields={"password": "Is needed."})
    if body.password is not None:
        check_password(body.password, body.name)
    person = people(session).create(PersonRecord(name=body.name, role=Role.OWNER), person_id="setup")
    if body.password is not None:
        doors.set_secret(session, person.id, PASSWORD, body.password)
    keep(session, HOME, body.home, version=0, person_id=person.id)
    return person.id


def check_password(password: str, name: str) -> None:
    """Refuse what everybody tries first.

    Raises
    ------
    CoreError
        Too easy.
    """
    plain = password.casefold()
    if plain in _TRIVIAL or plain == name.casefold() or len(set(password)) < 3:
        raise CoreError(
            "That password is one of the first that anybody tries. Choose another, a few words for instance.",
            fields={"password": "Too easy."},
        )


def set_own_password(session: Session, new: str, *, person: PersonRecord) -> str:
    """Change one's password; other screens of the same person are signed out."""
    check_password(new, person.name)
    doors.set_secret(session, person.id, PASSWORD, new)
    return person.id


def may_set_without_old(session: Session, person_id: str, at: At) -> PersonRecord | None:
    """The owner without a password, at the machine itself: an older release had none."""
    found = people(session).find(person_id)
    if found is None or found.removed or found.role != Role.OWNER or not at.machine:
        return None
    return None if doors.has_secret(session, found.id, PASSWORD) else found


def set_own_pin(session: Session, pin: str | None, *, person: PersonRecord) -> str:
    """Set one's PIN, or take it away.

    Raises
    ------
    CoreError
        A PIN that everybody tries first.
    """
    if pin is None:
        doors.drop_secret(session, person.id, PIN)
        return person.id
    steps = {int(b) - int(a) for a, b in pairwise(pin)}
    if len(set(pin)) == 1 or steps in ({1}, {-1}):
        raise CoreError("That PIN is one of the first that anybody tries.", fields={"pin": "Too easy."})
    doors.set_secret(session, person.id, PIN, pin)
    return person.id


def set_own_settings(session: Session, body: OwnSettingsBody, *, person_id: str) -> str:
    """Say how one likes one's screens.

    Raises
    ------
    StaleWriteError
        Said elsewhere meanwhile.
    """
    value = body.settings.model_dump(exclude_none=True)
    return keep(session, settings_name(person_id), value, version=body.version, person_id=person_id)


def enrol(session: Session, code: str, name: str) -> str:
    """Enrol a device by a code; the token that it shows from now on.

    Raises
    ------
    ApiError
        A code that there is not, or that ran out.
    """
    by = doors.use_enrolment(session, code)
    if by is None:
        raise ApiError(
            "not_enrolled",
            "This code is not good any more: it counts once, for ten minutes. Have the owner show a new one.",
            fields={"code": "Not good."},
        )
    token = doors.make_token()
    doors.devices(session).create(DeviceRecord(name=name, token_hash=doors.digest(token), enrolled_by=by), person_id=by)
    return token

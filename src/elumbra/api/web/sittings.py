"""Who sits at the screen that a request came from: by a token in a signed cookie, looked up each time.

The cookie says nothing by itself. A sitting ends when its holder leaves, is idle too long, or is taken off the list.
"""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from flask import Flask, Response, request
from flask import session as cookie
from flask.sessions import SecureCookieSessionInterface
from sqlalchemy.orm import Session

from elumbra.storage import doors
from elumbra.storage.database import BusyError, Database, DiskFullError
from elumbra.storage.door_records import DeviceRecord
from elumbra.storage.kept_settings import kept
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people

DEVICE_COOKIE = "elumbra_device"
TOKEN = "sitting"
_DEVICE_SECONDS = 400 * 86_400
_LOOPBACK = frozenset({"127.0.0.1", "::1"})


@dataclass(frozen=True)
class Seat:
    """Who sits there, on which device."""

    person: PersonRecord | None
    device: DeviceRecord | None
    ended: str = ""  # why nobody sits there any more, where somebody did
    stale: bool = False  # it is time to note that somebody still sits there


def peer() -> str:
    """Where a request came from, through the TLS front too."""
    return str(request.environ.get("elumbra.peer") or request.remote_addr or "")


def at_the_machine() -> bool:
    """Whether a request came from the machine that runs Elumbra, past no front."""
    return "elumbra.peer" not in request.environ and peer() in _LOOPBACK


def seat(session: Session) -> Seat:
    """Who sits at the screen that asks."""
    shown = request.cookies.get(DEVICE_COOKIE, "")
    device = doors.device_of(session, shown) if shown else None
    token = cookie.get(TOKEN)
    if token is None:
        home = at_the_machine() and bool(kept(session, doors.HOME, default=False)[0])
        return Seat(_home_person(session) if home else None, device)
    sitting = doors.sitting_of(session, str(token))
    if sitting is None:
        return Seat(None, device, "You were signed out. Pick your name on the start page.")
    person = people(session).find(sitting.person_id)
    if person is None or person.removed:
        return Seat(None, device, "This person is no longer here. Pick your name on the start page.")
    if sitting.device_id and (device is None or device.id != sitting.device_id):
        return Seat(None, device, "This device is not enrolled any more. Sign in with your password.")
    name = doors.IDLE_DEVICE if sitting.device_id else doors.IDLE_BENCH
    if doors.is_idle(sitting, minutes=float(kept(session, doors.DOORS, {})[0].get(name, doors.IDLE_MINUTES[name]))):
        return Seat(None, device, "Nobody touched this screen for long, so it was locked. Sign in again.")
    return Seat(person, device, stale=doors.is_stale(sitting))


def lan_refusal(session: Session) -> str:
    """Why no device of the shop is let in; empty where they are."""
    if not doors.owner_exists(session):
        return "Nobody owns this shop yet. Begin on the machine that runs Elumbra, then let devices in."
    if kept(session, doors.HOME, default=False)[0]:
        return "This is a home: only the machine itself opens Elumbra. The owner can change that under People."
    return ""


def _home_person(session: Session) -> PersonRecord | None:
    everybody = people(session).all(order="name")
    owners = [one for one in everybody if one.role == doors.OWNER]
    return owners[0] if owners else None


def note_seen(database: Database) -> None:
    """Note once a minute that somebody still sits there; a busy or full disk does not matter for that."""
    with suppress(BusyError, DiskFullError), database.session(write=True) as session:
        doors.note_seen(session, str(cookie.get(TOKEN, "")))


def sit_down(session: Session, person_id: str) -> None:
    """Somebody signed in at this screen; whoever sat there before leaves."""
    if TOKEN in cookie:
        doors.get_up(session, str(cookie[TOKEN]))
    device = doors.device_of(session, request.cookies.get(DEVICE_COOKIE, ""))
    token = doors.sit_down(session, person_id, device_id=device.id if device else "", address=peer())
    cookie.clear()
    cookie[TOKEN] = token
    cookie.permanent = True


def get_up(session: Session) -> None:
    """Whoever sat there leaves."""
    if TOKEN in cookie:
        doors.get_up(session, str(cookie[TOKEN]))
    cookie.clear()


def is_device(response: Response, token: str) -> Response:
    """Make the device that asks the one that shows a token from now on; an empty token: none."""
    if token:
        response.set_cookie(
            DEVICE_COOKIE, token, max_age=_DEVICE_SECONDS, httponly=True, samesite="Strict", secure=request.is_secure
        )  # fmt: skip
    else:
        response.delete_cookie(DEVICE_COOKIE, httponly=True, samesite="Strict", secure=request.is_secure)
    return response


class SittingCookies(SecureCookieSessionInterface):
    """The signed cookie; over https it is sent over https only."""

    def get_cookie_secure(self, app: Flask) -> bool:  # noqa: ARG002  as the framework calls it
        """Whether the browser keeps it from plain connections."""
        return request.is_secure

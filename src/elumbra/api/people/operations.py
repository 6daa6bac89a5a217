"""People, their devices, and how long a screen stays open. Plain arguments, no web framework."""

from __future__ import annotations

import io
from dataclasses import dataclass, replace
from datetime import UTC
from typing import Any

import segno
from sqlalchemy.orm import Session

from elumbra.api.base.day_words import checked_day, checked_hours
from elumbra.api.base.refusals import ApiError
from elumbra.api.base.roles import Role, sees_prices
from elumbra.api.people.schemas import (
    DeviceOut,
    DoorsBody,
    DoorsOut,
    EnrolmentOut,
    NewPasswordBody,
    PeopleOut,
    PersonCard,
    PersonCreate,
    PersonPatch,
)
from elumbra.car.day import default_skills
from elumbra.core.errors import CoreError
from elumbra.storage import doors
from elumbra.storage.doors import DOORS, HOME, IDLE_MINUTES, PASSWORD, PIN, devices
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people


@dataclass(frozen=True)
class Lan:
    """Where the shop's other devices find this server; empty addresses: nowhere."""

    addresses: tuple[str, ...] = ()
    plain: str = ""
    fingerprint: str = ""


def people_page(session: Session, *, lan: Lan, device_id: str) -> PeopleOut:
    """Everybody, every device, every door."""
    names = {one.id: one.name for one in people(session).all(removed_too=True)}
    return PeopleOut(
        people=[_card(session, one) for one in people(session).all(order="name", removed_too=True)],
        devices=[
            DeviceOut(
                id=one.id, version=one.version, name=one.name, enrolled_by=names.get(one.enrolled_by, one.enrolled_by),
                at=one.at.replace(tzinfo=UTC), this_one=one.id == device_id,
            )
            for one in devices(session).all(order="at")
        ],
        doors=_doors(session, lan),
    )  # fmt: skip


def _card(session: Session, person: PersonRecord) -> PersonCard:
    facts = person.facts
    return PersonCard(
        id=person.id, version=person.version, name=person.name, role=person.role, removed=person.removed,
        skills=sorted(skills_of(person)), hours=facts.get("hours"), days_off=list(facts.get("days_off", ())),
        prices=sees_prices(person.role, facts), password=doors.has_secret(session, person.id, PASSWORD),
        pin=doors.has_secret(session, person.id, PIN), to_be_changed=doors.to_be_changed(session, person.id),
        here=doors.sittings_now(session, person.id),
    )  # fmt: skip


def skills_of(person: PersonRecord) -> list[Any]:
    """What somebody may do: as was said of him, else by his role."""
    return default_skills(person.role, person.facts.get("skills"))


def _doors(session: Session, lan: Lan) -> DoorsOut:
    kept_doors, version = kept(session, DOORS, {})
    home = bool(kept(session, HOME, default=False)[0])
    told = ["Only this machine can open Elumbra. Started with its option lan, it lets the shop’s tablets in."]
    if lan.addresses:
        open_at = " or ".join(lan.addresses)
        told = [
            f"Devices of the shop can open {open_at}, with a password, or a PIN once the device is enrolled.",
            "Each device installs the shop's authority first: its browser wants it, and keeps nothing offline without.",
        ]
    if home:
        told.append(
            "At home nobody signs in on this machine: whoever sits at it is the owner. No other device is let in."
        )
    idle = {**IDLE_MINUTES, **{name: one for name, one in kept_doors.items() if name in IDLE_MINUTES}}
    return DoorsOut(
        lan=bool(lan.addresses), addresses=list(lan.addresses), plain=lan.plain, fingerprint=lan.fingerprint,
        home=home, version=version, told=told, **idle,
    )  # fmt: skip


def create_person(session: Session, body: PersonCreate, *, person_id: str) -> str:
    """Somebody new; his id.

    Raises
    ------
    CoreError
        A name that somebody has.
    """
    _check_name(session, body.name, None)
    record = people(session).create(PersonRecord(name=body.name, role=body.role), person_id=person_id)
    doors.set_secret(session, record.id, PASSWORD, body.password, once=True)
    return record.id


def _check_name(session: Session, name: str, own: str | None) -> None:
    for one in people(session).all():
        if one.id != own and one.name.casefold() == name.casefold():
            raise CoreError(f"There is a {one.name} already. Add a letter, so that both are told apart.",
                            fields={"name": "Taken."})  # fmt: skip


def change_person(session: Session, changed_id: str, body: PersonPatch, *, person_id: str) -> str:
    """Change what was sent.

    Raises
    ------
    CoreError
        A day that there is not, hours that run backward, the last owner made something else.
    """
    record = people(session).get(changed_id)
    sent = body.model_fields_set
    if body.name is not None:
        _check_name(session, body.name, changed_id)
    if body.role is not None and record.role == Role.OWNER and Role(body.role) is not Role.OWNER:
        _keep_an_owner(session, changed_id)
    facts: dict[str, Any] = dict(record.facts)
    if body.skills is not None:
        facts["skills"] = sorted(set(body.skills))
    if body.hours is not None:
        facts["hours"] = checked_hours(body.model_dump(mode="json")["hours"])
    if body.own_hours is False:
        facts.pop("hours", None)
    if body.days_off is not None:
        facts["days_off"] = sorted({checked_day(one, "days_off").isoformat() for one in body.days_off})
    if "prices" in sent and body.prices is not None:
        facts["prices"] = body.prices
    changed = replace(
        record, version=body.version, name=body.name or record.name, role=body.role or record.role, facts=facts
    )  # fmt: skip
    people(session).update(changed, person_id=person_id)
    return changed_id


def _keep_an_owner(session: Session, leaving: str) -> None:
    if not any(one.role == Role.OWNER and one.id != leaving for one in people(session).all()):
        raise CoreError(
            "Somebody must own the shop. Make another person owner first.", fields={"role": "The last one."}
        )


def remove_person(session: Session, gone_id: str, *, version: int, person_id: str) -> str:
    """Take somebody off the list; his screens are signed out at once, what he did stays under his name.

    Raises
    ------
    CoreError
        The last owner.
    """
    if people(session).get(gone_id).role == Role.OWNER:
        _keep_an_owner(session, gone_id)
    people(session).remove(gone_id, version=version, person_id=person_id)
    doors.send_away(session, person_id=gone_id)
    return gone_id


def restore_person(session: Session, back_id: str, *, version: int, person_id: str) -> str:
    """Bring somebody back."""
    people(session).restore(back_id, version=version, person_id=person_id)
    return back_id


def new_password(session: Session, whose: str, body: NewPasswordBody) -> str:
    """A password that its holder changes when he signs in; his screens are signed out."""
    people(session).get_present(whose)
    doors.set_secret(session, whose, PASSWORD, body.password, once=True)
    doors.drop_secret(session, whose, PIN)
    doors.send_away(session, person_id=whose)
    doors.forget_guesses(session, whose)
    return whose


def set_doors(session: Session, body: DoorsBody, *, person_id: str) -> str:
    """How long a screen stays open, and whether this is a home."""
    value = {name: getattr(body, name) for name in IDLE_MINUTES}
    keep(session, DOORS, value, version=body.version, person_id=person_id)
    _, version = kept(session, HOME, default=False)
    keep(session, HOME, body.home, version=version, person_id=person_id)
    return DOORS


def enrolment(session: Session, *, lan: Lan, person_id: str) -> EnrolmentOut:
    """A code for one device.

    Raises
    ------
    ApiError
        No device can reach this server.
    """
    if not lan.addresses:
        raise ApiError(
            "refused", "No other device reaches this server. Start it with its option lan, then enrol the device."
        )
    code, until = doors.make_enrolment(session, person_id=person_id)
    address = f"{lan.addresses[0]}/enrol?code={code}"
    picture = io.BytesIO()
    segno.make(address, error="m").save(picture, kind="svg", scale=5, border=2, xmldecl=False, svgns=True)
    return EnrolmentOut(code=code, until=until.replace(tzinfo=UTC), address=address, qr_svg=picture.getvalue().decode())


def remove_device(session: Session, device_id: str, *, version: int, person_id: str) -> str:
    """Take a device off the list; whoever sits at it is signed out."""
    devices(session).remove(device_id, version=version, person_id=person_id)
    doors.send_away(session, device_id=device_id)
    return device_id

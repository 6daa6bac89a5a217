"""Who may come in: secrets kept as hashes, devices, sittings that end, and guesses that are counted."""

from __future__ import annotations

import secrets
from datetime import datetime, timedelta
from hashlib import sha256

from argon2 import PasswordHasher
from argon2.exceptions import InvalidHashError, VerificationError
from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session

from elumbra.storage.declared import as_record, now
from elumbra.storage.door_records import DeviceRecord, Sitting
from elumbra.storage.door_tables import (
    CredentialRow,
    DeviceRow,
    EnrolmentRow,
    GuessRow,
    SittingRow,
)
from elumbra.storage.store import Store, people
from elumbra.storage.tables import PersonRow

PASSWORD, PIN = "password", "pin"
OWNER = "owner"
DOORS, HOME, DEMO_PASSWORDS = "doors", "home_shop", "demo_passwords"
IDLE_BENCH, IDLE_DEVICE = "idle_minutes_bench", "idle_minutes_device"
IDLE_MINUTES = {IDLE_BENCH: 120, IDLE_DEVICE: 720}
"""How long nobody may touch a screen before it is locked, until the owner says otherwise."""
_STRONG = PasswordHasher()
_KNOWN = PasswordHasher(time_cost=1, memory_cost=8, parallelism=1)  # of the demo, whose passwords everybody knows
_ENROLMENT = timedelta(minutes=10)
_FREE_TRIES = 5
_FIRST_WAIT_S, _LONGEST_WAIT_S = 30, 900
_FORGET = timedelta(hours=24)
_SEEN_EVERY = timedelta(seconds=60)


class TooManyGuessesError(Exception):
    """Wrong passwords in a row: nothing is tried for a while."""

    def __init__(self, seconds: int) -> None:
        wait = f"{seconds} seconds" if seconds < 100 else f"{-(-seconds // 60)} minutes"
        super().__init__(f"Too many wrong tries. Wait {wait}, or ask the owner to set a new password.")
        self.seconds = seconds


def devices(session: Session) -> Store[DeviceRecord]:
    """Enrolled devices."""
    return Store(session, DeviceRow, DeviceRecord, "device")


def digest(token: str) -> str:
    """What is kept of a token that its holder shows."""
    return sha256(token.encode()).hexdigest()


def make_token() -> str:
    """A token that nobody guesses."""
    return secrets.token_urlsafe(32)


def set_secret(
    session: Session, person_id: str, kind: str, secret: str, *, once: bool = False, known: bool = False
) -> None:
    """Keep a person's password or PIN, as a hash; everybody who sits under an old one stays until he leaves.

    ``once`` says that somebody else made it up: its holder changes it when he first signs in. ``known``, that
    everybody knows it anyway (the demo): it is hashed quickly.
    """
    hashed = (_KNOWN if known else _STRONG).hash(secret)
    row = session.get(CredentialRow, (person_id, kind))
    if row is None:
        session.add(CredentialRow(person_id=person_id, kind=kind, hash=hashed, once=once, at=now()))
    else:
        row.hash, row.once, row.at = hashed, once, now()
    session.flush()


def drop_secret(session: Session, person_id: str, kind: str) -> None:
    """Forget a password or PIN."""
    session.execute(delete(CredentialRow).where(CredentialRow.person_id == person_id, CredentialRow.kind == kind))


def has_secret(session: Session, person_id: str, kind: str) -> bool:
    """Whether somebody has a password, or a PIN."""
    return session.get(CredentialRow, (person_id, kind)) is not None


def to_be_changed(session: Session, person_id: str) -> bool:
    """Whether the password was made up by somebody else."""
    row = session.get(CredentialRow, (person_id, PASSWORD))
    return row is not None and row.once


def secret_hash(session: Session, person_id: str, kind: str) -> str:
    """The hash of a secret, to be compared outside any transaction; empty where there is none."""
    row = session.get(CredentialRow, (person_id, kind))
    return "" if row is None else row.hash


def matches(hashed: str, secret: str) -> bool:
    """Whether a secret is the one; takes as long for somebody who has none."""
    try:
        return _STRONG.verify(hashed or _NOBODYS, secret) and bool(hashed)
    except (VerificationError, InvalidHashError):
        return False


_NOBODYS = _STRONG.hash(secrets.token_urlsafe(16))


def wait_for(session: Session, subjects: list[str]) -> int:
    """Seconds until these may try again; 0 where they may now."""
    longest, at = 0, now()
    for row in session.scalars(select(GuessRow).where(GuessRow.subject.in_(subjects))):
        if row.wrong < _FREE_TRIES or at - row.at > _FORGET:
            continue
        wait = min(_FIRST_WAIT_S * 2 ** min(row.wrong - _FREE_TRIES, 10), _LONGEST_WAIT_S)
        passed = int((at - row.at).total_seconds())
        # A clock that was set back lets nobody in sooner, and locks nobody out for longer than the wait.
        longest = max(longest, min(wait, wait - passed))
    return longest


def note_wrong(session: Session, subjects: list[str]) -> None:
    """Count a wrong try."""
    at = now()
    for subject in subjects:
        row = session.get(GuessRow, subject)
        if row is None:
            session.add(GuessRow(subject=subject, wrong=1, at=at))
        else:
            row.wrong = 1 if at - row.at > _FORGET else row.wrong + 1
            row.at = at
    session.flush()


def note_right(session: Session, subjects: list[str]) -> None:
    """Forget the wrong tries."""
    session.execute(delete(GuessRow).where(GuessRow.subject.in_(subjects)))


def sit_down(session: Session, person_id: str, *, device_id: str, address: str) -> str:
    """Begin a sitting; the token that its holder shows."""
    token = make_token()
    session.add(
        SittingRow(
            token_hash=digest(token), person_id=person_id, device_id=device_id, address=address, began_at=now(),
            seen_at=now(),
        )
    )  # fmt: skip
    session.flush()
    return token


def sitting_of(session: Session, token: str) -> Sitting | None:
    """The sitting that a token stands for; None where it ended."""
    row = session.get(SittingRow, digest(token))
    return None if row is None else as_record(row, Sitting)


def is_idle(sitting: Sitting, *, minutes: float) -> bool:
    """Whether nobody touched it for longer than that; a clock that jumped back counts as just now."""
    return now() - sitting.seen_at > timedelta(minutes=minutes)


def is_stale(sitting: Sitting) -> bool:
    """Whether it is time to note that somebody still sits there."""
    return abs(now() - sitting.seen_at) > _SEEN_EVERY


def note_seen(session: Session, token: str) -> None:
    """Somebody still sits there."""
    row = session.get(SittingRow, digest(token))
    if row is not None:
        row.seen_at = now()


def get_up(session: Session, token: str) -> None:
    """End a sitting."""
    session.execute(delete(SittingRow).where(SittingRow.token_hash == digest(token)))


def send_away(session: Session, *, person_id: str = "", device_id: str = "") -> int:
    """End all sittings of a person or a device; how many."""
    query = delete(SittingRow)
    query = query.where(SittingRow.person_id == person_id) if person_id else query
    query = query.where(SittingRow.device_id == device_id) if device_id else query
    if not person_id and not device_id:
        return 0
    return int(getattr(session.execute(query), "rowcount", 0))


def forget_sittings(session: Session, *, days: int) -> None:
    """Forget sittings that nobody touched for days, codes that ran out and guesses of long ago."""
    session.execute(delete(SittingRow).where(SittingRow.seen_at < now() - timedelta(days=days)))
    session.execute(delete(EnrolmentRow).where(EnrolmentRow.until < now()))
    session.execute(delete(GuessRow).where(GuessRow.at < now() - _FORGET))


def make_enrolment(session: Session, *, person_id: str) -> tuple[str, datetime]:
    """A code that enrols one device, and until when."""
    code = secrets.token_hex(6)
    until = now() + _ENROLMENT
    session.add(EnrolmentRow(code_hash=digest(code), person_id=person_id, until=until))
    session.flush()
    return code, until


def use_enrolment(session: Session, code: str) -> str | None:
    """Who gave out a code, which is spent by this; None where it is none or ran out."""
    row = session.get(EnrolmentRow, digest(code.strip().lower()))
    if row is None or row.until < now():
        return None
    session.delete(row)
    return row.person_id


def device_of(session: Session, token: str) -> DeviceRecord | None:
    """The device that shows a token; None where it was never enrolled or was taken off."""
    row = session.scalars(select(DeviceRow).where(DeviceRow.token_hash == digest(token))).first()
    return None if row is None or row.removed else as_record(row, DeviceRecord)


def owner_exists(session: Session) -> bool:
    """Whether somebody owns the shop."""
    return any(one.role == OWNER for one in people(session).all())


def nobody_is_here(session: Session) -> bool:
    """Whether no person was ever written down: the first start."""
    return not session.scalar(select(func.count()).select_from(PersonRow))


def forget_guesses(session: Session, person_id: str) -> None:
    """A new password ends the wait that wrong ones brought."""
    session.execute(delete(GuessRow).where(GuessRow.subject.startswith(f"person:{person_id}:")))


def sittings_now(session: Session, person_id: str) -> int:
    """At how many screens somebody sits."""
    return session.scalar(select(func.count()).where(SittingRow.person_id == person_id)) or 0

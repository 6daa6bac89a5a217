"""Tables of who may come in and of the day: passwords, devices, sittings, guesses; bookings, day sheets, promises."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import ForeignKey, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.tables import Base, Versioned


class CredentialRow(Base):
    """How somebody proves who he is: a hash of a password, or of a PIN that counts on enrolled devices only."""

    __tablename__ = "credential"

    person_id: Mapped[str] = mapped_column(ForeignKey("person.id"), primary_key=True)
    kind: Mapped[str] = mapped_column(String(16), primary_key=True)  # password, pin
    hash: Mapped[str]
    once: Mapped[bool] = mapped_column(default=False)  # given by somebody else: to be changed at once
    at: Mapped[datetime]


class DeviceRow(Versioned, Base):
    """A tablet, phone or bench machine that the owner enrolled; it shows the token whose hash is kept."""

    __tablename__ = "device"

    name: Mapped[str]
    token_hash: Mapped[str] = mapped_column(index=True)
    enrolled_by: Mapped[str]
    at: Mapped[datetime]


class EnrolmentRow(Base):
    """A code that enrols one device, once, for some minutes."""

    __tablename__ = "enrolment"

    code_hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str]
    until: Mapped[datetime]


class SittingRow(Base):
    """Somebody at a screen, from signing in until he leaves, is idle too long, or is taken off the list."""

    __tablename__ = "sitting"

    token_hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str] = mapped_column(ForeignKey("person.id"), index=True)
    device_id: Mapped[str] = mapped_column(default="")
    address: Mapped[str] = mapped_column(default="")
    began_at: Mapped[datetime]
    seen_at: Mapped[datetime] = mapped_column(index=True)


class GuessRow(Base):
    """Wrong passwords and PINs in a row, by person and by address; survives a restart."""

    __tablename__ = "guess"

    subject: Mapped[str] = mapped_column(String(120), primary_key=True)
    wrong: Mapped[int]
    at: Mapped[datetime]


class BookingRow(Versioned, Base):
    """When a job's car comes and goes; the id is the job's."""

    __tablename__ = "booking"

    day: Mapped[str] = mapped_column(index=True)  # ISO day in the shop
    drop_off_at: Mapped[datetime]
    pick_up_from: Mapped[datetime | None]
    pick_up_until: Mapped[datetime | None]
    waits_here: Mapped[bool] = mapped_column(default=False)
    note: Mapped[str] = mapped_column(Text, default="")


class DaySheetRow(Versioned, Base):
    """What people decided about a day, and the plan that holds; the id is the ISO day."""

    __tablename__ = "day_sheet"

    facts: Mapped[dict[str, Any]] = mapped_column(default=dict)
    plan: Mapped[dict[str, Any]] = mapped_column(default=dict)


class PromiseRow(Base):
    """Append-only: what was promised for a car, and how sure it was held to be."""

    __tablename__ = "promise"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    promised_at: Mapped[datetime]
    chance: Mapped[float | None]
    person_id: Mapped[str]
    at: Mapped[datetime]

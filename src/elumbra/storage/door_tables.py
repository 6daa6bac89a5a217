"""Tables of who may come in and of the day: passwords, devices, sittings, guesses; bookings, day sheets, promises."""

from __future__ import annotations

from datetime import datetime

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.declared import Base
from elumbra.storage.door_records import (
    BookingRecord,
    DaySheetRecord,
    DeviceRecord,
    PromiseRecord,
    Sitting,
)


class CredentialRow(Base):
    """How somebody proves who he is: a hash of a password, or of a PIN that counts on enrolled devices only."""

    __tablename__ = "credential"

    person_id: Mapped[str] = mapped_column(ForeignKey("person.id"), primary_key=True)
    kind: Mapped[str] = mapped_column(String(16), primary_key=True)  # password, pin
    hash: Mapped[str]
    once: Mapped[bool] = mapped_column(default=False)  # given by somebody else: to be changed at once
    at: Mapped[datetime]


class DeviceRow(Base, of=DeviceRecord):
    """A tablet, phone or bench machine that the owner enrolled; it shows the token whose hash is kept."""

    __tablename__ = "device"


class EnrolmentRow(Base):
    """A code that enrols one device, once, for some minutes."""

    __tablename__ = "enrolment"

    code_hash: Mapped[str] = mapped_column(String(64), primary_key=True)
    person_id: Mapped[str]
    until: Mapped[datetime]


class SittingRow(Base, of=Sitting):
    """Somebody at a screen, from signing in until he leaves, is idle too long, or is taken off the list."""

    __tablename__ = "sitting"


class GuessRow(Base):
    """Wrong passwords and PINs in a row, by person and by address; survives a restart."""

    __tablename__ = "guess"

    subject: Mapped[str] = mapped_column(String(120), primary_key=True)
    wrong: Mapped[int]
    at: Mapped[datetime]


class BookingRow(Base, of=BookingRecord):
    """When a job's car comes and goes; the id is the job's."""

    __tablename__ = "booking"


class DaySheetRow(Base, of=DaySheetRecord):
    """What people decided about a day, and the plan that holds; the id is the ISO day."""

    __tablename__ = "day_sheet"


class PromiseRow(Base, of=PromiseRecord):
    """Append-only: what was promised for a car, and how sure it was held to be."""

    __tablename__ = "promise"

"""Tables of what is kept when film is on: flaws and looks, pictures, quotes, signatures, customers, calls."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text
from sqlalchemy.orm import Mapped, mapped_column

from elumbra.storage.tables import Base, Versioned


class CustomerRow(Versioned, Base):
    """Somebody whose cars are filmed."""

    __tablename__ = "customer"

    name: Mapped[str]
    phone: Mapped[str] = mapped_column(default="")
    email: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    search: Mapped[str] = mapped_column(Text, default="")  # all its words, folded
    merged_into: Mapped[str | None] = mapped_column(String(64))
    erased_on: Mapped[str] = mapped_column(default="")  # ISO day


class VehicleRow(Versioned, Base):
    """A car that was here, by what tells it from others."""

    __tablename__ = "vehicle"

    customer_id: Mapped[str | None] = mapped_column(ForeignKey("customer.id"), index=True)
    label: Mapped[str]
    plate: Mapped[str] = mapped_column(default="")
    vin: Mapped[str] = mapped_column(default="")
    note: Mapped[str] = mapped_column(Text, default="")
    search: Mapped[str] = mapped_column(Text, default="")


class FlawRow(Versioned, Base):
    """Something seen on a filmed pane; removed where it was put there by mistake."""

    __tablename__ = "flaw"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str] = mapped_column(ForeignKey("window.id"), index=True)
    kind: Mapped[str] = mapped_column(index=True)
    x: Mapped[float]  # shares of the outline's width and height, seen from outside
    y: Mapped[float]
    seen_from: Mapped[str]
    state: Mapped[str]
    size_mm: Mapped[float | None]
    count: Mapped[int] = mapped_column(default=1)
    when: Mapped[str]  # leaving, final, callback
    note: Mapped[str] = mapped_column(Text, default="")
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)  # to questions on its cause
    film_id: Mapped[str] = mapped_column(default="")
    lot: Mapped[str] = mapped_column(default="")
    decision: Mapped[str] = mapped_column(default="")  # a person's; empty: by the standard
    because: Mapped[str] = mapped_column(Text, default="")
    accepted_by: Mapped[str] = mapped_column(default="")  # the owner, by name
    tries: Mapped[int] = mapped_column(default=0)
    closed: Mapped[str] = mapped_column(default="")  # gone, kept, redone; empty while it stands
    person_name: Mapped[str]
    at: Mapped[datetime]


class LookRow(Versioned, Base):
    """A pane looked over: once before it is left, and once more at the end."""

    __tablename__ = "look"
    __table_args__ = (Index("look_window", "window_id", "when"),)

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str] = mapped_column(ForeignKey("window.id"))
    when: Mapped[str]
    clean: Mapped[bool]
    film_id: Mapped[str] = mapped_column(default="")
    rulers: Mapped[dict[str, Any]] = mapped_column(default=dict)  # of a strip, as typed: left, middle, right
    person_name: Mapped[str]
    at: Mapped[datetime]


class PhotoRow(Base):
    """Append-only: a picture; its content lies beside the database, by its checksum."""

    __tablename__ = "photo"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str | None] = mapped_column(ForeignKey("window.id"))
    flaw_id: Mapped[str | None] = mapped_column(String(64), index=True)
    kind: Mapped[str]
    content: Mapped[bytes | None]  # of pictures that an older release kept here, until they are moved out
    sha256: Mapped[str] = mapped_column(String(64), default="", server_default="")
    width: Mapped[int] = mapped_column(default=0, server_default="0")
    height: Mapped[int] = mapped_column(default=0, server_default="0")
    person_id: Mapped[str]
    at: Mapped[datetime]


class QuoteRow(Versioned, Base):
    """One version of a job's quote; what it offers is never changed."""

    __tablename__ = "quote"
    __table_args__ = (Index("quote_job", "job_id", "number", unique=True),)

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    number: Mapped[int]
    lines: Mapped[list[Any]] = mapped_column(JSON, default=list)
    own_lines: Mapped[list[Any]] = mapped_column(JSON, default=list)
    scope: Mapped[dict[str, Any]] = mapped_column(default=dict)  # by window, film and how much it covers
    told: Mapped[list[str]] = mapped_column(default=list)  # what changed since the version before
    total_cents: Mapped[int]
    status: Mapped[str]  # offered, accepted, replaced
    note: Mapped[str] = mapped_column(Text, default="")
    accepted_by: Mapped[str] = mapped_column(default="")
    accepted_at: Mapped[datetime | None]
    person_name: Mapped[str]
    at: Mapped[datetime]


class SignatureRow(Base):
    """Append-only: somebody signed, on the glass or on paper, for what stood there at that moment."""

    __tablename__ = "signature"

    id: Mapped[str] = mapped_column(String(64), primary_key=True)
    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    what: Mapped[str]  # quote, handover
    about: Mapped[str] = mapped_column(default="")  # id of the quote
    name: Mapped[str]
    how: Mapped[str]  # signature, paper, spoken
    strokes: Mapped[list[Any]] = mapped_column(JSON, default=list)
    told: Mapped[dict[str, Any]] = mapped_column(default=dict)  # what was signed for, as it stood
    person_id: Mapped[str]
    at: Mapped[datetime]


class CallRow(Versioned, Base):
    """A customer called about a window."""

    __tablename__ = "call"

    job_id: Mapped[str] = mapped_column(ForeignKey("job.id"), index=True)
    window_id: Mapped[str] = mapped_column(ForeignKey("window.id"))
    kind: Mapped[str]
    said: Mapped[str] = mapped_column(Text, default="")
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    outcome: Mapped[str]
    bears: Mapped[str]
    reasons: Mapped[list[str]] = mapped_column(default=list)
    overruled: Mapped[str] = mapped_column(Text, default="")  # why the lead decided otherwise
    status: Mapped[str] = mapped_column(default="open", index=True)  # open, done
    person_name: Mapped[str]
    at: Mapped[datetime]

"""Tables of what is kept when film is on: flaws and looks, pictures, quotes, signatures, customers, calls."""

from __future__ import annotations

from sqlalchemy import Index
from sqlalchemy.orm import Mapped

from elumbra.storage.declared import Base
from elumbra.storage.kept_records import (
    CallRecord,
    CustomerRecord,
    DeedRecord,
    DeliveryRecord,
    FlawRecord,
    LookRecord,
    PaperRecord,
    PhotoRecord,
    QuoteRecord,
    SignatureRecord,
    VehicleRecord,
)


class CustomerRow(Base, of=CustomerRecord):
    """Somebody whose cars are filmed."""

    __tablename__ = "customer"


class VehicleRow(Base, of=VehicleRecord):
    """A car that was here, by what tells it from others."""

    __tablename__ = "vehicle"


class FlawRow(Base, of=FlawRecord):
    """Something seen on a filmed pane; removed where it was put there by mistake."""

    __tablename__ = "flaw"


class LookRow(Base, of=LookRecord):
    """A pane looked over: once before it is left, and once more at the end."""

    __tablename__ = "look"
    __table_args__ = (Index("look_window", "window_id", "when"),)


class PhotoRow(Base, of=PhotoRecord):
    """Append-only: a picture; its content lies beside the database, by its checksum."""

    __tablename__ = "photo"

    content: Mapped[bytes | None]  # of pictures that an older release kept here, until they are moved out


class QuoteRow(Base, of=QuoteRecord):
    """One version of a job's quote; what it offers is never changed."""

    __tablename__ = "quote"
    __table_args__ = (Index("quote_job", "job_id", "number", unique=True),)


class SignatureRow(Base, of=SignatureRecord):
    """Append-only: somebody signed, on the glass or on paper, for what stood there at that moment."""

    __tablename__ = "signature"


class DeedRow(Base, of=DeedRecord):
    """Append-only: a deed and the state that followed; a mistake is taken back by one more."""

    __tablename__ = "deed"


class DeliveryRow(Base, of=DeliveryRecord):
    """Append-only: a car as it went; only what it says of a person may be erased."""

    __tablename__ = "delivery"
    __table_args__ = (Index("delivery_job", "job_id", "number", unique=True),)


class PaperRow(Base, of=PaperRecord):
    """Never changed: a paper as it went with a car; taken out only where a person is erased."""

    __tablename__ = "paper"
    __table_args__ = (Index("paper_of", "delivery_id", "name", "size", unique=True),)


class CallRow(Base, of=CallRecord):
    """A customer called about a window."""

    __tablename__ = "call"

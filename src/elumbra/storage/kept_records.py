"""Records of what is kept when film is on: customers, flaws and looks, pictures, quotes, signatures, calls."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import String

from elumbra.storage.declared import ID, INDEXED, KEY, LONG, column, new_id, now, refers
from elumbra.storage.records import Record


@dataclass(frozen=True, kw_only=True)
class CustomerRecord(Record):
    """Somebody whose cars are filmed."""

    name: str
    phone: str = ""
    email: str = ""
    note: Annotated[str, LONG] = ""
    search: Annotated[str, LONG] = ""  # all its words, folded
    merged_into: Annotated[str | None, ID] = None
    erased_on: str = ""  # ISO day


@dataclass(frozen=True, kw_only=True)
class VehicleRecord(Record):
    """A car that was here."""

    customer_id: Annotated[str | None, refers("customer", index=True)]
    label: str
    plate: str = ""
    vin: str = ""
    note: Annotated[str, LONG] = ""
    search: Annotated[str, LONG] = ""


@dataclass(frozen=True, kw_only=True)
class FlawRecord(Record):
    """Something seen on a filmed pane."""

    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str, refers("window", index=True)]
    kind: Annotated[str, INDEXED]
    x: float  # shares of the outline's width and height, seen from outside
    y: float
    seen_from: str
    state: str
    size_mm: float | None = None
    count: int = 1
    when: str  # leaving, final, callback
    note: Annotated[str, LONG] = ""
    answers: Mapping[str, str] = field(default_factory=dict)  # to questions on its cause
    film_id: str = ""
    lot: str = ""
    decision: str = ""  # a person's; empty: by the standard
    because: Annotated[str, LONG] = ""
    accepted_by: str = ""  # the owner, by name
    tries: int = 0
    closed: str = ""  # gone, kept, redone; empty while it stands
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class LookRecord(Record):
    """A pane looked over."""

    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str, refers("window")]
    when: str
    clean: bool
    film_id: str = ""
    rulers: Mapping[str, str] = field(default_factory=dict)  # of a strip, as typed: left, middle, right
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class QuoteRecord(Record):
    """One version of a job's quote; money in cents."""

    job_id: Annotated[str, refers("job", index=True)]
    number: int
    lines: Sequence[Mapping[str, Any]] = field(default_factory=list)
    own_lines: Sequence[Mapping[str, Any]] = field(default_factory=list)
    scope: Mapping[str, Mapping[str, str]] = field(default_factory=dict)  # by window, film and how much it covers
    told: list[str] = field(default_factory=list)  # what changed since the version before
    total_cents: int
    status: str = "offered"  # offered, accepted, replaced
    valid_until: str = ""  # ISO day, the last on which it can be accepted; empty: of older releases, without end
    note: Annotated[str, LONG] = ""
    accepted_by: str = ""
    accepted_at: datetime | None = None
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class SignatureRecord:
    """Somebody signed for what stood there."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    job_id: Annotated[str, refers("job", index=True)]
    what: str  # quote, handover
    about: str = ""  # id of the quote
    name: str
    how: str  # signature, paper, spoken
    strokes: Sequence[Any] = field(default_factory=list)
    told: Mapping[str, Any] = field(default_factory=dict)  # what was signed for, as it stood
    person_id: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class DeedRecord:
    """What was done with a job as a whole, and the state that followed."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    job_id: Annotated[str, refers("job", index=True)]
    deed: str
    state: str  # after it
    reason: Annotated[str, LONG] = ""
    told: Mapping[str, Any] = field(default_factory=dict)  # what it was based on
    person_id: str
    person_name: str = ""
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class DeliveryRecord:
    """A car as it was when it went: what its screens and papers are made from, whatever the shop says later."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    job_id: Annotated[str, refers("job", index=True)]
    number: int  # 1, and one more each time that it goes again
    release: str
    job_file: Mapping[str, Any]  # the car with its films and its law
    settings: Mapping[str, Any]  # what the shop had said, by name
    lines: Sequence[Mapping[str, Any]] = field(default_factory=list)  # of the car as it was priced
    person_id: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class PaperRecord:
    """A paper as it went with a car; reprinted the same."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    delivery_id: Annotated[str, refers("delivery", index=True)]
    name: str
    size: str  # letter, a4
    content: bytes  # PDF


@dataclass(frozen=True, kw_only=True)
class CallRecord(Record):
    """A customer called about a window."""

    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str, refers("window")]
    kind: str
    said: Annotated[str, LONG] = ""
    answers: Mapping[str, str] = field(default_factory=dict)
    outcome: str
    bears: str
    reasons: list[str] = field(default_factory=list)
    overruled: Annotated[str, LONG] = ""  # why the lead decided otherwise
    status: Annotated[str, INDEXED] = "open"  # open, done
    person_name: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class PhotoRecord:
    """A picture that is on record; its content is read by ``content_of``."""

    id: Annotated[str, KEY]
    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str | None, refers("window")]
    flaw_id: Annotated[str | None, column(String(64), index=True)] = None
    kind: str = "image/jpeg"
    sha256: Annotated[str, ID] = ""
    width: int = 0
    height: int = 0
    person_id: str
    at: datetime

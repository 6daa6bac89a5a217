"""Records of who may come in and of the day: devices, sittings; bookings, day sheets, promises."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any

from sqlalchemy import String

from elumbra.storage.declared import INDEXED, KEY, LONG, column, now, refers
from elumbra.storage.records import Record


@dataclass(frozen=True, kw_only=True)
class DeviceRecord(Record):
    """An enrolled device."""

    name: str
    token_hash: Annotated[str, INDEXED]
    enrolled_by: str
    at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class Sitting:
    """Somebody at a screen, from signing in until he leaves, is idle too long, or is taken off the list."""

    token_hash: Annotated[str, column(String(64), primary_key=True)]
    person_id: Annotated[str, refers("person", index=True)]
    device_id: str = ""
    address: str = ""
    began_at: datetime
    seen_at: Annotated[datetime, INDEXED]


@dataclass(frozen=True, kw_only=True)
class BookingRecord(Record):
    """When a job's car comes and goes; stored times are UTC without zone."""

    day: Annotated[str, INDEXED]  # ISO day in the shop
    drop_off_at: datetime
    pick_up_from: datetime | None = None
    pick_up_until: datetime | None = None
    waits_here: bool = False
    note: Annotated[str, LONG] = ""


@dataclass(frozen=True, kw_only=True)
class DaySheetRecord(Record):
    """What people decided about a day, and the plan that holds."""

    facts: Mapping[str, Any] = field(default_factory=dict)
    plan: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True, kw_only=True)
class PromiseRecord:
    """What was promised for a car."""

    id: Annotated[str, KEY]
    job_id: Annotated[str, refers("job", index=True)]
    promised_at: datetime
    chance: float | None
    person_id: str
    at: datetime

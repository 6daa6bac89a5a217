"""What is kept about the rack besides stock and its ledger: holds, full rolls, numbers and codes on labels."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.records import Record
from elumbra.storage.store import Store, settings
from elumbra.storage.tables import FullRollRow, HoldRow, StockRow


@dataclass(frozen=True, kw_only=True)
class HoldRecord(Record):
    """Film held for a job's plan, to the end of a day."""

    stock_id: str
    job_id: str
    count: int
    until: str
    on_day: str
    person_name: str
    ended: str = ""


@dataclass(frozen=True, kw_only=True)
class FullRollRecord(Record):
    """A full roll that a film's thickness is calibrated on [mm]."""

    film_id: str
    girth_mm: float
    core_mm: float
    length_mm: float
    on_day: str
    person_name: str


def holds(session: Session) -> Store[HoldRecord]:
    """Film held for jobs."""
    return Store(session, HoldRow, HoldRecord, "hold")


def full_rolls(session: Session) -> Store[FullRollRecord]:
    """Full rolls that films' thicknesses are calibrated on."""
    return Store(session, FullRollRow, FullRollRecord, "full roll")


def shop_code(session: Session) -> str:
    """What this shop's labels begin with."""
    return str(settings(session).get("shop_code").value["value"])


def next_stock_number(session: Session) -> int:
    """The number on the label of the next piece of stock: never one that was given before."""
    return (session.scalar(select(func.max(StockRow.number))) or 0) + 1

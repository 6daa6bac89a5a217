"""What is kept about the rack besides stock and its ledger: holds, full rolls, numbers and codes on labels."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.records import FullRollRecord, HoldRecord
from elumbra.storage.store import Store, settings
from elumbra.storage.tables import FullRollRow, HoldRow, StockRow


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

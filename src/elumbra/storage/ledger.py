"""The rack's ledger and the work's events: rows that are only ever added.

What is left of a piece of stock is the sum of its movements, in whole counts of 0.0125 mm, so
that no length is ever lost to rounding.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from enum import StrEnum
from typing import Any

from sqlalchemy import func, select, update
from sqlalchemy.orm import Session

from elumbra.core.cut import COUNTS_PER_MM
from elumbra.storage import clock
from elumbra.storage.declared import as_record, now
from elumbra.storage.rack import next_stock_number
from elumbra.storage.records import MovementRecord, StepEventRecord, StockRecord
from elumbra.storage.store import stamp_shop, stock
from elumbra.storage.tables import JobRow, MovementRow, StepEventRow


class MovementKind(StrEnum):
    """What became of film on the rack."""

    RECEIVED = "received"
    USED = "used"  # on cars
    WASTE = "waste"
    KEPT = "kept"  # cut off and put back on the rack as a piece of its own
    CORRECTED = "corrected"  # counted anew


def counts(length_mm: float) -> int:
    """A length in whole counts.

    Examples
    --------
    >>> counts(1.5875), counts(1.0), counts(0.0)
    (127, 80, 0)
    """
    return round(length_mm * COUNTS_PER_MM)


def receive(
    session: Session,
    record: StockRecord,
    count: int,
    *,
    person_id: str,
    typed: str = "",
    job_id: str | None = None,
    note: str = "",
    cutting_id: str | None = None,
) -> StockRecord:
    """Put a new piece of stock on the rack with a number of its own, and enter what came."""
    number = next_stock_number(session)
    day = record.received_on or clock.today_iso()
    kept = stock(session).create(replace(record, number=number, received_on=day), person_id=person_id)
    move(
        session, kept.id, MovementKind.RECEIVED, count, person_id=person_id, typed=typed, job_id=job_id, note=note,
        cutting_id=cutting_id,
    )  # fmt: skip
    return kept


def move(
    session: Session,
    stock_id: str,
    kind: MovementKind,
    count: int,
    *,
    person_id: str,
    typed: str = "",
    job_id: str | None = None,
    note: str = "",
    cutting_id: str | None = None,
) -> MovementRecord:
    """Enter a movement; ``typed`` is what is left by what somebody read, where it was read."""
    row = MovementRow(
        stock_id=stock_id, kind=kind.value, count=count, typed=typed, at=now(), person_id=person_id, job_id=job_id,
        note=note, cutting_id=cutting_id,
    )  # fmt: skip
    session.add(row)
    session.flush()
    stamp_shop(session)
    return as_record(row, MovementRecord)


def movements(session: Session, stock_id: str) -> list[MovementRecord]:
    """All movements of a piece of stock, oldest first."""
    query = select(MovementRow).where(MovementRow.stock_id == stock_id).order_by(MovementRow.id)
    return [as_record(row, MovementRecord) for row in session.scalars(query)]


@dataclass(frozen=True)
class Balance:
    """What came to a piece of stock and what became of it, in counts: received = used + waste + kept + left."""

    received: int  # with what a recount found
    used: int
    waste: int  # with what a recount missed
    kept: int
    left: int


_ONE_BREATH = timedelta(seconds=2)


def balance(session: Session, stock_id: str) -> Balance:
    """All movements of a piece of stock, added up."""
    sums: dict[str, int] = dict.fromkeys([*MovementKind, "found", "missed"], 0)
    moved = movements(session, stock_id)
    for i, one in enumerate(moved):
        kind = one.kind
        if kind == MovementKind.CORRECTED:
            # Up to 0.5 a roll that came begun was entered in full, and corrected in the same breath.
            entered = i == 1 and not one.note and one.at - moved[0].at < _ONE_BREATH
            kind = MovementKind.RECEIVED.value if entered else "found" if one.count > 0 else "missed"
        sums[kind] += one.count
    received, waste = sums["received"] + sums["found"], -sums["waste"] - sums["missed"]
    used, kept = -sums["used"], -sums["kept"]
    return Balance(received, used, waste, kept, received - used - waste - kept)


def on_rack(session: Session, **equal: Any) -> list[StockRecord]:
    """The stock on the rack by label, each with what is left of it."""
    return _with_left(session, stock(session).all(order="label", **equal))


def off_rack(session: Session) -> list[StockRecord]:
    """Stock that was taken off the rack with film left on it; what is used up is no stock any more."""
    gone = [one for one in stock(session).all(removed_too=True) if one.removed]
    return [one for one in _with_left(session, gone) if one.left_count > 0]


def stock_with_left(session: Session, stock_id: str) -> StockRecord:
    """One piece of stock, removed ones too, with what is left of it.

    Raises
    ------
    NotFoundError
        There is none.
    """
    return _with_left(session, [stock(session).get(stock_id)])[0]


def _with_left(session: Session, records: list[StockRecord]) -> list[StockRecord]:
    ids = [record.id for record in records]
    sums = (
        select(MovementRow.stock_id, func.sum(MovementRow.count), func.max(MovementRow.id))
        .where(MovementRow.stock_id.in_(ids))
        .group_by(MovementRow.stock_id)
    )
    found = {stock_id: (int(total), last) for stock_id, total, last in session.execute(sums)}
    newest = select(MovementRow.id, MovementRow.typed).where(MovementRow.id.in_([last for _, last in found.values()]))
    typed = {row_id: words for row_id, words in session.execute(newest)}  # noqa: C416  a Row is not a pair to mypy
    completed = []
    for record in records:
        total, last = found.get(record.id, (0, None))
        completed.append(replace(record, left_count=total, left_typed=typed.get(last, "") if last else ""))
    return completed


@dataclass(frozen=True)
class StepEvent:
    """Something that happened at a step, as a screen sends it."""

    id: str
    job_id: str
    step: str
    kind: str
    happened_at: datetime
    window_id: str | None = None
    value: str = ""


def note_event(session: Session, event: StepEvent, *, person_id: str) -> StepEventRecord:
    """Keep an event; one that was sent before is kept once."""
    row = session.get(StepEventRow, event.id)
    if row is None:
        row = StepEventRow(
            id=event.id, job_id=event.job_id, window_id=event.window_id, step=event.step, kind=event.kind,
            happened_at=event.happened_at, at=now(), person_id=person_id, value=event.value,
        )  # fmt: skip
        session.add(row)
        session.flush()
        # Screens that follow the job look again.
        session.execute(update(JobRow).where(JobRow.id == event.job_id).values(stamp=JobRow.stamp + 1))
    return as_record(row, StepEventRecord)


def event_by_id(session: Session, event_id: str) -> StepEventRecord | None:
    """An event by the id that its screen made."""
    row = session.get(StepEventRow, event_id)
    return None if row is None else as_record(row, StepEventRecord)


def has_events(session: Session, job_id: str) -> bool:
    """Whether anything happened at a step of a job."""
    return session.scalar(select(StepEventRow.id).where(StepEventRow.job_id == job_id).limit(1)) is not None


def events_of(session: Session, job_id: str) -> list[StepEventRecord]:
    """A job's events in the order in which they happened."""
    query = select(StepEventRow).where(StepEventRow.job_id == job_id)
    rows = session.scalars(query.order_by(StepEventRow.happened_at, StepEventRow.at, StepEventRow.id))
    return [as_record(row, StepEventRecord) for row in rows]

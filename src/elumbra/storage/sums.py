"""Sums over many jobs, added up where they are kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta

from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from elumbra.core.cut import COUNTS_PER_MM
from elumbra.storage.declared import as_record
from elumbra.storage.kept_tables import QuoteRow, SignatureRow
from elumbra.storage.ledger import MovementKind
from elumbra.storage.records import CuttingRecord
from elumbra.storage.tables import (
    CuttingRow,
    InstalledReadingRow,
    JobRow,
    MovementRow,
    PersonRow,
    StepEventRow,
    StockRow,
    WindowRow,
    WorkTimeRow,
)

_M2 = 1e6


@dataclass(frozen=True)
class Span:
    """From a day to a day, both included."""

    since: date
    until: date

    @property
    def start(self) -> datetime:
        """Its first moment."""
        return datetime.combine(self.since, time())

    @property
    def end(self) -> datetime:
        """The first moment after it."""
        return datetime.combine(self.until + timedelta(days=1), time())


@dataclass(frozen=True)
class FilmMoved:
    """Film that came or went on a day; area in m², money in dollars."""

    day: str
    kind: str
    note: str
    m2: float
    dollars: float


def film_moved(session: Session, span: Span) -> list[FilmMoved]:
    """What came to the rack and left it, by day, kind and note."""
    day = func.date(MovementRow.at)
    area = func.sum(MovementRow.count * StockRow.width_mm) / COUNTS_PER_MM / _M2
    full = StockRow.width_mm * StockRow.full_length_mm
    money = func.sum(MovementRow.count * StockRow.width_mm * StockRow.price / full) / COUNTS_PER_MM
    query = (
        select(day, MovementRow.kind, MovementRow.note, area, money)
        .join(StockRow, StockRow.id == MovementRow.stock_id)
        .where(MovementRow.at >= span.start, MovementRow.at < span.end, full > 0)
        .group_by(day, MovementRow.kind, MovementRow.note)
    )
    return [
        FilmMoved(on, kind, note, float(m2), float(dollars)) for on, kind, note, m2, dollars in session.execute(query)
    ]


@dataclass(frozen=True)
class FilmTaken:
    """What a job took off one piece of stock, in counts."""

    job_id: str
    stock_id: str
    on_day: str  # ISO
    person: str
    used: int
    kept: int
    waste: int


def film_taken(session: Session) -> list[FilmTaken]:
    """What jobs took off the rack by the ledger, newest first; what was taken back is taken no more."""
    sums = [
        func.sum(case((MovementRow.kind == kind.value, -MovementRow.count), else_=0))
        for kind in (MovementKind.USED, MovementKind.KEPT, MovementKind.WASTE)
    ]
    query = (
        select(
            MovementRow.job_id,
            MovementRow.stock_id,
            func.coalesce(CuttingRow.on_day, func.date(func.min(MovementRow.at))),
            func.coalesce(CuttingRow.person_name, func.max(PersonRow.name), ""),
            *sums,
        )
        .outerjoin(CuttingRow, CuttingRow.id == MovementRow.cutting_id)
        .outerjoin(PersonRow, PersonRow.id == MovementRow.person_id)
        .where(MovementRow.job_id.is_not(None))
        .group_by(MovementRow.job_id, MovementRow.cutting_id, MovementRow.stock_id)
        .order_by(func.max(MovementRow.id).desc())
    )
    return [FilmTaken(*row) for row in session.execute(query) if any(row[4:])]


def cuttings_in(session: Session, span: Span) -> list[tuple[int, CuttingRecord]]:
    """Cuttings of a span with their jobs' numbers, oldest first."""
    query = (
        select(JobRow.number, CuttingRow)
        .join(JobRow, JobRow.id == CuttingRow.job_id)
        .where(
            CuttingRow.removed.is_(False), CuttingRow.on_day >= span.since.isoformat(),
            CuttingRow.on_day <= span.until.isoformat(),
        )
        .order_by(CuttingRow.on_day)
    )  # fmt: skip
    return [(number, as_record(row, CuttingRecord)) for number, row in session.execute(query)]


def redone(session: Session, span: Span) -> list[tuple[StepEventRow, str, WindowRow, int]]:
    """Events by which a piece was spoilt, with what was said of them; undone ones among them."""
    query = (
        select(StepEventRow, WindowRow, JobRow.number)
        .join(WindowRow, WindowRow.id == StepEventRow.window_id)
        .join(JobRow, JobRow.id == StepEventRow.job_id)
        .where(
            StepEventRow.kind.in_(("wrong", "undo")), StepEventRow.happened_at >= span.start,
            StepEventRow.happened_at < span.end,
        )
        .order_by(StepEventRow.happened_at, StepEventRow.id)
    )  # fmt: skip
    return [(event, event.value, window, number) for event, window, number in session.execute(query)]


def workers(session: Session, window_ids: Sequence[str]) -> dict[str, list[str]]:
    """By window, who ticked most of its steps first."""
    query = (
        select(StepEventRow.window_id, StepEventRow.person_id, func.count())
        .where(StepEventRow.window_id.in_(window_ids), StepEventRow.kind == "tick")
        .group_by(StepEventRow.window_id, StepEventRow.person_id)
        .order_by(func.count().desc())
    )
    found: dict[str, list[str]] = {}
    for window_id, person_id, _ in session.execute(query):
        found.setdefault(str(window_id), []).append(person_id)
    return found


@dataclass(frozen=True)
class ReadPoint:
    """A finished pane metered; light in percent."""

    day: str
    job_number: int
    window: str
    film_id: str
    lot: str
    predicted: float
    pm: float
    read: float


def readings_in(session: Session, span: Span) -> list[ReadPoint]:
    """Readings after installation."""
    row = InstalledReadingRow
    query = (
        select(
            row.on_day, JobRow.number, WindowRow.label, row.film_id, row.lot, row.predicted_percent, row.predicted_pm,
            row.read_percent,
        )
        .join(JobRow, JobRow.id == row.job_id)
        .join(WindowRow, WindowRow.id == row.window_id)
        .where(row.removed.is_(False), row.on_day >= span.since.isoformat(), row.on_day <= span.until.isoformat())
        .order_by(row.on_day)
    )  # fmt: skip
    return [ReadPoint(*one) for one in session.execute(query)]


def times_in(session: Session, span: Span) -> list[tuple[str, str, float]]:
    """Recorded times: kind of window, what, minutes."""
    query = select(WorkTimeRow.window_kind, WorkTimeRow.what, WorkTimeRow.minutes).where(
        WorkTimeRow.at >= span.start, WorkTimeRow.at < span.end
    )
    return [(kind, what, minutes) for kind, what, minutes in session.execute(query)]


@dataclass(frozen=True)
class GoneCar:
    """A car that was handed over, with what was planned and what it took."""

    day: str
    job_number: int
    job_id: str
    planned: float
    worked: float


def gone_cars(session: Session, span: Span) -> list[GoneCar]:
    """Cars that were handed over."""
    query = (
        select(JobRow.handed_over_on, JobRow.number, JobRow.id, SignatureRow.told)
        .join(SignatureRow, SignatureRow.job_id == JobRow.id)
        .where(
            SignatureRow.what == "handover", JobRow.handed_over_on >= span.since.isoformat(),
            JobRow.handed_over_on <= span.until.isoformat(),
        )
        .order_by(JobRow.handed_over_on, SignatureRow.at)
    )  # fmt: skip
    found = {}
    for day, number, job_id, told in session.execute(query):
        found[job_id] = GoneCar(
            day, number, job_id, float(told.get("planned_minutes", 0)), float(told.get("worked_minutes", 0))
        )  # fmt: skip
    return list(found.values())


def accepted_money(session: Session, job_ids: Sequence[str]) -> dict[str, int]:
    """By job, what was accepted [cents]."""
    query = select(QuoteRow.job_id, QuoteRow.total_cents).where(
        QuoteRow.status == "accepted", QuoteRow.removed.is_(False), QuoteRow.job_id.in_(job_ids)
    )
    return {job_id: cents for job_id, cents in session.execute(query)}  # noqa: C416  a Row is no pair to mypy


def worked_minutes(session: Session, job_id: str) -> float:
    """What was recorded on a job [min]."""
    return float(
        session.scalar(select(func.sum(WorkTimeRow.minutes)).where(WorkTimeRow.job_id == job_id)) or 0.0
    )  # fmt: skip

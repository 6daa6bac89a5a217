"""Readings after installation, added up where they are kept."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import dataclass

from sqlalchemy import Float, Select, case, func, literal, select
from sqlalchemy.orm import Session

from elumbra.core.light import LEAST_FORETOLD, LEAST_SPREAD, ReadingSums, meter_variance
from elumbra.core.starting import StartingValues
from elumbra.storage.tables import InstalledReadingRow as Row
from elumbra.storage.tables import JobRow, WindowRow


@dataclass(frozen=True)
class ReadingLine:
    """A reading with the job and window that it was taken on; light in percent."""

    id: str
    version: int
    job_id: str
    job_title: str
    window: str
    predicted_percent: float
    read_percent: float
    on_day: str


def newest_readings(session: Session, film_id: str, lot: str, *, most: int) -> list[ReadingLine]:
    """The newest readings of a lot, newest first."""
    query = (
        select(
            Row.id, Row.version, Row.job_id, JobRow.title, WindowRow.label, Row.predicted_percent, Row.read_percent,
            Row.on_day,
        )
        .join(JobRow, JobRow.id == Row.job_id)
        .join(WindowRow, WindowRow.id == Row.window_id)
        .where(Row.removed.is_(False), Row.film_id == film_id, Row.lot == lot)
        .order_by(Row.on_day.desc(), Row.id)
        .limit(most)
    )  # fmt: skip
    return [ReadingLine(*line) for line in session.execute(query)]


def lot_sums(
    session: Session, *, starting: StartingValues, film_id: str | None = None, lots: Collection[str] | None = None
) -> Mapping[tuple[str, str], ReadingSums]:
    """The sums of readings by film and lot, of one film or some lots or all; as ``core.light.add_up`` makes them."""
    query = _sums(starting)
    if lots is not None:
        query = query.where(Row.lot.in_(lots))
    if film_id is not None:
        query = query.where(Row.film_id == film_id)
    return {(film, lot): ReadingSums(count, weight, ratio, inverse)
            for film, lot, count, weight, ratio, inverse in session.execute(query)}  # fmt: skip


def _sums(starting: StartingValues) -> Select[str, str, int, float, float, float]:
    foretold, spread, read = Row.predicted_percent / 100.0, Row.predicted_pm / 100.0, Row.read_percent / 100.0
    square, least = foretold * foretold, literal(LEAST_SPREAD**2, Float)
    variance = spread * spread + literal(meter_variance(starting), Float)
    floor = least * square
    weight = square / case((variance > floor, variance), else_=floor)
    return (
        select(
            Row.film_id, Row.lot, func.count(), func.sum(weight), func.sum(weight * read / foretold),
            func.sum(weight / foretold),
        )
        .where(Row.removed.is_(False), Row.predicted_percent > 100 * LEAST_FORETOLD)
        .group_by(Row.film_id, Row.lot)
    )  # fmt: skip

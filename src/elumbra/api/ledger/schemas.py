"""The ledger as its screens show it."""

from __future__ import annotations

from datetime import date
from enum import StrEnum

from pydantic import BaseModel

from elumbra.api.base.day_words import Date


class LedgerTable(StrEnum):
    """Tables of the ledger, each as CSV."""

    FILM = "film"
    WASTE = "waste"
    YIELD = "yield"
    REDO = "redo"
    READINGS = "readings"
    TIME = "time"
    MONEY = "money"


class LedgerQuery(BaseModel):
    """From a day to a day; the last thirteen weeks where nothing is said."""

    since: Date | None = None
    until: Date | None = None


class LedgerFileQuery(LedgerQuery):
    """Which table, of which days."""

    table: LedgerTable


class FilmWeek(BaseModel):
    """Film of a week, in m²."""

    week: date  # its Monday
    bought: float
    used: float
    waste: float


class WasteReason(BaseModel):
    """Film that was wasted, and why."""

    reason: str
    m2: float
    dollars: float


class YieldPoint(BaseModel):
    """One layout that was cut."""

    day: date
    job_number: int
    film: str
    yield_percent: float
    over_bound_percent: float | None  # what it cost over the bound; None where the bound is nothing
    proven: bool


class RedoCount(BaseModel):
    """How often, by something."""

    name: str
    number: int


class RedoLine(BaseModel):
    """A piece that was cut again."""

    day: date
    job_number: int
    window: str
    window_kind: str
    why: str
    step: str
    lot: str
    person: str


class RedoOutline(BaseModel):
    """Pieces that were cut again, counted five ways."""

    lines: list[RedoLine]
    by_flaw: list[RedoCount]
    by_kind: list[RedoCount]
    by_step: list[RedoCount]
    by_person: list[RedoCount]
    by_lot: list[RedoCount]
    pieces_cut: int


class ReadPointOut(BaseModel):
    """A finished pane metered; light in percent."""

    day: date
    job_number: int
    window: str
    film: str
    lot: str
    predicted: float
    pm: float
    read: float


class TimeCar(BaseModel):
    """A car's minutes, planned and worked."""

    day: date
    job_number: int
    planned: float
    worked: float


class TimePhase(BaseModel):
    """How long a part of the work takes here."""

    what: str
    number: int
    median: float
    p90: float


class MoneyWeek(BaseModel):
    """Money of a week, in dollars."""

    week: date
    billed: float
    film: float  # used and wasted
    labour: float


class LedgerOut(BaseModel):
    """The ledger over some weeks."""

    since: date
    until: date
    headline: str
    film: list[FilmWeek]
    waste: list[WasteReason]
    yields: list[YieldPoint]
    redo: RedoOutline
    readings: list[ReadPointOut]
    cars: list[TimeCar]
    phases: list[TimePhase]
    money: list[MoneyWeek]

"""Jobs as lists show them."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel

from elumbra.api.base.bodies import Point
from elumbra.core.deeds import State
from elumbra.core.law import VerdictWord


class BandPane(BaseModel):
    """A window as the small band draws it."""

    ring: list[Point]
    measured: bool
    backdrop: str


class JobSummary(BaseModel):
    """What a list tells of a job's car: worked out once for what the job says."""

    worst: VerdictWord | None
    problems: list[str]
    stuck: bool
    filmed: int
    measured: int
    windows: int
    band: list[BandPane]


class PieceBrief(BaseModel):
    """A blank that a job still needs."""

    label: str
    film_id: str
    ways: list[Point]  # along and across the roll, every way it may lie [mm]


class KeptSummary(JobSummary):
    """A summary with what the rack asks of it."""

    pieces: list[PieceBrief] = []


class JobBrief(JobSummary):
    """A job in a list."""

    id: str
    version: int
    number: int
    title: str
    customer: str
    vehicle_label: str
    states: list[str]
    status: State
    bay: str
    promised_at: datetime | None

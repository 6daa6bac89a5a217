"""The day sheet as its screen shows it, and what it sends."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, PaperQuery, Version, Words
from elumbra.api.base.day_words import ClockSpan, Day, Hours
from elumbra.core.deeds import State
from elumbra.core.schedule import Place, Skill
from elumbra.core.work import Station

Name = Annotated[str, Field(min_length=1, max_length=160)]


class DayPath(BaseModel):
    """A day in the shop."""

    day: Day


class SheetPaperQuery(PaperQuery):
    """Paper of the printed day."""


class SpanOut(BaseModel):
    """Minutes of the day, from and to."""

    start: int
    end: int


class MarkOut(BaseModel):
    """A mark on the axis of time."""

    minute: int
    words: str


class HandOut(BaseModel):
    """Somebody who could work on this day."""

    id: str
    name: str
    role: str
    spans: list[SpanOut]
    away: str  # why not; empty: he is here
    work: int  # minutes given to him on this day


class BayOnSheet(BaseModel):
    """A bay of the shop."""

    name: str
    door: str
    under_door: bool


class TaskOn(BaseModel):
    """A task on the sheet."""

    id: str
    job_id: str
    label: str
    words: str
    skill: Skill
    place: Place
    worker: str
    start: int
    end: int
    wait_until: int  # something dries or soaks until then
    start_words: str
    end_words: str
    locked: bool


class DoneOn(BaseModel):
    """Work that was done, as it was ticked."""

    job_id: str
    worker: str
    start: int
    end: int
    words: str


class CarOn(BaseModel):
    """A car on the sheet."""

    job_id: str
    number: int
    title: str
    customer: str
    status: State
    booked: bool
    arrives: int | None
    arrives_words: str
    due: int | None
    due_words: str
    promised_at: datetime | None
    pick_up_words: str
    ready: int | None
    ready_words: str
    late: int
    why_late: str  # what a late car waits for most, in a sentence; empty where it is not late
    chance: float | None
    waits_here: bool
    bay: str
    in_bay: SpanOut | None
    work: int
    left_share: float
    told: str
    stuck: bool
    note: str


class CannotOut(BaseModel):
    """What no plan can do, and the least that would mend it."""

    job_id: str
    why: str
    least: str


class DangerOut(BaseModel):
    """A promise that may not be kept."""

    job_id: str
    words: str
    chance: float


class WaitsOut(BaseModel):
    """A car that is planned and cannot be cut before somebody answers."""

    job_id: str
    words: str
    station: Station
    window_id: str


class TogetherOut(BaseModel):
    """A film that several cars of the day take."""

    film_id: str
    name: str
    cars: int
    saves: int  # minutes
    chosen: bool


class DayCount(BaseModel):
    """How many cars a day has."""

    day: str
    cars: int
    open: bool


class DecidedOut(BaseModel):
    """What people decided about the day."""

    away: dict[str, str]
    together: list[str]
    damp: bool
    no_sun: bool
    overtime: int
    bays: dict[str, str]
    by_hand: list[str]  # tasks


class DaySheetOut(BaseModel):
    """The plan of a day."""

    day: str
    title: str
    zone: str
    today: bool
    now: int | None
    stamp: str
    version: int
    begins: int
    ends: int
    marks: list[MarkOut]
    people: list[HandOut]
    bays: list[BayOnSheet]
    sun: list[SpanOut]
    cars: list[CarOn]
    tasks: list[TaskOn]
    done: list[DoneOn]
    headline: str
    told: list[str]
    cannot: list[CannotOut]
    left_out: list[CannotOut]
    danger: list[DangerOut]
    waits: list[WaitsOut]  # for an answer about law, light, readings or heat
    late: int
    overtime: int
    waiting: int
    late_least: int
    overtime_least: int
    waiting_least: int
    proven: bool
    sure: float
    together: list[TogetherOut]
    decided: DecidedOut
    days: list[DayCount]
    task_id: str | None  # that works on a better plan
    looked: bool  # for a better plan, on the day as it stands
    basis: str


class DayStampOut(BaseModel):
    """Whether anything on a day has changed."""

    stamp: str


class LockIn(Body):
    """A task that stays where a person put it; neither person nor time: it is let go."""

    task: Name
    worker: Annotated[str, Field(max_length=64)] = ""
    start: Annotated[int, Field(ge=-1440, le=20_160)] | None = None  # minute of the day


class DayDecisions(Body):
    """Decisions about a day; only what is sent is changed."""

    version: Version
    locks: Annotated[list[LockIn], Field(max_length=60)] | None = None
    free_all: bool = False  # let go of all that was put by hand
    bays: dict[Id, Annotated[str, Field(max_length=60)]] | None = None  # by job; empty: as it fits
    away: dict[Id, Annotated[str, Field(max_length=120)]] | None = None  # by person; empty: he is here
    together: Annotated[list[Id], Field(max_length=40)] | None = None
    damp: bool | None = None
    no_sun: bool | None = None
    overtime: Annotated[int, Field(ge=0, le=300)] | None = None


class BookingBody(Body):
    """When a car comes and goes, and what is promised."""

    version: Version  # of the booking; 0 where there is none
    job_version: Version
    drop_off_at: datetime
    pick_up_from: datetime | None = None
    pick_up_until: datetime | None = None
    promised_at: datetime | None = None
    chance: Annotated[float, Field(ge=0, le=1)] | None = None  # as it was shown
    waits_here: bool = False
    note: LongText = ""


class UnbookBody(Body):
    """A booking that is taken back."""

    version: Version


class PromisedOut(BaseModel):
    """Something that was promised once."""

    promised_at: datetime
    chance: float | None
    at: datetime
    person: str


class BookingOut(BaseModel):
    """When a job's car comes and goes."""

    job_id: str
    job_version: int
    version: int
    day: str | None
    drop_off_at: datetime | None
    pick_up_from: datetime | None
    pick_up_until: datetime | None
    promised_at: datetime | None
    waits_here: bool
    note: str
    zone: str
    promises: list[PromisedOut]


class PromiseQuery(BaseModel):
    """For which job a time is asked, and from which drop-off on."""

    drop_off_at: datetime | None = None


class PromiseOut(BaseModel):
    """The earliest honest time for a car."""

    at: datetime | None
    words: str
    day: str | None
    sure: float
    kept: float | None  # share of the simulated days on which it was kept
    drop_off_at: datetime | None  # the plan wants it here by then
    told: list[str]
    endangers: list[str]
    tried: int  # days


class RescueOut(BaseModel):
    """What would save a promise."""

    job_id: str
    words: str
    chance: float
    ways: list[RescueWay]


class RescueWay(BaseModel):
    """One thing that would help, and by how much."""

    words: str
    chance: float
    costs: str  # what it would do to others


class ShopDayBody(Body):
    """How the shop runs its days."""

    version: Version
    bays: Annotated[list[BayIn], Field(max_length=12)]
    hours: Hours
    closed_days: Annotated[list[Day], Field(max_length=400)]
    yard_places: Annotated[int, Field(ge=0, le=20)]
    sun: Annotated[list[ClockSpan], Field(max_length=4)]
    zone: Annotated[str, Field(max_length=60)]


class BayIn(Body):
    """A bay: which shop door it is behind, and whether a raised hatch stands under that door."""

    name: Words
    door: Annotated[str, Field(max_length=60)] = ""
    under_door: bool = False


class ShopDayOut(BaseModel):
    """How the shop runs its days."""

    version: int
    bays: list[BayOnSheet]
    hours: Hours
    closed_days: list[str]
    yard_places: int
    sun: list[ClockSpan]
    zone: str
    machine_zone: str
    calendar: str  # path of the feed for calendar programs


RescueOut.model_rebuild()
ShopDayBody.model_rebuild()

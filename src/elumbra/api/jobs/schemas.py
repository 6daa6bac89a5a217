"""What the lists and a job's head send and get."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, FindingsIn, Id, LongText, ShortText, Version, Words
from elumbra.api.car_view.brief_schemas import JobBrief
from elumbra.core.deeds import Deed
from elumbra.core.work import VehicleFacts
from elumbra.documents.facts import with_facts


class JobCreate(Body):
    """A new job from a body style's window list."""

    title: Words | None = None
    customer: ShortText = ""
    vehicle_label: Words
    body: Words
    states: Annotated[list[str], Field(max_length=6)] = []  # noqa: RUF012  none: the shop's home states
    mirrors_both_sides: bool | None = None
    model_year: Annotated[int, Field(ge=1900, le=2100)] | None = None
    shelf_car_id: Id | None = None  # same car as: its glass fills every window


@with_facts(VehicleFacts, partial=True)
class JobPatch(Body):
    """Changes of a job; only what is sent is changed."""

    version: Version
    title: Words | None = None
    customer: ShortText | None = None
    note: LongText | None = None
    bay: ShortText | None = None
    promised_at: datetime | None = None
    vehicle_label: Words | None = None
    findings: FindingsIn | None = None


class DeedBody(Body):
    """What was done with a job as a whole."""

    version: Version
    deed: Deed
    reason: LongText = ""
    bay: ShortText = ""  # where it starts; empty: the bay that is set


class ListQuery(BaseModel):
    """A page of the list of jobs, newest first."""

    page: Annotated[int, Field(ge=1, le=100_000)] = 1
    search: Annotated[str, Field(max_length=120)] = ""
    archived: bool = False  # those in the archive instead


class JobList(BaseModel):
    """A page of jobs, newest number first."""

    jobs: list[JobBrief]
    page: int
    pages: int
    total: int  # jobs that the search finds


class HistoryEntry(BaseModel):
    """Who changed what."""

    at: datetime
    person: str
    action: str
    what: str
    fields: list[str]


class History(BaseModel):
    """A job's audit trail, newest first."""

    entries: list[HistoryEntry]


class SinceQuery(BaseModel):
    """What an open screen has seen last."""

    since: Annotated[int, Field(ge=0)] = 0


class ChangeEntry(HistoryEntry):
    """A change of a job that an open screen follows."""

    id: int
    person_id: str


class ChangesOut(BaseModel):
    """What was changed since, and what tells whether anything that the job depends on has."""

    stamp: str
    last: int  # the newest entry there is
    entries: list[ChangeEntry]


class BoardOut(BaseModel):
    """The first screen: what is in the bays, what is next, what is stuck."""

    in_bays: list[JobBrief]
    next: list[JobBrief]
    stuck: list[JobBrief]  # what is in a bay and stuck stands there, with its reason
    told: list[str]  # what the shop must know before it works: figures that had to be changed

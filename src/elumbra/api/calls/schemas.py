"""Calls as their screens show them, and what they send."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, Version
from elumbra.core.deeds import State
from elumbra.core.inspection import Bears, Outcome, Told
from elumbra.documents.paper import Paper

Answered = Annotated[dict[Annotated[str, Field(max_length=60)], Told], Field(max_length=20)]


class CallerQuery(BaseModel):
    """What the caller says."""

    search: Annotated[str, Field(max_length=120)] = ""


class CalledWindow(BaseModel):
    """A window that a caller may mean."""

    id: str
    label: str
    film: str
    lot: str


class CalledJob(BaseModel):
    """A job that a caller may mean."""

    id: str
    number: int
    title: str
    vehicle: str
    plate: str
    vin: str
    customer: str
    phone: str
    status: State
    handed_over_on: str
    windows: list[CalledWindow]


class OpenCall(BaseModel):
    """A call that is not settled yet."""

    id: str
    version: int
    job_id: str
    window_id: str
    words: str
    outcome: Outcome
    bears: Bears
    at: datetime
    person: str


class CallersOut(BaseModel):
    """Jobs that were found, and calls that are open."""

    jobs: list[CalledJob]
    open: list[OpenCall]


class HappeningOut(BaseModel):
    """Something that happened to a window."""

    at: datetime | None
    words: str
    person: str


class KindOut(BaseModel):
    """A kind of flaw that a caller may mean."""

    id: str
    words: str


class HistoryOut(BaseModel):
    """A window's whole history."""

    job_id: str
    window_id: str
    label: str
    title: str
    customer: str
    phone: str
    plate: str
    vin: str
    film: str
    lot: str
    handed_over_on: str
    days: int | None
    kinds: list[KindOut]
    history: list[HappeningOut]
    photos: list[str]
    calls: list[OpenCall]


class AdviceQuery(BaseModel):
    """What the caller sees; answers as name:yes or name:no, with commas between."""

    kind: Id
    answers: Annotated[str, Field(max_length=600)] = ""


class CallAsk(BaseModel):
    """A question to ask the caller."""

    fact: str
    ask: str


class CallAdviceOut(BaseModel):
    """What to tell the caller."""

    outcome: Outcome
    bears: Bears
    say: str
    reasons: list[str]
    questions: list[CallAsk]
    missing: list[str]


class CallBody(Body):
    """A call, kept as it was answered."""

    kind: Id
    said: LongText = ""
    answers: Annotated[Answered, Field(default_factory=dict)]
    outcome: Outcome | None = None  # in place of the advice
    bears: Bears | None = None
    because: LongText = ""


class CallPatch(Body):
    """A call is settled, or open again."""

    version: Version
    status: Literal["open", "done"]


class LotNameOut(BaseModel):
    """A lot that ever came."""

    film_id: str
    film: str
    lot: str


class LotQuery(BaseModel):
    """Which lot."""

    film_id: Id
    lot: Annotated[str, Field(min_length=1, max_length=60)]


class LotPaperQuery(LotQuery):
    """Which lot, on which paper."""

    paper: Paper = Paper.LETTER


class LotsOut(BaseModel):
    """All lots, newest first."""

    lots: list[LotNameOut]


class RecallRow(BaseModel):
    """A pane with film of the lot, and whom to call."""

    job_id: str
    number: int
    vehicle: str
    plate: str
    vin: str
    window: str
    customer: str
    phone: str
    roll: str
    on_day: str


class RecallOut(BaseModel):
    """All panes of a lot."""

    film: str
    lot: str
    rows: list[RecallRow]

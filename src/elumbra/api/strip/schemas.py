"""Strip-off as its screens show it, and what they send."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, Percent, Version, Words
from elumbra.core.law import VerdictWord
from elumbra.core.removal import Tool, Way
from elumbra.documents.paper import Paper


class RangeOut(BaseModel):
    """From and to."""

    low: float
    high: float


class ChanceOut(BaseModel):
    """How likely by own results, 95 % interval."""

    percent: float
    low_percent: float
    high_percent: float
    number: int


class StripWayOut(BaseModel):
    """One way of taking old film off."""

    way: Way
    words: str
    refused: str
    minutes: RangeOut
    own_minutes: int  # how many own times the minutes are from
    wait: RangeOut
    clean: Literal["likely", "uncertain", "unlikely"]
    own: ChanceOut | None
    glue_minutes: RangeOut
    lines_risk_percent: float
    price: RangeOut
    reasons: list[str]
    basis: str
    section: str


class StripGlueOut(BaseModel):
    """How glue comes off here, and what is refused."""

    words: str
    minutes: RangeOut
    refused: list[str]


class AcknowledgedOut(BaseModel):
    """That the customer knows of risk and price."""

    by: str
    how: Literal["paper", "signature"]
    at: datetime
    person: str


class StripWindowOut(BaseModel):
    """One window whose old film comes off."""

    window_id: str
    version: int
    label: str
    off: bool  # it is off
    removal_only: bool  # no new film is chosen
    chosen: Way | None  # by a person
    night: bool
    ways: list[StripWayOut]  # best first, refused ones last
    sentence: str
    glue: StripGlueOut
    changes: list[str]  # what would put another way first
    told: list[str]
    acknowledged: AcknowledgedOut | None
    begun: bool
    done: bool


class StripCarOut(BaseModel):
    """All old film of a car."""

    job_id: str
    headline: str
    windows: list[StripWindowOut]
    price: RangeOut
    work_minutes: RangeOut
    never: list[str]
    tools: list[Tool]
    tools_version: int


class ToolsBody(Body):
    """What is at hand."""

    tools: Annotated[list[Tool], Field(max_length=10)]
    version: Version


Stroke = Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(max_length=2000)]


class AcknowledgeBody(Body):
    """The customer knows that lines may lift, and the price."""

    windows: Annotated[list[Id], Field(min_length=1, max_length=60)]
    name: Words
    how: Literal["paper", "signature"]
    signature: Annotated[list[Stroke], Field(max_length=60, default_factory=list)]


class ResultBody(Body):
    """How it came off, and what the bare glass reads."""

    layer: Literal["both", "face_only"]
    glue: Literal["yes", "no"]
    lines_lifted: bool = False
    readings_percent: Annotated[list[Percent], Field(max_length=20, default_factory=list)]
    note: LongText = ""
    version: Version  # of the window


class ResultOut(BaseModel):
    """What a reading of the bare glass changed."""

    window_id: str
    before: VerdictWord | None
    after: VerdictWord | None
    loud: str  # said loudly; empty where nothing changed


class StripPaperQuery(BaseModel):
    """Paper to print on."""

    paper: Paper = Paper.LETTER

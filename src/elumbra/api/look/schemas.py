"""Look as its screens show it, and what they send."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, ShortText, Typed, Version
from elumbra.core.inspection import Decision, HuntSide, Told, Unit, Wetness, Wording, Zone
from elumbra.core.law import VerdictWord
from elumbra.documents.money import Priced

When = Literal["leaving", "final", "callback"]
Share = Annotated[float, Field(ge=0, le=1)]


class FlawKindOut(BaseModel):
    """A kind of flaw that can be put on a pane."""

    id: str
    short: str
    words: str
    note: str
    section: str


class FlawKindsOut(BaseModel):
    """All kinds of flaws."""

    kinds: list[FlawKindOut]


class HuntOut(BaseModel):
    """One way of looking."""

    id: str
    side: HuntSide
    say: str


class StandardRuleOut(BaseModel):
    """So many of a kind may stay in a zone, none larger than this."""

    kind: str
    zone: Zone
    most: int
    mm: float


class StandardOut(BaseModel):
    """The shop's written standard."""

    unit: Unit
    rules: list[StandardRuleOut]
    own: bool
    version: int


class SaidOut(BaseModel):
    """A fact of the run."""

    words: str
    told: Told


class CauseOut(BaseModel):
    """A likely cause with what speaks for and against it."""

    id: str
    words: str
    percent: float
    section: str
    speaks_for: list[SaidOut]
    against: list[SaidOut]
    unknown: list[SaidOut]


class AskOut(BaseModel):
    """A question that would separate the leading causes."""

    fact: str
    ask: str


class RemedyOut(BaseModel):
    """One thing to do."""

    do: str
    heat: str
    press: str
    tool: str


class RedoOut(BaseModel):
    """What cutting and fitting it once more costs."""

    film: Priced
    minutes: float
    labour: Priced
    total: Priced
    twin: str


class FlawOut(BaseModel):
    """A flaw with what follows from it."""

    id: str
    version: int
    window_id: str
    kind: str
    short: str
    words: str
    note_of_kind: str
    x: float
    y: float
    zone: Zone
    where: str
    seen_from: HuntSide
    state: Wetness
    size_mm: float | None
    count: int
    when: When
    note: str
    decision: Decision
    standard_says: Decision | None  # None once it is closed
    because: str  # by the standard, or the reason why it was overruled
    overruled: bool
    asks_owner: bool
    accepted_by: str
    tries: int
    closed: Literal["", "gone", "kept", "redone"]
    settled: bool
    redo_open: bool  # decided, and the new piece is not on yet
    causes: list[CauseOut]
    questions: list[AskOut]
    remedy: list[RemedyOut]
    redo: RedoOut | None  # what it would cost, while it stands open
    photos: list[str]
    person: str
    at: datetime


class LookedOut(BaseModel):
    """That a pane was looked over."""

    id: str
    version: int
    clean: bool
    person: str
    at: datetime


class ReadOut(BaseModel):
    """The finished pane metered."""

    id: str
    version: int
    percent: float
    predicted_percent: float
    predicted_pm: float
    on_day: str


class LookWindowOut(BaseModel):
    """One window at Look."""

    window_id: str
    made: bool  # whether its film is on: only then can it be without flaws
    label: str
    film: str
    film_id: str
    lot: str
    strip: bool
    work_done: bool
    hunt: list[str]
    leaving: LookedOut | None
    final: LookedOut | None
    flaws: list[FlawOut]
    readings: list[ReadOut]
    predicted_percent: float | None
    predicted_low: float | None
    predicted_high: float | None
    word: VerdictWord | None  # the law's on the reading
    sentence: str
    asks_reason: bool  # the reading says no, and no reason of the lead covers that
    wording: Wording
    rulers: dict[str, str]
    deepest_mm: float | None
    answer: str


class HoldOn(BaseModel):
    """What keeps the car from being handed over."""

    window_id: str | None
    words: str


class LookOut(BaseModel):
    """A car at Look."""

    job_id: str
    headline: str
    lead: bool
    kinds: list[FlawKindOut]
    hunt: list[HuntOut]
    standard: StandardOut
    windows: list[LookWindowOut]
    holds: list[HoldOn]


class LookBody(Body):
    """A pane was looked over."""

    when: When
    clean: bool
    rulers: Annotated[dict[Literal["left", "middle", "right"], Typed], Field(default_factory=dict)]


class FlawBody(Body):
    """A flaw put on a pane, with one touch."""

    kind: Id
    x: Share
    y: Share
    seen_from: HuntSide = HuntSide.INSIDE
    state: Wetness = Wetness.WET
    size: Typed | None = None
    count: Annotated[int, Field(ge=1, le=200)] = 1
    when: When = "leaving"
    note: LongText = ""


class FlawPatch(Body):
    """What of it is changed."""

    version: Version
    kind: Id | None = None
    x: Share | None = None
    y: Share | None = None
    state: Wetness | None = None
    size: Typed | None = None
    count: Annotated[int, Field(ge=1, le=200)] | None = None
    note: LongText | None = None


class AnswerBody(Body):
    """An answer to a question on its cause."""

    version: Version
    fact: Id
    told: Told


class DecideBody(Body):
    """What becomes of it; no decision: as the standard says."""

    version: Version
    decision: Decision | None = None
    because: LongText = ""
    accepted_by: ShortText = ""


class LookAgainBody(Body):
    """Looked at again."""

    version: Version
    gone: bool


class RuleIn(Body):
    """A rule of the standard."""

    kind: Id
    zone: Zone
    most: Annotated[int, Field(ge=0, le=50)]
    mm: Annotated[float, Field(ge=0, le=1000)]


class StandardBody(Body):
    """The shop's written standard; no rules: ours again."""

    unit: Unit
    rules: Annotated[list[RuleIn], Field(max_length=100)]
    version: Version

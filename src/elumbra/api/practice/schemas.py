"""What the practice glass asks and answers. Lengths in mm as seen from outside, shares in percent, grids as bytes.

A grid is base64 of one byte a cell, rows up from the foot, columns along the cross line.
"""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, Point, Version
from elumbra.core.practice import MOST_AT_ONCE, MOST_STEPS, School
from elumbra.core.shrink import Quarter, ShrinkWord, Unrolled

MOST_STEPS_AT_ONCE = 50
"""Five seconds: a tablet that slept does not play on by itself."""

StrokeRow = Annotated[list[Any], Field(min_length=2, max_length=6)]
Ring = list[Point]


class BestOut(BaseModel):
    """What somebody has done of a lesson."""

    runs: int
    best: int | None
    passes: int


class LessonOut(BaseModel):
    """A lesson."""

    key: str
    title: str
    teaches: str
    film: str
    school: School
    word: ShrinkWord
    percent: float  # the most that must go
    outline: Ring
    mine: BestOut


class TodayOut(BaseModel):
    """The pane that the lead set as today's lesson."""

    window_id: str
    title: str
    note: str
    job_id: str


class RunBrief(BaseModel):
    """A run in a list."""

    id: str
    title: str
    lesson: str
    at: datetime
    seconds: int
    over: bool
    points: int | None
    passed: bool
    headline: str


class LearnerOut(BaseModel):
    """Somebody on the practice glass, as the lead sees him."""

    person_id: str
    name: str
    alone: list[ShrinkWord]
    shown: list[ShrinkWord]  # words of lessons that were passed twice
    lessons: dict[str, BestOut]


class PracticeOut(BaseModel):
    """The practice glass before a run."""

    headline: str
    lessons: list[LessonOut]
    today: TodayOut | None
    today_version: int
    runs: list[RunBrief]
    alone: list[ShrinkWord]
    learners: list[LearnerOut]  # the lead's only
    alone_version: int
    simplified: list[str]


class TodayBody(Body):
    """Today's lesson; no window: there is none."""

    window_id: Id | None
    note: LongText = ""
    version: Version


class AloneBody(Body):
    """What somebody may shrink alone."""

    words: Annotated[list[Literal[ShrinkWord.SNAP, ShrinkWord.CARD, ShrinkWord.HARD]], Field(max_length=3)]
    version: Version


class BeginBody(Body):
    """Which pane: a lesson, a window of a job, or a pane of the shelf; and for the latter which film."""

    lesson: Annotated[str, Field(max_length=40)] | None = None
    window_id: Id | None = None
    pane_id: Id | None = None
    film_id: Id | None = None
    school: School | None = None
    seed: Annotated[int, Field(ge=0, le=2**31)] | None = None


class LieOut(BaseModel):
    """A pane on its film, laid one way; where things stand on its grid."""

    way: Unrolled
    u_from: float
    u_step: float
    v_from: float
    v_step: float
    on_glass: str
    outline: Ring  # seen from outside
    side_lines: Annotated[list[float], Field(min_length=2, max_length=2)]
    order: list[Quarter]  # in which Heat takes the quarters


class HintOut(BaseModel):
    """A sentence of the tutor, and where it is about."""

    about: str
    words: str
    at: Point | None


class SlipOut(BaseModel):
    """Something that went wrong."""

    step: int
    rule: str
    damage: str
    words: str
    instead: str
    source: str
    x: float
    y: float


class FrameOut(BaseModel):
    """A run at one step, as it is seen from outside."""

    step: int
    taken: bool  # whether what was sent was played; else the run stands elsewhere and goes on from here
    way: Unrolled | None
    h_way: Unrolled | None
    lie: Unrolled  # which grid
    sheeted: bool
    dry: bool
    wet: bool
    trimmed: bool
    over: bool
    looks: str
    warmth: str
    stands: str  # tenths of a millimetre
    marks: str  # the worst damage of each cell, as a place in its list; 0 none
    ridges: list[Annotated[list[float], Field(min_length=4, max_length=4)]]  # row, u, height, 1 where it softens
    glass_c: int  # the warmest spot of its outer face
    hint: HintOut
    events: list[SlipOut]


class ScorePartOut(BaseModel):
    """One part of a score."""

    name: str
    points: int
    most: int
    words: str


class ScoreOut(BaseModel):
    """What a run was worth."""

    points: int
    passed: bool
    headline: str
    flat_percent: float
    parts: list[ScorePartOut]


class PracticeRunOut(BaseModel):
    """A run: its pane, its film, and where it stands."""

    id: str
    title: str
    lesson: str
    by: Literal["hand", "robot", "file"]
    mine: bool
    person: str
    film: str
    limit_percent: float
    school: School
    word: ShrinkWord
    seed: int
    rules: str
    stuck: str  # why it cannot be played any more; else empty
    minutes: float  # that Heat plans
    columns: int
    rows: int
    lies: list[LieOut]
    damages: list[str]  # names by place, from 1
    teaches: str
    score: ScoreOut | None
    frame: FrameOut | None
    strokes: int


class StrokesBody(Body):
    """What hands did: from the step that the screen had, up to where."""

    after: Annotated[int, Field(ge=0, le=MOST_STEPS)]
    until: Annotated[int, Field(ge=0, le=MOST_STEPS)]
    strokes: Annotated[list[StrokeRow], Field(max_length=MOST_STEPS_AT_ONCE * MOST_AT_ONCE)]


class StepQuery(BaseModel):
    """Which step."""

    step: Annotated[int, Field(ge=0, le=MOST_STEPS)]


class PracticeReplayOut(BaseModel):
    """A run at a step, with the heat that film has had so far and what hands did just then."""

    frame: FrameOut
    trace: str  # the warmest that film has been, in steps of 2 °C
    hands: list[StrokeRow]  # of the second before


class PracticeFile(Body):
    """A run as a file."""

    format: Literal["elumbra-practice"] = "elumbra-practice"
    format_version: Literal[1] = 1
    rules: Annotated[str, Field(max_length=40)]
    title: Annotated[str, Field(max_length=200)]
    setup: dict[str, Any]
    seed: Annotated[int, Field(ge=0, le=2**31)]
    steps: Annotated[int, Field(ge=0, le=MOST_STEPS)]
    strokes: Annotated[list[StrokeRow], Field(max_length=MOST_STEPS * MOST_AT_ONCE)]

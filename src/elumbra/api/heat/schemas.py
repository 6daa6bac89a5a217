"""What the station Heat asks and answers. Lengths in mm, shares in percent; drawings as seen from outside."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, PaperQuery, Point, Version
from elumbra.core.shrink import Ask, Quarter, ShrinkWord
from elumbra.core.work import Station
from elumbra.documents.money import Priced

Ring = list[Point]


class ShrinkQuery(BaseModel):
    """How the film is tried; what is left out is as it was decided."""

    height_mm: Annotated[float, Field(ge=0, le=3000, allow_inf_nan=False)] | None = None
    slope: Annotated[float, Field(ge=-0.5, le=0.5, allow_inf_nan=False)] = 0.0
    turned: bool | None = None
    best: bool = False  # at the best anchor, whatever was decided
    part: Annotated[int, Field(ge=0, le=6)] = 0  # of several strips, from the top; 0: the pane as a whole
    film_id: Id | None = None


class PartQuery(BaseModel):
    """Which strip of a pane in several; 0: the pane as a whole."""

    part: Annotated[int, Field(ge=0, le=6)] = 0


class SheetQuery(PartQuery, PaperQuery):
    """The same, and the paper."""


class IntervalOut(BaseModel):
    """A shrink with its 95 % interval."""

    percent: float
    low_percent: float
    high_percent: float
    words: str


class AnchorOut(BaseModel):
    """Where the cross line goes, by a tape on the outside of the glass."""

    turned: bool
    height_mm: float  # at the middle: above the foot, turned from the left edge
    most_mm: float  # as far as it can go
    slope: float
    side_heights_mm: Annotated[list[float], Field(min_length=2, max_length=2)]
    side_places_mm: Annotated[list[float], Field(min_length=2, max_length=2)]
    best: bool


class ContourOut(BaseModel):
    """Where film must shrink by so much; under 0 it would have to stretch."""

    percent: float
    words: str
    is_limit: bool
    lines: list[Ring]


class FingerOut(BaseModel):
    """A ridge, from where film stands up to the edge."""

    quarter: Quarter
    line: Ring


class BiteOut(BaseModel):
    """One bite of heat."""

    number: int
    quarter: Quarter
    ring: Ring


class ZoneOut(BaseModel):
    """A quarter of the film, in the order of heating."""

    quarter: Quarter
    word: ShrinkWord
    largest_percent: float
    words: str
    spare_mm: float
    fingers: int
    finger_height_mm: float  # an estimate
    bites: int
    minutes: float


class AdviceOut(BaseModel):
    """One answer on the school."""

    ask: Ask
    label: str
    words: str
    why: str
    section: str
    overruled: bool


class DifferenceOut(BaseModel):
    """How far a drawing is from the true pattern."""

    largest_mm: float
    wider_mm: float
    taller_mm: float


class StripPieceOut(BaseModel):
    """One of several strips, from the top."""

    number: int
    height_mm: float
    words: str
    on_line: bool
    ring: Ring


class FilmForIt(BaseModel):
    """Another film on the same glass, lying the same way."""

    film_id: str
    name: str
    vlt_percent: float
    limit_percent: float
    limit_known: bool
    stocked: bool
    word: ShrinkWord


class ShrinkView(BaseModel):
    """A window's film on its glass."""

    sentence: str
    word: ShrinkWord
    shrink: IntervalOut
    limit_percent: float
    limit_known: bool  # the film's own figure, not our starting value
    asks: str  # the reading that settles it, in words; else empty
    held: str  # why the knife must leave it; else empty
    flat: bool
    stretch_percent: float
    film_area_mm2: float
    glass_area_mm2: float
    spare_mm2: float
    anchor: AnchorOut
    outline: Ring
    cut_line: Ring
    measured: bool
    contours: list[ContourOut]
    fingers: list[FingerOut]
    bites: list[BiteOut]
    side_lines_mm: Annotated[list[float], Field(min_length=2, max_length=2)]
    from_edges_mm: float
    zones: list[ZoneOut]
    minutes: float
    ridges_shrink: bool
    profile_across: Ring
    profile_up: Ring
    school: list[AdviceOut]
    steps: list[str]
    cautions: list[str]
    temperature: str
    why: list[str]
    projection: DifferenceOut | None
    projected_outline: Ring
    developed: DifferenceOut | None
    strips: list[StripPieceOut]
    part: int
    films: list[FilmForIt]


class ShrinkOut(BaseModel):
    """One window at Heat: its view, or why there is none and where that is mended."""

    window_id: str
    film: str  # its name; empty while none is chosen
    crowns_read: bool
    tells: str  # what of the curve is known, in words
    view: ShrinkView | None
    stuck: str
    mend_at: Station | None


class WayOut(BaseModel):
    """A way out: what it takes, and what it costs beside the piece as it is."""

    kind: Literal["as_it_is", "turned", "strips", "film", "anchor"]
    words: str
    why: str
    works: bool
    word: ShrinkWord | None
    shrink: IntervalOut | None
    enough: bool  # on the rack
    dollars: Priced | None  # film and cutting; None where the rack has not enough of it
    more_dollars: Priced | None  # than as it is
    minutes: float  # of heating
    film_id: str | None = None
    film_turned: bool = False
    in_strips: bool = False


class WaysOutOut(BaseModel):
    """Ways to get film onto a window's glass."""

    ways: list[WayOut]


class CarWindowOut(BaseModel):
    """A window of the car at a glance."""

    window_id: str
    label: str
    sentence: str
    word: ShrinkWord | None
    words: str
    minutes: float
    stuck: str


class CarHeatOut(BaseModel):
    """The whole car at Heat."""

    windows: list[CarWindowOut]
    minutes: float
    headline: str


class SchoolAsk(BaseModel):
    """A question on the school, and what can be answered."""

    ask: Ask
    label: str
    options: dict[str, str]


class SchoolOut(BaseModel):
    """How the shop shrinks, where it does not follow what is computed."""

    asks: list[SchoolAsk]
    water: str | None
    hand: str | None
    place: str | None
    version: int


class SchoolBody(Body):
    """The shop's own school; none follows what is computed."""

    water: Literal["dry", "wet"] | None
    hand: Literal["glove", "card"] | None
    place: Literal["car", "board"] | None
    version: Version

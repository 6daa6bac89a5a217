"""What the job screens send and get. Lengths in mm and as typed, light in percent."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.answers import Body
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import VehicleClass, VerdictWord
from elumbra.core.light import GlassSource
from elumbra.core.measure import Figure, Level, TapeMode

Percent = Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)]
Words = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Text = Annotated[str, StringConstraints(strip_whitespace=True, max_length=2000)]
JobStatus = Literal["booked", "in_bay", "paused", "done"]
Point = Annotated[list[float], Field(min_length=2, max_length=2)]


class ReadingOut(BaseModel):
    """A tape reading."""

    typed: str
    mm: float
    mode: TapeMode


class ReadingIn(Body):
    """A tape reading as typed."""

    typed: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
    mode: TapeMode = TapeMode.SURFACE


class KeyLabel(BaseModel):
    """A reading's key and what an installer calls it."""

    key: str
    label: str


class ClosingChangeOut(BaseModel):
    """A change of one reading that alone would close the figure."""

    key: str
    label: str
    sentence: str
    closing_mm: float
    slip: str | None


class FitOut(BaseModel):
    """How well the readings close."""

    redundancy: int
    misclosure_sigma: float
    alarm_sigma: float
    alarm: bool
    changes: list[ClosingChangeOut]
    ask_for: KeyLabel | None
    culprit: ClosingChangeOut | None


class PaneOut(BaseModel):
    """A pane's outline seen from outside the car."""

    measured: bool
    ring: list[Point]
    corners: list[Point]
    width_mm: float | None
    height_mm: float | None
    missing: list[KeyLabel]
    cautions: list[str]
    fit: FitOut | None


class VerdictOut(BaseModel):
    """One state's answer."""

    word: VerdictWord
    state: str
    state_name: str
    sentence: str
    citation: str
    vlt_percent: float | None
    limit_percent: float | None
    margin_points: float | None
    risk: float | None
    questions: list[str]
    notes: list[str]
    unconfirmed: list[str]


class ShadeOut(BaseModel):
    """How dark a window is or will be."""

    bare_percent: float | None
    vlt_percent: float | None
    bonded_percent: float | None
    bench_percent: float | None
    pm_points: float | None
    formula: str
    backdrop: str  # colour of a white backdrop seen through it


class FilmChoice(BaseModel):
    """What a film would give on a window."""

    film_id: str
    vlt_percent: float | None
    word: VerdictWord
    stocked: bool


class WindowOut(BaseModel):
    """A window with all that follows from its readings."""

    id: str
    version: int
    ordinal: int
    label: str
    position: Position
    side: Side
    kind: WindowKind
    glass_type: GlassType
    bare_vlt_percent: float | None
    bare_vlt_source: GlassSource
    old_film: bool
    film_id: str | None
    coverage: Literal["full", "strip"]
    curve: Curve
    level: Level
    figure: Figure
    readings: dict[str, ReadingOut]
    same_as_id: str | None
    same_as_mirrored: bool
    pane: PaneOut
    shade: ShadeOut
    verdicts: list[VerdictOut]
    worst: VerdictWord | None
    choices: list[FilmChoice]
    darkest_clearing: str | None
    cannot_cut: str | None


class FilmBrief(BaseModel):
    """A film as a job screen names it."""

    id: str
    name: str
    vlt_percent: float
    construction: str
    stocked: bool


class JobOut(BaseModel):
    """A job with its windows in walkaround order."""

    id: str
    version: int
    number: int
    title: str
    customer: str
    note: str
    status: JobStatus
    bay: str
    promised_at: datetime | None
    vehicle_label: str
    body: str
    vehicle_class: VehicleClass
    states: list[str]
    mirrors_both_sides: bool | None
    model_year: int | None
    removed: bool
    windows: list[WindowOut]
    films: list[FilmBrief]
    input_hash: str


class JobBrief(BaseModel):
    """A job in a list."""

    id: str
    version: int
    number: int
    title: str
    customer: str
    vehicle_label: str
    states: list[str]
    status: JobStatus
    bay: str
    promised_at: datetime | None
    worst: VerdictWord | None
    problems: list[str]
    filmed: int
    measured: int
    windows: int
    band: list[BandPane]


class BandPane(BaseModel):
    """A window as the small band draws it."""

    ring: list[Point]
    measured: bool
    backdrop: str


class JobList(BaseModel):
    """All jobs, newest number first."""

    jobs: list[JobBrief]


class JobCreate(Body):
    """A new job from a body style's window list."""

    title: Words | None = None
    customer: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] = ""
    vehicle_label: Words
    body: Words
    states: Annotated[list[str], Field(min_length=1, max_length=6)]
    mirrors_both_sides: bool | None = None
    model_year: Annotated[int, Field(ge=1900, le=2100)] | None = None


class JobPatch(Body):
    """Changes of a job; only what is sent is changed."""

    version: int
    title: Words | None = None
    customer: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] | None = None
    note: Text | None = None
    status: JobStatus | None = None
    bay: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] | None = None
    promised_at: datetime | None = None
    vehicle_label: Words | None = None
    vehicle_class: VehicleClass | None = None
    states: Annotated[list[str], Field(min_length=1, max_length=6)] | None = None
    mirrors_both_sides: bool | None = None
    model_year: Annotated[int, Field(ge=1900, le=2100)] | None = None


class WindowPatch(Body):
    """Changes of a window; only what is sent is changed. A reading set to null is taken out."""

    version: int
    label: Words | None = None
    position: Position | None = None
    side: Side | None = None
    kind: WindowKind | None = None
    glass_type: GlassType | None = None
    bare_vlt_percent: Percent | None = None
    bare_vlt_source: GlassSource | None = None
    old_film: bool | None = None
    film_id: str | None = None
    coverage: Literal["full", "strip"] | None = None
    curve: Curve | None = None
    level: Level | None = None
    figure: Figure | None = None
    readings: dict[str, ReadingIn | None] | None = None
    same_as_id: str | None = None
    same_as_mirrored: bool | None = None


class WindowCreate(Body):
    """A further window, put last in the walkaround order."""

    label: Words
    position: Position
    side: Side = Side.CENTRE
    kind: WindowKind
    glass_type: GlassType = GlassType.UNKNOWN
    curve: Curve = Curve.FLAT
    figure: Figure = Figure.FOUR
    same_as_id: str | None = None
    same_as_mirrored: bool = False


class FilmForMany(Body):
    """One film, or none, for several windows at once."""

    film_id: str | None
    window_ids: Annotated[list[str], Field(min_length=1, max_length=60)]


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


class BoardOut(BaseModel):
    """The first screen: what is in the bays, what is next, what is stuck."""

    in_bays: list[JobBrief]
    next: list[JobBrief]
    stuck: list[JobBrief]


JobBrief.model_rebuild()

"""What the job screens send and get. Lengths in mm and as typed, light in percent."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.answers import Body, Described
from elumbra.api.verdicts import QuestionOut, VerdictOut
from elumbra.core.cut import StripShape
from elumbra.core.glass import Curve, GlassType, Position, Side, WindowKind
from elumbra.core.law import RegisteredAs, VehicleClass, VerdictWord
from elumbra.core.light import GlassSource, Hour, Seat
from elumbra.core.measure import Figure, Level, TapeMode
from elumbra.core.work import Feature, ProposalKind, ReasonKind

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


class ShadeOut(BaseModel):
    """How dark a window is or will be."""

    bare_percent: float | None
    bare_pm_points: float | None
    vlt_percent: float | None
    bonded_percent: float | None
    bench_percent: float | None
    chain_percent: float | None  # the full chain of faces, for comparison
    reflects_outside_percent: float | None
    reflects_inside_percent: float | None
    pm_points: float | None
    formula: str
    backdrop: str  # colour of a white backdrop seen through it
    bare_backdrop: str  # the same without the new film: the glass below a strip


class HeatOut(BaseModel):
    """What the film does besides darkening; null where its data do not say."""

    tser_percent: float | None
    absorbed_percent: float | None
    glare_percent: float | None
    uv_percent: float | None
    warranty: str
    radio: str | None
    break_reasons: list[str]


class ReasonOut(BaseModel):
    """A lead's reason for an unlawful film; the verdict stays."""

    id: str
    version: int
    kind: ReasonKind
    words: str
    wish: str
    document: str
    expires_on: str
    note: str
    standing: bool  # given for the film that is chosen now, and not run out
    expired: bool


class ReasonIn(Body):
    """A lead's reason for the film that is chosen, or the film that goes on instead."""

    film_id: str  # the film the lead saw on the window
    kind: ReasonKind
    document: Annotated[str, StringConstraints(strip_whitespace=True, max_length=120)] = ""
    expires_on: Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)] = ""
    change_to: str | None = None  # for a declined wish: the lawful film; none leaves the glass bare


class LeastSheet(BaseModel):
    """The lightest-needed film: the highest limit and the least sheet VLT that clears it."""

    limit_percent: float
    sheet_percent: float


class LawChangeOut(BaseModel):
    """What has changed in the rule book since the job was judged."""

    state: str
    field: str
    before: str
    now: str


class StatePapers(BaseModel):
    """What a state asks for on paper or on the glass, and whether it knows medical exemptions."""

    state: str
    state_name: str
    sticker: str
    sticker_note: str
    medical: str
    medical_note: str
    unconfirmed: bool


class JobLaw(BaseModel):
    """The law that the job is judged by."""

    version: str
    day: str
    revision: int
    changes: list[LawChangeOut]
    papers: list[StatePapers]


class FilmChoice(BaseModel):
    """What a film would give on a window."""

    film_id: str
    vlt_percent: float | None
    word: VerdictWord
    spoils: list[str]  # other windows that it would make unlawful
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
    bare_readings_percent: list[float]
    bare_vlt_through_old_film: bool
    old_film: bool
    old_film_stays: bool
    layers: list[str]
    factory_glass: bool | None
    as1_mark: bool | None
    features: list[Feature]
    strip_shape: StripShape
    strip_pieces: int
    film_id: str | None
    coverage: Literal["full", "strip"]
    curve: Curve
    level: Level
    figure: Figure
    readings: dict[str, ReadingOut]
    same_as_id: str | None
    same_as_mirrored: bool
    pane: PaneOut
    strip_rings: list[list[Point]]  # outlines of the strip on it, where its depth is read
    shade: ShadeOut
    verdicts: list[VerdictOut]
    worst: VerdictWord | None
    choices: list[FilmChoice]
    darkest_clearing: str | None
    nearest_rear: str | None  # for a front side: film that clears and comes nearest the rear
    least_sheet: LeastSheet | None
    heat: HeatOut | None
    reason: ReasonOut | None
    cannot_cut: str | None


class FilmBrief(BaseModel):
    """A film as a job screen names it."""

    id: str
    name: str
    vlt_percent: float
    construction: str
    stocked: bool
    lot: LotOut | None


class LotOut(BaseModel):
    """A lot's own figure, from readings after installation."""

    lot: str
    vlt_percent: float
    pm_points: float
    readings: int


class JobOut(Described):
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
    registered_as: RegisteredAs | None
    no_glass_at: list[Position]
    removed: bool
    windows: list[WindowOut]
    films: list[FilmBrief]
    rear_percent: float | None  # darkest glass behind the driver, as planned
    law: JobLaw
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
    registered_as: RegisteredAs | None = None
    no_glass_at: Annotated[list[Position], Field(max_length=5)] | None = None


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
    bare_readings_percent: Annotated[list[Percent], Field(max_length=20)] | None = None
    bare_vlt_through_old_film: bool | None = None
    old_film: bool | None = None
    old_film_stays: bool | None = None
    layers: Annotated[list[str], Field(max_length=4)] | None = None
    factory_glass: bool | None = None
    as1_mark: bool | None = None
    features: list[Feature] | None = None
    strip_shape: StripShape | None = None
    strip_pieces: Annotated[int, Field(ge=1, le=2)] | None = None
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


class FilmsByWindow(Body):
    """A film, or none, for each of several windows: a whole proposal at once."""

    films: Annotated[dict[str, str | None], Field(min_length=1, max_length=60)]


class Looks(BaseModel):
    """Colours of all panes by window, for an hour of the day, seen from one side."""

    hour: Hour
    seat: Seat
    colours: dict[str, str]


class ProposedWindowOut(BaseModel):
    """One window of a proposal."""

    window_id: str
    film_id: str | None
    vlt_percent: float | None
    word: VerdictWord | None
    alternatives: list[str]


class ProposalOut(BaseModel):
    """Films for a whole car, lawful as a whole, and how it looks."""

    kinds: list[ProposalKind]
    title: str
    windows: list[ProposedWindowOut]
    open_windows: list[str]
    looks: list[Looks]


class ProposalsOut(BaseModel):
    """The car as planned now, and up to four proposals."""

    now: list[Looks]
    proposals: list[ProposalOut]


class ElsewhereWindow(BaseModel):
    """One window's answer in a jurisdiction."""

    window_id: str
    label: str
    word: VerdictWord
    sentence: str


class Elsewhere(BaseModel):
    """The plan's worst answer in a jurisdiction."""

    code: str
    name: str
    word: VerdictWord | None
    windows: list[ElsewhereWindow]


class EverywhereOut(BaseModel):
    """The plan in every jurisdiction on file."""

    day: str
    states: list[Elsewhere]


class RulerOut(BaseModel):
    """Where the ruler lies on the windshield and what it must read."""

    at: Literal["left", "middle", "right"]
    x_mm: float
    top_mm: float
    reads_mm: float


class ReachOut(BaseModel):
    """How deep a state lets the strip reach."""

    state: str
    state_name: str
    words: str
    depth_mm: float | None
    question: QuestionOut | None
    none_allowed: bool


class StripOut(BaseModel):
    """A strip laid out on its windshield."""

    window_id: str
    reaches: list[ReachOut]
    allowed_mm: float | None  # the least of them; null while one is open
    depth_mm: float | None  # laid out: as read, else as allowed
    over_mm: float  # how much deeper than allowed
    shape: StripShape
    pieces_wanted: int
    edge: list[Point]
    pieces: list[list[Point]]
    rulers: list[RulerOut]
    blank_width_mm: float | None
    blank_height_mm: float | None
    cautions: list[str]
    refused: str | None  # why it cannot be laid out


class InstalledIn(Body):
    """A pane metered with its new film on."""

    read_percent: Percent
    lot: Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60)]


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


FilmBrief.model_rebuild()
JobBrief.model_rebuild()

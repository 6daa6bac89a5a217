"""The job as its screens show it. Lengths in mm and as typed, light in percent."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel
from pydantic.dataclasses import dataclass as part

from elumbra.api.base.bodies import SAID, Described, Point
from elumbra.api.car_view.reason_schemas import ReasonOut
from elumbra.api.car_view.verdicts import QuestionOut, VerdictOut
from elumbra.core.deeds import Deed, State
from elumbra.core.glass import Curve
from elumbra.core.law import VerdictWord
from elumbra.core.measure import Closing, Figure, Level, LineKind, TapeMode
from elumbra.core.survey import ReadBy
from elumbra.core.work import Station, Tick, VehicleFacts, WindowFacts
from elumbra.documents.facts import with_facts
from elumbra.documents.money import Priced


class ReadingOut(BaseModel):
    """A tape reading."""

    typed: str
    mm: float
    mode: TapeMode


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
    change_mm: float  # what to add to the reading
    slip: str | None


class FitOut(BaseModel):
    """How well the readings close."""

    redundancy: int
    misclosure_sigma: float
    alarm_sigma: float
    amber_sigma: float
    closing: Closing
    alarm: bool
    swapped: list[str]  # keys of those two
    swap: str  # two readings that look swapped, in a sentence; else empty
    inward: str  # corners that close it if they point inward, in a sentence; else empty
    softened: bool  # it would be an alarm, had somebody read the crowns
    read_crowns: bool  # it may be the crowns, which nobody has read
    spread_mm: float  # how far a corner may be off by the readings, 95 %
    unseen_mm: float  # and by what a barrel takes for granted, 95 %
    changes: list[ClosingChangeOut]
    ask_for: KeyLabel | None
    culprit: ClosingChangeOut | None


class ReadingLineOut(BaseModel):
    """Where a reading lies on the drawing."""

    key: str
    kind: LineKind
    start: Point
    end: Point


class ServesOut(BaseModel):
    """What a pane is good for as it is known; missing readings stand by."""

    level: Level
    words: str
    missing: list[KeyLabel]


class FollowsOut(BaseModel):
    """What a finding changes at a later station."""

    finding: str
    found: str
    words: str
    read_by: ReadBy
    minutes: float
    dollars: Priced
    tool: str
    caution: str
    no_film: bool
    section: str


class ShelfLink(BaseModel):
    """The record of the shelf that a window's measures came from."""

    car_id: str
    pane_id: str
    version: int  # of its record, for what is told of it
    revision: int
    car: str
    newest: int  # revision of that record now


class PaneOut(BaseModel):
    """A pane's outline seen from outside the car."""

    measured: bool
    ring: list[Point]
    corners: list[Point]
    width_mm: float | None
    height_mm: float | None
    problem: str  # readings that no pane can have
    missing: list[KeyLabel]
    cautions: list[str]
    size_doubt: str  # sizes that glass of this kind hardly has, asked; empty where they are meant
    fit: FitOut | None
    crowns_read: bool  # or glass called flat
    radius_across_mm: float | None  # as read or as the class lets expect; null: straight
    radius_up_mm: float | None
    lines: list[ReadingLineOut]
    serves: list[ServesOut]
    mirror_doubt: str  # why it may have been read as its mirror image; else empty


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


class LotOut(BaseModel):
    """A lot's own figure, from readings after installation."""

    lot: str
    vlt_percent: float
    pm_points: float
    readings: int


class FilmBrief(BaseModel):
    """A film as a job screen names it."""

    id: str
    name: str
    vlt_percent: float
    construction: str
    stocked: bool
    removed: bool
    lot: LotOut | None


class TicksOut(BaseModel):
    """Where a window stands at each station."""

    survey: Tick
    shade: Tick
    strip_off: Tick | None  # only where old film comes off
    cut: Tick
    heat: Tick
    bay: Tick
    look: Tick
    handover: Tick
    quote: Tick | None  # only where a quote was accepted


@part(frozen=True, kw_only=True, config=SAID)
class WindowOut(WindowFacts):
    """A window with all that follows from its readings."""

    id: str
    version: int
    ordinal: int
    label: str
    layers: list[str]
    film_id: str | None
    curve: Curve
    level: Level
    figure: Figure
    readings: dict[str, ReadingOut]
    reentrant: list[str]
    corner_names: list[str]
    findings_asked: list[str]  # in the order one looks
    follows: list[FollowsOut]
    no_film: str  # why no film goes on it at all; else empty
    other_side_id: str | None  # its counterpart on the other side
    suggested: dict[str, str | list[str]]  # what the other side or the shelf says, where nobody answered here
    under_old_film: bool  # and what that hides decides
    shelf: ShelfLink | None
    same_as_id: str | None
    same_as_mirrored: bool
    asks: list[str]  # facts that it is asked for, in the order they are asked
    asked_readings: list[str]  # readings that it is asked for at its level, in order
    refining_readings: list[str]
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
    meter_doubt: str  # why the meter's readings are not taken; else empty
    unmetered_percent: float  # chance that a meter reads under on glass that nobody metered; 0: nothing to ask
    cut: CutOut | None
    held: str | None  # why the knife must leave it
    held_at: Station | None  # where that is mended
    settled_by: str  # the reading that would settle what its film takes; else empty
    held_by: list[QuestionOut]  # questions whose answers release it
    ticks: TicksOut


class CutOut(BaseModel):
    """Film that was cut for a window."""

    cutting_id: str
    film_id: str
    lot: str
    roll: str
    on_day: str
    person: str
    standing: bool  # of the film that is chosen now


class FilmGroupOut(BaseModel):
    """Windows that a film is commonly put on at once."""

    words: str
    window_ids: list[str]


class KeptOut(BaseModel):
    """An offcut that went back on the rack."""

    stock_id: str
    label: str
    size: str


class CuttingOut(BaseModel):
    """One time that film was cut for this job."""

    id: str
    version: int
    on_day: str
    person: str
    windows: list[str]
    taken: list[str]  # lengths off rolls, in words
    kept: list[KeptOut]
    may_be_taken_back: bool


class HoldOut(BaseModel):
    """Film held for a job."""

    stock_id: str
    label: str
    length_mm: float
    until: str
    person: str


class PhotoOut(BaseModel):
    """A picture of the car."""

    id: str
    window_id: str | None
    flaw_id: str | None
    at: datetime
    person: str


class DeedOut(BaseModel):
    """What was done with a job as a whole."""

    deed: Deed
    state: State  # after it
    at: datetime
    person: str
    reason: str
    by_upgrade: bool  # put down by an upgrade, as far as the state of then told


class NextDeedOut(BaseModel):
    """What can be done with a job now."""

    deed: Deed
    reason_asked: bool
    roles: list[str]  # whose button it is
    bays: list[str]  # where it can start


class JobLink(BaseModel):
    """Another job."""

    id: str
    number: int


@with_facts(VehicleFacts)
class JobOut(Described):
    """A job with its windows in walkaround order."""

    id: str
    version: int
    number: int
    title: str
    customer: str
    note: str
    status: State
    deeds: list[DeedOut]  # all that was done with it as a whole, oldest first
    next_deeds: list[NextDeedOut]  # what can be done now by a button
    redo_of: JobLink | None  # the delivered job that it mends
    redone_in: list[JobLink]  # the jobs that mend it
    bay: str
    promised_at: datetime | None
    vehicle_label: str
    body: str
    removed: bool
    stuck: str | None  # why nothing can be worked out for it, with the mend; it then shows no windows
    windows: list[WindowOut]
    films: list[FilmBrief]
    film_groups: list[FilmGroupOut]
    readiness: str  # how many windows are ready for the knife, in words
    class_contradiction: str  # where the registration says another class; else empty
    cuttings: list[CuttingOut]  # newest first
    holds: list[HoldOut]  # film held for this job
    rear_percent: float | None  # darkest glass behind the driver, as planned
    worst: VerdictWord | None
    follows: list[FollowsOut]  # from what was found on the car as a whole
    photos: list[PhotoOut]
    law: JobLaw
    input_hash: str

"""The plan document: what is cut from which roll and how, ready for screen, PDF and SVG.

It stands by itself: whoever draws or prints it needs nothing else. Lengths in mm, light in
percent, money in dollars.
"""

from __future__ import annotations

import re
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.core.cut import CutMethod
from elumbra.core.glass import Side
from elumbra.core.units import format_inches
from elumbra.documents.money import Priced, PricedWords
from elumbra.documents.plan_short import PlanPart, PlanShort

# Along and across, or x and y.
Point = Annotated[list[float], Field(min_length=2, max_length=2)]


class _Part(PlanPart, BaseModel):
    """A part of this document."""


class PlanStock(_Part):
    """A roll, offcut or sheet that the plan may cut from."""

    id: str
    label: str
    kind: Literal["roll", "offcut", "sheet"]
    width_mm: float
    length_mm: float
    used_mm: float
    lot: str
    liner: Literal["up", "down", "unknown"]
    facing: str


class PlanAllowance(_Part):
    """How far film is cut past an edge that is seen, and why; ``at`` is where that edge lies on the film."""

    edge: str
    name: str
    mm: float
    at: Point | None = None

    @property
    def words(self) -> str:
        """To the thirty-second, which is finer than the ruler: 1/8 in, behind the seal."""
        size = format_inches(abs(self.mm), denominator=32)
        if size == "0":
            return self.name
        return f"{size} in{' inside' if self.mm < 0 else ''}, {self.name}"


class PlanPiece(_Part):
    """A piece in its place on the stock; ``outline`` is its pane, drawn as seen from above."""

    mark: str
    kind: Literal["blank", "pattern"] = "blank"
    window_id: str
    label: str
    side: Side
    stock_id: str
    x_mm: float
    y_mm: float
    along_mm: float
    across_mm: float
    turn: Annotated[float, Field(ge=0, lt=360)]  # degrees, counter-clockwise seen liner side up
    factory_edge: bool
    measured: bool
    outline: list[Point]
    pair_mark: str | None
    second_of_pair: bool = False  # the later of the two
    play_mm: float | None = None  # each side, where less than usual was accepted
    method: str = "bulk"  # its way of cutting
    minutes: float = 0.0  # of cutting it; half for the second of a pair
    cut_line: list[Point] = []  # of a pattern, as seen from above
    true_pattern: bool = False  # cut line and pane are those of the flat film that shrinks onto curved glass
    ticks: list[list[Point]] = []  # outside a true pattern, where the cross line and the centre meet its edge
    allowances: list[PlanAllowance] = []  # by edge
    by_hand: bool = False  # it lies where somebody put it
    part: str = ""  # of a strip in two pieces
    turns: list[float] = []  # ways in which it may lie, degrees
    unlawful: str  # its verdict and the lead's reason, where it is cut though the law says no; else empty

    @property
    def id(self) -> str:
        """Its window, and which part of it."""
        return f"{self.window_id}:{self.part}" if self.part else self.window_id

    @property
    def drawn_as(self) -> str:
        """Whether a pattern is the flat film that shrinks onto its glass, or a drawing; nothing for a blank."""
        return "" if self.kind == "blank" else "true pattern" if self.true_pattern else "projection"

    @property
    def twin_words(self) -> str:
        """How it stands to its twin, in words: cut double on the glass, else its mirror image."""
        if self.pair_mark is None:
            return ""
        if self.kind == "pattern" or not self.method.startswith("bulk"):
            return f"mirror image of {self.pair_mark}"
        return (
            f"second sheet on {self.pair_mark}, turned over"
            if self.second_of_pair
            else f"cut double with {self.pair_mark}"
        )

    @property
    def allowance_words(self) -> str:
        """Its allowances in one line, edges that are alike together."""
        edges: dict[str, list[str]] = {}
        for one in self.allowances:
            edges.setdefault(one.words, []).append(one.edge)
        return "; ".join(f"{', '.join(where)} {words}" for words, where in edges.items())

    @property
    def film_area(self) -> float:
        """Film that is used up by it [mm²]."""
        if self.kind == "blank":
            return self.along_mm * self.across_mm
        around = zip(self.cut_line, [*self.cut_line[1:], self.cut_line[0]], strict=True)
        return abs(sum(x * v - u * y for (x, y), (u, v) in around)) / 2


class PlanCut(_Part):
    """One knife cut, numbered in working order."""

    number: int
    stock_id: str
    kind: Literal["across_roll", "along", "across_lane"]
    at_mm: float
    measured_from: str
    start: Point
    end: Point


class PlanLeftover(_Part):
    """What is left of the film cut off, or of an offcut."""

    stock_id: str
    x_mm: float
    y_mm: float
    along_mm: float
    across_mm: float
    usable: bool
    label: str = ""  # what it is called on the rack, once it is kept
    use: str = ""  # what it can still become


class PlanUnplaced(_Part):
    """A piece that the rack has no film for."""

    window_id: str
    label: str
    reason: str
    width_needed_mm: float
    length_needed_mm: float
    pull_width_mm: float | None
    fits_with_play_mm: float | None = None  # what it could do with, each side, on the widest stock there is
    two_lots: bool = False  # it is here only because its twin comes from another lot


class PlanReady(_Part):
    """A window whose film came ready cut."""

    window_id: str
    label: str


class PlanScore(_Part):
    """What a layout costs and leaves."""

    new_film: Priced
    offcuts_used: Priced
    minutes: float
    labour: Priced
    offcuts_kept: Priced
    net: Priced
    roll_length_mm: float
    yield_percent: float


class PlanSheetOutlines(_Part):
    """How pieces go on a bought sheet that are cut along their outlines, with play all round."""

    play_mm: float
    needed_mm: float | None
    least_width_mm: float | None
    least_length_mm: float | None


class PlanSheet(_Part):
    """How the pieces go on a bought sheet."""

    width_mm: float
    length_mm: float
    needed_mm: float | None  # length that holds all pieces at that width; none does where null
    least_width_mm: float | None  # the least customary sheet that holds all
    least_length_mm: float | None
    by_outlines: PlanSheetOutlines | None = None  # the same for pieces cut along their outlines


class PlanWay(_Part):
    """A way of cutting, its steps, and the windows cut so."""

    method: CutMethod
    words: str
    steps: list[str]
    labels: list[str]
    minutes: float


class FilmPlan(_Part):
    """All pieces of one film."""

    film_id: str
    film_name: str
    film_vlt_percent: float
    stocks: list[PlanStock]
    pieces: list[PlanPiece]
    cuts: list[PlanCut]
    leftovers: list[PlanLeftover]
    unplaced: list[PlanUnplaced]
    short: PlanShort | None = None  # once the search is over, where pieces are left out
    ready_cut: list[PlanReady] = []  # of a kit: checked on the glass, nothing laid out
    ways: list[PlanWay] = []  # ways of cutting that are used, with their steps
    why: PricedWords = []  # why this stock and this way round, in sentences
    by_hand_refused: list[str] = []  # pieces that cannot lie where somebody put them, and why, in sentences
    score: PlanScore
    bound_area: Priced
    bound_free: Priced
    baseline_narrowest: PlanScore | None
    baseline_single: PlanScore | None
    proven: bool
    finished: bool
    each_alone: PlanScore | None = None  # of a day: every car's own plan, one after another
    shared_by: list[str] = []  # of a day: numbers of the jobs that get this film
    sheet: PlanSheet | None = None  # where the film is one bought sheet
    hypothetical: bool  # no such roll on the rack: customary widths were tried


class PlanVerdict(_Part):
    """A window's darkness and the state's answer, for the papers."""

    window_id: str
    label: str
    film_name: str | None
    vlt_percent: float | None
    pm_points: float | None
    state: str | None
    word: str | None
    sentence: str
    citation: str
    unconfirmed: bool
    tolerance_points: float | None  # granted by the law, where the window lies within it
    limit_percent: float | None = None
    others: str = ""  # the other states' answers
    reason: str  # the lead's reason, in words; the verdict stays
    goes_on: bool  # on the car only by that reason
    unmetered: str = ""  # of glass that nobody metered: the chance that a meter reads under


class HeldWindow(_Part):
    """A window with film chosen that cannot be cut yet, and the station where that is mended."""

    window_id: str
    label: str
    reason: str
    station: str


class PlanNote(_Part):
    """What was found at the survey and counts at the knife."""

    window_id: str  # empty for what was found on the car as a whole
    label: str
    found: str
    words: str
    caution: str
    minutes: float


def slug(words: str) -> str:
    """Words in letters that every disk takes in a file name."""
    return re.sub(r"[^a-z0-9]+", "-", words.lower()).strip("-")


class PlanReserved(_Part):
    """Film that is held for another job."""

    stock_id: str
    label: str
    length_mm: float
    words: str  # who holds it, for what, until when


class PlanCar(_Part):
    """One of several cars that are cut together."""

    job_id: str
    number: int
    vehicle: str
    ready: str


class PlanDocument(_Part):
    """A cut plan: of a whole job, or of the cars of a day."""

    format: Literal["elumbra-plan"] = "elumbra-plan"
    format_version: Literal[2] = 2
    title: str
    customer: str
    vehicle: str
    states: list[str]
    number: int | None = None  # of the job
    cars: list[PlanCar] = []  # of a day, first promised first
    printed_on: str = ""
    ready: str = ""  # how many windows are ready for the knife, in words
    films: list[FilmPlan]
    held: list[HeldWindow]
    notes: list[PlanNote] = []
    reserved: list[PlanReserved] = []  # held for others, so not planned on
    verdicts: list[PlanVerdict]
    law_version: str
    law_day: str
    starting_version: str
    finished: bool
    proven: bool

    def file_stem(self, film: FilmPlan | None = None) -> str:
        """A file name that tells job, car and film, in letters that every disk takes."""
        films = [film] if film else [one for one in self.films if one.pieces]
        parts = [str(self.number or ""), self.vehicle, *(one.film_name for one in films[:3])]
        return "-".join(words for part in parts if (words := slug(part)))[:100] or "plan"

    def gate_lines(self) -> list[str]:
        """How many windows are ready, and why each of the others is not: for every paper and file."""
        held = [f"Held back: {one.label}. {one.reason}" for one in self.held]
        return [self.ready, *held] if self.ready else held

    def as_ended(self) -> PlanDocument:
        """The same once nobody works on it any more: the best found, proven or not."""
        films = [film.model_copy(update={"finished": True}) for film in self.films]
        return self.model_copy(update={"films": films, "finished": True})

    @property
    def taken(self) -> dict[str, float]:
        """By stock, the length that is taken off it [mm]; an offcut or sheet is taken whole."""
        return {
            stock.id: stock.used_mm if stock.kind == "roll" else stock.length_mm
            for film in self.films
            for stock in film.stocks
            if stock.used_mm > 0
        }

    @property
    def to_buy(self) -> list[dict[str, object]]:
        """What the rack has no film for: film, the roll to pull, and the length that is short [mm]."""
        return [
            {
                "film_id": film.film_id,
                "width_mm": one.pull_width_mm or one.width_needed_mm,
                "length_mm": one.length_needed_mm,
            }
            for film in self.films
            for one in film.unplaced
        ]

    @property
    def summary(self) -> dict[str, object]:
        """What the lists tell of it."""
        return {
            "cut": sorted(self.cut_windows), "unplaced": self.shortages, "taken": self.taken, "to_buy": self.to_buy,
        }  # fmt: skip

    @property
    def cut_windows(self) -> frozenset[str]:
        """Windows that something is cut for."""
        laid = {piece.window_id for film in self.films for piece in film.pieces}
        return frozenset(laid | {one.window_id for film in self.films for one in film.ready_cut})

    @property
    def shortages(self) -> list[str]:
        """Windows that the rack has no film for, in sentences that name them."""
        return [f"{item.label}: no film. {item.reason}" for film in self.films for item in film.unplaced]

"""What Shade sends and gets."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import Body, Id, Percent, Point, ShortText, Version
from elumbra.api.car_view.verdicts import QuestionOut
from elumbra.core.cut import StripShape
from elumbra.core.law import VerdictWord
from elumbra.core.light import Hour, Seat
from elumbra.core.work import ProposalKind, ReasonKind


class ReasonIn(Body):
    """A lead's reason for the film that is chosen, or the film that goes on instead."""

    version: Version  # of the window that the lead saw
    film_id: Id  # the film the lead saw on the window
    kind: ReasonKind
    document: ShortText = ""
    expires_on: Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    note: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)] = ""
    state: Annotated[str, StringConstraints(max_length=2)] = ""  # that issued an exemption
    issued_on: Annotated[str, StringConstraints(pattern=r"^(\d{4}-\d{2}-\d{2})?$")] = ""
    no_expiry: bool = False  # the document names none
    least_percent: Annotated[float, Field(ge=0, le=100)] | None = None  # that the document itself asks for
    citation: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)] = (
        ""  # where it is written what it covers, where the record does not say
    )
    also: Annotated[list[Id], Field(max_length=30, default_factory=list)]  # further windows of the same document
    change_to: Id | None = None  # for a declined wish: the lawful film; none leaves the glass bare


class WindowFilm(Body):
    """The film for a window, or none, and the version of the window that was looked at."""

    film_id: Id | None
    version: Version


class FilmsByWindow(Body):
    """A film, or none, for each of several windows at once: a group, or a whole proposal."""

    films: Annotated[dict[Id, WindowFilm], Field(min_length=1, max_length=60)]


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
    film_id: Id  # the film that was looked through

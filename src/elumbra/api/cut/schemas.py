"""What the cut screens send and get."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import Body, Id, ShortText, Version
from elumbra.api.base.day_words import Date
from elumbra.core.cut import Part
from elumbra.core.nest import Turn
from elumbra.documents.plan import PlanDocument

TaskStatus = Literal["queued", "running", "done", "cancelled", "failed"]


class TaskOut(BaseModel):
    """A layout being worked out, or worked out; ``plan`` is the best verified one so far."""

    id: str
    job_id: str | None
    status: TaskStatus
    progress: int
    input_hash: str
    plan: PlanDocument | None
    error: str


class QuickPiece(Body):
    """A size to cut, as typed."""

    width: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
    height: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
    count: Annotated[int, Field(ge=1, le=20)] = 1
    curved: bool = False


class QuickSheet(Body):
    """A bought sheet to cut from; sizes as typed."""

    width: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = "24 in"
    length: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = "6.5 ft"


class SheetBody(Body):
    """A bought sheet that a job's pieces shall come from; sizes as typed."""

    width: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = "24 in"
    length: Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)] = "6.5 ft"


class QuickBody(Body):
    """Sizes to cut without a job."""

    pieces: Annotated[list[QuickPiece], Field(min_length=1, max_length=20)]
    film_id: str | None = None
    sheet: QuickSheet | None = None  # cut from this, whatever is on the rack
    trimmed: bool = True  # sizes are visible sizes and get the blank's play


class CutBody(Body):
    """The plan that was cut, by the state of the job that it was made from."""

    input_hash: Annotated[str, StringConstraints(min_length=1, max_length=64)]
    keep: Annotated[list[ShortText], Field(max_length=200)] | None = None  # labels of offcuts kept; all by default
    sure: bool = False  # film held for another job may be cut


class DayBody(Body):
    """Cars that are cut together."""

    job_ids: Annotated[list[Id], Field(min_length=1, max_length=12)]


class DayCutBody(CutBody, DayBody):
    """The plan of several cars that was cut."""


class DayQuery(BaseModel):
    """Cars that are cut together, by their jobs' ids with commas between."""

    jobs: Annotated[str, StringConstraints(min_length=1, max_length=1000)]

    @property
    def job_ids(self) -> list[str]:
        """One by one."""
        return [one for one in self.jobs.split(",") if one]


class DayFilmOut(BaseModel):
    """How many pieces a car still needs of a film."""

    film_id: str
    name: str
    pieces: int


class DayCarOut(BaseModel):
    """An open job that still needs film."""

    job_id: str
    number: int
    title: str
    vehicle_label: str
    promised_at: datetime | None
    films: list[DayFilmOut]


class DayOut(BaseModel):
    """Open jobs that still need film, first promised first."""

    cars: list[DayCarOut]


class HoldBody(Body):
    """The plan whose film is held, and until when; else until the promised day."""

    input_hash: Annotated[str, StringConstraints(min_length=1, max_length=64)]
    until: Date | None = None


class CutterQuery(BaseModel):
    """Whose cut lines, and how the cutter is driven."""

    film_id: Id
    stock_id: Id
    speed_mm_s: Annotated[int, Field(ge=10, le=1500)] = 300
    force_g: Annotated[int, Field(ge=10, le=500)] = 90
    overcut_mm: Annotated[float, Field(ge=0, le=10, allow_inf_nan=False)] = 1.0
    marks: bool = True


class CutterSend(Body):
    """Whose cut lines the cutter gets, and how it is driven."""

    film_id: Id
    stock_id: Id
    after: Annotated[int, Field(ge=0, le=1000)] = 0  # pieces that are cut already, in cutting order
    speed_mm_s: Annotated[int, Field(ge=10, le=1500)] = 300
    force_g: Annotated[int, Field(ge=10, le=500)] = 90
    overcut_mm: Annotated[float, Field(ge=0, le=10)] = 1.0
    marks: bool = True


class CutterOrder(Body):
    """What the cutter is told to do."""

    word: Literal["PAUSE", "RESUME", "ABORT"]


class CutterAddress(Body):
    """Where the cutter is."""

    address: Annotated[str, Field(min_length=3, max_length=210)]
    version: Version


class CutterOut(BaseModel):
    """What the cutter is at; ``done`` of ``total`` pieces are whole."""

    address: str
    version: int  # of the setting; 0 while nobody said
    there: bool
    state: str
    told: str
    done: int
    total: int
    seconds_left: float


class PlaceTry(BaseModel):
    """A place that somebody holds a piece over: its least corner as seen from above [mm], and which way round."""

    window_id: Id
    part: Part = Part.WHOLE
    stock_id: Id
    x_mm: Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]
    y_mm: Annotated[float, Field(ge=-10_000, le=100_000, allow_inf_nan=False)]
    turn: Turn


class PlaceOut(BaseModel):
    """The same drawn up to what lies near; ``refused`` says why it cannot be cut there, if so."""

    stock_id: str
    x_mm: float
    y_mm: float
    turn: Turn
    along_mm: float
    across_mm: float
    refused: str


class AgainBody(Body):
    """A window whose film is to be cut once more."""

    version: Version  # of the cutting
    window_id: Id

"""What the glass shelf sends and gets."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, FindingsIn, Id, LongText, Point, ShortText, Typed, Version, Words
from elumbra.documents.shelf import PanePart

Word = Literal["right", "short", "long"]


class ShelfQuery(BaseModel):
    """Words in any order, and a page."""

    words: Annotated[str, Field(max_length=120)] = ""
    page: Annotated[int, Field(ge=1, le=10_000)] = 1


class ShelfBandPane(BaseModel):
    """A pane as a list draws it."""

    id: str
    label: str
    ring: list[Point]
    fitted: Word | None


class ShelfCarBrief(BaseModel):
    """A car in the list."""

    id: str
    version: int
    name: str
    years: str
    body: str
    body_label: str
    doors: int | None
    trim: str
    made_up: bool
    panes: list[ShelfBandPane]


class ShelfList(BaseModel):
    """A page of cars."""

    cars: list[ShelfCarBrief]
    page: int
    pages: int
    total: int
    total_panes: int  # on the whole shelf


class RevisionOut(BaseModel):
    """A pane as it once stood."""

    revision: int
    why: str
    person: str
    at: datetime
    content: PanePart


class UseOut(BaseModel):
    """A job whose window came from a pane."""

    job_id: str
    number: int
    title: str
    window: str
    revision: int | None


class ShelfPaneOut(BaseModel):
    """A pane of the shelf with all that is known of it."""

    id: str
    version: int
    ordinal: int
    revision: int
    content: PanePart
    same_as: str  # label of the pane whose mirror image it is; else empty
    ring: list[Point]
    width_mm: float | None
    height_mm: float | None
    measured: bool
    told: str  # what was found, in words
    problem: str
    revisions: list[RevisionOut]  # newest first
    uses: list[UseOut]


class ShelfCarOut(BaseModel):
    """A car of the shelf."""

    id: str
    version: int
    removed: bool
    name: str
    years: str
    body: str
    body_label: str
    doors: int | None
    trim: str
    panes: list[ShelfPaneOut]


class CarFields(Body):
    """What a car is called."""

    name: Words
    years: ShortText = ""
    doors: Annotated[int, Field(ge=0, le=8)] | None = None
    trim: ShortText = ""


class CarFromJob(CarFields):
    """A job's glass, to be kept for every car like it."""

    job_id: Id


class CarPatch(Body):
    """Changes of a car; only what is sent is changed."""

    version: Version
    name: Words | None = None
    years: ShortText | None = None
    doors: Annotated[int, Field(ge=0, le=8)] | None = None
    trim: ShortText | None = None


class PanePatch(Body):
    """Changes of a pane: they make a new revision. A reading or finding of null is taken out."""

    version: Version
    why: ShortText = ""
    label: Words | None = None
    trim: LongText | None = None
    findings: FindingsIn | None = None
    readings: Annotated[dict[str, Typed | None], Field(max_length=80)] | None = None
    drawn: Annotated[list[Point], Field(min_length=3, max_length=2000)] | None = None


class FittedIn(Body):
    """How a piece cut by this pane fitted."""

    version: Version
    word: Word
    edge: ShortText = ""
    by: Typed = ""
    note: ShortText = ""
    correct: bool = True  # the next cut goes by it


class FillJob(Body):
    """The car whose glass this is."""

    car_id: Id
    versions: Annotated[dict[Id, Version], Field(max_length=60)]  # of the windows that were looked at


class FillWindow(Body):
    """The pane that this is, as it is or stretched to the window's two sizes."""

    version: Version
    pane_id: Id
    scaled: bool = False


class NearOut(BaseModel):
    """A record near a window's size."""

    pane_id: str
    car: str
    label: str
    ring: list[Point]
    told: str
    misfit_mm: float
    made_up: bool


class NearList(BaseModel):
    """Records near a window's size, nearest first."""

    near: list[NearOut]


class DrawingIn(Body):
    """A drawing, SVG or DXF text; the greatest width sets the scale where it is not known."""

    content: Annotated[str, Field(min_length=1, max_length=3_900_000)]
    width: Typed = ""


class OutlineFindingOut(BaseModel):
    """What was repaired or left out."""

    number: int
    words: str
    repaired: bool


class DrawingOut(BaseModel):
    """An outline as read, to be looked at before it is taken."""

    ring: list[Point]
    scale_known: bool
    width_mm: float
    height_mm: float
    findings: list[OutlineFindingOut]


class DrawnIn(Body):
    """An outline to be taken for a window."""

    version: Version
    ring: Annotated[list[Point], Field(min_length=3, max_length=2000)]


class ShelfImported(BaseModel):
    """What came in with a shelf file."""

    added: int
    already_here: int
    left_out: list[str]  # panes that cannot be, with the reason


class ShelfPath(BaseModel):
    """A drawing of a pane, by its kind of file."""

    id: Id
    kind: Literal["svg", "dxf", "csv"]


ShelfJson = dict[str, Any]

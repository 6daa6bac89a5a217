"""What the survey sends."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, FindingsIn, Id, ShortText, Typed, Version, Words
from elumbra.core.glass import Curve
from elumbra.core.measure import Figure, Level, TapeMode
from elumbra.core.work import WindowFacts
from elumbra.documents.facts import with_facts

ReadFigure = Literal[
    Figure.THREE, Figure.FOUR, Figure.FIVE, Figure.SIX, Figure.SEVEN, Figure.EIGHT
]  # a drawn outline comes by a file


class OpeningIn(Body):
    """Several panes in one opening, put last in the walkaround order under names of their own."""

    opening: Id  # as the pick lists name it


class MoveIn(Body):
    """One place earlier or later in the walkaround order."""

    version: Version
    by: Literal[-1, 1]


class MeterOut(BaseModel):
    """Readings that the light meter gave."""

    readings_percent: list[float]
    refused_percent: list[float]  # too far from the others
    mean_percent: float
    spread_points: float
    meter: str


class MeterIn(Body):
    """Read the meter on the glass that it sits on."""

    times: Annotated[int, Field(ge=3, le=9)] = 3


class MeterStateOut(BaseModel):
    """Whether the meter answers."""

    address: str
    version: int  # of the setting; 0 while nobody said
    there: bool
    told: str


class MeterAddress(Body):
    """Where the meter is."""

    address: Annotated[str, Field(min_length=3, max_length=210)]
    version: Version


class PhotoPath(BaseModel):
    """A picture of a job."""

    id: Id
    photo_id: Id


class PhotoQuery(BaseModel):
    """Whether its small copy will do."""

    small: bool = False


class PhotoIn(Body):
    """A picture, as base64 text."""

    window_id: Id | None = None
    flaw_id: Id | None = None
    content: Annotated[str, Field(min_length=1, max_length=2_600_000)]


class ReadingIn(Body):
    """A tape reading as typed."""

    typed: Typed
    mode: TapeMode = TapeMode.SURFACE


@with_facts(WindowFacts, partial=True)
class WindowPatch(Body):
    """Changes of a window; only what is sent is changed. A reading set to null is taken out."""

    version: Version
    label: Words | None = None
    layers: Annotated[list[Id], Field(max_length=4)] | None = None
    film_id: Id | None = None
    curve: Curve | None = None
    level: Level | None = None
    figure: ReadFigure | None = None
    readings: Annotated[dict[str, ReadingIn | None], Field(max_length=80)] | None = None
    reentrant: Annotated[list[ShortText], Field(max_length=8)] | None = None
    findings: FindingsIn | None = None
    same_as_id: Id | None = None
    same_as_mirrored: bool | None = None


@with_facts(WindowFacts)
class WindowCreate(Body):
    """A further window, put last in the walkaround order."""

    label: Words
    curve: Curve = Curve.FLAT
    figure: ReadFigure = Figure.FOUR
    same_as_id: Id | None = None
    same_as_mirrored: bool = False

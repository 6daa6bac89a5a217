"""What the rack's screens send and get."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import SAID, Body, Id, Typed, Version, Words, with_facts
from elumbra.core.film import FilmFacts, LinerSide, StockKind

Money = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


@with_facts(FilmFacts)
class FilmFields(Body):
    """A film as its sheet describes it; light in percent."""

    price_per_m2: Money = 0.0


class FilmChange(FilmFields):
    """A film's new data; the whole of it."""

    version: Version


@with_facts(FilmFacts)
class FilmOut(BaseModel):
    """A film on file."""

    model_config = SAID

    id: str
    version: int
    price_per_m2: float
    stocked_mm: float  # length of roll on the rack


class LotReading(BaseModel):
    """A finished pane: what was foretold from the maker's figure, and what the meter read."""

    id: str
    version: int
    job_id: str
    job_title: str
    window: str
    predicted_percent: float
    read_percent: float
    on_day: str


class LotPage(BaseModel):
    """A lot's readings and the figure they make; null while there is none."""

    lot: str
    on_rack: bool
    in_use: bool  # the only lot on the rack, so that windows are reckoned with it
    vlt_percent: float | None
    pm_points: float | None
    readings: list[LotReading]  # the newest
    count: int


class FilmPage(BaseModel):
    """What a film does, and how its figure has held on cars."""

    film: FilmOut
    tser_percent: float | None
    absorbed_percent: float | None
    uv_percent: float | None
    warranty: str
    quality: str
    maker_pm_points: float
    alone_percent: float  # the film by itself, for laws that test it so
    lots: list[LotPage]


class StockFields(Body):
    """A roll, offcut or sheet; sizes as typed, length along the roll."""

    film_id: Id
    kind: StockKind
    label: Words
    width: Typed
    full_length: Typed
    length_left: Typed
    price: Money  # what it costs at its full length
    lot: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] = ""
    liner: LinerSide = LinerSide.UNKNOWN  # until somebody has checked


class StockNew(StockFields):
    """New stock."""

    sure: bool = False  # an odd price was asked about, and is meant so


class StockChange(StockNew):
    """Stock's new data; the whole of it."""

    version: Version


class StockOut(StockFields):
    """Stock on the rack."""

    model_config = SAID

    id: str
    version: int
    width_mm: float
    full_length_mm: float
    length_left_mm: float
    price_per_m2: float


class SlitBody(Body):
    """Where a roll is slit, from the near edge."""

    version: Version
    at: Typed


class UnreadableFilm(BaseModel):
    """A film whose record cannot be, with the reason; it is entered anew."""

    id: str
    name: str
    reason: str


class RackOut(BaseModel):
    """All films and all stock."""

    films: list[FilmOut]
    unreadable: list[UnreadableFilm]
    stock: list[StockOut]

"""What the rack's screens send and get."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.answers import Body
from elumbra.core.film import Construction, LinerSide, StockKind, VltBasis, Warranty

Percent = Annotated[float, Field(allow_inf_nan=False)]
Words = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=120)]
Typed = Annotated[str, StringConstraints(strip_whitespace=True, max_length=40)]
Money = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


class FilmFields(Body):
    """A film as its sheet describes it; light in percent."""

    name: Words
    construction: Construction
    vlt_percent: Percent
    vlt_basis: VltBasis = VltBasis.UNKNOWN
    reflectance_percent: Percent | None = None
    colour: Words = "neutral"
    mirror_finish: bool = False
    solar_transmittance_percent: Percent | None = None
    solar_reflectance_percent: Percent | None = None
    shrink_limit_percent: Percent | None = None
    reflectance_inside_percent: Percent | None = None
    uv_rejection_percent: Percent | None = None
    warranty: Warranty = Warranty.UNKNOWN
    warranty_years: Percent | None = None
    price_per_m2: Money = 0.0


class FilmChange(FilmFields):
    """A film's new data; the whole of it."""

    version: int


class FilmOut(FilmFields):
    """A film on file."""

    id: str
    version: int
    stocked_mm: float  # length of roll on the rack


class LotReading(BaseModel):
    """A finished pane: what was foretold from the maker's figure, and what the meter read."""

    id: str
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
    readings: list[LotReading]


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

    film_id: Words
    kind: StockKind
    label: Words
    width: Typed
    full_length: Typed
    length_left: Typed
    price: Money  # what it costs at its full length
    lot: Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)] = ""
    liner: LinerSide = LinerSide.UP


class StockChange(StockFields):
    """Stock's new data; the whole of it."""

    version: int


class StockOut(StockFields):
    """Stock on the rack."""

    id: str
    version: int
    width_mm: float
    full_length_mm: float
    length_left_mm: float
    price_per_m2: float


class RackOut(BaseModel):
    """All films and all stock."""

    films: list[FilmOut]
    stock: list[StockOut]

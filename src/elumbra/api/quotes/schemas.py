"""Quotes as their screens show them, and what they send. Money in dollars."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, LongText, Version, Words
from elumbra.core.film import Construction
from elumbra.core.glass import WindowKind
from elumbra.core.pricing import TAXABLE, PricedFor

Taxable = Literal["film", "removal", "extra", "own"]
Dollars = Annotated[float, Field(ge=-100_000, le=100_000)]
Price = Annotated[float, Field(ge=0, le=100_000)]
Factor = Annotated[float, Field(gt=0, le=20)]
Stroke = Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(max_length=2000)]
Strokes = Annotated[list[Stroke], Field(max_length=60)]


class QuoteLineOut(BaseModel):
    """One line."""

    key: str
    kind: PricedFor
    words: str
    dollars: float
    window_id: str
    why: str


class OwnLineOut(BaseModel):
    """A line that somebody typed."""

    words: str
    dollars: float


class QuoteVersionOut(BaseModel):
    """One version; what it offers is never changed."""

    id: str
    version: int
    number: int
    called: str  # by what it is named on paper: the job's number and its own
    valid_until: str  # ISO day; empty: without end
    too_old: bool  # it can be accepted no more
    status: Literal["offered", "accepted", "replaced"]
    lines: list[QuoteLineOut]
    total: float
    told: list[str]  # what changed since the version before
    note: str
    accepted_by: str
    accepted_at: datetime | None
    person: str
    at: datetime


class QuoteOut(BaseModel):
    """A job's quote."""

    job_id: str
    customer: str
    headline: str
    lines: list[QuoteLineOut]  # of the car as it stands
    total: float
    own_lines: list[OwnLineOut]
    differs: list[str]  # from the version that counts, in sentences
    change: str  # what that comes to, its tax too; empty where it comes to nothing
    starting_prices: bool  # nobody has set the shop's own yet
    ask_owner: bool  # an owner's yes to them is missing: nothing can be offered
    versions: list[QuoteVersionOut]  # newest first
    accepted: int | None  # its number
    films: list[str]  # what is offered, with its heat, in sentences
    caution: str  # of metal near antennas; else empty


class OwnLineIn(Body):
    """A line that somebody typed."""

    words: Words
    dollars: Dollars


class OfferBody(Body):
    """Offer the car as it stands."""

    own_lines: Annotated[list[OwnLineIn], Field(max_length=20, default_factory=list)]
    note: LongText = ""


class AcceptBody(Body):
    """The customer accepts a version."""

    version: Version
    name: Words
    how: Literal["signature", "paper", "spoken"]
    signature: Annotated[Strokes, Field(default_factory=list)]


class PriceListOut(BaseModel):
    """The shop's price list."""

    windows: dict[WindowKind, float]
    strip: float
    films: dict[Construction, float]
    own_films: dict[str, float]
    minute: float
    tax_percent: float
    taxed: list[Taxable]
    tax_by_line: bool
    own: bool
    version: int


class PriceListBody(Body):
    """Prices as the shop has them."""

    windows: dict[WindowKind, Price]
    strip: Price
    films: dict[Construction, Factor]
    own_films: Annotated[
        dict[Annotated[str, Field(max_length=64)], Factor], Field(max_length=300, default_factory=dict)
    ]
    minute: Price
    tax_percent: Annotated[float, Field(ge=0, le=50)] = 0.0
    taxed: Annotated[list[Taxable], Field(max_length=4, default_factory=lambda: sorted(TAXABLE))]
    tax_by_line: bool = False
    version: Version


class StartingPricesBody(Body):
    """An owner's yes to the starting prices, as the shop's own."""

    version: Version

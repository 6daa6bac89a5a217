"""What the rack's screens send and get."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import SAID, Body, Id, ShortText, Typed, Version, Words
from elumbra.api.base.day_words import Date
from elumbra.core.film import FilmFacts, RackFacts, StockKind
from elumbra.documents.facts import with_facts
from elumbra.documents.labels import LabelOn
from elumbra.documents.money import Priced

Money = Annotated[float, Field(ge=0, le=100_000, allow_inf_nan=False)]


@with_facts(FilmFacts)
class FilmFields(Body):
    """A film as its sheet describes it; light in percent."""

    price_per_m2: Money | None = None  # as it was where not said; of a new film, nothing


class FilmChange(FilmFields):
    """A film's new data; the whole of it."""

    version: Version


@with_facts(FilmFacts)
class FilmOut(BaseModel):
    """A film on file."""

    model_config = SAID

    id: str
    version: int
    price_per_m2: Priced
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


@with_facts(RackFacts)
class StockFields(Body):
    """A roll, offcut or sheet; sizes as typed, length along the roll."""

    film_id: Id
    kind: StockKind
    label: Words
    width: Typed
    full_length: Typed
    length_left: Typed
    price: Money | None = None  # what it costs at its full length; as it was, or as its film costs, where not said
    received_on: Date | None = None
    opened_on: Date | None = None


class StockNew(StockFields):
    """New stock."""

    sure: bool = False  # an odd price was asked about, and is meant so


class StockChange(StockNew):
    """Stock's new data; facts that are left out stay. Another length left is a correction, and needs its reason."""

    version: Version
    reason: ShortText = ""


class BinBody(Body):
    """Why what is left is thrown away."""

    version: Version
    reason: Words


class StockOut(StockFields):
    """Stock on the rack."""

    model_config = SAID

    price: Priced
    received_on: date | None = None  # as an older release took it, whatever its year
    opened_on: date | None = None
    id: str
    version: int
    width_mm: float
    full_length_mm: float
    length_left_mm: float
    held_mm: float  # for jobs
    free_mm: float  # left and not held
    price_per_m2: Priced
    code: str  # on its label


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


class BalanceOut(BaseModel):
    """What came and what became of it, along the roll: received = used + waste + kept + left."""

    received_mm: float
    used_mm: float
    waste_mm: float
    kept_mm: float
    left_mm: float


class MovementOut(BaseModel):
    """One line of a piece of stock's ledger."""

    at: datetime
    kind: str
    length_mm: float  # signed
    note: str
    person: str
    job_id: str | None
    job_number: int | None


class HeldOut(BaseModel):
    """Film held for a job."""

    job_id: str
    job_number: int
    job_title: str
    length_mm: float
    until: str
    person: str


class BecomeOut(BaseModel):
    """Something that could be cut from a piece of stock."""

    words: str
    job_id: str | None  # where a booked job wants it


class FullRollOut(BaseModel):
    """A full roll that this film's thickness is calibrated on."""

    id: str
    version: int
    girth_mm: float
    core_mm: float
    length_mm: float
    on_day: str
    person: str


class StockPage(BaseModel):
    """A piece of stock with its ledger."""

    stock: StockOut
    film_name: str
    removed: bool
    balance: BalanceOut
    movements: list[MovementOut]  # newest first
    holds: list[HeldOut]
    could_become: list[BecomeOut]
    old: bool  # an offcut that has lain long and fits nothing booked: proposed for the bin
    full_rolls: list[FullRollOut]


class GirthQuery(BaseModel):
    """A tape round a roll and round its bare core, as typed."""

    girth: Typed
    core: Typed


class RecountOut(BaseModel):
    """What a girth tells of the length left; nothing is written by it."""

    length_mm: float
    pm_mm: float
    low_mm: float
    high_mm: float
    thickness_mm: float
    rolls: int
    ledger_mm: float
    agrees: bool
    words: str
    proposed: str | None  # what is left, to the tape's sixteenth, where the ledger lies outside


class FullRollBody(Body):
    """A full roll of a film, as the tape reads it."""

    girth: Typed
    core: Typed
    length: Typed


class CodePath(BaseModel):
    """A code as typed or scanned."""

    code: Annotated[str, StringConstraints(min_length=1, max_length=60)]


class FoundOut(BaseModel):
    """The piece of stock that a code is on."""

    stock_id: str
    label: str
    removed: bool


class LabelQuery(BaseModel):
    """Whose labels, by ids with commas between them, and on what."""

    ids: Annotated[str, StringConstraints(max_length=8000)]
    on: LabelOn = LabelOn.LETTER


class PurchaseLine(BaseModel):
    """A film in one width: what booked jobs take and what there is of it."""

    film_id: str
    film_name: str
    width_mm: float
    booked_mm: float
    left_mm: float
    short_mm: float
    low: bool  # less is left than the shop wants to have
    by_day: str | None  # the first promised day that needs it
    jobs: list[int]


class PurchaseOut(BaseModel):
    """What to buy."""

    lines: list[PurchaseLine]


class UsedLine(BaseModel):
    """What one time of cutting took off one piece of stock."""

    job_id: str
    job_number: int
    job_title: str
    on_day: str
    person: str
    film_name: str
    stock: str
    lot: str
    taken_mm: float
    used_mm: float
    kept_mm: float
    waste_mm: float
    cost: float  # of what was taken


class UsedOut(BaseModel):
    """Film used and wasted, newest first."""

    lines: list[UsedLine]
    taken_mm: float
    waste_mm: float
    cost: float


class OffcutOut(BaseModel):
    """What an offcut or sheet can still become."""

    stock_id: str
    could_become: list[BecomeOut]
    old: bool


class OffcutsOut(BaseModel):
    """All offcuts and sheets."""

    offcuts: list[OffcutOut]

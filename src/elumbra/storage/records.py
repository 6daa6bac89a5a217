"""What is stored: frozen records, from which their tables follow (see ``declared``).

A new record is made by its class, a changed one with ``dataclasses.replace``, one more like it with ``another``:
all are held to the names and types here. ``facts`` are kept as they were checked on their way in; a fact that is
new to the code needs no line here.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Annotated, Any, Self

from sqlalchemy import String

from elumbra.core.cut import COUNTS_PER_MM
from elumbra.core.film import RackFacts
from elumbra.core.units import format_inches
from elumbra.storage.declared import INDEXED, KEY, LONG, UNSTORED, column, new_id, now, refers


@dataclass(frozen=True, kw_only=True)
class Record:
    """What people change: an id, a version that counts changes, and whether it was taken out of sight."""

    id: Annotated[str, KEY] = field(default_factory=new_id)
    version: int = 1
    removed: bool = False

    def another(self, **own: Any) -> Self:
        """One more like this in all but what is given, with an id of its own."""
        anew: dict[str, Any] = {"id": new_id(), "version": 1, "removed": False}
        return replace(self, **anew | own)


@dataclass(frozen=True, kw_only=True)
class PersonRecord(Record):
    """Someone who works in the shop."""

    name: str
    role: str
    facts: Mapping[str, Any] = field(default_factory=dict)  # hours, skills, own settings

    @property
    def leads(self) -> bool:
        """Whether somebody answers for waste, redo work and legality."""
        return self.role in ("owner", "lead")


@dataclass(frozen=True, kw_only=True)
class FilmRecord(Record):
    """A film product; price in dollars per m²."""

    facts: Mapping[str, Any]
    price_per_m2: float = 0.0

    @property
    def name(self) -> str:
        """The film's name."""
        return str(self.facts.get("name", self.id))


@dataclass(frozen=True, kw_only=True)
class StockRecord(Record, RackFacts):
    """A roll, offcut or sheet; ``price`` is what it costs at its full length.

    What is left of it is the sum of its movements.
    """

    film_id: Annotated[str, refers("film", index=True)]
    kind: str
    label: str
    width_typed: str
    width_mm: float
    full_length_typed: str
    full_length_mm: float
    price: float
    number: int = 0  # on its label
    left_count: Annotated[int, UNSTORED] = 0
    left_typed: Annotated[str, UNSTORED] = ""  # as it was last typed, where nothing was taken since

    @property
    def price_per_m2(self) -> float:
        """Price as new film [$/m²]."""
        area = self.width_mm * self.full_length_mm / 1e6
        return self.price / area if area else 0.0

    @property
    def length_left_mm(self) -> float:
        """What is left along the roll [mm]."""
        return self.left_count / COUNTS_PER_MM

    @property
    def length_left_typed(self) -> str:
        """What is left, as typed or as a tape shows it."""
        return self.left_typed or format_inches(self.length_left_mm)


@dataclass(frozen=True, kw_only=True)
class JobRecord(Record):
    """One car to be filmed; ``facts`` are the vehicle's."""

    number: Annotated[int, column(unique=True)]
    title: str
    customer: str = ""
    note: Annotated[str, LONG] = ""
    status: Annotated[str, INDEXED] = "inquiry"  # follows from the deeds: ``storage.deeds`` alone sets it
    bay: str = ""
    promised_at: datetime | None = None
    vehicle_label: str
    body: str
    facts: Mapping[str, Any]
    law_day: str = ""  # judged by the law of this day
    law_revision: int = 0  # and the shop's words up to this one
    created_at: datetime = field(default_factory=now)
    stamp: int = 0  # counts every change of the job and what belongs to it
    customer_id: Annotated[str | None, column(String(64), index=True)] = None
    vehicle_id: Annotated[str | None, column(String(64), index=True)] = None
    handed_over_on: Annotated[str, INDEXED] = ""  # ISO day; empty until then
    redo_of: Annotated[str | None, column(String(64), index=True)] = None  # the delivered job that it mends

    @property
    def states(self) -> list[str]:
        """Whose law it is judged by."""
        return [str(code) for code in self.facts.get("states", ())]


@dataclass(frozen=True, kw_only=True)
class WindowRecord(Record):
    """One window of a job's car; readings as typed, keyed by reading."""

    job_id: Annotated[str, refers("job", index=True)]
    ordinal: int
    label: str
    facts: Mapping[str, Any]
    film_id: Annotated[str | None, refers("film", index=True)] = None
    layers: list[str] = field(default_factory=list)
    curve: str = "flat"
    level: str = "size"
    figure: str = "four"
    readings: Mapping[str, Mapping[str, Any]] = field(default_factory=dict)
    reentrant: list[str] = field(default_factory=list)
    drawn: list[list[float]] = field(default_factory=list)
    shelf_pane_id: Annotated[str | None, refers("shelf_pane", index=True)] = None
    shelf_revision: int | None = None
    same_as_id: Annotated[str | None, refers("window")] = None
    same_as_mirrored: bool = False


@dataclass(frozen=True, kw_only=True)
class ReasonRecord(Record):
    """A lead's reason for an unlawful film on a window."""

    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str, refers("window", index=True)]
    film_id: Annotated[str, refers("film")]
    kind: str
    wish: str
    document: str = ""
    expires_on: str = ""
    note: str = ""
    person_name: str
    on_day: str
    state: str = ""
    issued_on: str = ""
    no_expiry: bool = False
    least_percent: float | None = None
    citation: str = ""


@dataclass(frozen=True, kw_only=True)
class InstalledReadingRecord(Record):
    """A pane metered with its new film on; light in percent."""

    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str, refers("window")]
    film_id: Annotated[str, refers("film", index=True)]
    lot: str
    predicted_percent: float
    predicted_pm: float
    read_percent: float
    on_day: Annotated[str, INDEXED]


@dataclass(frozen=True)
class CutMark:
    """One window's film as it was cut."""

    window_id: str
    label: str
    film_id: str
    lot: str
    roll: str
    stock_id: str = ""
    count: int = 0  # of what was used, along the roll; 0 where an older release booked it
    cutting_id: str = ""
    on_day: str = ""
    person: str = ""


@dataclass(frozen=True)
class Taken:
    """What was taken off one piece of stock, in whole counts."""

    stock_id: str
    label: str
    taken_typed: str
    used: int
    kept: int
    waste: int


@dataclass(frozen=True)
class Kept:
    """An offcut put on the rack."""

    stock_id: str
    label: str
    size: str


@dataclass(frozen=True, kw_only=True)
class CuttingRecord(Record):
    """One time that film was cut for a job."""

    job_id: Annotated[str, refers("job", index=True)]
    input_hash: str = ""  # of the job file that the plan was made from; empty for what another shop cut
    on_day: Annotated[str, INDEXED]
    person_name: str
    content: Mapping[str, Any] = field(default_factory=dict)

    @property
    def foreign(self) -> bool:
        """Whether it came with a job file and took nothing off this rack."""
        return not self.input_hash

    @property
    def marks(self) -> tuple[CutMark, ...]:
        """What was cut, window by window; those to be cut again left out."""
        again = set(self.content.get("again", ()))
        said: dict[str, Any] = {"cutting_id": self.id, "on_day": self.on_day, "person": self.person_name}
        return tuple(CutMark(**one, **said) for one in self.content.get("windows", ()) if one["window_id"] not in again)

    @property
    def lots(self) -> str:
        """The lots of its film, as they are found by."""
        return " ".join(
            dict.fromkeys(str(one["lot"]).casefold() for one in self.content.get("windows", ()) if one["lot"])
        )

    @property
    def taken(self) -> tuple[Taken, ...]:
        """What was taken off the rack."""
        return tuple(Taken(**one) for one in self.content.get("taken", ()))

    @property
    def day(self) -> str:
        """What the cuttings of cars that were cut together share; nothing where a job was cut by itself."""
        return str(self.content.get("day", ""))

    @property
    def kept(self) -> tuple[Kept, ...]:
        """Offcuts that were put on the rack."""
        return tuple(Kept(**one) for one in self.content.get("kept", ()))


@dataclass(frozen=True, kw_only=True)
class SettingRecord(Record):
    """A setting of the shop that is no figure."""

    value: Mapping[str, Any]  # {"value": ...}


@dataclass(frozen=True, kw_only=True)
class ShopValueRecord(Record):
    """The shop's own figure for a starting value; the id is its name."""

    value: float


@dataclass(frozen=True, kw_only=True)
class LawWordRecord:
    """The shop's word on a field of a law record."""

    id: Annotated[str, KEY]
    revision: Annotated[int, INDEXED]
    withdrawn_revision: int | None
    code: Annotated[str, INDEXED]
    field: str
    value: Mapping[str, Any]  # {"value": ...}: any JSON value
    citation: str
    effective_from: str = ""
    effective_until: str = ""
    person_id: str
    at: datetime
    withdrawn_by: str | None
    withdrawn_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class AuditRecord:
    """One entry of the audit trail."""

    id: Annotated[int, column(primary_key=True, autoincrement=True)]
    at: datetime
    person_id: str
    action: str
    record_kind: str
    record_id: str
    record_version: int
    job_id: Annotated[str | None, INDEXED]
    changes: Mapping[str, Any]


@dataclass(frozen=True, kw_only=True)
class TaskRecord:
    """Long work that is being done, or done."""

    seq: Annotated[int, column(primary_key=True, autoincrement=True)]
    id: Annotated[str, column(String(64), unique=True)]
    kind: str
    job_id: Annotated[str | None, refers("job", index=True)]
    input_hash: Annotated[str, INDEXED]
    input: Annotated[str, LONG]
    status: Annotated[str, INDEXED]  # queued, running, done, cancelled, failed
    progress: int = 0
    result: Annotated[str | None, LONG]
    summary: Mapping[str, Any] = field(default_factory=dict)
    error: str = ""
    attempts: int = 0
    deadline_s: float
    memory_mb: int
    created_at: datetime
    finished_at: datetime | None


@dataclass(frozen=True, kw_only=True)
class MovementRecord:
    """Film that came to a piece of stock or left it; ``count`` is signed, in steps of 0.0125 mm."""

    id: Annotated[int, column(primary_key=True, autoincrement=True)]
    stock_id: Annotated[str, refers("stock", index=True)]
    kind: str  # received, used, waste, kept, corrected
    count: int  # signed, in steps of 0.0125 mm along the roll
    typed: str = ""
    at: Annotated[datetime, INDEXED]
    person_id: str
    job_id: Annotated[str | None, refers("job", index=True)]
    note: str = ""
    cutting_id: Annotated[str | None, refers("cutting")] = None


@dataclass(frozen=True, kw_only=True)
class StepEventRecord:
    """Something that happened at a step of the work; id and time are the screen's own."""

    id: Annotated[str, KEY]  # made by the screen
    job_id: Annotated[str, refers("job", index=True)]
    window_id: Annotated[str | None, refers("window")]
    step: str
    kind: str
    happened_at: datetime  # by the screen's clock
    at: datetime  # when it arrived here
    person_id: str
    value: Annotated[str, LONG] = ""


@dataclass(frozen=True, kw_only=True)
class HoldRecord(Record):
    """Film held for a job's plan, to the end of a day."""

    stock_id: Annotated[str, refers("stock", index=True)]
    job_id: Annotated[str, refers("job", index=True)]
    count: int  # along the roll, in steps of 0.0125 mm
    until: str  # ISO day, to its end
    on_day: str
    person_name: str
    ended: str = ""  # by what; empty while it stands


@dataclass(frozen=True, kw_only=True)
class FullRollRecord(Record):
    """A full roll that a film's thickness is calibrated on [mm]."""

    film_id: Annotated[str, refers("film", index=True)]
    girth_mm: float
    core_mm: float
    length_mm: float
    on_day: str
    person_name: str


@dataclass(frozen=True)
class WorkTime:
    """How long somebody worked on a step or phase; the id is that of the tick it ended with."""

    id: Annotated[str, KEY]
    job_id: Annotated[str, refers("job", index=True)]
    window_kind: str  # empty for the car as a whole
    what: str  # step:<id> or phase:<name>
    person_id: str
    minutes: float
    at: datetime

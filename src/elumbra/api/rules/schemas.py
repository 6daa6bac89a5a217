"""What the rule book's screens send and get."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import Body, Id, Typed
from elumbra.api.car_view.verdicts import VerdictOut
from elumbra.core.film import FilmFacts
from elumbra.core.glass import Position
from elumbra.core.law import Role, StripRule, VehicleClass
from elumbra.core.work import VehicleFacts, WindowFacts
from elumbra.documents.facts import with_facts

ReadingKey = Annotated[str, StringConstraints(max_length=40)]
Day = Annotated[str, StringConstraints(strip_whitespace=True, max_length=10)]
FieldGroup = Literal["light", "windshield", "reflection", "colour", "mirrors", "papers", "reading", "linked", "source"]


class RuleBrief(BaseModel):
    """A jurisdiction in the list."""

    code: str
    name: str
    statute: str
    confidence: str
    fields: int
    unconfirmed: int
    overruled: int
    confirmed: int
    confirmed_on: str
    stale: bool
    disputed: int
    front_side: dict[VehicleClass, str]  # its figure in words


class RuleBookOut(BaseModel):
    """All jurisdictions as they stand today."""

    version: str
    day: str
    revision: int
    own_file: bool  # the shop took in a law file of its own
    states: list[RuleBrief]


class SourceOut(BaseModel):
    """Who said so, with what citation, from when."""

    word_id: str
    overruled: bool
    citation: str
    effective_from: str
    effective_until: str
    person: str
    at: str


class FieldOut(BaseModel):
    """One field of a record."""

    path: str
    label: str
    group: FieldGroup
    vehicle_class: VehicleClass | None
    position: Position | None
    value: Any
    words: str
    unconfirmed: bool
    disputed: list[str]  # both figures, in words, where compilations differed
    source: SourceOut | None


class LinkedOut(BaseModel):
    """A rule that depends on further facts."""

    id: str
    role: Role
    sentence: str
    citation: str
    classes: list[VehicleClass]
    positions: list[Position]
    on: str  # "strip", "glass", "both"; empty: all but the strip of a windshield
    vocabulary: list[str]  # condition words it is made of


class StripRuleOut(BaseModel):
    """The strip rule of a class, for drawing it on a windshield."""

    vehicle_class: VehicleClass
    rule: StripRule
    inches: float | None
    words: str
    strip_vlt: str
    below_strip: str


class WordOut(BaseModel):
    """An entry of the history: something the shop said, and perhaps took back."""

    id: str
    revision: int
    field: str
    label: str
    words: str
    overruled: bool
    citation: str
    effective_from: str
    effective_until: str
    person: str
    at: datetime
    withdrawn_by: str | None
    withdrawn_at: datetime | None


class RuleOut(BaseModel):
    """A jurisdiction's page."""

    code: str
    name: str
    statute: str
    effective_from: str
    confidence: str
    version: str
    compiled: str  # day on which the set was put together
    confirmed_on: str  # last day on which somebody of the shop confirmed or overruled a field; else empty
    stale: bool  # that is twelve months ago or more
    day: str
    fields: list[FieldOut]
    linked: list[LinkedOut]
    strips: list[StripRuleOut]
    notes: list[str]
    history: list[WordOut]
    upcoming: list[str]  # days from which another record or word will hold


class WordIn(Body):
    """The shop's word on a field: the value as it stands confirms it, another overrules it."""

    field: Annotated[str, StringConstraints(max_length=80)]
    value: Any
    citation: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)]
    effective_from: Day = ""
    effective_until: Day = ""
    replaces: str | None = None  # id of the word it takes the place of
    sure: bool = False  # an odd figure was asked about, and is meant so


class FieldWordIn(Body):
    """One ticked field: its value as read in the statute."""

    field: Annotated[str, StringConstraints(max_length=80)]
    value: Any
    replaces: str | None = None


class ConfirmIn(Body):
    """Fields of one record read in one sitting, under one citation and date."""

    fields: Annotated[list[FieldWordIn], Field(min_length=1, max_length=80)]
    citation: Annotated[str, StringConstraints(strip_whitespace=True, max_length=400)]
    effective_from: Day = ""
    sure: bool = False


@with_facts(VehicleFacts, partial=True)
class CounterCar(Body):
    """What has been answered of the car at the counter."""


@with_facts(FilmFacts, partial=True)
class CounterFilm(Body):
    """What has been answered of the film, where its own data are silent."""


@with_facts(WindowFacts, partial=True)
class CounterWindow(Body):
    """What has been answered of a pane; of other panes also whether they are there, and filmed."""

    readings: dict[ReadingKey, Typed] = {}  # noqa: RUF012  pydantic copies it
    there: bool = True
    filmed: bool = False


class LookUpIn(Body):
    """A question at the counter, with whatever has been answered so far."""

    state: Annotated[str, StringConstraints(max_length=4)]
    film_id: Id
    car: CounterCar
    window: CounterWindow
    film: CounterFilm = CounterFilm()
    others: Annotated[tuple[CounterWindow, ...], Field(max_length=6)] = ()


class LookUpOut(BaseModel):
    """The answer, with what it was reckoned on."""

    verdict: VerdictOut
    released: bool  # the knife, by the law alone
    glass_percent: float | None
    glass_words: str
    film_name: str
    vlt_percent: float | None
    pm_points: float | None
    formula: str


class FileOut(BaseModel):
    """What was taken in."""

    version: str
    states: int
    linked: int
    revision: int

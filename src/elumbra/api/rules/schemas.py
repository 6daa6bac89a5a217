"""What the rule book's screens send and get."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field, StringConstraints

from elumbra.api.base.bodies import Body
from elumbra.api.car_view.verdicts import VerdictOut
from elumbra.core.glass import Position
from elumbra.core.law import Role, StripRule, VehicleClass
from elumbra.core.light import GlassSource

Day = Annotated[str, StringConstraints(strip_whitespace=True, max_length=10)]
FieldGroup = Literal["light", "windshield", "reflection", "colour", "mirrors", "papers", "reading", "source"]


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
    on_strip: bool
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


class LookUpQuery(BaseModel):
    """A question at the counter."""

    state: Annotated[str, StringConstraints(max_length=4)]
    vehicle_class: VehicleClass
    position: Position
    film_id: Annotated[str, StringConstraints(max_length=64)]
    glass_percent: Annotated[float, Field(ge=0, le=100, allow_inf_nan=False)] | None = None
    glass_source: GlassSource = GlassSource.ASSUMED


class LookUpOut(BaseModel):
    """The answer, with what it was reckoned on."""

    verdict: VerdictOut
    glass_percent: float
    glass_words: str
    film_name: str
    vlt_percent: float
    pm_points: float
    formula: str


class FileOut(BaseModel):
    """What was taken in."""

    version: str
    states: int
    linked: int
    revision: int

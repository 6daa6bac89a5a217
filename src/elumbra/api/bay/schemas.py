"""The bay as its screens show it, and what they send."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, ShortText, Version
from elumbra.core.bay import Happened, Phase, SunSide
from elumbra.documents.paper import Paper

MOST_EVENTS = 500
Key = Annotated[str, Field(min_length=1, max_length=120)]
Unit = Literal["in", "mm"]


class BayQuery(BaseModel):
    """How lengths are shown."""

    unit: Unit = "in"


class CardQuery(BayQuery):
    """Paper of the job card."""

    paper: Paper = Paper.LETTER


class TickOut(BaseModel):
    """A step that is done."""

    event_id: str
    at: datetime
    person: str
    also: list[str]  # others who ticked it too
    already: bool  # it was done before anybody ticked


class StepOut(BaseModel):
    """One step, ready to be read."""

    key: str
    phase: Phase
    say: str
    check: str
    caution: str
    caution_seen: bool  # it was shown on this car before
    why: str
    section: str
    more: str
    tools: list[str]
    minutes: float
    wait: float
    at: str  # part of the pane that it is about
    round: str  # which repeat, where it comes twice
    special: bool  # because of what was found on this car
    again: bool  # because something went wrong
    branch: str  # what it asks that decides how the run goes on; else empty
    done: TickOut | None


class BlockOut(BaseModel):
    """Steps of one phase that follow each other."""

    key: str
    phase: Phase
    words: str
    keys: list[str]
    minutes: float
    own: int  # how many own times the minutes are from; 0: customary
    wait: float


class RunOut(BaseModel):
    """The work on one window, on its old film, or on the car before or after its windows."""

    name: str
    window_id: str | None
    label: str
    strip: bool
    refusal: str
    held: str  # why the knife must leave this window; else empty
    film: str  # that its ticks belong to
    steps: list[StepOut]
    blocks: list[BlockOut]
    next: str | None
    waits_until: datetime | None
    waits_for: str
    paused: bool
    paused_by: str
    taken_by: str
    begun: bool
    done: bool
    minutes_left: float
    cuts_again: bool  # a spoilt piece is still to be replaced
    scrap: list[str]  # events that spoilt a piece of which nobody knows what film it was
    twin: str  # label of the window that was cut together with it
    mishap: str  # of its open correction: the event that can be called fine
    dropped: int  # ticks of another film that do not count


class BayPlaceOut(BaseModel):
    """A window's place in the order, and why."""

    window_id: str
    why: str


class ApartOut(BaseModel):
    """Something that is not put back yet."""

    label: str
    thing: str


class WrongOut(BaseModel):
    """Something that may go wrong."""

    id: str
    words: str
    spoils: bool


class BayDayOut(BaseModel):
    """Conditions as they were said last, and what follows."""

    glass_c: float | None
    shop_c: float | None
    humidity: float | None
    outside_low_c: float | None
    sun: SunSide
    wind: bool
    said: bool
    stop: str
    go_on: str  # the lead's reason to go on all the same
    told: list[str]
    soap: str
    soap_rich: str
    soap_ml_per_l: float
    cure_days: int
    area: str


class TimeOut(BaseModel):
    """A recorded time."""

    event_id: str
    window_id: str | None
    words: str
    person: str
    minutes: float


class RefusedOut(BaseModel):
    """An event that was not taken, with the reason."""

    id: str
    why: str


class BayOut(BaseModel):
    """The work of one car."""

    job_id: str
    title: str
    now: datetime
    steps_version: str
    learner: bool
    home: bool
    lead: bool
    day: BayDayOut
    order: list[BayPlaceOut]
    proposed: list[str]
    runs: list[RunOut]  # start, windows in order, strip-offs, end
    apart: list[ApartOut]
    hatch_held: bool
    hatch_reason: str
    wrongs: list[WrongOut]
    times: list[TimeOut]
    headline: str
    told: list[str]  # what was done with what was sent
    refused: list[RefusedOut]


class EventIn(BaseModel):
    """Something that happened on a screen; sent again, it is kept once."""

    model_config = {"extra": "forbid", "allow_inf_nan": False}

    id: Annotated[str, Field(min_length=8, max_length=64, pattern=r"^[A-Za-z0-9_-]+$")]
    kind: Happened
    happened_at: datetime
    window_id: Id | None = None
    run: Key | None = None  # strip, start or end; none for a window's film
    steps: Annotated[list[Key], Field(max_length=120)] | None = None
    level: Literal["step", "phase", "already"] | None = None
    film: Annotated[str, Field(max_length=64)] | None = None
    event: Key | None = None
    what: Key | None = None
    step: Annotated[str, Field(max_length=120)] | None = None
    spoilt: bool | None = None
    note: Annotated[str, Field(max_length=400)] | None = None
    photo: Id | None = None
    minutes: Annotated[float, Field(ge=0, le=1440)] | None = None
    reason: Annotated[str, Field(max_length=400)] | None = None
    windows: Annotated[list[Id], Field(max_length=80)] | None = None
    glass_c: Annotated[float, Field(ge=-50, le=90)] | None = None
    shop_c: Annotated[float, Field(ge=-50, le=90)] | None = None
    humidity: Annotated[float, Field(ge=0, le=1)] | None = None
    outside_low_c: Annotated[float, Field(ge=-50, le=90)] | None = None
    sun: SunSide | None = None
    wind: bool | None = None
    layer: Literal["both", "face_only"] | None = None

    @property
    def value(self) -> dict[str, Any]:
        """What it says besides what, when and where."""
        return self.model_dump(mode="json", exclude_none=True, exclude={"id", "kind", "happened_at", "window_id"})


class EventsBody(Body):
    """What happened since the last time, in any order."""

    sent_at: datetime  # by the screen's clock, so that a wrong one can be set right
    events: Annotated[list[EventIn], Field(min_length=1, max_length=MOST_EVENTS)]
    unit: Unit = "in"


class SchoolOptionOut(BaseModel):
    """A question that installers answer differently."""

    name: str
    question: str
    options: dict[str, str]
    ours: str
    section: str
    shop: str | None
    own: str | None


class SchoolsOut(BaseModel):
    """How shop and person work."""

    schools: list[SchoolOptionOut]
    home: bool
    learner: bool
    shop_version: int
    own_version: int


Answers = Annotated[dict[Key, ShortText | None], Field(max_length=60)]


class ShopSchoolsBody(Body):
    """The shop's own answers; none goes back to ours."""

    schools: Answers
    home: bool
    version: Version


class OwnSchoolsBody(Body):
    """One's own answers; none: as the shop."""

    schools: Answers
    learner: bool
    version: Version


class ThermometerOut(BaseModel):
    """What the thermometer says."""

    address: str
    version: int
    there: bool
    told: str
    glass_c: float | None
    shop_c: float | None
    humidity: float | None


class ThermometerAddress(Body):
    """Where the thermometer is."""

    address: Annotated[str, Field(min_length=3, max_length=210)]
    version: Version

"""Handover as its screens show it, and what they send."""

from __future__ import annotations

from datetime import date, datetime
from enum import StrEnum
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Id, LongText, Version, Words
from elumbra.core.work import Station
from elumbra.documents.paper import Paper


class PaperName(StrEnum):
    """Papers that a customer gets."""

    RECORD = "record"
    CERTIFICATE = "certificate"
    CARE = "care"
    WARRANTY = "warranty"
    ACKNOWLEDGED = "acknowledged"
    INVOICE = "invoice"
    SET = "set"  # all that are ready, in one


class MissingOut(BaseModel):
    """A fact that a paper needs, and where it is given."""

    words: str
    station: Station | None  # None: at Shop, Films or here
    at: str  # place in words


class PaperOut(BaseModel):
    """A paper, ready or with what it lacks."""

    name: PaperName
    words: str
    ready: bool
    told: str
    missing: list[MissingOut]


class KeptHereOut(BaseModel):
    """What keeps the car here."""

    words: str
    station: Station
    window_id: str | None
    may_be_let_go: bool = False  # a lead may deliver without it


class LetGoOut(BaseModel):
    """What a lead let go."""

    words: str
    person: str
    at: datetime


class CheckOut(BaseModel):
    """One line of the pick-up checklist."""

    run: str  # as the bay knows it: end, or a window
    key: str
    words: str
    done: bool
    person: str


class SignedOut(BaseModel):
    """Who signed."""

    name: str
    how: Literal["signature", "paper", "spoken"]
    at: datetime


class HandoverOut(BaseModel):
    """A car about to be handed over."""

    job_id: str
    version: int  # of the job
    headline: str
    held: list[KeptHereOut]
    accepts: str  # what of the quote is accepted by the signature; empty: nothing is open
    let_go: list[LetGoOut]
    checklist: list[CheckOut]
    cure_days: int
    cure_told: str
    up_until: date
    normal: list[str]  # what is normal while it dries
    papers: list[PaperOut]
    signed: SignedOut | None
    handed_over_on: str
    customer: str
    lead: bool


class CheckBody(Body):
    """A line of the checklist is done."""

    run: Id
    key: Annotated[str, Field(min_length=1, max_length=120)]


class SignBody(Body):
    """The customer takes the car."""

    version: Version
    name: Words
    how: Literal["signature", "paper"]
    signature: Annotated[
        list[Annotated[list[Annotated[list[float], Field(min_length=2, max_length=2)]], Field(max_length=2000)]],
        Field(max_length=60, default_factory=list),
    ]


class LetGoIn(Body):
    """A window that the car is delivered without."""

    window_id: Id
    version: Version
    reason: Annotated[str, Field(min_length=1, max_length=400, pattern=r"\S")]


class LetGoBody(Body):
    """Windows that the car is delivered without."""

    windows: Annotated[list[LetGoIn], Field(min_length=1, max_length=60)]


class TakeBackBody(Body):
    """It was not handed over after all."""

    version: Version
    reason: LongText


class PaperPath(BaseModel):
    """A paper of a job."""

    id: Id
    name: PaperName


class HandoverPaperQuery(BaseModel):
    """On which paper."""

    paper: Paper = Paper.LETTER


class LetterheadOut(BaseModel):
    """In whose name papers go out."""

    name: str
    address: str
    contact: str
    version: int


class LetterheadBody(Body):
    """In whose name papers go out."""

    name: Annotated[str, Field(max_length=120)]
    address: Annotated[str, Field(max_length=200)] = ""
    contact: Annotated[str, Field(max_length=200)] = ""
    version: Version

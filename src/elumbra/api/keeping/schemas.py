"""Copies of the shop as the owner sees them."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated

from pydantic import BaseModel, Field

from elumbra.api.base.bodies import Body, Version


class CopyOut(BaseModel):
    """A copy of the shop."""

    name: str
    made_at: datetime | None
    why: str
    size: int
    release: str
    rows: int | None
    photos: int | None


class SizeOut(BaseModel):
    """How large the shop was on a day."""

    day: str
    size: int


class KeepingOut(BaseModel):
    """Copies, sizes and rules."""

    copies: list[CopyOut]
    folder: str
    second_folder: str
    version: int
    last_at: str
    last_words: str
    last_bad: bool
    database_bytes: int
    journal_bytes: int
    photo_bytes: int
    free_bytes: int
    growth: list[SizeOut]
    rules: list[str]


class KeepingBody(Body):
    """Where copies go besides; empty: nowhere."""

    second_folder: Annotated[str, Field(max_length=400)]
    version: Version


class CopyBody(Body):
    """Which copy."""

    name: Annotated[str, Field(min_length=4, max_length=100)]


class RestoreBody(CopyBody):
    """Which copy is put back; its name is typed once more."""

    again: Annotated[str, Field(max_length=100)]


class CopyDifference(BaseModel):
    """What a copy does not have in common with the shop as it stands."""

    what: str
    words: str


class RehearsalOut(BaseModel):
    """What putting a copy back would give."""

    name: str
    words: str
    jobs: int
    customers: int
    rows: int
    upgraded: bool
    differs: list[CopyDifference]


class RestoredOut(BaseModel):
    """A copy that was put back."""

    words: str
    before: str  # copy of what stood there

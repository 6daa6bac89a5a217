"""The archive as its screens show it."""

from __future__ import annotations

from datetime import datetime
from enum import StrEnum

from pydantic import BaseModel

from elumbra.api.base.bodies import Body, Version


class Archivable(StrEnum):
    """What a lead can take out of its list, and bring back."""

    FILM = "film"
    STOCK = "stock"
    CUSTOMER = "customer"
    SHELF_CAR = "shelf_car"


class ArchivedItem(BaseModel):
    """Something that is in the archive."""

    id: str
    version: int
    name: str
    person: str  # who archived it; empty where nobody knows
    at: datetime | None


class ArchivedOut(BaseModel):
    """All of a kind that is in the archive, by name."""

    kind: Archivable
    items: list[ArchivedItem]


class ArchiveBody(Body):
    """What was looked at."""

    version: Version

"""Records of the glass shelf."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import datetime
from typing import Annotated, Any

from elumbra.storage.declared import LONG, column, now, refers
from elumbra.storage.records import Record


@dataclass(frozen=True, kw_only=True)
class ShelfCarRecord(Record):
    """A car whose glass was measured."""

    name: str
    years: str = ""
    body: str
    doors: int | None = None
    trim: Annotated[str, LONG] = ""
    search: Annotated[str, LONG] = ""  # all its words, lower case
    created_at: datetime = field(default_factory=now)


@dataclass(frozen=True, kw_only=True)
class ShelfPaneRecord(Record):
    """A measured pane of such a car; its content is a ``documents.shelf.PanePart``."""

    car_id: Annotated[str, refers("shelf_car", index=True)]
    ordinal: int
    revision: int = 1
    content: Mapping[str, Any]
    width_mm: float | None = None  # of its outline, to find the nearest by
    height_mm: float | None = None
    ring: list[list[float]] = field(default_factory=list)  # as lists draw it


@dataclass(frozen=True, kw_only=True)
class ShelfRevisionRecord:
    """A pane as it once stood, who changed it and why."""

    pane_id: Annotated[str, refers("shelf_pane", primary_key=True)]
    revision: Annotated[int, column(primary_key=True)]
    content: Mapping[str, Any]
    why: str = ""
    person_id: str
    at: datetime

"""What lies on the rack: rolls, offcuts and sheets of one film.

Every piece of stock lies as it is unrolled: ``length`` runs along the roll (the machine
direction, in which film shrinks), ``width`` across it.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from annotated_types import Len


class StockKind(StrEnum):
    """How a piece of stock is counted."""

    ROLL = "roll"  # bought by length: only what is cut off is used up
    OFFCUT = "offcut"  # one rectangle, machine direction known
    SHEET = "sheet"  # a bought flat sheet


class LinerSide(StrEnum):
    """Which face carries the liner as the stock lies on the bench."""

    UP = "up"
    DOWN = "down"
    UNKNOWN = "unknown"  # check with two tabs of tape before cutting


FACING = {
    LinerSide.UP: "liner up",
    LinerSide.DOWN: "film up, liner down",
    LinerSide.UNKNOWN: "side not known: check with two tabs of tape",
}


@dataclass(frozen=True, kw_only=True)
class StockFacts:
    """What is known of film wherever it goes: to an offcut, to both halves of a slit roll, into every file.

    Record, table, answers and patches of the API, file part, core value and copies follow from this class and
    ``RackFacts``. To add a fact, see docs/guide/adding-a-stock-fact.md.
    """

    lot: Annotated[str, Len(0, 60)] = ""
    liner: LinerSide = LinerSide.UNKNOWN  # until somebody has checked


@dataclass(frozen=True, kw_only=True)
class RackFacts(StockFacts):
    """What is known of a piece of stock as it lies on its rack; no job file takes this along."""

    place: Annotated[str, Len(0, 120)] = ""  # where on the rack
    received_on: str = ""  # ISO day
    opened_on: str = ""
    slittable: bool = True


@dataclass(frozen=True)
class Stock(StockFacts):
    """One roll, offcut or sheet; lengths in mm, price in dollars per mm² as new film."""

    id: str
    film_id: str
    kind: StockKind
    width: float
    length: float  # what is left, along the machine direction
    price: float
    label: str = ""

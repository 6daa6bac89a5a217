"""What lies on the rack: rolls, offcuts and sheets of one film.

Every piece of stock lies as it is unrolled: ``length`` runs along the roll (the machine
direction, in which film shrinks), ``width`` across it.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum


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


@dataclass(frozen=True)
class Stock:
    """One roll, offcut or sheet; lengths in mm, price in dollars per mm² as new film."""

    id: str
    film_id: str
    kind: StockKind
    width: float
    length: float  # what is left, along the machine direction
    price: float
    lot: str = ""
    liner: LinerSide = LinerSide.UP
    label: str = ""

"""Where somebody put a window's pieces on the film, as a window keeps it."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from typing import Annotated

from annotated_types import Ge, Le, Len

from elumbra.core.nest import HandPlace, Turn


class Part(StrEnum):
    """Which part of its window a piece is for."""

    WHOLE = ""
    LEFT = "left"  # of a strip in two pieces, seen from outside
    RIGHT = "right"
    STRIP_1 = "strip_1"  # of several on one pane, from the top
    STRIP_2 = "strip_2"
    STRIP_3 = "strip_3"
    STRIP_4 = "strip_4"
    STRIP_5 = "strip_5"
    STRIP_6 = "strip_6"


_FARTHEST = 100_000.0  # mm: longer than any roll


@dataclass(frozen=True, kw_only=True)
class PutByHand:
    """One piece of a window: on which stock, its least corner as seen from above [mm], and which way round."""

    stock: Annotated[str, Len(1, 64)]
    x_mm: Annotated[float, Ge(0), Le(_FARTHEST)]
    y_mm: Annotated[float, Ge(0), Le(_FARTHEST)]
    turn: Turn
    part: Part = Part.WHOLE


def hand_place(put: tuple[PutByHand, ...], part: str) -> HandPlace | None:
    """The place of a window's piece, by the part of the strip that it is; None where nobody put it."""
    for one in put:
        if one.part == part:
            return HandPlace(one.stock, one.x_mm, one.y_mm, one.turn)
    return None

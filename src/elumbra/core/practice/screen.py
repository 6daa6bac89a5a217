"""What a hand can see: fingers, which of them soften, what lies down, what was ruined. Nothing more.

It is what is drawn, and all that the robot knows. Whole numbers only, so that every machine shows the same.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum

import numpy as np
from numpy.typing import NDArray

from elumbra.core.practice.board import Lie
from elumbra.core.practice.film import BARE, stands_off
from elumbra.core.practice.fingers import Ridge, ridges
from elumbra.core.practice.run import Run
from elumbra.core.shrink import Unrolled

Bytes = NDArray[np.uint8]
_TENTHS = 10


class Looks(IntEnum):
    """How a place of the film looks."""

    BARE = 0
    FLOATS = 1
    WET = 2
    CLINGS = 3
    DOWN = 4
    HELD = 5
    DRUM = 6  # taut, will not lie down


class Warmth(IntEnum):
    """How warm film behaves."""

    COLD = 0
    SOFT = 1  # softens: a finger draws into a zigzag
    WORKS = 2
    TOO_HOT = 3  # smells; it hazes next


@dataclass(frozen=True)
class Screen:
    """A run as it is seen from outside, at one step. Grids of shape ``(ROWS, COLUMNS)``."""

    step: int
    lie: Lie
    way: Unrolled | None  # the roll's direction; None: no film yet
    h_way: Unrolled | None
    sheeted: bool
    dry: bool
    wet: bool
    trimmed: bool
    looks: Bytes
    warmth: Bytes
    stands: Bytes  # how far film stands off, in tenths of a millimetre, at most 255
    glass: Bytes  # outer face [°C]
    layers: Bytes  # by how much it is warmer than the inner face [K]
    marks: NDArray[np.uint16]
    ridges: tuple[Ridge, ...]
    over: bool


def screen_of(run: Run, *, every: int = 1) -> Screen:
    """What is seen; fingers in every so many rows."""
    values, sheet = run.board.values, run.sheet
    looks = _LOOKS[sheet.contact]
    drum = sheet.loose & (sheet.over(run.lie) > values["practice_drum_share"])
    marks = [values[name] for name in ("film_softens_c", "film_works_low_c", "film_works_high_c")]
    warmth = np.searchsorted(marks, sheet.film, side="right")
    slack = np.where(sheet.loose, sheet.standing(run.lie), 0.0)
    standing = np.where(slack > values["lies_flat_most"], slack, 0.0)
    high = np.minimum(np.rint(_TENTHS * stands_off(standing, wave=values["finger_wave_mm"])), 255)
    return Screen(
        run.step, run.lie, run.film_way, run.h_way, run.sheeted is not None, run.dry, run.wet, run.trimmed,
        looks=np.where(drum, Looks.DRUM, looks).astype(np.uint8),
        warmth=np.where(sheet.contact == BARE, 0, warmth).astype(np.uint8),
        stands=high.astype(np.uint8),
        glass=np.clip(np.rint(sheet.outer), 0, 255).astype(np.uint8),
        layers=np.clip(np.rint(sheet.outer - sheet.inner), 0, 255).astype(np.uint8),
        marks=run.marks,
        ridges=ridges(sheet, run.lie, values=values, every=every) if run.film_way else (),
        over=run.over,
    )  # fmt: skip


_LOOKS = np.array([Looks.BARE, Looks.FLOATS, Looks.WET, Looks.CLINGS, Looks.DOWN, Looks.HELD], dtype=np.uint8)

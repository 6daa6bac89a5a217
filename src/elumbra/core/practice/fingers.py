"""Fingers, read out of the film as it is: nothing moves them, they stand where too much film is left.

In each stretch of a row that nothing holds, as many fingers stand as wave lengths fit into it, at the quantiles
of what is too long there, each as high as heart's formula says. They are an estimate, as at Heat.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elumbra.core.practice.board import Lie, Mask
from elumbra.core.practice.film import Sheet, stands_off
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class Ridge:
    """A finger where it crosses a row of the film."""

    row: int
    u: float  # [mm]
    high: float  # [mm]
    wide: float  # of the film that it gathers [mm]
    soft: bool  # it softens and draws into a zigzag: press it


def ridges(sheet: Sheet, lie: Lie, *, values: StartingValues, every: int = 1) -> tuple[Ridge, ...]:
    """The fingers, row by row from the foot up; only every so many rows where a drawing needs no more."""
    standing = sheet.standing(lie)
    free = lie.on_glass & sheet.loose
    stands = free & (standing > values["lies_flat_most"])
    soft = sheet.film >= values["film_softens_c"]
    width = lie.cell[0]
    found = []
    for row in range(0, len(lie.v), every):
        if not stands[row].any():
            continue
        for first, last in _runs(free[row]):
            amount = standing[row, first:last] * width
            total = float(amount.sum())
            long = (last - first) * width
            if total <= values["lies_flat_most"] * long:
                continue
            number = max(1, round(long / values["finger_wave_mm"]))
            summed = np.concatenate([[0.0], np.cumsum(amount)])
            edges = lie.u[first] - width / 2 + width * np.arange(last - first + 1)
            at = np.interp((np.arange(number) + 0.5) / number * total, summed, edges)
            high = float(stands_off(np.array(total / long), wave=long / number))
            for u in at.tolist():
                column = min(max(round((u - float(lie.u[0])) / width), first), last - 1)
                found.append(Ridge(row, u, high, long / number, bool(soft[row, column] and stands[row, column])))
    return tuple(found)


def _runs(mask: Mask) -> list[tuple[int, int]]:
    """Stretches of True, each from its first place up to, and without, its end."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(np.int8)))
    return [(int(a), int(b)) for a, b in edges.reshape(-1, 2)]

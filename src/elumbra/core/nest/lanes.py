"""Every lane worth considering, as arrays.

Blanks of the same size are one **kind** with a count. A set of blanks is a **code**: its
counts as digits of a number in mixed radix, so that adding disjoint sets adds codes.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product
from math import prod

import numpy as np
from numpy.typing import NDArray

from elumbra.core.nest.layout import TOUCHING, Blank, TurnOption

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass(frozen=True)
class Kinds:
    """Blanks grouped by size, and all codes they can make."""

    members: tuple[tuple[Blank, ...], ...]
    strides: Ints  # (kinds,)
    digits: Ints  # (codes, kinds): counts of each code

    @classmethod
    def of(cls, blanks: Sequence[Blank]) -> Kinds:
        """Group blanks whose allowed turns are the same, largest first."""
        members = _grouped(blanks)
        counts = [len(group) + 1 for group in members]
        strides = np.cumprod([1, *counts[:-1]]).astype(np.int64)
        codes = np.arange(int(np.prod(counts)), dtype=np.int64)
        digits = (codes[:, None] // strides[None, :]) % np.array(counts)[None, :]
        return cls(members, strides, digits)

    @cached_property
    def within(self) -> NDArray[np.bool_]:
        """Whether one set is part of another, shape (codes, codes): ``within[whole, part]``."""
        return np.asarray(np.all(self.digits[None, :, :] <= self.digits[:, None, :], axis=2))

    @property
    def full(self) -> int:
        """Code of all blanks."""
        return len(self.digits) - 1


def _grouped(blanks: Sequence[Blank]) -> tuple[tuple[Blank, ...], ...]:
    groups: dict[tuple[TurnOption, ...], list[Blank]] = {}
    for blank in sorted(blanks, key=lambda blank: (-blank.area, blank.pair, blank.id)):
        groups.setdefault(blank.turns, []).append(blank)
    return tuple(tuple(group) for group in groups.values())


def count_codes(blanks: Sequence[Blank]) -> int:
    """How many sets blanks make, multiplied out before anything is put up for them.

    Examples
    --------
    Thirty blanks of thirty sizes make 2 to the 30th: no array may ever be asked for so many.

    >>> count_codes([])
    1
    """
    return prod(len(group) + 1 for group in _grouped(blanks))


@dataclass(frozen=True)
class Lanes:
    """Lanes on one width, one row each."""

    code: Ints
    width: Floats
    length: Floats
    minutes: Floats  # extra work, no blank on a factory edge
    edge_minutes: Floats  # saved when the lane lies on a factory edge
    counts: Ints  # (lanes, options): blanks of each (kind, turn)
    options: tuple[tuple[int, TurnOption], ...]  # kind and turn of each column

    def __len__(self) -> int:
        return len(self.code)

    def take(self, rows: Ints) -> Lanes:
        """Some of the lanes."""
        return Lanes(
            self.code[rows], self.width[rows], self.length[rows], self.minutes[rows],
            self.edge_minutes[rows], self.counts[rows], self.options,
        )  # fmt: skip


def all_lanes(kinds: Kinds, *, stock_width: float, stock_length: float) -> Lanes:
    """All lanes of one stock: every set of blanks that its length holds, in every turning."""
    options = [
        (kind, option)
        for kind, members in enumerate(kinds.members)
        for option in members[0].turns
        if option.across <= stock_width + TOUCHING and option.along <= stock_length + TOUCHING
    ]
    counts = np.zeros((1, 0), dtype=np.int64)
    for kind, members in enumerate(kinds.members):
        ways = sum(1 for k, _ in options if k == kind)
        rows = [way for way in product(range(len(members) + 1), repeat=ways) if sum(way) <= len(members)]
        block = np.array(rows, dtype=np.int64).reshape(len(rows), ways)
        counts = np.hstack([np.repeat(counts, len(block), axis=0), np.tile(block, (len(counts), 1))])
        along = np.array([option.along for _, option in options[: counts.shape[1]]])
        counts = counts[counts @ along <= stock_length + TOUCHING] if counts.shape[1] else counts
    return _rows(kinds, counts[counts.sum(axis=1) > 0], options)


def _rows(kinds: Kinds, counts: Ints, options: Sequence[tuple[int, TurnOption]]) -> Lanes:
    def column(name: str) -> Floats:
        return np.array([getattr(option, name) for _, option in options], dtype=float)

    stride = np.array([kinds.strides[kind] for kind, _ in options], dtype=np.int64)
    present = counts > 0
    return Lanes(
        code=counts @ stride if len(options) else np.zeros(0, dtype=np.int64),
        width=np.max(np.where(present, column("across"), 0.0), axis=1, initial=0.0),
        length=counts @ column("along"),
        minutes=counts @ (column("extra_minutes") + column("edge_minutes")),
        edge_minutes=counts @ column("edge_minutes"),
        counts=counts,
        options=tuple(options),
    )


def without_beaten(lanes: Lanes) -> Lanes:
    """Lanes less those that another way of turning the same blanks beats.

    A way is beaten when another is no wider, no longer and no slower.
    """
    keep = np.ones(len(lanes), dtype=bool)
    measures = np.column_stack([lanes.width, lanes.length, lanes.minutes, lanes.minutes - lanes.edge_minutes])
    order = np.lexsort((lanes.minutes, lanes.length, lanes.width, lanes.code))
    starts = np.flatnonzero(np.diff(lanes.code[order], prepend=-1))
    for group in np.split(order, starts[1:]):
        if len(group) == 1:
            continue
        ours = measures[group]
        beaten = np.all(ours[None, :, :] <= ours[:, None, :] + TOUCHING, axis=2)
        keep[group] = ~np.any(np.tril(beaten, k=-1), axis=1)
    return lanes.take(np.flatnonzero(keep))

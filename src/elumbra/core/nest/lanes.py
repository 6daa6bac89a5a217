"""Every lane worth considering, as arrays.

Blanks of the same size are one **kind** with a count. A set of blanks is a **code**: its
counts as digits of a number in mixed radix, so that adding disjoint sets adds codes.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product
from math import prod

import numpy as np
from numpy.typing import NDArray

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, TurnOption

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
MONEY_SLACK = 1e-9


class TooManySectionsError(Exception):
    """The search would grow past its limit; the caller goes on without proof."""


@dataclass(frozen=True)
class Kinds:
    """Blanks grouped by size, and all codes they can make."""

    members: tuple[tuple[Blank, ...], ...]
    strides: Ints  # (kinds,)
    digits: Ints  # (codes, kinds): counts of each code

    @classmethod
    def of(cls, blanks: Sequence[Blank]) -> Kinds:
        """Group blanks whose allowed turns are the same, largest first."""
        return cls.of_groups(grouped(blanks))

    @classmethod
    def of_groups(cls, members: tuple[tuple[Blank, ...], ...]) -> Kinds:
        """The same for blanks that were grouped otherwise; those of a group have the same turns."""
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


def grouped(blanks: Sequence[Blank]) -> tuple[tuple[Blank, ...], ...]:
    """Blanks of the same size and turns together, largest first."""
    groups: dict[tuple[TurnOption, ...], list[Blank]] = {}
    for blank in sorted(blanks, key=by_size):
        groups.setdefault(blank.turns, []).append(blank)
    return tuple(tuple(group) for group in groups.values())


def by_size(blank: Blank) -> tuple[object, ...]:
    """Order by what a blank measures, largest first; its name only tells those apart that are alike."""
    turns = tuple((o.turn, o.along, o.across, o.extra_minutes, o.edge_minutes) for o in blank.turns)
    return -blank.area, turns, blank.pair, blank.id


def count_codes(blanks: Sequence[Blank]) -> int:
    """How many sets blanks make, multiplied out before anything is put up for them.

    Examples
    --------
    Thirty blanks of thirty sizes make 2 to the 30th: no array may ever be asked for so many.

    >>> count_codes([])
    1
    """
    return prod(len(group) + 1 for group in grouped(blanks))


@dataclass(frozen=True)
class Lanes:
    """Lanes on one width, one row each."""

    code: Ints
    width: Floats
    length: Floats
    minutes: Floats  # extra work, no blank on a factory edge
    edge_minutes: Floats  # saved when the lane lies on a factory edge
    counts: NDArray[np.int8]  # (lanes, options): blanks of each (kind, turn)
    options: tuple[tuple[int, TurnOption], ...]  # kind and turn of each column

    def __len__(self) -> int:
        return len(self.code)

    def take(self, rows: Ints) -> Lanes:
        """Some of the lanes."""
        return Lanes(
            self.code[rows], self.width[rows], self.length[rows], self.minutes[rows],
            self.edge_minutes[rows], self.counts[rows], self.options,
        )  # fmt: skip


def all_lanes(
    kinds: Kinds, stock: Stock, costing: Costing, *, unit_prices: Floats, slack: float, row_limit: int
) -> Lanes:
    """All lanes of one stock: every set of blanks that its length holds, in every turning.

    Lanes that waste more than the slack are left out as soon as they do: another blank only adds
    to what a lane wastes.

    Parameters
    ----------
    kinds, stock, costing
        What is cut, from what, and what it costs.
    unit_prices
        Least net money of one blank of each kind [$], shape (kinds,).
    slack
        How far the best known plan lies above the sum of unit prices [$].
    row_limit
        Most lanes to hold at once.

    Raises
    ------
    TooManySectionsError
        More lanes than the limit.
    """
    options = [
        (kind, option)
        for kind, members in enumerate(kinds.members)
        for option in members[0].turns
        if option.across <= stock.width + TOUCHING and option.along <= stock.length + TOUCHING
    ]
    lanes = _empty(len(options), tuple(options))
    for kind, members in enumerate(kinds.members):
        columns = [i for i, (k, _) in enumerate(options) if k == kind]
        ways = [way for way in product(range(len(members) + 1), repeat=len(columns)) if sum(way) <= len(members)]
        if len(lanes) * len(ways) > row_limit:
            raise TooManySectionsError
        parts = [_with_more(lanes, dict(zip(columns, way, strict=True)), kinds) for way in ways]
        lanes = _joined(parts)
        waste = least_waste(lanes, stock, costing, lanes.counts @ _prices(options, unit_prices))
        lanes = lanes.take(np.flatnonzero((lanes.length <= stock.length + TOUCHING) & (waste <= slack + MONEY_SLACK)))
    return lanes.take(np.flatnonzero(lanes.code > 0))


def _prices(options: Sequence[tuple[int, TurnOption]], unit_prices: Floats) -> Floats:
    return np.array([unit_prices[kind] for kind, _ in options], dtype=float)


def _empty(columns: int, options: tuple[tuple[int, TurnOption], ...]) -> Lanes:
    """One lane with nothing in it."""
    none = np.zeros(1)
    return Lanes(np.zeros(1, dtype=np.int64), none, none, none, none, np.zeros((1, columns), dtype=np.int8), options)


def _with_more(lanes: Lanes, more: Mapping[int, int], kinds: Kinds) -> Lanes:
    """Every lane with some more blanks of one kind, counted by column."""
    code, width, length = lanes.code, lanes.width, lanes.length
    minutes, edge_minutes, counts = lanes.minutes, lanes.edge_minutes, lanes.counts.copy()
    for column, count in more.items():
        if not count:
            continue
        kind, option = lanes.options[column]
        code = code + count * kinds.strides[kind]
        width = np.maximum(width, option.across)
        length = length + count * option.along
        minutes = minutes + count * (option.extra_minutes + option.edge_minutes)
        edge_minutes = edge_minutes + count * option.edge_minutes
        counts[:, column] = count
    return Lanes(code, width, length, minutes, edge_minutes, counts, lanes.options)


def _joined(parts: Sequence[Lanes]) -> Lanes:
    return Lanes(
        code=np.concatenate([part.code for part in parts]),
        width=np.concatenate([part.width for part in parts]),
        length=np.concatenate([part.length for part in parts]),
        minutes=np.concatenate([part.minutes for part in parts]),
        edge_minutes=np.concatenate([part.edge_minutes for part in parts]),
        counts=np.vstack([part.counts for part in parts]),
        options=parts[0].options,
    )


def least_waste(lanes: Lanes, stock: Stock, costing: Costing, floor_price: Floats) -> Floats:
    """Least money of each lane beyond what its blanks cost by their area alone [$]."""
    film = film_price(stock, costing) * lanes.width * lanes.length
    # A section takes one cut for each blank, and one more for each free end and for spare width.
    minutes = lanes.minutes - lanes.edge_minutes + costing.knife_cut_minutes * lanes.counts.sum(axis=1)
    return np.asarray(film + costing.minute_price * minutes - floor_price)


def film_price(stock: Stock, costing: Costing) -> float:
    """Least price of film taken from a stock [$/mm²].

    A usable offcut is charged at its book worth, one too small for the books costs nothing.
    """
    if stock.kind is StockKind.ROLL:
        return stock.price
    return costing.offcut_share * stock.price if costing.usable(stock.length, stock.width) else 0.0


def without_copies(lanes: Lanes) -> Lanes:
    """Lanes less those that measure and cost the same as another way of turning the same blanks.

    No other way is left out: a wider lane, or a longer one, may save the cut of a free end or
    make that end a usable offcut.
    """
    measures = np.column_stack(
        [lanes.code, *(np.round(getattr(lanes, name), 6) for name in ("width", "length", "minutes", "edge_minutes"))]
    )
    _, first = np.unique(measures, axis=0, return_index=True)
    return lanes.take(np.sort(first))

"""The best section for every set of blanks, on one stock width, by exhaustion.

Sections are grown lane by lane. A partial section is dropped when the film it already wastes
costs more than the best known plan can be beaten by: that never loses an optimum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.lanes import (
    MONEY_SLACK,
    Floats,
    Ints,
    Kinds,
    Lanes,
    TooManySectionsError,
    film_price,
    least_waste,
)
from elumbra.core.nest.layout import TOUCHING, Costing

_PAIRS_A_ROW = 10  # looked at for each section that may be held


@dataclass(frozen=True)
class SectionChoice:
    """One section: the lanes it is made of and who gets the spare width."""

    length: float
    cost: float  # roll: film, labour, less leftovers; other stock: without its film
    lanes: tuple[int, ...]
    spare_to: int  # index into ``lanes``; -1: stands by itself


@dataclass(frozen=True)
class Allowance:
    """How much money a section may waste beside its blanks' own prices, and still be part of a cheaper plan.

    Every plan wastes something on each blank (``shares``), wherever it lies. What the blanks outside
    a section are bound to waste is not left for the section itself.
    """

    slack: float  # best known plan less the sum of unit prices [$]
    shares: Floats  # (kinds,): what a blank of each kind wastes at least [$]

    @classmethod
    def plain(cls, slack: float, kinds: int) -> Allowance:
        """Nothing known but the slack."""
        return cls(slack, np.zeros(kinds))

    def of(self, kinds: Kinds) -> tuple[Floats, Floats, Floats]:
        """By code, the shares of a set; and by width left in a section, what may still join it."""
        of_code = kinds.digits @ self.shares
        narrow = np.array([min(o.across for o in group[0].turns) for group in kinds.members])
        order = np.argsort(narrow, kind="stable")
        own = kinds.digits[kinds.full] * self.shares
        return of_code, narrow[order], np.concatenate([[0.0], np.cumsum(own[order])])


@dataclass(frozen=True)
class _Room:
    """An allowance on one stock."""

    slack: float
    total: float
    of_code: Floats
    widths: Floats
    joining: Floats
    stock_width: float

    @classmethod
    def of(cls, allowance: Allowance, kinds: Kinds, stock: Stock) -> _Room:
        of_code, widths, joining = allowance.of(kinds)
        return cls(allowance.slack, float(of_code[kinds.full]), of_code, widths, joining, stock.width)

    def growing(self, code: Ints, width: Floats) -> Floats:
        """What sections may waste that can still get lanes."""
        left = self.joining[np.searchsorted(self.widths, self.stock_width - width + TOUCHING, side="right")]
        own = self.of_code[code]
        return np.asarray(self.slack - self.total + own + np.minimum(left, self.total - own) + MONEY_SLACK)

    def complete(self, code: Ints) -> Floats:
        """What sections may waste as they stand."""
        return np.asarray(self.slack - self.total + self.of_code[code] + MONEY_SLACK)


@dataclass(frozen=True)
class _Rows:
    """Sections under construction, one row each."""

    code: Ints
    width: Floats
    length: Floats
    wasted: Floats  # least money beyond the blanks' own area, so far
    lanes: Ints  # (rows, lanes)


def best_sections(
    kinds: Kinds,
    lanes: Lanes,
    stock: Stock,
    costing: Costing,
    *,
    unit_prices: Floats,
    allowance: Allowance,
    row_limit: int,
) -> dict[int, list[SectionChoice]]:
    """For every code that fits one section, its non-dominated choices by length and cost.

    Parameters
    ----------
    kinds, stock, costing
        What is cut, from what, and what it costs.
    lanes
        The lanes of this stock, those beyond the slack already left out.
    unit_prices
        Least net money of one blank of each kind [$], shape (kinds,).
    allowance
        What a section may waste.
    row_limit
        Most sections to hold at once.

    Raises
    ------
    TooManySectionsError
        More sections than the limit.
    """
    best: dict[int, list[SectionChoice]] = {}
    if not len(lanes):
        return best
    floor_price = kinds.digits @ unit_prices
    room = _Room.of(allowance, kinds, stock)
    rows = _single(lanes, stock, costing, floor_price)
    while len(rows.code):
        _record(best, rows, lanes, stock, costing, floor_price, room)
        rows = _grow(rows, kinds, lanes, stock, costing, floor_price, room, row_limit)
    return best


def _single(lanes: Lanes, stock: Stock, costing: Costing, floor_price: Floats) -> _Rows:
    waste = least_waste(lanes, stock, costing, floor_price[lanes.code])
    return _Rows(lanes.code, lanes.width, lanes.length, waste, np.arange(len(lanes), dtype=np.int64)[:, None])


def _pairs(
    rows: _Rows,
    group: Ints,
    lanes: Lanes,
    single: Floats,
    room: _Room,
    kinds: Kinds,
    stock: Stock,
    row_limit: int,
) -> tuple[Ints, Ints, Ints, Floats]:
    """Sections of one set and lanes that may join them: the lanes, places in both, and the width together."""
    code, none = int(rows.code[group[0]]), np.zeros(0, dtype=np.int64)
    left = room.growing(rows.code[group], rows.width[group]) - rows.wasted[group]
    fits = np.flatnonzero(
        kinds.within[kinds.full - code][lanes.code]
        & (lanes.width <= stock.width - rows.width[group].min() + TOUCHING)
        & (single <= left.max())
    )
    if not len(fits):
        return fits, none, none, np.zeros(0)
    if len(group) * len(fits) > _PAIRS_A_ROW * row_limit:
        raise TooManySectionsError
    rising = rows.lanes[group, -1][:, None] <= fits
    cheap = single[fits] <= left[:, None]
    wide = rows.width[group, None] + lanes.width[fits]
    i, j = np.nonzero((wide <= stock.width + TOUCHING) & rising & cheap)
    return fits, i, j, wide[i, j]


def _grow(
    rows: _Rows,
    kinds: Kinds,
    lanes: Lanes,
    stock: Stock,
    costing: Costing,
    floor_price: Floats,
    room: _Room,
    row_limit: int,
) -> _Rows:
    """All sections with one lane more; lanes stand in rising order so that none comes twice."""
    single = least_waste(lanes, stock, costing, floor_price[lanes.code])
    price = film_price(stock, costing)
    # A lane's free end is film that comes back at most at its book worth.
    end_price = price - costing.offcut_share * stock.price if stock.kind is StockKind.ROLL else 0.0
    cut_price = costing.knife_cut_minutes * costing.minute_price
    parts: list[_Rows] = []
    total = 0
    order = np.argsort(rows.code, kind="stable")
    starts = np.flatnonzero(np.diff(rows.code[order], prepend=-1))
    for group in np.split(order, starts[1:]):
        code = int(rows.code[group[0]])
        fits, i, j, wide = _pairs(rows, group, lanes, single, room, kinds, stock, row_limit)
        if not len(i):
            continue
        lane, row = fits[j], group[i]
        length = np.maximum(rows.length[row], lanes.length[lane])
        ends = rows.width[row] * (length - rows.length[row]) + lanes.width[lane] * (length - lanes.length[lane])
        new_ends = (length > rows.length[row] + TOUCHING) + (length > lanes.length[lane] + TOUCHING).astype(float)
        wasted = rows.wasted[row] + single[lane] + end_price * ends + cut_price * new_ends
        keep = np.flatnonzero(wasted <= room.growing(code + lanes.code[lane], wide))
        if not len(keep):
            continue
        i, j, wide, length, wasted = i[keep], j[keep], wide[keep], length[keep], wasted[keep]
        total += len(i)
        if total > row_limit:
            raise TooManySectionsError
        new_lanes = np.hstack([rows.lanes[group[i]], fits[j][:, None]])
        parts.append(_Rows(code + lanes.code[fits[j]], wide, length, wasted, new_lanes))
    if not parts:
        empty = np.zeros(0)
        return _Rows(np.zeros(0, dtype=np.int64), empty, empty, empty, np.zeros((0, 1), dtype=np.int64))
    return _Rows(
        np.concatenate([p.code for p in parts]),
        np.concatenate([p.width for p in parts]),
        np.concatenate([p.length for p in parts]),
        np.concatenate([p.wasted for p in parts]),
        np.vstack([p.lanes for p in parts]),
    )


def _record(
    best: dict[int, list[SectionChoice]],
    rows: _Rows,
    lanes: Lanes,
    stock: Stock,
    costing: Costing,
    floor_price: Floats,
    room: _Room,
) -> None:
    """Cost these sections as complete and keep the best of each code."""
    cost, spare_to = complete_cost(rows.lanes, rows.width, rows.length, lanes, stock, costing)
    price = film_price(stock, costing)
    already = 0.0 if stock.kind is StockKind.ROLL else price * stock.width * rows.length
    keep = np.flatnonzero(
        (cost + already - floor_price[rows.code] <= room.complete(rows.code)) & (rows.length <= stock.length + TOUCHING)
    )
    order = keep[np.lexsort((rows.length[keep], cost[keep], rows.code[keep]))]
    starts = np.flatnonzero(np.diff(rows.code[order], prepend=-1))
    for group in np.split(order, starts[1:]) if len(order) else []:
        shortest = np.minimum.accumulate(rows.length[group])
        fresh = np.concatenate([[True], rows.length[group][1:] < shortest[:-1] - TOUCHING])
        entries = best.setdefault(int(rows.code[group[0]]), [])
        for row in group[fresh]:
            choice = SectionChoice(
                float(rows.length[row]), float(cost[row]), tuple(rows.lanes[row].tolist()), int(spare_to[row])
            )
            entries.append(choice)
        best[int(rows.code[group[0]])] = pareto(entries)


def pareto(choices: list[SectionChoice]) -> list[SectionChoice]:
    """Choices that no other is both shorter and cheaper than, cheapest first."""
    kept: list[SectionChoice] = []
    for choice in sorted(choices, key=lambda c: (c.cost, c.length)):
        if not kept or choice.length < kept[-1].length - TOUCHING:
            kept.append(choice)
    return kept


def complete_cost(
    rows: Ints, row_width: Floats, row_length: Floats, lanes: Lanes, stock: Stock, costing: Costing
) -> tuple[Floats, Ints]:
    """Money of each section as it stands, and the lane that gets its spare width (-1: none).

    Parameters
    ----------
    rows
        The lanes of each section, shape (sections, lanes).
    row_width, row_length
        Of each section's lanes together, and of the longest [mm], shape (sections,).
    lanes, stock, costing
        What the lanes are, what they are cut from, and what that costs.
    """
    width, length = lanes.width[rows], lanes.length[rows]  # (rows, lanes)
    ends = row_length[:, None] - length
    cut_price = costing.knife_cut_minutes * costing.minute_price
    items = lanes.counts.sum(axis=1)[rows]
    # One cut across, lanes - 1 along; in each lane items - 1 across and one before a free end.
    cuts = rows.shape[1] + (items - 1).sum(axis=1) + (ends > TOUCHING).sum(axis=1)
    edge = np.sort(lanes.edge_minutes[rows], axis=1)[:, -2:].sum(axis=1)
    minutes = lanes.minutes[rows].sum(axis=1) - edge
    worth = _worth(width, ends, stock.price, costing)
    spare = np.maximum(stock.width - row_width, 0.0)
    has_spare = spare > TOUCHING
    alone = _worth(spare, row_length, stock.price, costing) - cut_price * has_spare
    widened = _worth(width + spare[:, None], ends, stock.price, costing) - worth
    gain = np.column_stack([alone, widened])
    choice = np.argmax(gain, axis=1)
    cost = cuts * cut_price + minutes * costing.minute_price - worth.sum(axis=1) - gain[np.arange(len(gain)), choice]
    if stock.kind is StockKind.ROLL:
        cost = cost + stock.price * stock.width * row_length
    return cost, np.asarray(choice - 1, dtype=np.int64)


def _worth(one: Floats, other: Floats, price: float, costing: Costing) -> Floats:
    short, long = np.minimum(one, other), np.maximum(one, other)
    usable = (short >= costing.offcut_short - TOUCHING) & (long >= costing.offcut_long - TOUCHING)
    return np.asarray(np.where(usable, costing.offcut_share * price * one * other, 0.0))

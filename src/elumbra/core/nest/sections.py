"""The best section for every set of blanks, on one stock width, by exhaustion.

Sections are grown lane by lane. A partial section is dropped when the film it already wastes
costs more than the best known plan can be beaten by: that never loses an optimum.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.lanes import Floats, Ints, Kinds, Lanes
from elumbra.core.nest.layout import TOUCHING, Costing

_MONEY_SLACK = 1e-9


class TooManySectionsError(Exception):
    """The search would grow past its limit; the caller goes on without proof."""


@dataclass(frozen=True)
class SectionChoice:
    """One section: the lanes it is made of and who gets the spare width."""

    length: float
    cost: float  # roll: film, labour, less leftovers; other stock: without its film
    lanes: tuple[int, ...]
    spare_to: int  # index into ``lanes``; -1: stands by itself


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
    slack: float,
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
    slack
        How far the best known plan lies above the sum of unit prices [$].
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
    rows = _single(lanes, stock, costing, floor_price)
    while len(rows.code):
        _record(best, rows, lanes, stock, costing, floor_price, slack)
        rows = _grow(rows, kinds, lanes, stock, costing, floor_price, slack, row_limit)
    return best


def least_waste(lanes: Lanes, stock: Stock, costing: Costing, floor_price: Floats) -> Floats:
    """Least money of each lane beyond what its blanks cost by their area alone [$]."""
    film = _film_price(stock, costing) * lanes.width * lanes.length
    # A section takes one cut for each blank, and one more for each free end and for spare width.
    minutes = lanes.minutes - lanes.edge_minutes + costing.knife_cut_minutes * lanes.counts.sum(axis=1)
    return np.asarray(film + costing.minute_price * minutes - floor_price[lanes.code])


def _film_price(stock: Stock, costing: Costing) -> float:
    """Least price of film taken from a stock [$/mm²]."""
    if stock.kind is StockKind.ROLL:
        return stock.price
    return costing.offcut_share * stock.price if costing.usable(stock.length, stock.width) else 0.0


def _single(lanes: Lanes, stock: Stock, costing: Costing, floor_price: Floats) -> _Rows:
    waste = least_waste(lanes, stock, costing, floor_price)
    return _Rows(lanes.code, lanes.width, lanes.length, waste, np.arange(len(lanes), dtype=np.int64)[:, None])


def _grow(
    rows: _Rows,
    kinds: Kinds,
    lanes: Lanes,
    stock: Stock,
    costing: Costing,
    floor_price: Floats,
    slack: float,
    row_limit: int,
) -> _Rows:
    """All sections with one lane more; lanes stand in rising order so that none comes twice."""
    single = least_waste(lanes, stock, costing, floor_price)
    film_price = _film_price(stock, costing)
    # A lane's free end is film that comes back at most at its book worth.
    end_price = film_price - costing.offcut_share * stock.price if stock.kind is StockKind.ROLL else 0.0
    cut_price = costing.knife_cut_minutes * costing.minute_price
    within = kinds.within
    parts: list[_Rows] = []
    total = 0
    order = np.argsort(rows.code, kind="stable")
    starts = np.flatnonzero(np.diff(rows.code[order], prepend=-1))
    for group in np.split(order, starts[1:]):
        code = int(rows.code[group[0]])
        fits = np.flatnonzero(
            within[kinds.full - code][lanes.code]
            & (lanes.width <= stock.width - rows.width[group].min() + TOUCHING)
            & (single <= slack + _MONEY_SLACK - rows.wasted[group].min())
        )
        if not len(fits):
            continue
        if len(group) * len(fits) > row_limit:
            raise TooManySectionsError
        wide = rows.width[group, None] + lanes.width[fits]
        rising = rows.lanes[group, -1][:, None] <= fits
        cheap = rows.wasted[group, None] + single[fits] <= slack + _MONEY_SLACK
        i, j = np.nonzero((wide <= stock.width + TOUCHING) & rising & cheap)
        lane, row = fits[j], group[i]
        length = np.maximum(rows.length[row], lanes.length[lane])
        ends = rows.width[row] * (length - rows.length[row]) + lanes.width[lane] * (length - lanes.length[lane])
        new_ends = (length > rows.length[row] + TOUCHING) + (length > lanes.length[lane] + TOUCHING).astype(float)
        wasted = rows.wasted[row] + single[lane] + end_price * ends + cut_price * new_ends
        keep = np.flatnonzero(wasted <= slack + _MONEY_SLACK)
        if not len(keep):
            continue
        i, j, length, wasted = i[keep], j[keep], length[keep], wasted[keep]
        total += len(i)
        if total > row_limit:
            raise TooManySectionsError
        new_lanes = np.hstack([rows.lanes[group[i]], fits[j][:, None]])
        parts.append(_Rows(code + lanes.code[fits[j]], wide[i, j], length, wasted, new_lanes))
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
    slack: float,
) -> None:
    """Cost these sections as complete and keep the best of each code."""
    cost, spare_to = _complete_cost(rows, lanes, stock, costing)
    film_price = _film_price(stock, costing)
    already = 0.0 if stock.kind is StockKind.ROLL else film_price * stock.width * rows.length
    keep = np.flatnonzero(
        (cost + already - floor_price[rows.code] <= slack + _MONEY_SLACK) & (rows.length <= stock.length + TOUCHING)
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


def _complete_cost(rows: _Rows, lanes: Lanes, stock: Stock, costing: Costing) -> tuple[Floats, Ints]:
    """Money of each section as it stands, and the lane that gets its spare width (-1: none)."""
    width, length = lanes.width[rows.lanes], lanes.length[rows.lanes]  # (rows, lanes)
    ends = rows.length[:, None] - length
    cut_price = costing.knife_cut_minutes * costing.minute_price
    items = lanes.counts.sum(axis=1)[rows.lanes]
    # One cut across, lanes - 1 along; in each lane items - 1 across and one before a free end.
    cuts = rows.lanes.shape[1] + (items - 1).sum(axis=1) + (ends > TOUCHING).sum(axis=1)
    edge = np.sort(lanes.edge_minutes[rows.lanes], axis=1)[:, -2:].sum(axis=1)
    minutes = lanes.minutes[rows.lanes].sum(axis=1) - edge
    worth = _worth(width, ends, stock.price, costing)
    spare = np.maximum(stock.width - rows.width, 0.0)
    has_spare = spare > TOUCHING
    alone = _worth(spare, rows.length, stock.price, costing) - cut_price * has_spare
    widened = _worth(width + spare[:, None], ends, stock.price, costing) - worth
    gain = np.column_stack([alone, widened])
    choice = np.argmax(gain, axis=1)
    cost = cuts * cut_price + minutes * costing.minute_price - worth.sum(axis=1) - gain[np.arange(len(gain)), choice]
    if stock.kind is StockKind.ROLL:
        cost = cost + stock.price * stock.width * rows.length
    return cost, np.asarray(choice - 1, dtype=np.int64)


def _worth(one: Floats, other: Floats, price: float, costing: Costing) -> Floats:
    short, long = np.minimum(one, other), np.maximum(one, other)
    usable = (short >= costing.offcut_short - TOUCHING) & (long >= costing.offcut_long - TOUCHING)
    return np.asarray(np.where(usable, costing.offcut_share * price * one * other, 0.0))

"""Sections that would make a plan cheaper, given what each blank is worth in it.

Lanes of one to three blanks are put up and the best of them set side by side, lane by lane, each
time keeping those that waste least. This is a search by beam: it may overlook a section, and
nothing is proven by it.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.lanes import Floats, Ints, Lanes, film_price, least_waste
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, TurnOption
from elumbra.core.nest.sections import SectionChoice, complete_cost

_LANES = 900  # best lanes set side by side
_FRONT = 350  # sections that get one lane more
_PER_KIND = 12  # sections taken that hold a kind, so that not all are about the same few
_MOST = 600  # sections of so many lanes that are looked at further
_LONGEST = 3  # blanks of a lane
_WORD = 62  # bits of a word that are used
_GAIN = 1e-6


def cheap_sections(
    members: Sequence[Sequence[Blank]], demand: Ints, worth: Floats, stock: Stock, costing: Costing, *, held: float
) -> tuple[Lanes, list[SectionChoice]]:
    """Sections of one stock that cost less than their blanks are worth, cheapest first.

    Parameters
    ----------
    members
        Blanks grouped by kind.
    demand
        How many of each kind are still to be cut, shape (kinds,).
    worth
        What a blank of each kind is worth, shape (kinds,) [$].
    stock, costing
        What is cut from, and what it costs.
    held
        What a length of this stock is worth elsewhere, at most 0 [$/mm].
    """
    options = tuple(
        (kind, option)
        for kind, group in enumerate(members)
        for option in group[0].turns
        if demand[kind] and option.across <= stock.width + TOUCHING and option.along <= stock.length + TOUCHING
    )
    if not options:
        return _nothing(options), []
    packing = _Packing(demand)
    lanes, kinds = _lanes(options, packing, worth, stock, costing)
    value = lanes.counts @ np.array([worth[kind] for kind, _ in lanes.options])
    waste = least_waste(lanes, stock, costing, value)
    rows = _Beam(np.arange(len(lanes))[:, None], lanes.width, lanes.length, waste, value, kinds)
    found: list[tuple[float, SectionChoice]] = []
    while len(rows.width):
        found += _complete(rows, lanes, stock, costing, held)
        rows = _one_more(rows, lanes, kinds, waste, value, packing, stock, costing)
    found.sort(key=lambda one: one[0])
    return lanes, _spread(found, lanes)


class _Beam:
    """Sections under construction, one row each."""

    def __init__(self, lanes: Ints, width: Floats, length: Floats, waste: Floats, value: Floats, kinds: Ints) -> None:
        self.lanes, self.width, self.length = lanes, width, length
        self.waste, self.value, self.kinds = waste, value, kinds


class _Packing:
    """Counts of kinds as bit fields of whole numbers, so that a few additions tell whether two sets go together.

    A field holds a count, raised so far that more than there is of the kind runs over into its top bit.
    """

    def __init__(self, demand: Ints) -> None:
        self.shift = np.zeros(len(demand), dtype=np.int64)
        self.word = np.zeros(len(demand), dtype=np.int64)
        raised, over = [0], [0]
        at = 0
        for kind, most in enumerate(demand.tolist()):
            bits = int(most).bit_length()
            if at + bits + 1 > _WORD:
                raised.append(0)
                over.append(0)
                at = 0
            self.word[kind], self.shift[kind] = len(raised) - 1, at
            raised[-1] |= ((1 << bits) - 1 - most) << at
            over[-1] |= 1 << (at + bits)
            at += bits + 1
        self.raised, self.over = np.array(raised, dtype=np.int64), np.array(over, dtype=np.int64)

    def packed(self, kinds: Ints) -> Ints:
        """Fields of sets given as counts, shape (sets, words)."""
        fields = kinds.astype(np.int64) << self.shift
        return np.stack([fields[:, self.word == word].sum(axis=1) for word in range(len(self.raised))], axis=1)

    def enough(self, one: Ints, other: Ints) -> NDArray[np.bool_]:
        """Whether there are enough blanks for both sets, row by row."""
        return np.asarray(np.all(((one + other + self.raised) & self.over) == 0, axis=1))


def _lanes(
    options: tuple[tuple[int, TurnOption], ...], packing: _Packing, worth: Floats, stock: Stock, costing: Costing
) -> tuple[Lanes, Ints]:
    """The best lanes of one to three blanks, and their kinds packed."""
    size = len(options)
    kind = np.array([k for k, _ in options])
    across, along = (np.array([getattr(o, name) for _, o in options]) for name in ("across", "along"))
    film, minute = film_price(stock, costing), costing.minute_price
    work = minute * (np.array([o.extra_minutes for _, o in options]) + costing.knife_cut_minutes)
    own = work - worth[kind]
    field = packing.packed(np.eye(len(worth), dtype=np.int64)[kind])
    held = np.arange(size)[:, None]
    wide, long, value, fields = across, along, own, field
    parts = [(held, fields)]
    for _ in range(_LONGEST - 1):
        row, more = (grid.ravel() for grid in np.indices((len(held), size)))
        width, length = np.maximum(wide[row], across[more]), long[row] + along[more]
        ok = packing.enough(fields[row], field[more]) & (length <= stock.length + TOUCHING)
        waste = np.where(ok, film * width * length + value[row] + own[more], np.inf)
        # The same lane comes once for each of its blanks.
        best = (
            np.argpartition(waste, _LONGEST * _LANES)[: _LONGEST * _LANES]
            if len(waste) > _LONGEST * _LANES
            else np.arange(len(waste))
        )
        best = best[np.isfinite(waste[best])]
        blanks = np.sort(np.hstack([held[row[best]], more[best, None]]), axis=1)
        blanks, first = np.unique(blanks, axis=0, return_index=True)
        best = best[first]
        held, wide, long = blanks, width[best], length[best]
        value, fields = value[row[best]] + own[more[best]], fields[row[best]] + field[more[best]]
        parts.append((held, fields))
    lanes = _measured([held for held, _ in parts], options)
    fields = np.vstack([fields for _, fields in parts])
    waste = least_waste(lanes, stock, costing, lanes.counts @ worth[kind])
    keep = np.sort(np.argsort(waste, kind="stable")[:_LANES])
    return lanes.take(keep), fields[keep]


def _nothing(options: tuple[tuple[int, TurnOption], ...]) -> Lanes:
    return _measured([np.zeros((0, 1), dtype=np.int64)], options)


def _measured(held: Sequence[Ints], options: tuple[tuple[int, TurnOption], ...]) -> Lanes:
    """Lanes from the options that lie on them."""

    def column(name: str) -> Floats:
        return np.array([getattr(option, name) for _, option in options], dtype=float)

    counts = np.zeros((sum(len(part) for part in held), len(options)), dtype=np.int8)
    at = 0
    for part in held:
        for place in part.T:
            np.add.at(counts, (np.arange(at, at + len(part)), place), 1)
        at += len(part)
    return Lanes(
        code=np.zeros(len(counts), dtype=np.int64),
        width=np.max(np.where(counts > 0, column("across"), 0.0), axis=1, initial=0.0),
        length=counts @ column("along"),
        minutes=counts @ (column("extra_minutes") + column("edge_minutes")),
        edge_minutes=counts @ column("edge_minutes"),
        counts=counts,
        options=options,
    )


def _one_more(
    rows: _Beam,
    lanes: Lanes,
    kinds: Ints,
    waste: Floats,
    value: Floats,
    packing: _Packing,
    stock: Stock,
    costing: Costing,
) -> _Beam:
    """Sections with one lane more; lanes stand in rising order so that none comes twice."""
    front = np.argsort(rows.waste, kind="stable")[:_FRONT]
    price = film_price(stock, costing)
    end_price = price - costing.offcut_share * stock.price if stock.kind is StockKind.ROLL else 0.0
    wide = rows.width[front, None] + lanes.width
    rising = rows.lanes[front, -1][:, None] <= np.arange(len(lanes))
    i, lane = np.nonzero((wide <= stock.width + TOUCHING) & rising)
    row = front[i]
    free = packing.enough(rows.kinds[row], kinds[lane])
    row, lane = row[free], lane[free]
    length = np.maximum(rows.length[row], lanes.length[lane])
    ends = rows.width[row] * (length - rows.length[row]) + lanes.width[lane] * (length - lanes.length[lane])
    new = rows.waste[row] + waste[lane] + end_price * ends
    return _Beam(
        np.hstack([rows.lanes[row], lane[:, None]]), rows.width[row] + lanes.width[lane], length, new,
        rows.value[row] + value[lane], rows.kinds[row] + kinds[lane],
    )  # fmt: skip


def _complete(
    rows: _Beam, lanes: Lanes, stock: Stock, costing: Costing, held: float
) -> list[tuple[float, SectionChoice]]:
    """Those of the sections that would make the plan cheaper, with what they save."""
    cost, spare_to = complete_cost(rows.lanes, rows.width, rows.length, lanes, stock, costing)
    gain = cost - rows.value - held * rows.length
    keep = np.flatnonzero((gain < -_GAIN) & (rows.length <= stock.length + TOUCHING))
    keep = keep[np.argsort(gain[keep], kind="stable")[:_MOST]]
    return [
        (
            float(gain[i]),
            SectionChoice(float(rows.length[i]), float(cost[i]), tuple(rows.lanes[i].tolist()), int(spare_to[i])),
        )
        for i in keep.tolist()
    ]


def _spread(found: list[tuple[float, SectionChoice]], lanes: Lanes) -> list[SectionChoice]:
    """The best, but only so many about each kind."""
    held: dict[int, int] = {}
    taken = []
    for _, choice in found:
        counts = lanes.counts[list(choice.lanes)].sum(axis=0)
        kinds = {lanes.options[column][0] for column in np.flatnonzero(counts).tolist()}
        if min((held.get(kind, 0) for kind in kinds), default=0) >= _PER_KIND:
            continue
        for kind in kinds:
            held[kind] = held.get(kind, 0) + 1
        taken.append(choice)
    return taken

"""What the film on the rack holds, by length alone: which sets of blanks, what is short, and the most that fits.

Exact within three stages of cuts. A pair goes on one lot, unless two are allowed: no set may have one of
a pair on one lot and its twin on another.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from math import inf

import numpy as np
from numpy.typing import NDArray

from elumbra.core.film import Stock
from elumbra.core.nest.lanes import Floats, Ints, Kinds, TooManySectionsError, by_size
from elumbra.core.nest.layout import TOUCHING, Blank, Layout, lot_of
from elumbra.core.nest.lengths import Lengths, least_lengths

MOST_CODES = 4096
Sets = NDArray[np.bool_]  # (codes,)


@dataclass(frozen=True)
class _Stage:
    """Sets that could be cut before a stock or lot came in, and those that it holds by itself."""

    before: Sets
    own: Sets
    apart: bool  # no pair may be on both sides


@dataclass
class Holding:
    """Blanks beside the stock that they are to be cut from.

    Raises
    ------
    TooManySectionsError
        Too many sets of blanks, or too many sections, to be looked at.
    """

    blanks: Sequence[Blank]
    stocks: Sequence[Stock]
    two_lots: bool = False  # a pair may come from two
    kinds: Kinds = field(init=False)
    _lengths: dict[float, Lengths] = field(init=False, default_factory=dict)

    def __post_init__(self) -> None:
        members = _grouped(self.blanks, pairs_apart=not self.two_lots)
        if int(np.prod([float(len(group) + 1) for group in members])) > MOST_CODES:
            raise TooManySectionsError
        self.kinds = Kinds.of_groups(members)

    def all_fit(self) -> bool:
        """Whether everything can be cut."""
        return bool(self._reached[self.kinds.full])

    def layout(self) -> Layout | None:
        """All blanks, or None where the stock does not hold them."""
        return self._layout(self.kinds.full) if self.all_fit() else None

    def most(self) -> tuple[Layout, list[Blank]]:
        """The most windows that fit, then the dearest; a window only with all its pieces.

        Returns the layout, and the blanks that are left out.
        """
        windows, price = self._worth()
        value = np.where(self._reached, windows, -inf)
        best = value == value.max()
        code = int(np.argmax(np.where(best, price, -inf)))
        taken = {b.id for kind, group in enumerate(self.kinds.members) for b in group[: self.kinds.digits[code, kind]]}
        return self._layout(code), [blank for blank in self.blanks if blank.id not in taken]

    def least_on(self, stock: Stock) -> float:
        """The least length of one item that makes all fit, the rest as it is [mm]; infinite where none does."""
        lot = lot_of(stock)
        own = [one for one in self.stocks if lot_of(one) == lot and one.id != stock.id]
        return self._least(stock.width, own, [one for one in self.stocks if lot_of(one) != lot])

    def least_new(self, width: float) -> float:
        """The shortest new roll of a width that makes all fit [mm], of a lot of its own; infinite where none does."""
        return self._least(width, [], self.stocks)

    def _least(self, width: float, own: Sequence[Stock], others: Sequence[Stock]) -> float:
        least = self.lengths(width).least
        full = self.kinds.full
        if self.two_lots:
            before = self._reach(self._lots([*own, *others]))[0]
            return float(least[full - np.flatnonzero(before)].min(initial=inf))
        elsewhere = np.flatnonzero(self._reach(self._lots(others))[0])
        elsewhere = elsewhere[self._pairs[elsewhere] & self._pairs[full - elsewhere] == 0]
        beside = np.flatnonzero(self._reach([own])[0])
        found = inf
        for code in elsewhere.tolist():
            here = beside[self.kinds.within[full - code, beside]]
            found = min(found, float(least[full - code - here].min(initial=inf)))
        return found

    def lengths(self, width: float) -> Lengths:
        """Least lengths of film of a width [mm]."""
        if width not in self._lengths:
            self._lengths[width] = least_lengths(self.kinds, width)
        return self._lengths[width]

    @cached_property
    def _pairs(self) -> Ints:
        """By code, the pairs of which it has a piece, one bit each."""
        names = sorted({blank.pair for blank in self.blanks if blank.pair})
        bits = np.zeros(len(self.kinds.digits), dtype=np.int64)
        for kind, group in enumerate(self.kinds.members):
            if group[0].pair:
                bits |= (self.kinds.digits[:, kind] > 0) * (1 << names.index(group[0].pair))
        return bits

    @cached_property
    def _reached(self) -> Sets:
        return self._reach(self._lots(self.stocks))[0]

    def _lots(self, stocks: Sequence[Stock]) -> list[list[Stock]]:
        if self.two_lots:
            return [list(stocks)]
        lots: dict[str, list[Stock]] = {}
        for stock in stocks:
            lots.setdefault(lot_of(stock), []).append(stock)
        return list(lots.values())

    def _reach(self, lots: Iterable[Sequence[Stock]]) -> tuple[Sets, list[tuple[_Stage, list[tuple[Stock, _Stage]]]]]:
        """Sets that can be cut from some lots, and how they came about, lot by lot and stock by stock."""
        reached = self._nothing()
        stages = []
        for stocks in lots:
            of_lot, within = self._nothing(), []
            for stock in stocks:
                stage = _Stage(of_lot, self.lengths(stock.width).least <= stock.length + TOUCHING, apart=False)
                of_lot = self._joined(stage)
                within.append((stock, stage))
            stage = _Stage(reached, of_lot, apart=True)
            reached = self._joined(stage)
            stages.append((stage, within))
        return reached, stages

    def _nothing(self) -> Sets:
        none = np.zeros(len(self.kinds.digits), dtype=bool)
        none[0] = True
        return none

    def _joined(self, stage: _Stage) -> Sets:
        reached = stage.before | stage.own
        for code in np.flatnonzero(~reached).tolist():
            reached[code] = len(self._parts(stage, code)) > 0
        return reached

    def _parts(self, stage: _Stage, code: int) -> Ints:
        """What the stage's own stock may give of a set, so that the rest could be cut before."""
        parts = np.flatnonzero(self.kinds.within[code] & stage.own)
        parts = parts[stage.before[code - parts]]
        if stage.apart:
            parts = parts[self._pairs[parts] & self._pairs[code - parts] == 0]
        return parts

    def _layout(self, code: int) -> Layout:
        waiting = [list(group) for group in self.kinds.members]
        sections = []
        _, lots = self._reach(self._lots(self.stocks))
        for stage, stocks in reversed(lots):
            of_lot = int(self._parts(stage, code)[0])
            code -= of_lot
            for stock, own in reversed(stocks):
                part = int(self._parts(own, of_lot)[0])
                of_lot -= part
                sections += self.lengths(stock.width).sections(part, stock.id, waiting)
        return Layout(tuple(sections))

    def _worth(self) -> tuple[Floats, Floats]:
        """By code, how many whole windows it has, and what they come to; minus infinity where one is not whole."""
        digits = self.kinds.digits
        count, price = np.zeros(len(digits)), np.zeros(len(digits))
        whole = np.ones(len(digits), dtype=bool)
        parts: dict[str, list[int]] = {}
        several = _in_several_pieces(self.blanks)
        for kind, group in enumerate(self.kinds.members):
            if group[0].window in several:
                parts.setdefault(group[0].window, []).append(kind)
                continue
            sums = np.concatenate([[0.0], np.cumsum([blank.price for blank in group])])
            count += digits[:, kind]
            price += sums[digits[:, kind]]
        for kinds in parts.values():
            full = digits[self.kinds.full, kinds]
            has = (digits[:, kinds] == full).all(axis=1)
            whole &= has | (digits[:, kinds] == 0).all(axis=1)
            count += has
            price += has * self.kinds.members[kinds[0]][0].price
        return np.where(whole, count, -inf), price


def all_fit(blanks: Sequence[Blank], stocks: Sequence[Stock], *, two_lots: bool) -> bool:
    """Whether the stock surely holds all blanks; of too many to be looked at it is not said."""
    try:
        return Holding(blanks, stocks, two_lots=two_lots).all_fit()
    except TooManySectionsError:
        return False


def _grouped(blanks: Sequence[Blank], *, pairs_apart: bool) -> tuple[tuple[Blank, ...], ...]:
    """Blanks that can stand for each other, the dearest first."""
    several = _in_several_pieces(blanks)
    groups: dict[object, list[Blank]] = {}
    for blank in sorted(blanks, key=lambda one: (-one.area, -one.price, by_size(one))):
        window = blank.window if blank.window in several else ""
        groups.setdefault((blank.turns, window, blank.pair if pairs_apart else ""), []).append(blank)
    return tuple(tuple(group) for group in groups.values())


def _in_several_pieces(blanks: Sequence[Blank]) -> frozenset[str]:
    """Windows that have more than one piece."""
    pieces = Counter(blank.window for blank in blanks if blank.window)
    return frozenset(window for window, count in pieces.items() if count > 1)

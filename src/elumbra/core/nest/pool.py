"""Larger days: a pool of exact sections, and the best combination of them.

A linear program over the pool says what each blank is worth in the plan as it stands. Those that
are dear beside their area are put together with others, a few at a time, and every section of such
a set that makes the plan cheaper joins the pool (``sections``, exact). A layout is made of the pool by
cutting the surest section first and pricing the rest anew. What the linear program costs is no bound: it only knows
the sections of the pool.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from elumbra.core.film import Stock, StockKind
from elumbra.core.nest.baseline import single_section
from elumbra.core.nest.combine import Column, Relaxed, relax
from elumbra.core.nest.exact import build_section
from elumbra.core.nest.lanes import Ints, grouped
from elumbra.core.nest.layout import TOUCHING, Blank, Costing, Layout, Section, by_id, section_cost
from elumbra.core.nest.price import cheap_sections

_SURE = 0.8
_WORTHWHILE = 1e-6


@dataclass
class Pool:
    """Sections that a plan may be put together from."""

    blanks: Sequence[Blank]
    stocks: Sequence[Stock]
    costing: Costing
    members: tuple[tuple[Blank, ...], ...] = field(init=False)

    def __post_init__(self) -> None:
        self.members = grouped(self.blanks)
        self._kind = {blank.id: kind for kind, group in enumerate(self.members) for blank in group}
        self._at = {stock.id: i for i, stock in enumerate(self.stocks)}
        self._by_id = by_id(self.blanks)
        self._columns: list[Column] = []
        self._of: list[Section] = []
        self._seen: dict[tuple[int, bytes, float], int] = {}
        self._add_singles()

    @property
    def demand(self) -> Ints:
        """Blanks of each kind."""
        return np.array([len(group) for group in self.members], dtype=np.int64)

    def add(self, sections: Iterable[Section]) -> None:
        """Take sections in, for every stock that is like theirs."""
        for section in sections:
            for i in self._alike(self._at[section.stock_id], section.length):
                self._add(i, section)

    def _add_singles(self) -> None:
        """Take in every blank by itself, so that there is always a way to go on."""
        for group in self.members:
            for stock in self.stocks:
                for option in group[0].turns:
                    if option.across <= stock.width + TOUCHING and option.along <= stock.length + TOUCHING:
                        self.add([single_section(group[0], option, stock, self.costing, x=0.0)])

    def _alike(self, at: int, length: float) -> list[int]:
        like = self.stocks[at]
        return [
            i
            for i, stock in enumerate(self.stocks)
            if (stock.kind, stock.width, stock.price) == (like.kind, like.width, like.price)
            and stock.length >= length - _WORTHWHILE
        ]

    def _add(self, at: int, section: Section) -> None:
        digits = np.zeros(len(self.members), dtype=np.int64)
        for lane in section.lanes:
            for item in lane.placed:
                digits[self._kind[item.blank_id]] += 1
        stock = self.stocks[at]
        cost = section_cost(section, blanks=self._by_id, stock=stock, costing=self.costing)
        key = (at, digits.tobytes(), round(section.length, 3))
        column, own = Column(at, digits, section.length, cost), replace(section, stock_id=stock.id)
        if key not in self._seen:
            self._seen[key] = len(self._columns)
            self._columns.append(column)
            self._of.append(own)
        elif cost < self._columns[self._seen[key]].cost - _WORTHWHILE:
            self._columns[self._seen[key]], self._of[self._seen[key]] = column, own

    def open_state(self) -> State:
        """Nothing is cut yet."""
        return State(self.demand, tuple(self.stocks))

    def relaxed(self, state: State) -> tuple[list[int], Relaxed] | None:
        """The columns that can still be cut, and what each blank is worth in their best mixture."""
        left = [
            i
            for i, column in enumerate(self._columns)
            if np.all(column.digits <= state.demand)
            and column.length <= state.stocks[column.stock].length + _WORTHWHILE
        ]
        if not left:
            return None
        found = relax([self._columns[i] for i in left], state.demand, state.stocks, self.costing)
        return None if found is None else (left, found)

    def _filled(self, section: Section, waiting: Sequence[list[Blank]]) -> Section:
        """A section of the pool with blanks that still wait, kind by kind."""
        return replace(
            section,
            lanes=tuple(
                replace(
                    lane,
                    placed=tuple(
                        replace(item, blank_id=waiting[self._kind[item.blank_id]].pop(0).id) for item in lane.placed
                    ),
                )
                for lane in section.lanes
            ),
        )

    def price(self, state: State, prices: Relaxed) -> int:
        """Take in sections that make the plan cheaper; how many."""
        before = len(self._columns)
        done: set[tuple[StockKind, float, float, float]] = set()
        for i, stock in enumerate(state.stocks):
            held = prices.length_prices[i]
            like = (stock.kind, stock.width, stock.price, held)
            if like in done or stock.length <= _WORTHWHILE:
                continue
            done.add(like)
            lanes, choices = cheap_sections(
                self.members, state.demand, prices.kind_prices, stock, self.costing, held=held
            )  # fmt: skip
            self.add(
                build_section(lanes, stock, choice, 0.0, [list(group) for group in self.members]) for choice in choices
            )
        return len(self._columns) - before

    def grow(self, rounds: int) -> None:
        """So many rounds of pricing, fewer where nothing more is found."""
        state = self.open_state()
        for _ in range(rounds):
            found = self.relaxed(state)
            if found is None or not self.price(state, found[1]):
                return

    def dived(self, rng: np.random.Generator) -> Layout | None:
        """A layout made by cutting the sections first that the mixture is surest of, pricing anew each time."""
        state, chosen = self.open_state(), []
        while state.demand.any():
            found = self.relaxed(state)
            if found is not None and self.price(state, found[1]):
                found = self.relaxed(state)
            if found is None:
                return None
            left, mixture = found
            surest = float(mixture.shares.max())
            near = [i for i, share in zip(left, mixture.shares.tolist(), strict=True) if share >= _SURE * surest]
            pick = near[int(rng.integers(len(near)))]
            state = state.cut(self._columns[pick])
            chosen.append(self._of[pick])
        waiting = [list(group) for group in self.members]
        return packed([self._filled(section, waiting) for section in chosen])


@dataclass(frozen=True)
class State:
    """What is still to be cut, and what is left to cut it from."""

    demand: Ints
    stocks: tuple[Stock, ...]

    def cut(self, column: Column) -> State:
        """The same once a column is cut."""
        stocks = list(self.stocks)
        stock = stocks[column.stock]
        stocks[column.stock] = replace(stock, length=stock.length - column.length)
        return State(self.demand - column.digits, tuple(stocks))


def packed(sections: Sequence[Section]) -> Layout:
    """Sections of each stock laid end to end."""
    at: dict[str, float] = {}
    laid = []
    for section in sections:
        x = at.get(section.stock_id, 0.0)
        laid.append(moved(section, x - section.x))
        at[section.stock_id] = x + section.length
    return Layout(tuple(laid))


def moved(section: Section, by: float) -> Section:
    """A section further along its stock [mm]."""
    lanes = tuple(
        replace(lane, placed=tuple(replace(item, x=item.x + by) for item in lane.placed)) for lane in section.lanes
    )
    return replace(section, x=section.x + by, lanes=lanes)

"""Patterns that somebody placed by hand, and all others laid around them or behind them.

Around: one after another, each as far forward as it goes, found on a grid and then slid up to its
neighbours. Behind: by ``plan_patterns`` on what is left of the stock. The cheaper of the two is taken.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import chain

import numpy as np
from scipy.fft import irfft2, next_fast_len, rfft2
from shapely import Polygon, contains_xy, prepare, union_all
from shapely.affinity import translate

from elumbra.core.film import Stock
from elumbra.core.geom.polygon import Points
from elumbra.core.nest.by_hand import NO_STOCK, NO_TURN, SNAP, HandPlace, Tried
from elumbra.core.nest.layout import TOUCHING, Costing, Turn, Unplaced
from elumbra.core.nest.pattern import plan_patterns, verified_patterns
from elumbra.core.nest.pattern_layout import (
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRules,
    PatternStrip,
    strip_of,
)

_CELL = 6.0  # mm: places are looked for on a grid this fine
_SLIDES = 12  # halvings of the way up to a neighbour
_ORDERS = 5  # in which the rest is laid around what stands
_HAIR = 1e-3


def try_pattern(
    pattern: Pattern,
    place: HandPlace,
    *,
    held: Mapping[str, HandPlace],
    patterns: Sequence[Pattern],
    stocks: Sequence[Stock],
    rules: PatternRules,
) -> Tried:
    """Whether a pattern can be cut where somebody puts it, beside those placed by hand before.

    Parameters
    ----------
    pattern, place
        What is put where.
    held
        By pattern, the places that stand.
    patterns, stocks, rules
        All that is cut so, from what, and the gap and margin that are kept.
    """
    stock = {one.id: one for one in stocks}.get(place.stock)
    if stock is None:
        return Tried(place, 0.0, 0.0, NO_STOCK)
    if place.turn not in pattern.turns:
        return Tried(place, 0.0, 0.0, NO_TURN)
    along, across = pattern.turned(place.turn).max(axis=0).tolist()
    margin, name = rules.margin, stock.label or stock.id
    x = _drawn_up(place.x, [margin])
    y = _drawn_up(place.y, [margin, stock.width - margin - across])
    at = replace(place, x=x, y=y)
    refused = ""
    if y < margin - _HAIR or y + across > stock.width - margin + _HAIR:
        refused = f"It reaches over the edge of {name}, or nearer to it than the margin."
    elif x < margin - _HAIR or x + along > stock.length - margin + _HAIR:
        refused = f"It reaches over the end of {name}, or nearer to it than the margin."
    else:
        own = Polygon(_put(pattern, at).ring)
        for other in patterns:
            there = held.get(other.id)
            if other.id == pattern.id or there is None or there.stock != stock.id:
                continue
            if own.distance(Polygon(_put(other, there).ring)) < rules.gap - _HAIR:
                refused = f"It lies on {other.label}, or nearer to it than the knife gap."
    return Tried(at, along, across, refused)


def _drawn_up(at: float, walls: Sequence[float]) -> float:
    nearest = min(walls, key=lambda wall: abs(wall - at))
    return nearest if abs(nearest - at) <= SNAP else at


def _put(pattern: Pattern, place: HandPlace) -> PatternPlaced:
    ring = pattern.turned(place.turn) + np.array([place.x, place.y])
    return PatternPlaced(pattern.id, place.turn, place.x, place.y, ring)


@dataclass(frozen=True)
class PatternsHeld:
    """Patterns placed by hand that stand, by stock, and why others could not be."""

    placed: Mapping[str, tuple[PatternPlaced, ...]]
    refused: Mapping[str, str]

    @property
    def ids(self) -> frozenset[str]:
        """Patterns that keep their place."""
        return frozenset(item.pattern_id for group in self.placed.values() for item in group)


def settle_patterns(
    places: Mapping[str, HandPlace], patterns: Sequence[Pattern], stocks: Sequence[Stock], rules: PatternRules
) -> PatternsHeld:
    """All patterns whose places can be; one after another, in the order given."""
    known = {one.id: one for one in patterns}
    held: dict[str, HandPlace] = {}
    refused: dict[str, str] = {}
    placed: dict[str, tuple[PatternPlaced, ...]] = {}
    for name, place in places.items():
        if name not in known:
            continue
        tried = try_pattern(known[name], place, held=held, patterns=patterns, stocks=stocks, rules=rules)
        if tried.refused:
            refused[name] = tried.refused
        else:
            held[name] = tried.place
            placed[place.stock] = (*placed.get(place.stock, ()), _put(known[name], tried.place))
    return PatternsHeld(placed, refused)


def plan_patterns_with_hand(
    patterns: Sequence[Pattern],
    stocks: Sequence[Stock],
    costing: Costing,
    rules: PatternRules,
    *,
    places: Mapping[str, HandPlace],
    roll_widths: Sequence[float],
    seconds: Sequence[int] = (1, 3, 6),
    seed: int = 1,
) -> Iterator[PatternPlan]:
    """As ``plan_patterns``, with patterns where somebody put them; places that cannot be are laid as any other."""
    held = settle_patterns(places, patterns, stocks, rules)
    if not held.placed:
        yield from plan_patterns(
            patterns, stocks, costing, rules, roll_widths=roll_widths, seconds=seconds, seed=seed
        )  # fmt: skip
        return
    maker = _Around(patterns, stocks, costing, rules, roll_widths, held)
    best: PatternPlan | None = None
    rng = np.random.default_rng(seed)
    orders = _ORDERS if seconds else 1
    for plan in chain(
        (maker.laid_around(rng if turn else None) for turn in range(orders)), maker.laid_behind(seconds, seed)
    ):  # fmt: skip
        if best is None or _rank(plan) < _rank(best):
            best = plan
            yield plan
        if not seconds:
            break
    assert best is not None
    yield replace(best, finished=True)


def _rank(plan: PatternPlan) -> tuple[int, float]:
    return len(plan.unplaced), round(plan.net, 6)


@dataclass(frozen=True)
class _Around:
    patterns: Sequence[Pattern]
    stocks: Sequence[Stock]
    costing: Costing
    rules: PatternRules
    roll_widths: Sequence[float]
    held: PatternsHeld

    def laid_around(self, rng: np.random.Generator | None) -> PatternPlan:
        """The rest one after another on the stock that pieces stand on, by size or in an order by chance."""
        free = self._free()
        if rng is not None:
            free = [free[i] for i in rng.permutation(len(free)).tolist()]
        tables = [
            _Table(stock, self.rules, list(self.held.placed[stock.id]))
            for stock in self.stocks
            if stock.id in self.held.placed
        ]
        over = [pattern for pattern in free if not any(table.take(pattern) for table in tables)]
        strips = [strip_of(table.stock.id, table.placed, self.rules) for table in tables]
        taken = {table.stock.id for table in tables}
        rest = [stock for stock in self.stocks if stock.id not in taken]
        more = self._first(over, rest)
        return self._verified([*strips, *more.strips], more.unplaced)

    def laid_behind(self, seconds: Sequence[int], seed: int) -> Iterator[PatternPlan]:
        """The rest by outline behind what stands."""
        fixed = {name: strip_of(name, placed, self.rules) for name, placed in self.held.placed.items()}
        start = {name: strip.length - 2 * self.rules.margin + self.rules.gap for name, strip in fixed.items()}
        left = [replace(one, length=max(0.0, one.length - start.get(one.id, 0.0))) for one in self.stocks]
        for plan in plan_patterns(
            self._free(), [one for one in left if one.length > TOUCHING], self.costing, self.rules,
            roll_widths=self.roll_widths, seconds=seconds, seed=seed,
        ):  # fmt: skip
            strips = [
                strip_of(one.stock_id, _behind(one, fixed, start.get(one.stock_id, 0.0)), self.rules)
                for one in plan.strips
            ]
            alone = [strip for name, strip in fixed.items() if name not in {one.stock_id for one in strips}]
            yield self._verified([*strips, *alone], plan.unplaced)

    def _free(self) -> list[Pattern]:
        free = [pattern for pattern in self.patterns if pattern.id not in self.held.ids]
        return sorted(free, key=lambda one: (-Polygon(one.ring).area, one.id))

    def _first(self, patterns: Sequence[Pattern], stocks: Sequence[Stock]) -> PatternPlan:
        return next(plan_patterns(patterns, stocks, self.costing, self.rules, roll_widths=self.roll_widths, seconds=()))

    def _verified(self, strips: Sequence[PatternStrip], unplaced: Sequence[Unplaced]) -> PatternPlan:
        return verified_patterns(strips, self.patterns, self.stocks, self.costing, self.rules, unplaced=unplaced)


def _behind(strip: PatternStrip, fixed: Mapping[str, PatternStrip], start: float) -> list[PatternPlaced]:
    moved = [
        replace(item, x=item.x + start, ring=item.ring + np.array([start, 0.0])) for item in strip.placed
    ]  # fmt: skip
    return [*(fixed[strip.stock_id].placed if strip.stock_id in fixed else ()), *moved]


@dataclass
class _Table:
    """One stock with what lies on it; further patterns are taken where they go furthest forward."""

    stock: Stock
    rules: PatternRules
    placed: list[PatternPlaced] = field(default_factory=list)

    def take(self, pattern: Pattern) -> bool:
        """Lay one pattern more; whether there was room."""
        found = [at for turn in pattern.turns if (at := self._forward(pattern, turn)) is not None]
        if not found:
            return False
        self.placed.append(min(found, key=lambda one: (round(float(one.ring[:, 0].max())), one.y)))
        return True

    def _forward(self, pattern: Pattern, turn: Turn) -> PatternPlaced | None:
        ring = pattern.turned(turn)
        along, across = ring.max(axis=0).tolist()
        margin, gap = self.rules.margin, self.rules.gap
        reach = max(float(one.ring[:, 0].max()) for one in self.placed)
        length = min(self.stock.length - margin, reach + gap + along + 2 * _CELL)
        width = self.stock.width - margin
        if across > width - margin + TOUCHING or along > length - margin + TOUCHING:
            return None
        kept_free = union_all([Polygon(one.ring) for one in self.placed]).buffer(gap + _HAIR, join_style="mitre")
        origins = _free_origins(kept_free, ring, length - margin, width - margin, margin)
        if origins is None:
            return None
        x, y = self._slid(kept_free, ring, *origins)
        return PatternPlaced(pattern.id, turn, x, y, ring + np.array([x, y]))

    def _slid(self, kept_free: Polygon, ring: Points, x: float, y: float) -> tuple[float, float]:
        """Forward and down as far as nothing is touched, by halving."""
        prepare(kept_free)
        shape = Polygon(ring)
        margin = self.rules.margin
        for _ in range(2):
            x = _halved(lambda to, y=y: not kept_free.intersects(translate(shape, to, y)), x, max(margin, x - _CELL))
            y = _halved(lambda to, x=x: not kept_free.intersects(translate(shape, x, to)), y, max(margin, y - _CELL))
        return x, y


def _halved(free: object, good: float, wanted: float) -> float:
    """The nearest to ``wanted`` that is still free, from ``good`` that is."""
    assert callable(free)
    if free(wanted):
        return wanted
    bad = wanted
    for _ in range(_SLIDES):
        middle = (good + bad) / 2
        good, bad = (middle, bad) if free(middle) else (good, middle)
    return good


def _free_origins(
    kept_free: Polygon, ring: Points, length: float, width: float, margin: float
) -> tuple[float, float] | None:
    """The foremost grid point at which a ring touches nothing; None where there is none.

    A cell counts as taken when anything of it may be; so what is found is free, and a little may be
    missed.
    """
    columns, rows = int(np.ceil(length / _CELL)), int(np.ceil(width / _CELL))
    half = _CELL * np.sqrt(0.5)
    taken = _cells(kept_free.buffer(half), margin, margin, columns, rows)
    span_x, span_y = (int(np.ceil(size / _CELL)) for size in ring.max(axis=0).tolist())
    piece = _cells(Polygon(ring).buffer(half), 0.0, 0.0, span_x, span_y)
    steps_x = int((length - float(ring[:, 0].max())) / _CELL) + 1
    steps_y = int((width - float(ring[:, 1].max())) / _CELL) + 1
    # How many taken cells the piece would cover at each step: both as long, so that nothing comes round the edge.
    size = (next_fast_len(max(columns, steps_x + span_x)), next_fast_len(max(rows, steps_y + span_y)))
    covered = rfft2(taken.astype(float), size) * np.conj(rfft2(piece.astype(float), size))
    touched = irfft2(covered, size)[:steps_x, :steps_y]
    free = np.argwhere(touched < 0.5)
    if not len(free):
        return None
    i, j = free[0].tolist()
    return margin + i * _CELL, margin + j * _CELL


def _cells(shape: Polygon, x: float, y: float, columns: int, rows: int) -> np.ndarray:
    """Cells of a grid from x, y whose middle lies in a shape."""
    grid_x, grid_y = np.meshgrid(
        x + (np.arange(columns) + 0.5) * _CELL, y + (np.arange(rows) + 0.5) * _CELL, indexing="ij"
    )
    found: np.ndarray = contains_xy(shape, grid_x, grid_y)
    return found

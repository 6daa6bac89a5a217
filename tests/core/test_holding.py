"""What a rack holds, against every way of sharing it out, made by other means."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cache
from itertools import product
from math import inf

import numpy as np
import pytest

from elumbra.core.film import Stock
from elumbra.core.nest import (
    Blank,
    Costing,
    Turn,
    TurnOption,
    all_fit,
    by_id,
    check_layout,
    least_reduction,
    plan_by_lot,
    plan_cuts,
    what_is_short,
)
from elumbra.core.nest.holding import Holding
from tests.catalogue.panes import INCH, offcut, roll, starting
from tests.effort import effort

SLACK = 1e-6
COSTING = Costing.from_starting(starting())
WIDTHS = starting().roll_widths_mm


def partitions(items: tuple[int, ...]) -> Iterator[list[tuple[int, ...]]]:
    """Every way to part a set."""
    if not items:
        yield []
        return
    first, rest = items[0], items[1:]
    for picks in product((False, True), repeat=len(rest)):
        own = (first, *(one for one, picked in zip(rest, picks, strict=True) if picked))
        left = tuple(one for one, picked in zip(rest, picks, strict=True) if not picked)
        for others in partitions(left):
            yield [own, *others]


class ByHand:
    """Sections, lanes and turns tried one by one."""

    def __init__(self, blanks: Sequence[Blank]) -> None:
        self.blanks = blanks
        self.length = cache(self._length)

    def _section(self, items: tuple[int, ...], width: float) -> float:
        best = inf
        for turned in product(*(self.blanks[one].turns for one in items)):
            of = dict(zip(items, turned, strict=True))
            for lanes in partitions(items):
                wide = sum(max(of[one].across for one in lane) for lane in lanes)
                if wide <= width + SLACK:
                    best = min(best, max(sum(of[one].along for one in lane) for lane in lanes))
        return best

    def _length(self, items: tuple[int, ...], width: float) -> float:
        """The least length of film of a width."""
        if not items:
            return 0.0
        return min(sum(self._section(part, width) for part in parts) for parts in partitions(items))

    def shares(self, stocks: Sequence[Stock]) -> Iterator[list[tuple[int, ...]]]:
        """Every way to share blanks out that the stock holds and that keeps pairs on one lot; the last share stays."""
        for homes in product(range(len(stocks) + 1), repeat=len(self.blanks)):
            shares = [tuple(i for i, home in enumerate(homes) if home == at) for at in range(len(stocks) + 1)]
            lots: dict[str, set[str]] = {}
            for i, home in enumerate(homes):
                if home < len(stocks) and self.blanks[i].pair:
                    lots.setdefault(self.blanks[i].pair, set()).add(stocks[home].lot)
            if any(len(of_pair) > 1 for of_pair in lots.values()):
                continue
            if all(self.length(shares[at], s.width) <= s.length + SLACK for at, s in enumerate(stocks)):
                yield shares

    def most(self, stocks: Sequence[Stock]) -> tuple[int, float]:
        """The most windows, then their price."""
        windows = {one.window or one.id for one in self.blanks}
        best = (0, 0.0)
        for shares in self.shares(stocks):
            out = {self.blanks[i].window or self.blanks[i].id for i in shares[-1]}
            price = {one.window or one.id: one.price for one in self.blanks}
            best = max(best, (len(windows - out), round(sum(price[one] for one in windows - out), 6)))
        return best

    def added(self, stocks: Sequence[Stock], at: int) -> float:
        """The least length of one item with which nothing stays."""
        endless = [replace(one, length=inf) if i == at else one for i, one in enumerate(stocks)]
        found = [self.length(shares[at], stocks[at].width) for shares in self.shares(endless) if not shares[-1]]
        return min(found, default=inf)


def drawn(seed: int) -> tuple[list[Blank], list[Stock]]:
    """Up to five pieces, pairs and windows of two pieces among them, and a short rack."""
    chance = np.random.default_rng(seed)
    count = int(chance.integers(2, 6))
    blanks: list[Blank] = []
    for i in range(count):
        wide, high = (round(float(chance.uniform(*of)), 1) for of in ((10, 44), (8, 26)))
        turns = [TurnOption(Turn.UPRIGHT, wide, high, edge_minutes=1.0)]
        if chance.random() < 0.7:
            turns.append(TurnOption(Turn.SIDEWAYS, high, wide))
        blanks.append(Blank(f"b{i}", f"b{i}", tuple(turns), price=float(chance.integers(20, 24))))
    if chance.random() < 0.5:
        blanks[1] = replace(blanks[1], turns=blanks[0].turns, pair="p")
        blanks[0] = replace(blanks[0], pair="p")
    if chance.random() < 0.4:
        blanks[-2:] = [replace(one, window="w", price=30.0, pair="") for one in blanks[-2:]]
        blanks = [replace(one, pair="") for one in blanks] if count < 4 else blanks
    stocks = []
    for i in range(int(chance.integers(1, 4))):
        kind = roll if chance.random() < 0.6 else offcut
        one = kind(f"s{i}", float(chance.choice([20, 24, 36, 40])), float(chance.uniform(10, 60)))
        stocks.append(replace(one, lot=str(chance.choice(["L1", "L2"]))))
    return [replace(one, turns=tuple(_in_mm(o) for o in one.turns)) for one in blanks], stocks


def _in_mm(option: TurnOption) -> TurnOption:
    return replace(option, along=option.along * INCH, across=option.across * INCH)


@pytest.mark.parametrize("seed", range(effort(60, 500)))
def test_no_other_way_of_sharing_a_short_rack_out_holds_more(seed: int) -> None:
    blanks, stocks = drawn(seed)
    tried, held = ByHand(blanks), Holding(blanks, stocks)
    layout, left_out = held.most()
    check_layout(
        replace(layout, unplaced=()), blanks=by_id([b for b in blanks if b not in left_out]),
        stocks=by_stock(stocks), one_lot=True,
    )  # fmt: skip
    windows = {one.window or one.id for one in blanks} - {one.window or one.id for one in left_out}
    price = sum({one.window or one.id: one.price for one in blanks}[window] for window in windows)
    assert (len(windows), round(price, 6)) == tried.most(stocks)
    assert held.all_fit() == (not left_out)
    for at, stock in enumerate(stocks):
        assert held.least_on(stock) == pytest.approx(tried.added(stocks, at), abs=1e-6)


def by_stock(stocks: Sequence[Stock]) -> dict[str, Stock]:
    return {one.id: one for one in stocks}


@pytest.mark.parametrize("seed", range(effort(3, 15)))
def test_ten_to_twelve_different_pieces_on_a_short_rack_end_with_the_most_that_fits(seed: int) -> None:
    """So many made the search for a waste that is bound to be end in an exception, be it that all fits."""
    chance = np.random.default_rng(seed)
    blanks = [
        Blank(f"b{i}", f"b{i}", (TurnOption(Turn.UPRIGHT, wide, high), TurnOption(Turn.SIDEWAYS, high, wide)))
        for i, (wide, high) in enumerate(chance.uniform((450, 250), (1050, 650), size=(10 + seed % 3, 2)))
    ]
    stocks = [
        roll(f"r{i}", float(chance.choice([24, 36, 40])), float(chance.uniform(40, 140)))
        for i in range(int(chance.integers(1, 4)))
    ]
    plans = list(plan_cuts(blanks, stocks, COSTING, roll_widths=WIDTHS))
    assert plans[-1].finished
    lying = [b for b in blanks if any(o.across <= s.width and o.along <= s.length for s in stocks for o in b.turns)]
    left_out = Holding(lying, stocks).most()[1]
    assert len(plans[-1].layout.unplaced) == len(blanks) - len(lying) + len(left_out)
    short = what_is_short(blanks, stocks, COSTING, plans[-1].layout, roll_widths=WIDTHS, two_lots=False)
    for one in short.longer if left_out else ():
        longer, shorter = (
            [replace(s, length=s.length + more) if s.id == one.stock_id else s for s in stocks]
            for more in (one.more, one.more - INCH / 16 - 1e-3)
        )
        assert all_fit(blanks, longer, two_lots=False)
        assert not all_fit(blanks, shorter, two_lots=False)


def fronts(extra_in: float) -> list[Blank]:
    """Two fronts of 38 by 20 in, cut upright with so much extra all round."""
    size = (38 + 2 * extra_in) * INCH, (20 + 2 * extra_in) * INCH
    return [Blank(name, name, (TurnOption(Turn.UPRIGHT, *size),)) for name in ("driver", "passenger")]


def test_two_fronts_want_two_inches_more_or_half_an_inch_less_extra() -> None:
    stocks = [roll("r24", 24, 78)]
    plan = list(plan_cuts(fronts(1.0), stocks, COSTING, roll_widths=WIDTHS))[-1]
    (missing,) = plan.layout.unplaced
    assert missing.reason == "Too little film left beside the other pieces."
    short = what_is_short(fronts(1.0), stocks, COSTING, plan.layout, roll_widths=WIDTHS, two_lots=False)
    assert [(one.stock_id, one.more, one.at_least) for one in short.longer] == [("r24", 2 * INCH, 2 * INCH)]
    assert {round(one.width / INCH): one.length / INCH for one in short.new_rolls}[24] == pytest.approx(40)
    steps = least_reduction(lambda n: fronts(1.0 - n / 16), 16, stocks, COSTING, two_lots=False)
    assert steps == 8
    assert least_reduction(lambda n: fronts(1.0 - n / 16), 7, stocks, COSTING, two_lots=False) is None


def test_of_two_that_do_not_both_fit_the_dearer_is_cut_and_a_window_only_whole() -> None:
    def piece(name: str, height: float, **over: object) -> Blank:
        return replace(Blank(name, name, (TurnOption(Turn.UPRIGHT, 38 * INCH, height * INCH),)), **over)

    stocks = [roll("r24", 24, 40)]
    cheap, dear = piece("cheap", 20, price=50.0), piece("dear", 20, price=80.0)
    plan = list(plan_cuts([cheap, dear], stocks, COSTING, roll_widths=WIDTHS))[-1]
    assert [item.blank_id for item in plan.layout.unplaced] == ["cheap"]
    halves = [piece(f"w:{side}", 11, window="w", price=500.0) for side in ("left", "right")]
    plan = list(plan_cuts([*halves, cheap, dear], stocks, COSTING, roll_widths=WIDTHS))[-1]
    assert {item.blank_id for item in plan.layout.unplaced} == {"cheap", "dear"}
    plan = list(plan_cuts([halves[0], piece("w:right", 30, window="w"), cheap], stocks, COSTING, roll_widths=WIDTHS))[
        -1
    ]
    told = {item.blank_id: item.reason for item in plan.layout.unplaced}
    assert told["w:left"] == "The rack has no film for the other piece of this window."
    assert "w:right" in told
    assert "cheap" not in told


def test_a_pair_goes_whole_onto_the_lot_that_leaves_the_most() -> None:
    pair = [replace(one, pair="fronts") for one in fronts(1.0)]
    short = [replace(roll(name, 24, 45), lot=name) for name in ("L1", "L2")]
    plan = list(plan_by_lot(pair, short, COSTING, roll_widths=WIDTHS))[-1]
    (missing,) = plan.layout.unplaced
    assert missing.two_lots
    assert not list(plan_by_lot(pair, short, COSTING, roll_widths=WIDTHS, two_lots_allowed=True))[-1].layout.unplaced


def test_of_many_pieces_each_figure_surely_does_and_the_least_by_area_stands_beside_it() -> None:
    many = [
        Blank(f"b{i}", f"b{i}", (TurnOption(Turn.UPRIGHT, (20 + i) * INCH, (15 + i % 5) * INCH),)) for i in range(14)
    ]
    stocks = [roll("r40", 40, 90)]
    plan = list(plan_cuts(many, stocks, COSTING, roll_widths=WIDTHS, rounds=2))[-1]
    left_out = [blank for blank in many if blank.id in {item.blank_id for item in plan.layout.unplaced}]
    assert left_out
    short = what_is_short(many, stocks, COSTING, plan.layout, roll_widths=WIDTHS, two_lots=False)
    (longer,) = short.longer
    assert 0 < longer.at_least < longer.more
    area = sum(blank.area for blank in many) - 40 * 90 * INCH**2
    assert longer.at_least == pytest.approx(area / (40 * INCH), abs=INCH / 16)
    behind = [roll("behind", 40, (longer.more + stocks[0].length - plan.layout.used_length("r40")) / INCH)]
    assert not list(plan_cuts(left_out, behind, COSTING, roll_widths=WIDTHS, rounds=2))[-1].layout.unplaced

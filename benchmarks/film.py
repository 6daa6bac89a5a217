"""Makes docs/film-and-money.md: film and money of the shelf's cars by rack, method and batch, beside others' ways.

Run by ./elumbra bench, or by itself: python benchmarks/film.py [--cars 40]. Needs benchmarks/requirements.lock.
"""

from __future__ import annotations

import argparse
import statistics
import sys
import time
from collections.abc import Sequence
from dataclasses import dataclass, replace
from pathlib import Path

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

import rectpack

from elumbra.car.glass_shelf import measured
from elumbra.core.cut import CutMethod, PaneToCut, blank_for, pattern_for
from elumbra.core.film import Stock
from elumbra.core.glass import Outline, Position
from elumbra.core.nest import (
    Blank,
    Costing,
    CutPlan,
    Layout,
    PatternRules,
    by_id,
    moved,
    plan_cuts,
    plan_patterns,
    score,
)
from elumbra.core.shrink import Unrolled
from elumbra.made_up_glass import made_up_shelf
from elumbra.storage.data_files import starting_values
from tests.catalogue.panes import roll

START = starting_values()
COSTING = Costing.from_starting(START)
RULES = PatternRules.from_starting(START)
WIDTHS = {"six widths": (20, 24, 30, 36, 40, 60), "two widths": (40, 60), "one width": (60,)}
TARGET = ROOT / "docs" / "film-and-money.md"
BATCH = 4


@dataclass(frozen=True)
class Car:
    """A car of the shelf: the panes behind its windshield."""

    name: str
    panes: tuple[PaneToCut, ...]

    def blanks(self, method: CutMethod = CutMethod.BULK) -> list[Blank]:
        return [blank_for(replace(pane, method=method), starting=START) for pane in self.panes]


def cars(count: int) -> list[Car]:
    found = []
    for number, car in enumerate(made_up_shelf().cars[:count]):
        panes = []
        for i, pane in enumerate(car.panes):
            if pane.position is Position.WINDSHIELD:
                continue
            outline = measured(car.panes[pane.same_as] if pane.same_as is not None else pane, starting=START).outline
            if outline is None:
                continue
            if pane.same_as is not None:
                outline = Outline(outline.mirrored().ring, outline.mirrored().ring, outline.measured)
            pair = str(pane.same_as if pane.same_as is not None else i)
            curve = car.panes[pane.same_as].curve if pane.same_as is not None else pane.curve
            unrolled = frozenset({Unrolled.ACROSS}) if curve.binds_direction else frozenset(Unrolled)
            panes.append(
                PaneToCut(f"{number}.{i}", pane.label, pane.kind, outline, unrolled=unrolled, pair=f"{number}.{pair}")
            )
        found.append(Car(car.name, tuple(panes)))
    return found


def rack(words: str) -> list[Stock]:
    return [roll(f"r{width}", width, length_in=4000) for width in WIDTHS[words]]


def last(blanks: Sequence[Blank], stocks: Sequence[Stock], starts: Sequence[Layout] = ()) -> CutPlan:
    return list(plan_cuts(blanks, stocks, COSTING, roll_widths=[], starts=starts))[-1]


def packer_film(blanks: Sequence[Blank], stocks: Sequence[Stock]) -> float | None:
    """Film [$] by a common rectangle packer (MaxRects, best short side) on the cheapest roll that holds all.

    It knows no knife and no stages, and turns either all pieces or none; where one may not be turned, none is.
    """
    turnable = all(len(blank.turns) > 1 for blank in blanks)
    costs = []
    for stock in stocks:
        sizes = []
        for blank in blanks:
            fitting = [one for one in blank.turns if one.across <= stock.width + 1e-6]
            if not fitting:
                break
            one = fitting[0]
            sizes.append((round(one.along), round(one.across)))
        else:
            length = shortest(sizes, int(stock.width + 1e-6), turnable)
            costs.append(length * stock.width * stock.price)
    return min(costs, default=None)


def shortest(sizes: Sequence[tuple[int, int]], width: int, turnable: bool) -> int:
    low, high = max(min(size) for size in sizes), sum(max(size) for size in sizes)
    while low < high:
        middle = (low + high) // 2
        packer = rectpack.newPacker(rotation=turnable, sort_algo=rectpack.SORT_AREA)
        packer.add_bin(middle, width)
        for along, across in sizes:
            packer.add_rect(along, across)
        packer.pack()
        if len(packer.rect_list()) == len(sizes):
            high = middle
        else:
            low = middle + 1
    return low


def mean(values: Sequence[float]) -> str:
    return f"{statistics.mean(values):.3f}" if values else "–"


def by_rack(chosen: Sequence[Car]) -> list[str]:
    lines = [
        "| rack | cars | this plan, film | net | narrowest roll each | one roll for all | rectangle packer | free bound | area / width | proven |",
        "| --- | --- | --- | --- | --- | --- | --- | --- | --- | --- |",
    ]
    for words in WIDTHS:
        plans = [(car, last(car.blanks(), rack(words))) for car in chosen]
        held = [(car, plan) for car, plan in plans if not plan.layout.unplaced]
        film = [plan.score.new_film for _, plan in held]
        packed = [(packer_film(car.blanks(), rack(words)), plan) for car, plan in held]
        columns = [
            mean([plan.narrowest.score.new_film / plan.score.new_film for _, plan in held if plan.narrowest]),
            mean([plan.single.score.new_film / plan.score.new_film for _, plan in held if plan.single]),
            mean([one / plan.score.new_film for one, plan in packed if one is not None]),
            mean([plan.bounds.free / plan.score.new_film for _, plan in held]),
            mean([plan.bounds.area / plan.score.new_film for _, plan in held]),
        ]
        proven = sum(plan.proven for _, plan in held)
        net = statistics.mean(plan.score.net for _, plan in held)
        lines.append(
            f"| {words} | {len(held)} of {len(chosen)} | ${statistics.mean(film):.2f} | ${net:.2f} | "
            + " | ".join(columns)
            + f" | {proven} |"
        )
    return lines


def by_car(chosen: Sequence[Car]) -> list[str]:
    lines = [
        "| car | pieces | film | net | narrowest each | one roll | rectangle packer | free bound | proven |",
        "| --- | --- | --- | --- | --- | --- | --- | --- | --- |",
    ]
    for car in chosen:
        plan = last(car.blanks(), rack("six widths"))
        other = packer_film(car.blanks(), rack("six widths"))
        told = [one and f"{one.score.new_film:.2f}" for one in (plan.narrowest, plan.single)]
        lines.append(
            f"| {car.name} | {len(car.panes)} | {plan.score.new_film:.2f} | {plan.score.net:.2f} | {told[0]} | {told[1]} | "
            f"{other:.2f} | {plan.bounds.free:.2f} | {'yes' if plan.proven else 'no'} |"
        )
    return lines


def by_method(chosen: Sequence[Car]) -> list[str]:
    lines = ["| way of cutting | film, mean | net, mean | cars that the rack holds |", "| --- | --- | --- | --- |"]
    for method in (CutMethod.BULK, CutMethod.BULK_UPRIGHT, CutMethod.BULK_SIDEWAYS):
        plans = [last(car.blanks(method), rack("six widths")) for car in chosen]
        held = [plan for plan in plans if not plan.layout.unplaced]
        film = statistics.mean(plan.score.new_film for plan in held)
        net = statistics.mean(plan.score.net for plan in held)
        lines.append(f"| {method.value.replace('_', ' ')} | ${film:.2f} | ${net:.2f} | {len(held)} of {len(chosen)} |")
    return lines


def pattern_against_bulk(chosen: Sequence[Car]) -> list[str]:
    lines = [
        "| roll | length by patterns / by blanks: mean | least | most | length over area bound: mean | worst | seconds a car |",
        "| --- | --- | --- | --- | --- | --- | --- |",
    ]
    for width in (40, 60):
        stock = roll(f"r{width}", width, length_in=4000)
        shares, over, begin = [], [], time.perf_counter()
        for car in chosen:
            bulk = last(car.blanks(), [stock])
            patterns = [pattern_for(pane, starting=START)[0] for pane in car.panes if pane.outline.measured]
            if bulk.layout.unplaced or len(patterns) < len(car.panes):
                continue
            plan = list(plan_patterns(patterns, [stock], COSTING, RULES, roll_widths=[], seconds=(1, 3)))[-1]
            if plan.unplaced:
                continue
            shares.append(plan.roll_length / bulk.score.roll_length)
            over.append(plan.new_film / plan.bound)
        spent = (time.perf_counter() - begin) / max(1, len(shares))
        lines.append(
            f"| {width} in, {len(shares)} cars | {mean(shares)} | {min(shares):.3f} | {max(shares):.3f} | {mean(over)} | "
            f"{max(over):.3f} | {spent:.1f} |"
        )
    return lines


def batches(chosen: Sequence[Car]) -> list[str]:
    lines = [
        f"| rack | batches of {BATCH} cars | each alone, net | together, net | less | dearer together |",
        "| --- | --- | --- | --- | --- | --- |",
    ]
    for words in ("six widths", "one width"):
        alone, together = [], []
        for at in range(0, len(chosen) - BATCH + 1, BATCH):
            group = chosen[at : at + BATCH]
            stocks = rack(words)
            layouts, nets = [], 0.0
            start = dict.fromkeys((stock.id for stock in stocks), 0.0)
            blanks = [blank for car in group for blank in car.blanks()]
            for car in group:
                left = [replace(stock, length=stock.length - start[stock.id]) for stock in stocks]
                plan = last(car.blanks(), left)
                layouts += [moved(section, start[section.stock_id]) for section in plan.layout.sections]
                for stock in stocks:
                    start[stock.id] += plan.layout.used_length(stock.id)
                nets += plan.score.net
            layout = Layout(tuple(layouts))
            each = score(layout, blanks=by_id(blanks), stocks={s.id: s for s in stocks}, costing=COSTING).net
            alone.append(each)
            together.append(last(blanks, stocks, [layout]).score.net)
        less = [1 - b / a for a, b in zip(alone, together, strict=True)]
        worse = sum(b > a + 1e-6 for a, b in zip(alone, together, strict=True))
        lines.append(
            f"| {words} | {len(alone)} | ${statistics.mean(alone):.2f} | ${statistics.mean(together):.2f} | "
            f"{100 * statistics.mean(less):.1f} % | {worse} |"
        )
    return lines


HEAD = """# Film and money

Made by `benchmarks/film.py` from the {count} made-up cars of the glass shelf: every window behind the windshield in one
film, rolls of 100 ft and more at one price by area ($0.01 a square inch), no offcuts. Film is what is bought; net adds the
knife's minutes and takes off usable leftovers. Columns of others' ways are film bought beside this plan's: 1.10 is 10 % more.
The rectangle packer is `rectpack` (MaxRects) with the shortest roll that holds all found by halving: it knows no knife and no
stages, so some of its layouts cannot be cut at all. The free bound is less than any layout of any kind can buy. No fixed
percent is promised: every plan in the program stands beside its own baselines.

## By the widths on the rack
"""


def main(count: int) -> None:
    chosen = cars(count)
    parts = [
        HEAD.format(count=len(chosen)),
        *by_rack(chosen),
        "\n## Twelve cars on six widths, dollars\n",
        *by_car(chosen[:12]),
    ]
    parts += ["\n## By the way of cutting\n", *by_method(chosen)]
    parts += ["\n## Patterns beside blanks, on one roll\n", *pattern_against_bulk(chosen)]
    parts += ["\n## Cars together\n", *batches(chosen)]
    TARGET.write_text("\n".join(parts) + "\n", encoding="utf-8")
    print(TARGET.read_text(encoding="utf-8"))


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--cars", type=int, default=40)
    main(options.parse_args().cars)

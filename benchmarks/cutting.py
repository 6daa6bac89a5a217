"""Layouts against their aims: proof, days, patterns, brute force. Prints a table; fails nothing.

Run by ./elumbra bench, or by itself: python -m benchmarks.cutting [--brute 2000]
"""

from __future__ import annotations

import argparse
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Sequence
from pathlib import Path

import numpy as np

ROOT = Path(__file__).resolve().parents[1]
sys.path.insert(0, str(ROOT))

from elumbra.core.film import Stock
from elumbra.core.nest import Blank, Costing, CutPlan, PatternRules, Turn, TurnOption, plan_cuts, plan_patterns
from elumbra.storage.data_files import starting_values
from tests.catalogue.panes import INCH, roll
from tests.core.test_nest import brute_force, small_case
from tests.core.test_patterns import CAR

START = starting_values()
COSTING = Costing.from_starting(START)
FOUR = [roll("r20", 20), roll("r36", 36), roll("r40", 40), roll("r60", 60, price_per_sq_in=0.0095)]


def show(what: str, value: float, unit: str, aim: float | None = None) -> None:
    """One line: figure, aim, ratio."""
    ratio = f"aim {aim:g} {unit}, ratio {value / aim:.2f}" if aim else ""
    print(f"{what:<72} {value:9.2f} {unit:<4} {ratio}", flush=True)


def different(count: int, seed: int) -> list[Blank]:
    """So many blanks of different sizes, each either way."""
    rng = np.random.default_rng(seed)
    made = []
    for i in range(count):
        width, height = float(rng.uniform(12, 45)) * INCH, float(rng.uniform(10, 24)) * INCH
        ways = (
            TurnOption(Turn.UPRIGHT, width, height, edge_minutes=1.5),
            TurnOption(Turn.SIDEWAYS, height, width, extra_minutes=1.5),
        )
        made.append(Blank(f"b{i:02}", f"b{i}", ways))
    return made


def day(count: int, seed: int) -> list[Blank]:
    """Blanks of a day, six in ten of them in pairs, every fifth bound in its direction."""
    rng = np.random.default_rng(seed)
    sizes: list[tuple[float, float]] = []
    while len(sizes) < count:
        size = (float(rng.uniform(14, 44)) * INCH, float(rng.uniform(10, 24)) * INCH)
        sizes += [size] * (2 if rng.random() < 0.6 else 1)
    made = []
    for i, (width, height) in enumerate(sizes[:count]):
        ways = [TurnOption(Turn.UPRIGHT, width, height, edge_minutes=1.5)]
        if i % 5 < 4:
            ways.append(TurnOption(Turn.SIDEWAYS, height, width, extra_minutes=1.5))
        made.append(Blank(f"b{i:02}", f"b{i}", tuple(ways)))
    return made


def watched(blanks: Sequence[Blank], stocks: Sequence[Stock], seconds: float) -> list[tuple[float, CutPlan]]:
    """Plans with the time they came at, up to a limit."""
    begin, found = time.perf_counter(), []
    for plan in plan_cuts(blanks, stocks, COSTING, roll_widths=[]):
        found.append((time.perf_counter() - begin, plan))
        if found[-1][0] > seconds:
            break
    return found


def best_at(found: list[tuple[float, CutPlan]], seconds: float) -> float:
    return min(plan.score.net for at, plan in found if at <= seconds or plan is found[0][1])


def against_brute_force(cases: int) -> None:
    held = tried = 0
    begin = time.perf_counter()
    for seed in range(cases):
        blanks, stocks, costing = small_case(seed)
        plan = list(plan_cuts(blanks, stocks, costing, roll_widths=[]))[-1]
        if plan.layout.unplaced:
            continue
        tried += 1
        held += abs(plan.score.net - brute_force(blanks, stocks, costing)) < 1e-6
    show(f"proven plans held against brute force, of {tried} cases", held, "", tried)
    show("  it took", time.perf_counter() - begin, "s")


def proofs() -> None:
    for count, aim in ((9, 2.0), (12, 7.0)):
        for seed in range(4):
            found = watched(different(count, seed), FOUR, 90)
            at, plan = found[-1]
            show(f"{count} different pieces on 4 rolls, case {seed}: first verified", 1000 * found[0][0], "ms", 300)
            show(f"  {'proven' if plan.proven else 'NOT proven, gap told'} (gap {100 * plan.gap:.0f} %)", at, "s", aim)


def days() -> None:
    for count in (20, 30, 45):
        found = watched(day(count, count), [roll("r60", 60, length_in=2400)], 60)
        show(f"day of {count} pieces on one roll: first verified", 1000 * found[0][0], "ms", 1000)
        first, ten, twenty, end = found[0][1].score.net, best_at(found, 10), best_at(found, 20), best_at(found, 60)
        show("  at 10 s beside the first", 100 * (1 - ten / first), "% less", None)
        show("  at 20 s beside 60 s", 100 * (twenty / end - 1), "%", 3)


def patterns() -> None:
    rules = PatternRules(START["knife_gap_mm"], START["edge_margin_mm"])
    begin, ratios = time.perf_counter(), []
    for width in (40, 60):
        stock = roll(f"r{width}", width)
        plans = plan_patterns(CAR, [stock], COSTING, rules, roll_widths=[], seconds=(1, 3, 6))
        best = next(plans)
        show(f"patterns of a car on {width} in: first verified", time.perf_counter() - begin, "s", 1.5)
        best = [best, *plans][-1]
        ratios.append(best.new_film / best.bound)
        show(f"  at 10 s, length over area bound on {width} in", ratios[-1], "", 1.25)
        begin = time.perf_counter()
    show("patterns, length over area bound, mean", statistics.mean(ratios), "", 1.25)


LARGEST = """
import resource, sys
sys.path.insert(0, {root!r})
from benchmarks.cutting import FOUR, different, watched
watched(different({count}, 0), FOUR, 60)
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024)
"""


def memory() -> None:
    for count, aim in ((12, 350), (45, 600)):
        code = LARGEST.format(root=str(ROOT), count=count)
        done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
        show(f"memory of a layout of {count} different pieces on 4 rolls, peak", float(done.stdout), "MB", aim)


def main(brute: int = 2000) -> None:
    """All of it."""
    parts: list[Callable[[], None]] = [proofs, days, patterns, memory]
    for part in parts:
        part()
    against_brute_force(brute)
    show("memory of this process, peak", resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024, "MB")


if __name__ == "__main__":
    options = argparse.ArgumentParser()
    options.add_argument("--brute", type=int, default=2000)
    main(options.parse_args().brute)

"""The task “day_sheet”: a day's plan by list scheduling at once, then better by constraint programming."""

from __future__ import annotations

import json
import time
from collections.abc import Iterator
from dataclasses import dataclass

from pydantic import TypeAdapter

from elumbra.core.schedule import Found, Measure, Plan, Problem, Proof, least_waiting, list_plans

LIST_SECONDS = 1.0
URGENT_SECONDS = 2.2
ALL_SECONDS = 5.0


@dataclass(frozen=True)
class DayPlan:
    """A plan of a day with what it costs and what is proven of it."""

    plan: Plan
    measure: Measure
    proof: Proof
    proven: bool
    finished: bool


PROBLEM: TypeAdapter[Problem] = TypeAdapter(Problem)
DAY_PLAN: TypeAdapter[DayPlan] = TypeAdapter(DayPlan)


def problem_json(problem: Problem) -> str:
    """A day as text, the same in every process: what is a set stands in order."""
    return json.dumps(PROBLEM.dump_python(problem), default=sorted, allow_nan=False)


def quick_plan(problem: Problem, *, tries: int = 0, seed: int = 0) -> DayPlan:
    """A whole plan at once; the same one each time.

    Raises
    ------
    DoesNotFitError
        A task finds no place.
    """
    *_, best = list_plans(problem, seed=seed, tries=tries)
    return DayPlan(best.plan, best.measure, Proof(waiting=least_waiting(problem)), proven=False, finished=False)


def day_plans(
    problem: Problem, *, seed: int = 0, list_seconds: float = LIST_SECONDS, seconds: float = ALL_SECONDS
) -> Iterator[DayPlan]:
    """Ever better plans of a day; the last one has ``finished`` set.

    Raises
    ------
    DoesNotFitError
        A task finds no place.
    """
    from elumbra.core.schedule.exact import better_plans  # the solver loads slowly: only where it proves

    began = time.monotonic()
    at_least = Proof(waiting=least_waiting(problem))
    best: Found | None = None

    def enough() -> bool:
        """A promise that is late, or overtime, is worth a longer look at orders than waiting is."""
        urgent = best is not None and (best.measure.late > 0 or best.measure.overtime > 0)
        return time.monotonic() - began > list_seconds + (URGENT_SECONDS if urgent else 0.0)

    for found in list_plans(problem, seed=seed, tries=100_000, stop=enough):
        best = found
        yield DayPlan(found.plan, found.measure, at_least, proven=False, finished=False)
    if best is None:
        return
    last = DayPlan(best.plan, best.measure, at_least, proven=False, finished=False)
    left = max(0.5, seconds - (time.monotonic() - began))
    for better in better_plans(problem, best.plan, seconds=left, seed=seed):
        if better.measure.key <= last.measure.key:
            last = DayPlan(better.plan, better.measure, better.proof, better.proven, finished=False)
            yield last
    yield DayPlan(last.plan, last.measure, last.proof, last.proven, finished=True)

"""The earliest time that can honestly be promised: kept on nine days out of ten, with nobody else's promise broken."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from elumbra.core.schedule.choice import first_choice
from elumbra.core.schedule.listing import DoesNotFitError, lay
from elumbra.core.schedule.problem import Plan, PlanCar, PlanTask, Problem
from elumbra.core.schedule.search import first_plan
from elumbra.core.schedule.simulate import DAYS, Days, simulate

SURE = 0.9
_QUARTER = 15


@dataclass(frozen=True)
class Promise:
    """What may be promised for a car."""

    at: int  # minute, at a quarter of an hour
    sure: float  # share of the simulated days on which it was kept
    plan: Plan
    days: Days
    endangers: tuple[tuple[str, float, float], ...]  # cars whose chance would fall under what is sure: before, after


def chances(problem: Problem, days: Days) -> dict[str, float]:
    """By car with a promise, the share of days on which it was kept."""
    return {car.id: days.chance(car.id, car.due) for car in problem.cars if car.due is not None}


def rounded_up(minute: int) -> int:
    """The next quarter of an hour.

    Examples
    --------
    >>> rounded_up(901), rounded_up(900), rounded_up(0)
    (915, 900, 0)
    """
    return -(-minute // _QUARTER) * _QUARTER


def promise(
    problem: Problem,
    car: PlanCar,
    tasks: Iterable[PlanTask],
    *,
    seed: int = 0,
    days: int = DAYS,
    sure: float = SURE,
    pace: float = 0.1,
) -> Promise | None:
    """The earliest honest time for one more car.

    Parameters
    ----------
    problem
        The day without it.
    car, tasks
        The car, with no promise yet.
    seed, days
        Of the simulation.
    pace
        Spread of a person's pace from day to day.
    sure
        Share of the days on which it must be kept, and under which no other promise may fall because of it.

    Returns
    -------
    Promise | None
        None where the days that are planned do not hold it.
    """
    before = _simulated(problem, seed=seed, days=days, pace=pace)
    best: Promise | None = None
    more = tuple(tasks)
    for press in (0, 240, 10_000):  # at the end of the day, in its middle, before all others
        with_it = replace(problem, cars=(*problem.cars, car), tasks=(*problem.tasks, *more))
        choice = first_choice(with_it)
        last = max((choice.presses[one.id] for one in problem.cars), default=0.0)
        place = {**choice.presses, car.id: last + 1.0 - press}
        try:
            plan = lay(with_it, replace(choice, presses=place, enters=dict(place)))
        except DoesNotFitError:
            continue
        played = simulate(with_it, plan, seed=seed, days=days, pace=pace)
        after = chances(problem, played)
        endangered = tuple(
            (name, before.get(name, 1.0), kept)
            for name, kept in after.items()
            if kept < sure and kept < before.get(name, 1.0) - 0.01
        )
        at = rounded_up(played.by(car.id, sure))
        found = Promise(at, played.chance(car.id, at), plan, played, endangered)
        if best is None or (len(endangered), at) < (len(best.endangers), best.at):
            best = found
    return best


def _simulated(problem: Problem, *, seed: int, days: int, pace: float) -> dict[str, float]:
    try:
        plan = first_plan(problem).plan
    except DoesNotFitError:
        return {}
    return chances(problem, simulate(problem, plan, seed=seed, days=days, pace=pace))

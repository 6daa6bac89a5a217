"""Ever better plans: a seeded search changes what presses, who is driven in first, how much the work left counts."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np

from elumbra.core.schedule.choice import Choice, first_choice
from elumbra.core.schedule.listing import DoesNotFitError, lay
from elumbra.core.schedule.problem import Measure, Plan, Problem, measure

_TAILS = (0.0, 0.25, 0.5, 1.0, 1.5)
_OTHER_ORDERS = 24
_SHUFFLED_MIN = 120.0


@dataclass(frozen=True)
class Found:
    """A plan with what it costs."""

    plan: Plan
    measure: Measure
    choice: Choice


def first_plan(problem: Problem) -> Found:
    """A whole plan; where things set by hand leave little room, of several orders the first that can be laid.

    Raises
    ------
    DoesNotFitError
        None can be laid.
    """
    choice = first_choice(problem)
    try:
        plan = lay(problem, choice)
    except DoesNotFitError:
        if all(one.lock.exact is None for one in problem.tasks):
            raise
        plan, choice = _another_order(problem, choice)
    return Found(plan, measure(problem, plan), choice)


def _another_order(problem: Problem, choice: Choice) -> tuple[Plan, Choice]:
    chance = np.random.default_rng(0)
    for i in range(_OTHER_ORDERS):
        other = Choice(
            {name: at + float(chance.normal(0.0, _SHUFFLED_MIN)) for name, at in choice.presses.items()},
            {name: at + float(chance.normal(0.0, _SHUFFLED_MIN)) for name, at in choice.enters.items()},
            float(chance.choice(_TAILS)),
        )
        try:
            return lay(problem, other), other
        except DoesNotFitError:
            if i == _OTHER_ORDERS - 1:
                raise
    raise AssertionError("at least one order is tried")


def list_plans(
    problem: Problem, *, seed: int = 0, tries: int = 400, stop: Callable[[], bool] = lambda: False
) -> Iterator[Found]:
    """Ever better plans by list scheduling; the first is there after one pass over the day.

    Parameters
    ----------
    problem
        The day.
    seed
        Of the search; the same seed gives the same plans.
    tries
        How many choices are looked at.
    stop
        Asked before each try.

    Raises
    ------
    DoesNotFitError
        No first plan is found.
    """
    chance = np.random.default_rng(seed)
    best = at = first_plan(problem)
    yield best
    for i in range(tries):
        if stop() or not problem.cars:
            return
        changed = _changed(problem, at, chance)
        try:
            plan = lay(problem, changed)
        except DoesNotFitError:
            continue
        tried = Found(plan, measure(problem, plan), changed)
        if tried.measure.key <= at.measure.key or chance.random() < 0.05:
            at = tried
        if tried.measure.key < best.measure.key:
            best = at = tried
            yield best
        elif i % 50 == 49:
            at = best


def _changed(problem: Problem, found: Found, chance: np.random.Generator) -> Choice:
    """A neighbour: a car that presses more or less, two that change places at the door, another weight of the tail."""
    choice, names = found.choice, list(found.choice.presses)
    presses, enters = dict(choice.presses), dict(choice.enters)
    name = names[_pick(problem, found, names, chance)]
    roll = chance.random()
    if roll < 0.5:
        presses[name] += float(chance.normal(0.0, 80.0))
    elif roll < 0.75:
        other = names[int(chance.integers(len(names)))]
        enters[name], enters[other] = enters[other], enters[name]
        if chance.random() < 0.5:
            presses[name], presses[other] = presses[other], presses[name]
    elif roll < 0.9:
        enters[name] += float(chance.normal(0.0, 80.0))
    else:
        return replace(choice, tail=float(chance.choice(_TAILS)))
    return Choice(presses, enters, choice.tail)


def _pick(problem: Problem, found: Found, names: Sequence[str], chance: np.random.Generator) -> int:
    """A car that is late, more often than not; else any."""
    late = [
        i for i, name in enumerate(names) if (due := problem.car[name].due) is not None and found.plan.ready[name] > due
    ]
    if late and chance.random() < 0.5:
        return late[int(chance.integers(len(late)))]
    return int(chance.integers(len(names)))

"""Why a car is late in a plan: the one bay, person, wait or break that its last task hangs on most."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.schedule.problem import Place, Placed, Plan, PlanCar, PlanTask, Problem


class Hangs(StrEnum):
    """What a late car waits for."""

    BAY = "bay"  # another car stands in it
    PERSON = "person"  # who is at another car
    DRYING = "drying"  # or soaking
    BREAK = "break"  # nobody who may do it is at work
    CAR = "car"  # as many as may be are at it already, or a wet door is in the way
    WORK = "work"  # nothing: its own work takes as long


@dataclass(frozen=True)
class Cause:
    """One stretch of a late car's day in which it waits, or all of its work where it never does."""

    hangs: Hangs
    minutes: int
    until: int = 0  # when that ends, in the plan's minutes
    name: str = ""  # of the bay, the person or the task
    other: str = ""  # title of the car that has the bay or the person


def why_late(problem: Problem, plan: Plan, car: PlanCar) -> Cause | None:
    """What a car's lateness hangs on most; None where it is not late, or has no promise.

    From its last task back along what each could not begin before: the tasks before it with what dries after them, its
    bay, the person who does it.

    Parameters
    ----------
    problem, plan
        The day, and how it is planned.
    car
        One of its cars.
    """
    if car.due is None or plan.ready.get(car.id, 0) <= car.due or not problem.of_car.get(car.id):
        return None
    causes = list(_back(problem, plan, car))
    longest = max(causes, key=lambda one: one.minutes, default=None)
    if longest is not None and longest.minutes >= _TOLD:
        return longest
    work = sum(one.minutes for one in problem.of_car[car.id])
    return Cause(Hangs.WORK, work, plan.ready[car.id])


_TOLD = 5  # a wait shorter than this explains nothing [min]


def _back(problem: Problem, plan: Plan, car: PlanCar) -> Iterator[Cause]:
    """Waits on the way from a car's last task back to its arrival."""
    tasks = [one for one in problem.of_car[car.id] if one.id in plan.at]
    task = max(tasks, key=lambda one: plan.at[one.id].end + one.wait, default=None)
    while task is not None:
        at = plan.at[task.id]
        before = [problem.task[one] for one in task.after if one in plan.at]
        last = max(before, key=lambda one: plan.at[one.id].end + one.wait, default=None)
        free = max(problem.earliest(task), plan.at[last.id].end + last.wait if last else 0)
        there = plan.in_bay.get(task.car)
        if task.place is Place.BAY and there is not None and car.entered is None:
            inside = there.start + problem.move
            if inside > free:
                yield from _bay(problem, plan, car, free)
                free, last = inside, None
        if at.start > free:
            yield _held_up(problem, plan, task, at, free)
        if last is not None and last.wait:
            yield Cause(Hangs.DRYING, last.wait, plan.at[last.id].end + last.wait, last.label)
        task = last


def _bay(problem: Problem, plan: Plan, car: PlanCar, free: int) -> Iterator[Cause]:
    """The time for which a car waits until its bay is free."""
    there = plan.in_bay[car.id]
    others = [
        (one.end, name)
        for name, one in plan.in_bay.items()
        if name != car.id and one.bay == there.bay and free < one.end <= there.start
    ]
    if others:
        end, name = max(others)
        yield Cause(Hangs.BAY, there.start - free, end, there.bay, problem.car[name].title)


def _held_up(problem: Problem, plan: Plan, task: PlanTask, at: Placed, free: int) -> Cause:
    """Why a task begins later than it could for its car's sake."""
    minutes = at.start - free
    worker = problem.worker[at.worker]
    if not any(one.start <= at.start - 1 < one.end for one in worker.hours):
        return Cause(Hangs.BREAK, minutes, at.start, task.words)
    elsewhere = [
        one
        for one in plan.placed
        if one.worker == at.worker and free < one.end <= at.start and problem.task[one.task].car != task.car
    ]
    if not elsewhere:
        return Cause(Hangs.CAR, minutes, at.start, task.label)
    last = max(elsewhere, key=lambda one: one.end)
    other = problem.car.get(problem.task[last.task].car)
    return Cause(Hangs.PERSON, minutes, last.end, worker.name, other.title if other else "film for several cars")


def late_words(cause: Cause, *, clock: Callable[[int], str], span: Callable[[int], str]) -> str:
    """The cause in one sentence.

    Parameters
    ----------
    cause
        What it waits for.
    clock, span
        A minute as a time of day, and a number of minutes, for the sentence.

    Examples
    --------
    >>> late_words(Cause(Hangs.BAY, 70, 840, "Bay 1", "Tansy"), clock=str, span=str)
    'It waits 70 for Bay 1, where Tansy stands until 840.'
    """
    waits, until = span(cause.minutes), clock(cause.until)
    match cause.hangs:
        case Hangs.BAY:
            return f"It waits {waits} for {cause.name}, where {cause.other} stands until {until}."
        case Hangs.PERSON:
            return f"It waits {waits} for {cause.name}, who is at {cause.other} until {until}."
        case Hangs.DRYING:
            return f"{cause.name} dries or soaks for {waits}, until {until}."
        case Hangs.BREAK:
            return f"It waits {waits}, until {until}, for somebody at work who may {cause.name}."
        case Hangs.CAR:
            return f"{cause.name} waits {waits}, until {until}, for other work on the same car."
        case Hangs.WORK:
            return f"Its own work takes {waits}, and nothing holds it up."

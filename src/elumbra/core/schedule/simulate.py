"""What becomes of a plan on a thousand days: its order stays, its minutes do not.

Each day everybody's pace is a little off, and each task is off by itself; both as factors whose logarithm is normal.
Nobody takes a task before the plan's order, for the order is what the shop was told. Work goes on after lunch and
the next morning where it was not finished.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from elumbra.core.schedule.problem import Place, Placed, Plan, Problem, Stretch, in_order, reach

Floats = NDArray[np.float64]
DAYS = 1000


@dataclass(frozen=True)
class Days:
    """When each car was ready on each simulated day, ``(days,)`` minutes by car."""

    ready: Mapping[str, Floats]

    def chance(self, car: str, due: int) -> float:
        """The share of days on which a car was ready by then.

        Examples
        --------
        >>> Days({"a": np.array([10.0, 20.0, 30.0, 40.0])}).chance("a", 30)
        0.75
        """
        return float(np.mean(self.ready[car] <= due))

    def by(self, car: str, share: float) -> int:
        """The minute by which a car was ready on so many of the days, rounded up.

        Examples
        --------
        >>> Days({"a": np.arange(1.0, 11.0)}).by("a", 0.9)
        9
        """
        times = np.sort(self.ready[car])
        return int(np.ceil(times[max(0, int(np.ceil(share * len(times) - 1e-9)) - 1)]))


def simulate(
    problem: Problem, plan: Plan, *, seed: int = 0, days: int = DAYS, pace: float = 0.1, stretch: float = 1.0
) -> Days:
    """Play a plan on many days.

    Parameters
    ----------
    problem, plan
        The day as planned: each person keeps his order, each bay its cars.
    seed
        Of chance; the same seed gives the same days.
    days
        How many.
    pace
        Standard deviation of the logarithm of a person's pace on a day.
    stretch
        How much longer things take on the whole than planned, by the shop's own record.
    """
    chance = np.random.default_rng(seed)
    paces = {one.id: np.exp(chance.normal(0.0, pace, days)) for one in problem.workers}
    hours = {one.id: _elapsed(reach(one), problem.end) for one in problem.workers}
    order = _played_order(problem, plan)
    starts = _before(problem, plan, order)
    ends: dict[str, Floats] = {}
    through: dict[str, Floats] = {}
    left: dict[str, Floats] = {}
    zero = np.zeros(days)
    for one in order:
        task = problem.task[one.task]
        begin: Floats = zero + _earliest(problem, task.car, task.place)
        for before in starts[one.task]:
            begin = np.maximum(begin, before.at(ends, through, left))
        begin = np.maximum(begin, max(task.not_before or 0, task.lock.start or 0))
        factor = np.exp(chance.normal(0.0, task.spread, days)) * paces[one.worker]
        ends[one.task] = _worked(begin, task.minutes * stretch * factor, hours[one.worker])
        through[one.task] = ends[one.task] + task.wait
        if task.place is Place.BAY:
            known = left.get(task.car, zero)
            left[task.car] = np.maximum(known, through[one.task] + problem.move)
    ready = {}
    for car in problem.cars:
        last = [through[one.id] for one in problem.of_car[car.id]]
        if car.id in left:
            last.append(left[car.id])
        ready[car.id] = np.max(last, axis=0) if last else zero + problem.opening(car)
    return Days(ready)


@dataclass(frozen=True)
class _After:
    """Something that a task begins after."""

    task: str = ""
    waits: bool = False
    car: str = ""  # that must have left the bay

    def at(self, ends: Mapping[str, Floats], through: Mapping[str, Floats], left: Mapping[str, Floats]) -> Floats:
        if self.car:
            return left[self.car]
        return through[self.task] if self.waits else ends[self.task]


def _played_order(problem: Problem, plan: Plan) -> list[Placed]:
    """The plan's tasks so that each comes after all that it waits for."""
    depth = {one.id: i for i, one in enumerate(in_order(problem.tasks))}
    return sorted(plan.placed, key=lambda one: (one.start, depth[one.task]))


def _before(problem: Problem, plan: Plan, order: Sequence[Placed]) -> dict[str, list[_After]]:
    """By task, all that comes before it: what it waits for, its worker's last task, the car before it in the bay."""
    found: dict[str, list[_After]] = {one.id: [_After(b, waits=True) for b in one.after] for one in problem.tasks}
    last: dict[str, str] = {}
    for one in order:
        if one.worker in last:
            found[one.task].append(_After(last[one.worker]))
        last[one.worker] = one.task
    by_bay: dict[str, list[tuple[int, str]]] = {}
    for car, there in plan.in_bay.items():
        by_bay.setdefault(there.bay, []).append((there.start, car))
    for line in by_bay.values():
        for (_, before), (_, car) in pairwise(sorted(line)):
            for task in problem.of_car[car]:
                if task.place is Place.BAY and not any(problem.task[b].place is Place.BAY for b in task.after):
                    found[task.id].append(_After(car=before))
    return found


def _earliest(problem: Problem, car: str, place: Place) -> float:
    known = problem.car.get(car)
    if known is None or place is Place.BENCH:
        return float(problem.now)
    driving = problem.move if place is Place.BAY and known.entered is None else 0
    return float(max(problem.now, known.arrives) + driving)


def _elapsed(hours: Sequence[Stretch], end: int) -> tuple[Floats, Floats]:
    """A worker's time as a broken line: minutes of the day against minutes worked; past the end it goes on."""
    clock, worked, total = [0.0], [0.0], 0.0
    for stretch in hours:
        clock += [float(stretch.start), float(stretch.end)]
        worked.append(total)
        total += stretch.end - stretch.start
        worked.append(total)
    # What the days planned do not hold runs on at night: late is late, however it ends.
    clock += [max(float(end), clock[-1]), max(float(end), clock[-1]) + 100_000.0]
    worked += [total, total + 100_000.0]
    return np.array(clock), np.array(worked)


def _worked(begin: Floats, minutes: Floats, line: tuple[Floats, Floats]) -> Floats:
    """When so much work that begins then is done, by a worker's hours."""
    clock, worked = line
    done = np.interp(begin, clock, worked) + minutes
    # The inverse takes the earliest moment at which so much was worked: flat parts are nights and lunches.
    index = np.searchsorted(worked, done - 1e-9, side="left")
    index = np.clip(index, 1, len(worked) - 1)
    span = worked[index] - worked[index - 1]
    share = np.where(span > 0, (done - worked[index - 1]) / np.where(span > 0, span, 1.0), 1.0)
    found: Floats = clock[index - 1] + share * (clock[index] - clock[index - 1])
    return found

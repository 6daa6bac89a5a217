"""What any plan of a day must cost at least."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil

from elumbra.core.schedule.problem import Place, Problem, weight


@dataclass(frozen=True)
class Proof:
    """What is known at least of each thing that counts [min]; a plan that reaches all three is proven."""

    late: int = 0
    overtime: int = 0
    waiting: int = 0


def least_waiting(problem: Problem) -> int:
    """What all cars must wait at least [min].

    No car is ready before the longest chain of its own tasks, nor before two people could have done it. All cars
    together are never faster than if everybody worked without a break as one, the shortest for its weight first
    (Smith 1956), for that leaves arrivals, bays and hours out.

    Examples
    --------
    >>> least_waiting(Problem((), (), (), ()))
    0
    """
    alone, jobs = 0, []
    begins = {car.id: problem.opening(car) for car in problem.cars}
    first = min(begins.values(), default=0)
    for car in problem.cars:
        tasks, counts = problem.of_car[car.id], weight(problem, car)
        work = sum(one.minutes for one in tasks if one.place is not Place.BENCH)
        hands = min(problem.most_on_a_car, max(1, len(problem.workers)))
        own = max([0, ceil(work / hands)] + [problem.tail[one.id] for one in tasks])
        alone += counts * own
        jobs.append((work, counts, begins[car.id] - first))
    done = together = 0.0
    for work, counts, later in sorted(jobs, key=lambda one: one[0] / one[1]):
        done += work / max(1, len(problem.workers))
        together += counts * (done - later)
    return max(alone, ceil(together - 1e-9))

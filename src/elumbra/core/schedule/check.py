"""An independent checker of plans: it knows the problem and the plan, and nothing of how plans are made."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from itertools import combinations

from elumbra.core.schedule.problem import Place, Placed, Plan, PlanCar, PlanTask, Problem, closes


def faults(problem: Problem, plan: Plan) -> list[str]:
    """What is wrong with a plan, a sentence each; empty where it can be worked.

    Examples
    --------
    >>> faults(Problem((), (), (), ()), Plan((), {}, {}))
    []
    """
    found = list(_tasks(problem, plan))
    if found:
        return found
    for check in (_order, _people, _cars, _bays, _doors, _yard, _locks, _ready):
        found += check(problem, plan)
    return found


def _tasks(problem: Problem, plan: Plan) -> Iterator[str]:
    names = [one.task for one in plan.placed]
    for name in {one for one in names if names.count(one) > 1}:
        yield f"{name} is planned twice"
    for name in set(names) - set(problem.task):
        yield f"{name} is no task"
    for task in problem.tasks:
        placed = plan.at.get(task.id)
        if placed is None:
            yield f"{task.id} is not planned"
        elif placed.end - placed.start != task.minutes:
            yield f"{task.id} takes {task.minutes} min, planned are {placed.end - placed.start}"


def _order(problem: Problem, plan: Plan) -> Iterator[str]:
    for task in problem.tasks:
        at = plan.at[task.id]
        if at.start < problem.now:
            yield f"{task.id} begins in the past"
        car = problem.car.get(task.car)
        if car is not None and task.place is not Place.BENCH and at.start < car.arrives:
            yield f"{task.id} begins before the car is here"
        for before in task.after:
            ends = plan.at[before].end + problem.task[before].wait
            if at.start < ends:
                yield f"{task.id} begins {ends - at.start} min before {before} lets it"


def _people(problem: Problem, plan: Plan) -> Iterator[str]:
    for one in plan.placed:
        worker = problem.worker.get(one.worker)
        if worker is None:
            yield f"{one.task} is given to nobody that works here"
            continue
        if problem.task[one.task].skill not in worker.skills:
            yield f"{worker.name} may not do {one.task}"
        late = dict(closes(worker))
        if not any(h.start <= one.start and one.end <= late.get(h.end, h.end) for h in worker.hours):
            yield f"{worker.name} does not work at {one.task}'s time"
    for first, second in _overlapping(plan.placed):
        yield f"{first.worker} is at {first.task} and {second.task} at once"


def _overlapping(placed: Sequence[Placed]) -> Iterator[tuple[Placed, Placed]]:
    groups: dict[str, list[Placed]] = {}
    for one in placed:
        groups.setdefault(one.worker, []).append(one)
    for group in groups.values():
        for first, second in combinations(group, 2):
            if first.start < second.end and second.start < first.end:
                yield first, second


def _cars(problem: Problem, plan: Plan) -> Iterator[str]:
    for car in problem.cars:
        tasks = [one for one in problem.of_car[car.id] if one.place is not Place.BENCH]
        times = sorted({plan.at[one.id].start for one in tasks})
        for time in times:
            there = [one.id for one in tasks if plan.at[one.id].start <= time < plan.at[one.id].end]
            if len(there) > problem.most_on_a_car:
                yield f"{len(there)} people on {car.title} at once"
        yield from _wet(problem, plan, tasks)


def _wet(problem: Problem, plan: Plan, tasks: Sequence[PlanTask]) -> Iterator[str]:
    for task in tasks:
        if not task.wets_door or not problem.door_wet:
            continue
        wet = plan.at[task.id].end
        for other in tasks:
            at = plan.at[other.id]
            if task.wets_door in other.uses_doors and wet < at.end and at.start < wet + problem.door_wet:
                yield f"{other.id} opens a door that {task.id} left wet"


def _bays(problem: Problem, plan: Plan) -> Iterator[str]:
    known = {one.name for one in problem.bays}
    for car in problem.cars:
        tasks = [one for one in problem.of_car[car.id] if one.place is Place.BAY]
        there = plan.in_bay.get(car.id)
        if not tasks:
            continue
        if there is None or there.bay not in known:
            yield f"{car.title} has no bay"
            continue
        if car.bay and there.bay != car.bay:
            yield f"{car.title} stands in {car.bay}, not in {there.bay}"
        drive_in = 0 if car.entered is not None else problem.move
        for task in tasks:
            at = plan.at[task.id]
            if at.start < there.start + drive_in or at.end + task.wait > there.end - problem.move:
                yield f"{task.id} is done while its car is not in the bay"
    for first, second in combinations(plan.in_bay.items(), 2):
        a, b = first[1], second[1]
        if a.bay == b.bay and a.start < b.end and b.start < a.end:
            yield f"{first[0]} and {second[0]} stand in {a.bay} at once"


def _doors(problem: Problem, plan: Plan) -> Iterator[str]:
    bays = {one.name: one for one in problem.bays}
    moves: list[tuple[str, str, int, int]] = []
    raised: list[tuple[str, str, int, int]] = []
    for car in problem.cars:
        there = plan.in_bay.get(car.id)
        if there is None or there.bay not in bays or not bays[there.bay].door:
            continue
        door = bays[there.bay].door
        if problem.move:
            if car.entered is None:
                moves.append((door, car.id, there.start, there.start + problem.move))
            moves.append((door, car.id, there.end - problem.move, there.end))
        if bays[there.bay].under_door:
            raised += _raised(problem, plan, car, door)
    for first, second in combinations(moves, 2):
        if first[0] == second[0] and first[1] != second[1] and first[2] < second[3] and second[2] < first[3]:
            yield f"{first[1]} and {second[1]} move through {first[0]} at once"
    for door, name, up, down in raised:
        for other, moving, start, end in moves:
            if door == other and name != moving and up < end and start < down:
                yield f"{moving} moves through {door} while the hatch of {name} is up"


def _raised(problem: Problem, plan: Plan, car: PlanCar, door: str) -> list[tuple[str, str, int, int]]:
    tasks = problem.of_car[car.id]
    ups = [plan.at[one.id].start for one in tasks if one.raises_hatch]
    downs = [plan.at[one.id].end for one in tasks if one.lowers_hatch]
    if not ups:
        return []
    return [(door, car.id, min(ups), max(downs or [plan.at[one.id].end for one in tasks]))]


def _yard(problem: Problem, plan: Plan) -> Iterator[str]:
    there = []
    for task in problem.tasks:
        if task.place is Place.YARD:
            start, end = plan.at[task.id].start, plan.at[task.id].end + task.wait
            there.append((start, end))
            if not any(one.start <= start and end <= one.end for one in problem.sun):
                yield f"{task.id} is not in the sun"
    for start, _ in there:
        if sum(1 for one in there if one[0] <= start < one[1]) > problem.yard_places:
            yield "more cars in the sunny yard than it holds"


def _locks(problem: Problem, plan: Plan) -> Iterator[str]:
    for task in problem.tasks:
        at, lock = plan.at[task.id], task.lock
        if lock.worker and at.worker != lock.worker:
            yield f"{task.id} was given to {lock.worker}"
        if lock.start is not None and (at.start != lock.start if lock.worker else at.start < lock.start):
            yield f"{task.id} was set to another time"
        if task.not_before is not None and at.start < task.not_before:
            yield f"{task.id} begins while what was done before it dries"


def _ready(problem: Problem, plan: Plan) -> Iterator[str]:
    for car in problem.cars:
        last = [plan.at[one.id].end + one.wait for one in problem.of_car[car.id]]
        if car.id in plan.in_bay:
            last.append(plan.in_bay[car.id].end)
        if last and plan.ready[car.id] != max(last):
            yield f"{car.title} is said to be ready at another time than it is"

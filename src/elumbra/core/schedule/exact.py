"""The plan proven as far as time allows: constraint programming that starts from a whole plan.

One optional interval for each task and each person who may do it, one for each car and bay. Lateness is made least
first, then overtime within that lateness, then waiting within both; each ends with the bound that was proven. Without
a plan to start from, the search finds nothing on days of this size; with one, every variable is hinted.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from itertools import combinations
from math import ceil
from typing import Any

from ortools.sat.python import cp_model

from elumbra.core.schedule.choice import hatch_up
from elumbra.core.schedule.least import Proof, least_waiting
from elumbra.core.schedule.problem import (
    BayPlace,
    InBay,
    Measure,
    Place,
    Placed,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    closes,
    measure,
    overtime_by_day,
    weight,
)


@dataclass(frozen=True)
class Better:
    """A plan, what it costs, and what is proven so far."""

    plan: Plan
    measure: Measure
    proof: Proof
    proven: bool


@dataclass
class _Model:
    problem: Problem
    model: cp_model.CpModel = field(default_factory=cp_model.CpModel)
    start: dict[str, Any] = field(default_factory=dict)
    does: dict[tuple[str, str], Any] = field(default_factory=dict)
    enters: dict[str, Any] = field(default_factory=dict)
    leaves: dict[str, Any] = field(default_factory=dict)
    stands: dict[tuple[str, str], Any] = field(default_factory=dict)
    ready: dict[str, Any] = field(default_factory=dict)
    late: dict[str, Any] = field(default_factory=dict)
    over: dict[tuple[str, int], Any] = field(default_factory=dict)
    unasked: dict[tuple[str, int], Any] = field(default_factory=dict)
    long: dict[tuple[str, str], Any] = field(default_factory=dict)
    raised: dict[tuple[str, str], Any] = field(default_factory=dict)
    wet: dict[tuple[str, str], Any] = field(default_factory=dict)
    up: dict[str, tuple[Any, Any]] = field(default_factory=dict)

    def build(self) -> None:
        """All variables and constraints."""
        for task in self.problem.tasks:
            self._task(task)
        for task in self.problem.tasks:
            for before in task.after:
                one = self.problem.task[before]
                self.model.add(self.start[task.id] >= self.start[before] + one.minutes + one.wait)
        self._people()
        for car in self.problem.cars:
            self._car(car)
        self._bays()
        self._doors()
        self._yard()

    def _task(self, task: PlanTask) -> None:
        problem, model = self.problem, self.model
        earliest = problem.earliest(task)
        latest = problem.end - task.minutes
        if task.lock.exact is not None:
            earliest = latest = task.lock.exact
        domain = cp_model.Domain.from_intervals([[earliest, max(earliest, latest)]])
        if task.place is Place.YARD:
            length = task.minutes + task.wait
            sunny = [[one.start, one.end - length] for one in problem.sun if one.end - one.start >= length]
            domain = domain.intersection_with(cp_model.Domain.from_intervals(sunny))
        self.start[task.id] = model.new_int_var_from_domain(domain, f"start {task.id}")
        for worker in problem.able[task.id]:
            self.does[task.id, worker] = model.new_bool_var(f"{worker} {task.id}")
        model.add_exactly_one([self.does[task.id, one] for one in problem.able[task.id]])

    def _people(self) -> None:
        problem, model = self.problem, self.model
        for worker in problem.workers:
            lines = [
                model.new_optional_fixed_size_interval_var(
                    self.start[task.id], task.minutes, self.does[task.id, worker.id], f"{worker.id} at {task.id}"
                )
                for task in problem.tasks
                if (task.id, worker.id) in self.does
            ]
            limit = dict(closes(worker))
            at = 0
            for stretch in worker.hours:
                lines.append(self._off(worker.id, at, stretch.start))
                at = stretch.end
                if limit.get(stretch.end, stretch.end) > stretch.end:
                    at = self._evening(worker.id, stretch.end, limit[stretch.end], lines)
            lines.append(self._off(worker.id, at, max(problem.end, at + 1)))
            model.add_no_overlap([one for one in lines if one is not None])

    def _off(self, worker: str, start: int, end: int) -> Any:
        if end <= start:
            return None
        return self.model.new_fixed_size_interval_var(start, end - start, f"{worker} off {start}")

    def _evening(self, worker: str, close: int, limit: int, lines: list[Any]) -> int:
        """The part of an evening that nobody asks for, as long as it can be; returns when the night begins."""
        over = self.model.new_int_var(0, limit - close, f"over {worker} {close}")
        size = self.model.new_int_var(0, limit - close, f"free {worker} {close}")
        lines.append(self.model.new_interval_var(close + over, size, limit, f"evening {worker} {close}"))
        self.over[worker, close], self.unasked[worker, close] = over, size
        return limit

    def _car(self, car: PlanCar) -> None:
        problem, model = self.problem, self.model
        tasks = problem.of_car[car.id]
        self.ready[car.id] = model.new_int_var(0, 2 * problem.end, f"ready {car.id}")
        for task in tasks:
            model.add(self.ready[car.id] >= self.start[task.id] + task.minutes + task.wait)
        if not tasks:
            model.add(self.ready[car.id] >= problem.opening(car))
        if car.due is not None:
            self.late[car.id] = model.new_int_var(0, 2 * problem.end, f"late {car.id}")
            model.add(self.late[car.id] >= self.ready[car.id] - car.due + car.cushion)
        self._two_at_most(tasks)
        self._wet(tasks)
        inside = [one for one in tasks if one.place is Place.BAY]
        if not inside:
            return
        low = car.entered if car.entered is not None else max(problem.now, car.arrives)
        self.enters[car.id] = model.new_int_var(
            low, low if car.entered is not None else problem.end, f"enters {car.id}"
        )
        self.leaves[car.id] = model.new_int_var(0, 2 * problem.end, f"leaves {car.id}")
        drive_in = 0 if car.entered is not None else problem.move
        for task in inside:
            model.add(self.start[task.id] >= self.enters[car.id] + drive_in)
            model.add(self.leaves[car.id] >= self.start[task.id] + task.minutes + task.wait + problem.move)
        model.add(self.ready[car.id] >= self.leaves[car.id])

    def _two_at_most(self, tasks: tuple[PlanTask, ...]) -> None:
        at_car = [one for one in tasks if one.place is not Place.BENCH]
        most = self.problem.most_on_a_car
        if len(self.problem.workers) <= most:
            return
        lines = [
            self.model.new_fixed_size_interval_var(self.start[one.id], one.minutes, f"on car {one.id}")
            for one in at_car
        ]
        self.model.add_cumulative(lines, [1] * len(lines), most)

    def _wet(self, tasks: tuple[PlanTask, ...]) -> None:
        wet = self.problem.door_wet
        if not wet:
            return
        for one in tasks:
            for other in tasks:
                if one.wets_door and one.wets_door in other.uses_doors:
                    before = self.model.new_bool_var(f"{other.id} before {one.id} is wet")
                    self.wet[other.id, one.id] = before
                    ends = self.start[one.id] + one.minutes
                    self.model.add(self.start[other.id] + other.minutes <= ends).only_enforce_if(before)
                    self.model.add(self.start[other.id] >= ends + wet).only_enforce_if(before.negated())

    def _bays(self) -> None:
        for car in self.problem.cars:
            if car.id not in self.enters:
                continue
            bays = [one for one in self.problem.bays if one.name == car.bay] or list(self.problem.bays)
            for bay in bays:
                self.stands[car.id, bay.name] = self.model.new_bool_var(f"{car.id} in {bay.name}")
            self.model.add_exactly_one([self.stands[car.id, one.name] for one in bays])
        for bay in self.problem.bays:
            lines = []
            for car in self.problem.cars:
                if (car.id, bay.name) in self.stands:
                    size = self.model.new_int_var(0, 2 * self.problem.end + 10_000, f"{car.id} long in {bay.name}")
                    self.long[car.id, bay.name] = size
                    lines.append(
                        self.model.new_optional_interval_var(
                            self.enters[car.id], size, self.leaves[car.id], self.stands[car.id, bay.name],
                            f"{car.id} through {bay.name}",
                        )
                    )  # fmt: skip
            self.model.add_no_overlap(lines)

    def _doors(self) -> None:
        for door in {one.door for one in self.problem.bays if one.door}:
            through = [
                (car, bay, here)
                for car in self.problem.cars
                for bay in self.problem.bays
                if bay.door == door and (here := self.stands.get((car.id, bay.name))) is not None
            ]
            moves = [one for car, bay, here in through for one in self._moves(car, bay, here)]
            for (one, first), (other, second) in combinations(moves, 2):
                if one != other:
                    self.model.add_no_overlap([first, second])
            for car, bay, here in through:
                raised = self._hatch(car, bay.name, here) if bay.under_door else None
                if raised is not None:
                    for other, moving in moves:
                        if other != car.id:
                            self.model.add_no_overlap([raised, moving])

    def _moves(self, car: PlanCar, bay: BayPlace, here: Any) -> list[tuple[str, Any]]:
        """In and out of a bay, where that takes time."""
        move, found = self.problem.move, []
        if move and car.entered is None:
            found.append((car.id, self._move(self.enters[car.id], here, f"{car.id} into {bay.name}")))
        if move:
            found.append((car.id, self._move(self.leaves[car.id] - move, here, f"{car.id} out of {bay.name}")))
        return found

    def _move(self, start: Any, here: Any, name: str) -> Any:
        return self.model.new_optional_fixed_size_interval_var(start, self.problem.move, here, f"move {name}")

    def _hatch(self, car: PlanCar, bay: str, here: Any) -> Any:
        tasks = self.problem.of_car[car.id]
        ups = [self.start[one.id] for one in tasks if one.raises_hatch]
        if not ups:
            return None
        if car.id not in self.up:
            downs = [one for one in tasks if one.lowers_hatch] or list(tasks)
            up = self.model.new_int_var(0, self.problem.end, f"up {car.id}")
            down = self.model.new_int_var(0, 2 * self.problem.end, f"down {car.id}")
            self.model.add_min_equality(up, ups)
            self.model.add_max_equality(down, [self.start[one.id] + one.minutes for one in downs])
            self.up[car.id] = (up, down)
        up, down = self.up[car.id]
        size = self.model.new_int_var(0, 2 * self.problem.end, f"raised {car.id}")
        self.raised[car.id, bay] = size
        return self.model.new_optional_interval_var(up, size, down, here, f"hatch {car.id}")

    def _yard(self) -> None:
        lines = [
            self.model.new_fixed_size_interval_var(self.start[one.id], one.minutes + one.wait, f"yard {one.id}")
            for one in self.problem.tasks
            if one.place is Place.YARD
        ]
        if lines:
            self.model.add_cumulative(lines, [1] * len(lines), self.problem.yard_places)

    @property
    def lateness(self) -> Any:
        """Minutes past promises, added up."""
        return sum(self.late.values())

    @property
    def overtime(self) -> Any:
        """Minutes past the people's days."""
        return sum(self.over.values())

    @property
    def waiting(self) -> Any:
        """Minutes from arrival to ready, weighed."""
        return sum(
            weight(self.problem, car) * (self.ready[car.id] - self.problem.opening(car)) for car in self.problem.cars
        )

    def hint(self, plan: Plan) -> None:
        """Say a whole plan: every variable that the model has, for with one left out the search starts from nothing."""
        self.model.clear_hints()  # type: ignore[no-untyped-call]
        hint = self.model.add_hint
        for one in plan.placed:
            hint(self.start[one.task], one.start)
            for worker in self.problem.able[one.task]:
                hint(self.does[one.task, worker], worker == one.worker)
        for name, var in self.ready.items():
            hint(var, plan.ready[name])
        for name, var in self.late.items():
            car = self.problem.car[name]
            hint(var, max(0, plan.ready[name] - car.due + car.cushion) if car.due is not None else 0)
        for (other, wet), var in self.wet.items():
            hint(var, plan.at[other].end <= plan.at[wet].end)
        self._hint_bays(plan)
        self._hint_evenings(plan)

    def _hint_bays(self, plan: Plan) -> None:
        hint = self.model.add_hint
        for (car, bay), var in self.stands.items():
            hint(var, plan.in_bay[car].bay == bay)
        for name, there in plan.in_bay.items():
            if name in self.enters:
                hint(self.enters[name], there.start)
                hint(self.leaves[name], there.end)
        for (car, _), var in self.long.items():
            hint(var, plan.in_bay[car].end - plan.in_bay[car].start)
        for name, (up, down) in self.up.items():
            raised = hatch_up(self.problem.of_car[name], plan.at)
            if raised:
                hint(up, raised[0])
                hint(down, raised[1])
                for (car, _), var in self.raised.items():
                    if car == name:
                        hint(var, raised[1] - raised[0])

    def _hint_evenings(self, plan: Plan) -> None:
        asked = overtime_by_day(self.problem, plan)
        for (worker, close), var in self.over.items():
            room = dict(closes(self.problem.worker[worker]))[close] - close
            over = asked.get((worker, close), 0)
            self.model.add_hint(var, over)
            self.model.add_hint(self.unasked[worker, close], room - over)

    def plan(self, value: Callable[[Any], int]) -> Plan:
        """The plan that a solution says."""
        placed = []
        for task in self.problem.tasks:
            start = value(self.start[task.id])
            worker = next(one for one in self.problem.able[task.id] if value(self.does[task.id, one]))
            placed.append(Placed(task.id, worker, start, start + task.minutes))
        placed.sort(key=lambda one: (one.start, one.worker))
        ends = {one.task: one.end for one in placed}
        in_bay = {
            car: InBay(bay, value(self.enters[car]), value(self.leaves[car]))
            for (car, bay), var in self.stands.items()
            if value(var)
        }
        ready = {}
        for car in self.problem.cars:
            last = [ends[one.id] + one.wait for one in self.problem.of_car[car.id]]
            if car.id in in_bay:
                last.append(in_bay[car.id].end)
            ready[car.id] = max(last, default=self.problem.opening(car))
        return Plan(tuple(placed), in_bay, ready)


class _Keep(cp_model.CpSolverSolutionCallback):
    def __init__(self, model: _Model) -> None:
        super().__init__()
        self._model, self.found = model, list[Plan]()

    def on_solution_callback(self) -> None:
        """Keep it."""
        self.found.append(self._model.plan(self.value))


def better_plans(problem: Problem, start: Plan, *, seconds: float, seed: int = 0, workers: int = 2) -> Iterator[Better]:
    """Ever better plans from a whole one, with what is proven; the last one says how it ended.

    Parameters
    ----------
    problem, start
        The day, and a plan of it that is right.
    seconds
        For all three things that count together.
    seed, workers
        Of the search; one worker repeats itself.
    """
    best, known, left = start, Proof(waiting=least_waiting(problem)), seconds
    model = _Model(problem)
    model.build()
    exact = True
    goals: list[tuple[str, Any, float]] = [
        ("late", model.lateness, 0.6), ("overtime", model.overtime, 0.5), ("waiting", model.waiting, 1.0),
    ]  # fmt: skip
    for name, goal, share in goals:
        now = getattr(measure(problem, best), name)
        if now > 0 or name == "waiting":
            model.model.minimize(goal)
            model.hint(best)
            solver = _solver(share * left, seed, workers)
            keep = _Keep(model)
            status = solver.solve(model.model, keep)
            left -= solver.wall_time
            if keep.found:
                best = keep.found[-1]
            bound = max(0, ceil(solver.best_objective_bound - 1e-6)) if status != cp_model.UNKNOWN else 0
            if name == "waiting":
                bound = max(bound, least_waiting(problem))
            known = Proof(**{**vars(known), name: min(bound, getattr(measure(problem, best), name))})
            exact = exact and getattr(known, name) == getattr(measure(problem, best), name)
            yield Better(best, measure(problem, best), known, exact and name == "waiting")
        if name != "waiting":
            model.model.add(goal <= getattr(measure(problem, best), name))


def _solver(seconds: float, seed: int, workers: int) -> cp_model.CpSolver:
    solver = cp_model.CpSolver()
    solver.parameters.max_time_in_seconds = max(0.05, seconds)
    solver.parameters.random_seed = seed
    solver.parameters.num_workers = workers
    solver.parameters.symmetry_level = 0
    solver.parameters.cp_model_probing_level = 0  # the plan it starts from counts, and probing takes a second first
    return solver

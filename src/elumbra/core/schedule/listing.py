"""A complete plan at once: the day is played forward, and whoever is free takes the most pressing thing that can begin.

Nothing is planned ahead but what is locked, so every rule is a question of now: is the car in, does a door drip, is
the hatch up, does the task end before lunch. What presses most is said by a figure for each car, at first its promise.
What was set by hand for a person and a minute is waited for: nothing on its car may stand in its way.
"""

from __future__ import annotations

from bisect import insort
from collections.abc import Mapping, Sequence

from elumbra.core.schedule.choice import Choice
from elumbra.core.schedule.problem import (
    BayPlace,
    InBay,
    Place,
    Placed,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    in_order,
    reach,
)

_BEFORE_ALL = 10**6


class DoesNotFitError(ValueError):
    """Tasks find no place at all within the days that are planned."""

    def __init__(self, tasks: Sequence[PlanTask]) -> None:
        super().__init__(", ".join(one.id for one in tasks[:3]))
        self.tasks = tuple(tasks)


class _Playing:
    """One day played forward."""

    def __init__(self, problem: Problem, choice: Choice, hurried: Mapping[str, int]) -> None:
        self.problem, self.choice = problem, choice
        self.hurried = hurried  # by task, when it must begin at the latest for what was set by hand after it
        self.now = problem.now
        self.events = [problem.now]
        self.placed: dict[str, Placed] = {}
        self.in_bay: dict[str, InBay] = {}
        self.stands: dict[str, tuple[BayPlace, int]] = {}  # by car, its bay and since when
        self.taken: dict[str, str] = {}  # by bay, the car in it
        self.on_car: dict[str, list[Placed]] = {car.id: [] for car in problem.cars}
        self.bay_free_at: dict[str, int] = {}
        self.door_busy: dict[str, int] = {}  # by shop door, until when a car moves through it
        self.hatch_up: dict[str, str] = {}  # by shop door, the car whose hatch stands up under it
        self.wet: dict[tuple[str, str], int] = {}  # by car and side, until when it must stay shut
        self.in_yard: list[int] = []
        self.hours = {one.id: reach(one) for one in problem.workers}
        self.free = {one.id: problem.now for one in problem.workers}
        self.locked = self._locked()
        self.set_on_car = self._set_on_car()
        self.waits = {one.id: len(one.after) for one in problem.tasks}
        self.ready_at = {one.id: problem.earliest(one) for one in problem.tasks}
        self.follows: dict[str, list[PlanTask]] = {}
        for one in problem.tasks:
            for before in one.after:
                self.follows.setdefault(before, []).append(one)
        self.left = {name: len(tasks) for name, tasks in problem.of_car.items()}
        self.in_bay_left = {
            car.id: sum(1 for one in problem.of_car[car.id] if one.place is Place.BAY) for car in problem.cars
        }
        self.stays_until: dict[str, int] = {}
        self.waiting_cars = sorted((car for car in problem.cars if self.in_bay_left[car.id]), key=self._enters)
        self.open = [self._entry(one) for one in problem.tasks if not one.after]
        self.open.sort()
        for worker in problem.workers:
            self.events += [stretch.start for stretch in self.hours[worker.id]]
        self.events += [max(car.arrives, problem.now) for car in problem.cars]
        self.events += [one.start for one in problem.sun]
        self.events += [self.ready_at[one.id] for one in problem.tasks if not one.after]
        self.events += [start - problem.move for spans in self.locked.values() for start, _, _ in spans]
        self.events = sorted({one for one in self.events if one >= problem.now})

    def _locked(self) -> dict[str, list[tuple[int, int, str]]]:
        """By worker, when he is kept free for what was given to him by hand."""
        found: dict[str, list[tuple[int, int, str]]] = {}
        for task in self.problem.tasks:
            if (at := task.lock.exact) is not None:
                found.setdefault(task.lock.worker, []).append((at, at + task.minutes, task.id))
        return found

    def _set_on_car(self) -> dict[str, list[Placed]]:
        """By car, what was set for a person and a minute by hand and has yet to begin."""
        found: dict[str, list[Placed]] = {}
        for worker, spans in self.locked.items():
            for start, end, name in spans:
                found.setdefault(self.problem.task[name].car, []).append(Placed(name, worker, start, end))
        return found

    def _enters(self, car: PlanCar) -> tuple[float, str]:
        hurried = [self.hurried[one.id] for one in self.problem.of_car[car.id] if one.id in self.hurried]
        return (min(hurried) - _BEFORE_ALL if hurried else self.choice.enters[car.id], car.id)

    def _entry(self, task: PlanTask) -> tuple[float, str]:
        pressing = self.choice.presses.get(task.car, 0.0) - self.choice.tail * self.problem.tail[task.id]
        if task.id in self.hurried:
            pressing = self.hurried[task.id] - _BEFORE_ALL
        if task.lock.exact is not None:
            pressing -= 2 * _BEFORE_ALL
        return (pressing, task.id)

    def whole(self) -> Plan:
        """Play to the end."""
        for car in self.problem.cars:
            if car.entered is not None and self.in_bay_left[car.id]:
                self._drive_in(car, next(one for one in self.problem.bays if one.name == car.bay), car.entered)
        while self.events and (self.open or any(self.left.values())):
            at = self.events.pop(0)
            while self.events and self.events[0] <= at:
                self.events.pop(0)
            if at > self.problem.end:
                break
            self.now = max(self.now, at)
            self._leave()
            self._enter()
            while self._begin_one():
                pass
        missing = [one for one in self.problem.tasks if one.id not in self.placed]
        if missing:
            raise DoesNotFitError(missing)
        self.now = 10**9
        self._leave()
        return self._plan()

    def _plan(self) -> Plan:
        ready = {}
        for car in self.problem.cars:
            last = [self.placed[one.id].end + one.wait for one in self.problem.of_car[car.id]]
            if car.id in self.in_bay:
                last.append(self.in_bay[car.id].end)
            ready[car.id] = max(last, default=self.problem.opening(car))
        placed = sorted(self.placed.values(), key=lambda one: (one.start, one.worker))
        return Plan(tuple(placed), dict(self.in_bay), ready)

    def _wake(self, at: int) -> None:
        insort(self.events, at)

    def _leave(self) -> None:
        """Cars that are done drive out, one after the other through each door."""
        move = self.problem.move
        done = [
            name for name in self.stands if not self.in_bay_left[name] and self.stays_until.get(name, 0) <= self.now
        ]
        for name in sorted(done, key=lambda one: self.stays_until.get(one, 0)):
            bay, since = self.stands[name]
            at = max(self.stays_until.get(name, since), since)
            if move and bay.door:
                if self.hatch_up.get(bay.door, name) != name:
                    continue  # it waits under a raised hatch; the lowering wakes it
                at = max(at, self.door_busy.get(bay.door, 0))
                if at > self.now:
                    self._wake(at)
                    continue
                self.door_busy[bay.door] = at + move
            if self.hatch_up.get(bay.door) == name:
                del self.hatch_up[bay.door]
            self.in_bay[name] = InBay(bay.name, since, at + move)
            del self.stands[name]
            self.taken[bay.name] = ""
            self.bay_free_at[bay.name] = at + move
            self._wake(at + move)

    def _enter(self) -> None:
        """Cars that are here drive into free bays, in the order of the choice."""
        for car in list(self.waiting_cars):
            if car.arrives > self.now or self._has_work_outside(car):
                continue
            bays = [
                one
                for one in self.problem.bays
                if not self.taken.get(one.name)
                and self.bay_free_at.get(one.name, 0) <= self.now
                and (not car.bay or one.name == car.bay)
            ]
            for bay in bays:
                if self.problem.move and bay.door:
                    if self.hatch_up.get(bay.door):
                        continue
                    if (busy := self.door_busy.get(bay.door, 0)) > self.now:
                        self._wake(busy)
                        continue
                    self.door_busy[bay.door] = self.now + self.problem.move
                self._drive_in(car, bay, self.now)
                break

    def _has_work_outside(self, car: PlanCar) -> bool:
        """Whether something that its work in the bay hangs on is still done elsewhere."""
        inside = [one for one in self.problem.of_car[car.id] if one.place is Place.BAY]
        return not any(self.waits[one.id] == 0 and self._stands_by(one) <= self.now for one in inside)

    def _stands_by(self, task: PlanTask) -> int:
        """From when its car may stand in a bay for it: in time, where a person and a minute were set by hand."""
        early = self.problem.move if task.lock.exact is not None else 0
        return self.ready_at[task.id] - early

    def _drive_in(self, car: PlanCar, bay: BayPlace, at: int) -> None:
        self.stands[car.id] = (bay, at)
        self.taken[bay.name] = car.id
        self.waiting_cars = [one for one in self.waiting_cars if one.id != car.id]
        if self.problem.move and car.entered is None:
            self._wake(at + self.problem.move)

    def _begin_one(self) -> bool:
        """Begin the most pressing task that can begin now; whether there was one."""
        hands = [one for one in self.problem.workers if self.free[one.id] <= self.now and self._rest_of(one.id) > 0]
        if not hands:
            return False
        for i, (_, name) in enumerate(self.open):
            task = self.problem.task[name]
            if self.ready_at[name] > self.now or not self._can_begin(task):
                continue
            able = self.problem.able[name]
            fit = [one for one in hands if one.id in able and self._is_free(one.id, task)]
            if not fit:
                continue
            worker = min(fit, key=lambda one: (len(one.skills), -self._last_on(one.id, task.car), one.id))
            self.open.pop(i)
            self._begin(task, worker.id)
            return True
        return False

    def _last_on(self, worker: str, car: str) -> int:
        return max((one.end for one in self.on_car.get(car, ()) if one.worker == worker), default=-1)

    def _rest_of(self, worker: str) -> int:
        """Minutes until this worker's stretch ends; 0 where he is not here now."""
        for stretch in self.hours[worker]:
            if stretch.start <= self.now < stretch.end:
                return stretch.end - self.now
        return 0

    def _is_free(self, worker: str, task: PlanTask) -> bool:
        if self._rest_of(worker) < task.minutes:
            return False
        end = self.now + task.minutes
        if task.lock.exact not in (None, self.now):
            return False
        return all(
            end <= start or self.now >= stop for start, stop, name in self.locked.get(worker, ()) if name != task.id
        )

    def _can_begin(self, task: PlanTask) -> bool:
        """Whether car, yard, doors and hatch let it begin now."""
        if task.place is Place.BENCH:
            return True
        busy = [one for one in self.on_car.get(task.car, ()) if one.end > self.now]
        if len(busy) >= self.problem.most_on_a_car:
            return False
        there = self._in_the_sun(task) if task.place is Place.YARD else self._in_its_bay(task)
        if not there or (self.problem.door_wet and not self._doors_dry(task, busy)):
            return False
        return task.car not in self.set_on_car or self._leaves_room(task, busy)

    def _leaves_room(self, task: PlanTask, busy: Sequence[Placed]) -> bool:
        """Whether what was set by hand on this car can still begin at its minute if this task begins now."""
        end = self.now + task.minutes
        dry = end + self.problem.door_wet if task.wets_door and self.problem.door_wet else 0
        yet = [one for one in self.set_on_car[task.car] if one.task != task.id and one.task not in self.placed]
        for coming in yet:
            if coming.start >= max(end, dry):
                continue
            other = self.problem.task[coming.task]
            if dry and task.wets_door in other.uses_doors:
                return False
            if coming.start >= end:
                continue
            there = sum(1 for one in (*busy, *yet) if one.start <= coming.start < one.end)
            if there >= self.problem.most_on_a_car:
                return False
            if self.problem.door_wet and other.wets_door in task.uses_doors and coming.end < end:
                return False
        return True

    def _in_the_sun(self, task: PlanTask) -> bool:
        length = task.minutes + task.wait
        if not any(one.start <= self.now and self.now + length <= one.end for one in self.problem.sun):
            return False
        return sum(1 for one in self.in_yard if one > self.now) < self.problem.yard_places

    def _in_its_bay(self, task: PlanTask) -> bool:
        if task.car not in self.stands:
            return False
        bay, since = self.stands[task.car]
        driving = 0 if self.problem.car[task.car].entered is not None else self.problem.move
        if self.now < since + driving:
            return False
        # A hatch goes up under the door only while nobody drives through it.
        return not (task.raises_hatch and bay.under_door and self.door_busy.get(bay.door, 0) > self.now)

    def _doors_dry(self, task: PlanTask, busy: Sequence[Placed]) -> bool:
        if any(self.wet.get((task.car, side), 0) > self.now for side in task.uses_doors):
            return False
        end = self.now + task.minutes
        for one in busy:  # a side that gets wet while the other still opens it
            other = self.problem.task[one.task]
            if other.wets_door in task.uses_doors and one.end < end:
                return False
            if task.wets_door in other.uses_doors and end < one.end:
                return False
        return True

    def _begin(self, task: PlanTask, worker: str) -> None:
        start, end = self.now, self.now + task.minutes
        self.placed[task.id] = placed = Placed(task.id, worker, start, end)
        self.free[worker] = end
        self.left[task.car] -= 1
        if task.car in self.on_car:
            self.on_car[task.car].append(placed)
        through = end + task.wait
        if task.place is Place.BAY:
            self.in_bay_left[task.car] -= 1
            self.stays_until[task.car] = max(self.stays_until.get(task.car, 0), through)
            bay = self.stands[task.car][0]
            if task.raises_hatch and bay.under_door and bay.door:
                self.hatch_up[bay.door] = task.car
            if task.lowers_hatch and self.hatch_up.get(bay.door) == task.car:
                self.hatch_up.pop(bay.door)
                self.door_busy[bay.door] = max(self.door_busy.get(bay.door, 0), end)
        elif task.place is Place.YARD:
            self.in_yard.append(through)
        if task.wets_door and self.problem.door_wet:
            self.wet[task.car, task.wets_door] = end + self.problem.door_wet
            self._wake(end + self.problem.door_wet)
        for following in self.follows.get(task.id, ()):
            self.waits[following.id] -= 1
            self.ready_at[following.id] = max(self.ready_at[following.id], through)
            if not self.waits[following.id]:
                self._insert(self._entry(following))
        self._wake(end)
        if task.wait:
            self._wake(through)

    def _insert(self, entry: tuple[float, str]) -> None:
        insort(self.open, entry)
        if self.ready_at[entry[1]] > self.now:
            self._wake(self.ready_at[entry[1]])


def lay(problem: Problem, choice: Choice) -> Plan:
    """The plan that a choice gives; where what was set by hand would miss its minute, what it waits for goes first.

    Raises
    ------
    DoesNotFitError
        Tasks find no place.
    """
    try:
        return _Playing(problem, choice, {}).whole()
    except DoesNotFitError:
        hurried = _latest_before_locks(problem)
        if not hurried:
            raise
        return _Playing(problem, choice, hurried).whole()


def _latest_before_locks(problem: Problem) -> dict[str, int]:
    """By task that something set by hand waits for, when it must begin at the latest."""
    latest: dict[str, int] = {}
    for task in reversed(in_order(problem.tasks)):
        if (begins := task.lock.exact) is not None:
            latest[task.id] = min(latest.get(task.id, begins), begins)
        if task.id not in latest:
            continue
        for before in task.after:
            one = problem.task[before]
            at = latest[task.id] - one.minutes - one.wait
            latest[before] = min(latest.get(before, at), at)
    return latest

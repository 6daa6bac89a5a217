"""A day's work as the planner sees it: cars, their tasks, people, bays, and when each may be used.

Times are whole minutes since the midnight that begins the first day, by elapsed time: a day on which clocks are
changed has its own length, and nothing here has to know.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from functools import cached_property


class Skill(StrEnum):
    """What a person may do; each task asks for one."""

    PREP = "prep"  # cover, wash, clean, take apart, put back
    CUT = "cut"
    SHRINK = "shrink"  # doors and other glass that bends one way
    SHRINK_CURVED = "shrink_curved"  # glass that bends both ways
    FILM = "film"  # peel, place, press, edges
    STRIP = "strip"
    LOOK = "look"


class Place(StrEnum):
    """Where a task is done."""

    BAY = "bay"
    YARD = "yard"  # outside, the glass turned to the sun
    BENCH = "bench"  # no car needed


@dataclass(frozen=True, order=True)
class Stretch:
    """From one minute to another."""

    start: int
    end: int


@dataclass(frozen=True)
class Worker:
    """Somebody with hands, and when."""

    id: str
    name: str
    hours: tuple[Stretch, ...]  # in order, lunch left out
    skills: frozenset[Skill]
    overtime: int = 0  # minutes past the last stretch of a day that may be asked for


@dataclass(frozen=True)
class BayPlace:
    """A bay; under its door a raised hatch stands in the way of every car that moves through that door."""

    name: str
    door: str = ""
    under_door: bool = False


@dataclass(frozen=True)
class Lock:
    """What a person decided by hand: it stays, and the rest is planned round it.

    With a person the minute is exact; without one it is the earliest.
    """

    worker: str = ""
    start: int | None = None

    @property
    def exact(self) -> int | None:
        """The minute at which it begins, where a person was chosen for it; else None."""
        return self.start if self.worker else None


@dataclass(frozen=True)
class PlanTask:
    """One phase on one window, or on a car as a whole; ``wait`` runs unattended after it, before what follows."""

    id: str
    car: str
    label: str
    words: str
    minutes: int
    skill: Skill
    wait: int = 0
    after: tuple[str, ...] = ()
    place: Place = Place.BAY
    uses_doors: frozenset[str] = frozenset()  # sides of the car that are opened for it
    wets_door: str = ""  # side that must not be opened for a while after it
    raises_hatch: bool = False
    lowers_hatch: bool = False
    film: str = ""  # cut together with others of the same film
    spread: float = 0.3  # standard deviation of the logarithm of its minutes
    not_before: int | None = None  # what was done before it still dries
    lock: Lock = Lock()


@dataclass(frozen=True)
class PlanCar:
    """A car of the day."""

    id: str
    title: str
    arrives: int
    due: int | None = None  # promised; None: nobody was told a time
    cushion: int = 0  # minutes that a plan leaves before the promise, for days are not as planned
    waiting: bool = False  # its customer sits here
    bay: str = ""  # it stands there already, or was put there by hand
    overnight: bool = True  # it may stay until another day
    entered: int | None = None  # in its bay since


@dataclass(frozen=True)
class Problem:
    """All that a plan must respect."""

    cars: tuple[PlanCar, ...]
    tasks: tuple[PlanTask, ...]
    workers: tuple[Worker, ...]
    bays: tuple[BayPlace, ...]
    now: int = 0
    end: int = 1440
    sun: tuple[Stretch, ...] = ()
    yard_places: int = 1
    most_on_a_car: int = 2
    door_wet: int = 0
    move: int = 0  # minutes that a car takes through the door
    waiting_weight: int = 3  # a minute of somebody who sits here counts so often
    away: Mapping[str, str] = field(default_factory=dict)  # by worker who is not here, why

    @cached_property
    def task(self) -> Mapping[str, PlanTask]:
        """Tasks by id."""
        return {one.id: one for one in self.tasks}

    @cached_property
    def car(self) -> Mapping[str, PlanCar]:
        """Cars by id."""
        return {one.id: one for one in self.cars}

    @cached_property
    def worker(self) -> Mapping[str, Worker]:
        """People by id."""
        return {one.id: one for one in self.workers}

    @cached_property
    def of_car(self) -> Mapping[str, tuple[PlanTask, ...]]:
        """Tasks by car, in the order in which they are written; those of no car under an empty name."""
        found: dict[str, list[PlanTask]] = {one.id: [] for one in self.cars}
        for task in self.tasks:
            found.setdefault(task.car, []).append(task)
        return {name: tuple(tasks) for name, tasks in found.items()}

    @cached_property
    def able(self) -> Mapping[str, tuple[str, ...]]:
        """By task, who may do it: those with the skill, or the one that it was given to by hand."""
        return {
            task.id: tuple(
                one.id
                for one in self.workers
                if task.skill in one.skills and (not task.lock.worker or one.id == task.lock.worker)
            )
            for task in self.tasks
        }

    @cached_property
    def tail(self) -> Mapping[str, int]:
        """By task, the longest work and wait that hangs on it, itself included [min]."""
        follows: dict[str, list[str]] = {one.id: [] for one in self.tasks}
        for task in self.tasks:
            for before in task.after:
                follows[before].append(task.id)
        found: dict[str, int] = {}
        for task in reversed(in_order(self.tasks)):
            rest = max((found[one] for one in follows[task.id]), default=0)
            found[task.id] = task.minutes + task.wait + rest
        return found

    def earliest(self, task: PlanTask) -> int:
        """The earliest minute at which a task could begin for all that is known of itself and its car."""
        car = self.car.get(task.car)
        arrives = car.arrives if car is not None and task.place is not Place.BENCH else 0
        return max(self.now, arrives, task.not_before or 0, task.lock.start or 0)

    def opening(self, car: PlanCar) -> int:
        """The earliest minute at which anybody could begin on a car."""
        earliest = max(car.arrives, self.now)
        starts = [
            max(stretch.start, earliest) for one in self.workers for stretch in one.hours if stretch.end > earliest
        ]
        return min(starts, default=earliest)


@dataclass(frozen=True)
class Placed:
    """A task in the plan."""

    task: str
    worker: str
    start: int
    end: int


@dataclass(frozen=True)
class InBay:
    """A car's time in a bay."""

    bay: str
    start: int
    end: int


@dataclass(frozen=True)
class Measure:
    """What a plan costs, in the order in which it counts [min]."""

    late: int
    overtime: int
    waiting: int

    @property
    def key(self) -> tuple[int, int, int]:
        """To compare by."""
        return (self.late, self.overtime, self.waiting)


@dataclass(frozen=True)
class Plan:
    """Who does what when, and which car stands where."""

    placed: tuple[Placed, ...]
    in_bay: Mapping[str, InBay]
    ready: Mapping[str, int]

    @cached_property
    def at(self) -> Mapping[str, Placed]:
        """By task."""
        return {one.task: one for one in self.placed}


class UnknownTaskError(ValueError):
    """A task waits for one that is not there, or for itself."""


def in_order(tasks: Sequence[PlanTask]) -> list[PlanTask]:
    """Tasks so that each stands after what it waits for, otherwise as written.

    Raises
    ------
    UnknownTaskError
        A task waits for one that there is not, or in a circle.

    Examples
    --------
    >>> a = PlanTask("a", "car", "", "", 5, Skill.PREP, after=("b",))
    >>> b = PlanTask("b", "car", "", "", 5, Skill.PREP)
    >>> [one.id for one in in_order([a, b])], in_order([])
    (['b', 'a'], [])
    """
    known = {one.id for one in tasks}
    left, done, found = list(tasks), set[str](), []
    while left:
        ready = [one for one in left if all(before in done for before in one.after)]
        if not ready:
            lost = [before for one in left for before in one.after if before not in known]
            raise UnknownTaskError(f"tasks wait for {lost[0] if lost else 'each other'}")
        found += ready
        done |= {one.id for one in ready}
        left = [one for one in left if one.id not in done]
    return found


def measure(problem: Problem, plan: Plan) -> Measure:
    """Lateness over all promises with their cushions, overtime over people and days, what cars wait after arrival.

    Examples
    --------
    >>> measure(Problem((), (), (), ()), Plan((), {}, {}))
    Measure(late=0, overtime=0, waiting=0)
    """
    late = waiting = 0
    for car in problem.cars:
        ready = plan.ready[car.id]
        if car.due is not None:
            late += max(0, ready - car.due + car.cushion)
        waiting += weight(problem, car) * (ready - problem.opening(car))
    return Measure(late, sum(overtime_by_day(problem, plan).values()), waiting)


def weight(problem: Problem, car: PlanCar) -> int:
    """How much a minute of a car counts."""
    return problem.waiting_weight if car.waiting else 1


def overtime_by_day(problem: Problem, plan: Plan) -> dict[tuple[str, int], int]:
    """By worker and by the end of his day, the minutes past it."""
    found: dict[tuple[str, int], int] = {}
    for one in plan.placed:
        for close, limit in closes(problem.worker[one.worker]):
            if close < one.end <= limit:
                key = (one.worker, close)
                found[key] = max(found.get(key, 0), one.end - close)
    return found


def closes(worker: Worker) -> list[tuple[int, int]]:
    """A worker's days' ends, each with the latest that overtime may reach; a lunch under three hours ends no day.

    Examples
    --------
    >>> closes(Worker("a", "A", (Stretch(480, 720), Stretch(750, 1020)), frozenset(), overtime=60))
    [(1020, 1080)]
    """
    found = []
    for i, stretch in enumerate(worker.hours):
        following = worker.hours[i + 1].start if i + 1 < len(worker.hours) else None
        if following is None or following - stretch.end >= _NIGHT:
            room = worker.overtime if following is None else min(worker.overtime, following - stretch.end)
            found.append((stretch.end, stretch.end + room))
    return found


_NIGHT = 180


def reach(worker: Worker) -> tuple[Stretch, ...]:
    """When a worker may be asked at all: his hours, each day's last lengthened by the overtime allowed."""
    ends = dict(closes(worker))
    return tuple(Stretch(one.start, ends.get(one.end, one.end)) for one in worker.hours)

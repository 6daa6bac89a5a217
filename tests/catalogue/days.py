"""Days whose best plan is known, for they are built backward from it; and small days of every kind."""

from __future__ import annotations

from dataclasses import replace
from itertools import pairwise

import numpy as np

from elumbra.core.schedule import BayPlace, Place, PlanCar, PlanTask, Problem, Skill, Stretch, Worker

OPENS = 480
ALL = frozenset(Skill)


def perfect_day(seed: int, *, cars: int = 8, span: int = 486, slack: int = 15) -> tuple[Problem, int]:
    """Two bays, three people, each busy without a gap from opening until ``span``; promises lie ``slack`` later.

    One person stays at each bay, the third goes to and fro. Their time is cut into tasks, and tasks into windows'
    chains that this very plan respects. Nobody can end before ``span``, for the work is three times that long.
    The people's hours are longer: 90 % of them is work.

    Returns
    -------
    tuple[Problem, int]
        The day, and the minute at which the best plan ends.
    """
    chance = np.random.default_rng(seed)
    tasks: list[PlanTask] = []
    found: list[PlanCar] = []
    helper = _to_and_fro(chance, span)
    for bay in range(2):
        ends = _cut_in(chance, span, cars // 2)
        for i, (start, end) in enumerate(pairwise(ends)):
            name = f"c{bay}{i}"
            lines = [(start, end)] + [
                (max(start, a), min(end, b)) for where, a, b in helper if where == bay and min(end, b) > max(start, a)
            ]
            tasks += _chained(chance, name, [piece for line in lines for piece in _pieces(chance, *line)])
            found.append(PlanCar(name, f"Car {name}", OPENS, due=OPENS + end + slack))
    hours = (Stretch(OPENS, OPENS + round(span / 0.9)),)
    people = tuple(Worker(f"w{i}", f"Person {i}", hours, ALL, overtime=60) for i in range(3))
    return Problem(tuple(found), tuple(tasks), people, (BayPlace("A"), BayPlace("B"))), OPENS + span


def _cut_in(chance: np.random.Generator, span: int, parts: int) -> list[int]:
    while True:
        inner = np.sort(chance.choice(np.arange(60, span - 60, 5), parts - 1, replace=False))
        ends = [0, *inner.tolist(), span]
        if min(np.diff(ends)) >= 70:
            return [int(one) for one in ends]


def _to_and_fro(chance: np.random.Generator, span: int) -> list[tuple[int, int, int]]:
    at, bay, found = 0, int(chance.integers(2)), []
    while at < span:
        length = int(chance.integers(40, 100))
        end = span if span - at - length < 40 else at + length
        found.append((bay, at, end))
        at, bay = end, 1 - bay
    return found


def _pieces(chance: np.random.Generator, start: int, end: int) -> list[tuple[int, int]]:
    at, found = start, []
    while at < end:
        length = int(chance.integers(2, 9))
        stop = end if end - at - length < 2 else at + length
        found.append((at, stop))
        at = stop
    return found


def _chained(chance: np.random.Generator, car: str, pieces: list[tuple[int, int]]) -> list[PlanTask]:
    """Tasks in chains of at most five, each begun after the one before ended in the perfect plan."""
    chains: list[list[object]] = []
    tasks = []
    for i, (start, end) in enumerate(sorted(pieces)):
        open_chains = [one for one in chains if one[0] <= start and one[2] < 5]  # type: ignore[operator]
        name, after = f"{car}:{i}", ()
        if open_chains and chance.random() < 0.85:
            chain = open_chains[int(chance.integers(len(open_chains)))]
            after = (str(chain[1]),)
            chain[0], chain[1], chain[2] = end, name, chain[2] + 1  # type: ignore[operator]
        else:
            chains.append([end, name, 1])
        tasks.append(PlanTask(name, car, "Window", "work", end - start, Skill.FILM, after=after))
    return tasks


def small_day(seed: int) -> Problem:
    """A day with everything that a plan must mind: lunch, a learner, doors, hatches, wet sides, the yard, drying."""
    chance = np.random.default_rng(seed)
    learner = frozenset(Skill) - {Skill.SHRINK_CURVED, Skill.STRIP}
    hours = (Stretch(480, 720), Stretch(750, 1020))
    people = (
        Worker("a", "Ada", hours, ALL, overtime=60),
        Worker("b", "Bo", hours if chance.random() < 0.5 else (Stretch(540, 900),), ALL, overtime=30),
        Worker("c", "Cy", hours, learner),
    )
    cars, tasks = [], []
    for i in range(int(chance.integers(2, 6))):
        name = f"car{i}"
        arrives = int(chance.choice([0, 480, 540, 660]))
        due = int(chance.integers(600, 1020)) if chance.random() < 0.6 else None
        cars.append(PlanCar(name, f"Car {i}", arrives, due, waiting=bool(chance.random() < 0.2)))
        tasks += _car_tasks(chance, name)
    under = bool(chance.random() < 0.6)
    bays = (BayPlace("1", "roll", under_door=under), BayPlace("2", "roll"))
    return Problem(
        tuple(cars), tuple(tasks), people, bays, end=1140, sun=(Stretch(600, 900),), door_wet=int(chance.choice([0, 10])),
        move=int(chance.choice([0, 3])),
    )  # fmt: skip


def _car_tasks(chance: np.random.Generator, car: str) -> list[PlanTask]:
    begin = PlanTask(f"{car}:start", car, "Whole car", "prepare", int(chance.integers(5, 15)), Skill.PREP)
    found, last = [begin], []
    ready = begin.id
    if chance.random() < 0.3:
        bag = PlanTask(
            f"{car}:bag", car, "Back glass", "bag", 6, Skill.STRIP, wait=20, place=Place.YARD
        )  # fmt: skip
        peel = PlanTask(f"{car}:peel", car, "Back glass", "peel", 12, Skill.STRIP, after=(bag.id, begin.id))
        found += [bag, peel]
        ready = peel.id
    bench = PlanTask(f"{car}:bench", car, "Smoke", "blanks", 5, Skill.CUT, place=Place.BENCH, film="smoke")
    found.append(bench)
    for w in range(int(chance.integers(2, 5))):
        hatch = w == 0 and chance.random() < 0.5
        door = f"door{w}" if w in (1, 2) else ""
        cut = PlanTask(
            f"{car}:{w}:cut", car, f"W{w}", "cut", int(chance.integers(3, 9)), Skill.CUT, after=(ready, bench.id),
            raises_hatch=hatch,
        )  # fmt: skip
        skill = Skill.SHRINK_CURVED if w == 0 else Skill.SHRINK
        shrink = PlanTask(
            f"{car}:{w}:shrink", car, f"W{w}", "shrink", int(chance.integers(2, 20)), skill, after=(cut.id,),
            wait=int(chance.choice([0, 0, 8])),
        )  # fmt: skip
        uses = frozenset({"door1"}) if w == 3 else frozenset()
        film = PlanTask(
            f"{car}:{w}:film", car, f"W{w}", "film", int(chance.integers(6, 20)), Skill.FILM, after=(shrink.id,),
            wets_door=door, uses_doors=uses,
        )  # fmt: skip
        found += [cut, shrink, film]
        last.append(film.id)
    found.append(PlanTask(f"{car}:end", car, "Whole car", "close", 6, Skill.LOOK, after=tuple(last), lowers_hatch=True))
    return found


def one_bench(minutes: list[int], *, weights: list[bool] | None = None) -> Problem:
    """One person and as many bays as cars: each car one task; the best order is known in closed form."""
    waiting = weights or [False] * len(minutes)
    cars = tuple(PlanCar(f"c{i}", f"Car {i}", 0, waiting=waiting[i]) for i in range(len(minutes)))
    tasks = tuple(PlanTask(f"t{i}", f"c{i}", "Door", "film", length, Skill.FILM) for i, length in enumerate(minutes))
    bays = tuple(BayPlace(f"B{i}") for i in range(len(minutes)))
    return Problem(cars, tasks, (Worker("a", "Ada", (Stretch(0, 1440),), ALL),), bays)


def with_due(problem: Problem, due: dict[str, int]) -> Problem:
    """The same day with other promises."""
    return replace(problem, cars=tuple(replace(one, due=due.get(one.id, one.due)) for one in problem.cars))

"""What no plan can do, said before any is looked for: by name, with the least that would make it possible."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise
from math import ceil

from elumbra.core.schedule.listing import DoesNotFitError
from elumbra.core.schedule.problem import (
    Lock,
    Place,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    Skill,
    measure,
    reach,
)
from elumbra.core.schedule.search import first_plan

SKILL_WORDS = {
    Skill.PREP: "prepare and clean",
    Skill.CUT: "cut",
    Skill.SHRINK: "shrink",
    Skill.SHRINK_CURVED: "shrink strongly curved glass",
    Skill.FILM: "lay film",
    Skill.STRIP: "take old film off",
    Skill.LOOK: "do the last look",
}


@dataclass(frozen=True)
class Impossible:
    """Something that no plan can do: to which car or person, why, and the least that would mend it."""

    car: str  # empty where it is about the day as a whole
    why: str
    least: str


def impossible(problem: Problem, *, clock: Callable[[int], str]) -> list[Impossible]:
    """What cannot be, whatever the order of work.

    Parameters
    ----------
    problem
        The day.
    clock
        A minute as a time of day, for the sentences.
    """
    found = [*_vain(problem), *_in_two_places(problem, clock)]
    if not problem.workers:
        found.append(Impossible("", "Nobody works on this day.", "Have somebody in, or choose another day."))
    free = _without_vain_locks(problem)
    for car in free.cars:
        found += _of_car(free, car, clock)
    return found


def _of_car(problem: Problem, car: PlanCar, clock: Callable[[int], str]) -> list[Impossible]:
    tasks = problem.of_car[car.id]
    if any(one.place is Place.BAY for one in tasks):
        names = [one.name for one in problem.bays]
        if not names:
            return [Impossible(car.id, f"{car.title} needs a bay and the shop has none.", "Add a bay under Shop.")]
        if car.bay and car.bay not in names:
            known = ", ".join(names)
            return [Impossible(car.id, f"{car.title} was put in {car.bay}, which is no bay.", f"Put it in {known}.")]
    for task in tasks:
        said = _unable(problem, task) or _too_long(problem, task) or _no_sun(problem, task)
        if said:
            return [Impossible(car.id, *said)]
    opening, least = problem.opening(car), earliest_ready(problem, car)
    if car.due is not None and car.due < opening:
        return [
            Impossible(
                car.id, f"{car.title} is promised for {clock(car.due)}, before anybody can begin at {clock(opening)}.",
                f"Promise {clock(least)} or later.",
            )
        ]  # fmt: skip
    if car.due is not None and least > car.due:
        return [
            Impossible(
                car.id,
                f"{car.title} is promised for {clock(car.due)}; with two people from {clock(opening)} on it is ready "
                f"at {clock(least)} at the earliest.",
                f"Promise {clock(least)} or later, or have it here {span_words(least - car.due)} sooner.",
            )
        ]  # fmt: skip
    return []


def earliest_ready(problem: Problem, car: PlanCar) -> int:
    """When a car could be ready if nothing else were to be done: by its longest chain, and by two people's hands."""
    tasks = problem.of_car[car.id]
    work = sum(one.minutes for one in tasks if one.place is not Place.BENCH)
    hands = min(problem.most_on_a_car, max(1, len(problem.workers)))
    move = 2 * problem.move if any(one.place is Place.BAY for one in tasks) else 0
    return problem.opening(car) + max([ceil(work / hands)] + [problem.tail[one.id] for one in tasks]) + move


def _unable(problem: Problem, task: PlanTask) -> tuple[str, str] | None:
    if problem.able[task.id]:
        return None
    words = SKILL_WORDS[task.skill]
    return (
        f"{task.label}: nobody who is here may {words}.",
        f"Have somebody in who may, or say under People who may {words}.",
    )


def _too_long(problem: Problem, task: PlanTask) -> tuple[str, str] | None:
    longest = max(
        (stretch.end - stretch.start for name in problem.able[task.id] for stretch in reach(problem.worker[name])),
        default=0,
    )
    if task.minutes <= longest:
        return None
    return (
        f"{task.label}: {task.words} takes {span_words(task.minutes)}, and nobody works that long without a break.",
        f"{span_words(task.minutes - longest)} more without a break.",
    )


def _no_sun(problem: Problem, task: PlanTask) -> tuple[str, str] | None:
    if task.place is not Place.YARD:
        return None
    length = task.minutes + task.wait
    longest = max((one.end - one.start for one in problem.sun), default=0)
    if length <= longest:
        return None
    sunny = span_words(longest) if longest else "none"
    return (
        f"{task.label}: the bag needs {span_words(length)} of sun, this day has {sunny}.",
        "Another way to take the film off, or a sunny day.",
    )


def _vain(problem: Problem) -> Iterator[Impossible]:
    """What was given by hand to somebody who may not do it or is not here."""
    for task in problem.tasks:
        given = task.lock.worker
        if not given or given in problem.able[task.id]:
            continue
        if (who := problem.worker.get(given)) is None:
            why = problem.away.get(given, "is not here on this day")
            words, least = f"{task.words} was given to somebody who {why}.", "Give it to somebody else."
        else:
            words = f"{who.name} may not {SKILL_WORDS[task.skill]}."
            least = "Give it to somebody else, or say under People that he may."
        yield Impossible(task.car, f"{task.label}: {words}", least)


def _in_two_places(problem: Problem, clock: Callable[[int], str]) -> Iterator[Impossible]:
    """A person in two places at once, by hand."""
    for first, second in _clashes(problem):
        at, begins = first.lock.start or 0, second.lock.start or 0
        who = problem.worker[first.lock.worker].name
        yield Impossible(
            second.car,
            f"{who} was given {first.label}, {first.words} until {clock(at + first.minutes)} and "
            f"{second.label}, {second.words} from {clock(begins)} on: nobody is in two places.",
            f"Move one by {span_words(at + first.minutes - begins)}, or give it to somebody else.",
        )


def _clashes(problem: Problem) -> Iterator[tuple[PlanTask, PlanTask]]:
    """What was set by hand for one person at one time, two by two."""
    fixed = [one for one in problem.tasks if one.lock.exact is not None and problem.able[one.id]]
    fixed.sort(key=lambda one: (one.lock.worker, one.lock.exact, one.id))
    for first, second in pairwise(fixed):
        at, begins = first.lock.exact or 0, second.lock.exact or 0
        if first.lock.worker == second.lock.worker and begins < at + first.minutes:
            yield first, second


def span_words(minutes: int) -> str:
    """Minutes as hours and minutes, for a sentence.

    Examples
    --------
    >>> span_words(45), span_words(65), span_words(120)
    ('45 min', '1 h 05 min', '2 h')
    """
    hours, rest = divmod(max(minutes, 0), 60)
    if not hours:
        return f"{rest} min"
    return f"{hours} h {rest:02} min" if rest else f"{hours} h"


@dataclass(frozen=True)
class Fit:
    """The cars that the day holds, and those that it does not, with what would make room."""

    problem: Problem  # without those that do not fit, and without what was set by hand and cannot be kept
    left_out: tuple[Impossible, ...]
    loosened: tuple[Impossible, ...]  # what was set by hand, fits nowhere so, and is planned freely
    plan: Plan | None


def fitting(problem: Problem, *, clock: Callable[[int], str]) -> Fit:
    """Leave out the fewest cars that must be, those first that matter least: no promise, little time before it.

    A car that the plan can only bring home too late for its promise stays in the plan and is told as late: it is left
    out only where the days that are planned do not hold its work at all. What was set by hand never costs a car its
    place: where it cannot be kept, it is planned freely and told.
    """
    free = _without_vain_locks(problem)
    bare = _let_go(free, {one.id: Lock() for one in free.tasks})
    broken = {one.car for one in impossible(bare, clock=clock) if one.car and not _only_late(bare, one.car)}
    left_out: list[str] = []
    loosened: set[str] = set()  # cars
    tried = without(free, broken)
    while True:
        try:
            plan = first_plan(tried).plan
            break
        except DoesNotFitError as error:
            stuck = {one.car for one in error.tasks if one.car in tried.car}
            if held := _held(tried, {one.car for one in error.tasks}):
                loosened |= {one.car for one in held}
                tried = _let_go(tried, {one.id: _loose(one) for one in held})
                continue
            if not tried.cars:
                return Fit(tried, (), (), None)
            worst = max(
                (car for car in tried.cars if not stuck or car.id in stuck), key=lambda one: _expendable(tried, one)
            )
            left_out.append(worst.id)
            tried = without(tried, {worst.id})
    tried, plan = _held_again(free, tried, plan, loosened)
    told = []
    for name in left_out:
        car = problem.car[name]
        work = sum(one.minutes for one in problem.of_car[name])
        told.append(
            Impossible(name, f"{car.title} does not fit: {span_words(work)} of work.", _room(free, tried, plan, car))
        )
    said = [_not_kept(free, free.task[one.id], clock) for one in tried.tasks if one.lock != free.task[one.id].lock]
    return Fit(tried, tuple(told), tuple(said), plan)


def _without_vain_locks(problem: Problem) -> Problem:
    """The day without what was given to somebody who may not or is not here, or set for two places at once."""
    vain = {one.id: Lock(start=one.lock.start) for one in problem.tasks if one.lock.worker and not problem.able[one.id]}
    vain |= {second.id: Lock(second.lock.worker) for _, second in _clashes(problem)}
    return _let_go(problem, vain)


def _held_again(free: Problem, tried: Problem, plan: Plan, loosened: set[str]) -> tuple[Problem, Plan]:
    """With what was set by hand kept after all, car by car, where the day holds it now that others are left out."""
    for name in sorted(loosened):
        again = _let_go(tried, {one.id: free.task[one.id].lock for one in tried.of_car.get(name, ())})
        try:
            tried, plan = again, first_plan(again).plan
        except DoesNotFitError:
            continue
    return tried, plan


def _held(problem: Problem, stuck: set[str]) -> list[PlanTask]:
    """What was set by hand and may be in the way: first of the cars that are stuck, and there people's minutes."""
    for names in (stuck, {one.car for one in problem.tasks}):
        for exact in (True, False):
            held = [
                one
                for one in problem.tasks
                if one.car in names and one.lock != Lock() and (one.lock.exact is not None) is exact
            ]
            if held:
                return held
    return []


def _loose(task: PlanTask) -> Lock:
    """One thing less is held of it: the minute, then the person."""
    return Lock(task.lock.worker) if task.lock.exact is not None else Lock()


def _let_go(problem: Problem, locks: Mapping[str, Lock]) -> Problem:
    return replace(
        problem, tasks=tuple(replace(one, lock=locks[one.id]) if one.id in locks else one for one in problem.tasks)
    )


def _not_kept(problem: Problem, task: PlanTask, clock: Callable[[int], str]) -> Impossible:
    lock = task.lock
    who = f" for {problem.worker[lock.worker].name}" if lock.worker in problem.worker else ""
    at = "" if lock.start is None else f" {'at' if who else 'from'} {clock(lock.start)}{'' if who else ' on'}"
    return Impossible(
        task.car,
        f"{task.label}, {task.words} was set by hand{who}{at}. It cannot be done so, and is planned freely.",
        "Set another time or person, or let it go.",
    )


def _only_late(problem: Problem, name: str) -> bool:
    tasks = problem.of_car[name]
    return not any(_unable(problem, one) or _too_long(problem, one) or _no_sun(problem, one) for one in tasks) and (
        not any(one.place is Place.BAY for one in tasks)
        or (bool(problem.bays) and problem.car[name].bay in ("", *(one.name for one in problem.bays)))
    )


def _expendable(problem: Problem, car: PlanCar) -> tuple[bool, bool, bool, int]:
    work = sum(one.minutes for one in problem.of_car[car.id])
    return (car.entered is None, not car.waiting, car.due is None, work)


def _room(problem: Problem, fits: Problem, plan: Plan, car: PlanCar) -> str:
    """The least that would make room for one more car: overtime in steps of a quarter of an hour, or another day."""
    with_it = without(problem, {one.id for one in problem.cars} - {one.id for one in fits.cars} - {car.id})
    for more in range(15, 241, 15):
        workers = tuple(replace(one, overtime=one.overtime + more) for one in with_it.workers)
        longer = replace(
            with_it, workers=workers, end=max(with_it.end, *(s.end + more for w in workers for s in w.hours))
        )
        try:
            first_plan(longer)
        except DoesNotFitError:
            continue
        return f"{span_words(more)} more in the evening for everybody, or another day for it."
    lost = measure(fits, plan).late
    return "Another day for it, or for another car." if not lost else "Another day for it; the day is late without it."


def without(problem: Problem, names: set[str]) -> Problem:
    """The day without some cars."""
    gone = {one.id for one in problem.tasks if one.car in names}
    return replace(
        problem,
        cars=tuple(one for one in problem.cars if one.id not in names),
        tasks=tuple(
            replace(one, after=tuple(b for b in one.after if b not in gone))
            for one in problem.tasks
            if one.id not in gone
        ),
    )

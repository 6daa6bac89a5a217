"""The checker of day plans: one plan without a fault, and every fault that it can name put into it, one at a time."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest

from elumbra.core.schedule import (
    BayPlace,
    Lock,
    Place,
    Placed,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    Skill,
    Stretch,
    Worker,
    faults,
)
from elumbra.core.schedule.problem import InBay

# Car X has its back glass filmed in bay 1, whose hatch would hit the door "roll"; Y drives in through the same door when
# the hatch is down. Z stands in bay 3, which has no door; W needs no bay. All limits are met to the minute.
TASKS = (
    PlanTask("sweep", "", "Shop", "sweep", 10, Skill.PREP),
    PlanTask("z1", "z", "Door", "film", 5, Skill.FILM),
    PlanTask("bag", "x", "Back", "bag", 5, Skill.STRIP, wait=20, place=Place.YARD),
    PlanTask("up", "x", "Back", "film", 30, Skill.FILM, raises_hatch=True),
    PlanTask("down", "x", "Car", "close", 5, Skill.LOOK, after=("up",), lowers_hatch=True),
    PlanTask("cut", "y", "Smoke", "blanks", 5, Skill.CUT, place=Place.BENCH),
    PlanTask("seat", "y", "Car", "seats", 6, Skill.PREP),
    PlanTask("wet", "y", "Rear", "film", 10, Skill.FILM, wets_door="rear"),
    PlanTask("through", "y", "Quarter", "film", 10, Skill.FILM, after=("wet",), uses_doors=frozenset({"rear"})),
    PlanTask("film", "y", "Door", "film", 10, Skill.FILM, wait=15),
    PlanTask("card", "w", "Smoke", "blanks", 5, Skill.CUT, place=Place.BENCH),
)
CARS = (
    PlanCar("w", "Car W", 900), PlanCar("z", "Car Z", 480), PlanCar("x", "Car X", 480), PlanCar("y", "Car Y", 524),
    PlanCar("none", "Nothing to do", 480),
)  # fmt: skip
ADA = Worker("a", "Ada", (Stretch(480, 720), Stretch(750, 1020)), frozenset(Skill), overtime=60)
BO = Worker("b", "Bo", (Stretch(480, 1020),), frozenset(Skill) - {Skill.SHRINK_CURVED})
BAYS = (BayPlace("1", "roll", under_door=True), BayPlace("2", "roll"), BayPlace("3"), BayPlace("4"))
DAY = Problem(
    CARS, TASKS, (ADA, BO), BAYS, now=480, end=1440, sun=(Stretch(600, 625), Stretch(700, 800)), door_wet=10, move=3
)
PLAN = Plan(
    (
        Placed("sweep", "b", 480, 490), Placed("cut", "b", 490, 495), Placed("z1", "b", 500, 505),
        Placed("down", "a", 513, 518), Placed("up", "a", 483, 513), Placed("wet", "a", 524, 534),
        Placed("seat", "a", 544, 550), Placed("through", "b", 544, 554), Placed("film", "a", 554, 564),
        Placed("bag", "b", 600, 605), Placed("card", "b", 800, 805),
    ),
    {"z": InBay("3", 497, 508), "x": InBay("1", 480, 521), "y": InBay("2", 521, 582)},
    {"z": 508, "x": 625, "y": 582, "w": 805},
)  # fmt: skip
Change = Callable[[Problem, Plan], tuple[Problem, Plan]]


def at(task: str, start: int, worker: str = "", *, minutes: int | None = None) -> Change:
    """The task placed elsewhere."""

    def moved(one: Placed) -> Placed:
        length = one.end - one.start if minutes is None else minutes
        return Placed(task, worker or one.worker, start, start + length) if one.task == task else one

    return lambda problem, plan: (problem, replace(plan, placed=tuple(moved(one) for one in plan.placed)))


def also(*placed: Placed) -> Change:
    return lambda problem, plan: (problem, replace(plan, placed=(*plan.placed, *placed)))


def lost(task: str) -> Change:
    return lambda problem, plan: (problem, replace(plan, placed=tuple(p for p in plan.placed if p.task != task)))


def day(**facts: Any) -> Change:
    return lambda problem, plan: (replace(problem, **facts), plan)


def task(name: str, **facts: Any) -> Change:
    return lambda problem, plan: (
        replace(problem, tasks=tuple(replace(one, **facts) if one.id == name else one for one in problem.tasks)), plan,
    )  # fmt: skip


def car(name: str, **facts: Any) -> Change:
    return lambda problem, plan: (
        replace(problem, cars=tuple(replace(one, **facts) if one.id == name else one for one in problem.cars)), plan,
    )  # fmt: skip


def more(one: PlanTask, worker: str, start: int) -> Change:
    """One more task, placed."""

    def changed(problem: Problem, plan: Plan) -> tuple[Problem, Plan]:
        placed = Placed(one.id, worker, start, start + one.minutes)
        return replace(problem, tasks=(*problem.tasks, one)), replace(plan, placed=(*plan.placed, placed))

    return changed


def bay(name: str, **facts: Any) -> Change:
    return lambda problem, plan: (
        problem, replace(plan, in_bay={key: replace(one, **facts) if key == name else one for key, one in plan.in_bay.items()}),
    )  # fmt: skip


def also_in(name: str, there: InBay) -> Change:
    return lambda problem, plan: (problem, replace(plan, in_bay={**plan.in_bay, name: there}))


def no_bay(name: str) -> Change:
    return lambda problem, plan: (
        problem, replace(plan, in_bay={key: one for key, one in plan.in_bay.items() if key != name}),
    )  # fmt: skip


def ready(name: str, minute: int) -> Change:
    return lambda problem, plan: (problem, replace(plan, ready={**plan.ready, name: minute}))


def turned_over(problem: Problem, plan: Plan) -> tuple[Problem, Plan]:
    """The same day and plan with all its lists the other way round."""
    return (
        replace(problem, cars=problem.cars[::-1], tasks=problem.tasks[::-1], workers=problem.workers[::-1]),
        Plan(plan.placed[::-1], dict(reversed(plan.in_bay.items())), plan.ready),
    )


def found(*changes: Change) -> list[str]:
    problem, plan = DAY, PLAN
    for change in changes:
        problem, plan = change(problem, plan)
    return faults(problem, plan)


BAG = PlanTask("bag 2", "y", "Back", "bag", 5, Skill.STRIP, place=Place.YARD)
FAULTS: list[tuple[str, list[Change], list[str]]] = [
    ("twice", [also(Placed("cut", "b", 900, 905))], ["cut is planned twice"]),
    ("no task", [also(Placed("ghost", "b", 900, 905))], ["ghost is no task"]),
    ("not planned", [lost("cut")], ["cut is not planned"]),
    ("not planned, and what hangs on it", [lost("wet"), lost("up")], ["up is not planned", "wet is not planned"]),
    ("minutes", [at("cut", 490, minutes=4)], ["cut takes 5 min, planned are 4"]),
    ("longer", [at("cut", 490, minutes=6)], ["cut takes 5 min, planned are 6"]),
    ("past", [day(now=481)], ["sweep begins in the past"]),
    ("before its car", [car("y", arrives=525)], ["wet begins before the car is here"]),
    ("order", [at("down", 512, "b")], ["down begins 1 min before up lets it"]),
    ("wait", [task("wet", wait=12)], ["through begins 2 min before wet lets it"]),
    ("nobody", [at("cut", 490, "z")], ["cut is given to nobody that works here"]),
    (
        "nobody, and one who may not", [at("cut", 490, "z"), task("through", skill=Skill.SHRINK_CURVED)],
        ["cut is given to nobody that works here", "Bo may not do through"],
    ),
    ("skill", [task("through", skill=Skill.SHRINK_CURVED)], ["Bo may not do through"]),
    ("before hours", [at("sweep", 479), day(now=0)], ["Bo does not work at sweep's time"]),
    ("after hours", [at("sweep", 1011)], ["Bo does not work at sweep's time"]),
    ("into lunch", [at("sweep", 711, "a")], ["Ada does not work at sweep's time"]),
    ("too much overtime", [at("sweep", 1071, "a")], ["Ada does not work at sweep's time"]),
    ("two places", [at("cut", 489)], ["b is at sweep and cut at once"]),
    ("two places, the later one first", [at("up", 484), task("down", after=())], ["a is at down and up at once"]),
    ("crowd", [day(most_on_a_car=1)], ["2 people on Car Y at once"]),
    ("wet door", [day(door_wet=11)], ["through opens a door that wet left wet"]),
    ("no bay", [no_bay("z"), ready("z", 505)], ["Car Z has no bay"]),
    (
        "no bay, and another's", [no_bay("z"), ready("z", 505), car("y", bay="1")],
        ["Car Z has no bay", "Car Y stands in 1, not in 2"],
    ),
    ("unknown bay", [bay("z", bay="9")], ["Car Z has no bay"]),
    ("wrong bay", [car("y", bay="1")], ["Car Y stands in 1, not in 2"]),
    ("before it is in", [car("y", arrives=0), at("wet", 523)], ["wet is done while its car is not in the bay"]),
    ("after it left", [bay("y", end=581), ready("y", 581)], ["film is done while its car is not in the bay"]),
    ("left while it dries", [task("film", wait=16)], ["film is done while its car is not in the bay"]),
    ("two in a bay", [bay("x", bay="4"), bay("y", bay="4", start=520)], ["x and y stand in 4 at once"]),
    (
        "two in a bay, the later one first", [bay("x", bay="4"), bay("y", bay="4", start=520), turned_over],
        ["y and x stand in 4 at once"],
    ),
    ("door", [bay("y", start=520)], ["x and y move through roll at once"]),
    ("door, out and in", [bay("x", end=523)], ["x and y move through roll at once"]),
    ("door, the later one first", [bay("x", end=523), turned_over], ["y and x move through roll at once"]),
    ("hatch", [bay("x", end=530), bay("y", start=517)], ["y moves through roll while the hatch of x is up"]),
    (
        "hatch, with another bay under the door",
        [bay("x", end=530), bay("y", start=517), day(bays=(BAYS[0], BayPlace("2", "roll", under_door=True), *BAYS[2:]))],
        ["y moves through roll while the hatch of x is up"],
    ),
    (
        "hatch when it leaves", [at("down", 576), bay("x", end=585), bay("y", start=524 - 44), car("x", entered=480)],
        ["y moves through roll while the hatch of x is up"],
    ),
    (
        "hatch never lowered", [task("down", lowers_hatch=False), car("x", entered=480)],
        ["y moves through roll while the hatch of x is up"] * 2,
    ),
    (
        "hatch lowered twice", [task("bag", lowers_hatch=True)],
        ["y moves through roll while the hatch of x is up"] * 2,
    ),
    ("shade before", [at("bag", 599), ready("x", 624)], ["bag is not in the sun"]),
    ("shade after", [at("bag", 601), ready("x", 626)], ["bag is not in the sun"]),
    ("yard", [more(BAG, "a", 620), ready("y", 625)], ["more cars in the sunny yard than it holds"]),
    ("lock", [task("cut", lock=Lock("a"))], ["cut was given to a"]),
    ("lock, later", [task("cut", lock=Lock("b", 489))], ["cut was set to another time"]),
    ("lock, earlier", [task("cut", lock=Lock("b", 491))], ["cut was set to another time"]),
    ("lock, too early", [task("cut", lock=Lock("", 491))], ["cut was set to another time"]),
    ("dries", [task("cut", not_before=491)], ["cut begins while what was done before it dries"]),
    ("ready", [ready("y", 583)], ["Car Y is said to be ready at another time than it is"]),
    ("ready early", [ready("x", 605)], ["Car X is said to be ready at another time than it is"]),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "said"), [one[1:] for one in FAULTS], ids=[one[0] for one in FAULTS])
def test_every_fault_is_found_and_nothing_else(changes: list[Change], said: list[str]) -> None:
    assert found(*changes) == said


# What is just allowed: each moves a limit by the minute that the fault beside it goes over.
ALLOWED: list[tuple[str, list[Change]]] = [
    ("as it is", []),
    ("all lists turned over", [turned_over]),
    ("on the bench before its car is here", [at("card", 650), ready("w", 655)]),
    ("of no car", [car("x", arrives=480), at("sweep", 480)]),
    ("just after what it waits for", [task("wet", wait=10)]),
    ("in overtime to its last minute", [at("sweep", 1070, "a")]),
    ("two people, as many as may be", [day(most_on_a_car=2)]),
    ("through the door before it is wet", [at("through", 524, "b"), task("through", after=()), at("wet", 524)]),
    ("doors that nobody minds", [day(door_wet=0), at("through", 526), task("through", after=()), at("seat", 570)]),
    ("doors that are dry at once", [day(door_wet=0), at("through", 534), at("seat", 534)]),
    ("in its own bay", [car("y", bay="2")]),
    ("in the bay since", [car("y", entered=521, arrives=0), at("wet", 521)]),
    ("one after the other in a bay", [bay("x", bay="4"), bay("y", bay="4")]),
    ("the same, the later one first", [bay("x", bay="4"), bay("y", bay="4"), turned_over]),
    ("in as soon as the hatch is down", [bay("x", end=530), bay("y", start=518)]),
    ("in until the hatch goes up", [car("x", entered=480), bay("y", start=480)]),
    ("under another door", [bay("y", start=517), day(bays=(BAYS[0], BayPlace("2", "side"), *BAYS[2:]))]),
    ("no door in the way", [bay("y", start=510), day(bays=(BayPlace("1", "roll"), *BAYS[1:]))]),
    ("no time to drive", [day(move=0), bay("x", end=521), bay("y", start=515)]),
    ("in and out of one door", [also_in("none", InBay("2", 900, 904)), ready("none", 904)]),
    ("another in the yard as the first is done", [day(sun=(Stretch(600, 800),)), more(BAG, "a", 625), ready("y", 630)]),
    ("another in the yard later", [more(BAG, "a", 700), ready("y", 705)]),
    ("two in a yard for two", [more(BAG, "a", 605), ready("y", 610), day(yard_places=2)]),
    ("given to its person", [task("cut", lock=Lock("b"))]),
    ("set to its minute", [task("cut", lock=Lock("b", 490))]),
    ("not before an earlier minute", [task("cut", lock=Lock("", 489))]),
    ("not before its minute", [task("cut", lock=Lock("", 490))]),
    ("dry in time", [task("cut", not_before=490)]),
]  # fmt: skip


@pytest.mark.parametrize("changes", [one[1] for one in ALLOWED], ids=[one[0] for one in ALLOWED])
def test_what_is_just_allowed_is_no_fault(changes: list[Change]) -> None:
    assert found(*changes) == []

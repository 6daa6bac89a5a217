"""Why a car is late, on days small enough to be planned by hand."""

from __future__ import annotations

from dataclasses import replace

import pytest

from elumbra.core.schedule import (
    BayPlace,
    Hangs,
    InBay,
    Placed,
    Plan,
    PlanCar,
    PlanTask,
    Problem,
    Skill,
    Stretch,
    Worker,
    faults,
    late_words,
    why_late,
)
from elumbra.core.schedule.search import first_plan
from tests.catalogue.days import ALL, small_day, with_due

NILS = Worker("n", "Nils", (Stretch(480, 720), Stretch(750, 1020)), ALL)
MARA = Worker("m", "Mara", (Stretch(480, 1020),), ALL)


def task(name: str, car: str, minutes: int, **over: object) -> PlanTask:
    given: dict[str, object] = {"label": f"window {name}", "words": "lay film", "skill": Skill.FILM} | over
    return PlanTask(name, car, minutes=minutes, **given)  # type: ignore[arg-type]


def day(
    tasks: tuple[PlanTask, ...], *, workers: tuple[Worker, ...] = (NILS, MARA), bays: int = 2, due: int = 540
) -> Problem:
    cars = (PlanCar("a", "Tansy", 480), PlanCar("b", "Fenwick", 480, due=due))
    return Problem(cars, tasks, workers, tuple(BayPlace(f"Bay {i + 1}") for i in range(bays)))


def told(problem: Problem, plan: Plan) -> tuple[Hangs, int, str]:
    assert not faults(problem, plan)
    cause = why_late(problem, plan, problem.car["b"])
    assert cause is not None
    return cause.hangs, cause.minutes, late_words(cause, clock=lambda m: f"{m // 60}:{m % 60:02}", span=str)


def test_the_bay_that_another_car_has() -> None:
    problem = day((task("1", "a", 60), task("2", "b", 30)), bays=1)
    plan = Plan(
        (Placed("1", "n", 480, 540), Placed("2", "m", 540, 570)),
        {"a": InBay("Bay 1", 480, 540), "b": InBay("Bay 1", 540, 570)},
        {"a": 540, "b": 570},
    )
    assert told(problem, plan) == (Hangs.BAY, 60, "It waits 60 for Bay 1, where Tansy stands until 9:00.")


def test_the_person_who_is_at_another_car() -> None:
    problem = day((task("1", "a", 70), task("2", "b", 30)), workers=(NILS,))
    plan = Plan(
        (Placed("1", "n", 480, 550), Placed("2", "n", 550, 580)),
        {"a": InBay("Bay 1", 480, 550), "b": InBay("Bay 2", 480, 580)},
        {"a": 550, "b": 580},
    )
    assert told(problem, plan) == (Hangs.PERSON, 70, "It waits 70 for Nils, who is at Tansy until 9:10.")


def test_what_has_to_dry_between() -> None:
    problem = day((task("2", "b", 20, wait=50), task("3", "b", 20, after=("2",))))
    plan = Plan(
        (Placed("2", "m", 480, 500), Placed("3", "m", 550, 570)), {"b": InBay("Bay 1", 480, 570)}, {"a": 480, "b": 570}
    )
    assert told(problem, plan) == (Hangs.DRYING, 50, "window 2 dries or soaks for 50, until 9:10.")


def test_the_break_in_which_nobody_is_at_work() -> None:
    problem = day((task("2", "b", 100), task("3", "b", 30, after=("2",))), workers=(NILS,), due=740)
    late = replace(problem, cars=(problem.cars[0], replace(problem.cars[1], arrives=610)))
    plan = Plan(
        (Placed("2", "n", 610, 710), Placed("3", "n", 750, 780)), {"b": InBay("Bay 1", 610, 780)}, {"a": 480, "b": 780}
    )
    assert told(late, plan) == (Hangs.BREAK, 40, "It waits 40, until 12:30, for somebody at work who may lay film.")


def test_its_own_work_where_nothing_holds_it_up() -> None:
    problem = day((task("2", "b", 100),))
    plan = Plan((Placed("2", "m", 480, 580),), {"b": InBay("Bay 1", 480, 580)}, {"a": 480, "b": 580})
    assert told(problem, plan) == (Hangs.WORK, 100, "Its own work takes 100, and nothing holds it up.")


def test_a_car_in_time_or_without_a_promise_has_no_cause() -> None:
    plan = Plan((Placed("2", "m", 480, 580),), {"b": InBay("Bay 1", 480, 580)}, {"a": 480, "b": 580})
    for due in (580, None):
        problem = day((task("2", "b", 100),))
        problem = replace(problem, cars=(problem.cars[0], replace(problem.cars[1], due=due)))
        assert why_late(problem, plan, problem.car["b"]) is None


@pytest.mark.parametrize("seed", range(12))
def test_every_late_car_of_a_drawn_day_has_a_cause_that_is_in_its_plan(seed: int) -> None:
    """The cause ends by the time the car is ready, and names a bay, a person and a car that there are."""
    drawn = small_day(seed)
    problem = with_due(drawn, {one.id: one.arrives + 30 for one in drawn.cars})
    plan = first_plan(problem).plan
    for car in problem.cars:
        cause = why_late(problem, plan, car)
        assert (cause is not None) == (
            car.due is not None and plan.ready[car.id] > car.due and bool(problem.of_car[car.id])
        )
        if cause is None:
            continue
        assert cause.minutes > 0
        assert cause.until <= plan.ready[car.id]
        names = {one.name for one in (*problem.bays, *problem.workers)} | {one.label for one in problem.tasks}
        assert cause.name in names | {one.words for one in problem.tasks} | {""}
        assert late_words(cause, clock=str, span=str).endswith(".")

"""What the search over plans may choose, and what it begins with."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from elumbra.core.schedule.problem import Placed, PlanTask, Problem


@dataclass(frozen=True)
class Choice:
    """What the search changes: how much each car presses, when it is driven in, how much the work left counts."""

    presses: Mapping[str, float]  # the smaller, the sooner
    enters: Mapping[str, float]
    tail: float = 1.0


def first_choice(problem: Problem) -> Choice:
    """By promise; who waits here goes an hour before; who was promised nothing goes by arrival, after the others."""
    presses = {}
    for car in problem.cars:
        work = sum(one.minutes for one in problem.of_car[car.id])
        due = car.due - car.cushion if car.due is not None else problem.end + car.arrives
        presses[car.id] = (
            float(due - (60 if car.waiting else 0) - (10_000 if car.entered is not None else 0)) - work / 4
        )
    return Choice(presses, dict(presses))


def hatch_up(tasks: Sequence[PlanTask], placed: Mapping[str, Placed]) -> tuple[int, int] | None:
    """From when to when a car's hatch stands up; None where it is not raised."""
    ups = [placed[one.id].start for one in tasks if one.raises_hatch and one.id in placed]
    downs = [placed[one.id].end for one in tasks if one.lowers_hatch and one.id in placed]
    if not ups:
        return None
    ends = downs or [placed[one.id].end for one in tasks if one.id in placed]
    return min(ups), max(ends)

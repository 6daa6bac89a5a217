"""The sheet as it is printed."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import groupby

from elumbra.api.day.schemas import CarOn, DaySheetOut, TaskOn
from elumbra.documents.day_sheet import Bar, DayPaper, Lane, Stretch

_NAMED = 2  # windows told by name in one stretch; of more, the job card tells
_PLACES = {"bench": "bench", "yard": "yard, in the sun"}


def day_paper(sheet: DaySheetOut) -> DayPaper:
    """A sheet as a paper: lines of bays and people, cars, and each person's list."""
    cars = {one.job_id: one for one in sheet.cars}
    group = {one.job_id: i for i, one in enumerate(sheet.cars)}
    bays = [
        Lane(
            bay.name,
            bay.door,
            tuple(
                Bar(car.in_bay.start, car.in_bay.end, f"{car.number} {car.title}", group[car.job_id])
                for car in sheet.cars
                if car.in_bay is not None and car.bay == bay.name
            ),
        )
        for bay in sheet.bays
    ]
    people = [
        Lane(
            hand.name,
            hand.away,
            tuple(
                Bar(one.start, one.end, _short(one, cars), group.get(one.job_id, 0), one.wait_until)
                for one in sheet.tasks
                if one.worker == hand.id and one.start < sheet.ends
            ),
        )
        for hand in sheet.people
    ]
    lists = [
        (hand.name, _stretches([one for one in sheet.tasks if one.worker == hand.id], cars)) for hand in sheet.people
    ]
    return DayPaper(
        title=f"{sheet.title}, times of {sheet.zone}",
        headline=sheet.headline,
        begins=sheet.begins,
        ends=sheet.ends,
        marks=[(one.minute, one.words) for one in sheet.marks],
        lanes=[*bays, *people],
        cars=[_car(one) for one in sheet.cars],
        lists=[(name, rows) for name, rows in lists if rows],
        told=[
            *(f"{one.why} {one.least}" for one in (*sheet.cannot, *sheet.left_out)),
            *sheet.told,
            *(f"{one.words} It waits for an answer." for one in sheet.waits),
        ],
    )


def _short(task: TaskOn, cars: dict[str, CarOn]) -> str:
    car = cars.get(task.job_id)
    return f"{car.number if car else ''} {task.label}".strip()


def _stretches(tasks: Sequence[TaskOn], cars: dict[str, CarOn]) -> list[Stretch]:
    """A person's tasks in order, those at one car in one place together: from when to when, and what all."""
    found = []
    in_order = sorted(tasks, key=lambda one: (one.start, one.end))
    for (job_id, place), together in groupby(in_order, key=lambda one: (one.job_id, one.place)):
        some, car = list(together), cars.get(job_id)
        where = _PLACES.get(place) or (car.bay if car else "")
        labels = list(dict.fromkeys(one.label for one in some))
        what = ", ".join(dict.fromkeys(one.words for one in some))
        if len(labels) <= _NAMED:
            what += f": {', '.join(labels)}"
        number = str(car.number) if car else "several cars"
        found.append(Stretch(some[0].start_words, some[-1].end_words, f"{number}, {where}".strip(", "), what))
    return found


def _car(car: CarOn) -> list[str]:
    return [
        f"{car.number} {car.title}", car.arrives_words or "here", car.bay, car.ready_words or car.told,
        car.due_words or "none", "" if car.chance is None else f"{car.chance:.0%}", car.pick_up_words,
        " ".join(one for one in (car.why_late, car.note) if one),
    ]  # fmt: skip

"""Cars that are cut together: which share a film, their plan, and its booking."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from hashlib import sha256

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import zoned
from elumbra.api.base.refusals import ApiError
from elumbra.api.car_view.briefs import pieces_wanted
from elumbra.api.cut.knife import book_plan, refuse_second
from elumbra.api.cut.labels import kept_labels, with_labels
from elumbra.api.cut.operations import reserved_of, task_out
from elumbra.api.cut.schemas import DayCarOut, DayCutBody, DayFilmOut, DayOut, TaskOut
from elumbra.car import Shop, job_file, load_parts_of, load_shop, plan_input, stock_part
from elumbra.core.errors import CoreError
from elumbra.documents.plan import PlanDocument
from elumbra.storage import clock, tasks
from elumbra.storage.records import JobRecord, PersonRecord
from elumbra.storage.store import jobs
from elumbra.tasks.day import DayCar, DayInput

KIND = "day"
_MOST_CARS = 12
_LATE = datetime.max.replace(tzinfo=UTC)


def day_cars(session: Session) -> DayOut:
    """Open jobs that still need film, first promised first, and what each needs of which film."""
    shop = load_shop(session)
    wanted = sorted(((job, pieces) for job, pieces in pieces_wanted(session) if pieces), key=lambda one: _turn(one[0]))
    cars = []
    for job, pieces in wanted:
        films: dict[str, int] = {}
        for piece in pieces:
            films[piece.film_id] = films.get(piece.film_id, 0) + 1
        cars.append(
            DayCarOut(
                job_id=job.id, number=job.number, title=job.title, vehicle_label=job.vehicle_label,
                promised_at=zoned(job.promised_at),
                films=[
                    DayFilmOut(film_id=film_id, name=shop.films[film_id].name, pieces=count)
                    for film_id, count in films.items()
                ],
            )
        )  # fmt: skip
    return DayOut(cars=cars)


def _turn(job: JobRecord) -> tuple[datetime, int]:
    promised = job.promised_at.replace(tzinfo=UTC) if job.promised_at else _LATE
    return promised, job.number


@dataclass(frozen=True)
class _Day:
    """Jobs that are cut together, and what their plan is made from."""

    jobs: list[JobRecord]
    content: str
    input_hash: str


def _day(session: Session, job_ids: Sequence[str]) -> _Day:
    """Jobs as they stand now.

    Raises
    ------
    CoreError
        None or too many, or one of them is stuck.
    """
    if not 1 <= len(set(job_ids)) <= _MOST_CARS:
        raise CoreError(f"Choose 1 to {_MOST_CARS} cars.")
    chosen = sorted((jobs(session).get_present(job_id) for job_id in set(job_ids)), key=_turn)
    parts, shop = load_parts_of(session, chosen), load_shop(session)
    cars = []
    for job in chosen:
        document = plan_input(job_file(parts[job.id], shop)).model_copy(update={"stock": []})
        cars.append(DayCar(job_id=job.id, number=job.number, job=document))
    films = {window.film for car in cars for window in car.job.job.windows if window.film}
    held = _held_by_others(shop, [job.id for job in chosen])
    stock = [stock_part(one, held.get(one.id, 0)) for one in shop.stock if one.film_id in films]
    content = DayInput(cars=cars, stock=stock).model_dump_json()
    return _Day(chosen, content, sha256(content.encode()).hexdigest())


def _held_by_others(shop: Shop, job_ids: Sequence[str]) -> dict[str, int]:
    """By stock, the counts that are held for jobs that are not among these."""
    found: dict[str, int] = {}
    for hold in shop.holds:
        if hold.job_id not in job_ids:
            found[hold.stock_id] = found.get(hold.stock_id, 0) + hold.count
    return found


def plan_day(session: Session, job_ids: Sequence[str]) -> str:
    """Ask for the plan of several cars as they stand now; the task's id."""
    day = _day(session, job_ids)
    return tasks.enqueue(session, kind=KIND, job_id=None, input_hash=day.input_hash, content=day.content).id


def day_task(session: Session, job_ids: Sequence[str], task_id: str) -> TaskOut:
    """How far the plan of these cars is."""
    shown = task_out(tasks.get(session, task_id))
    if shown.plan is None:
        return shown
    return shown.model_copy(update={"plan": _told(session, shown.plan, _day(session, job_ids).jobs)})


def day_plan(session: Session, job_ids: Sequence[str]) -> tuple[PlanDocument, _Day]:
    """The finished plan of cars as they stand now.

    Raises
    ------
    ApiError
        Nothing has been worked out for these cars as they stand.
    """
    day = _day(session, job_ids)
    found = tasks.finished_for(session, KIND, None, day.input_hash)
    if found is None or found.result is None:
        raise ApiError("no_plan", "The cars’ plan is not ready for what their jobs say now. Wait for it, or ask again.")
    return _told(session, PlanDocument.model_validate_json(found.result).as_ended(), day.jobs), day


def _told(session: Session, plan: PlanDocument, shared: Sequence[JobRecord]) -> PlanDocument:
    """The plan under its cars' names of now, with labels for what is kept."""
    names = {job.id: job for job in shared}
    cars = [
        car.model_copy(update={"vehicle": names[car.job_id].vehicle_label}) if car.job_id in names else car
        for car in plan.cars
    ]
    update = {
        "cars": cars,
        "printed_on": clock.today_iso(),
        "reserved": reserved_of(session, plan, [job.id for job in shared]),
        "vehicle": ", ".join(f"{job.number} {job.vehicle_label}" for job in shared),
    }
    return with_labels(plan.model_copy(update=update), kept_labels(session, shared[0]))


def day_is_cut(session: Session, body: DayCutBody, *, person: PersonRecord) -> str:
    """Book the plan of several cars as cut, each job its share; the first job's id.

    Raises
    ------
    ApiError
        It was cut before, or is not the plan of these cars as they stand.
    """
    plan, day = day_plan(session, body.job_ids)
    refuse_second(session, day.jobs, body.input_hash)
    if day.input_hash != body.input_hash:
        raise ApiError("no_plan", "One of the jobs has changed since this plan was made. Look at the new plan first.")
    book_plan(session, plan, day.jobs, body, person=person)
    return day.jobs[0].id

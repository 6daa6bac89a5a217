"""A day of the shop, put together once: cars, people, bays and hours as the planner takes them."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import UTC, date, datetime, timedelta
from hashlib import sha256
from math import log
from statistics import pstdev
from typing import Any

from sqlalchemy.orm import Session

from elumbra import __version__
from elumbra.car.assemble import assemble
from elumbra.car.bay import load_bay, settings_for
from elumbra.car.clock import DayClock, Hours, known_zone, machine_zone, stretches
from elumbra.car.records import job_file, load_parts_of
from elumbra.car.shop import Shop, load_shop
from elumbra.core.bay import Phase, RunStep, usual
from elumbra.core.deeds import HERE, State
from elumbra.core.errors import CoreError
from elumbra.core.schedule import (
    STAGE_OF,
    BayPlace,
    Lock,
    PlanCar,
    PlanTask,
    Problem,
    Skill,
    Worker,
    customary_tasks,
    tasks_of,
    together,
)
from elumbra.core.starting import StartingValues
from elumbra.core.words import counted
from elumbra.core.work import Car, Station, comes_off, is_off
from elumbra.storage.bookings import bookings, day_sheets
from elumbra.storage.data_files import law_file, starting_values
from elumbra.storage.door_records import BookingRecord
from elumbra.storage.job_lists import still_open
from elumbra.storage.kept_settings import kept
from elumbra.storage.records import JobRecord, PersonRecord
from elumbra.storage.store import people
from elumbra.storage.work_times import Recorded, recorded

DAY_SETTINGS = "day_settings"
_WORKDAY = [{"start": "08:00", "end": "12:00"}, {"start": "12:30", "end": "17:00"}]
DEFAULTS: Mapping[str, Any] = {
    "bays": [{"name": "Bay 1", "door": "", "under_door": False}, {"name": "Bay 2", "door": "", "under_door": False}],
    "hours": dict.fromkeys(("mon", "tue", "wed", "thu", "fri"), _WORKDAY),
    "closed_days": [],
    "yard_places": 1,
    "sun": [{"start": "10:00", "end": "16:00"}],
    "zone": "",
}
_AHEAD = 2  # working days after the first: what soaks overnight goes on there
_FARTHEST = 14
_STEP = 15  # a plan of today is made anew when a quarter of an hour has gone
_LONGEST_CUSHION = 75


def default_skills(role: str, said: Sequence[str] | None) -> list[Skill]:
    """What somebody may do: as was said, else by role; a learner neither shrinks strongly curved glass nor strips."""
    if said is not None:
        return sorted(Skill(one) for one in said if one in list(Skill))
    if role == "counter":
        return []
    learner = {Skill.SHRINK_CURVED, Skill.STRIP, Skill.LOOK} if role == "learner" else set()
    return sorted(set(Skill) - learner)


@dataclass(frozen=True)
class ShopDay:
    """How the shop runs its days."""

    bays: tuple[BayPlace, ...]
    hours: Hours
    closed: frozenset[str]
    yard_places: int
    sun: Sequence[Mapping[str, str]]
    zone: str
    version: int


def shop_day(session: Session) -> ShopDay:
    """How the shop runs its days, as was said or as we begin."""
    said, version = kept(session, DAY_SETTINGS, {})
    value = {**DEFAULTS, **said}
    zone = value["zone"] if value["zone"] and known_zone(value["zone"]) else machine_zone()
    bays = tuple(BayPlace(one["name"], one.get("door", ""), bool(one.get("under_door"))) for one in value["bays"])
    return ShopDay(
        bays, value["hours"], frozenset(value["closed_days"]), int(value["yard_places"]), value["sun"], zone, version
    )  # fmt: skip


@dataclass(frozen=True)
class OnSheet:
    """A car on the sheet."""

    job: JobRecord
    booking: BookingRecord | None
    tasks: tuple[PlanTask, ...]
    told: str = ""  # why there is nothing to plan, or that it is an estimate
    stuck: bool = False
    waits: WaitsFor | None = None  # it is planned, and cannot be cut before somebody answers


@dataclass(frozen=True)
class WaitsFor:
    """What holds a car's film from the knife: law, light, readings or heat. Answered at its station."""

    words: str
    station: Station
    window_id: str


def _waits_for(car: Car) -> WaitsFor | None:
    """The first window that is held, in the order of the stations, and how many more are; old film is work, planned."""
    order = list(Station)
    asked = [one for one in car.held.items() if not comes_off(car.window(one[0])) or is_off(car.window(one[0]))]
    held = sorted(asked, key=lambda one: order.index(one[1].station))
    if not held:
        return None
    window_id, hold = held[0]
    more = f" And {counted(len(held) - 1, 'more window')}." if len(held) > 1 else ""
    return WaitsFor(f"{car.window(window_id).label}: {hold.reason}{more}", hold.station, window_id)


@dataclass(frozen=True)
class DayProblem:
    """A day with all that its plan is made from."""

    clock: DayClock
    problem: Problem
    cars: tuple[OnSheet, ...]
    people: tuple[PersonRecord, ...]
    decided: Mapping[str, Any]
    decided_version: int
    starting: StartingValues
    films: Mapping[str, str]
    hand_locked: frozenset[str] = frozenset()
    lost_locks: tuple[str, ...] = ()

    @property
    def basis(self) -> str:
        """What a plan was made from; another basis asks for another plan."""
        return sha256(f"{__version__}{self.problem!r}".encode()).hexdigest()[:32]


def load_day(
    session: Session,
    day: date,
    *,
    at: datetime | None = None,
    without: str | None = None,
    extra: JobRecord | None = None,
) -> DayProblem:
    """A day as it stands.

    Parameters
    ----------
    session
        To read by.
    day
        In the shop's zone.
    at
        Now; None: by the machine.
    without
        A job that is left out.
    extra
        A job that is put on the day though it is not booked for it.

    Raises
    ------
    CoreError
        A film or law that the whole shop stumbles over; one stuck car is only told.
    """
    made = _Making(session, day, at or datetime.now(UTC))
    return made.whole(without=without, extra=extra)


@dataclass
class _Making:
    session: Session
    day: date
    at: datetime
    shop: Shop = field(init=False)
    times: Recorded = field(init=False)

    def __post_init__(self) -> None:
        self.settings = shop_day(self.session)
        self.clock = DayClock(self.day, self.settings.zone)
        self.shop, self.times = load_shop(self.session), recorded(self.session)
        sheet = day_sheets(self.session).find(self.day.isoformat())
        self.decided: Mapping[str, Any] = sheet.facts if sheet else {}
        self.version = sheet.version if sheet else 0

    @property
    def today(self) -> date:
        return self.clock.local_day(self.at)

    @property
    def now(self) -> int:
        """The minute from which on something can be planned."""
        if self.day != self.today:
            return 0
        return self.clock.minute(self.at) // _STEP * _STEP

    def whole(self, *, without: str | None, extra: JobRecord | None) -> DayProblem:
        days = self._days()
        workers, everybody, away = self._people(days)
        cars = self._standing(self._cars(without, extra))
        tasks = tuple(task for one in cars for task in one.tasks)
        for film in self.decided.get("together", ()):
            tasks = together(tasks, film, starting=self.shop.starting)
        tasks, locked, lost = self._locked(tasks)
        start = self.shop.starting
        end = max((one.end for worker in workers for one in worker.hours), default=1440) + int(
            start["plan_overtime_min"]
        )
        problem = Problem(
            cars=tuple(self._plan_car(one) for one in cars if one.tasks),
            tasks=tasks,
            workers=tuple(workers),
            bays=self.settings.bays,
            now=self.now,
            end=end,
            sun=() if self.decided.get("no_sun") else self._sun(days),
            yard_places=self.settings.yard_places,
            door_wet=self._dries(start["door_wet_min"]),
            move=int(start["move_car_min"]),
            waiting_weight=int(start["plan_waiting_weight"]),
            away=away,
        )
        names = {record_id: film.name for record_id, film in self.shop.films.items()}
        return DayProblem(
            self.clock, problem, tuple(cars), tuple(everybody), self.decided, self.version, start, names, locked, lost
        )

    def _standing(self, cars: list[OnSheet]) -> list[OnSheet]:
        """A day that is over is not planned; of two cars said to stand in one bay the second is told, and moves."""
        if self.day < self.today:
            return [replace(one, tasks=(), told="The day is over.") for one in cars]
        there: dict[str, int] = {}
        found = []
        for one in cars:
            job = one.job
            if job.status == State.IN_BAY and job.bay and one.tasks:
                first = there.setdefault(job.bay, job.number)
                if first != job.number:
                    told = f"{first} is said to stand in {job.bay} as well: this one is planned for any bay."
                    one = replace(one, told=f"{told} {one.told}".strip(), job=replace(job, bay=""))
            found.append(one)
        return found

    def _dries(self, minutes: float) -> int:
        return round(minutes * (self.shop.starting["damp_day_share"] if self.decided.get("damp") else 1.0))

    def _days(self) -> list[date]:
        """The day itself and the next ones on which the shop is open."""
        found = [self.day]
        for ahead in range(1, _FARTHEST):
            one = self.day + timedelta(days=ahead)
            if len(found) <= _AHEAD and stretches(self.clock, [one], self.settings.hours, off=self.settings.closed):
                found.append(one)
        return found

    def _sun(self, days: Sequence[date]) -> tuple[Any, ...]:
        return stretches(
            self.clock, days, dict.fromkeys(self.settings.hours, self.settings.sun), off=self.settings.closed
        )

    def _people(self, days: Sequence[date]) -> tuple[list[Worker], list[PersonRecord], dict[str, str]]:
        away: dict[str, str] = dict(self.decided.get("away", {}))
        workers, shown = [], []
        overtime = int(self.decided.get("overtime", self.shop.starting["plan_overtime_min"]))
        for person in people(self.session).all(order="name"):
            skills = default_skills(person.role, person.facts.get("skills"))
            if not skills:
                continue
            shown.append(person)
            off = frozenset(person.facts.get("days_off", ())) | self.settings.closed
            if person.id in away:
                off |= {self.day.isoformat()}
            elif self.day.isoformat() in off:
                away[person.id] = "has the day off" if self.day.isoformat() not in self.settings.closed else "is closed"
            hours = stretches(self.clock, days, person.facts.get("hours") or self.settings.hours, off=off)
            if hours:
                workers.append(Worker(person.id, person.name, hours, frozenset(skills), overtime))
        return workers, shown, away

    def _cars(self, without: str | None, extra: JobRecord | None) -> list[OnSheet]:
        chosen = [(job, booked) for job, booked in self._booked() if job.id != without]
        if extra is not None and all(job.id != extra.id for job, _ in chosen):
            chosen.append((extra, bookings(self.session).find(extra.id)))
        parts = load_parts_of(self.session, [job for job, _ in chosen])
        found = []
        for job, booked in sorted(chosen, key=lambda one: one[0].number):
            try:
                document = job_file(parts[job.id], self.shop)
                car = assemble(document, law_file(), starting_values(), today=self.shop.today)
                found.append(replace(self._on_sheet(job, booked, car, parts[job.id]), waits=_waits_for(car)))
            except CoreError as error:
                found.append(OnSheet(job, booked, (), f"Stuck: {error.message}", stuck=True))
        return found

    def _booked(self) -> list[tuple[JobRecord, BookingRecord | None]]:
        """Open jobs of the day: booked for it, or promised for it; on the very day what stands here as well."""
        day, is_today = self.day.isoformat(), self.day == self.today
        open_jobs = still_open(self.session)
        known = {one.id: one for one in bookings(self.session).all(id=[job.id for job in open_jobs])}
        found = []
        for job in open_jobs:
            booked = known.get(job.id)
            here = is_today and (job.status in HERE or (booked is not None and booked.day < day))
            promised = None if job.promised_at is None else self.clock.local_day(job.promised_at)
            if here or (booked is not None and booked.day == day) or (booked is None and promised == self.day):
                found.append((job, booked))
        return found

    def _on_sheet(self, job: JobRecord, booked: BookingRecord | None, car: Car, parts: Any) -> OnSheet:
        start = self.shop.starting
        bay = load_bay(self.session, car, parts, settings_for(self.session, None))
        enough = int(start["own_times_from"])
        kinds: dict[str | None, str] = {window.id: window.kind.value for window in car.job.windows}

        def minutes(window_id: str | None, step: RunStep) -> float:
            times = self.times.get((kinds.get(window_id, ""), f"step:{step.step.id}"), [])
            return usual(step.minutes, times, person_id=None, enough=enough).minutes

        tasks = tasks_of(
            car, bay.runs, id=job.id, minutes=minutes, starting=start, spreads=self._spreads(enough),
            ready_at=lambda moment: self.clock.minute(datetime.fromtimestamp(moment, UTC)),
            damp=bool(self.decided.get("damp")),
        )  # fmt: skip
        if bay.runs.windows or any(name.startswith("strip:") for name in bay.runs.progress):
            return OnSheet(job, booked, tasks, "" if tasks else "All its work is done.")
        guessed = customary_tasks(
            [(one.id, one.label, one.kind) for one in car.job.windows if one.kind.value != "windshield"],
            id=job.id, starting=start,
        )  # fmt: skip
        told = "No film chosen yet: planned by customary times for all its windows but the windshield."
        return OnSheet(job, booked, guessed, told if guessed else "No windows yet.")

    def _spreads(self, enough: int) -> dict[tuple[str, str], float]:
        """By kind of window and stage, how the shop's own times spread."""
        logs: dict[tuple[str, str], list[float]] = {}
        for (kind, what), times in self.times.items():
            name = what.partition(":")[2]
            if not what.startswith("phase:") or name not in list(Phase):
                continue
            known = [log(minutes) for _, minutes in times if minutes > 0.2]
            if len(known) >= enough:
                logs.setdefault((kind, STAGE_OF[Phase(name)].name), []).append(pstdev(known))
        return {key: min(1.0, max(0.08, sum(found) / len(found))) for key, found in logs.items()}

    def _plan_car(self, one: OnSheet) -> PlanCar:
        job, booked = one.job, one.booking
        in_shop = job.status in HERE
        arrives = self.now
        if booked is not None and not in_shop:
            arrives = max(self.now, self.clock.minute(booked.drop_off_at))
        due = None if job.promised_at is None else self.clock.minute(job.promised_at)
        put = str(self.decided.get("bays", {}).get(job.id, ""))
        names = {bay.name for bay in self.settings.bays}
        stands = job.bay if in_shop and job.bay in names and job.status == State.IN_BAY else ""
        return PlanCar(
            id=job.id,
            title=f"{job.number} {job.vehicle_label}",
            arrives=arrives,
            due=due,
            cushion=0 if due is None else self._cushion(arrives, due),
            waiting=bool(booked and booked.waits_here),
            bay=stands or put,
            entered=self.now if stands else None,
        )

    def _cushion(self, arrives: int, due: int) -> int:
        """What a plan leaves before a promise: a share of the time until then, and no more than makes sense."""
        opens = [one.start for one in stretches(self.clock, [self.day], self.settings.hours)] or [0]
        share = self.shop.starting["plan_cushion_share"] * (due - max(arrives, opens[0]))
        return max(0, min(_LONGEST_CUSHION, round(share)))

    def _locked(self, tasks: Sequence[PlanTask]) -> tuple[tuple[PlanTask, ...], frozenset[str], tuple[str, ...]]:
        """Tasks with what was decided by hand; what lies in the past or is done is let go, and told."""
        locks: Mapping[str, Mapping[str, Any]] = self.decided.get("locks", {})
        found, locked, lost = [], set(), []
        for task in tasks:
            said = locks.get(task.id)
            if not said:
                found.append(task)
                continue
            start = None
            if said.get("start"):
                start = self.clock.minute(datetime.fromisoformat(said["start"]))
                if start < self.now:
                    lost.append(f"{task.label}, {task.words}: set for {self.clock.words(start)}, which is over.")
                    start = None
            worker = str(said.get("worker", ""))
            if start is None and not worker:
                found.append(task)
                continue
            locked.add(task.id)
            found.append(replace(task, lock=Lock(worker, start)))
        return tuple(found), frozenset(locked), tuple(lost)

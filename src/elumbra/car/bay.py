"""A job's work in the bay: runs from the looked-over car, its events and the shop's schools; for screens and paper."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.car.records import JobParts
from elumbra.core.bay import (
    CarRuns,
    Day,
    DayError,
    Event,
    Hands,
    Happened,
    Removal,
    SunSide,
    car_runs,
    case_of,
    removals_of,
)
from elumbra.core.removal import Advice, OwnResult, Tool, Way, advise
from elumbra.core.work import Car, comes_off
from elumbra.storage import data_files
from elumbra.storage.kept_records import DeliveryRecord
from elumbra.storage.kept_settings import kept, kept_then
from elumbra.storage.ledger import events_of
from elumbra.storage.records import StepEventRecord
from elumbra.storage.store import people
from elumbra.storage.work_times import newest_of_kind

SHOP_SCHOOLS = "bay_schools"
SHRINK_SCHOOL = "shrink_school"
REMOVAL_TOOLS = "removal_tools"
FROZEN_OF_BAY = (SHOP_SCHOOLS, SHRINK_SCHOOL, REMOVAL_TOOLS)


def shrink_preferred(session: Session, delivered: DeliveryRecord | None = None) -> Mapping[str, str]:
    """How the shop shrinks, question by question, where it does not follow what is computed."""
    value = kept_then(session, delivered, SHRINK_SCHOOL, {})
    return {name: said for name, said in value.items() if said}


def own_schools_name(person_id: str) -> str:
    """Name of the setting with a person's own schools."""
    return f"bay_schools:{person_id}"


@dataclass(frozen=True)
class BaySettings:
    """How the shop and one person work."""

    schools: Mapping[str, str]
    learner: bool
    home: bool
    shrink: Mapping[str, str]
    tools: frozenset[Tool]

    def hands(self, *, metric: bool = False) -> Hands:
        """As the core asks."""
        return Hands(self.schools, self.shrink, self.learner, self.home, metric)


def settings_for(session: Session, person_id: str | None, delivered: DeliveryRecord | None = None) -> BaySettings:
    """The shop's schools with a person's own laid over them; None: of nobody in particular.

    ``delivered``: of a car that is gone, the schools that the shop had then.
    """
    shop = kept_then(session, delivered, SHOP_SCHOOLS, {})
    own, _ = ({}, 0) if person_id is None else kept(session, own_schools_name(person_id), {})
    tools = kept_then(session, delivered, REMOVAL_TOOLS, [one.value for one in Tool])
    said = {**shop.get("schools", {}), **own.get("schools", {})}
    return BaySettings(
        schools={name: one for name, one in said.items() if one},
        learner=bool(own.get("learner", False)),
        home=bool(shop.get("home", False)),
        shrink=shrink_preferred(session, delivered),
        tools=frozenset(Tool(one) for one in tools if one in list(Tool)),
    )


@dataclass(frozen=True)
class Bay:
    """A job's work as it stands."""

    runs: CarRuns
    events: Sequence[Event]
    day: Day
    removals: Mapping[str, Removal]
    acknowledged: Mapping[str, Event] = field(default_factory=dict)  # by window whose old film comes off


def seconds(moment: datetime) -> float:
    """A stored time as the core counts."""
    return moment.replace(tzinfo=UTC).timestamp()


def core_events(session: Session, job_id: str) -> list[Event]:
    """A job's events as the core adds them up; what this release does not know is left out."""
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    return [found for one in events_of(session, job_id) if (found := _event(one, names)) is not None]


def _event(record: StepEventRecord, names: Mapping[str, str]) -> Event | None:
    if record.kind not in list(Happened):
        return None
    try:
        value = json.loads(record.value) if record.value else {}
    except ValueError:
        value = {}
    return Event(
        record.id, Happened(record.kind), seconds(record.happened_at), record.person_id,
        names.get(record.person_id, record.person_id), record.window_id, value if isinstance(value, dict) else {},
    )  # fmt: skip


def load_bay(session: Session, car: Car, parts: JobParts, settings: BaySettings, *, metric: bool = False) -> Bay:
    """The work of a job whose car was looked over; of a car that is gone, what happened until then, by the schools of
    then.
    """
    events = core_events(session, parts.job.id)
    if parts.delivered is not None:
        settings = settings_for(session, None, parts.delivered)
        went = seconds(parts.delivered.at)  # kept to the second
        events = [one for one in events if math.floor(one.at) <= went]
    day = day_of(events)
    removals = removals_of(car.job.windows, cases_of(session, car, day, settings), events)
    acknowledged = {
        one.window_id: one for one in events if one.kind is Happened.ACKNOWLEDGED and one.window_id is not None
    }
    runs = car_runs(
        data_files.step_book(), car, events, day=day, hands=settings.hands(metric=metric), removals=removals
    )
    return Bay(runs, events, day, removals, acknowledged)


def day_of(events: Sequence[Event]) -> Day:
    """The conditions that were said last; none where nobody said."""
    said = [one for one in events if one.kind is Happened.CONDITIONS]
    if not said:
        return Day()
    value = max(said, key=lambda one: (one.at, one.id)).value
    try:
        return Day(
            glass_c=_number(value.get("glass_c")),
            shop_c=_number(value.get("shop_c")),
            humidity=_number(value.get("humidity")),
            outside_low_c=_number(value.get("outside_low_c")),
            sun=SunSide(value.get("sun", "none")),
            wind=bool(value.get("wind", False)),
        )
    except (DayError, ValueError):
        return Day()


def _number(value: Any) -> float | None:
    return float(value) if isinstance(value, int | float) else None


def cases_of(session: Session, car: Car, day: Day, settings: BaySettings) -> dict[str, Advice]:
    """By window with old film, the ways it may come off."""
    own = own_results(session)
    table = data_files.removal_table()
    return {
        window.id: advise(case_of(window, day, settings.tools), table, own=own, starting=car.starting)
        for window in car.job.windows
        if comes_off(window)
    }


def own_results(session: Session) -> list[OwnResult]:
    """How old film came off in this shop."""
    found = []
    for one in newest_of_kind(session, Happened.STRIP_RESULT):
        try:
            value = json.loads(one.value)
            minutes = value.get("minutes")
            found.append(
                OwnResult(
                    Way(value["way"]), value["layer"] == "both", value["glue"] == "yes",
                    float(minutes) if isinstance(minutes, int | float) else None,
                )
            )  # fmt: skip
        except (KeyError, TypeError, ValueError):
            continue
    return found


def not_put_back(session: Session, car: Car, parts: JobParts) -> list[str]:
    """What was taken apart on a car and is not put back, in words; empty where it may be closed."""
    if not events_of(session, parts.job.id):
        return []
    bay = load_bay(session, car, parts, settings_for(session, None))
    book, labels = data_files.step_book(), {window.id: window.label for window in car.job.windows}
    told = []
    for run, thing in bay.runs.apart:
        label = labels.get(run.removeprefix("strip:"), "")
        told.append(f"{book.things[thing]} ({label})" if label else book.things[thing])
    return told

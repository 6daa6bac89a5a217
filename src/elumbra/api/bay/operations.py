"""What happens in the bay, kept once; schools of shop and person. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections.abc import Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.bay.schemas import (
    EventIn,
    EventsBody,
    OwnSchoolsBody,
    RefusedOut,
    SchoolOptionOut,
    SchoolsOut,
    ShopSchoolsBody,
)
from elumbra.api.car_view.view import load_car
from elumbra.car import load_bay, settings_for, spoilt, spoilt_no_more, why_spoilt
from elumbra.car.bay import SHOP_SCHOOLS, own_schools_name
from elumbra.core.bay import END, LEAD_ONLY, START, Does, Happened, Progress, StepBook, times_of
from elumbra.core.errors import CoreError
from elumbra.storage import data_files
from elumbra.storage.deliveries import standing_deliveries
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.ledger import StepEvent, event_by_id, events_of, note_event
from elumbra.storage.records import PersonRecord, WorkTime
from elumbra.storage.store import jobs, people, windows
from elumbra.storage.work_times import replace_times

_FARTHEST = timedelta(days=400)  # a clock further off is taken for broken: then the time of arrival counts
_NEEDS: Mapping[Happened, tuple[str, ...]] = {
    Happened.TICK: ("steps",),
    Happened.UNDO: ("event",),
    Happened.WRONG: ("what",),
    Happened.FINE: ("event",),
    Happened.GO_ON: ("reason",),
    Happened.HATCH_EARLY: ("reason",),
    Happened.ORDER: ("windows",),
    Happened.TIME: ("event", "minutes"),
    Happened.BRANCH: ("layer",),
    Happened.NO_FILM: ("event",),
}
_ELSEWHERE = {
    Happened.ACKNOWLEDGED: "This is said at Strip-off.",
    Happened.STRIP_RESULT: "This is said at Strip-off.",
    Happened.LET_GO: "This is said at Handover.",
}


class Noted:
    """What became of the events that were sent."""

    def __init__(self) -> None:
        self.told: list[str] = []
        self.refused: list[RefusedOut] = []


def note(session: Session, job_id: str, body: EventsBody, *, person: PersonRecord) -> Noted:
    """Keep what happened; each event once, whatever else is sent with it.

    An event that cannot be is refused by itself, with the reason; the others are kept. Events of a job that was
    closed or changed meanwhile are kept as well: what was done was done.

    Raises
    ------
    NotFoundError
        There is no such job.
    """
    jobs(session).get(job_id)
    own = {window.id for window in windows(session).all(job_id=job_id, removed_too=True)}
    gone = bool(standing_deliveries(session, [job_id]))
    noted = Noted()
    arrived = datetime.now(UTC).replace(tzinfo=None)
    off = arrived - _plain(body.sent_at, otherwise=arrived)
    for event in sorted(body.events, key=lambda one: (_plain(one.happened_at, otherwise=arrived), one.id)):
        if event_by_id(session, event.id) is not None:
            continue
        if why := _refused(session, job_id, event, own, person):
            noted.refused.append(RefusedOut(id=event.id, why=why))
            continue
        at = _set_right(_plain(event.happened_at, otherwise=arrived), off, arrived)
        value = event.value | ({"said_at": event.happened_at.isoformat()} if abs(off) > timedelta(seconds=2) else {})
        note_event(
            session,
            StepEvent(
                id=event.id, job_id=job_id, step=(event.steps or [""])[0][:120], kind=event.kind.value, happened_at=at,
                window_id=event.window_id, value=json.dumps(value),
            ),
            person_id=person.id,
        )  # fmt: skip
        if event.kind is Happened.CONDITIONS and (other := _said_otherwise(session, job_id, event, at, person)):
            noted.told.append(other)
        if gone:
            continue  # what went stays as it was; that it was said is kept
        if event.kind is Happened.WRONG and event.spoilt and event.window_id:
            why = why_spoilt(event.value)
            if lost := spoilt(session, job_id, event.window_id, why=why, event_id=event.id, person_id=person.id):
                noted.told.append(lost)
        if event.kind is Happened.UNDO and event.event:
            spoilt_no_more(session, job_id, event.event, person_id=person.id)
    _keep_times(session, job_id)
    return noted


def _plain(moment: datetime, *, otherwise: datetime) -> datetime:
    """A time in UTC without its zone; ``otherwise`` where no calendar has it."""
    zoned = moment if moment.tzinfo else moment.replace(tzinfo=UTC)
    try:
        return zoned.astimezone(UTC).replace(tzinfo=None)
    except OverflowError:
        return otherwise


def _set_right(at: datetime, off: timedelta, arrived: datetime) -> datetime:
    """When it happened by the server's clock: never after it arrived, nor so long ago that the clock was broken."""
    if abs(arrived - at - off) > _FARTHEST:
        return arrived
    return min(at + off, arrived)


_READINGS = (("glass_c", "glass"), ("shop_c", "shop"), ("humidity", "humidity"), ("outside_low_c", "lowest outside"))


def _said_otherwise(session: Session, job_id: str, event: EventIn, at: datetime, person: PersonRecord) -> str:
    """What somebody else read on the same car while this reading waited to be sent: both values, and which counts."""
    names = {one.id: one.name for one in people(session).all(removed_too=True)}
    others = [
        one
        for one in events_of(session, job_id)
        if one.kind == Happened.CONDITIONS and one.person_id != person.id and one.happened_at >= at
    ]
    if not others:
        return ""
    last = max(others, key=lambda one: (one.happened_at, one.id))
    theirs = json.loads(last.value)
    apart = [
        f"{words}: you said {_shown(name, event.value.get(name))}, {names.get(last.person_id, 'somebody')} "
        f"{_shown(name, theirs.get(name))}"
        for name, words in _READINGS
        if event.value.get(name) != theirs.get(name)
    ]
    return f"{'; '.join(apart)}. The later reading counts." if apart else ""


def _shown(name: str, value: Any) -> str:
    if value is None:
        return "nothing"
    return f"{100 * value:.0f} %" if name == "humidity" else f"{value * 9 / 5 + 32:.0f} °F ({value:.0f} °C)"


def _refused(session: Session, job_id: str, event: EventIn, own: set[str], person: PersonRecord) -> str:
    """Why an event is not taken; empty where it is."""
    if event.kind in _ELSEWHERE:
        return _ELSEWHERE[event.kind]
    if event.window_id is not None and event.window_id not in own:
        return "That window is not of this car."
    for name in _NEEDS.get(event.kind, ()):
        if getattr(event, name) in (None, "", []):
            return f"Nothing is said of its {name}."
    if event.kind in LEAD_ONLY and not person.leads:
        return f"{person.name} works as {person.role}; this needs the lead."
    spoils = event.kind is Happened.NO_FILM or (event.kind is Happened.WRONG and event.spoilt)
    if spoils and person.role == "learner":
        return f"{person.name} is learning: somebody else books a piece off. Note what went wrong without “spoilt”."
    if event.kind is Happened.WRONG and event.what not in data_files.step_book().wrongs:
        return f"“{event.what}” is none of the things that can go wrong."
    if event.kind is Happened.TICK and event.run == END and _lowers_hatch(event):
        return _hatch_held(session, job_id)
    if event.kind is Happened.TICK and event.run == "strip" and event.window_id:
        return _not_acknowledged(session, job_id, event.window_id)
    return ""


def _lowers_hatch(event: EventIn) -> bool:
    steps = data_files.step_book().steps
    ticked = [steps[key] for key in event.steps or () if key in steps]
    return any(effect.does is Does.HATCH_DOWN for step in ticked for effect in step.effects)


def _hatch_held(session: Session, job_id: str) -> str:
    car, parts, _ = load_car(session, job_id)
    runs = load_bay(session, car, parts, settings_for(session, None)).runs
    if not runs.hatch_held:
        return ""
    labels = {window.id: window.label for window in car.job.windows}
    left = ", ".join(labels[one] for one in runs.open_windows)
    return f"The hatch stays open until the last window is closed. Still open: {left}. The lead may overrule it."


def _not_acknowledged(session: Session, job_id: str, window_id: str) -> str:
    car, parts, _ = load_car(session, job_id)
    bay = load_bay(session, car, parts, settings_for(session, None))
    removal = bay.removals.get(window_id)
    if removal is None or removal.acknowledged:
        return ""
    return "Risk and price are not acknowledged by the customer yet. Have it signed at Strip-off first."


def _keep_times(session: Session, job_id: str) -> None:
    """Work times follow from the events, anew each time: late ones and corrections change earlier ones."""
    try:
        car, parts, _ = load_car(session, job_id)
    except CoreError:
        return  # a stuck job keeps its events; its times follow when it is mended
    bay = load_bay(session, car, parts, settings_for(session, None))
    kinds = {window.id: window.kind.value for window in car.job.windows}
    found: dict[str, WorkTime] = {}
    for strip in (True, False):
        chosen: dict[str | None, Progress] = {
            name.removeprefix("strip:"): one
            for name, one in bay.runs.progress.items()
            if name.startswith("strip:") == strip
        }
        if not strip:
            chosen[None] = bay.runs.progress[START]
        events = [one for one in bay.events if (one.value.get("run") == "strip") == strip or one.kind in _PERSONAL]
        for took in times_of(chosen, events):
            at = datetime.fromtimestamp(took.at, UTC).replace(tzinfo=None)
            found[took.event_id] = WorkTime(
                took.event_id, job_id, kinds.get(took.window_id or "", ""), took.what, took.person_id, took.minutes, at
            )
    replace_times(session, job_id, found.values())


_PERSONAL = frozenset({Happened.BEGIN, Happened.PAUSE, Happened.RESUME, Happened.TIME, Happened.UNDO})


def schools(session: Session, person_id: str) -> SchoolsOut:
    """How shop and person work, beside ours."""
    shop, shop_version = kept(session, SHOP_SCHOOLS, {})
    own, own_version = kept(session, own_schools_name(person_id), {})
    book = data_files.step_book()
    return SchoolsOut(
        schools=[
            SchoolOptionOut(
                name=one.name, question=one.question, options=dict(one.options), ours=one.ours, section=one.section,
                shop=shop.get("schools", {}).get(one.name), own=own.get("schools", {}).get(one.name),
            )
            for one in book.schools.values()
        ],
        home=bool(shop.get("home", False)),
        learner=bool(own.get("learner", False)),
        shop_version=shop_version,
        own_version=own_version,
    )  # fmt: skip


def set_shop_schools(session: Session, body: ShopSchoolsBody, *, person_id: str) -> str:
    """Say how the shop works.

    Raises
    ------
    CoreError
        A school or an answer that there is not; ``fields`` names it.
    StaleWriteError
        Somebody said so meanwhile.
    """
    said = _checked(data_files.step_book(), body.schools)
    value = {"schools": said, "home": body.home}
    return keep(session, SHOP_SCHOOLS, value, version=body.version, person_id=person_id)


def set_own_schools(session: Session, body: OwnSchoolsBody, *, person_id: str) -> str:
    """Say how one works oneself. Raises as ``set_shop_schools`` does."""
    said = _checked(data_files.step_book(), body.schools)
    value = {"schools": said, "learner": body.learner}
    return keep(session, own_schools_name(person_id), value, version=body.version, person_id=person_id)


def _checked(book: StepBook, said: Mapping[str, str | None]) -> dict[str, str]:
    for name, answer in said.items():
        if name not in book.schools:
            raise CoreError(f"There is no school “{name}”.", fields={name: "Unknown."})
        if answer is not None and answer not in book.schools[name].options:
            known = ", ".join(book.schools[name].options)
            raise CoreError(f"{book.schools[name].question}: “{answer}” is none of {known}.", fields={name: known})
    return {name: answer for name, answer in said.items() if answer}

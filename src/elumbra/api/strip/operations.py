"""How old film comes off a car, what was signed, how it went. Plain arguments, no web framework."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.api.strip.schemas import (
    AcknowledgeBody,
    AcknowledgedOut,
    ChanceOut,
    RangeOut,
    ResultBody,
    ResultOut,
    StripCarOut,
    StripGlueOut,
    StripWayOut,
    StripWindowOut,
    ToolsBody,
)
from elumbra.car import Bay, cases_of, load_bay, settings_for, stored_facts
from elumbra.car.bay import REMOVAL_TOOLS, core_events, day_of
from elumbra.car.quote import kept_line
from elumbra.core.bay import Event, Happened, strip_key
from elumbra.core.errors import CoreError
from elumbra.core.law import VerdictWord
from elumbra.core.pricing import removal_line
from elumbra.core.removal import Advice, Ranked, Tool, Way
from elumbra.core.words import counted
from elumbra.core.work import Window, WindowFacts, bared, comes_off, is_off, stays_overnight, with_consequences
from elumbra.storage.declared import new_id, now
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.ledger import StepEvent, note_event
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import jobs, windows
from elumbra.storage.work_times import times_of_job


def strip_car(session: Session, job_id: str, *, person_id: str) -> StripCarOut:
    """All windows whose old film comes off, each with its ways.

    Raises
    ------
    CoreError
        The job's car cannot be put together.
    """
    car, parts, _ = load_car(session, job_id)
    settings = settings_for(session, person_id)
    bay = load_bay(session, car, parts, settings)
    advice = cases_of(session, car, bay.day, settings)
    _, tools_version = kept(session, REMOVAL_TOOLS, [])
    versions = {record.id: record.version for record in parts.windows}
    told = [_window(bay, window, advice[window.id], versions) for window in car.job.windows if comes_off(window)]
    open_ones = [one for one in told if not one.off]
    chosen = [next(way for way in one.ways if way.way is _way(one)) for one in open_ones]
    return StripCarOut(
        job_id=job_id,
        headline=_headline(told),
        windows=told,
        price=_sum([one.price for one in chosen]),
        work_minutes=_sum([RangeOut(low=one.minutes.low + one.glue_minutes.low,
                                    high=one.minutes.high + one.glue_minutes.high) for one in chosen]),
        never=list(next(iter(advice.values())).never) if advice else [],
        tools=sorted(settings.tools),
        tools_version=tools_version,
    )  # fmt: skip


def _headline(told: list[StripWindowOut]) -> str:
    if not told:
        return "No old film on this car"
    left = [one for one in told if not one.off]
    if not left:
        return "All old film is off"
    unsigned = sum(one.acknowledged is None for one in left)
    words = (
        f"Old film comes off {len(left)} of {len(told)} windows"
        if len(left) != len(told)
        else (f"Old film comes off {counted(len(told), 'window')}")
    )
    return f"{words}; {unsigned} not signed yet" if unsigned else words


def _way(one: StripWindowOut) -> Way:
    return one.chosen or one.ways[0].way


def _sum(ranges: list[RangeOut]) -> RangeOut:
    return RangeOut(low=round(sum(one.low for one in ranges), 1), high=round(sum(one.high for one in ranges), 1))


def _window(bay: Bay, window: Window, advice: Advice, versions: Mapping[str, int]) -> StripWindowOut:
    run = bay.runs.progress.get(strip_key(window.id))
    signed = bay.acknowledged.get(window.id)
    return StripWindowOut(
        window_id=window.id,
        version=versions[window.id],
        label=window.label,
        off=is_off(window),
        removal_only=window.film_id is None,
        chosen=window.strip_way,
        night=stays_overnight(window),
        ways=[_way_out(one) for one in advice.ranked],
        sentence=_sentence(window, advice),
        glue=StripGlueOut(
            words=advice.glue.words,
            minutes=RangeOut(low=advice.glue.minutes.low, high=advice.glue.minutes.high),
            refused=[f"{what}: {why}" for what, why in advice.glue.refused],
        ),
        changes=list(advice.changes),
        told=list(advice.told),
        acknowledged=_signed(signed) if signed else None,
        begun=run is not None and run.begun,
        done=run is not None and run.done,
    )


def _signed(event: Event) -> AcknowledgedOut:
    return AcknowledgedOut(
        by=str(event.value.get("name", "")), how=event.value.get("how", "paper"),
        at=datetime.fromtimestamp(event.at, UTC), person=event.person,
    )  # fmt: skip


def _sentence(window: Window, advice: Advice) -> str:
    """The answer for one window."""
    if is_off(window):
        return "It is off"
    way = next((one for one in advice.ranked if one.way is window.strip_way), advice.ranked[0])
    if way.refused:
        return f"No way as things stand: {way.refused}"
    words = f"{way.words[0].upper()}{way.words[1:]}"
    return f"{words}: {_whole(way.minutes.low)} to {_whole(way.minutes.high)} min, clean peel {way.clean_words}"


def _whole(minutes: float) -> int:
    """To the next whole minute, a half up, as the screen rounds."""
    return int(minutes + 0.5)


def _way_out(one: Ranked) -> StripWayOut:
    own = one.own
    chance = None
    if own is not None:
        chance = ChanceOut(
            percent=round(100 * own.share, 1), low_percent=round(100 * own.low, 1),
            high_percent=round(100 * own.high, 1), number=own.number,
        )  # fmt: skip
    return StripWayOut(
        way=one.way,
        words=one.words,
        refused=one.refused,
        minutes=RangeOut(low=round(one.minutes.low, 1), high=round(one.minutes.high, 1)),
        own_minutes=one.own_minutes,
        wait=RangeOut(low=one.wait.low, high=one.wait.high),
        clean=one.clean_words,  # type: ignore[arg-type]
        own=chance,
        glue_minutes=RangeOut(low=round(one.glue_minutes.low, 1), high=round(one.glue_minutes.high, 1)),
        lines_risk_percent=round(100 * one.lines_risk, 1),
        price=RangeOut(low=one.price.low, high=one.price.high),
        reasons=list(one.reasons),
        basis=one.basis,
        section=one.section,
    )


def set_tools(session: Session, body: ToolsBody, *, person_id: str) -> str:
    """Say what is at hand.

    Raises
    ------
    StaleWriteError
        Somebody said so meanwhile.
    """
    tools = sorted({Tool(one).value for one in body.tools})
    return keep(session, REMOVAL_TOOLS, tools, version=body.version, person_id=person_id)


def acknowledge(session: Session, job_id: str, body: AcknowledgeBody, *, person: PersonRecord) -> str:
    """Keep that the customer knows of risk and price; the job's id.

    Raises
    ------
    CoreError
        A window of another car or without old film, or a signature without a stroke.
    """
    jobs(session).get_present(job_id)
    car, _, _ = load_car(session, job_id)
    if body.how == "signature" and not any(len(stroke) > 1 for stroke in body.signature):
        raise CoreError("Nothing was signed. Sign in the box, or take the paper.", fields={"signature": "Empty."})
    own = {window.id: window for window in car.job.windows}
    for window_id in body.windows:
        window = own.get(window_id)
        if window is None or not comes_off(window):
            raise CoreError("No old film comes off one of these windows.", fields={"windows": "Pick such windows."})
    removals = cases_of(session, car, day_of(core_events(session, job_id)), settings_for(session, None))
    for window_id in dict.fromkeys(body.windows):
        told = removal_line(own[window_id], removals[window_id])
        value = {"line": kept_line(told), "name": body.name, "how": body.how, "signature": body.signature}
        _keep(session, job_id, window_id, Happened.ACKNOWLEDGED, value, person)
    return job_id


def _keep(
    session: Session, job_id: str, window_id: str, kind: Happened, value: Mapping[str, Any], person: PersonRecord
) -> None:
    note_event(
        session,
        StepEvent(
            id=new_id(), job_id=job_id, step="", kind=kind.value, happened_at=now(), window_id=window_id,
            value=json.dumps(value),
        ),
        person_id=person.id,
    )  # fmt: skip


def keep_result(session: Session, window_id: str, body: ResultBody, *, person: PersonRecord) -> tuple[str, str]:
    """How old film came off; the reading of the bare glass goes back to Shade. The window's id, and its word before.

    Raises
    ------
    CoreError
        There is no old film that comes off.
    StaleWriteError
        Somebody changed the window meanwhile.
    """
    record = windows(session).get_present(window_id)
    car, parts, _ = load_car(session, record.job_id)
    window = car.window(window_id)
    if not comes_off(window):
        raise CoreError("No old film comes off this window.", fields={"layer": "Say at Survey that there is some."})
    before = car.shades[window_id].worst
    settings = settings_for(session, person.id)
    bay = load_bay(session, car, parts, settings)
    way = bay.removals[window_id].way
    here = {one.id for one in bay.events if one.window_id == window_id and one.value.get("run") == "strip"}
    own = [one.minutes for one in times_of_job(session, record.job_id) if one.id in here]
    value = {
        "way": way, "layer": body.layer, "glue": body.glue, "lines_lifted": body.lines_lifted, "note": body.note,
        "minutes": round(sum(own), 1) if own else None,
    }  # fmt: skip
    _keep(session, record.job_id, window_id, Happened.STRIP_RESULT, value, person)
    changes = bared(body.readings_percent)
    facts = stored_facts({**record.facts, **with_consequences(changes)}, WindowFacts)
    windows(session).update(replace(record, version=body.version, facts=facts), person_id=person.id)
    return window_id, before.word.value if before else ""


def result_of(session: Session, window_id: str, before: str) -> ResultOut:
    """What the law says now, and whether that is another word than before."""
    record = windows(session).get(window_id)
    car, _, _ = load_car(session, record.job_id)
    shade = car.shades[window_id]
    word = shade.worst.word if shade.worst else None
    was = VerdictWord(before) if before else None
    loud = ""
    if word is not None and word is not was:
        told = shade.worst.sentence if shade.worst else ""
        read = f"{shade.bare.vlt * 100:.0f} % through the bare glass" if shade.bare else "the bare glass"
        loud = f"{record.label}: {word.value} now, it was {was.value if was else 'not judged'}. {read}. {told}"
    return ResultOut(window_id=window_id, before=was, after=word, loud=loud)

"""What a window's run recorded, as facts that speak for or against causes.

Every fact of the flaw table names how it is told; each way is one function here. What was not recorded is
unknown: a step that was never ticked is not known to be undone unless later ones were ticked.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field
from types import MappingProxyType
from typing import Any

from elumbra.core.bay import Event, Happened, Phase, Progress, Tick
from elumbra.core.film import Construction, Film
from elumbra.core.inspection.book import SOURCES, Evidence, FlawBook
from elumbra.core.inspection.cause import Told
from elumbra.core.inspection.place import Part
from elumbra.core.starting import StartingValues
from elumbra.core.survey import Answers
from elumbra.core.units import parse_length

_YEAR_DAYS = 365


@dataclass(frozen=True)
class RunRecord:
    """What is on record of one window when a flaw is seen on it."""

    progress: Progress | None = None
    events: Sequence[Event] = ()  # of this window, and pauses of the whole job
    situation: Mapping[str, str] = field(default_factory=dict)
    findings: Answers = field(default_factory=dict)
    film: Film | None = None
    day_said: bool = False
    film_off: bool | None = None
    glue: str | None = None  # what was said of glue when old film came off
    readings_doubted: bool | None = None
    twin_same: bool | None = None
    lot_repeats: bool | None = None
    days: float | None = None  # since it was fitted
    cure_days: float = 5.0
    parts: frozenset[Part] = frozenset()
    answers: Mapping[str, Told] = field(default_factory=dict)  # what somebody answered when asked


def evidence_of(book: FlawBook, record: RunRecord, *, starting: StartingValues) -> dict[str, Told]:
    """Every fact of the table, as far as it is known; what is recorded goes before what somebody answered."""
    found = {}
    for name, fact in book.evidence.items():
        told = _WAYS[fact.source](fact, record, starting)
        found[name] = told if told is not Told.UNKNOWN else record.answers.get(name, Told.UNKNOWN)
    return found


def _yes(holds: bool | None) -> Told:
    return Told.UNKNOWN if holds is None else Told.YES if holds else Told.NO


def _last_ticked(progress: Progress) -> int:
    keys = [one.key for one in progress.run.steps]
    return max((i for i, key in enumerate(keys) if key in progress.ticks), default=-1)


def _done(record: RunRecord, ids: Sequence[str]) -> Told:
    """Whether all steps of these that the run has were done; those passed over speak against it."""
    progress = record.progress
    if progress is None:
        return Told.UNKNOWN
    last = _last_ticked(progress)
    told = []
    for i, one in enumerate(progress.run.steps):
        if one.step.id not in ids:
            continue
        tick = progress.ticks.get(one.key)
        if tick is None:
            told.append(Told.NO if i < last else Told.UNKNOWN)
        else:
            told.append(Told.UNKNOWN if tick.level == "already" else Told.YES)
    if not told:
        return Told.UNKNOWN
    if Told.NO in told:
        return Told.NO
    return Told.YES if all(one is Told.YES for one in told) else Told.UNKNOWN


def _steps(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    return _done(record, fact.argument)


def _skipped(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    return {Told.YES: Told.NO, Told.NO: Told.YES}.get(_done(record, fact.argument), Told.UNKNOWN)


def _ticks(record: RunRecord, chosen: Callable[[Any], bool]) -> list[Tick]:
    if record.progress is None:
        return []
    ticks = record.progress.ticks
    found = [ticks[one.key] for one in record.progress.run.steps if one.key in ticks and chosen(one)]
    return [one for one in found if one.level != "already"]


def _order(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    first = _ticks(record, lambda one: one.step.id in fact.argument["first"])
    then = _ticks(record, lambda one: one.step.id in fact.argument["then"])
    if not first or not then:
        return Told.UNKNOWN
    return _yes(min(one.at for one in first) < max(one.at for one in then))


def _in_phases(record: RunRecord, phases: Sequence[str]) -> list[Tick]:
    wanted = {Phase(one) for one in phases}
    return _ticks(record, lambda one: one.phase in wanted)


def _minutes_between(fact: Evidence, record: RunRecord, starting: StartingValues) -> Told:
    rinsed = [one.at for one in _in_phases(record, fact.argument["from"])]
    tacked = [one.at for one in _in_phases(record, fact.argument["to"])]
    if not rinsed or not tacked:
        return Told.UNKNOWN
    minutes = (min(tacked) - min(rinsed)) / 60
    return _yes(minutes > starting[fact.argument["over"]])


def _paused(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    begun = [one.at for one in _in_phases(record, fact.argument["from"])]
    ended = [one.at for one in _in_phases(record, fact.argument["to"])]
    if not begun or not ended:
        return Told.UNKNOWN
    pauses = [one.at for one in record.events if one.kind is Happened.PAUSE]
    return _yes(any(min(begun) <= at <= max(ended) for at in pauses))


def _hands(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    people = [one.person for one in _in_phases(record, fact.argument["phases"])]
    return Told.UNKNOWN if len(people) < 2 else _yes(len(set(people)) > 1)


def _situation(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    name, values = next(iter(fact.argument.items()))
    said = record.situation.get(name)
    return _yes(None if said is None else said in values)


def _day(fact: Evidence, record: RunRecord, starting: StartingValues) -> Told:
    return _situation(fact, record, starting) if record.day_said else Told.UNKNOWN


def _wrong(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    undone = {str(one.value.get("event", "")) for one in record.events if one.kind is Happened.UNDO}
    said = {
        str(one.value.get("what", "")) for one in record.events if one.kind is Happened.WRONG and one.id not in undone
    }
    if said.intersection(fact.argument):
        return Told.YES
    # Nothing was reported: that says something only of a run that was ticked to its end.
    return Told.NO if record.progress is not None and record.progress.done else Told.UNKNOWN


def _finding(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    answered = False
    for name, values in fact.argument.items():
        said = record.findings.get(name)
        if said is None:
            continue
        answered = True
        if set(said if isinstance(said, tuple | list) else (said,)).intersection(values):
            return Told.YES
    return Told.NO if answered else Told.UNKNOWN


def _finding_read(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    said = [record.findings[name] for name in fact.argument if name in record.findings]
    if not said or not isinstance(said[0], str):
        return Told.UNKNOWN
    return _yes(parse_length(said[0]).mm > 0)


def _fact(_: Evidence, record: RunRecord, __: StartingValues) -> Told:
    return _yes(record.film_off)


def _strip(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    return _yes(None if record.glue is None else record.glue in fact.argument["glue"])


def _readings(_: Evidence, record: RunRecord, __: StartingValues) -> Told:
    return _yes(record.readings_doubted)


def _twin(_: Evidence, record: RunRecord, __: StartingValues) -> Told:
    return _yes(record.twin_same)


def _lot(_: Evidence, record: RunRecord, __: StartingValues) -> Told:
    return _yes(record.lot_repeats)


def _film(fact: Evidence, record: RunRecord, starting: StartingValues) -> Told:
    if record.film is None:
        return Told.UNKNOWN
    if "construction" in fact.argument:
        return _yes(record.film.construction in {Construction(one) for one in fact.argument["construction"]})
    limit = record.film.shrink_limit_percent
    return _yes(None if limit is None else limit <= 100 * starting["poor_film_shrink_limit"])


def _age(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    if record.days is None:
        return Told.UNKNOWN
    return _yes(record.days <= record.cure_days if fact.argument == "drying" else record.days > _YEAR_DAYS)


def _place(fact: Evidence, record: RunRecord, _: StartingValues) -> Told:
    return _yes(Part(fact.argument) in record.parts) if record.parts else Told.UNKNOWN


def _asked(_: Evidence, __: RunRecord, ___: StartingValues) -> Told:
    return Told.UNKNOWN


_WAYS: Mapping[str, Callable[[Evidence, RunRecord, StartingValues], Told]] = MappingProxyType(
    dict(
        zip(
            SOURCES,
            (
                _steps, _skipped, _order, _minutes_between, _paused, _hands, _situation, _day, _wrong, _finding,
                _finding_read, _fact, _strip, _readings, _twin, _lot, _film, _age, _place, _asked,
            ),
            strict=True,
        )
    )
)  # fmt: skip

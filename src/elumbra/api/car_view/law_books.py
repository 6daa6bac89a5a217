"""Which law a job is judged by, and what has changed in the rule book since."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from sqlalchemy.orm import Session

from elumbra.core.errors import CoreError
from elumbra.core.law import Jurisdiction, LawBook
from elumbra.storage import clock
from elumbra.storage.law_words import Shelf
from elumbra.storage.records import JobRecord
from elumbra.storage.store import settings

_KINDS = {
    "no_floor": "any darkness",
    "none_allowed": "no film",
    "non_mirror": "no mirror finish",
    "no_rule": "the law sets nothing",
    "none_recalled": "none recalled",
    "unknown": "not known",
}
_PARTS = ("passenger", "multipurpose", "windshield", "reflectance", "readings")


HOME_STATES = "home_states"


def home_states(session: Session) -> list[str]:
    """The states whose law new jobs are judged by; none until the shop says."""
    record = settings(session).find(HOME_STATES)
    return [] if record is None else [str(code) for code in record.value.get("value", ())]


def current_book(session: Session) -> LawBook:
    """The rule book as it stands today."""
    return Shelf(session).current()


def check_states(session: Session, states: Sequence[str]) -> None:
    """Refuse a state that is not in the rule book, or stands twice."""
    book = current_book(session)
    for code in states:
        book.of(code)
    if len(set(states)) != len(states):
        raise CoreError("A state stands twice.", fields={"states": "Name each state once."})


def judged_now(session: Session) -> dict[str, Any]:
    """The law of today, as a job keeps it."""
    return {"law_day": clock.today_iso(), "law_revision": Shelf(session).latest}


@dataclass(frozen=True)
class LawChange:
    """A field of a state's record that stands otherwise now than when the job was judged."""

    state: str
    field: str
    before: str
    now: str


def changes_since(job: JobRecord, judged_by: LawBook, current: LawBook) -> list[LawChange]:
    """What has changed for a job's states since it was judged."""
    found: list[LawChange] = []
    for code in job.states:
        before, after = judged_by.records.get(code), current.records.get(code)
        if before is after or before is None or after is None:
            continue
        found += _differences(before, after)
    return found


def _differences(before: Jurisdiction, after: Jurisdiction) -> Iterator[LawChange]:
    then, now = dict(_leaves(before.row)), dict(_leaves(after.row))
    for field in sorted(then.keys() | now.keys()):
        if then.get(field) != now.get(field):
            yield LawChange(after.name, field, value_words(then.get(field)), value_words(now.get(field)))


def _leaves(row: Mapping[str, Any], prefix: str = "") -> Iterator[tuple[str, Any]]:
    for name, value in row.items():
        if name in ("check", "disputed"):
            continue
        path = f"{prefix}{name}"
        if isinstance(value, Mapping) and (name in _PARTS or prefix) and "kind" not in value:
            yield from _leaves(value, f"{path}.")
        else:
            yield path, value


def value_words(value: Any) -> str:
    """A field's value as people read it."""
    if isinstance(value, Mapping):
        kind = str(value.get("kind", ""))
        figure = value.get("value", value.get("percent"))
        if figure is not None:
            return f"{figure:g} %"
        if "points" in value:
            return f"{value['points']:g} points"
        return _KINDS.get(kind, kind.replace("_", " ") or "not on file")
    if value is None or value == "":
        return "not on file"
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, list):
        return (
            f"{len(value)} rules" if value and isinstance(value[0], Mapping) else ", ".join(map(str, value)) or "none"
        )
    return str(value).replace("_", " ")

"""What can be done with the windows of a car. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.survey.schemas import ReadingIn, WindowCreate, WindowPatch
from elumbra.car import shop_starting_values, stored_facts, window_part
from elumbra.core.errors import CoreError, LengthError, ReadingError
from elumbra.core.measure import Figure, known_keys, label
from elumbra.core.units import parse_length
from elumbra.core.words import fact_label
from elumbra.core.work import WindowFacts, may_be_unsaid, measure_window, resolve_same_glass, with_consequences
from elumbra.documents.job_core import core_window
from elumbra.storage.records import WindowRecord
from elumbra.storage.store import check_film_present, jobs, restorable_windows, windows

_MOST_WINDOWS = 60
_MAY_BE_EMPTY = may_be_unsaid(WindowFacts) | {"film_id", "same_as_id"}


def change_window(session: Session, window_id: str, body: WindowPatch, *, person_id: str) -> str:
    """Change a window; the readings are checked as a whole before anything is kept. Its job's id.

    Raises
    ------
    ReadingError, LengthError
        ``fields`` is keyed ``readings.<key>``.
    CoreError
        Something that a window needs was set to nothing, or a film that is off file.
    """
    record = windows(session).get_present(window_id)
    changes = with_consequences(sent(body, without=frozenset({"version", "readings"})))
    for name, value in changes.items():
        if value is None and name not in _MAY_BE_EMPTY:
            raise CoreError(f"A window needs its {fact_label(name)}.", fields={name: "Cannot be empty."})
    for film_id in (changes.get("film_id"), *(changes.get("layers") or ())):
        check_film_present(session, film_id, where=record.label)
    facts = {name: changes.pop(name) for name in list(changes) if name in WindowFacts.__dataclass_fields__}
    changed = replace(
        record,
        version=body.version,
        facts=stored_facts({**record.facts, **facts}, WindowFacts),
        readings=_readings(record, body),
        **{name: _plain(value) for name, value in changes.items()},
    )
    windows(session).update(changed, person_id=person_id)
    _check_panes(session, record, measured=body.readings is not None or "figure" in changes or "same_as_id" in changes)
    return record.job_id


def _plain(value: Any) -> Any:
    return value.value if hasattr(value, "value") else value


def _readings(record: WindowRecord, body: WindowPatch) -> Mapping[str, Mapping[str, Any]]:
    """Readings after a change: merged by key; those that the pane's figure cannot have go."""
    figure = Figure(body.figure or record.figure)
    merged = {key: dict(value) for key, value in record.readings.items() if key in known_keys(figure)}
    if body.readings is not None:
        _merge(merged, body.readings, figure)
    return merged


def _merge(merged: dict[str, dict[str, Any]], given: Mapping[str, ReadingIn | None], figure: Figure) -> None:
    problems: dict[str, str] = {}
    for key, reading in given.items():
        if reading is None:
            merged.pop(key, None)
            continue
        if key not in known_keys(figure):
            problems[f"readings.{key}"] = f"“{key}” is not a reading of a {figure.value}-cornered pane."
            continue
        try:
            length = parse_length(reading.typed)
        except LengthError as error:
            problems[f"readings.{key}"] = error.message
            continue
        merged[key] = {"typed": length.typed, "mm": length.mm, "mode": reading.mode.value}
    if problems:
        place, sentence = next(iter(problems.items()))
        raise LengthError(f"{label(place.removeprefix('readings.')).capitalize()}: {sentence}", fields=problems)


def _check_panes(session: Session, changed: WindowRecord, *, measured: bool) -> None:
    """Refuse a change by which a pane no longer makes sense; a problem is told by its reading.

    A pane that made no sense before, by a figure of the shop's that was changed meanwhile, does
    not stand in the way of other changes.
    """
    starting = shop_starting_values(session)
    records = windows(session).all(order="ordinal", job_id=changed.job_id)
    resolved = resolve_same_glass([core_window(window_part(record)) for record in records])
    if not measured:
        return
    for window in resolved.values():
        own = window.id == changed.id
        if not own and not _shares(window.id, changed.id, records):
            continue
        try:
            measure_window(window, starting=starting)
        except ReadingError as error:
            fields = {f"readings.{key}": sentence for key, sentence in error.fields.items()}
            raise ReadingError(error.message, fields=fields if own else {}) from error


def _shares(window_id: str, with_id: str, records: list[WindowRecord]) -> bool:
    """Whether a window takes its measures from another, directly or by way of others."""
    source = {record.id: record.same_as_id for record in records}
    at: str | None = window_id
    for _ in records:
        at = source.get(at) if at else None
        if at == with_id:
            return True
    return False


def add_window(session: Session, job_id: str, body: WindowCreate, *, person_id: str) -> str:
    """A further window, last in the walkaround order."""
    jobs(session).get_present(job_id)
    present = windows(session).all(order="ordinal", job_id=job_id)
    if len(present) >= _MOST_WINDOWS:
        raise CoreError(f"A car here has at most {_MOST_WINDOWS} windows. Make a second job for the rest.")
    record = WindowRecord(
        job_id=job_id,
        ordinal=max((window.ordinal for window in present), default=-1) + 1,
        label=body.label,
        facts=stored_facts(body.model_dump(include=set(WindowFacts.__dataclass_fields__)), WindowFacts),
        curve=body.curve.value,
        figure=body.figure.value,
        same_as_id=body.same_as_id,
        same_as_mirrored=body.same_as_mirrored,
    )
    if body.same_as_id is not None and body.same_as_id not in {window.id for window in present}:
        raise CoreError("That window is not of this car.", fields={"same_as_id": "Pick a window of this car."})
    windows(session).create(record, person_id=person_id)
    _check_panes(session, record, measured=True)
    return job_id


def remove_window(session: Session, window_id: str, *, version: int, person_id: str) -> str:
    """Take a window out; those that share its glass must be measured first.

    Raises
    ------
    CoreError
        Another window has the same glass as this one.
    """
    record = windows(session).get(window_id)
    present = windows(session).all(order="ordinal", job_id=record.job_id)
    if users := [window.label for window in present if window.same_as_id == window_id]:
        raise CoreError(
            f"{', '.join(users)} takes its measures from {record.label}. "
            "Measure it by itself first, then take this out."
        )
    windows(session).remove(window_id, version=version, person_id=person_id)
    return record.job_id


def restore_window(session: Session, window_id: str, *, version: int, person_id: str) -> str:
    """Bring a removed window back.

    Raises
    ------
    CoreError
        Its film was taken off file meanwhile, or the window whose glass it shares is gone.
    """
    record = windows(session).get(window_id)
    restorable_windows(session, record)
    if record.same_as_id is not None and windows(session).get(record.same_as_id).removed:
        raise CoreError(
            f"{record.label} takes its measures from a window that was taken out too. Bring that one back first."
        )
    windows(session).restore(window_id, version=version, person_id=person_id)
    return record.job_id

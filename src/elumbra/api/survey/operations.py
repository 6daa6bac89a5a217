"""What can be done with the windows of a car. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.bodies import sent
from elumbra.api.survey.schemas import ReadingIn, WindowCreate, WindowPatch
from elumbra.car import merged_answers, shop_starting_values, stored_facts, window_part
from elumbra.core.errors import CoreError, LengthError, ReadingError
from elumbra.core.measure import (
    STRIP_KEYS,
    Figure,
    corner_names,
    known_keys,
    label,
    not_a_reading,
    other_way_round,
)
from elumbra.core.survey import WINDOW_FINDINGS
from elumbra.core.units import parse_length
from elumbra.core.words import fact_label
from elumbra.core.work import (
    WindowFacts,
    may_be_unsaid,
    measure_window,
    resolve_same_glass,
    same_on_both,
    with_consequences,
)
from elumbra.documents.job_core import core_window
from elumbra.storage import data_files
from elumbra.storage.film_uses import check_film_present, restorable_windows
from elumbra.storage.records import WindowRecord
from elumbra.storage.store import jobs, windows

_MOST_WINDOWS = 60
_MEASURED = frozenset({"figure", "curve", "same_as_id", "same_as_mirrored", "reentrant"})
_OWN = frozenset(STRIP_KEYS)
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
    if "findings" in facts:
        facts["findings"] = merged_answers(record.facts.get("findings", {}), facts["findings"], WINDOW_FINDINGS)
    if body.readings is not None or not _MEASURED.isdisjoint(changes):
        facts = {"readings_kept": False, "seen_from_outside": False} | facts
        changes |= {"shelf_pane_id": None, "shelf_revision": None} if _no_more_the_shelf_s(body) else {}
    if changes.get("figure") and record.figure == Figure.DRAWN:
        changes["drawn"] = []
    if "reentrant" in changes:
        _check_corners(changes["reentrant"], Figure(body.figure or record.figure))
    elif changes.get("figure"):
        changes["reentrant"] = [one for one in record.reentrant if one in corner_names(Figure(changes["figure"]))]
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


def _no_more_the_shelf_s(body: WindowPatch) -> bool:
    """Whether a change makes a pane another one than the shelf's: strip readings are the job's own."""
    return not _MEASURED.isdisjoint(body.model_fields_set) or not set(body.readings or ()) <= _OWN


def _check_corners(names: list[str], figure: Figure) -> None:
    if unknown := [name for name in names if name not in corner_names(figure)]:
        raise CoreError(
            f"“{unknown[0]}” is no corner of a {figure.value}-cornered pane.", fields={"reentrant": "Tap a corner."}
        )


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
            problems[f"readings.{key}"] = not_a_reading(key, figure)
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


def turn_over(session: Session, window_id: str, *, version: int, person_id: str) -> str:
    """Take a pane's readings for those of its mirror image: it was read the wrong way round. Its job's id.

    From five corners on the diagonals of corner 1 would become those of corner 2, which draw no
    pane: there the outline itself is turned over.
    """
    record = windows(session).get_present(window_id)
    figure = Figure(record.figure)
    window = core_window(window_part(record))
    own = window.readings
    if figure.corners > 4 and record.same_as_id is None:
        outline = measure_window(window, starting=shop_starting_values(session)).outline
        if outline is not None and outline.measured:
            ring = outline.mirrored().ring.round(4).tolist()
            record = replace(record, figure=Figure.DRAWN.value, drawn=[[-x, y] for x, y in ring], reentrant=[])
            own, figure = {key: one for key, one in own.items() if key in STRIP_KEYS}, Figure.DRAWN
    turned = other_way_round(own, figure)
    readings = {
        key: {"typed": one.typed, "mm": one.mm, "mode": one.mode.value}
        for key, one in turned.items()
        if one is not None
    }
    drawn = [[-x, y] for x, y in record.drawn]
    facts = {**record.facts, "seen_from_outside": True}
    changed = replace(record, version=version, readings=readings, drawn=drawn, facts=stored_facts(facts, WindowFacts))
    windows(session).update(changed, person_id=person_id, action="turned over")
    _check_panes(session, record, measured=True)
    return record.job_id


def as_other_side(session: Session, window_id: str, other_id: str, *, version: int, person_id: str) -> str:
    """Answer every finding as its counterpart on the other side has it. Its job's id.

    Raises
    ------
    CoreError
        The other is no window of this car.
    """
    record, other = windows(session).get_present(window_id), windows(session).get_present(other_id)
    if other.job_id != record.job_id:
        raise CoreError("That window is not of this car.", fields={"other_id": "Pick a window of this car."})
    same = {name: other.facts[name] for name in same_on_both() if name in other.facts}
    findings = {**record.facts.get("findings", {}), **other.facts.get("findings", {})}
    facts = with_consequences({**record.facts, **same, "findings": findings})
    changed = replace(record, version=version, facts=stored_facts(facts, WindowFacts))
    windows(session).update(changed, person_id=person_id, action="answered as the other side")
    return record.job_id


def move_window(session: Session, window_id: str, *, by: int, version: int, person_id: str) -> str:
    """Put a window one place earlier or later in the walkaround order. Its job's id."""
    record = windows(session).get_present(window_id)
    order = windows(session).all(order="ordinal", job_id=record.job_id)
    at = [window.id for window in order].index(window_id)
    to = min(max(at + by, 0), len(order) - 1)
    if at == to:
        return record.job_id
    order.insert(to, order.pop(at))
    for ordinal, window in enumerate(order):
        own = version if window.id == window_id else window.version
        if window.ordinal != ordinal or window.id == window_id:
            windows(session).update(replace(window, ordinal=ordinal, version=own), person_id=person_id)
    return record.job_id


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


def add_opening(session: Session, job_id: str, opening: str, *, person_id: str) -> str:
    """The panes of one opening, each a window with a name of its own. The job's id.

    Raises
    ------
    CoreError
        An opening that is not on file.
    """
    starting = shop_starting_values(session)
    known_openings = data_files.openings()
    if opening not in known_openings:
        raise CoreError(
            f"There is no opening “{opening}”.", fields={"opening": f"One of: {', '.join(known_openings)}."}
        )
    for row in known_openings[opening]["windows"]:
        known = {name: row[name] for name in WindowFacts.__dataclass_fields__ if name in row}
        glass = 100 * starting[f"assumed_{row['glass']}_glass_vlt"]
        body = WindowCreate.model_validate(
            {"label": row["label"], "curve": row["curve"], "figure": row.get("figure", "four")}
            | {"bare_vlt_percent": glass}
            | known
        )
        add_window(session, job_id, body, person_id=person_id)
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

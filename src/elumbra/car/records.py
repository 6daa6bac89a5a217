"""From stored records to the one job file that screens, plan, papers and export all use."""

from __future__ import annotations

import json
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from pydantic import TypeAdapter, ValidationError
from sqlalchemy.orm import Session

from elumbra.car.shop import Shop
from elumbra.core.cut import COUNTS_PER_MM
from elumbra.core.errors import CoreError
from elumbra.core.law import LawBook
from elumbra.core.survey import Finding, FindingError, check_answers
from elumbra.documents.job_core import law_part
from elumbra.documents.job_file import (
    CutPart,
    JobFile,
    JobPart,
    OrderedPart,
    ReadingPart,
    ReasonPart,
    SameAsPart,
    ShelfPart,
    StockPart,
    VehiclePart,
    WindowPart,
    parse_job_file,
)
from elumbra.storage.deliveries import standing_deliveries
from elumbra.storage.kept import accepted_quotes
from elumbra.storage.kept_records import DeliveryRecord, QuoteRecord
from elumbra.storage.law_words import Shelf
from elumbra.storage.records import CutMark, CuttingRecord, JobRecord, ReasonRecord, StockRecord, WindowRecord
from elumbra.storage.store import cuttings, reasons, windows


class StuckError(CoreError):
    """A job whose records cannot be put together; the message says why."""


@dataclass(frozen=True)
class JobParts:
    """A stored job with all that its car is made from."""

    job: JobRecord
    windows: Sequence[WindowRecord]
    reasons: Mapping[str, ReasonRecord]  # the newest of each window
    law: LawBook
    current_law: LawBook  # of a car that is gone, the one that it went by
    cuttings: Sequence[CuttingRecord] = ()  # those not taken back, newest first
    accepted: QuoteRecord | None = None  # the quote that was accepted
    delivered: DeliveryRecord | None = None  # as the car went; None while it is here

    @property
    def cuts(self) -> Mapping[str, CutMark]:
        """By window, what was cut for it last."""
        marks: dict[str, CutMark] = {}
        for cutting in self.cuttings:
            for mark in cutting.marks:
                marks.setdefault(mark.window_id, mark)
        return marks


def law_day(job: JobRecord) -> str:
    """The day whose law a job is judged by."""
    return job.law_day or job.created_at.date().isoformat()


def load_parts(session: Session, job: JobRecord) -> JobParts:
    """A job with its windows, reasons and law."""
    return load_parts_of(session, [job])[job.id]


def load_parts_of(session: Session, jobs: Sequence[JobRecord]) -> dict[str, JobParts]:
    """Several jobs with their windows, reasons and law, in as few queries as one."""
    if not jobs:
        return {}
    ids = [job.id for job in jobs]
    shelf = Shelf(session)
    current = shelf.current()
    of_job: dict[str, list[WindowRecord]] = {job_id: [] for job_id in ids}
    for window in windows(session).all(order="ordinal", job_id=ids):
        of_job[window.job_id].append(window)
    given: dict[str, dict[str, ReasonRecord]] = {job_id: {} for job_id in ids}
    for reason in reasons(session).all(order="on_day", job_id=ids):
        given[reason.job_id][reason.window_id] = reason
    cut: dict[str, list[CuttingRecord]] = {job_id: [] for job_id in ids}
    for cutting in cuttings(session).all(order="on_day", job_id=ids):
        cut[cutting.job_id].insert(0, cutting)
    accepted, gone = accepted_quotes(session, ids), standing_deliveries(session, ids)
    books = {job.id: shelf.book(job.law_revision, law_day(job)) for job in jobs}
    return {
        job.id: JobParts(
            job, of_job[job.id], given[job.id], books[job.id], books[job.id] if job.id in gone else current,
            cut[job.id], accepted.get(job.id), gone.get(job.id),
        )
        for job in jobs
    }  # fmt: skip


def job_file(parts: JobParts, shop: Shop) -> JobFile:
    """A job with the films it names, all stock of those films, and the law it is judged by; of a car that is gone, as
    it went.

    Raises
    ------
    StuckError
        A record holds what cannot be; the message says which and why.
    """
    if parts.delivered is not None:
        return parse_job_file(json.dumps(parts.delivered.job_file).encode())
    cuts = parts.cuts
    chosen = {window.film_id for window in parts.windows if window.film_id}
    named = chosen.union(
        *(window.layers for window in parts.windows),
        (r.film_id for r in parts.reasons.values()),
        (mark.film_id for mark in cuts.values()),
    )
    held = {} if parts.job.facts.get("into_holds") else shop.held_by_others(parts.job.id)
    for film_id in named:
        if film_id in shop.unreadable:
            raise StuckError(f"{shop.films[film_id].name}: {shop.unreadable[film_id]}. Mend it at Films.")
    try:
        return JobFile(
            job=_job_part(
                parts.job,
                [
                    window_part(
                        one,
                        parts.reasons.get(one.id),
                        cuts.get(one.id),
                        _ordered_part(parts.accepted, one.id),
                        today=shop.today,
                    )
                    for one in parts.windows
                ],
            ),
            films=[part for part in shop.parts.values() if part.id in named],
            stock=[stock_part(record, held.get(record.id, 0)) for record in shop.stock if record.film_id in chosen],
            starting_values=dict(shop.changes),
            unmetered_glass=shop.unmetered,
            law=law_part(parts.law, parts.job.states),
        )
    except ValidationError as error:
        problem = error.errors()[0]
        raise StuckError(f"This job's record cannot be read: {problem['loc'][-1]}: {problem['msg']}.") from error


def _job_part(job: JobRecord, parts: list[WindowPart]) -> JobPart:
    return JobPart(
        title=job.title,
        customer=job.customer,
        note=job.note,
        vehicle=VehiclePart(**job.facts, label=job.vehicle_label),
        windows=parts,
    )


def _ordered_part(accepted: QuoteRecord | None, window_id: str) -> OrderedPart | None:
    """What was accepted for a window; a window that the quote does not know is not in the order."""
    if accepted is None:
        return None
    return OrderedPart.model_validate(dict(accepted.scope.get(window_id, {})))


def window_part(
    record: WindowRecord,
    reason: ReasonRecord | None = None,
    mark: CutMark | None = None,
    ordered: OrderedPart | None = None,
    *,
    today: str = "",
) -> WindowPart:
    """A stored window as it stands in a job file.

    ``today``: the day by which the document of its reason may have run out, where the film is not cut yet.

    Raises
    ------
    ValidationError
        The record holds what no window can have.
    """
    same_as = None
    if record.same_as_id:
        same_as = SameAsPart(window=record.same_as_id, mirrored=record.same_as_mirrored)
    links: dict[str, Any] = {
        "id": record.id,
        "label": record.label,
        "reason": _reason_part(reason, mark.on_day if mark and mark.film_id == record.film_id else today)
        if reason
        else None,
        "film": record.film_id,
        "cut": _cut_part(mark) if mark else None,
        "ordered": ordered,
        "layers": tuple(record.layers),
        "curve": record.curve,
        "level": record.level,
        "figure": record.figure,
        "readings": {
            key: ReadingPart.model_validate({"typed": one["typed"], "mode": one["mode"]})
            for key, one in record.readings.items()
        },
        "reentrant": tuple(record.reentrant),
        "drawn": tuple((x, y) for x, y in record.drawn),
        "shelf": _shelf_part(record),
        "same_as": same_as,
    }
    return WindowPart(**record.facts, **links)


def _shelf_part(record: WindowRecord) -> ShelfPart | None:
    if record.shelf_pane_id is None or record.shelf_revision is None:
        return None
    return ShelfPart(pane=record.shelf_pane_id, revision=record.shelf_revision)


def _cut_part(mark: CutMark) -> CutPart:
    return CutPart(film=mark.film_id, lot=mark.lot, roll=mark.roll, on=mark.on_day, person=mark.person)


def _reason_part(reason: ReasonRecord, on: str) -> ReasonPart:
    values = {name: getattr(reason, name) for name in ReasonPart.model_fields if hasattr(reason, name)}
    return ReasonPart.model_validate(
        values
        | {"film": reason.film_id, "person": reason.person_name, "on": reason.on_day}
        | {"lapsed": bool(reason.expires_on) and reason.expires_on < on}
    )


def stock_part(record: StockRecord, held: int = 0) -> StockPart:
    """A piece of stock as it stands in a job file, less the counts that are held for others."""
    values = {name: getattr(record, name) for name in StockPart.model_fields if hasattr(record, name)}
    return StockPart.model_validate(
        values | {"film": record.film_id, "width": record.width_typed, "length": _length_free(record, held)}
    )


def _length_free(record: StockRecord, held: int) -> str:
    """As typed; else to the last count, so that no more is planned on than there is."""
    if held:
        return f"{max(0, record.left_count - held) / COUNTS_PER_MM:.4f} mm"
    return record.left_typed or f"{record.length_left_mm:.4f} mm"


def merged_answers(
    before: Mapping[str, Any], changes: Mapping[str, Any] | None, table: Mapping[str, Finding]
) -> dict[str, Any]:
    """Findings after a change: merged by name; an answer of None is taken back.

    Raises
    ------
    FindingError
        An answer that its finding cannot have; ``fields`` is keyed ``findings.<name>``.
    """
    given = {name: tuple(one) if isinstance(one, list) else one for name, one in (changes or {}).items()}
    try:
        check_answers({name: one for name, one in given.items() if one is not None}, table)
    except FindingError as error:
        raise FindingError(error.message, fields={f"findings.{k}": v for k, v in error.fields.items()}) from error
    merged = {**before, **given}
    return {name: one for name, one in merged.items() if one is not None and one != () and one != ""}


def stored_facts(holder: Any, kind: type[Any]) -> dict[str, Any]:
    """Facts as a record keeps them: checked, and in JSON's own types.

    Raises
    ------
    ValidationError
        A fact out of its bounds.
    """
    adapter = _adapter(kind)
    values = holder if isinstance(holder, Mapping) else {n: getattr(holder, n) for n in kind.__dataclass_fields__}
    found: dict[str, Any] = adapter.dump_python(adapter.validate_python(dict(values)), mode="json")
    return found


_ADAPTERS: dict[type[Any], TypeAdapter[Any]] = {}


def _adapter(kind: type[Any]) -> TypeAdapter[Any]:
    if kind not in _ADAPTERS:
        _ADAPTERS[kind] = TypeAdapter(kind)
    return _ADAPTERS[kind]


def stored_links(part: WindowPart) -> dict[str, Any]:
    """What a window of a job file knows besides its facts, as a record keeps it."""
    return {
        "label": part.label,
        "curve": part.curve.value,
        "level": part.level.value,
        "figure": part.figure.value,
        "reentrant": list(part.reentrant),
        "drawn": [list(point) for point in part.drawn],
    }

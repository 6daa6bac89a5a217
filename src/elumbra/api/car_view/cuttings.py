"""Film that was cut for a job, as its screens show it."""

from __future__ import annotations

from elumbra.api.car_view.schemas import CutOut, CuttingOut, KeptOut
from elumbra.car import JobParts
from elumbra.core.work import Window
from elumbra.storage.records import CutMark, CuttingRecord


def cut_out(mark: CutMark | None, window: Window) -> CutOut | None:
    """What was cut for a window; None where nothing was, or it is to be cut again."""
    if mark is None:
        return None
    return CutOut(
        cutting_id=mark.cutting_id,
        film_id=mark.film_id,
        lot=mark.lot,
        roll=mark.roll,
        on_day=mark.on_day,
        person=mark.person,
        standing=window.is_cut,
    )


def cutting_out(record: CuttingRecord, parts: JobParts, today: str) -> CuttingOut:
    """One time that film was cut."""
    labels = {window.id: window.label for window in parts.windows}
    return CuttingOut(
        id=record.id,
        version=record.version,
        on_day=record.on_day,
        person=record.person_name,
        windows=[labels.get(mark.window_id, mark.label) for mark in record.marks],
        taken=[f"{one.taken_typed} in from {one.label}" for one in record.taken],
        kept=[KeptOut(stock_id=one.stock_id, label=one.label, size=one.size) for one in record.kept],
        may_be_taken_back=record.on_day == today and not record.foreign,
    )

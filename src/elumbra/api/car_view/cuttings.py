"""Film that was cut for a job, as its screens show it."""

from __future__ import annotations

from elumbra.api.car_view.schemas import CutOut, CuttingOut, HoldOut, KeptOut
from elumbra.car import JobParts, Shop
from elumbra.core.cut import COUNTS_PER_MM
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


def holds_out(job_id: str, shop: Shop) -> list[HoldOut]:
    """Film held for a job."""
    labels = {record.id: record.label for record in shop.stock}
    return [
        HoldOut(
            stock_id=one.stock_id, label=labels.get(one.stock_id, ""), length_mm=one.count / COUNTS_PER_MM,
            until=one.until, person=one.person_name,
        )
        for one in shop.holds
        if one.job_id == job_id
    ]  # fmt: skip


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
        may_be_taken_back=record.on_day == today and not record.foreign and parts.delivered is None,
    )

"""What to buy, and what film was used and wasted on which job."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.rack.schemas import PurchaseLine, PurchaseOut, UsedLine, UsedOut
from elumbra.car import Shop, load_shop
from elumbra.core.cut import COUNTS_PER_MM
from elumbra.core.units import format_inches
from elumbra.storage import tasks
from elumbra.storage.bookings import bookings
from elumbra.storage.job_lists import still_open
from elumbra.storage.records import JobRecord, StockRecord
from elumbra.storage.store import cuttings, films, jobs, stock
from elumbra.storage.sums import film_taken

_SAME_WIDTH = 1.0  # mm


def purchase_list(session: Session) -> PurchaseOut:
    """By film and width, what booked jobs take, what is left, and what is short or low."""
    shop = load_shop(session)
    lines: dict[tuple[str, int], PurchaseLine] = {}
    for record in shop.stock:
        if record.kind == "roll":
            line = _line(lines, shop, record.film_id, record.width_mm)
            line.left_mm += record.length_left_mm
    rolls = {record.id: record for record in shop.stock if record.kind == "roll"}
    wanted = _wanted(session)
    days = {one.id: one.day for one in bookings(session).all(id=[job.id for job, _ in wanted])}
    for job, summary in wanted:
        for stock_id, length in summary.get("taken", {}).items():
            if stock_id in rolls:
                roll = rolls[stock_id]
                _needs(_line(lines, shop, roll.film_id, roll.width_mm), job, length, days.get(job.id))
        for one in summary.get("to_buy", ()):
            if one["film_id"] in shop.films:
                _needs(_line(lines, shop, one["film_id"], one["width_mm"]), job, one["length_mm"], days.get(job.id))
    least = shop.starting["low_stock_mm"]
    told = []
    for line in lines.values():
        short = max(0.0, line.booked_mm - line.left_mm)
        low = line.left_mm - line.booked_mm < least
        if short or low:
            told.append(line.model_copy(update={"short_mm": short, "low": low}))
    return PurchaseOut(lines=sorted(told, key=lambda one: (-one.short_mm, one.film_name, one.width_mm)))


def _line(lines: dict[tuple[str, int], PurchaseLine], shop: Shop, film_id: str, width: float) -> PurchaseLine:
    key = (film_id, round(width / _SAME_WIDTH))
    if key not in lines:
        lines[key] = PurchaseLine(
            film_id=film_id, film_name=shop.films[film_id].name, width_mm=width, booked_mm=0.0, left_mm=0.0,
            short_mm=0.0, low=False, by_day=None, jobs=[],
        )  # fmt: skip
    return lines[key]


def _needs(line: PurchaseLine, job: JobRecord, length: float, booked_for: str | None) -> None:
    """Film that a job takes, by the day on which its car comes, else by the day it was promised for."""
    line.booked_mm += length
    if job.number not in line.jobs:
        line.jobs.append(job.number)
    day = booked_for
    if day is None and job.promised_at is not None:
        day = job.promised_at.replace(tzinfo=UTC).astimezone().date().isoformat()
    if day is not None:
        line.by_day = min(line.by_day or day, day)


def _wanted(session: Session) -> list[tuple[JobRecord, Mapping[str, Any]]]:
    """Booked jobs with what their newest plans take, but for those that were cut by just that plan."""
    open_jobs = still_open(session)
    plans = tasks.latest_plans(session, [job.id for job in open_jobs])
    done = {(one.job_id, one.input_hash) for one in cuttings(session).all(job_id=[job.id for job in open_jobs])}
    return [
        (job, plans[job.id][1])
        for job in open_jobs
        if job.id in plans and (job.id, plans[job.id][0]) not in done
    ]  # fmt: skip


PURCHASE_COLUMNS = ("Film", "Width in", "Booked in", "Left in", "Short in", "Low", "By", "Jobs")


def purchase_rows(found: PurchaseOut) -> list[list[str]]:
    """The purchase list as words."""
    return [
        [
            line.film_name, format_inches(line.width_mm), format_inches(line.booked_mm), format_inches(line.left_mm),
            format_inches(line.short_mm) if line.short_mm else "", "low" if line.low else "", line.by_day or "",
            ", ".join(str(number) for number in line.jobs),
        ]
        for line in found.lines
    ]  # fmt: skip


def film_used(session: Session) -> UsedOut:
    """What every job took off the rack, newest first, and what of it was wasted; by the ledger, as all sums."""
    all_stock: dict[str, StockRecord] = {one.id: one for one in stock(session).all(removed_too=True)}
    names = {one.id: one.name for one in films(session).all(removed_too=True)}
    found = film_taken(session)
    by_job = {one.id: one for one in jobs(session).all(removed_too=True, id=[taken.job_id for taken in found])}
    lines = []
    for taken in found:
        source, job = all_stock[taken.stock_id], by_job[taken.job_id]
        used, kept, waste = (count / COUNTS_PER_MM for count in (taken.used, taken.kept, taken.waste))
        length = used + kept + waste
        lines.append(
            UsedLine(
                job_id=job.id, job_number=job.number, job_title=job.title, on_day=taken.on_day,
                person=taken.person, film_name=names[source.film_id], stock=source.label, lot=source.lot,
                taken_mm=length, used_mm=used, kept_mm=kept, waste_mm=waste,
                cost=source.price_per_m2 * source.width_mm * length / 1e6,
            )
        )  # fmt: skip
    return UsedOut(
        lines=lines,
        taken_mm=sum(line.taken_mm for line in lines),
        waste_mm=sum(line.waste_mm for line in lines),
        cost=sum(line.cost for line in lines),
    )


USED_COLUMNS = (
    "Job",
    "Title",
    "Day",
    "Person",
    "Film",
    "Stock",
    "Lot",
    "Taken in",
    "Used in",
    "Kept in",
    "Waste in",
    "$",
)


def used_rows(found: UsedOut) -> list[list[str]]:
    """Film used as words."""
    return [
        [
            str(line.job_number), line.job_title, line.on_day, line.person, line.film_name, line.stock, line.lot,
            *(format_inches(mm) for mm in (line.taken_mm, line.used_mm, line.kept_mm, line.waste_mm)),
            f"{line.cost:.2f}",
        ]
        for line in found.lines
    ]  # fmt: skip

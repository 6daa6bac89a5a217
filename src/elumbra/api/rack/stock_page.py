"""One piece of stock with its ledger, its label, and what can still be cut from it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, date

from sqlalchemy.orm import Session

from elumbra.api.car_view.brief_schemas import PieceBrief
from elumbra.api.car_view.briefs import pieces_wanted
from elumbra.api.rack.operations import stock_out
from elumbra.api.rack.schemas import (
    BalanceOut,
    BecomeOut,
    FoundOut,
    FullRollOut,
    HeldOut,
    MovementOut,
    OffcutOut,
    OffcutsOut,
    StockPage,
)
from elumbra.car import load_shop, shop_starting_values
from elumbra.core.cut import COUNTS_PER_MM, offcut_uses
from elumbra.core.errors import CoreError
from elumbra.core.film import FACING, LinerSide, StockCode, parse_code
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches
from elumbra.documents.stock_labels import StockLabel
from elumbra.storage import clock, holds, ledger
from elumbra.storage.rack import full_rolls, shop_code
from elumbra.storage.records import JobRecord, StockRecord
from elumbra.storage.store import NotFoundError, films, jobs, people, stock

_NEWEST = 60


def stock_page(session: Session, stock_id: str) -> StockPage:
    """A piece of stock, on the rack or not any more."""
    record = ledger.stock_with_left(session, stock_id)
    standing = holds.standing(session, stock_id=stock_id)
    names = {person.id: person.name for person in people(session).all(removed_too=True)}
    numbers = {job.id: job.number for job in jobs(session).all(removed_too=True, id=_jobs_named(session, stock_id))}
    moved = ledger.movements(session, stock_id)[::-1][:_NEWEST]
    sums = ledger.balance(session, stock_id)
    starting = shop_starting_values(session)
    become = could_become(record, pieces_wanted(session), starting)
    return StockPage(
        stock=stock_out(record, held=sum(one.count for one in standing), shop_code=shop_code(session)),
        film_name=films(session).get(record.film_id).name,
        removed=record.removed,
        balance=BalanceOut(**{f"{name}_mm": count / COUNTS_PER_MM for name, count in vars(sums).items()}),
        movements=[
            MovementOut(
                at=one.at.replace(tzinfo=UTC), kind=one.kind, length_mm=one.count / COUNTS_PER_MM, note=one.note,
                person=names.get(one.person_id, ""), job_id=one.job_id,
                job_number=numbers.get(one.job_id) if one.job_id else None,
            )
            for one in moved
        ],
        holds=[_held(session, one.job_id, one.count, one.until, one.person_name) for one in standing],
        could_become=become,
        old=is_old(record, starting) and not any(one.job_id for one in become),
        full_rolls=[
            FullRollOut(
                id=one.id, version=one.version, girth_mm=one.girth_mm, core_mm=one.core_mm, length_mm=one.length_mm,
                on_day=one.on_day, person=one.person_name,
            )
            for one in full_rolls(session).all(order="on_day", film_id=record.film_id)
        ],
    )  # fmt: skip


def _jobs_named(session: Session, stock_id: str) -> list[str]:
    return [one.job_id for one in ledger.movements(session, stock_id) if one.job_id]


def _held(session: Session, job_id: str, count: int, until: str, person: str) -> HeldOut:
    job = jobs(session).get(job_id)
    return HeldOut(
        job_id=job.id, job_number=job.number, job_title=job.title, length_mm=count / COUNTS_PER_MM, until=until,
        person=person,
    )  # fmt: skip


def is_old(record: StockRecord, starting: StartingValues) -> bool:
    """Whether an offcut has lain longer than the shop keeps them."""
    if record.kind != "offcut" or not record.received_on:
        return False
    days = (date.fromisoformat(clock.today_iso()) - date.fromisoformat(record.received_on)).days
    return days > starting["offcut_old_days"]


def offcuts(session: Session) -> OffcutsOut:
    """What each offcut and sheet on the rack can still become."""
    wanted, starting = pieces_wanted(session), shop_starting_values(session)
    told = []
    for record in ledger.on_rack(session, kind=["offcut", "sheet"]):
        become = could_become(record, wanted, starting)
        old = is_old(record, starting) and not any(one.job_id for one in become)
        told.append(OffcutOut(stock_id=record.id, could_become=become, old=old))
    return OffcutsOut(offcuts=told)


def could_become(
    record: StockRecord, wanted: Sequence[tuple[JobRecord, Sequence[PieceBrief]]], starting: StartingValues
) -> list[BecomeOut]:
    """What can still be cut from a piece of stock: windows of booked jobs first, then strips and quarters."""
    if record.left_count <= 0 or record.removed:
        return []
    found = [
        BecomeOut(words=f"Job {job.number}, {job.title}: {piece.label}", job_id=job.id)
        for job, pieces in wanted
        for piece in pieces
        if piece.film_id == record.film_id and _fits(piece, record)
    ]
    if record.kind == "roll":
        return found
    uses = offcut_uses(record.length_left_mm, record.width_mm, starting=starting)
    return found + [BecomeOut(words=words, job_id=None) for words in uses]


def _fits(piece: PieceBrief, record: StockRecord) -> bool:
    return any(
        along <= record.length_left_mm + 1e-6 and across <= record.width_mm + 1e-6 for along, across in piece.ways
    )  # fmt: skip


def find_code(session: Session, text: str) -> FoundOut:
    """The piece of stock that a label's code is on.

    Raises
    ------
    CoreError
        No code, misread, or the label of another shop.
    NotFoundError
        This shop never gave that number.
    """
    code, own = parse_code(text), shop_code(session)
    if code.shop != own:
        raise CoreError(
            f"{code} is the label of another shop; ours begin with {own}. "
            "Film from there is entered anew, with its lot."
        )
    found = stock(session).all(number=code.number, removed_too=True)
    if not found:
        raise NotFoundError("piece of stock with the code", str(code))
    return FoundOut(stock_id=found[0].id, label=found[0].label, removed=found[0].removed)


def labels(session: Session, ids: list[str]) -> list[StockLabel]:
    """What stands on the labels of some pieces of stock."""
    shop = load_shop(session)
    made = []
    for stock_id in ids:
        record = ledger.stock_with_left(session, stock_id)
        length = record.full_length_mm if record.kind == "roll" else record.length_left_mm
        made.append(
            StockLabel(
                film=shop.films[record.film_id].name,
                name=record.label,
                code=str(StockCode(shop.code, record.number)),
                size=f"{format_inches(record.width_mm)} × {format_inches(length)} in along the roll",
                lot=record.lot,
                facing=FACING[LinerSide(record.liner)],
                received=record.received_on,
            )
        )
    return made

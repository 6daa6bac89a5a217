"""What can be done with films and stock. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import fields, replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.rack.schemas import (
    BinBody,
    FilmChange,
    FilmFields,
    FilmOut,
    FilmPage,
    LotPage,
    LotReading,
    RackOut,
    SlitBody,
    StockChange,
    StockNew,
    StockOut,
    UnreadableFilm,
)
from elumbra.car import Shop, film_part, load_shop, lot_figure_of, shop_starting_values, stored_facts
from elumbra.core.cut import COUNTS_PER_MM
from elumbra.core.errors import CoreError, LengthError
from elumbra.core.film import Film, FilmFacts, RackFacts, StockCode, check_film
from elumbra.core.light import film_alone, heat_side, quality_words, sheet_figure, warranty_words
from elumbra.core.units import Length, format_inches, inches, parse_length
from elumbra.core.work import facts_of
from elumbra.documents.job_file import FilmPart
from elumbra.storage import ledger
from elumbra.storage.film_uses import check_film_present
from elumbra.storage.ledger import MovementKind, counts
from elumbra.storage.readings import lot_sums, newest_readings
from elumbra.storage.records import FilmRecord, StockRecord
from elumbra.storage.store import films, installed_readings, stock

_MOST_USES_TOLD = 5
_NEWEST_READINGS = 50
_NARROWEST_MM, _WIDEST_MM = inches(2), inches(120)
_LONGEST_MM = inches(12 * 500)
_DAYS = frozenset({"received_on", "opened_on"})


def rack(session: Session) -> RackOut:
    """All films and all stock."""
    return _rack_out(load_shop(session))


def _rack_out(shop: Shop) -> RackOut:
    lengths: dict[str, float] = {}
    for record in shop.stock:
        lengths[record.film_id] = lengths.get(record.film_id, 0.0) + record.length_left_mm
    present = [record for record in shop.films.values() if not record.removed]
    held = shop.held_by_others("")
    readable = sorted((record for record in present if record.id in shop.parts), key=lambda film: film.name)
    return RackOut(
        films=[_film_out(film, shop.parts[film.id], lengths.get(film.id, 0.0)) for film in readable],
        unreadable=[
            UnreadableFilm(id=record.id, name=record.name, reason=shop.unreadable[record.id])
            for record in present
            if record.id in shop.unreadable
        ],
        stock=[stock_out(record, held=held.get(record.id, 0), shop_code=shop.code) for record in shop.stock],
    )


def _film_out(record: FilmRecord, part: FilmPart, stocked_mm: float) -> FilmOut:
    return FilmOut(
        **facts_of(part, FilmFacts),
        id=record.id,
        version=record.version,
        price_per_m2=record.price_per_m2,
        stocked_mm=stocked_mm,
    )


def stock_out(record: StockRecord, *, held: int, shop_code: str) -> StockOut:
    """A piece of stock as the screens show it; ``held`` in counts."""
    values = {name: getattr(record, name) for name in StockOut.model_fields if hasattr(record, name)}
    typed = {name: getattr(record, f"{name}_typed") for name in ("width", "full_length", "length_left")}
    days = {name: getattr(record, name) or None for name in _DAYS}
    more = {
        "code": str(StockCode(shop_code, record.number)),
        "held_mm": held / COUNTS_PER_MM,
        "free_mm": max(0, record.left_count - held) / COUNTS_PER_MM,
    }
    return StockOut.model_validate(values | typed | days | more)


def film_page(session: Session, film_id: str) -> FilmPage:
    """What a film does, and what readings after installation say of its lots."""
    record = films(session).get(film_id)
    starting = shop_starting_values(session)
    part = film_part(record)
    film = Film(**facts_of(part, FilmFacts), id=record.id)
    side = heat_side(film, bare_vlt=None, combined_vlt=None, starting=starting)
    on_rack = [piece for piece in ledger.on_rack(session, film_id=film_id) if piece.left_count > 0]
    lots_on_rack = {piece.lot for piece in on_rack}
    sums = lot_sums(session, starting=starting, film_id=film_id)
    pages = []
    for lot in sorted(lots_on_rack | {lot for _, lot in sums}):
        if not lot:
            continue
        figure = lot_figure_of(part, lot, sums, starting)
        pages.append(
            LotPage(
                lot=lot,
                on_rack=lot in lots_on_rack,
                in_use=lots_on_rack == {lot} and figure is not None,
                vlt_percent=100 * figure.vlt if figure else None,
                pm_points=100 * figure.pm if figure else None,
                readings=[
                    LotReading(**vars(one)) for one in newest_readings(session, film_id, lot, most=_NEWEST_READINGS)
                ],
                count=figure.readings if figure else 0,
            )
        )
    _, maker_pm = sheet_figure(film, starting=starting)
    return FilmPage(
        film=_film_out(record, part, sum(piece.length_left_mm for piece in on_rack)),
        tser_percent=_percent(side.tser),
        absorbed_percent=_percent(side.solar_absorbed),
        uv_percent=_percent(side.uv_rejected),
        warranty=warranty_words(film),
        quality=quality_words(film, starting=starting),
        maker_pm_points=100 * maker_pm,
        alone_percent=100 * film_alone(film, starting=starting)[0],
        lots=pages,
    )


def _percent(share: float | None) -> float | None:
    return None if share is None else 100 * share


def remove_reading(session: Session, reading_id: str, *, version: int, person_id: str) -> str:
    """Strike a reading that was wrong; the lot's figure is made from the others. The film's id."""
    return installed_readings(session).remove(reading_id, version=version, person_id=person_id).film_id


def create_film(session: Session, body: FilmFields, *, person_id: str) -> str:
    """A new film, its data checked."""
    record = FilmRecord(facts=_checked_facts(session, body), price_per_m2=body.price_per_m2 or 0.0)
    return films(session).create(record, person_id=person_id).id


def change_film(session: Session, film_id: str, body: FilmChange, *, person_id: str) -> str:
    """A film's new data, checked."""
    check_film_present(session, film_id, where="the list of films")
    price = films(session).get(film_id).price_per_m2 if body.price_per_m2 is None else body.price_per_m2
    record = FilmRecord(id=film_id, version=body.version, facts=_checked_facts(session, body), price_per_m2=price)
    films(session).update(record, person_id=person_id)
    return film_id


def _checked_facts(session: Session, body: FilmFields) -> dict[str, Any]:
    """A film's facts as they are kept; refused where they cannot be."""
    facts = {name: getattr(body, name) for name in FilmFacts.__dataclass_fields__}
    check_film(FilmFacts(**facts), starting=shop_starting_values(session))
    return stored_facts(facts, FilmFacts)


def create_stock(session: Session, body: StockNew, *, person_id: str) -> str:
    """A new roll, offcut or sheet: what is left of it is what came to this rack."""
    check_film_present(session, body.film_id, where="the rack")
    values, left = _stock_values(body)
    _check_label(session, body.label)
    _ask_about_price(body)
    price = body.price
    if price is None:
        price = _price_by_film(session, body.film_id, width_mm=values["width_mm"], length_mm=values["full_length_mm"])
    new = StockRecord(**values, price=price)
    return ledger.receive(session, new, counts(left.mm), person_id=person_id, typed=left.typed).id


def _correct(session: Session, stock_id: str, by: int, typed: str, *, person_id: str, reason: str) -> None:
    if by:
        ledger.move(session, stock_id, MovementKind.CORRECTED, by, person_id=person_id, typed=typed, note=reason)


def change_stock(session: Session, stock_id: str, body: StockChange, *, person_id: str) -> str:
    """New data of a roll, offcut or sheet; another length left is a correction in its ledger."""
    check_film_present(session, body.film_id, where="the rack")
    values, left = _stock_values(body)
    before = ledger.stock_with_left(session, stock_id)
    if before.removed:
        raise ApiError("not_found", f"{before.label} was taken off the rack. Put it back first.")
    _check_label(session, body.label, but=stock_id)
    if before.price:
        _ask_about_price(body)
    by = counts(left.mm) - before.left_count
    if by and not body.reason:
        words = f"{before.length_left_typed} is what the ledger says. Say why it is {left.typed} now."
        raise CoreError(words, fields={"reason": words})
    if -by > before.left_count or left.mm < 0:
        raise CoreError("No roll has less than nothing left.", fields={"length_left": "At least 0."})
    besides = {"length_left": (before.length_left_typed, left.typed)} if by else None
    price = before.price if body.price is None else body.price
    changed = replace(before, version=body.version, price=price, **values)
    stock(session).update(changed, person_id=person_id, besides=besides)
    _correct(session, stock_id, by, left.typed, person_id=person_id, reason=body.reason)
    return stock_id


def bin_stock(session: Session, stock_id: str, body: BinBody, *, person_id: str) -> str:
    """Throw away what is left of a piece of stock: booked as waste, with the reason, and off the rack."""
    record = ledger.stock_with_left(session, stock_id)
    if record.removed:
        raise ApiError("not_found", f"{record.label} was taken off the rack already.")
    ledger.move(
        session, stock_id, MovementKind.WASTE, -record.left_count, person_id=person_id, note=body.reason
    )  # fmt: skip
    stock(session).update(replace(record, version=body.version, removed=True), person_id=person_id, action="binned")
    return stock_id


def _check_label(session: Session, label: str, *, but: str = "") -> None:
    """Refuse a label that other stock on the rack has: nobody could tell the two apart."""
    for other in stock(session).all():
        if other.id != but and other.label.casefold() == label.strip().casefold():
            raise CoreError(
                f"There is already a {other.kind} called “{other.label}” on the rack. Give this one its own label.",
                fields={"label": "Taken."},
            )


def _ask_about_price(body: StockNew) -> None:
    if body.price == 0 and not body.sure:
        words = "A price of 0 makes this film free in every plan. Is that right?"
        raise ApiError("ask_again", words, fields={"price": words})


def _price_by_film(session: Session, film_id: str, *, width_mm: float, length_mm: float) -> float:
    """What stock costs by its film's price on file, where nobody said: who does not see prices puts rolls up too."""
    film = films(session).get(film_id)
    if not film.price_per_m2:
        raise CoreError(
            f"{film.name} has no price on file, and stock without one would be free in every plan. "
            "Whoever sees prices gives the film its price, or puts this on the rack.",
            fields={"price": "Is needed."},
        )
    return round(film.price_per_m2 * width_mm * length_mm / 1e6, 2)


def slit_stock(session: Session, stock_id: str, body: SlitBody, *, person_id: str) -> str:
    """Cut a roll along its length into two narrower ones; the first one's id.

    Raises
    ------
    CoreError
        No roll, nothing left of it, or no two rolls that wide.
    """
    roll = ledger.stock_with_left(session, stock_id)
    if roll.removed:
        raise ApiError("not_found", f"{roll.label} was taken off the rack. Put it back first.")
    if not roll.slittable:
        raise CoreError(f"{roll.label} is said not to be slit. Change that first, if it may be.")
    if roll.kind != "roll" or roll.left_count <= 0:
        raise CoreError(f"{roll.label} is no roll with film left on it, so it cannot be slit.")
    try:
        at = parse_length(body.at)
    except LengthError as error:
        raise CoreError(error.message, fields={"at": error.message}) from error
    if not _NARROWEST_MM <= at.mm <= roll.width_mm - _NARROWEST_MM:
        words = f"Between 2 in and {format_inches(roll.width_mm - _NARROWEST_MM)} in, so that two rolls come of it."
        raise CoreError(words, fields={"at": words})
    widths = ((at.typed, at.mm), (f"{roll.width_mm - at.mm:.4f} mm", roll.width_mm - at.mm))
    stock(session).update(replace(roll, version=body.version, removed=True), person_id=person_id, action="slit")
    ledger.move(
        session, roll.id, MovementKind.KEPT, -roll.left_count, person_id=person_id, note="slit into two"
    )  # fmt: skip
    near, far = widths
    _half(session, roll, *far, person_id)
    return _half(session, roll, *near, person_id)


def _half(session: Session, roll: StockRecord, typed: str, width_mm: float, person_id: str) -> str:
    """One of the two rolls that come of slitting."""
    labels = {other.label.casefold() for other in stock(session).all()}
    name = f"{roll.label}, {format_inches(width_mm)} in"
    label = next(
        one for one in (name, *(f"{name} ({i})" for i in range(2, 1000))) if one.casefold() not in labels
    )  # fmt: skip
    length = roll.length_left_mm
    half = roll.another(
        label=label, width_typed=typed, width_mm=width_mm, full_length_typed=roll.length_left_typed,
        full_length_mm=length, price=round(roll.price_per_m2 * width_mm * length / 1e6, 2),
    )  # fmt: skip
    return ledger.receive(
        session, half, roll.left_count, person_id=person_id, typed=roll.length_left_typed,
        note=f"slit off {roll.label}",
    ).id  # fmt: skip


def _stock_values(body: StockNew) -> tuple[dict[str, Any], Length]:
    """A record's values, as far as the body tells them, and what is left of it."""
    problems: dict[str, str] = {}
    sizes: dict[str, Length] = {}
    for name in ("width", "full_length", "length_left"):
        try:
            sizes[name] = parse_length(getattr(body, name))
        except LengthError as error:
            problems[name] = error.message
    if not problems:
        problems = _size_problems({name: length.mm for name, length in sizes.items()})
    if problems:
        place, sentence = next(iter(problems.items()))
        raise CoreError(f"{place.replace('_', ' ').capitalize()}: {sentence}", fields=problems)
    told = body.model_fields_set & {one.name for one in fields(RackFacts)}
    values: dict[str, Any] = {name: getattr(body, name) for name in ("film_id", "label", *told - _DAYS)}
    values["kind"] = body.kind.value
    for name in told & _DAYS:
        day = getattr(body, name)
        values[name] = day.isoformat() if day else ""
    for name in ("width", "full_length"):
        values |= {f"{name}_typed": sizes[name].typed, f"{name}_mm": sizes[name].mm}
    return values, sizes["length_left"]


def _size_problems(sizes: Mapping[str, float]) -> dict[str, str]:
    problems = {}
    if not _NARROWEST_MM <= sizes["width"] <= _WIDEST_MM:
        problems["width"] = "Film comes 2 to 120 in wide. Read the roll's label again."
    if not 0 < sizes["full_length"] <= _LONGEST_MM:
        problems["full_length"] = "More than nothing and at most 500 ft."
    if sizes["length_left"] > sizes["full_length"]:
        problems["length_left"] = "No more can be left than the full length."
    return problems

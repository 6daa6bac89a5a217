"""What can be done with films and stock."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.job_documents import film_part, shop_starting_values
from elumbra.api.rack.schemas import (
    FilmChange,
    FilmFields,
    FilmOut,
    RackOut,
    StockChange,
    StockFields,
    StockOut,
)
from elumbra.core.errors import CoreError, FilmError, LengthError
from elumbra.core.film import check_film
from elumbra.core.units import inches, parse_length
from elumbra.documents.job_file import core_film
from elumbra.storage.records import FilmRecord, StockRecord
from elumbra.storage.store import films, stock, windows

_NARROWEST_MM, _WIDEST_MM = inches(2), inches(120)
_LONGEST_MM = inches(12 * 500)


def rack(session: Session) -> RackOut:
    """All films and all stock."""
    all_stock = stock(session).all(order="label")
    lengths: dict[str, float] = {}
    for record in all_stock:
        lengths[record.film_id] = lengths.get(record.film_id, 0.0) + record.length_left_mm
    return RackOut(
        films=[_film_out(film, lengths.get(film.id, 0.0)) for film in films(session).all(order="name")],
        stock=[_stock_out(record) for record in all_stock],
    )


def _film_out(film: FilmRecord, stocked_mm: float) -> FilmOut:
    values = {name: getattr(film, name) for name in FilmFields.model_fields}
    return FilmOut(id=film.id, version=film.version, stocked_mm=stocked_mm, **values)


def _stock_out(record: StockRecord) -> StockOut:
    return StockOut.model_validate(
        {
            "id": record.id,
            "version": record.version,
            "film_id": record.film_id,
            "kind": record.kind,
            "label": record.label,
            "width": record.width_typed,
            "full_length": record.full_length_typed,
            "length_left": record.length_left_typed,
            "price": record.price,
            "lot": record.lot,
            "liner": record.liner,
            "width_mm": record.width_mm,
            "full_length_mm": record.full_length_mm,
            "length_left_mm": record.length_left_mm,
            "price_per_m2": record.price_per_m2,
        }
    )


def create_film(session: Session, body: FilmFields, *, person_id: str) -> RackOut:
    """A new film, its data checked."""
    record = films(session).create(body.model_dump(mode="json"), person_id=person_id)
    _check(session, record)
    return rack(session)


def change_film(session: Session, film_id: str, body: FilmChange, *, person_id: str) -> RackOut:
    """A film's new data, checked."""
    values = body.model_dump(mode="json", exclude={"version"})
    _check(session, films(session).update(film_id, values, version=body.version, person_id=person_id))
    return rack(session)


def _check(session: Session, record: FilmRecord) -> None:
    """Refuse film data that cannot be; the transaction is rolled back by the refusal."""
    percents = (record.vlt_percent, record.reflectance_percent, record.solar_transmittance_percent,
                record.solar_reflectance_percent, record.shrink_limit_percent)  # fmt: skip
    names = ("vlt", "reflectance", "solar_transmittance", "solar_reflectance", "shrink_limit")
    outside = {
        f"{name}_percent": f"{percent:g} % is outside 0 to 100 %."
        for name, percent in zip(names, percents, strict=True)
        if percent is not None and not 0 <= percent <= 100
    }
    if outside:
        raise FilmError(f"{record.name}: {next(iter(outside.values()))}", fields=outside)
    try:
        check_film(core_film(film_part(record)), starting=shop_starting_values(session))
    except FilmError as error:
        light = set(names)
        fields = {f"{key}_percent" if key in light else key: text for key, text in error.fields.items()}
        raise FilmError(error.message, fields=fields) from error


def remove_film(session: Session, film_id: str, *, version: int, person_id: str) -> RackOut:
    """Take a film off file.

    Raises
    ------
    CoreError
        A job or stock still names it.
    """
    on_jobs = len(windows(session).all(film_id=film_id))
    on_rack = len(stock(session).all(film_id=film_id))
    if on_jobs or on_rack:
        raise CoreError(
            f"{on_jobs} windows and {on_rack} pieces of stock name this film. Choose another film for them first."
        )
    films(session).remove(film_id, version=version, person_id=person_id)
    return rack(session)


def create_stock(session: Session, body: StockFields, *, person_id: str) -> RackOut:
    """A new roll, offcut or sheet."""
    films(session).get(body.film_id)
    stock(session).create(_stock_values(body), person_id=person_id)
    return rack(session)


def change_stock(session: Session, stock_id: str, body: StockChange, *, person_id: str) -> RackOut:
    """New data of a roll, offcut or sheet."""
    films(session).get(body.film_id)
    stock(session).update(stock_id, _stock_values(body), version=body.version, person_id=person_id)
    return rack(session)


def remove_stock(session: Session, stock_id: str, *, version: int, person_id: str) -> RackOut:
    """Take stock off the rack; ``restore_stock`` undoes it."""
    stock(session).remove(stock_id, version=version, person_id=person_id)
    return rack(session)


def restore_stock(session: Session, stock_id: str, *, version: int, person_id: str) -> RackOut:
    """Put stock back on the rack."""
    stock(session).restore(stock_id, version=version, person_id=person_id)
    return rack(session)


def _stock_values(body: StockFields) -> Mapping[str, Any]:
    problems: dict[str, str] = {}
    sizes: dict[str, tuple[str, float]] = {}
    for name in ("width", "full_length", "length_left"):
        try:
            length = parse_length(getattr(body, name))
            sizes[name] = (length.typed, length.mm)
        except LengthError as error:
            problems[name] = error.message
    if not problems:
        problems = _size_problems({name: mm for name, (_, mm) in sizes.items()})
    if problems:
        place, sentence = next(iter(problems.items()))
        raise CoreError(f"{place.replace('_', ' ').capitalize()}: {sentence}", fields=problems)
    values: dict[str, Any] = body.model_dump(mode="json", include={"film_id", "kind", "label", "price", "lot", "liner"})
    for name, (typed, mm) in sizes.items():
        values |= {f"{name}_typed": typed, f"{name}_mm": mm}
    return values


def _size_problems(sizes: Mapping[str, float]) -> dict[str, str]:
    problems = {}
    if not _NARROWEST_MM <= sizes["width"] <= _WIDEST_MM:
        problems["width"] = "Film comes 2 to 120 in wide. Read the roll's label again."
    if not 0 < sizes["full_length"] <= _LONGEST_MM:
        problems["full_length"] = "More than nothing and at most 500 ft."
    if sizes["length_left"] > sizes["full_length"]:
        problems["length_left"] = "No more can be left than the full length."
    return problems

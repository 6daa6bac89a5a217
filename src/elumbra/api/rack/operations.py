"""What can be done with films and stock."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.job_documents import figure_of_lot, film_part, shop_starting_values
from elumbra.api.rack.schemas import (
    FilmChange,
    FilmFields,
    FilmOut,
    FilmPage,
    LotPage,
    LotReading,
    RackOut,
    StockChange,
    StockFields,
    StockOut,
)
from elumbra.core.errors import CoreError, FilmError, LengthError
from elumbra.core.film import check_film
from elumbra.core.light import film_alone, heat_side, quality_words, sheet_figure, warranty_words
from elumbra.core.units import inches, parse_length
from elumbra.documents.job_file import core_film
from elumbra.storage.records import FilmRecord, StockRecord
from elumbra.storage.store import films, installed_readings, jobs, stock, windows

_SHARES = (
    "vlt", "reflectance", "reflectance_inside", "solar_transmittance", "solar_reflectance", "shrink_limit",
    "uv_rejection",
)  # fmt: skip
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


def film_page(session: Session, film_id: str) -> FilmPage:
    """What a film does, and what readings after installation say of its lots."""
    record = films(session).get(film_id)
    starting = shop_starting_values(session)
    film = core_film(film_part(record))
    side = heat_side(film, bare_vlt=None, combined_vlt=None, starting=starting)
    on_rack = [piece for piece in stock(session).all(film_id=film_id) if piece.length_left_mm > 0]
    lots_on_rack = {piece.lot for piece in on_rack}
    readings = installed_readings(session).all(order="on_day", film_id=film_id)
    titles = {job.id: job.title for job in jobs(session).all()}
    labels = {window.id: window.label for window in windows(session).all(film_id=film_id)}
    pages = []
    for lot in sorted(lots_on_rack | {reading.lot for reading in readings}):
        if not lot:
            continue
        figure = figure_of_lot(record, lot, readings, starting)
        pages.append(
            LotPage(
                lot=lot,
                on_rack=lot in lots_on_rack,
                in_use=lots_on_rack == {lot} and figure is not None,
                vlt_percent=100 * figure.vlt if figure else None,
                pm_points=100 * figure.pm if figure else None,
                readings=[
                    LotReading(
                        id=reading.id,
                        job_id=reading.job_id,
                        job_title=titles.get(reading.job_id, "a job taken off the lists"),
                        window=labels.get(reading.window_id, "a window"),
                        predicted_percent=reading.predicted_percent,
                        read_percent=reading.read_percent,
                        on_day=reading.on_day,
                    )
                    for reading in readings
                    if reading.lot == lot
                ],
            )
        )
    _, maker_pm = sheet_figure(film, starting=starting)
    return FilmPage(
        film=_film_out(record, sum(piece.length_left_mm for piece in on_rack)),
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


def remove_reading(session: Session, reading_id: str, *, person_id: str) -> FilmPage:
    """Strike a reading that was wrong; the lot's figure is made from the others."""
    record = installed_readings(session).get(reading_id)
    installed_readings(session).remove(reading_id, version=record.version, person_id=person_id)
    return film_page(session, record.film_id)


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
    outside = {
        f"{name}_percent": f"{percent:g} % is outside 0 to 100 %."
        for name in _SHARES
        if (percent := getattr(record, f"{name}_percent")) is not None and not 0 <= percent <= 100
    }
    if record.warranty == "years" and record.warranty_years is None:
        outside["warranty_years"] = "How many years?"
    if outside:
        raise FilmError(f"{record.name}: {next(iter(outside.values()))}", fields=outside)
    try:
        check_film(core_film(film_part(record)), starting=shop_starting_values(session))
    except FilmError as error:
        fields = {f"{key}_percent" if key in _SHARES else key: text for key, text in error.fields.items()}
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

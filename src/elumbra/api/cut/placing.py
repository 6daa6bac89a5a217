"""Pieces moved by hand: whether one can be cut where somebody holds it."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.base.refusals import ApiError
from elumbra.api.cut.operations import job_document
from elumbra.api.cut.schemas import PlaceOut, PlaceTry
from elumbra.car import assemble
from elumbra.core.film import Stock
from elumbra.core.nest import HandPlace, PatternRules, Tried, standing_places, try_pattern, try_place
from elumbra.core.work import Car, ToCut
from elumbra.documents.job_core import core_stock
from elumbra.storage import clock, data_files
from elumbra.storage.store import jobs


def try_piece(session: Session, job_id: str, body: PlaceTry) -> PlaceOut:
    """Try a place for a piece of a job; patterns are tried as if nothing else lay on that stock but what was put there.

    Raises
    ------
    ApiError
        Nothing is cut for that window.
    """
    document = job_document(session, jobs(session).get_present(job_id))
    car = assemble(document, data_files.law_file(), data_files.starting_values(), today=clock.today_iso())
    piece_id = f"{body.window_id}:{body.part}" if body.part else body.window_id
    to_cut = next((one for one in car.to_cut.values() if piece_id in one.panes), None)
    if to_cut is None:
        raise ApiError("not_found", "Nothing is cut for this window as the job stands.")
    stocks = [core_stock(part) for part in document.stock if part.film == to_cut.film_id]
    place = HandPlace(body.stock_id, body.x_mm, max(0.0, body.y_mm), body.turn)
    tried = _tried(piece_id, place, to_cut, [one for one in stocks if one.length > 0], car)
    at = tried.place
    return PlaceOut(
        stock_id=at.stock, x_mm=at.x, y_mm=at.y, turn=at.turn, along_mm=tried.along, across_mm=tried.across,
        refused=tried.refused,
    )  # fmt: skip


def _tried(piece_id: str, place: HandPlace, to_cut: ToCut, stocks: list[Stock], car: Car) -> Tried:
    held = {name: at for name, at in to_cut.places.items() if name != piece_id}
    for blank in to_cut.blanks:
        if blank.id == piece_id:
            standing, _ = standing_places(held, to_cut.blanks, stocks)
            return try_place(blank, place, held=standing, blanks=to_cut.blanks, stocks=stocks)
    rules = PatternRules.from_starting(car.starting)
    pattern = next(one for one in to_cut.patterns if one.id == piece_id)
    by_id = {stock.id: stock for stock in stocks}
    sizes = {one.id: one for one in to_cut.patterns}
    flipped = {name: _flipped(at, sizes[name].across(at.turn), by_id) for name, at in held.items() if name in sizes}
    tried = try_pattern(
        pattern, _flipped(place, pattern.across(place.turn), by_id), held=flipped, patterns=to_cut.patterns,
        stocks=stocks, rules=rules,
    )  # fmt: skip
    return Tried(_flipped(tried.place, tried.across, by_id), tried.along, tried.across, tried.refused)


def _flipped(place: HandPlace, across: float, stocks: dict[str, Stock]) -> HandPlace:
    return place.seen_otherwise(stocks[place.stock], across) if place.stock in stocks else place

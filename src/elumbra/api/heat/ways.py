"""Ways to get film onto a window's glass, with what each costs beside the piece as it is."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.api.heat.operations import with_window
from elumbra.api.heat.schemas import WayOut, WaysOutOut
from elumbra.api.heat.view import interval_out
from elumbra.car import stock_part
from elumbra.car.shop import Shop
from elumbra.core.cut import blank_for
from elumbra.core.errors import CoreError
from elumbra.core.film import Film, Stock
from elumbra.core.nest import Costing, plan_cuts
from elumbra.core.work import (
    Car,
    Shrinking,
    Window,
    heat_view,
    interval_words,
    percent,
    pieces_of,
    window_shrinking,
)
from elumbra.documents.job_core import core_stock
from elumbra.storage.store import windows

_MOST_FILMS = 3
Kind = Literal["as_it_is", "turned", "strips", "film", "anchor"]


def ways_of(session: Session, window_id: str) -> WaysOutOut:
    """The piece as it is, at the best anchor, the other way round, in strips, of other films: each with its cost."""
    record = windows(session).get_present(window_id)
    car, _, shop = load_car(session, record.job_id)
    window = replace(car.window(window_id), one_piece_because="")
    if car.panes[window_id].outline is None:
        return WaysOutOut(ways=[])
    plain = replace(window, in_strips=False)
    tried: list[tuple[Kind, str, Window]] = [("as_it_is", "One piece, as it is", plain)]
    best = replace(plain, cross_line_mm=None, cross_slope=0.0)
    if window.cross_line_mm is not None:
        tried.append(("anchor", "Cross line at the best height", best))
    turned = replace(best, film_turned=not window.film_turned)
    tried.append(("turned", "The usual way round" if window.film_turned else "The other way round", turned))
    if not window.is_strip and (window.in_strips or not _takes(car, plain)):
        tried.append(("strips", "In strips", replace(best, film_turned=False, in_strips=True)))
    told = [_way(car, shop, *one) for one in tried]
    told += [_way(car, shop, "film", film.name, replace(best, film_id=film.id)) for film in _films(car, shop, best)]
    base = told[0].dollars
    for way in told[1:]:
        if base is not None and way.dollars is not None:
            way.more_dollars = round(way.dollars - base, 2)
    return WaysOutOut(ways=told)


def _takes(car: Car, window: Window) -> bool:
    """Whether its film takes this glass in one piece."""
    try:
        return not window_shrinking(with_window(car, window, None), window.id).held
    except CoreError:
        return False


def _films(car: Car, shop: Shop, window: Window) -> list[Film]:
    """Films on the rack that take this glass in one piece, nearest in shade to the one that is chosen."""
    chosen = car.job.films.get(window.film_id or "")
    found = []
    for film in shop.on_file:
        if film.id == window.film_id or film.id not in shop.stocked:
            continue
        try:
            tried = with_window(car, replace(window, film_id=film.id), film)
            if not window_shrinking(tried, window.id).held:
                found.append(film)
        except CoreError:
            continue
    shade = chosen.vlt if chosen else 0.0
    return sorted(found, key=lambda film: (abs(film.vlt - shade), film.name))[:_MOST_FILMS]


def _way(car: Car, shop: Shop, kind: Kind, words: str, window: Window) -> WayOut:
    on_file = {film.id: film for film in shop.on_file}
    film = car.job.films.get(window.film_id or "") or on_file.get(window.film_id or "")
    tried = with_window(car, window, film)
    out = WayOut(
        kind=kind, words=words, why="", works=False, word=None, shrink=None, enough=False, dollars=None,
        more_dollars=None, minutes=0.0, film_id=window.film_id, film_turned=window.film_turned,
        in_strips=window.in_strips,
    )  # fmt: skip
    try:
        shrunk = window_shrinking(tried, window.id)
        view = heat_view(tried, window.id, shrunk)
    except CoreError as error:
        return out.model_copy(update={"why": error.message})
    strips = len(shrunk.strips)
    word = view.verdict.word
    works = strips > 0 or word.releases
    why = f"{interval_words(view.verdict.shrink)}, film takes {percent(shrunk.bears.limit)} %: {word.value}."
    if kind == "strips":
        words = f"{strips} strips" if strips > 1 else "One strip does"
        most = percent(max(strip.largest for strip in shrunk.strips))
        on_lines = all(strip.on_line for strip in shrunk.strips[:-1])
        where = "on a defroster line" if on_lines else "where it is even: no line was read"
        why = f"Each at most {most} %, overlapped {where}."
    dollars = _dollars(tried, shop, window, shrunk)
    return out.model_copy(
        update={
            "words": words, "why": why, "works": works, "word": None if strips else word,
            "shrink": interval_out(view.verdict.shrink), "minutes": round(view.plan.minutes, 1),
            "enough": dollars is not None, "dollars": dollars,
        }
    )  # fmt: skip


def _dollars(car: Car, shop: Shop, window: Window, shrunk: Shrinking) -> float | None:
    """Film and cutting of this window alone, by the cheapest plan on what is free of that film."""
    method = window.cut_method or car.job.vehicle.cut_method
    held = shop.held_by_others("")
    parts = [stock_part(one, held.get(one.id, 0)) for one in shop.stock if one.film_id == window.film_id]
    stocks: list[Stock] = [core_stock(part) for part in parts if core_stock(part).length > 0]
    if not stocks:
        return None
    blanks = [
        blank_for(piece, starting=car.starting) for piece in pieces_of(window, car.panes[window.id], shrunk, "", method)
    ]
    costing = Costing.from_starting(car.starting)
    plan = list(plan_cuts(blanks, stocks, costing, roll_widths=car.starting.roll_widths_mm))[-1]
    return None if plan.layout.unplaced else round(plan.score.net, 2)

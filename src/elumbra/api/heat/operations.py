"""How film lies on a window's glass, and the ways out where it will not. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.api.heat.schemas import (
    CarHeatOut,
    CarWindowOut,
    SchoolAsk,
    SchoolBody,
    SchoolOut,
    ShrinkOut,
    ShrinkQuery,
)
from elumbra.api.heat.view import view_out
from elumbra.car.bay import SHRINK_SCHOOL, shrink_preferred
from elumbra.car.shop import Shop
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.shrink import LABELS, OPTIONS, Ask, ShrinkWord
from elumbra.core.work import (
    Car,
    Station,
    Window,
    interval_words,
    window_shrinking,
    window_view,
)
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.store import windows


def shrink_of(session: Session, window_id: str, query: ShrinkQuery) -> ShrinkOut:
    """One window at Heat, as it was decided or as it is tried."""
    record = windows(session).get_present(window_id)
    car, _, shop = load_car(session, record.job_id)
    window = _tried(car.window(window_id), query)
    film = _film(car, shop, window)
    pane = car.panes[window_id]
    out = ShrinkOut(
        window_id=window_id, film=film.name if film else "", crowns_read=pane.crowns_read, tells=_tells(car, window),
        view=None, stuck="", mend_at=None,
    )  # fmt: skip
    if pane.problem or pane.outline is None:
        told = pane.problem or "Not measured. Read its greatest width and height; then it is known how film lies on it."
        return out.model_copy(update={"stuck": told, "mend_at": Station.SURVEY})
    tried = with_window(car, window, film)
    try:
        view = window_view(tried, window_id, part=query.part, preferred=shrink_preferred(session))
    except ReadingError as error:
        return out.model_copy(update={"stuck": error.message, "mend_at": Station.SURVEY})
    except CoreError as error:
        return out.model_copy(update={"stuck": error.message, "mend_at": Station.HEAT})
    whole = window_shrinking(tried, window_id)
    return out.model_copy(update={"view": view_out(view, whole, query.part, shop)})


def with_window(car: Car, window: Window, film: Film | None) -> Car:
    """The same car with one window as it is tried; the rest of it is not looked over again."""
    others = tuple(window if one.id == window.id else one for one in car.job.windows)
    films = {**car.job.films, **({film.id: film} if film else {})}
    return replace(car, job=replace(car.job, windows=others, films=films))


def _tried(window: Window, query: ShrinkQuery) -> Window:
    if query.film_id is not None:
        window = replace(window, film_id=query.film_id)
    turned = window.film_turned if query.turned is None else query.turned
    if turned != window.film_turned or query.best:
        window = replace(window, film_turned=turned, cross_line_mm=None, cross_slope=0.0)
    if query.height_mm is not None:
        window = replace(window, cross_line_mm=query.height_mm, cross_slope=query.slope)
    return window


def _film(car: Car, shop: Shop, window: Window) -> Film | None:
    on_file = {film.id: film for film in shop.on_file}
    return car.job.films.get(window.film_id or "") or on_file.get(window.film_id or "")


def _tells(car: Car, window: Window) -> str:
    """What of the curve is known."""
    pane = car.panes[window.id]
    if pane.crowns is None:
        return "Called flat at Survey."
    across, up = ("read" if one.key else "as its class lets expect" for one in (pane.crowns.across, pane.crowns.up))
    return f"Crown across {across}, crown up {up}." if across != up else f"Both crowns {across}."


def car_heat(session: Session, job_id: str) -> CarHeatOut:
    """Every window with film at a glance."""
    car, _, _ = load_car(session, job_id)
    told = [_at_a_glance(car, window) for window in car.job.windows if window.film_id is not None]
    over = sum(one.word is ShrinkWord.WILL_NOT for one in told)
    stuck = sum(bool(one.stuck) for one in told)
    if not told:
        headline = "No film chosen yet"
    else:
        fine = len(told) - over - stuck
        parts = [f"{fine} of {len(told)} windows take their film in one piece"]
        parts += [f"{over} will not"] if over else []
        parts += [f"{stuck} not known"] if stuck else []
        headline = "; ".join(parts)
    return CarHeatOut(windows=told, minutes=round(sum(one.minutes for one in told), 1), headline=headline)


def _at_a_glance(car: Car, window: Window) -> CarWindowOut:
    out = CarWindowOut(
        window_id=window.id, label=window.label, sentence="", word=None, words="", minutes=0.0, stuck=""
    )  # fmt: skip
    pane = car.panes[window.id]
    if pane.problem or pane.outline is None:
        return out.model_copy(update={"stuck": pane.problem or "not measured"})
    try:
        view = window_view(car, window.id)
    except CoreError as error:
        return out.model_copy(update={"stuck": error.message})
    return out.model_copy(
        update={
            "sentence": view.sentence, "word": view.verdict.word, "words": interval_words(view.verdict.shrink),
            "minutes": round(view.plan.minutes, 1),
        }
    )  # fmt: skip


def school(session: Session) -> SchoolOut:
    """The shop's own school."""
    value, version = kept(session, SHRINK_SCHOOL, {})
    asks = [SchoolAsk(ask=ask, label=LABELS[ask], options=dict(OPTIONS[ask])) for ask in _PREFERRED]
    said = {ask.value: value.get(ask.value) for ask in _PREFERRED}
    return SchoolOut(asks=asks, **said, version=version)


_PREFERRED = (Ask.WATER, Ask.HAND, Ask.PLACE)


def set_school(session: Session, body: SchoolBody, *, person_id: str) -> str:
    """Say how the shop shrinks.

    Raises
    ------
    StaleWriteError
        Somebody said so meanwhile.
    """
    value = {ask.value: getattr(body, ask.value) for ask in _PREFERRED}
    return keep(session, SHRINK_SCHOOL, value, version=body.version, person_id=person_id)

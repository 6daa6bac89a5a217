"""How film lies on a window's glass, and the ways out where it will not. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

from sqlalchemy.orm import Session

from elumbra.api.car_view.view import load_car
from elumbra.api.heat.schemas import (
    AdviceOut,
    AnchorOut,
    BiteOut,
    CarHeatOut,
    CarWindowOut,
    ContourOut,
    DifferenceOut,
    FilmForIt,
    FingerOut,
    IntervalOut,
    Ring,
    SchoolBody,
    SchoolOut,
    ShrinkOut,
    ShrinkQuery,
    ShrinkView,
    StripPieceOut,
    ZoneOut,
)
from elumbra.car.shop import Shop
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.geom.polygon import Points
from elumbra.core.shrink import LABELS, Ask, Bears, Difference, Interval, ShrinkWord
from elumbra.core.work import (
    Car,
    HeatView,
    Shrinking,
    Station,
    Window,
    asks_words,
    film_bears,
    interval_words,
    percent,
    window_shrinking,
    window_view,
)
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.store import windows

SCHOOL = "shrink_school"


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
        view = window_view(tried, window_id, part=query.part, preferred=preferred(session))
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


def preferred(session: Session) -> Mapping[str, str]:
    """The shop's own school, question by question."""
    value, _ = kept(session, SCHOOL, {})
    return {name: said for name, said in value.items() if said}


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
    value, version = kept(session, SCHOOL, {})
    return SchoolOut(
        water=value.get("water"), hand=value.get("hand"), place=value.get("place"), version=version
    )  # fmt: skip


def set_school(session: Session, body: SchoolBody, *, person_id: str) -> str:
    """Say how the shop shrinks.

    Raises
    ------
    StaleWriteError
        Somebody said so meanwhile.
    """
    value = {ask.value: getattr(body, ask.value) for ask in (Ask.WATER, Ask.HAND, Ask.PLACE)}
    return keep(session, SCHOOL, value, version=body.version, person_id=person_id)


def view_out(view: HeatView, whole: Shrinking, part: int, shop: Shop) -> ShrinkView:
    """A view as it is sent, of the pane or of one of its strips."""
    rings = view.strip_rings or tuple(strip.ring for strip in whole.strips)  # of one strip, the pane as it is drawn
    bears, plan, placed, piece = view.shrunk.bears, view.plan, view.placed, view.piece
    return ShrinkView(
        sentence=view.sentence,
        word=view.verdict.word,
        shrink=interval_out(view.verdict.shrink),
        limit_percent=round(100 * bears.limit, 3),
        limit_known=view.shrunk.limit_known,
        asks=asks_words(view.verdict),
        held=whole.held,
        flat=view.flat,
        stretch_percent=round(100 * piece.stretch, 3),
        film_area_mm2=round(piece.film_area),
        glass_area_mm2=round(piece.glass_area),
        spare_mm2=round(piece.work),
        anchor=AnchorOut(
            turned=view.shrunk.is_turned,
            height_mm=placed.middle,
            most_mm=view.laid.on.measuring(view.laid.way).most(),
            slope=placed.anchor.slope,
            side_heights_mm=list(placed.sides),
            side_places_mm=list(placed.places),
            best=view.laid.best,
        ),
        outline=ring_out(view.outline),
        cut_line=ring_out(view.line.ring),
        measured=bool(view.laid.on.pane.outline and view.laid.on.pane.outline.measured),
        contours=[
            ContourOut(
                percent=round(100 * one.shrink, 4),
                words=f"{'−' if one.shrink < 0 else ''}{percent(abs(one.shrink))} %",
                is_limit=one.is_limit,
                lines=[ring_out(line) for line in one.lines],
            )
            for one in view.contours
        ],
        fingers=[
            FingerOut(quarter=one.quarter, line=[[round(x, 1), round(y, 1)] for x, y in (one.start, one.end)])
            for one in view.fingers
        ],
        bites=[BiteOut(number=one.number, quarter=one.quarter, ring=ring_out(one.ring)) for one in view.bites],
        side_lines_mm=[round(one, 1) for one in plan.side_lines],
        from_edges_mm=plan.from_edges,
        zones=[
            ZoneOut(
                quarter=zone.quarter,
                word=zone.word,
                largest_percent=round(100 * zone.largest, 3),
                words=f"{percent(zone.largest)} %",
                spare_mm=round(zone.spare, 1),
                fingers=len(zone.fingers),
                finger_height_mm=round(zone.height, 1),
                bites=len(zone.bites),
                minutes=round(zone.minutes, 1),
            )
            for zone in plan.zones
        ],
        minutes=round(plan.minutes, 1),
        ridges_shrink=plan.ridges_shrink,
        profile_across=ring_out(view.across),
        profile_up=ring_out(view.up),
        school=[
            AdviceOut(
                ask=one.ask, label=LABELS[one.ask], words=one.words, why=one.why, section=one.section,
                overruled=one.overruled,
            )
            for one in view.school
        ],
        steps=list(view.steps),
        cautions=list(view.cautions),
        temperature=view.temperature,
        why=list(view.why),
        projection=_difference(view.projection),
        projected_outline=ring_out(view.projected) if view.projected is not None else [],
        developed=_difference(view.developed),
        strips=[
            StripPieceOut(
                number=number,
                height_mm=strip.high - strip.low,
                words=f"{percent(strip.largest)} %",
                on_line=strip.on_line,
                ring=ring_out(ring),
            )
            for number, (strip, ring) in enumerate(zip(whole.strips, rings, strict=True), start=1)
        ],
        part=part if whole.strips else 0,
        films=_films(view, shop),
    )  # fmt: skip


def _films(view: HeatView, shop: Shop) -> list[FilmForIt]:
    """Every film on file on the same glass, as it lies now."""
    starting = view.laid.on.starting
    found = []
    for film in shop.on_file:
        try:
            bears: Bears = film_bears(film, starting=starting)
        except CoreError:
            continue
        found.append(
            FilmForIt(
                film_id=film.id, name=film.name, vlt_percent=round(100 * film.vlt, 1),
                limit_percent=round(100 * bears.limit, 2), limit_known=film.shrink_limit is not None,
                stocked=film.id in shop.stocked, word=bears.word(view.verdict.shrink.high),
            )
        )  # fmt: skip
    return found


def interval_out(shrink: Interval) -> IntervalOut:
    """An interval as it is sent."""
    return IntervalOut(
        percent=round(100 * shrink.value, 3), low_percent=round(100 * shrink.low, 3),
        high_percent=round(100 * shrink.high, 3), words=interval_words(shrink),
    )  # fmt: skip


def _difference(one: Difference | None) -> DifferenceOut | None:
    if one is None:
        return None
    return DifferenceOut(
        largest_mm=round(one.largest, 2), wider_mm=round(one.wider, 2), taller_mm=round(one.taller, 2)
    )  # fmt: skip


def ring_out(points: Points) -> Ring:
    """Points as they are sent, to a hundredth of a millimetre."""
    return [[round(x, 2), round(y, 2)] for x, y in points.tolist()]

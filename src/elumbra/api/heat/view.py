"""A window's view at Heat as it is sent."""

from __future__ import annotations

from elumbra.api.heat.schemas import (
    AdviceOut,
    AnchorOut,
    BiteOut,
    ContourOut,
    DifferenceOut,
    FilmForIt,
    FingerOut,
    IntervalOut,
    Ring,
    ShrinkView,
    StripPieceOut,
    ZoneOut,
)
from elumbra.car.shop import Shop
from elumbra.core.errors import CoreError
from elumbra.core.geom.polygon import Points
from elumbra.core.shrink import LABELS, Bears, Difference, Interval
from elumbra.core.work import (
    HeatView,
    Shrinking,
    asks_words,
    film_bears,
    interval_words,
    percent,
)


def view_out(view: HeatView, whole: Shrinking, part: int, shop: Shop) -> ShrinkView:
    """A view as it is sent, of the pane or of one of its strips."""
    bears, plan, piece = view.shrunk.bears, view.plan, view.piece
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
        anchor=_anchor(view),
        outline=ring_out(view.outline),
        cut_line=ring_out(view.line.ring),
        measured=bool(view.laid.on.pane.outline and view.laid.on.pane.outline.measured),
        contours=_contours(view),
        fingers=[
            FingerOut(quarter=one.quarter, line=[[round(x, 1), round(y, 1)] for x, y in (one.start, one.end)])
            for one in view.fingers
        ],
        bites=[BiteOut(number=one.number, quarter=one.quarter, ring=ring_out(one.ring)) for one in view.bites],
        side_lines_mm=[round(one, 1) for one in plan.side_lines],
        from_edges_mm=plan.from_edges,
        zones=_zones(view),
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
        strips=_strips(view, whole),
        part=part if whole.strips else 0,
        films=_films(view, shop),
    )  # fmt: skip


def _anchor(view: HeatView) -> AnchorOut:
    placed = view.placed
    return AnchorOut(
        turned=view.shrunk.is_turned,
        height_mm=placed.middle,
        most_mm=view.laid.on.measuring(view.laid.way).most(),
        slope=placed.anchor.slope,
        side_heights_mm=list(placed.sides),
        side_places_mm=list(placed.places),
        best=view.laid.best,
    )


def _contours(view: HeatView) -> list[ContourOut]:
    return [
        ContourOut(
            percent=round(100 * one.shrink, 4),
            words=f"{'−' if one.shrink < 0 else ''}{percent(abs(one.shrink))} %",
            is_limit=one.is_limit,
            lines=[ring_out(line) for line in one.lines],
        )
        for one in view.contours
    ]


def _zones(view: HeatView) -> list[ZoneOut]:
    return [
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
        for zone in view.plan.zones
    ]


def _strips(view: HeatView, whole: Shrinking) -> list[StripPieceOut]:
    """All strips; of one strip's view, as they lie on the pane's drawing."""
    rings = view.strip_rings or tuple(strip.ring for strip in whole.strips)
    return [
        StripPieceOut(
            number=number,
            height_mm=strip.high - strip.low,
            words=f"{percent(strip.largest)} %",
            on_line=strip.on_line,
            ring=ring_out(ring),
        )
        for number, (strip, ring) in enumerate(zip(whole.strips, rings, strict=True), start=1)
    ]


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

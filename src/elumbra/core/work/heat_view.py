"""Everything that is shown of a window's shrink, in numbers: one view for screen, wall sheet and files.

Drawings are of the flat film as it lies on the glass seen from outside: x right, y up, the cross line's middle
at 0 [mm].
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from elumbra.core.cut import CutLine, CutMethod, PaneToCut, pattern_for
from elumbra.core.errors import CoreError, ReadingError
from elumbra.core.film import Film
from elumbra.core.geom import span_at
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import DOORS, Curve
from elumbra.core.light import break_caution
from elumbra.core.measure import label
from elumbra.core.shrink import (
    Advice,
    Contour,
    Difference,
    HeatPlan,
    Net,
    Piece,
    Placed,
    Quarter,
    Required,
    ShrinkWord,
    Strip,
    Unrolled,
    Verdict,
    contours,
    difference,
    fine,
    laid_over,
    profile,
    school_of,
    upright,
)
from elumbra.core.starting import StartingValues
from elumbra.core.survey import ReadBy, length_of
from elumbra.core.units import format_inches
from elumbra.core.work.car import Car
from elumbra.core.work.cutting import piece_of, pieces_of, strip_rings
from elumbra.core.work.facts import follows_of
from elumbra.core.work.heat import Shrinking, of_part, shrinking
from elumbra.core.work.heat_words import interval_words, percent
from elumbra.core.work.job import Window
from elumbra.core.work.laid import Laid
from elumbra.core.work.shade import pane_heat

_CORNER = 0.6  # share of the half width from which a place is a corner
_NEARLY = 0.95
_SEEN = 0.0005  # stretch that is told


@dataclass(frozen=True)
class FingerDrawn:
    """A ridge, from where film begins to stand up to the edge."""

    quarter: Quarter
    start: tuple[float, float]
    end: tuple[float, float]


@dataclass(frozen=True)
class Bite:
    """One bite of heat: a stretch of a quarter, from the cross line outward."""

    quarter: Quarter
    number: int  # in the order of heating, from 1
    ring: Points  # (4, 2)


@dataclass(frozen=True)
class HeatView:
    """One window at Heat."""

    shrunk: Shrinking
    laid: Laid
    verdict: Verdict
    plan: HeatPlan
    placed: Placed
    sentence: str
    outline: Points  # the pane
    line: CutLine  # the cut line, and what it is laid off by
    contours: tuple[Contour, ...]
    fingers: tuple[FingerDrawn, ...]
    bites: tuple[Bite, ...]
    across: Points  # profile along the cross line
    up: Points  # profile at right angles to it
    school: tuple[Advice, ...]
    cautions: tuple[str, ...]
    temperature: str
    steps: tuple[str, ...]
    projection: Difference | None  # the pane as it is seen square on, against the true pattern
    developed: Difference | None  # its drawing laid out, against the true pattern
    projected: Points | None  # the pane as it is seen square on
    strip_rings: tuple[Points, ...]  # of several strips, on the film of the piece in one
    why: tuple[str, ...]
    flat: bool  # glass called flat

    @property
    def piece(self) -> Required:
        """What the piece needs."""
        return self.laid.piece


def window_shrinking(car: Car, window_id: str) -> Shrinking:
    """How a window's film goes on; of a sun strip, its first piece.

    Raises
    ------
    CoreError
        Not measured, or it cannot be laid.
    """
    window, pane = car.window(window_id), car.panes[window_id]
    shrunk = shrinking(window, pane, car.job.films.get(window.film_id or ""), starting=car.starting)
    if shrunk is None or pane.outline is None:
        raise ReadingError("Not measured. Read its greatest width and height.")
    if not window.is_strip:
        return shrunk
    return of_part(shrunk, strip_rings(window, pane.outline, starting=car.starting)[0])


def window_view(car: Car, window_id: str, *, part: int = 0, preferred: Mapping[str, str] | None = None) -> HeatView:
    """A window as a whole, or one of the strips that it is cut in, counted from the top.

    Raises
    ------
    CoreError
        Not measured, or it cannot be laid.
    """
    whole = window_shrinking(car, window_id)
    if not part or not whole.strips:
        return heat_view(car, window_id, whole, preferred=preferred)
    if part > len(whole.strips):
        raise CoreError(f"There is no strip {part}: the pane is cut in {len(whole.strips)}.")
    cut = pieces_of(car.window(window_id), car.panes[window_id], whole, "", CutMethod.PLOTTER)[part - 1]
    strip = of_part(whole, whole.strips[part - 1].ring)
    view = heat_view(car, window_id, strip, cut=cut, preferred=preferred)
    return replace(view, sentence=f"Strip {part} of {len(whole.strips)}: {_lower(view.sentence)}")


def _lower(words: str) -> str:
    return words[0].lower() + words[1:]


def heat_view(
    car: Car,
    window_id: str,
    shrunk: Shrinking,
    *,
    cut: PaneToCut | None = None,
    preferred: Mapping[str, str] | None = None,
) -> HeatView:
    """What is shown of a window whose film lies as ``shrunk`` says.

    Raises
    ------
    CoreError
        It cannot be laid; the message says why and what to do.
    """
    window, starting = car.window(window_id), car.starting
    laid = shrunk.laid
    verdict, plan = shrunk.verdict, laid.plan(shrunk.bears)
    if verdict.foot_only:
        plan = replace(plan, minutes=plan.minutes + starting["snap_minutes"] / 2)  # of its edges, half
    rough = not {"pitted", "oversprayed"}.isdisjoint(window.findings.get("condition", ()))
    outline, projected, developed = _drawings(laid)
    flat = window.measures.curve is Curve.FLAT
    piece = replace(cut or piece_of(window, car.panes[window_id], shrunk), flatten=laid.flatten)
    net, ring = Net(laid.on.glass.face, laid.anchor), laid.piece.ring
    (low, high), (left, right) = span_at(ring, 0, 0.0), span_at(ring, 1, 0.0)
    return HeatView(
        shrunk=shrunk,
        laid=laid,
        verdict=verdict,
        plan=plan,
        placed=laid.placed,
        sentence=sentence(verdict, laid, shrunk.strips),
        outline=outline,
        line=pattern_for(piece, starting=starting)[1],
        contours=_contours(laid, shrunk),
        fingers=_fingers(plan, laid.way),
        bites=_bites(plan, laid.piece, laid.way),
        across=profile(net, (left, 0.0), (right, 0.0)),
        up=profile(net, (0.0, low), (0.0, high)),
        school=school_of(Piece(verdict.word, window.kind, rough, window.is_strip), preferred=preferred),
        cautions=(*_stretched(laid), *_cautions(car, window, car.job.films.get(window.film_id or ""))),
        temperature=temperature_words(starting),
        steps=_steps(verdict, plan, laid, window),
        projection=None if flat else difference(outline, projected),
        developed=None if flat else difference(outline, developed),
        projected=None if flat else laid_over(outline, projected),
        strip_rings=tuple(laid.flatten(fine(strip.ring)) for strip in shrunk.strips),
        why=_why(laid, verdict),
        flat=flat,
    )


def _drawings(laid: Laid) -> tuple[Points, Points, Points]:
    """The pane on the flat film, as it is seen square on, and laid out circle by circle: point by point."""
    drawn = fine(laid.on.ring)
    chart = laid.on.found.charted(drawn)
    projected = laid.on.found.face.points(chart[:, 0], chart[:, 1])[:, :2]
    return laid.flatten(drawn), projected, drawn


def _contours(laid: Laid, shrunk: Shrinking) -> tuple[Contour, ...]:
    piece, bears = laid.piece, shrunk.bears
    levels = contours(laid.field, piece.ring, largest=piece.largest, limit=bears.limit, least=bears.flat)
    return tuple(replace(one, lines=tuple(upright(line, laid.way) for line in one.lines)) for one in levels)


def _fingers(plan: HeatPlan, way: Unrolled) -> tuple[FingerDrawn, ...]:
    return tuple(
        FingerDrawn(zone.quarter, _point(way, finger.u, finger.start), _point(way, finger.u, finger.end))
        for zone in plan.zones
        for finger in zone.fingers
    )


def sentence(verdict: Verdict, laid: Laid, strips: tuple[Strip, ...]) -> str:
    """The answer in one sentence: how many pieces, what it takes, where, against what; where the cross line goes."""
    limit = f"film takes {percent(verdict.bears.limit)} %"
    if strips:
        needed = percent(verdict.shrink.value)
        return f"{len(strips)} strips, each within what the film takes: one piece needs {needed} %, {limit}."
    if verdict.word is ShrinkWord.FLAT:
        return "One piece, lies flat: nothing to shrink."
    if verdict.foot_only:
        return f"One piece, snap-shrink the bottom edge: {_FOOT_UNREAD}"
    height = format_inches(laid.placed.middle)
    line = f"Cross line {height} in above the foot."
    if laid.way is Unrolled.UP:
        line = f"Film turned, its line {height} in from the left edge."
    much = f"{interval_words(verdict.shrink)} {place_words(laid)}, {limit}"
    if verdict.word is ShrinkWord.WILL_NOT:
        return f"Will not shrink in one piece: {much}."
    return f"One piece, {verdict.word.value}: {much}. {line}"


_FOOT_UNREAD = "its curve was not read."


def place_words(laid: Laid) -> str:
    """Where most must go, as an installer says it: ends and corners that need nearly as much are named together."""
    piece = laid.piece
    ring = upright(piece.ring, laid.way)
    half = np.ptp(ring, axis=0) / 2
    off = (ring - (ring.min(axis=0) + half)) / half
    most = piece.shrink >= min(_NEARLY * piece.largest, float(piece.shrink.max()))
    in_corner = np.abs(off[:, 0]) > _CORNER
    corners = bool(np.all(in_corner[most]))
    ends = [end for end, side in (("foot", off[:, 1] < 0), ("head", off[:, 1] >= 0)) if np.any(most & side)]
    sides = [side for side, there in (("left", off[:, 0] < 0), ("right", off[:, 0] >= 0)) if np.any(most & there)]
    if not corners:
        return f"at {' and '.join(ends)}" if len(ends) > 1 else f"at the {ends[0]}"
    height = {"foot": "lower", "head": "upper"}[ends[0]]
    if len(ends) > 1 and len(sides) > 1:
        return "in the corners"
    if len(ends) > 1:
        return f"in the corners on the {sides[0]}"
    return f"in the {height} corners" if len(sides) > 1 else f"in the {height} {sides[0]} corner"


def asks_words(verdict: Verdict) -> str:
    """What reading would settle the verdict, and between which words; empty where none is needed."""
    if not verdict.asks:
        return ""
    low = verdict.bears.word(verdict.shrink.low)
    return f"{label(verdict.asks).capitalize()} settles it: between {low.value} and {verdict.word.value}."


def _why(laid: Laid, verdict: Verdict) -> tuple[str, ...]:
    """Formula, inputs and source of the answer."""
    found, barrel = laid.on.found, laid.on.pane.surface
    across, up = (_bend_words(one) for one in (barrel.radius_across, barrel.radius_up))
    lines = [
        "Lines across the roll keep their length on the glass; between them J'' = −K·J, J = 1 at the cross line.",
        "Film must shrink by 1 − J; K is the Gaussian curvature of the inside face (heart, section 2).",
        f"Glass: {across} across, {up} up; film lies {laid.on.starting['glass_thickness_mm']:g} mm inside it.",
    ]
    if found.crowns is None and found.tells:
        lines.append(f"The face goes by {len(found.tells)} readings' worth of further gaps.")
    bears = verdict.bears
    lines.append(
        f"Lies flat up to {percent(bears.flat)} %, snap up to {percent(bears.snap)} %, card up to "
        f"{percent(bears.card)} %, hard up to the film's limit of {percent(bears.limit)} %: our starting values."
    )
    lines.append("The upper end of the 95 % interval is what counts: not reading never helps.")
    return tuple(lines)


def _bend_words(radius: float | None) -> str:
    return "straight" if radius is None else f"radius {radius / 1000:.2f} m"


def _point(way: Unrolled, u: float, v: float) -> tuple[float, float]:
    x, y = upright(np.array([[u, v]]), way)[0].tolist()
    return x, y


def _bites(plan: HeatPlan, piece: Required, way: Unrolled) -> tuple[Bite, ...]:
    found: list[Bite] = []
    for zone in plan.zones:
        up = zone.quarter in (Quarter.UPPER_LEFT, Quarter.UPPER_RIGHT)
        for start, end in zone.bites:
            tops = [span_at(piece.ring, 0, at)[1 if up else 0] for at in (start, end)]
            ring = np.array([[start, 0.0], [end, 0.0], [end, tops[1]], [start, tops[0]]])
            found.append(Bite(zone.quarter, len(found) + 1, upright(ring, way)))
    return tuple(found)


def _stretched(laid: Laid) -> tuple[str, ...]:
    """Where film would have to stretch."""
    if laid.piece.stretch < _SEEN:
        return ()
    most = percent(laid.piece.stretch)
    return (f"Where the glass bends the other way film would have to stretch by up to {most} %: there it stands off.",)


def temperature_words(starting: StartingValues) -> str:
    """The band in which film is worked, and where to stop."""

    def both(name: str) -> str:
        celsius = starting[name]
        return f"{celsius:.0f} °C ({celsius * 9 / 5 + 32:.0f} °F)"

    return (
        f"Film softens at about {both('film_softens_c')}, shrinks well from {both('film_works_low_c')} to "
        f"{both('film_works_high_c')} and hazes at {both('film_hazes_c')}. Stop where a palm cannot stay on the glass, "
        f"about {both('glass_hot_c')}. Our starting values."
    )


def _cautions(car: Car, window: Window, film: Film | None) -> tuple[str, ...]:
    """Where heat endangers glass, rubber and trim (handbook, section 8)."""
    follows = (one.what for one in follows_of(window) if one.what.read_by is ReadBy.HEAT)
    found = [f"{what.words}. {what.caution}".removesuffix(" ") for what in follows]
    if window.kind in DOORS:
        found.append("Rubber, plastic and the door panel near the gun melt or burn: shield them, aim at the film only.")
    else:
        found.append("Gaskets, trim and paint near the gun melt: keep the jet on the film.")
    glass = pane_heat(window, car.panes[window.id])
    if glass.laminated:
        found.append("Laminated glass: a hot spot breaks it. Keep the gun moving; too hot for a palm is the end.")
    elif glass.laminated is None:
        found.append("Nobody read the maker's mark: treat it as laminated until somebody has.")
    found.append("Cold glass breaks under a hot gun: let it come to the shop's warmth first.")
    if film is not None:
        found += break_caution(film, glass, starting=car.starting)
    return tuple(found)


def _steps(verdict: Verdict, plan: HeatPlan, laid: Laid, window: Window) -> tuple[str, ...]:
    """The order of heat in words."""
    if verdict.word is ShrinkWord.FLAT:
        return ()
    if verdict.foot_only:
        return ("Press the bottom dry.", "Snap-shrink the bottom edge: one warm pass, the gun always moving.")
    middle, sides = laid.placed.middle, laid.placed.sides
    edge = format_inches(plan.from_edges)
    found = []
    if laid.way is Unrolled.ACROSS:
        away = format_inches(abs(laid.placed.places[1]))
        left, right = (format_inches(side) for side in sides)
        found.append(
            f"Cross line {format_inches(middle)} in above the foot in the middle, {left} in left and {right} in right, "
            f"{away} in either side of it. Side lines {edge} in from the edges."
        )
    else:
        found.append(
            f"Film turned: its line runs up the pane, {format_inches(middle)} in from the left edge in the middle, "
            f"{format_inches(sides[0])} in at the foot, {format_inches(sides[1])} in at the head."
        )
    if verdict.word is ShrinkWord.SNAP:
        found.append("One warm pass along each outer edge, from the middle outward; press it as it settles.")
    else:
        order = ", then ".join(zone.quarter.value for zone in plan.zones if zone.fingers)
        found.append(f"One quarter, then its neighbour, then the other half: {order}.")
        found.append("From the middle outward in small bites. Never press lower than what has been heated.")
        found.append("Beside a tacked side hold a card as a stop, so that film there does not pinch. Edges last.")
    spoiler = length_of(window.findings, "spoiler")
    if spoiler:
        reach = format_inches(spoiler)
        found.append(f"Under the spoiler, the top {reach} in, fingers may stay once shrink reaches past the cut line.")
    return tuple(found)

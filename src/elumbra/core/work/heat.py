"""How a window's film shrinks onto its glass: worked out once for Cut, Heat, papers and files.

A piece is laid on the inside face of the glass that its readings tell of. What depends on the pane alone is
kept; films are then weighed against it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from math import cos, sqrt

import numpy as np

from elumbra.core.film import Film
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import BarrelFace, Curve, GraphFace, inside_face
from elumbra.core.measure import GlassFace, MeasuredPane, Measures, Tells, glass_face, label
from elumbra.core.shrink import (
    Anchor,
    Bears,
    Field,
    Glass,
    HeatPlan,
    Interval,
    Measuring,
    Placed,
    Required,
    Strip,
    Unrolled,
    Verdict,
    best_anchor,
    changes_with,
    field_of,
    fine,
    flattened,
    heat_plan,
    least_strips,
    placed,
    product_interval,
    required,
    required_of_each,
    stepped_interval,
    with_inside,
)
from elumbra.core.starting import StartingValues
from elumbra.core.survey import length_of
from elumbra.core.work.job import Window

_COARSE_MM = 60.0
_NOTHING = Interval(0.0, 0.0, 0.0)
_STRIP_ANCHORS = (0.35, 0.425, 0.5, 0.575, 0.65)

Ring = tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class OnGlass:
    """A piece of film and the glass that it goes on: what the required shrink hangs on, as a value.

    ``part`` is the outline of what is covered, on the pane's drawing; None: the whole pane.
    """

    measures: Measures
    mirrored: bool
    pane: MeasuredPane = field(compare=False, repr=False)
    starting: StartingValues = field(repr=False)
    part: Ring | None = None

    @cached_property
    def ring(self) -> Points:
        """What the piece covers, on the pane's drawing, counter-clockwise [mm]."""
        assert self.pane.outline is not None
        return self.pane.outline.ring if self.part is None else np.array(self.part)

    @cached_property
    def found(self) -> GlassFace:
        """The glass's outside face.

        Raises
        ------
        ReadingError
            Gaps that no smooth glass leaves.
        """
        assert self.pane.lie is not None
        assert self.pane.outline is not None
        ring = self.pane.outline.ring
        return glass_face(self.measures, self.pane.crowns, self.pane.lie, ring, starting=self.starting)

    @cached_property
    def glass(self) -> Glass:
        """The piece's glass, as film meets it."""
        return Glass(self._inside(self.found.face), self.found.charted(self.ring))

    def measuring(self, way: Unrolled) -> Measuring:
        """How the anchor is measured out on the pane's outside."""
        return Measuring(self.found.face, self.glass.ring, way)

    def _inside(self, face: BarrelFace | GraphFace) -> BarrelFace | GraphFace:
        return inside_face(face, thickness=self.starting["glass_thickness_mm"])

    def interval(self, piece: Required, anchor: Anchor) -> Interval:
        """The largest shrink with what readings and class leave open, at the same anchor."""
        found = self.found
        if found.crowns is not None:
            crowns = (found.crowns.across, found.crowns.up)
            means = [max(one.curvature, one.sigma) for one in crowns]
            value = piece.largest
            if any(mean > one.curvature for mean, one in zip(means, crowns, strict=True)):
                # Read as straight: how much it is if it is not quite.
                at = self._largest(BarrelFace(replace(found.barrel, across=means[0], up=means[1])), anchor)
                spread = self._product(at, means)
                return Interval(value, 0.0, max(spread.high, value))
            return self._product(value, means)
        return stepped_interval(piece.largest, self._steps(piece, anchor))

    def settles(self, piece: Required, anchor: Anchor) -> str:
        """The reading that narrows the interval most."""
        if self.found.guessed:
            crowns = self.pane.crowns
            assert crowns is not None
            by_key = {"crown_across": crowns.across, "crown_up": crowns.up}
            return max(self.found.guessed, key=lambda key: by_key[key].sigma / max(by_key[key].curvature, 1e-12))
        steps = self._steps(piece, anchor)
        told = zip(self.found.tells, steps, strict=True)
        return max(told, key=lambda one: abs(one[1]), default=(Tells("crown_up", self.found.face), 0.0))[0].key

    def _steps(self, piece: Required, anchor: Anchor) -> list[float]:
        """What one sigma of each reading adds to the largest shrink."""
        return changes_with(self.glass, anchor, piece, [self._inside(one.face) for one in self.found.tells])

    def _product(self, value: float, means: list[float]) -> Interval:
        crowns = self.pane.crowns
        assert crowns is not None
        both = (crowns.across, crowns.up)
        return product_interval(
            value, means=means, sigmas=[one.sigma for one in both], even=[one.key is None for one in both]
        )

    def _largest(self, face: BarrelFace | GraphFace, anchor: Anchor) -> float:
        need = required_of_each(Glass(self._inside(face), self.glass.ring), [anchor], segment=_COARSE_MM)[0]
        return 1.0 if need is None else need.largest


@dataclass(frozen=True)
class Laid:
    """One piece of film laid on its glass: where it is pressed on, and what it needs."""

    on: OnGlass
    anchor: Anchor
    piece: Required
    shrink: Interval
    best: bool  # no anchor is better; off where a person put it elsewhere

    @property
    def way(self) -> Unrolled:
        """How the film is turned."""
        return self.anchor.way

    @cached_property
    def placed(self) -> Placed:
        """The anchor as a tape measures it on the outside."""
        return placed(self.on.measuring(self.way), self.anchor)

    @cached_property
    def field(self) -> Field:
        """The map over the flat film."""
        return field_of(self.on.glass, self.anchor, self.piece)

    def verdict(self, bears: Bears) -> Verdict:
        """Whether a film can take it."""
        plain = Verdict(self.shrink, bears)
        return replace(plain, asks=self.on.settles(self.piece, self.anchor)) if plain.crosses else plain

    def plan(self, bears: Bears) -> HeatPlan:
        """How it is held and heated."""
        return heat_plan(self.on.glass, self.anchor, self.piece, bears, starting=self.on.starting)

    def flatten(self, drawn: Points) -> Points:
        """Points of the pane's drawing on the flat film, as seen from outside, the anchor at 0."""
        return _flattened(self.on, self.anchor, tuple(map(tuple, drawn.tolist())))


@lru_cache(maxsize=512)
def _flattened(on: OnGlass, anchor: Anchor, drawn: Ring) -> Points:
    return flattened(on.glass.face, anchor, on.found.charted(np.array(drawn)))


@dataclass(frozen=True)
class CrossLine:
    """Where a person put the cross line: tape from the foot at the middle [mm], and its slope."""

    height: float
    slope: float = 0.0


@lru_cache(maxsize=1024)
def lay(on: OnGlass, way: Unrolled, line: CrossLine | None = None) -> Laid:
    """Lay a piece on its glass, at the best anchor or where a person put it.

    Raises
    ------
    CoreError
        Nothing lies on this glass that way, or readings that no glass has.
    """
    if line is None:
        anchor, piece = best_anchor(on.glass, on.measuring(way))
    else:
        anchor = on.measuring(way).anchor_at(line.height, line.slope)
        piece = required(on.glass, anchor)
    if not isinstance(on.found.face, BarrelFace):
        piece = with_inside(piece, field_of(on.glass, anchor, piece))
    return Laid(on, anchor, piece, on.interval(piece, anchor), line is None)


@lru_cache(maxsize=1024)
def most_needed(on: OnGlass, way: Unrolled) -> float:
    """The upper end of the largest shrink at the best anchor; on a barrel, at most what is returned is needed.

    Cheap where glass is only a little curved: with the anchor on the circle nearest to the widest one
    (turned, on a meridian) no line across the roll is longer than the way up (across) to it, and
    J ≥ cos(v √K).

    Raises
    ------
    CoreError
        As for ``lay``.
    """
    found = on.found
    if on.measures.curve is Curve.FLAT:
        return 0.0
    crowns = found.crowns
    if crowns is not None:
        ring = on.glass.ring
        means = [max(one.curvature, one.sigma) for one in (crowns.across, crowns.up)]
        narrowest = max(float(found.barrel.narrowing(ring[:, 1]).min()), _NARROW)
        turn = _reach(ring, way, means[0] * means[1] / narrowest) * sqrt(means[0] * means[1] / narrowest)
        if turn < _GENTLE:
            value = 1 - cos(turn)
            return on._product(max(value, 1e-12), means).high  # noqa: SLF001
    return lay(on, way).shrink.high


def _reach(ring: Points, way: Unrolled, gauss: float) -> float:
    """The farthest that a point lies from the anchored line on a barrel, at most [mm]."""
    axis = 1 if way is Unrolled.ACROSS else 0
    low, high = float(ring[:, axis].min()), float(ring[:, axis].max())
    at = 0.0 if low <= 0 <= high else (low + high) / 2
    half = float(np.max(np.abs(ring[:, 0] - (ring[:, 0].min() + ring[:, 0].max()) / 2)))
    # Off the widest circle a geodesic leaves its circle by about half its length squared times K y.
    sag = half**2 / 2 * gauss * abs(at) if axis == 1 else 0.0
    return max(high - at, at - low) + sag


_NARROW, _GENTLE = 0.2, 0.5
_MANY, _SOME = 9.95, 0.95  # percent: told to whole ones, to tenths, else to hundredths


def film_bears(film: Film | None, *, starting: StartingValues) -> Bears:
    """What a film bears; the starting value where its sheet gives no limit."""
    limit = film.shrink_limit if film is not None else None
    return Bears.of(starting["film_shrink_limit"] if limit is None else limit, starting=starting)


@dataclass(frozen=True)
class Shrinking:
    """A window's film on its glass, as it is cut: in one piece or in strips, upright or turned."""

    on: OnGlass
    way: Unrolled
    line: CrossLine | None
    bears: Bears
    limit_known: bool  # the film's own figure
    reason: str = ""  # a person's, for one piece all the same
    strips: tuple[Strip, ...] = ()

    @property
    def is_turned(self) -> bool:
        """Whether the roll's direction runs up the pane."""
        return self.way is Unrolled.UP

    @property
    def laid(self) -> Laid:
        """The piece as one, at its anchor.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        return lay(self.on, self.way, self.line)

    def unrolled(self, *, pattern: bool = False) -> frozenset[Unrolled]:
        """Ways in which the film may be turned.

        As it was decided at Heat; else across, and up where what it then needs stays within the safe
        share of its limit. A true pattern is drawn for one way: it is turned only where both are alike.
        """
        if self.way is Unrolled.UP or self.line is not None:
            return frozenset({self.way})
        turned = most_needed(self.on, Unrolled.UP) <= (self.bears.flat if pattern else self.bears.card)
        return frozenset(Unrolled) if turned else frozenset({Unrolled.ACROSS})

    def flatten(self, drawn: Points) -> Points:
        """Points of the pane's drawing on the flat film; glass called flat is its own drawing."""
        return drawn if self.on.measures.curve is Curve.FLAT else self.laid.flatten(drawn)

    @property
    def settled_by(self) -> str:
        """The reading that would settle whether one piece will do; empty where none is open."""
        return self.laid.verdict(self.bears).asks

    @property
    def held(self) -> str:
        """Why it cannot be cut in one piece, and the mend; empty where it can.

        Raises
        ------
        CoreError
            It cannot be laid.
        """
        if self.strips or self.reason:
            return ""
        if self.line is None and most_needed(self.on, self.way) <= self.bears.limit:
            return ""
        verdict = self.laid.verdict(self.bears)
        if verdict.word.releases:
            return ""
        told = (
            f"Will not shrink in one piece: {interval_words(verdict.shrink)}, "
            f"this film takes {percent(self.bears.limit)} %."
        )
        if verdict.asks:
            told += f" Reading {label(verdict.asks)} would settle it."
        return f"{told} At Heat: another film, the other way round, or strips."


def percent(share: float) -> str:
    """A share as percent, to two figures.

    Examples
    --------
    >>> percent(0.0143), percent(0.0004), percent(0.12), percent(0.03)
    ('1.4', '0.04', '12', '3')
    """
    return f"{100 * share:.{_digits(share)}f}".removesuffix(".0")


def _digits(share: float) -> int:
    """After the point: none from ten percent, one from one percent, else two."""
    return 0 if 100 * share >= _MANY else 1 if 100 * share >= _SOME else 2


def interval_words(shrink: Interval) -> str:
    """A shrink with its interval, as it stands on screens and papers.

    Examples
    --------
    >>> interval_words(Interval(0.014, 0.012, 0.016))
    '1.4 % (1.2 to 1.6)'
    >>> interval_words(Interval(0.033, 0.03, 0.036))
    '3.3 % (3.0 to 3.6)'
    """
    digits = _digits(shrink.value)
    value, low, high = (f"{100 * share:.{digits}f}" for share in (shrink.value, shrink.low, shrink.high))
    return f"{value} % ({low} to {high})"


def on_glass(window: Window, pane: MeasuredPane, *, starting: StartingValues) -> OnGlass | None:
    """A window's glass as film meets it; None while it is not measured."""
    if pane.outline is None or pane.lie is None:
        return None
    return OnGlass(window.measures, window.mirrored, pane, starting)


def shrinking(window: Window, pane: MeasuredPane, film: Film | None, *, starting: StartingValues) -> Shrinking | None:
    """How a window's film goes on, by what was decided at Heat; None while the window is not measured.

    Raises
    ------
    CoreError
        A film that no heat shrinks; readings that no glass has; strips that cannot be.
    """
    on = on_glass(window, pane, starting=starting)
    if on is None:
        return None
    bears = film_bears(film, starting=starting)
    known = film is not None and film.shrink_limit is not None
    way = Unrolled.UP if window.film_turned else Unrolled.ACROSS
    line = CrossLine(window.cross_line_mm, window.cross_slope) if window.cross_line_mm is not None else None
    found = Shrinking(on, way, line, bears, known, window.one_piece_because)
    if window.in_strips and not window.is_strip:
        lines = defroster_lines(window, pane)
        return replace(found, strips=strips_of(on, bears.limit, lines))
    return found


def of_part(whole: Shrinking, part: Points) -> Shrinking:
    """A piece that covers a part of the pane, at the best anchor of its own."""
    ring = tuple(map(tuple, part.tolist()))
    return replace(whole, on=replace(whole.on, part=ring), line=None, strips=())


def defroster_lines(window: Window, pane: MeasuredPane) -> tuple[float, ...]:
    """Heights of the surveyed defroster lines on the pane's drawing [mm], from the top down."""
    first, pitch = (length_of(window.findings, f"defroster_{one}") for one in ("first", "pitch"))
    if first is None or not pitch or pane.outline is None:
        return ()
    height = pane.outline.height
    told = window.findings.get("defroster_lines")
    number = int(str(told)) if told and str(told).isdigit() else int((height - first) / pitch) + 1
    heights = (height - first - pitch * k for k in range(max(number, 0)))
    return tuple(one for one in heights if 0 < one < height)


@lru_cache(maxsize=64)
def strips_of(on: OnGlass, limit: float, lines: tuple[float, ...]) -> tuple[Strip, ...]:
    """The fewest strips that a film of such a limit takes; on defroster lines where there are any.

    Raises
    ------
    ShrinkError
        Strips so narrow that nobody would lay them.
    """
    whole = lay(on, Unrolled.ACROSS)
    sure = whole.shrink.high / whole.shrink.value if whole.shrink.value > 0 else 1.0
    return least_strips(on.ring, _needs_of(on, sure), limit=limit, overlap=on.starting["strip_overlap_mm"], lines=lines)


def _needs_of(on: OnGlass, sure: float) -> Callable[[Points], float]:
    """What a part of the pane needs at its best anchor, as far as readings leave it open."""

    def needs(ring: Points) -> float:
        part = Glass(on.glass.face, on.found.charted(fine(ring)))
        measuring = Measuring(on.found.face, part.ring, Unrolled.ACROSS)
        most = measuring.most()
        anchors = [measuring.anchor_at(share * most) for share in _STRIP_ANCHORS]
        found = [one.largest for one in required_of_each(part, anchors, segment=_COARSE_MM) if one is not None]
        return min(found, default=1.0) * sure

    return needs

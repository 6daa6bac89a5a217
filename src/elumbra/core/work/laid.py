"""A piece of film laid on the inside face of the glass that its readings tell of.

What depends on the pane alone is kept; films are weighed against it afterwards.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from math import cos, prod, sqrt

import numpy as np

from elumbra.core.errors import CoreError
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import BarrelFace, Curve, GraphFace, inside_face
from elumbra.core.measure import GlassFace, MeasuredPane, Measures, Tells, glass_face, measure_pane, most_curved
from elumbra.core.shrink import (
    AS_GOOD,
    Anchor,
    Bears,
    Field,
    Glass,
    HeatPlan,
    Interval,
    Measuring,
    Placed,
    Required,
    ShrinkError,
    Unrolled,
    Verdict,
    best_anchor,
    changes_with,
    field_of,
    flattened,
    heat_plan,
    placed,
    product_interval,
    required,
    required_of_each,
    stepped_interval,
    with_inside,
)
from elumbra.core.starting import StartingValues
from elumbra.core.work.heat_words import percent

_COARSE_MM = 60.0

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

    @cached_property
    def most_curved(self) -> OnGlass | None:
        """The same piece on the most curved glass of its class, where nobody read a crown; None where both were.

        Raises
        ------
        ReadingError
            Its other readings do not go with such glass.
        """
        if not self.found.guessed:
            return None
        outline = self.pane.outline
        assert outline is not None
        measures = most_curved(self.measures, width=outline.width, height=outline.height, starting=self.starting)
        if measures is None:
            return None
        pane = measure_pane(measures, starting=self.starting)
        return OnGlass(measures, self.mirrored, pane.mirrored() if self.mirrored else pane, self.starting, self.part)

    def interval(self, piece: Required, anchor: Anchor) -> Interval:
        """The largest shrink with what the readings leave open, at the same anchor; of a crown that nobody read, with
        the straightest glass of its class at the lower end. The upper end is ``most_curved``'s.
        """
        found = self.found
        if found.crowns is None:
            return stepped_interval(piece.largest, self._steps(piece, anchor))
        crowns = (found.crowns.across, found.crowns.up)
        means = [max(one.curvature, one.sigma) for one in crowns]
        value = piece.largest
        if any(mean > one.curvature for mean, one in zip(means, crowns, strict=True)):
            # Read as straight: how much it is if it is not quite.
            at = self._largest(BarrelFace(replace(found.barrel, across=means[0], up=means[1])), anchor)
            spread = self._product(at, means)
            return Interval(value, 0.0, max(spread.high, value))
        spread = self._product(value, means)
        straightest = prod(one.least / mean for one, mean in zip(crowns, means, strict=True))
        return replace(spread, low=spread.low * straightest)

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
        return product_interval(value, means=means, sigmas=[one.sigma if one.key else 0.0 for one in both])

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
    if piece.stretch > on.starting["stretch_most"]:
        raise ShrinkError(
            f"Film would have to stretch by {percent(piece.stretch)} % on this glass, which it cannot: it would stand "
            "off. The gaps read make the glass bend both ways: read them again at Survey."
        )
    return Laid(on, anchor, piece, _with_class(on, way, line, on.interval(piece, anchor)), line is None)


def _with_class(on: OnGlass, way: Unrolled, line: CrossLine | None, shrink: Interval) -> Interval:
    """The interval with the most curved glass of the class at its upper end, laid and read as any other: whoever
    reads the crowns finds no harder word. A class that no film lies on, or no pane of this size, leaves it open.
    """
    try:
        worst = on.most_curved
        high = shrink.high if worst is None else lay(worst, way, line).shrink.high
    except CoreError:
        high = 1.0
    return replace(shrink, high=max(high, shrink.value))


def within(on: OnGlass, way: Unrolled, limit: float) -> bool:
    """Whether what a piece needs at its best anchor, its upper end, stays within a limit.

    What is cheap is asked first: a bound in closed form, then the line through the middle, which the best one is
    never behind; only where neither decides is the best one sought.

    Raises
    ------
    CoreError
        As for ``lay``.
    """
    if on.measures.curve is Curve.FLAT:
        return True
    if on.found.guessed:
        try:
            worst = on.most_curved
            return worst is None or within(worst, way, limit)
        except CoreError:
            return False
    if most_needed(on, way) <= limit:
        return True
    if on.found.crowns is None:  # such glass may also bend both ways: then nothing lies on it
        return lay(on, way).shrink.high <= limit
    middle = _through_middle(on, way)
    if middle <= limit or middle > _FAR_OVER * limit:
        return middle <= limit
    return lay(on, way).shrink.high <= limit


@lru_cache(maxsize=1024)
def _through_middle(on: OnGlass, way: Unrolled) -> float:
    """What the upper end at the best line is never over: that of the line through the middle, and a little."""
    measuring = on.measuring(way)
    anchor = measuring.anchor_at(measuring.most() / 2)
    need = required_of_each(on.glass, [anchor], segment=_COARSE_MM, rough=True)[0]
    if need is None:
        return 1.0
    # The best line may need so much more at its worst place, for less work.
    return on.interval(replace(need, largest=need.largest + AS_GOOD), anchor).high


@lru_cache(maxsize=1024)
def most_needed(on: OnGlass, way: Unrolled) -> float:
    """A bound of the upper end of the largest shrink at the best anchor; 1 where there is none in closed form.

    On a barrel, with the anchor on the circle nearest to the widest one (turned, on a meridian), no line across
    the roll is longer than the way up (across) to it, and J ≥ cos(v √K).

    Raises
    ------
    CoreError
        As for ``lay``.
    """
    if on.measures.curve is Curve.FLAT:
        return 0.0
    crowns = on.found.crowns
    if crowns is None:
        return 1.0
    ring = on.glass.ring
    means = [max(one.curvature, one.sigma) for one in (crowns.across, crowns.up)]
    gauss = means[0] * means[1] / max(float(on.found.barrel.narrowing(ring[:, 1]).min()), _NARROW)
    turn = _reach(ring, way, gauss) * sqrt(gauss)
    if turn >= _GENTLE:
        return 1.0
    return on._product(max(1 - cos(turn), 1e-12), means).high  # noqa: SLF001


_FAR_OVER = 2.0  # the best line is never so much better than the one through the middle


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

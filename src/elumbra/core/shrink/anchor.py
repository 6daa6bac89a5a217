"""The best anchor: least largest shrink, then least work, on a rule that a hand can follow.

Heart, section 2: within 0.05 points of the least largest shrink the least work decides; rounded to 1/8 in;
given at the middle and at both sides, for a geodesic level at the middle of curved glass is not level at
its sides.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from elumbra.core.geom import span_at
from elumbra.core.glass import Face
from elumbra.core.shrink.net import FOLDS, Anchor, Array, Net, ShrinkError, Unrolled
from elumbra.core.shrink.required import Glass, Required, densified, required_of_each

AS_GOOD = 0.0005
"""Largest shrinks so close together count as equal, a share (heart, section 2)."""
_AS_LITTLE, _NO_WORK_MM2 = 1.005, 5.0
_SEEK_MM = 80.0
_COARSE = 13
_FINE = 4
_SLOPES = (-0.12, -0.08, -0.04, 0.0, 0.04, 0.08, 0.12)
_RULE_MM = 3.175  # 1/8 in
_SIMPSON = np.array([1.0, 4.0, 2.0, 4.0, 2.0, 4.0, 2.0, 4.0, 1.0]) / 24


@dataclass(frozen=True)
class Placed:
    """An anchor as it is measured on the outside of the glass with a tape, from the foot up.

    For a turned piece, from the left edge to the right.
    """

    anchor: Anchor
    middle: float  # [mm]
    sides: tuple[float, float]  # left and right; for a turned piece at the foot and at the head
    places: tuple[float, float]  # where those are read: so far from the middle, at a right angle to the tape [mm]


@dataclass(frozen=True)
class Measuring:
    """How heights are read on a pane's outside: along the glass from its foot, at a place across."""

    face: Face  # outside
    ring: Array  # the pane in its chart
    way: Unrolled

    @property
    def _axis(self) -> int:
        return 1 if self.way is Unrolled.ACROSS else 0

    @property
    def middle(self) -> float:
        """The place across, in the chart, where the pane's middle is."""
        low, high = self.ring[:, 1 - self._axis].min(), self.ring[:, 1 - self._axis].max()
        return float(low + high) / 2

    def edges_at(self, place: float) -> tuple[float, float]:
        """Foot and head of the pane at a place across, in the chart; beside the pane, those nearest."""
        other = self.ring[:, 1 - self._axis]
        place = float(np.clip(place, other.min() + _EDGE, other.max() - _EDGE))
        return span_at(self.ring, 1 - self._axis, place)

    @property
    def sides(self) -> tuple[float, float]:
        """The places across, in the chart, at which heights are read near the sides."""
        axis = 1 - self._axis
        low, high = float(self.ring[:, axis].min()), float(self.ring[:, axis].max())
        places = np.linspace(low, high, _PLACES)[1:-1]
        tall = np.array([np.subtract(*self.edges_at(float(place))[::-1]) for place in places])
        good = places[tall >= tall.max() / 2]
        return float(good[0]), float(good[-1])

    def height_of(self, at: tuple[float, float]) -> float:
        """Tape from the foot to a point of the chart, straight up the glass [mm]."""
        place, level = at[1 - self._axis], at[self._axis]
        return self._tape(place, self.edges_at(place)[0], level)

    def level_at(self, height: float, place: float | None = None) -> float:
        """The chart's level at a tape height over the foot, at the middle unless another place is given."""
        place = self.middle if place is None else place
        foot = self.edges_at(place)[0]
        level = foot + height
        for _ in range(4):
            level += height - self._tape(place, foot, level)
        return level

    def anchor_at(self, height: float, slope: float = 0.0) -> Anchor:
        """The anchor at a tape height at the pane's middle."""
        level = self.level_at(height)
        return Anchor((self.middle, level) if self.way is Unrolled.ACROSS else (level, self.middle), slope, self.way)

    def most(self) -> float:
        """Tape from foot to head at the middle [mm]."""
        foot, head = self.edges_at(self.middle)
        return self._tape(self.middle, foot, head)

    def _tape(self, place: float, low: float, high: float) -> float:
        levels = np.linspace(low, high, len(_SIMPSON))
        places = np.full_like(levels, place)
        x, y = (places, levels) if self.way is Unrolled.ACROSS else (levels, places)
        e, _, g = self.face.metric(x, y)
        return float(np.sqrt(g if self.way is Unrolled.ACROSS else e) @ _SIMPSON) * (high - low)


_EDGE = 1e-6
_PLACES = 41


def placed(measuring: Measuring, anchor: Anchor) -> Placed:
    """How an anchor is measured out: at the middle and where the cross line leaves the glass."""
    net = Net(measuring.face, anchor)
    film, _ = net.laid_out(densified(measuring.ring, 30.0))
    if not film[:, 1].min() < 0 < film[:, 1].max():
        raise ShrinkError("The cross line does not run across the glass. Move it onto the pane.")
    first, last = span_at(film, 1, 0.0)
    x, y, *_ = net.line(np.linspace(first, last, _PLACES))
    own, along = (y, x) if measuring.way is Unrolled.ACROSS else (x, y)
    order = np.argsort(along)
    at = [float(np.interp(place, along[order], own[order])) for place in measuring.sides]
    points = [
        (place, level) if measuring.way is Unrolled.ACROSS else (level, place)
        for place, level in zip(measuring.sides, at, strict=True)
    ]
    low, high = (measuring.height_of(point) for point in points)
    left, right = (place - measuring.middle for place in measuring.sides)
    return Placed(anchor, measuring.height_of(anchor.at), (low, high), (left, right))


def best_anchor(glass: Glass, measuring: Measuring) -> tuple[Anchor, Required]:
    """Where to press the cross line on, to the eighth of an inch, and what the piece then needs.

    Parameters
    ----------
    glass
        The pane on the face that film lies on.
    measuring
        How heights are read on its outside.

    Raises
    ------
    ShrinkError
        No flat film lies on it, wherever it is anchored.
    """
    most = measuring.most()

    def tried(options: Sequence[tuple[float, float]]) -> list[tuple[tuple[float, float], Required]]:
        anchors = [measuring.anchor_at(height, slope) for height, slope in options]
        needs = required_of_each(glass, anchors, segment=_SEEK_MM, rough=True)
        return [(option, need) for option, need in zip(options, needs, strict=True) if need is not None]

    step = most / (_COARSE + 1)
    found = tried([(height, 0.0) for height in _on_rule((step * k for k in range(1, _COARSE + 1)), most)])
    if not found:
        raise ShrinkError(FOLDS)
    (height, slope), need = _least(found)
    if _lopsided(need):
        found += tried([(height, slope) for slope in _SLOPES if slope])
        (height, slope), need = _least(found)
    fine = range(-_FINE, _FINE + 1)
    found += tried([(one, slope) for one in _on_rule((height + step * k / _FINE for k in fine), most)])
    (height, slope), need = _least(found)
    found += tried([(one, slope) for one in _on_rule((height + _RULE_MM * k for k in fine), most)])
    height, slope = _chosen(found, middle=most / 2)
    anchor = measuring.anchor_at(height, slope)
    return anchor, required_of_each(glass, [anchor], segment=30.0)[0] or need


def _on_rule(heights: Iterable[float], most: float) -> list[float]:
    """Heights to the eighth of an inch that lie on the pane; its middle where it is too low for any."""
    ruled = {round(height / _RULE_MM) * _RULE_MM for height in heights}
    return sorted(height for height in ruled if 0 < height < most) or [most / 2]


def _least(found: Sequence[tuple[tuple[float, float], Required]]) -> tuple[tuple[float, float], Required]:
    return min(found, key=lambda one: (one[1].largest, one[1].work))


def _chosen(found: Sequence[tuple[tuple[float, float], Required]], *, middle: float) -> tuple[float, float]:
    """Least work among those whose largest shrink is as good as the least; of about as little, nearest the middle."""
    most = _least(found)[1].largest + AS_GOOD
    good = [one for one in found if one[1].largest <= most]
    little = min(one[1].work for one in good) * _AS_LITTLE + _NO_WORK_MM2
    easy = [option for option, need in good if need.work <= little]
    return min(easy, key=lambda option: (abs(option[1]), abs(option[0] - middle), option[0]))


def _lopsided(need: Required) -> bool:
    """Whether one side needs more than the other, so that a leaning line may help."""
    left, right = need.ring[:, 0] < 0, need.ring[:, 0] > 0
    sides = [float(np.max(need.shrink[side], initial=0.0)) for side in (left, right)]
    return abs(sides[0] - sides[1]) > AS_GOOD

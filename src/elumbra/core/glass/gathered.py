"""Glass whose curve gathers at its sides or at one edge: z = −f(x) − g(y) (heart, section 1, surface 2)."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.glass.face import Array, Slopes


class Gathers(StrEnum):
    """Where a pane's curve gathers, seen from outside."""

    EVENLY = "evenly"
    SIDES = "sides"  # both ends of the line alike
    START = "start"  # at the left, or at the foot
    END = "end"  # at the right, or at the head


@dataclass(frozen=True)
class Bow:
    """How far glass falls back along a line of length ``chord`` about its middle.

    Notes
    -----
    f'' = a + b·τ^p, τ the share of the way to where the curve gathers: |2x/w| for both ends, from 0 at
    the far end to 1 for one end (heart, section 1). ``even`` is a and ``more`` is b [1/mm].
    """

    chord: float
    even: float
    more: float = 0.0
    gathers: Gathers = Gathers.EVENLY
    power: float = 2.0

    def __call__(self, x: Array) -> tuple[Array, Array, Array, Array]:
        """f, f', f'' and f''' at distances from the middle, level with the middle there."""
        if self.gathers is Gathers.EVENLY or self.more == 0:
            return self.even * x**2 / 2, self.even * x, self.even + 0 * x, 0 * x
        share, way = self._share(x)
        p, n = self.power, self._rate
        own = self.more / (n**2 * (p + 1) * (p + 2))
        f = own * share ** (p + 2)
        slope = way * own * n * (p + 2) * share ** (p + 1)
        bend = self.more * share**p
        rise = way * self.more * p * n * share ** np.maximum(p - 1, 0)
        at, lean = self._at_middle
        return (
            self.even * x**2 / 2 + f - at - lean * x,
            self.even * x + slope - lean,
            self.even + bend,
            rise,
        )

    @property
    def _rate(self) -> float:
        return 2 / self.chord if self.gathers is Gathers.SIDES else 1 / self.chord

    @property
    def _at_middle(self) -> tuple[float, float]:
        if self.gathers is Gathers.SIDES:
            return 0.0, 0.0
        p, n = self.power, self._rate
        own = self.more / (n**2 * (p + 1) * (p + 2))
        way = -1.0 if self.gathers is Gathers.START else 1.0
        return own * 0.5 ** (p + 2), way * own * n * (p + 2) * 0.5 ** (p + 1)

    def _share(self, x: Array) -> tuple[Array, Array]:
        if self.gathers is Gathers.SIDES:
            return np.abs(2 * x / self.chord), np.sign(x)
        way = -1.0 if self.gathers is Gathers.START else 1.0
        return np.maximum(0.5 + way * x / self.chord, 0.0), np.full_like(x, way)

    def gap(self, x: float) -> float:
        """Gap under a straightedge from end to end, at a distance from the middle [mm]."""
        half = self.chord / 2
        low, high, here = (float(self(np.array([at]))[0][0]) for at in (-half, half, x))
        return low + (high - low) * (x + half) / self.chord - here


def bow_from_gaps(
    *, chord: float, middle: float, quarter: float | None = None, gathers: Gathers = Gathers.EVENLY, power: float = 2.0
) -> Bow:
    """The bow that leaves these gaps under a straightedge.

    Parameters
    ----------
    chord
        Distance between the points read [mm], over 0.
    middle
        Gap at the middle [mm].
    quarter
        Gap a quarter of the way in from where the curve gathers [mm]; None: it is spread evenly.
    gathers
        Where it gathers.
    power
        p, how closely.

    Raises
    ------
    ReadingError
        Gaps that a smooth convex curve of this kind cannot leave, with the range that it can.

    Examples
    --------
    >>> bow = bow_from_gaps(chord=1200.0, middle=40.0, quarter=33.0, gathers=Gathers.SIDES)
    >>> round(bow.gap(0.0), 6), round(bow.gap(300.0), 6)
    (40.0, 33.0)
    """
    if quarter is None or gathers is Gathers.EVENLY:
        return Bow(chord, 8 * middle / chord**2)
    at = chord / 4 if gathers is not Gathers.START else -chord / 4
    shapes = Bow(chord, 1.0), Bow(chord, 0.0, 1.0, gathers, power)
    rows = np.array([[shape.gap(where) for shape in shapes] for where in (0.0, at)])
    even, more = np.linalg.solve(rows, np.array([middle, quarter])).tolist()
    if middle > 0 and (even < -_HAIR / chord or even + more < -_HAIR / chord):
        low, high = sorted(middle * float(row[1] / row[0]) for row in (rows[:, 0], _flat_at_end(rows), rows[:, 1]))[::2]
        raise ReadingError(
            f"A gap of {quarter:.1f} mm at the quarter does not go with {middle:.1f} mm at the middle: where the curve "
            f"gathers there, it is {low:.1f} to {high:.1f} mm. Read both again."
        )
    return Bow(chord, even, more, gathers, power)


def _flat_at_end(rows: Array) -> Array:
    return np.asarray(rows[:, 0] - rows[:, 1])


@dataclass(frozen=True)
class Gathered:
    """Height of such glass over the plane through its middle; toward the viewer is positive."""

    across: Bow
    up: Bow
    middle: tuple[float, float] = (0.0, 0.0)  # where both bows have their middle, in the chart

    def slopes(self, x: Array, y: Array) -> Slopes:
        """Height and its derivatives."""
        f, f1, f2, f3 = self.across(x - self.middle[0])
        g, g1, g2, g3 = self.up(y - self.middle[1])
        none = 0 * (f + g)
        return Slopes(-f - g, -f1 + none, -g1 + none, -f2 + none, none, -g2 + none, -f3 + none, none, none, -g3 + none)


_HAIR = 1e-9

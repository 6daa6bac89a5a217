"""A pane's curved outer face as a barrel: what two crowns tell of it.

Vocabulary
----------
barrel
    An arc of radius ρ (up) swept round a vertical axis so that its widest circle has radius R
    (across). Flat one way or both where a radius is infinite; so curvatures, not radii, are kept.
chart
    Where a point of the barrel lies: ``x`` along the widest circle from the middle, ``y`` up the
    meridian from the widest circle, both in mm on the glass::

          y ↑      narrower circles: x shrinks by the factor g(y)
            │
        ────┼──── widest circle, g = 1
            │
            └──→ x

sagitta, crown
    Gap between the glass and a straightedge laid across it, at the middle between the points read.
geodesic
    What a taut tape on convex glass follows.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import sqrt

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_NODES, _WEIGHTS = np.polynomial.legendre.leggauss(12)
_T = (_NODES + 1) / 2
_W = _WEIGHTS / 2
# Bends by which a tape may leave the chart's straight line: t (1 - t) times Legendre polynomials.
_BENDS = [
    np.polynomial.Polynomial([0, 1, -1]) * _p.convert(kind=np.polynomial.Polynomial)
    for _p in (np.polynomial.Legendre.basis(k, domain=[0, 1]) for k in range(4))
]
_BEND = np.stack([bend(_T) for bend in _BENDS], axis=1)  # (nodes, bends)
_RISE = np.stack([bend.deriv()(_T) for bend in _BENDS], axis=1)
_BEND_AT_MIDDLE = np.array([bend(0.5) for bend in _BENDS])
_RISE_RISE, _RISE_BEND, _BEND_BEND = (
    np.einsum("na,nb->nab", one, two).reshape(len(_T), -1)
    for one, two in ((_RISE, _RISE), (_RISE, _BEND), (_BEND, _BEND))
)
_RISE_AT_ENDS = np.array([[bend.deriv()(end) for bend in _BENDS] for end in (0.0, 1.0)])
_STEPS = 12
_HAIR = 1e-9
_MOST_TURN = 1.3  # rad from the middle: three quarters of the way to edge-on
_STILL = 1e-5  # mm: a path that moves less lies still, and its length by the square of that


@dataclass(frozen=True)
class Paths:
    """Geodesics on a barrel, as its chart's straight lines and how they bend from them."""

    shape: tuple[int, ...]
    starts: Array  # (paths, 2)
    spans: Array  # (paths, 2)
    bends: Array  # (paths, bends of x and of y)
    lengths: Array  # as the question's shape [mm]

    def at(self, share: float | Array) -> Array:
        """Points that share of the way along, in the chart: shape (…, 2), or (…, shares, 2)."""
        shares = np.atleast_1d(np.asarray(share, dtype=float))
        bend = np.stack([one(shares) for one in _BENDS])  # (bends, shares)
        bent = self.bends.reshape(len(self.starts), 2, len(_BENDS)) @ bend  # (paths, 2, shares)
        points = self.starts[:, :, None] + self.spans[:, :, None] * shares + bent
        points = np.swapaxes(points, 1, 2)
        found = points.reshape(*self.shape, len(shares), 2)
        return np.asarray(found[..., 0, :] if np.ndim(share) == 0 else found)


@dataclass(frozen=True)
class Barrel:
    """A pane's outer face, by its curvatures at the widest circle [1/mm], 0 and up; 0 is straight.

    Examples
    --------
    >>> Barrel(1 / 1500, 1 / 700).radius_across
    1500.0
    >>> Barrel().radius_up is None
    True
    """

    across: float = 0.0
    up: float = 0.0

    @property
    def radius_across(self) -> float | None:
        """Radius of the widest circle [mm]; None where it is straight."""
        return 1 / self.across if self.across > 0 else None

    @property
    def radius_up(self) -> float | None:
        """Radius of the meridians [mm]; None where they are straight."""
        return 1 / self.up if self.up > 0 else None

    def narrowing(self, y: Array) -> Array:
        """g(y) = r(y) / R: how much shorter the circle at height y is than the widest one.

        Notes
        -----
        r(y) = R − ρ + ρ cos(y/ρ) (heart, section 1).
        """
        return np.asarray(1 - self.across * self.depth(y))

    def depth(self, y: Array) -> Array:
        """How far the meridian falls back behind the widest circle at height y [mm]."""
        return np.asarray(self.up * y**2 / 2 * np.sinc(self.up * y / (2 * np.pi)) ** 2)

    def points(self, chart: Array) -> Array:
        """Points in space, shape (…, 3): right, up, toward the viewer [mm], seen from outside."""
        x, y = chart[..., 0], chart[..., 1]
        g = self.narrowing(y)
        right = g * x * np.sinc(self.across * x / np.pi)
        back = g * self.across * x**2 / 2 * np.sinc(self.across * x / (2 * np.pi)) ** 2
        return np.stack([right, y * np.sinc(self.up * y / np.pi), -back - self.depth(y)], axis=-1)

    def developed(self, chart: Array) -> Array:
        """The chart with every circle laid out straight at its own length, shape (…, 2) [mm].

        Lengths across and up the middle are those that a tape on the glass reads. Not yet the
        film's true flat pattern.
        """
        x, y = chart[..., 0], chart[..., 1]
        return np.stack([self.narrowing(y) * x, y], axis=-1)

    def charted(self, developed: Array) -> Array:
        """The chart of points that were laid out by ``developed``."""
        x, y = developed[..., 0], developed[..., 1]
        return np.stack([x / self.narrowing(y), y], axis=-1)

    def tape(self, start: Array, end: Array) -> Array:
        """Length of a taut tape on the glass from start to end, any shape (…, 2) [mm]."""
        return self.paths(start, end).lengths

    def straight(self, start: Array, end: Array) -> Array:
        """Length of the straight line from start to end [mm]."""
        return np.asarray(np.linalg.norm(self.points(end) - self.points(start), axis=-1))

    def folds(self, chart: Array) -> bool:
        """Whether a pane with such corners would turn back on itself."""
        turned = np.maximum(self.across * np.ptp(chart[:, 0]) / 2, self.up * np.max(np.abs(chart[:, 1])))
        return bool(turned > _MOST_TURN)

    def paths(self, start: Array, end: Array, *, near: Paths | None = None) -> Paths:
        """Geodesics from start to end: least ∫ y'² + g² x'² over the chart's line plus a few bends.

        ``near`` are such geodesics of about the same ends, to begin from.

        At its least the path runs at one speed, so that the integral is the length squared; an
        error of the path enters it only by its square. Newton's method on all paths at once.
        Good to 0.001 mm on crowns of 150 and 50 mm.
        """
        shape = np.broadcast_shapes(start.shape, end.shape)[:-1]
        starts = np.broadcast_to(start, (*shape, 2)).reshape(-1, 2)
        spans = np.broadcast_to(end, (*shape, 2)).reshape(-1, 2) - starts
        bends = np.zeros((len(starts), 2 * len(_BENDS))) if near is None else near.bends  # of x, then of y
        # Straight one way and the glass unrolls: the chart's line is the tape.
        if self.across * self.up > 0:
            for _ in range(_STEPS):
                step = np.linalg.solve(*self._newton(starts, spans, bends))[..., 0]
                bends = bends - step
                if np.max(np.abs(step), initial=0.0) < _STILL:
                    break
        lengths = np.sqrt(self.squared_lengths(starts, spans, bends))
        return Paths(shape, starts, spans, bends, lengths.reshape(shape))

    def squared_lengths(self, starts: Array, spans: Array, bends: Array) -> Array:
        """The integral over given paths, shape (paths,) [mm²]."""
        several = len(_BENDS)
        x_speed = spans[:, :1] + bends[:, :several] @ _RISE.T
        y_speed = spans[:, 1:] + bends[:, several:] @ _RISE.T
        y = starts[:, 1:] + spans[:, 1:] * _T + bends[:, several:] @ _BEND.T
        return np.asarray((y_speed**2 + (self.narrowing(y) * x_speed) ** 2) @ _W)

    def slopes(self, paths: Paths) -> tuple[Array, Array]:
        """How lengths grow with the chart of the starts and of the ends, each shape (paths, 2).

        Notes
        -----
        First variation: the length grows by the unit tangent at its end.
        """
        several = len(_BENDS)
        rises = np.stack([paths.bends[:, :several], paths.bends[:, several:]], axis=1)  # (paths, 2, bends)
        length = np.maximum(paths.lengths.reshape(-1, 1), _HAIR)
        found = []
        for at, sign, y in ((0, -1.0, paths.starts[:, 1]), (1, 1.0, paths.starts[:, 1] + paths.spans[:, 1])):
            speed = paths.spans + rises @ _RISE_AT_ENDS[at]
            metric = np.stack([self.narrowing(y) ** 2, np.ones_like(y)], axis=1)
            found.append(sign * metric * speed / length)
        return found[0], found[1]

    def _newton(self, starts: Array, spans: Array, bends: Array) -> tuple[Array, Array]:
        """Second and first derivatives of half the energy with the bends."""
        several = len(_BENDS)
        x_speed = spans[:, :1] + bends[:, :several] @ _RISE.T
        y_speed = spans[:, 1:] + bends[:, several:] @ _RISE.T
        turned = self.up * (starts[:, 1:] + spans[:, 1:] * _T + bends[:, several:] @ _BEND.T)
        cosine = np.cos(turned)
        g = 1 - self.across / self.up * (1 - cosine)
        slope = -self.across * np.sin(turned)  # g'
        bend = -self.across * self.up * cosine  # g''
        slow = g * slope * x_speed
        first = np.concatenate(
            [(_W * g**2 * x_speed) @ _RISE, (_W * y_speed) @ _RISE + (_W * slow * x_speed) @ _BEND], axis=1
        )
        square = (len(starts), several, several)
        xx = ((_W * g**2) @ _RISE_RISE).reshape(square)
        xy = ((2 * _W * slow) @ _RISE_BEND).reshape(square)
        yy = (_W @ _RISE_RISE + (_W * (slope**2 + g * bend) * x_speed**2) @ _BEND_BEND).reshape(square)
        second = np.concatenate(
            [np.concatenate([xx, xy], axis=2), np.concatenate([np.swapaxes(xy, 1, 2), yy], axis=2)], axis=1
        )
        return second, first[..., None]


def radius_from_gap(*, gap: float, chord: float) -> float | None:
    """Radius of an arc from the gap under a straightedge at its middle [mm].

    Parameters
    ----------
    gap
        Sagitta [mm], 0 or more; 0 is straight.
    chord
        Distance between the points read, not the straightedge's length [mm], over 0.

    Notes
    -----
    R = chord² / (8 gap) + gap / 2 (heart, section 1).

    Examples
    --------
    >>> radius_from_gap(gap=0.0, chord=1000.0) is None
    True
    >>> radius_from_gap(gap=500.0, chord=1000.0)
    500.0
    """
    if gap <= 0:
        return None
    return chord**2 / (8 * gap) + gap / 2


def gap_from_radius(*, radius: float, chord: float) -> float | None:
    """Gap under a straightedge at the middle of an arc [mm]: ``radius_from_gap`` the other way round.

    Returns
    -------
    float or None
        None where no chord of the circle is that long.

    Examples
    --------
    >>> gap_from_radius(radius=500.0, chord=1000.0)
    500.0
    >>> gap_from_radius(radius=500.0, chord=1001.0) is None
    True
    """
    if chord > 2 * radius:
        return None
    return radius - sqrt(radius**2 - chord**2 / 4)

"""Film on curved glass: the anchored line, the lines across the roll, and what is left between them.

Vocabulary
----------
anchor
    Where the film's cross line is pressed on: through a point of the glass, in the roll's direction.
    The line is a geodesic, continued past the glass so that every point of the glass has a foot on it.
u, v
    The film's own flat coordinates [mm]: u along the anchored line, which is the machine direction,
    v at right angles to it. Lines across the roll keep their length on the glass, so v is that length.
J
    Distance on the glass between two neighbouring lines across the roll, as a share of their distance on
    the flat film. Film has to shrink by 1 − J there; where J is over 1 it would have to stretch.

::

        v ↑   ╷   ╷   ╷   ╷     lines across the roll: geodesics, each at right angles to the anchored line
          │   ╷   ╷   ╷   ╷     J'' = −K J along them, J = 1 and J' = 0 at the anchored line
          ┼───┼───┼───┼───┼──→ u   the anchored line, itself a geodesic
          │   ╵   ╵   ╵   ╵
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields
from enum import StrEnum
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from elumbra.core.errors import CoreError
from elumbra.core.glass import Face

Array = NDArray[np.float64]

_NEWTON = 12


class _Care(NamedTuple):
    """How finely lines are integrated, and how near points are met."""

    longest: float  # step of the Runge-Kutta integration [mm]; the error goes with its fourth power
    fewest: int  # steps
    still: float  # [mm]


_CLOSE = _Care(40.0, 8, 1e-4)
_ROUGH = _Care(100.0, 4, 0.05)
_MARCH = _Care(40.0, 1, 1e-4)
_MOST_STEPS = 400
_CROSSED = 0.05  # lines across the roll that have come this close are as good as crossed
_FIRST, _SECOND = 0.5, 1 / 6


class ShrinkError(CoreError):
    """Film cannot lie on this glass as asked; the message says why and what to do."""


class Unrolled(StrEnum):
    """How the film is turned on the glass."""

    ACROSS = "across"  # unrolled across the car, the usual way: fingers stand up and down
    UP = "up"  # the roll's direction up the pane, a turned piece: fingers lie sideways


@dataclass(frozen=True)
class Anchor:
    """Where the cross line goes, seen from outside.

    ``at`` is a point of the face's chart [mm], ``slope`` what the line rises over what it runs there,
    for ``Unrolled.UP`` what it leans to the left over what it rises.
    """

    at: tuple[float, float]
    slope: float = 0.0
    way: Unrolled = Unrolled.ACROSS


@dataclass(frozen=True)
class OnFace:
    """Points reached along the lines across the roll, each field of shape (n,)."""

    x: Array
    y: Array
    dx: Array  # direction of v, of unit length on the face
    dy: Array
    j: Array
    dj: Array
    j_sum: Array  # ∫ J dv from the anchored line on [mm]
    spare: Array  # ∫ max(0, 1 − J) dv from the anchored line on [mm]

    def each(self, change: Callable[[Array], Array]) -> OnFace:
        """The same with every field changed alike."""
        return OnFace(*(change(getattr(self, one.name)) for one in fields(self)))


@dataclass(frozen=True)
class Net:
    """Film anchored on a face: from the film's flat coordinates to the glass and back."""

    face: Face
    anchor: Anchor

    def line(self, u: Array) -> tuple[Array, Array, Array, Array]:
        """The anchored line at distances u along it: x, y and its unit direction."""
        state = _run(self.face, np.repeat(self._start, len(u), axis=1), u, _CLOSE)
        return state[0], state[1], state[2], state[3]

    def at(self, u: Array, v: Array) -> OnFace:
        """Where the film's points (u, v) come to lie, and how much film is too long there.

        Parameters
        ----------
        u, v
            Film coordinates [mm], each of shape (n,).

        Notes
        -----
        Classical Runge-Kutta, steps of at most 40 mm: J is good to 1e-7 on radii from 500 mm.
        """
        return _reached(self.face, np.repeat(self._start, len(u), axis=1), u, v, _CLOSE)

    def laid_out(self, chart: Array) -> tuple[Array, OnFace]:
        """The film's coordinates of points of the glass, and what lies there.

        Parameters
        ----------
        chart
            Points of the face, shape (n, 2) [mm].

        Returns
        -------
        tuple
            (u, v) of shape (n, 2), and where they came to lie.

        Raises
        ------
        ShrinkError
            Lines across the roll cross before they reach a point: no flat film lies there.
        """
        film, here, good = laid_out(self.face, [self.anchor], chart)
        if not good[0]:
            raise ShrinkError(FOLDS)
        return film[0], here.each(lambda one: one[0])

    def marched(self, u: Array, v: Array) -> Array:
        """J over a grid, shape (len(v), len(u)): line by line across the roll, step by step along each.

        ``v`` is evenly spaced and rises; its steps are those of the integration.
        """
        x, y, du_x, du_y = self.line(u)
        dx, dy = _turned_left(self.face, x, y, du_x, du_y)
        none = np.zeros_like(x)
        begin = np.array([x, y, dx, dy, none + 1, none, none, none])
        found = np.empty((len(v), len(u)))
        up = int(np.searchsorted(v, 0.0))
        for nodes in (range(up, len(v)), range(up - 1, -1, -1)):
            state, at = begin, 0.0
            for i in nodes:
                state = _run(self.face, state, np.full(len(u), v[i] - at), _MARCH)
                at = float(v[i])
                found[i] = state[4]
        return found

    @property
    def _start(self) -> Array:
        return np.array([[*self.anchor.at, *_direction(self.face, self.anchor)]]).T


def laid_out(
    face: Face, anchors: Sequence[Anchor], chart: Array, *, rough: bool = False
) -> tuple[Array, OnFace, Array]:
    """The film's coordinates of points of the glass, for several anchors at once.

    Parameters
    ----------
    face
        The glass.
    anchors
        m of them.
    chart
        Points of the face, shape (n, 2) [mm].
    rough
        To a twentieth of a millimetre and J to 1e-5, for a search.

    Returns
    -------
    tuple
        (u, v) of shape (m, n, 2); where they came to lie, fields of shape (m, n); and whether film
        lies there at all, shape (m,): not where lines across the roll cross on the way.
    """
    care = _ROUGH if rough else _CLOSE
    several, points = len(anchors), len(chart)
    start = np.repeat([[*one.at, *_direction(face, one)] for one in anchors], points, axis=0).T
    goal = np.tile(chart, (several, 1)).T
    film = _first_guess(face, start, goal)
    good = np.zeros(several, dtype=bool)
    for _ in range(_NEWTON):
        with np.errstate(all="ignore"):
            here = _reached(face, start, film[0], film[1], care)
            miss_x, miss_y = goal[0] - here.x, goal[1] - here.y
            e, f, g = face.metric(here.x, here.y)
            right_x, right_y = _turned_right(face, here.x, here.y, here.dx, here.dy)
            step = np.array(
                [
                    ((e * right_x + f * right_y) * miss_x + (f * right_x + g * right_y) * miss_y) / here.j,
                    (e * here.dx + f * here.dy) * miss_x + (f * here.dx + g * here.dy) * miss_y,
                ]
            )
            sound = np.isfinite(step).all(axis=0) & (here.j > _CROSSED)
        film = film + np.where(sound, step, 0.0)
        moved = np.where(sound, np.abs(step).max(axis=0), np.inf).reshape(several, points).max(axis=1)
        good = moved < care.still
        if np.all(good | np.isinf(moved)):
            break
    shaped = here.each(lambda one: one.reshape(several, points))
    return np.moveaxis(film.reshape(2, several, points), 0, 2), shaped, good


def _direction(face: Face, anchor: Anchor) -> tuple[float, float]:
    x, y = (np.array([one]) for one in anchor.at)
    e, f, g = (float(one[0]) for one in face.metric(x, y))
    # Along the chart's x at unit length, and at right angles to it.
    x_way = np.array([1 / np.sqrt(e), 0.0])
    y_way = np.array([-f / e, 1.0]) / np.sqrt(g - f**2 / e)
    level, rising = (x_way, y_way) if anchor.way is Unrolled.ACROSS else (y_way, -x_way)
    way = (level + anchor.slope * rising) / np.hypot(1.0, anchor.slope)
    return float(way[0]), float(way[1])


def _first_guess(face: Face, start: Array, goal: Array) -> Array:
    """As if the chart were flat: along and across the anchored line's direction at its start."""
    e, _, g = face.metric(start[0], start[1])
    off = (goal - start[:2]) * np.sqrt([e, g])
    way = start[2:] * np.sqrt([e, g])
    way = way / np.hypot(*way)
    return np.array([(off * way).sum(axis=0), off[1] * way[0] - off[0] * way[1]])


def _reached(face: Face, start: Array, u: Array, v: Array, care: _Care) -> OnFace:
    """Along the anchored line by u, then across it by v; each start of its own, shape (4, n)."""
    x, y, du_x, du_y = _run(face, start, u, care)
    dx, dy = _turned_left(face, x, y, du_x, du_y)
    none = np.zeros_like(x)
    return OnFace(*_run(face, np.array([x, y, dx, dy, none + 1, none, none, none]), v, care))


FOLDS = (
    "Lines across the film would cross on this glass: no flat film lies on it this way. "
    "Move the cross line nearer to the middle, turn the film, or look at the crowns that were read."
)


def _run(face: Face, start: Array, length: Array, care: _Care) -> Array:
    """Geodesics of unit speed for their lengths, each of its own sign; with J along them where asked for.

    ``start`` is x, y, dx, dy and, if given, J, J' and the two sums along the line, shape (4 or 8, n).
    """
    reach = float(np.max(np.abs(length), initial=0.0))
    if reach == 0.0:
        return start
    steps = int(np.clip(np.ceil(reach / care.longest), care.fewest, _MOST_STEPS))
    h = length / steps
    state = start
    for _ in range(steps):
        one = _rate(face, state)
        two = _rate(face, state + h * _FIRST * one)
        three = _rate(face, state + h * _FIRST * two)
        four = _rate(face, state + h * three)
        state = state + h * _SECOND * (one + 2 * (two + three) + four)
    return state


def _rate(face: Face, state: Array) -> Array:
    bend = face.bending(state[0], state[1], state[2], state[3])
    if len(state) == 4:
        return np.array([state[2], state[3], bend.across, bend.up])
    j = state[4]
    return np.array([state[2], state[3], bend.across, bend.up, state[5], -bend.gauss * j, j, np.maximum(1 - j, 0.0)])


def _turned_left(face: Face, x: Array, y: Array, dx: Array, dy: Array) -> tuple[Array, Array]:
    """A unit direction turned a quarter to the left on the face."""
    e, f, g = face.metric(x, y)
    root = np.sqrt(e * g - f**2)
    return -(f * dx + g * dy) / root, (e * dx + f * dy) / root


def _turned_right(face: Face, x: Array, y: Array, dx: Array, dy: Array) -> tuple[Array, Array]:
    left_x, left_y = _turned_left(face, x, y, dx, dy)
    return -left_x, -left_y

"""The true flat pattern: a pane's outline and cut line as flat film that shrinks onto this glass."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from elumbra.core.glass import Face
from elumbra.core.shrink.net import Anchor, Array, Net, Unrolled
from elumbra.core.shrink.required import densified

_SEGMENT_MM = 15.0


@dataclass(frozen=True)
class Difference:
    """How far a drawing of the pane is from its true flat pattern, best laid over it [mm]."""

    largest: float
    wider: float  # drawing less true, greatest width
    taller: float


def upright(film: Array, way: Unrolled) -> Array:
    """Film coordinates as the pane is seen from outside, up is up, shape (…, 2).

    Examples
    --------
    >>> upright(np.array([[3.0, 1.0]]), Unrolled.UP).tolist()
    [[-1.0, 3.0]]
    """
    if way is Unrolled.ACROSS:
        return film
    return np.stack([-film[..., 1], film[..., 0]], axis=-1)


def flattened(face: Face, anchor: Anchor, chart: Array) -> Array:
    """Points of the glass on the flat film, as seen from outside, shape (n, 2) [mm]; the cross line's start is 0.

    Raises
    ------
    ShrinkError
        No flat film lies there.
    """
    return upright(Net(face, anchor).laid_out(chart)[0], anchor.way)


def fine(ring: Array) -> Array:
    """A ring with so many points that its stretches stay straight enough once flattened."""
    return densified(ring, _SEGMENT_MM)


def difference(true: Array, drawn: Array) -> Difference:
    """How far a drawing is from the true pattern, point by point; both of shape (n, 2).

    The drawing is moved and turned to lie on the pattern as well as it can (least squares).

    Examples
    --------
    >>> square = np.array([[0.0, 0.0], [10.0, 0.0], [10.0, 10.0], [0.0, 10.0]])
    >>> difference(square, square[:, ::-1] * [-1, 1] + 5).largest < 1e-9
    True
    """
    laid = laid_over(true, drawn)
    wide, tall = np.ptp(laid, axis=0) - np.ptp(true, axis=0)
    return Difference(float(np.max(np.hypot(*(laid - true).T))), float(wide), float(tall))


def laid_over(true: Array, drawn: Array) -> Array:
    """A drawing moved and turned to lie on the pattern as well as it can, point by point, least squares."""
    one, other = true - true.mean(axis=0), drawn - drawn.mean(axis=0)
    left, _, right = np.linalg.svd(other.T @ one)
    turn = left @ np.diag([1.0, np.sign(np.linalg.det(left @ right))]) @ right
    return np.asarray(other @ turn + true.mean(axis=0))

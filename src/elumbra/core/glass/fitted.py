"""Glass fitted smoothly to straightedge gaps: a polynomial of the fourth degree (heart, section 1, surface 3).

An interpolated grid of noisy gaps has no curvature worth the name: 0.01 mm of noise gives errors of
0.03 in J. So a few smooth shapes are fitted to all gaps at once, the higher ones held small, and what
the gaps leave open comes out as the fit's spread.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from elumbra.core.glass.face import Array, Slopes

# Powers of x and y; straightedges across and up never see a plane or the twist x y.
_POWERS = tuple((i, k) for i in range(5) for k in range(5 - i) if i + k >= 2 and (i, k) != (1, 1))
_QUADRATIC = np.array([i + k == 2 for i, k in _POWERS])


@dataclass(frozen=True)
class Straightedge:
    """A gap under a straightedge: its two ends and the point read, in the chart [mm]."""

    start: tuple[float, float]
    end: tuple[float, float]
    at: tuple[float, float]


@dataclass(frozen=True)
class Fitted:
    """Height over the plane as a polynomial of x and y over half the pane's size; toward the viewer."""

    half: tuple[float, float]
    weights: tuple[float, ...]  # by ``_POWERS``, how far the glass falls back at the pane's sides [mm]

    def slopes(self, x: Array, y: Array) -> Slopes:
        """Height and its derivatives."""
        a, b = self.half
        table = np.zeros((5, 5))
        for weight, at in zip(self.weights, _POWERS, strict=True):
            table[at] = -weight
        x, y = np.broadcast_arrays(x, y)
        of_x, of_y = _powers(x / a), _powers(y / b)
        by_y = [np.tensordot(table, rise, axes=1) / b**n for n, rise in enumerate(of_y)]  # (5, …) each
        by_x = [rise / a**n for n, rise in enumerate(of_x)]
        orders = ((0, 0), (1, 0), (0, 1), (2, 0), (1, 1), (0, 2), (3, 0), (2, 1), (1, 2), (0, 3))
        return Slopes(*((by_x[n_x] * by_y[n_y]).sum(axis=0) for n_x, n_y in orders))


@dataclass(frozen=True)
class Fit:
    """A fitted height with what the gaps leave open."""

    height: Fitted
    steps: Array  # (n, weights): the weights' spread as independent steps of one sigma each
    misses: Array  # by gap, fitted minus read in sigmas of what is left to check

    def varied(self) -> tuple[Fitted, ...]:
        """The height one sigma off in each independent way."""
        own = np.array(self.height.weights)
        return tuple(replace(self.height, weights=tuple((own + step).tolist())) for step in self.steps)


def fit_gaps(
    edges: Sequence[Straightedge],
    gaps: Sequence[float],
    *,
    half: tuple[float, float],
    sigma: float,
    rough: float,
) -> Fit:
    """The smooth face that leaves such gaps.

    Parameters
    ----------
    edges, gaps
        Straightedges and what was read under each [mm]; more than the quadratic shapes need.
    half
        Half the pane's width and height in the chart [mm].
    sigma
        Spread of one gap [mm].
    rough
        How large the shapes of third and fourth degree are expected, one sigma, as a share of the largest gap.
    """
    heights = np.array([_gap_row(edge, half) for edge in edges])
    prior = np.where(_QUADRATIC, _WIDE_MM, max(rough * max(gaps, default=0.0), sigma))
    rows = np.vstack([heights / sigma, np.diag(1 / prior)])
    goals = np.concatenate([np.array(gaps) / sigma, np.zeros(len(prior))])
    weights, *_ = np.linalg.lstsq(rows, goals, rcond=None)
    covariance = np.linalg.inv(rows.T @ rows)
    values, vectors = np.linalg.eigh(covariance)
    misses = (heights @ weights - gaps) / sigma
    left = 1 - np.einsum("ij,jk,ik->i", heights / sigma, covariance, heights / sigma)
    return Fit(
        Fitted(half, tuple(weights.tolist())),
        (vectors * np.sqrt(np.maximum(values, 0.0))).T,
        misses / np.sqrt(np.maximum(left, _LEAST_CHECK)),
    )


_WIDE_MM = 1000.0
_LEAST_CHECK = 0.02  # a gap that nothing checks cannot be told off
_FALL = np.array([[np.prod([i - n for n in range(times)]) for i in range(5)] for times in range(4)], dtype=float)


def _gap_row(edge: Straightedge, half: tuple[float, float]) -> Array:
    """What each shape of weight 1 adds to the gap: how far it falls back there beyond the straight line."""
    ends = np.array([edge.start, edge.end, edge.at])
    span = ends[1] - ends[0]
    share = float(np.dot(ends[2] - ends[0], span) / np.dot(span, span))
    scaled = ends / np.array(half)
    falls = np.array([[x**i * y**k for i, k in _POWERS] for x, y in scaled])
    return np.asarray((1 - share) * falls[0] + share * falls[1] - falls[2])


def _powers(at: Array) -> list[Array]:
    """The five powers and their first, second and third derivatives, each of shape (5, …)."""
    plain = [np.ones_like(at)]
    for _ in range(4):
        plain.append(plain[-1] * at)
    none = np.zeros_like(at)
    return [
        np.array([_FALL[times, i] * plain[i - times] if i >= times else none for i in range(5)]) for times in range(4)
    ]

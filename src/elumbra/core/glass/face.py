"""Curved faces of glass as film meets them: how lengths run, how lines bend, how much they curve.

Vocabulary
----------
face
    A curved surface with a chart of its own. Film lies on the inside face, which runs parallel to the
    outside one that is read, a glass thickness behind it; the same chart names both, point above point.
chart
    ``x`` to the right, ``y`` up, seen from outside [mm]. On a barrel lengths along its widest circle and
    its middle meridian; on a graph the distances in the plane that the straightedge is held to.
metric
    E, F, G: a step (dx, dy) of the chart is sqrt(E dx² + 2 F dx dy + G dy²) long on the face.
Gaussian curvature
    K [1/mm²]: over 0 where the face bends the same way in every direction, 0 where it unrolls.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import NamedTuple, Protocol

import numpy as np
from numpy.typing import NDArray

from elumbra.core.glass.surface import Barrel

Array = NDArray[np.float64]


class Bending(NamedTuple):
    """How a line of unit speed runs on at each of several points, each of shape (n,)."""

    across: Array  # d²x [1/mm]
    up: Array  # d²y [1/mm]
    gauss: Array  # K [1/mm²]


class Face(Protocol):
    """What the required shrink asks of a surface."""

    def metric(self, x: Array, y: Array) -> tuple[Array, Array, Array]:
        """E, F and G at points of the chart."""
        ...

    def bending(self, x: Array, y: Array, dx: Array, dy: Array) -> Bending:
        """How geodesics through these points in these directions bend in the chart, and K there."""
        ...

    def points(self, x: Array, y: Array) -> Array:
        """Points in space, shape (…, 3): right, up, toward the viewer [mm], seen from outside."""
        ...


@dataclass(frozen=True)
class BarrelFace:
    """A barrel, or the face that runs parallel to it ``inside`` mm nearer to its axis.

    Notes
    -----
    ds² = A(y)² dx² + B² dy² with A = (r(y) − t cos(y/ρ)) / R and B = 1 − t/ρ; K = −A'' / (A B²).
    """

    barrel: Barrel
    inside: float = 0.0

    @property
    def _b(self) -> float:
        return 1 - self.inside * self.barrel.up

    def metric(self, x: Array, y: Array) -> tuple[Array, Array, Array]:
        """E, F and G at points of the chart."""
        a = self._a(y)
        return a**2 + 0 * x, np.zeros_like(a), np.full_like(a, self._b**2)

    def bending(self, x: Array, y: Array, dx: Array, dy: Array) -> Bending:  # noqa: ARG002
        """How geodesics bend, and K; the same all round each circle."""
        up, across, b = self.barrel.up, self.barrel.across, self._b
        turned = up * y
        a, slope = self._a(y), -across * b * np.sin(turned)
        gauss = across * up * np.cos(turned) / (a * b)
        return Bending(-2 * slope / a * dx * dy, a * slope * dx**2 / b**2, gauss)

    def points(self, x: Array, y: Array) -> Array:
        """Points in space."""
        outside = self.barrel.points(np.stack([x, y], axis=-1))
        turned, swung = self.barrel.up * y, self.barrel.across * x
        out = np.stack([np.cos(turned) * np.sin(swung), np.sin(turned), np.cos(turned) * np.cos(swung)], axis=-1)
        return np.asarray(outside - self.inside * out)

    def _a(self, y: Array) -> Array:
        return np.asarray(self.barrel.narrowing(y) - self.inside * self.barrel.across * np.cos(self.barrel.up * y))


class Slopes(NamedTuple):
    """A height over the plane and its derivatives, as many as a parallel face needs, each of shape (n,)."""

    z: Array
    x: Array
    y: Array
    xx: Array
    xy: Array
    yy: Array
    xxx: Array
    xxy: Array
    xyy: Array
    yyy: Array


class Height(Protocol):
    """A height over the plane that the straightedge is held to."""

    def slopes(self, x: Array, y: Array) -> Slopes:
        """Height, toward the viewer, and its derivatives."""
        ...


@dataclass(frozen=True)
class GraphFace:
    """A face given by its height over a plane, or the one parallel to it ``inside`` mm behind.

    Notes
    -----
    P = (x, y, z) − t N. A geodesic's chart coordinates have the acceleration −I⁻¹ (P_i · P_jk ẋ_j ẋ_k).
    K = K₀ / (1 + 2 H₀ t + K₀ t²), H₀ counted against N, which points to the viewer.
    """

    height: Height
    inside: float = 0.0

    def metric(self, x: Array, y: Array) -> tuple[Array, Array, Array]:
        """E, F and G at points of the chart."""
        p_x, p_y, *_ = self._parts(self.height.slopes(x, y))
        return _dot(p_x, p_x), _dot(p_x, p_y), _dot(p_y, p_y)

    def bending(self, x: Array, y: Array, dx: Array, dy: Array) -> Bending:
        """How geodesics bend, and K."""
        s = self.height.slopes(x, y)
        w = 1 + s.x**2 + s.y**2
        gauss = (s.xx * s.yy - s.xy**2) / w**2
        if self.inside == 0:
            bend = (s.xx * dx**2 + 2 * s.xy * dx * dy + s.yy * dy**2) / w
            return Bending(-s.x * bend, -s.y * bend, gauss)
        mean = ((1 + s.y**2) * s.xx - 2 * s.x * s.y * s.xy + (1 + s.x**2) * s.yy) / (2 * w**1.5)
        gauss = gauss / (1 + 2 * mean * self.inside + gauss * self.inside**2)
        p_x, p_y, p_xx, p_xy, p_yy = self._parts(s)
        pull = p_xx * dx**2 + 2 * p_xy * dx * dy + p_yy * dy**2
        e, f, g = _dot(p_x, p_x), _dot(p_x, p_y), _dot(p_y, p_y)
        on_x, on_y = _dot(p_x, pull), _dot(p_y, pull)
        det = e * g - f**2
        return Bending((f * on_y - g * on_x) / det, (f * on_x - e * on_y) / det, gauss)

    def points(self, x: Array, y: Array) -> Array:
        """Points in space."""
        s = self.height.slopes(x, y)
        out = np.stack([-s.x, -s.y, np.ones_like(s.x)], axis=-1) / np.sqrt(1 + s.x**2 + s.y**2)[..., None]
        return np.asarray(np.stack([x + 0 * s.z, y + 0 * s.z, s.z], axis=-1) - self.inside * out)

    def _parts(self, s: Slopes) -> tuple[Array, Array, Array, Array, Array]:
        """First and second derivatives of the points, each of shape (3, n)."""
        one, none = np.ones_like(s.x), np.zeros_like(s.x)
        first = np.array([one, none, s.x]), np.array([none, one, s.y])
        second = [np.array([none, none, bend]) for bend in (s.xx, s.xy, s.yy)]
        if self.inside == 0:
            return (*first, *second)  # type: ignore[return-value]
        out = np.array([-s.x, -s.y, one])
        tilt = np.array([-s.xx, -s.xy, none]), np.array([-s.xy, -s.yy, none])
        turn = (
            np.array([-s.xxx, -s.xxy, none]), np.array([-s.xxy, -s.xyy, none]), np.array([-s.xyy, -s.yyy, none])
        )  # fmt: skip
        w = 1 / np.sqrt(_dot(out, out))
        lean = [-(w**3) * _dot(out, one_way) for one_way in tilt]
        normals_first = [one_way * w + out * by for one_way, by in zip(tilt, lean, strict=True)]
        normals_second = []
        for bend, (i, k) in zip(turn, ((0, 0), (0, 1), (1, 1)), strict=True):
            both = 3 * w**5 * _dot(out, tilt[i]) * _dot(out, tilt[k]) - w**3 * (
                _dot(tilt[i], tilt[k]) + _dot(out, bend)
            )
            normals_second.append(bend * w + tilt[i] * lean[k] + tilt[k] * lean[i] + out * both)
        moved = [own - self.inside * turned for own, turned in zip(first, normals_first, strict=True)]
        moved += [own - self.inside * turned for own, turned in zip(second, normals_second, strict=True)]
        return tuple(moved)  # type: ignore[return-value]


def inside_face(face: BarrelFace | GraphFace, *, thickness: float) -> BarrelFace | GraphFace:
    """The face that film lies on: parallel to the outside one, a glass thickness behind it [mm]."""
    return replace(face, inside=face.inside + thickness)


def _dot(one: Array, other: Array) -> Array:
    return np.asarray((one * other).sum(axis=0))

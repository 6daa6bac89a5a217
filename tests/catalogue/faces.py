"""Curved faces worked out without the code under test: geodesics and K in space, from an implicit surface.

A geodesic's acceleration is along the surface's normal: x'' = −(x'ᵀ H x') ∇F / |∇F|². Gaussian curvature is
K = (∇F adj(H) ∇Fᵀ) / |∇F|⁴ (Goldman 2005). Integrated by an eighth-order method to 1e-12.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from scipy.integrate import solve_ivp


@dataclass(frozen=True)
class Implicit:
    """A surface F = 0 by its gradient and its second derivatives."""

    gradient: Callable[[np.ndarray], np.ndarray]
    second: Callable[[np.ndarray], np.ndarray]

    def gauss(self, at: np.ndarray) -> float:
        slope, bend = self.gradient(at), self.second(at)
        cofactors = np.array(
            [
                [np.linalg.det(np.delete(np.delete(bend, i, 0), k, 1)) * (-1) ** (i + k) for k in range(3)]
                for i in range(3)
            ]
        )
        return float(slope @ cofactors @ slope / np.dot(slope, slope) ** 2)

    def walked(self, start: np.ndarray, way: np.ndarray, length: float) -> tuple[np.ndarray, np.ndarray, float]:
        """Along a geodesic: where it ends, in which direction, and J there when it set out at right angles."""
        slope = self.gradient(start)
        way = way - slope * (way @ slope) / (slope @ slope)
        way = way / np.linalg.norm(way)

        def rate(_: float, state: np.ndarray) -> np.ndarray:
            at, ahead, j, dj = state[:3], state[3:6], state[6], state[7]
            normal = self.gradient(at)
            pull = -(ahead @ self.second(at) @ ahead) / (normal @ normal) * normal
            return np.concatenate([ahead, pull, [dj, -self.gauss(at) * j]])

        begin = np.concatenate([start, way, [1.0, 0.0]])
        if length == 0:
            return start, way, 1.0
        # A negative length is walked the other way.
        end = solve_ivp(rate, (0, length), begin, rtol=1e-12, atol=1e-12, method="DOP853").y[:, -1]
        return end[:3], end[3:6], float(end[6])

    def film_at(self, start: np.ndarray, along: np.ndarray, u: float, v: float) -> tuple[np.ndarray, float]:
        """Where the film's point (u, v) lies when its line is anchored at ``start`` in direction ``along``, and J."""
        foot, ahead, _ = self.walked(start, along, u)
        normal = self.gradient(foot)
        normal = normal / np.linalg.norm(normal)
        if normal[2] < 0:
            normal = -normal
        point, _, j = self.walked(foot, np.cross(normal, ahead), v)
        return point, j


def torus(across: float, up: float) -> Implicit:
    """A barrel in space, its widest circle level in y = 0 and its middle at the origin, the axis behind it."""

    def parts(at: np.ndarray) -> tuple[float, float, float, float]:
        x, y, z = at[0], at[1], at[2] + across
        return x, y, z, float(np.hypot(x, z))

    def gradient(at: np.ndarray) -> np.ndarray:
        x, y, z, r = parts(at)
        out = 2 * (r - (across - up))
        return np.array([out * x / r, 2 * y, out * z / r])

    def second(at: np.ndarray) -> np.ndarray:
        x, _, z, r = parts(at)
        a = across - up
        f = 2 * (1 - a / r)
        g = 2 * a / r**3
        return np.array([[f + g * x * x, 0.0, g * x * z], [0.0, 2.0, 0.0], [g * x * z, 0.0, f + g * z * z]])

    return Implicit(gradient, second)


def graph(
    slopes: Callable[[float, float], tuple[float, float]], bends: Callable[[float, float], np.ndarray]
) -> Implicit:
    """z = h(x, y) by its slopes and its matrix of second derivatives."""

    def gradient(at: np.ndarray) -> np.ndarray:
        x, y = slopes(at[0], at[1])
        return np.array([-x, -y, 1.0])

    def second(at: np.ndarray) -> np.ndarray:
        found = np.zeros((3, 3))
        found[:2, :2] = -bends(at[0], at[1])
        return found

    return Implicit(gradient, second)

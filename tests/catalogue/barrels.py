"""Curved panes, worked out without the code under test: a taut tape by integrating its differential equation."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from scipy.integrate import solve_ivp
from scipy.optimize import root

INCH = 25.4
BACK = np.array([[0, 0], [1300, 0], [1110, 640], [190, 640]], float)
DOOR = np.array([[0, 0], [960, 0], [890, 440], [330, 465]], float)

# Gap over the whole pane, across and up [mm], from nearly flat to the most that is met.
CROWNS = {
    "22/8": (22.0, 8.0), "40/15": (40.0, 15.0), "70/25": (70.0, 25.0), "100/35": (100.0, 35.0),
    "150/50": (150.0, 50.0),
}  # fmt: skip


def radius(gap: float, chord: float) -> float:
    """Of the circle with such a gap under a straightedge."""
    return chord**2 / (8 * gap) + gap / 2


@dataclass(frozen=True)
class Bowl:
    """A surface of revolution: arcs of radius up, swept so that the widest circle has radius across [mm]."""

    across: float
    up: float

    def circle(self, y: float) -> float:
        return self.across - self.up + self.up * float(np.cos(y / self.up))

    def space(self, x: float, y: float) -> np.ndarray:
        """A point by its way along the widest circle and up the meridian."""
        r, turn = self.circle(y), x / self.across
        return np.array([r * np.sin(turn), self.up * np.sin(y / self.up), r * np.cos(turn)])

    def straight(self, a: np.ndarray, b: np.ndarray) -> float:
        return float(np.linalg.norm(self.space(*a) - self.space(*b)))

    def tape(self, a: np.ndarray, b: np.ndarray) -> float:
        """Length of the geodesic from a to b, shot from a until it lands on b."""

        def slope(_: float, at: np.ndarray) -> list[float]:
            _turn, y, turning, rising = at
            r, falls = self.circle(y), -np.sin(y / self.up)
            return [turning, rising, -2 * falls / r * turning * rising, r * falls * turning**2]

        def landed(shot: np.ndarray) -> np.ndarray:
            angle, length = shot
            r = self.circle(a[1])
            begin = [a[0] / self.across, a[1], np.cos(angle) / r, np.sin(angle)]
            end = solve_ivp(slope, (0, length), begin, rtol=1e-11, atol=1e-12, method="DOP853").y[:, -1]
            return np.array([(end[0] * self.across - b[0]), end[1] - b[1]])

        middle = self.circle((a[1] + b[1]) / 2) / self.across
        guess = np.array([(b[0] - a[0]) * middle, b[1] - a[1]])
        found = root(landed, [np.arctan2(guess[1], guess[0]), np.hypot(*guess)], tol=1e-11)
        assert np.abs(landed(found.x)).max() < 1e-6
        return float(found.x[1])

    def laid_out(self, chart: np.ndarray) -> np.ndarray:
        """Every circle straight at its own length, foot level from the origin."""
        flat = np.array([[x * self.circle(y) / self.across, y] for x, y in chart])
        foot = flat[1] - flat[0]
        c, s = foot / np.hypot(*foot)
        return (flat - flat[0]) @ np.array([[c, -s], [s, c]])


def bowl_of(corners: np.ndarray, across: float, up: float) -> Bowl:
    """The bowl with such gaps over a pane's whole width and height."""
    wide, high = np.ptp(corners, axis=0)
    return Bowl(radius(across, wide), radius(up, high))


def chart_of(
    corners: np.ndarray, bowl: Bowl, *, widest_above_middle: float = 0.0, tilt_degrees: float = 0.0
) -> np.ndarray:
    """Where a pane's corners lie: the widest circle midway up, the foot level, unless it is said otherwise."""
    middle = np.array([np.ptp(corners[:, 0]) / 2, corners[2:, 1].mean() / 2])
    turn = np.radians(tilt_degrees)
    c, s = np.cos(turn), np.sin(turn)
    flat = (corners - middle) @ np.array([[c, s], [-s, c]]) - [0.0, widest_above_middle]
    return np.array([[x * bowl.across / bowl.circle(y), y] for x, y in flat])


PAIRS = {
    "bottom": (0, 1), "right": (1, 2), "top": (2, 3), "left": (3, 0), "diagonal_rising": (0, 2),
    "diagonal_falling": (3, 1),
}  # fmt: skip


def tape_readings(chart: np.ndarray, bowl: Bowl) -> dict[str, float]:
    """The six readings of a four-cornered pane, tape on the glass [mm]."""
    return {key: bowl.tape(chart[i], chart[k]) for key, (i, k) in PAIRS.items()}


def crown_readings(bowl: Bowl, corners: np.ndarray) -> dict[str, float]:
    """Gaps and the distances that they are read over, exact [mm]."""
    found = {}
    for key, r, size in (
        ("across", bowl.across, 0.9 * np.ptp(corners[:, 0])),
        ("up", bowl.up, 0.85 * np.ptp(corners[:, 1])),
    ):
        found[f"crown_{key}"] = r - float(np.sqrt(r**2 - size**2 / 4))
        found[f"crown_{key}_chord"] = float(size)
    return found


def apart(one: np.ndarray, other: np.ndarray) -> float:
    """Greatest distance between corners of two figures laid over each other as well as can be [mm]."""
    a, b = one - one.mean(axis=0), other - other.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = u @ np.diag([1.0, np.sign(np.linalg.det(u @ vt))]) @ vt
    return float(np.hypot(*(a @ turn - b).T).max())

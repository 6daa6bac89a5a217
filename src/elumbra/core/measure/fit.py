"""Corners of a flat pane from tape readings, by least squares.

Vocabulary
----------
misclosure
    How far the readings miss a figure that can be drawn, in multiples of its own spread.
redundancy
    Readings more than the figure needs. A four-cornered pane has five unknowns: six readings
    leave one, which detects a slip and cannot say where; a seventh leaves two and names it.
closing value
    What one reading would have to be for all the others to fit exactly.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import least_squares

from elumbra.core.errors import ReadingError
from elumbra.core.geom import is_simple
from elumbra.core.geom.polygon import Points
from elumbra.core.measure.readings import (
    Ends,
    Figure,
    Readings,
    extra_keys,
    label,
    shape_keys,
)
from elumbra.core.starting import StartingValues
from elumbra.core.units import MM_PER_INCH

_INCH = float(MM_PER_INCH)
# Slips of the hand in the order they are met (heart, section 1), with a penalty in sigmas.
_SLIPS: tuple[tuple[float, str, float], ...] = (
    (1.0, "a whole inch", 0.0),
    (0.5, "half an inch", 0.3),
    (10.0, "ten inches", 0.5),
    (12.0, "a foot", 0.5),
    (2.0, "two inches", 0.7),
    (0.25, "a quarter inch", 0.9),
)
_NO_SLIP_PENALTY = 3.0
_SLIP_WITHIN_SIGMA = 2.0
# A culprit is named when dropping it explains the readings this much better than dropping
# any other: e^2, about 7 to 1.
_NAMING_MARGIN = 4.0
_MIN_REDUNDANCY_SHARE = 1e-6


@dataclass(frozen=True)
class ClosingChange:
    """The change of one reading that alone would close the figure."""

    key: str
    read_mm: float
    closing_mm: float
    spread_mm: float  # one sigma of the change
    slip: str | None  # the usual slip that it looks like

    @property
    def change_mm(self) -> float:
        """What to add to the reading [mm]."""
        return self.closing_mm - self.read_mm


@dataclass(frozen=True)
class CornerFit:
    """Corners that fit the readings best, and how well they do."""

    corners: Points  # (n, 2) mm, counter-clockwise from the bottom left, foot level
    residuals: dict[str, float]  # fitted minus read, mm
    redundancy: int
    misclosure_sigma: float  # 0 where nothing is left to check
    alarm: bool
    changes: tuple[ClosingChange, ...]  # likeliest slip first; empty without alarm
    ask_for: str | None  # the further reading that tells the suspects apart
    culprit: ClosingChange | None  # named once a further reading is there


def fit_corners(readings: Readings, *, figure: Figure, starting: StartingValues) -> CornerFit | None:
    """Solve a pane's corners from its sides, diagonals and further readings.

    Parameters
    ----------
    readings
        Checked readings (``check_readings``); keys other than straight ones are ignored.
    figure
        Three or four corners.
    starting
        Gives the tape's sigma and the alarm.

    Returns
    -------
    CornerFit or None
        None while readings are missing.

    Raises
    ------
    ReadingError
        The readings draw a figure that crosses itself.
    """
    needed, extra = shape_keys(figure), extra_keys(figure)
    if any(key not in readings for key in needed):
        return None
    ends = {key: value for key, value in (needed | extra).items() if key in readings}
    lengths = {key: readings[key].mm for key in ends}
    solved = _solve(ends, lengths, start=_first_guess(lengths, figure))
    if not is_simple(solved.corners):
        raise ReadingError(
            "These readings draw a pane that crosses itself. Read the diagonals again: each joins opposite corners.",
            fields={key: "Read again." for key in needed if key.startswith("diagonal")} or {"bottom": "Read again."},
        )
    sigma, alarm_at = starting["tape_sigma_mm"], starting["misclosure_alarm_sigma"]
    redundancy = len(ends) - (2 * len(solved.corners) - 3)
    normalised = solved.normalised(sigma)
    misclosure = float(np.max(np.abs(normalised))) if redundancy > 0 else 0.0
    residuals = dict(zip(ends, (-solved.residuals).tolist(), strict=True))
    if misclosure <= alarm_at:
        return CornerFit(
            solved.corners, residuals, redundancy, misclosure, alarm=False, changes=(), ask_for=None, culprit=None
        )
    without = {key: _leave_out(key, ends, lengths, solved.corners) for key in ends}
    changes = _closing_changes(readings, without, solved, list(ends), sigma=sigma)
    culprit = _culprit(without, changes, sigma=sigma) if redundancy > 1 else None
    ask_for = None
    if culprit is None and figure is Figure.FOUR:
        ask_for = _best_question(ends, extra, changes, solved.corners, sigma=sigma)
    return CornerFit(
        solved.corners, residuals, redundancy, misclosure, alarm=True, changes=changes, ask_for=ask_for, culprit=culprit
    )


@dataclass(frozen=True)
class _Solution:
    corners: Points
    residuals: Points  # read minus fitted, mm
    jacobian: Points

    def residual_cofactor(self) -> Points:
        """Diagonal of the residuals' cofactor matrix: each reading's share of the check."""
        q, _ = np.linalg.qr(self.jacobian)
        return np.asarray(np.maximum(1.0 - np.einsum("ij,ij->i", q, q), _MIN_REDUNDANCY_SHARE))

    def normalised(self, sigma: float) -> Points:
        """Each residual in multiples of its own spread (Baarda's data snooping)."""
        return np.asarray(self.residuals / (sigma * np.sqrt(self.residual_cofactor())), dtype=float)

    def squares(self, sigma: float) -> float:
        return float(np.sum((self.residuals / sigma) ** 2))


def _unpack(unknowns: Points) -> Points:
    """Corners from unknowns: bottom left at the origin, bottom right on the x axis."""
    return np.vstack([[0.0, 0.0], [unknowns[0], 0.0], unknowns[1:].reshape(-1, 2)])


def _solve(ends: dict[str, Ends], lengths: dict[str, float], *, start: Points) -> _Solution:
    differences = _differences(ends)
    read = np.array([lengths[key] for key in ends])

    def residuals(unknowns: Points) -> Points:
        return np.asarray(read - np.hypot(*(differences @ _unpack(unknowns)).T))

    def jacobian(unknowns: Points) -> Points:
        return _jacobian(differences, _unpack(unknowns))

    unknowns = np.concatenate([[start[1, 0]], start[2:].ravel()])
    found = least_squares(residuals, unknowns, jac=jacobian, method="trf", x_scale="jac")
    return _Solution(_unpack(found.x), residuals(found.x), jacobian(found.x))


def _differences(ends: dict[str, Ends]) -> Points:
    """Each reading as weights of the corners, shape (readings, corners)."""
    return np.array([np.subtract(far, near) for near, far in ends.values()])


def _jacobian(differences: Points, corners: Points) -> Points:
    """Change of each residual (read minus fitted) with each unknown."""
    spans = differences @ corners
    units = spans / np.maximum(np.hypot(*spans.T), 1e-9)[:, None]
    full = differences[:, :, None] * units[:, None, :]  # (readings, corners, 2)
    return np.asarray(-np.column_stack([full[:, 1, 0], full[:, 2:, :].reshape(len(differences), -1)]))


def _first_guess(lengths: dict[str, float], figure: Figure) -> Points:
    bottom = lengths["bottom"]
    if figure is Figure.THREE:
        return np.vstack([[0, 0], [bottom, 0], _apex(bottom, lengths["left"], lengths["right"])])
    top_right = _apex(bottom, lengths["diagonal_rising"], lengths["right"])
    top_left = _apex(bottom, lengths["left"], lengths["diagonal_falling"])
    return np.vstack([[0, 0], [bottom, 0], top_right, top_left])


def _apex(base: float, from_left: float, from_right: float) -> Points:
    """Third corner of a triangle over its base; flat triangles keep a little height."""
    x = (base**2 + from_left**2 - from_right**2) / (2 * base)
    return np.array([x, np.sqrt(max(from_left**2 - x**2, (0.02 * from_left) ** 2))])


def _leave_out(key: str, ends: dict[str, Ends], lengths: dict[str, float], start: Points) -> _Solution:
    return _solve({other: value for other, value in ends.items() if other != key}, lengths, start=start)


def _distance(corners: Points, ends: Ends) -> float:
    near, far = ends
    return float(np.hypot(*(np.subtract(far, near) @ corners)))


def _closing_changes(
    readings: Readings, without: dict[str, _Solution], solved: _Solution, keys: Sequence[str], *, sigma: float
) -> tuple[ClosingChange, ...]:
    figure = Figure.THREE if len(solved.corners) == 3 else Figure.FOUR
    all_ends = shape_keys(figure) | extra_keys(figure)
    shares = solved.residual_cofactor()
    scored = []
    for key, share in zip(keys, shares, strict=True):
        spread = float(sigma / np.sqrt(share))
        closing = _distance(without[key].corners, all_ends[key])
        slip, score = _nearest_slip(readings[key].typed, closing - readings[key].mm, spread=spread)
        scored.append((score, ClosingChange(key, readings[key].mm, closing, spread, slip)))
    return tuple(change for _, change in sorted(scored, key=lambda pair: pair[0]))


def _nearest_slip(typed: str, change_mm: float, *, spread: float) -> tuple[str | None, float]:
    """The usual slip that a change looks like, and how unlikely the whole is."""
    candidates = [(size * _INCH, name, penalty) for size, name, penalty in _SLIPS]
    candidates += [(abs(swap) * _INCH, "swapped digits", 0.2) for swap in _digit_swaps(typed) if swap * change_mm > 0]
    gaps = [(abs(abs(change_mm) - size) / spread, name, penalty) for size, name, penalty in candidates]
    near = [(gap + penalty, name) for gap, name, penalty in gaps if gap <= _SLIP_WITHIN_SIGMA]
    if near:
        score, name = min(near)
        return name, score
    return None, _NO_SLIP_PENALTY + min(gap for gap, _, _ in gaps) / 10


def _digit_swaps(typed: str) -> list[float]:
    """How many inches a reading moves when two neighbouring digits of its inches change places."""
    match = re.match(r"\s*(\d{2,3})(?![\d']|\s*(?:mm|cm|m\b|ft))", typed)
    if not match:
        return []
    digits = match[1]
    swaps = []
    for i in range(len(digits) - 1):
        swapped = digits[:i] + digits[i + 1] + digits[i] + digits[i + 2 :]
        if swapped != digits:
            swaps.append(float(int(swapped) - int(digits)))
    return swaps


def _culprit(without: dict[str, _Solution], changes: Sequence[ClosingChange], *, sigma: float) -> ClosingChange | None:
    """The one reading whose absence explains the others clearly better than any other's."""
    ranked = sorted(without, key=lambda key: without[key].squares(sigma))
    best, second = (without[key].squares(sigma) for key in ranked[:2])
    if second - best < _NAMING_MARGIN:
        return None
    return next(change for change in changes if change.key == ranked[0])


def _best_question(
    ends: dict[str, Ends], extra: dict[str, Ends], changes: Sequence[ClosingChange], corners: Points, *, sigma: float
) -> str | None:
    """The further reading that tells the suspects apart best.

    With a slip c in reading i, dropping i explains the readings better than dropping j by
    c²/sigma² (Q_ii - Q_ij²/Q_jj), Q the residuals' cofactor matrix with the further reading
    in place. A suspect counts the more the likelier its slip; what is far beyond the margin
    counts no more.
    """
    weights = {change.key: 0.5**rank for rank, change in enumerate(changes)}
    slips = {change.key: change.change_mm for change in changes}

    def worth(key: str) -> float:
        trial = ends | {key: extra[key]}
        cofactor = _cofactor(trial, corners)
        shares = np.maximum(np.diag(cofactor), _MIN_REDUNDANCY_SHARE)
        apart = shares[:, None] - cofactor**2 / shares[None, :]
        np.fill_diagonal(apart, np.inf)
        total = 0.0
        for i, suspect in enumerate(trial):
            if suspect in slips:
                lead = (slips[suspect] / sigma) ** 2 * float(np.min(apart[i]))
                total += weights[suspect] * min(lead, 4 * _NAMING_MARGIN)
        return total

    left = [key for key in extra if key not in ends]
    return max(left, key=worth) if left else None


def _cofactor(ends: dict[str, Ends], corners: Points) -> Points:
    """Residuals' cofactor matrix I - Q Qᵀ of a set of readings at given corners."""
    q, _ = np.linalg.qr(_jacobian(_differences(ends), corners))
    return np.asarray(np.eye(len(ends)) - q @ q.T)


def describe_change(change: ClosingChange) -> str:
    """One sentence on a closing change, for a person to check."""
    slip = f", {change.slip}" if change.slip else ""
    direction = "longer" if change.change_mm > 0 else "shorter"
    return f"{label(change.key).capitalize()} {abs(change.change_mm) / _INCH:.2f} in {direction}{slip}"

"""Corners of a pane from tape readings, by least squares, on flat glass and on a barrel.

Vocabulary
----------
misclosure
    How far the readings miss a figure that can be drawn, in multiples of its own spread.
redundancy
    Readings more than the figure needs. A four-cornered pane has five unknowns: six readings
    leave one, which detects a slip and cannot say where; a seventh leaves two and names it.
    On a barrel it has seven; foot corners level and the widest circle midway between foot and
    top (unless its height is read) stand for two.
closing value
    What one reading would have to be for all the others to fit exactly.
unseen error
    What those two assumptions may hide: it moves corners and closes all the same.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from enum import StrEnum

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.geom import is_simple
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Barrel, Paths
from elumbra.core.measure.chains import chained, signed_area
from elumbra.core.measure.crowns import Crowns
from elumbra.core.measure.figures import Ends, Figure, plan_of
from elumbra.core.measure.readings import Measures, Reading, TapeMode
from elumbra.core.starting import StartingValues

_FLAT = Barrel()
_STEPS = 60
_STILL, _GAIN, _HAIR = 1e-7, 1e-7, 1e-12
_DAMPING, _MOST_DAMPING = 1e-4, 1e12
_LEAST_SHARE = 1e-6
_CURVATURE_STEP = 1e-3  # sigmas, for the change of a length with a crown


class Closing(StrEnum):
    """How well readings close."""

    CLOSES = "closes"
    AMBER = "amber"  # one may be off: worth repeating
    ALARM = "alarm"  # one is off


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
class Solved:
    """Corners that fit readings best, on the glass."""

    barrel: Barrel
    chart: Points  # (n, 2) where the corners lie on the barrel [mm]
    corners: Points  # (n, 2) laid out, counter-clockwise from corner 1, foot level [mm]
    keys: tuple[str, ...]  # readings used, in the order of the residuals
    residuals: Points  # read minus fitted [mm]
    rows: Points  # residuals in sigmas, the crowns' own after them
    jacobian: Points  # of the rows
    sigma: float  # of one tape reading [mm]
    redundancy: int

    def cofactor(self) -> Points:
        """Cofactor matrix of the rows' residuals, I − Q Qᵀ."""
        q, _ = np.linalg.qr(self.jacobian)
        return np.asarray(np.eye(len(self.rows)) - q @ q.T)

    def shares(self) -> Points:
        """Each reading's share of the check, 0 to 1."""
        return np.asarray(np.maximum(np.diag(self.cofactor())[: len(self.keys)], _LEAST_SHARE))

    @property
    def misclosure(self) -> float:
        """Largest residual of a reading in multiples of its own spread (Baarda's data snooping)."""
        if self.redundancy <= 0:
            return 0.0
        return float(np.max(np.abs(self.rows[: len(self.keys)] / np.sqrt(self.shares()))))

    @property
    def squares(self) -> float:
        """Sum of the rows' squares: how badly the readings fit."""
        return float(np.sum(self.rows**2))


@dataclass(frozen=True)
class Problem:
    """Readings to solve: what they join, how long they are, on which glass."""

    figure: Figure
    ends: Mapping[str, Ends]
    lengths: Mapping[str, float]
    straight: frozenset[str]  # those that were taken as a straight chord
    sigma: float
    crowns: Crowns | None = None
    widest_height: float | None = None
    reentrant: frozenset[str] = frozenset()
    offset: float = 0.0  # widest circle above where it is assumed [mm]
    tilt: float = 0.0  # foot corners out of level [rad]
    start: Points | None = field(default=None, compare=False)  # corners to begin at


def problem_of(measures: Measures, crowns: Crowns | None, *, starting: StartingValues) -> Problem | None:
    """What a pane's readings pose; None while some are missing or its outline is drawn."""
    plan, readings = plan_of(measures.figure), measures.readings
    if not plan.needed or any(key not in readings for key in plan.needed):
        return None
    ends = {key: value for key, value in plan.all.items() if key in readings}
    widest = readings.get("widest_height")
    return Problem(
        figure=measures.figure,
        ends=ends,
        lengths={key: readings[key].mm for key in ends},
        straight=frozenset(key for key in ends if _is_straight(readings[key])),
        sigma=starting["tape_sigma_mm"],
        crowns=crowns,
        widest_height=widest.mm if widest else None,
        reentrant=measures.reentrant,
    )


def _is_straight(reading: Reading) -> bool:
    return reading.mode is TapeMode.CHORD


def solve(problem: Problem) -> Solved:
    """Corners that fit the readings best.

    Raises
    ------
    ReadingError
        The readings draw a figure that crosses or folds over itself.
    """
    glass = _Glass(problem)
    unknowns = glass.first_guess()
    at = glass.measured(unknowns)
    jacobian = glass.jacobian(unknowns, at)
    cost, damping = float(at.rows @ at.rows), _DAMPING
    for _ in range(_STEPS):
        normal, slope = jacobian.T @ jacobian, jacobian.T @ at.rows
        step = np.linalg.solve(normal + damping * np.diag(np.diag(normal) + _HAIR), -slope)
        if float(np.max(np.abs(step))) < _STILL:
            break
        tried = glass.measured(unknowns + step, near=at)
        if (new := float(tried.rows @ tried.rows)) <= cost:
            gained, cost = cost - new, new
            unknowns, at, damping = unknowns + step, tried, max(damping / 10, _HAIR)
            if gained < _GAIN * (_GAIN + cost):
                break
            jacobian = glass.jacobian(unknowns, at)
        elif (damping := damping * 8) > _MOST_DAMPING:
            break
    return glass.solved(at, jacobian)


class _Glass:
    """The readings as functions of the unknowns: chart of the corners, then crowns in sigmas."""

    def __init__(self, problem: Problem) -> None:
        self.problem = problem
        self.keys = tuple(problem.ends)
        self.read = np.array([problem.lengths[key] for key in self.keys])
        self.straight = np.array([key in problem.straight for key in self.keys])
        self.n = problem.figure.corners
        crowns = problem.crowns
        self.crowns = [] if crowns is None else [crowns.across, crowns.up]
        self.near, self.near_edge = _points([problem.ends[key][0] for key in self.keys])
        self.far, self.far_edge = _points([problem.ends[key][1] for key in self.keys])
        self.has_middles = bool(np.any(self.near != self.near_edge) or np.any(self.far != self.far_edge))
        self.of_chart = self._of_chart()

    def _of_chart(self) -> Points:
        """How the corners' chart, flattened, grows with the unknowns: x of corner 2, then x and height of the rest."""
        shape = 2 * self.n - 3
        grows = np.zeros((self.n, 2, shape))
        grows[1, 0, 0] = 1.0
        for k in range(2, self.n):
            grows[k, 0, 2 * k - 3] = grows[k, 1, 2 * k - 2] = 1.0
        if self.problem.widest_height is None:
            tops = _top_corners(self.n)
            grows[:, 1] -= grows[tops, 1].mean(axis=0) / 2
        return grows.reshape(2 * self.n, shape)

    def first_guess(self) -> Points:
        start = self.problem.start
        if start is None:
            start = chained(self.problem.lengths, self.problem.figure, self.problem.reentrant)
        moved = np.concatenate([[start[1, 0]], start[2:].ravel()])
        return np.concatenate([moved, np.zeros(len(self.crowns))])

    def barrel(self, unknowns: Points) -> Barrel:
        if not self.crowns:
            return _FLAT
        off = unknowns[len(unknowns) - 2 :]
        across, up = (max(0.0, c.curvature + c.sigma * float(o)) for c, o in zip(self.crowns, off, strict=True))
        return Barrel(across, up)

    def chart(self, unknowns: Points) -> Points:
        corners = (self.of_chart @ unknowns[: 2 * self.n - 3]).reshape(self.n, 2)
        if self.problem.widest_height is not None:
            corners[:, 1] -= self.problem.widest_height
        if self.problem.tilt:
            c, s = np.cos(self.problem.tilt), np.sin(self.problem.tilt)
            middle = corners.mean(axis=0)
            corners = (corners - middle) @ np.array([[c, s], [-s, c]]) + middle
        corners[:, 1] -= self.problem.offset
        return corners

    def measured(self, unknowns: Points, *, near: _Measured | None = None) -> _Measured:
        """What the readings would be; ``near`` is the same of unknowns close by."""
        barrel, chart = self.barrel(unknowns), self.chart(unknowns)
        starts, ends = self._ends(barrel, chart)
        paths = barrel.paths(starts, ends, near=near.paths if near else None)
        lengths = paths.lengths
        if self.straight.any():
            lengths = np.where(self.straight, barrel.straight(starts, ends), lengths)
        residuals = (self.read - lengths) / self.problem.sigma
        rows = np.concatenate([residuals, unknowns[2 * self.n - 3 :]])
        return _Measured(barrel, chart, starts, ends, paths, rows)

    def _ends(self, barrel: Barrel, chart: Points) -> tuple[Points, Points]:
        if not self.has_middles:
            return chart[self.near], chart[self.far]
        return (
            barrel.paths(chart[self.near], chart[self.near_edge]).at(0.5),
            barrel.paths(chart[self.far], chart[self.far_edge]).at(0.5),
        )

    def jacobian(self, unknowns: Points, at: _Measured) -> Points:
        """Change of the rows; the middle of an edge is taken to move by half of each end."""
        shape, readings = 2 * self.n - 3, len(self.keys)
        at_start, at_end = at.barrel.slopes(at.paths)
        if self.straight.any():
            _put_straight_slopes(at, self.straight, at_start, at_end)
        grows = self.of_chart.reshape(self.n, 2, shape)
        if self.problem.tilt:
            c, s = np.cos(self.problem.tilt), np.sin(self.problem.tilt)
            grows = np.einsum("nis,ij->njs", grows, np.array([[c, s], [-s, c]]))
        start_grows = (grows[self.near] + grows[self.near_edge]) / 2
        end_grows = (grows[self.far] + grows[self.far_edge]) / 2
        of_lengths = np.einsum("mi,mis->ms", at_start, start_grows) + np.einsum("mi,mis->ms", at_end, end_grows)
        jacobian = np.zeros((readings + len(self.crowns), shape + len(self.crowns)))
        jacobian[:readings, :shape] = -of_lengths / self.problem.sigma
        for i in range(len(self.crowns)):
            jacobian[:readings, shape + i] = -self._by_crown(unknowns, at, shape + i) / self.problem.sigma
            jacobian[readings + i, shape + i] = 1.0
        return jacobian

    def _by_crown(self, unknowns: Points, at: _Measured, i: int) -> Points:
        """Change of the lengths with a crown: at its least a path's own bending counts for nothing."""
        moved = unknowns.copy()
        moved[i] += _CURVATURE_STEP
        barrel, paths = self.barrel(moved), at.paths
        ahead = np.sqrt(barrel.squared_lengths(paths.starts, paths.spans, paths.bends))
        now = paths.lengths
        if self.straight.any():
            ahead = np.where(self.straight, barrel.straight(at.starts, at.ends), ahead)
            now = np.where(self.straight, at.barrel.straight(at.starts, at.ends), now)
        return np.asarray((ahead - now) / _CURVATURE_STEP)

    def solved(self, at: _Measured, jacobian: Points) -> Solved:
        barrel, chart, rows = at.barrel, centred(at.chart), at.rows
        if barrel.folds(chart):
            raise ReadingError(
                "A pane of this size and these crowns would fold over. Read the crowns again.",
                fields={crown.key: "Read again." for crown in self.crowns if crown.key} or {"bottom": "Read again."},
            )
        corners = laid_out(barrel, chart)
        _check_simple(corners, self.problem)
        return Solved(
            barrel=barrel,
            chart=chart,
            corners=corners,
            keys=self.keys,
            residuals=rows[: len(self.keys)] * self.problem.sigma,
            rows=rows,
            jacobian=jacobian,
            sigma=self.problem.sigma,
            redundancy=len(self.keys) - (2 * self.n - 3),
        )


def centred(chart: Points) -> Points:
    """The chart turned round the barrel's axis so that its middle meridian is the pane's own.

    No tape tells one meridian from another, but circles of unequal length are laid out from it.
    """
    middle = (chart[:, 0].min() + chart[:, 0].max()) / 2
    return np.asarray(chart - [middle, 0.0])


def laid_out(barrel: Barrel, chart: Points) -> Points:
    """Corners laid out in a plane about the pane's middle, corner 1 at the origin and corner 2 level with it."""
    flat = barrel.developed(centred(chart))
    foot = flat[1] - flat[0]
    c, s = foot / max(float(np.hypot(*foot)), 1e-9)
    return np.asarray((flat - flat[0]) @ np.array([[c, -s], [s, c]]))


def _check_simple(corners: Points, problem: Problem) -> None:
    if not is_simple(corners) or signed_area(corners) <= 0:
        raise crosses_itself(problem)


def crosses_itself(problem: Problem) -> ReadingError:
    """The refusal of a figure that crosses itself."""
    diagonals = {key: "Read again." for key in problem.ends if key.startswith("diagonal")}
    return ReadingError(
        "These readings draw a pane that crosses itself. Read the diagonals again: each joins opposite corners.",
        fields=diagonals or {"bottom": "Read again."},
    )


@dataclass(frozen=True)
class _Measured:
    """Corners on the glass and the readings between them."""

    barrel: Barrel
    chart: Points
    starts: Points
    ends: Points
    paths: Paths
    rows: Points  # read minus measured in sigmas, the crowns' own after them


def _put_straight_slopes(at: _Measured, straight: Points, at_start: Points, at_end: Points) -> None:
    """The same for straight chords, in place."""
    step = 1e-4
    now = at.barrel.straight(at.starts, at.ends)
    for i in range(2):
        moved = np.zeros(2)
        moved[i] = step
        start_moved = (at.barrel.straight(at.starts + moved, at.ends) - now) / step
        end_moved = (at.barrel.straight(at.starts, at.ends + moved) - now) / step
        at_start[:, i] = np.where(straight, start_moved, at_start[:, i])
        at_end[:, i] = np.where(straight, end_moved, at_end[:, i])


def _points(points: list[tuple[int, ...]]) -> tuple[Points, Points]:
    """Corner indices of points: a corner twice, or both ends of the edge whose middle it is."""
    return np.array([one[0] for one in points]), np.array([one[-1] for one in points])


def _top_corners(n: int) -> list[int]:
    """The corners that stand for the top: opposite the foot."""
    return {3: [2], 4: [2, 3]}.get(n, [n // 2, (n + 3) // 2])


def unseen_error(solved: Solved, problem: Problem, *, starting: StartingValues) -> float:
    """How far corners may be off though all closes (95 %): the two assumptions of a barrel [mm].

    Each assumption is shifted by its own spread and the figure solved anew from where it was;
    what is left of the corners' move after a turn and a shift is the error.
    """
    if not problem.crowns or solved.barrel.across * solved.barrel.up == 0:
        return 0.0
    shifted = [replace(problem, tilt=np.radians(starting["foot_level_pm_deg"]))]
    if problem.widest_height is None:
        shifted.append(replace(problem, offset=starting["widest_circle_pm_mm"]))
    errors = [_shape_difference(_nearby(one, solved), solved.corners) for one in shifted]
    return float(np.hypot.reduce(errors))


def _nearby(shifted: Problem, solved: Solved) -> Points:
    """Corners of a slightly other problem, by two steps from the ones solved."""
    glass = _Glass(shifted)
    foot = solved.chart - solved.chart[0]
    own = solved.rows[len(solved.keys) :]
    unknowns = np.concatenate([[foot[1, 0]], foot[2:].ravel(), own])
    for _ in range(2):
        at = glass.measured(unknowns)
        unknowns = unknowns - np.linalg.lstsq(solved.jacobian, at.rows - solved.rows, rcond=None)[0]
    return laid_out(glass.barrel(unknowns), glass.chart(unknowns))


def _shape_difference(one: Points, other: Points) -> float:
    """Greatest distance between corners of two figures laid over each other as well as can be [mm]."""
    a, b = one - one.mean(axis=0), other - other.mean(axis=0)
    u, _, vt = np.linalg.svd(a.T @ b)
    turn = u @ np.diag([1.0, np.sign(np.linalg.det(u @ vt))]) @ vt
    return float(np.max(np.hypot(*(a @ turn - b).T)))


def reading_spread(solved: Solved) -> float:
    """How far a corner may be off by the readings' own spread (95 %) [mm]."""
    shape = 2 * len(solved.corners) - 3
    covariance = np.linalg.pinv(solved.jacobian.T @ solved.jacobian)[:shape, :shape]
    variances = [covariance[0, 0], *(covariance[i, i] + covariance[i + 1, i + 1] for i in range(1, shape, 2))]
    # Corner 1 is held and corner 2 keeps level: half the largest spread is a corner's share.
    return float(1.96 * np.sqrt(max(variances)) / np.sqrt(2))

"""Which reading is off, where readings do not close: suspects, swaps, the further reading that tells."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import combinations

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.geom.polygon import Points
from elumbra.core.measure.chains import chained, inward_corners, ways_round
from elumbra.core.measure.figures import Ends, label, plan_of
from elumbra.core.measure.fit import Closing, ClosingChange, Problem, Solved, crosses_itself, solve
from elumbra.core.measure.readings import Readings
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
_LEAST_SHARE = 1e-6
_SURELY_OTHER = 5.0
_SWAP_DIFFERS = 4.0  # sigmas of a reading: less cannot be told from the tape's own spread


@dataclass(frozen=True)
class Suspicion:
    """What is known of readings that do not close."""

    changes: tuple[ClosingChange, ...] = ()  # likeliest slip first
    ask_for: str | None = None  # the further reading that tells the suspects apart
    culprit: ClosingChange | None = None  # named once a further reading is there
    swap: tuple[str, str] | None = None  # two readings that closed if they were the other way round
    inward: tuple[str, ...] = ()  # corners that close it if they point inward


def suspect(problem: Problem, solved: Solved, readings: Readings, *, starting: StartingValues) -> Suspicion:
    """The readings that may be off, where a figure misses by more than the tape's spread."""
    without = {key: _leave_out(key, problem, solved) for key in solved.keys}
    changes = _closing_changes(readings, without, problem, solved)
    if not changes:
        return Suspicion()
    culprit = _culprit(without, changes) if solved.redundancy > 1 else None
    ask_for = None
    if culprit is None:
        ask_for = _best_question(problem, solved, changes)
    if culprit is not None:
        return Suspicion(changes, ask_for, culprit)
    swap = _only_swap(problem, solved, starting=starting)
    return Suspicion(changes, ask_for, culprit, swap, _other_way_round(problem, starting=starting))


def _other_way_round(problem: Problem, *, starting: StartingValues) -> tuple[str, ...]:
    """Corners that may point inward, where the readings close if they do.

    Raises
    ------
    ReadingError
        The readings close only to a figure that crosses itself.
    """
    if problem.reentrant or problem.figure.corners < 4:
        return ()
    near = 2 * starting["misclosure_alarm_sigma"] * problem.sigma
    plain, *others = ways_round(problem.lengths, problem.figure)
    closing = [one for one in others if one.miss < near]
    if plain.miss < near or not closing:
        return ()
    names = plan_of(problem.figure).corners
    inward = [one for one in closing if one.simple and one.inward]
    if inward:
        return tuple(names[i] for i in sorted(min(inward, key=lambda one: one.miss).inward))
    if plain.miss > _SURELY_OTHER * near:
        raise crosses_itself(problem)
    return ()


def _leave_out(key: str, problem: Problem, solved: Solved) -> Solved | None:
    ends = {other: value for other, value in problem.ends.items() if other != key}
    try:
        return solve(replace(problem, ends=ends, start=_from_corner_1(solved)))
    except ReadingError:
        return None


def _from_corner_1(solved: Solved) -> Points:
    return np.asarray(solved.chart - solved.chart[0])


def _closing_changes(
    readings: Readings, without: Mapping[str, Solved | None], problem: Problem, solved: Solved
) -> tuple[ClosingChange, ...]:
    scored = []
    for key, share in zip(solved.keys, solved.shares(), strict=True):
        other = without[key]
        if other is None:
            continue
        spread = float(solved.sigma / np.sqrt(share))
        closing = _length_on(other, problem, key)
        slip, score = _nearest_slip(readings[key].typed, closing - readings[key].mm, spread=spread)
        scored.append((score, ClosingChange(key, readings[key].mm, closing, spread, slip)))
    return tuple(change for _, change in sorted(scored, key=lambda pair: pair[0]))


def _length_on(solved: Solved, problem: Problem, key: str) -> float:
    near, far = (_point(solved, which) for which in problem.ends[key])
    along = solved.barrel.straight if key in problem.straight else solved.barrel.tape
    return float(along(near, far))


def _point(solved: Solved, which: tuple[int, ...]) -> Points:
    if len(which) == 1:
        return np.asarray(solved.chart[which[0]])
    return solved.barrel.paths(solved.chart[which[0]], solved.chart[which[1]]).at(0.5)


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


def _culprit(without: Mapping[str, Solved | None], changes: Sequence[ClosingChange]) -> ClosingChange | None:
    """The one reading whose absence explains the others clearly better than any other's."""
    squares = {key: other.squares for key, other in without.items() if other is not None}
    ranked = sorted(squares, key=squares.__getitem__)
    if len(ranked) < 2 or squares[ranked[1]] - squares[ranked[0]] < _NAMING_MARGIN:
        return None
    return next(change for change in changes if change.key == ranked[0])


def _best_question(problem: Problem, solved: Solved, changes: Sequence[ClosingChange]) -> str | None:
    """The further reading that tells the suspects apart best.

    With a slip c in reading i, dropping i explains the readings better than dropping j by
    c²/sigma² (Q_ii - Q_ij²/Q_jj), Q the residuals' cofactor matrix with the further reading
    in place. A suspect counts the more the likelier its slip; what is far beyond the margin
    counts no more.
    """
    weights = {change.key: 0.5**rank for rank, change in enumerate(changes)}
    slips = {change.key: change.change_mm for change in changes}
    extra = plan_of(problem.figure).extra

    def worth(key: str) -> float:
        trial = {**problem.ends, key: extra[key]}
        cofactor = _flat_cofactor(trial, solved.corners)
        shares = np.maximum(np.diag(cofactor), _LEAST_SHARE)
        apart = shares[:, None] - cofactor**2 / shares[None, :]
        np.fill_diagonal(apart, np.inf)
        total = 0.0
        for i, one in enumerate(trial):
            if one in slips:
                lead = (slips[one] / solved.sigma) ** 2 * float(np.min(apart[i]))
                total += weights[one] * min(lead, 4 * _NAMING_MARGIN)
        return total

    left = [key for key in extra if key not in problem.ends]
    return max(left, key=worth) if left else None


def _flat_cofactor(ends: Mapping[str, Ends], corners: Points) -> Points:
    """Residuals' cofactor matrix of a set of readings at given corners, laid out flat: near enough to choose by."""
    n = len(corners)
    weights = np.zeros((len(ends), n))
    for row, (near, far) in zip(weights, ends.values(), strict=True):
        for i in far:
            row[i] += 1 / len(far)
        for i in near:
            row[i] -= 1 / len(near)
    spans = weights @ corners
    units = spans / np.maximum(np.hypot(*spans.T), 1e-9)[:, None]
    full = weights[:, :, None] * units[:, None, :]
    jacobian = np.column_stack([full[:, 1, 0], full[:, 2:, :].reshape(len(ends), -1)])
    q, _ = np.linalg.qr(jacobian)
    return np.asarray(np.eye(len(ends)) - q @ q.T)


def _only_swap(problem: Problem, solved: Solved, *, starting: StartingValues) -> tuple[str, str] | None:
    """The two readings that close the figure if they are swapped, where no other two do.

    Tried in a plane, each reading less what the glass's curve adds to it; what nearly closes
    there is solved on the glass.
    """
    needed = [key for key in plan_of(problem.figure).needed if key in problem.lengths]
    if len(needed) < 4:
        return None
    ends, corners = problem.ends, solved.corners
    flat = {key: float(np.hypot(*(corners[list(ends[key][1])].mean(0) - corners[list(ends[key][0])].mean(0))))
            for key in needed}  # fmt: skip
    on_glass = {key: problem.lengths[key] - float(r) for key, r in zip(solved.keys, solved.residuals, strict=True)}
    reduced = {key: problem.lengths[key] - on_glass[key] + flat[key] for key in needed}
    closing = starting["misclosure_amber_sigma"]
    found = []
    for one, two in combinations(needed, 2):
        if abs(problem.lengths[one] - problem.lengths[two]) < _SWAP_DIFFERS * problem.sigma:
            continue
        change = problem.lengths[two] - problem.lengths[one]
        swapped = {**reduced, one: reduced[one] + change, two: reduced[two] - change}
        if _flat_misclosure(swapped, problem) > 2 * closing:
            continue
        if _swapped_closes(problem, one, two, closing=closing):
            found.append((one, two))
    return found[0] if len(found) == 1 else None


def _swapped_closes(problem: Problem, one: str, two: str, *, closing: float) -> bool:
    lengths = {**problem.lengths, one: problem.lengths[two], two: problem.lengths[one]}
    try:
        solved = solve(replace(problem, lengths=lengths, start=None))
    except ReadingError:
        return False
    names = plan_of(problem.figure).corners
    inward = frozenset(names[i] for i in inward_corners(solved.corners))
    return solved.misclosure <= closing and inward == problem.reentrant


def _flat_misclosure(lengths: Mapping[str, float], problem: Problem) -> float:
    """How far the joining reading misses the chain of the others, in sigmas of that."""
    plan = plan_of(problem.figure)

    def miss(given: Mapping[str, float]) -> float:
        corners = chained(given, problem.figure, problem.reentrant)
        near, far = plan.needed[plan.joining]
        return float(np.hypot(*(corners[far[0]] - corners[near[0]]))) - given[plan.joining]

    now = miss(lengths)
    slopes = [miss({**lengths, key: lengths[key] + 0.1}) / 0.1 - now / 0.1 for key in plan.needed]
    return abs(now) / (problem.sigma * float(np.sqrt(np.sum(np.square(slopes)))))


def describe_change(change: ClosingChange) -> str:
    """One sentence on a closing change, for a person to check."""
    slip = f", {change.slip}" if change.slip else ""
    direction = "longer" if change.change_mm > 0 else "shorter"
    return f"{label(change.key).capitalize()} {abs(change.change_mm) / _INCH:.2f} in {direction}{slip}"


def describe_swap(swap: tuple[str, str]) -> str:
    """One sentence on two readings that look swapped.

    Examples
    --------
    >>> describe_swap(("bottom", "top"))
    'Bottom and top look swapped: only with those two the other way round it closes'
    """
    one, two = (label(key) for key in swap)
    return f"{one.capitalize()} and {two} look swapped: only with those two the other way round it closes"


def closing_of(misclosure: float, *, starting: StartingValues) -> Closing:
    """What a misclosure is called."""
    if misclosure > starting["misclosure_alarm_sigma"]:
        return Closing.ALARM
    return Closing.AMBER if misclosure > starting["misclosure_amber_sigma"] else Closing.CLOSES

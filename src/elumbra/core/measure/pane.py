"""From readings to an outline: the one door through which a measured pane comes."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import lru_cache, partial

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.geom import area, bounds, is_simple, rounded
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import Barrel, Curve, Outline, rectangle_outline
from elumbra.core.measure.checks import check_readings
from elumbra.core.measure.crowns import Crowns, chord_of, crowns_of, gap_of
from elumbra.core.measure.faces import Lie
from elumbra.core.measure.figures import Figure, label
from elumbra.core.measure.fit import (
    Closing,
    ClosingChange,
    Problem,
    Solved,
    problem_of,
    reading_spread,
    solve,
    unseen_error,
)
from elumbra.core.measure.readings import (
    CROWN_GAPS,
    SIZE_KEYS,
    Level,
    Measures,
    Readings,
    corner_names,
    edges,
    missing_keys,
)
from elumbra.core.measure.slips import Suspicion, closing_of, suspect
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches

_FLAT = Barrel()
_ON_EDGE = np.linspace(0.0, 1.0, 17)[:-1]


@dataclass(frozen=True)
class CornerFit:
    """Corners that fit the readings best, and how well they do."""

    corners: Points  # (n, 2) mm, counter-clockwise from corner 1, foot level
    residuals: dict[str, float]  # fitted minus read, mm
    redundancy: int
    misclosure_sigma: float  # 0 where nothing is left to check
    closing: Closing
    spread_mm: float  # how far a corner may be off by the readings' own spread, 95 %
    unseen_mm: float  # and by what a barrel takes for granted, 95 %
    softened: bool = False  # it would be an alarm, had somebody read the crowns
    read_crowns: bool = False  # only what the class lets expect stands for them, and it may be that
    suspicion: Suspicion = field(default_factory=Suspicion)

    @property
    def alarm(self) -> bool:
        """Whether a reading is off beyond doubt."""
        return self.closing is Closing.ALARM

    @property
    def amber(self) -> bool:
        """Whether a reading may be off and is worth repeating."""
        return self.closing is Closing.AMBER

    @property
    def changes(self) -> tuple[ClosingChange, ...]:
        """Changes that alone would close the figure, likeliest slip first; empty where it closes."""
        return self.suspicion.changes

    @property
    def ask_for(self) -> str | None:
        """The further reading that tells the suspects apart."""
        return self.suspicion.ask_for

    @property
    def culprit(self) -> ClosingChange | None:
        """The reading that is off, named once a further reading is there."""
        return self.suspicion.culprit

    @property
    def swap(self) -> tuple[str, str] | None:
        """Two readings that look swapped."""
        return self.suspicion.swap


@dataclass(frozen=True)
class MeasuredPane:
    """A pane as far as its readings tell."""

    outline: Outline | None  # None while readings are missing
    fit: CornerFit | None  # where corners are read
    missing: tuple[str, ...]
    cautions: tuple[str, ...]
    surface: Barrel = _FLAT  # its curve, as read or as its class lets expect
    lie: Lie | None = None  # where its outline lies on that
    crowns: Crowns | None = None
    crowns_read: bool = False
    problem: str = ""  # readings that no pane can have: then nothing else is known

    def mirrored(self) -> MeasuredPane:
        """The pane of the other side of the car."""
        if self.outline is None:
            return self
        lie = self.lie.mirrored(self.outline.width) if self.lie else None
        return replace(self, outline=self.outline.mirrored(), lie=lie)


def unreadable_pane(problem: str) -> MeasuredPane:
    """A pane whose readings cannot be, with the reason."""
    return MeasuredPane(None, None, (), (), problem=problem)


@lru_cache(maxsize=4096)
def measure_pane(measures: Measures, *, starting: StartingValues) -> MeasuredPane:
    """Work out a pane's outline from what has been read so far; the same measures are worked out once.

    From level *shape* on, with readings missing, the greatest width and height still serve for a
    dashed stand-in when both are there.

    Raises
    ------
    ReadingError
        Readings that no pane can have.
    """
    readings = measures.readings
    check_readings(readings, figure=measures.figure, starting=starting)
    if unknown := sorted(measures.reentrant - set(corner_names(measures.figure))):
        raise ReadingError(
            f"“{unknown[0]}” is no corner of a {measures.figure.value}-cornered pane. Tap the inward corners again."
        )
    crowns = crowns_of(measures, starting=starting)
    surface, crowns_read = (_FLAT, True) if crowns is None else (crowns.barrel, crowns.all_read)
    known = partial(MeasuredPane, surface=surface, crowns_read=crowns_read, crowns=crowns)
    if measures.figure is Figure.DRAWN:
        drawn = _drawn(measures)
        return known(drawn, None, (), _cautions(None, measures), lie=_about_middle(drawn))
    stand_in = None
    if all(key in readings for key in SIZE_KEYS):
        stand_in = rectangle_outline(width=readings["width"].mm, height=readings["height"].mm)
        known = partial(known, lie=_about_middle(stand_in))
    missing = missing_keys(measures)
    if measures.level is Level.SIZE:
        return known(stand_in, None, missing, ())
    problem = problem_of(measures, crowns, starting=starting)
    if problem is None:
        return known(stand_in, None, missing, ())
    solved = solve(problem)
    fit = _fit(problem, solved, readings, crowns, starting=starting)
    outline, origin = _outline(solved, readings, measures.figure)
    lie = Lie(origin, *_lying(solved))
    return known(outline, fit, missing, _cautions(outline, measures, starting=starting), lie=lie)


def _fit(
    problem: Problem, solved: Solved, readings: Readings, crowns: Crowns | None, *, starting: StartingValues
) -> CornerFit:
    misclosure = solved.misclosure
    closing = closing_of(misclosure, starting=starting)
    guessed = crowns is not None and not crowns.all_read
    softened = closing is Closing.ALARM and guessed
    if softened:
        closing = Closing.AMBER
    suspicion = Suspicion()
    if closing is not Closing.CLOSES:
        suspicion = suspect(problem, solved, readings, starting=starting)
    return CornerFit(
        corners=solved.corners,
        residuals={key: -float(r) for key, r in zip(solved.keys, solved.residuals, strict=True)},
        redundancy=solved.redundancy,
        misclosure_sigma=misclosure,
        closing=closing,
        spread_mm=reading_spread(solved),
        unseen_mm=unseen_error(solved, problem, starting=starting),
        read_crowns=guessed and closing is not Closing.CLOSES,
        softened=softened,
        suspicion=suspicion,
    )


def _drawn(measures: Measures) -> Outline:
    """An outline from a file, seen from outside, its least corner at the origin."""
    ring = np.array(measures.drawn, dtype=float).reshape(-1, 2)
    if len(ring) < 3 or not is_simple(ring):
        raise ReadingError("This outline crosses itself or encloses nothing. Draw it again, or measure the pane.")
    if area(ring) < 0:
        ring = ring[::-1]
    low = ring.min(axis=0)
    return Outline(ring - low, ring - low, measured=True)


def _about_middle(outline: Outline) -> Lie:
    """An outline without corners of its own lies about the glass's middle, the widest circle at half height."""
    return Lie((0.0, 0.0), (1.0, 0.0), (-outline.width / 2, -outline.height / 2))


def _lying(solved: Solved) -> tuple[tuple[float, float], tuple[float, float]]:
    """How the corners were turned when they were laid out, and where corner 1 was."""
    flat = solved.barrel.developed(solved.chart)
    foot = flat[1] - flat[0]
    c, s = foot / max(float(np.hypot(*foot)), 1e-9)
    return (float(c), float(s)), (float(flat[0, 0]), float(flat[0, 1]))


def _outline(solved: Solved, readings: Readings, figure: Figure) -> tuple[Outline, tuple[float, float]]:
    """Corners joined by edges with their bows, corners rounded, and moved by what a cut showed.

    Together with what was taken off to have its least corner at the origin.
    """
    names = edges(figure)
    bows = [_mm(readings, f"bow_{edge}") for edge in names]
    parts = _edges(solved, bows)
    shifts = [_mm(readings, f"more_{edge}") - _mm(readings, f"less_{edge}") for edge in names]
    corners = solved.corners
    if any(shifts):
        corners, parts = _moved(corners, parts, shifts)
    ring = np.vstack(parts)
    if not is_simple(ring):
        raise ReadingError("These bows make the edges cross. Read them again.")
    radii = [_mm(readings, f"radius_{name}") for name in corner_names(figure)]
    if any(radii):
        ring = rounded(ring, corners, radii)
    low_x, low_y, _, _ = bounds(ring)
    origin = np.array([low_x, low_y])
    return Outline(ring - origin, corners - origin, measured=True), (low_x, low_y)


def _mm(readings: Readings, key: str) -> float:
    return readings[key].mm if key in readings else 0.0


def _edges(solved: Solved, bows: list[float]) -> list[Points]:
    """Each edge's points from its first corner on, its end left out.

    An edge runs where a taut tape would, moved outward by an arc whose height is its bow; on
    curved glass a taut tape is a bent line once laid out.
    """
    barrel, chart = solved.barrel, solved.chart
    ends = np.roll(chart, -1, axis=0)
    curved = barrel.across * barrel.up > 0
    if curved or barrel.across > 0:
        lines = _aligned(barrel.developed(barrel.paths(chart, ends).at(_ON_EDGE)), solved)
    else:
        lines = (
            solved.corners[:, None, :]
            + (np.roll(solved.corners, -1, axis=0) - solved.corners)[:, None, :] * (_ON_EDGE[None, :, None])
        )
    return [
        line if bow or curved else line[:1]
        for line, bow in zip((_bowed(one, bow) for one, bow in zip(lines, bows, strict=True)), bows, strict=True)
    ]


def _aligned(laid_out: Points, solved: Solved) -> Points:
    """Points laid out from the chart, moved to where the corners were laid."""
    (c, s), start = _lying(solved)
    return np.asarray((laid_out - start) @ np.array([[c, -s], [s, c]]))


def _bowed(line: Points, bow: float) -> Points:
    """A line moved outward, to its right, by an arc of that height over its length."""
    if bow == 0:
        return line
    along = np.gradient(line, axis=0)
    along /= np.maximum(np.hypot(*along.T), 1e-9)[:, None]
    outward = np.stack([along[:, 1], -along[:, 0]], axis=1)
    chord = float(np.hypot(*(line[-1] - line[0]))) * len(line) / (len(line) - 1)
    # Circle through both ends and the bow: R = w²/8s + s/2 (heart, section 1).
    radius = chord**2 / (8 * bow) + bow / 2
    off = np.sqrt(np.maximum(radius**2 - ((_ON_EDGE - 0.5) * chord) ** 2, 0.0)) - (radius - bow)
    return np.asarray(line + outward * off[:, None])


def _moved(corners: Points, parts: list[Points], shifts: list[float]) -> tuple[Points, list[Points]]:
    """Every edge moved outward by its shift, corners where the moved edges meet."""
    following = np.roll(corners, -1, axis=0)
    along = following - corners
    along /= np.hypot(*along.T)[:, None]
    outward = np.stack([along[:, 1], -along[:, 0]], axis=1)
    off = outward * np.array(shifts)[:, None]
    moved = corners.copy()
    for i in range(len(corners)):
        a, b = outward[i - 1], outward[i]
        both = np.array([a, b])
        if abs(np.linalg.det(both)) > 0.05:  # two edges nearly in line keep their own shift
            moved[i] += np.linalg.solve(both, np.array([shifts[i - 1], shifts[i]]))
        else:
            moved[i] += (off[i - 1] + off[i]) / 2
    ends = np.roll(moved, -1, axis=0)
    found = []
    for part, start, end, old_start, old_end in zip(parts, moved, ends, corners, following, strict=True):
        share = _ON_EDGE[: len(part)] if len(part) > 1 else np.zeros(1)
        blend = (1 - share)[:, None] * (start - old_start) + share[:, None] * (end - old_end)
        found.append(part + blend)
    return moved, found


def _cautions(
    outline: Outline | None, measures: Measures, *, starting: StartingValues | None = None
) -> tuple[str, ...]:
    cautions = []
    readings = measures.readings
    if measures.curve.binds_direction:
        cautions.append(
            "Curved both ways: this drawing is laid out flat, good for a blank; a pattern is flattened as Heat says."
        )
    if measures.curve is Curve.FLAT and any(_mm(readings, key) > 0 for key in CROWN_GAPS):
        cautions.append("Called flat, yet a gap was read under the straightedge. Call it bowed, and it is used.")
    for key in CROWN_GAPS:
        if measures.curve is not Curve.FLAT and gap_of(readings, key) is None and f"{key}_chord" in readings:
            cautions.append(f"{label(key).capitalize()}: the distance is there, the gap is not.")
        if gap_of(readings, key) is not None and chord_of(readings, key) is None:
            cautions.append(f"{label(key).capitalize()}: read the distance between the points too, or it says nothing.")
    if outline is not None and starting is not None:
        slack = starting["misclosure_alarm_sigma"] * starting["tape_sigma_mm"]
        for key, found in (("width", outline.width), ("height", outline.height)):
            if key in readings and abs(readings[key].mm - found) > slack:
                cautions.append(
                    f"Greatest {key} was read as {readings[key].typed}, the drawn pane has {format_inches(found)} in."
                )
    return tuple(cautions)

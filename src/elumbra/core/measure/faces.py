"""The glass under the film: the face that a pane's readings tell of, and what else it might be.

Two crowns make a barrel. A gap read a quarter of the way in tells that the curve gathers there. Nine to
fifteen gaps of a straightedge laid across and up at several places are fitted smoothly.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from math import sqrt

import numpy as np

from elumbra.core.errors import ReadingError
from elumbra.core.geom import span_at
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import (
    Barrel,
    BarrelFace,
    Bow,
    Fitted,
    Gathered,
    Gathers,
    GraphFace,
    Slopes,
    Straightedge,
    bow_from_gaps,
    fit_gaps,
)
from elumbra.core.measure.crowns import Crown, Crowns, chord_of, gap_of
from elumbra.core.measure.figures import label
from elumbra.core.measure.readings import FIT_KEYS, QUARTER_KEYS, Measures, Readings
from elumbra.core.starting import StartingValues

_LEAST_GAPS, _LEAST_UP = 9, 3
_AT = {"left": -0.5, "mid": 0.0, "right": 0.5, "low": -0.5, "high": 0.5}
_TABLE = 401


@dataclass(frozen=True)
class Lie:
    """Where the pane's drawing lies on its glass: from the outline's plane to the barrel laid out."""

    origin: tuple[float, float]  # what was taken off the drawing [mm]
    turn: tuple[float, float]  # cosine and sine by which the laid-out glass was turned to level its foot
    start: tuple[float, float]  # where corner 1 lies, laid out [mm]
    mirrored_about: float | None = None  # the pane's width, where this is the other side's

    def laid_out(self, drawn: Points) -> Points:
        """Points of the drawing on the barrel laid out, shape (n, 2) [mm]; mirrored ones as on the other side."""
        c, s = self.turn
        points = drawn.copy()
        if self.mirrored_about is not None:
            points[:, 0] = self.mirrored_about - points[:, 0]
        found = (points + self.origin) @ np.array([[c, s], [-s, c]]) + self.start
        if self.mirrored_about is not None:
            found[:, 0] = -found[:, 0]
        return np.asarray(found)

    def mirrored(self, width: float) -> Lie:
        """The same pane on the other side of the car."""
        return replace(self, mirrored_about=None if self.mirrored_about is not None else width)


@dataclass(frozen=True)
class Tells:
    """A reading that the face goes by, with the face that it would be with that reading one sigma more."""

    key: str
    face: BarrelFace | GraphFace


@dataclass(frozen=True)
class GlassFace:
    """The outside face of a pane, from its readings or from what its class lets expect."""

    face: BarrelFace | GraphFace
    barrel: Barrel  # by which its drawing was laid out
    lie: Lie
    crowns: Crowns | None  # both, where nothing else tells of the face
    tells: tuple[Tells, ...]
    guessed: tuple[str, ...]  # crowns that nobody read

    def charted(self, drawn: Points) -> Points:
        """Points of the pane's drawing in the face's chart, shape (n, 2) [mm]."""
        return self.chart_of(self.barrel.charted(self.lie.laid_out(drawn)))

    def chart_of(self, lengths: Points) -> Points:
        """From lengths along the barrel's middle lines to the face's chart."""
        if isinstance(self.face, BarrelFace):
            return lengths
        return np.stack([_at_length(self.face, lengths[:, way], way) for way in (0, 1)], axis=1)


def glass_face(
    measures: Measures, crowns: Crowns | None, lie: Lie, ring: Points, *, starting: StartingValues
) -> GlassFace:
    """The outside face of a pane.

    Parameters
    ----------
    measures
        As read.
    crowns
        Both crowns; None for glass called flat.
    lie, ring
        How the pane's drawing lies on the barrel of its crowns, and the drawing, shape (n, 2) [mm].
    starting
        The spreads.

    Raises
    ------
    ReadingError
        Gaps that no smooth face leaves, with the one that is farthest off.
    """
    barrel = crowns.barrel if crowns else Barrel()
    plain = GlassFace(BarrelFace(barrel), barrel, lie, crowns, (), ())
    if crowns is None:
        return plain
    readings = measures.readings
    turned = lie.mirrored_about is not None
    if any(key in readings for key in FIT_KEYS):
        return _fitted(readings, plain, ring, starting=starting)
    quarters = {way: _quarter(readings, way) for way in QUARTER_KEYS}
    crown_by_way = {"across": crowns.across, "up": crowns.up}
    guessed = tuple(f"crown_{way}" for way, crown in crown_by_way.items() if crown.key is None)
    if not any(quarters.values()):
        tells = tuple(
            Tells(crown.key or f"crown_{way}", BarrelFace(_more(barrel, way, crown)))
            for way, crown in crown_by_way.items()
        )
        return replace(plain, tells=tells, guessed=guessed)
    bows = _Bows(readings, crown_by_way, quarters, turned, starting)
    return replace(
        plain,
        face=bows.face(),
        crowns=None,
        tells=tuple(Tells(key, bows.face(key)) for key in bows.keys),
        guessed=guessed,
    )


def _more(barrel: Barrel, way: str, crown: Crown) -> Barrel:
    return replace(barrel, **{way: getattr(barrel, way) + crown.sigma})


def _quarter(readings: Readings, way: str) -> tuple[float, Gathers, tuple[str, ...]] | None:
    """Gap a quarter of the way in, and where it says that the curve gathers."""
    keys = [key for key in QUARTER_KEYS[way] if key in readings]
    if not keys:
        return None
    if len(keys) == 2:
        return sum(readings[key].mm for key in keys) / 2, Gathers.SIDES, tuple(keys)
    return readings[keys[0]].mm, Gathers.START if keys[0] == QUARTER_KEYS[way][0] else Gathers.END, tuple(keys)


@dataclass(frozen=True)
class _Bows:
    """How glass with quarter gaps falls back each way, also with one reading a sigma more."""

    readings: Readings
    crowns: Mapping[str, Crown]
    quarters: Mapping[str, tuple[float, Gathers, tuple[str, ...]] | None]
    turned: bool
    starting: StartingValues

    @property
    def keys(self) -> tuple[str, ...]:
        """The readings that tell."""
        found = []
        for way, crown in self.crowns.items():
            found.append(crown.key or f"crown_{way}")
            if quarter := self.quarters[way]:
                found.append(quarter[2][0])
        return tuple(found)

    def face(self, more: str = "") -> GraphFace:
        """The face; ``more`` names a reading that is taken one sigma higher."""
        return GraphFace(Gathered(self._of("across", more), self._of("up", more)))

    def _of(self, way: str, more: str) -> Bow:
        crown, quarter = self.crowns[way], self.quarters[way]
        raised = 1.0 if more == (crown.key or f"crown_{way}") else 0.0
        if quarter is None:
            return Bow(_ANY_CHORD_MM, crown.curvature + raised * crown.sigma)
        at, gathers, keys = quarter
        gap, chord = gap_of(self.readings, f"crown_{way}"), chord_of(self.readings, f"crown_{way}")
        if gap is None or chord is None:
            words = (
                f"{label(keys[0]).capitalize()} says nothing without the gap at the middle. "
                f"Read crown {way} and its distance too."
            )
            raise ReadingError(words, fields={keys[0]: words})
        sigma = self.starting["crown_gap_sigma_mm"]
        middle = gap[0] + raised * sigma / sqrt(gap[1])
        higher = at + (sigma / sqrt(len(keys)) if more == keys[0] else 0.0)
        if self.turned and way == "across" and gathers is not Gathers.SIDES:
            gathers = Gathers.END if gathers is Gathers.START else Gathers.START
        power = self.starting["gather_power"]
        try:
            return bow_from_gaps(chord=chord, middle=middle, quarter=higher, gathers=gathers, power=power)
        except ReadingError as error:
            if more:  # one sigma further than a curve can gather says no more than the curve as it was read
                return bow_from_gaps(chord=chord, middle=gap[0], quarter=at, gathers=gathers, power=power)
            raise ReadingError(error.message, fields=dict.fromkeys(keys, error.message)) from error


_ANY_CHORD_MM = 1000.0  # a bow that is spread evenly does not hang on its chord


def _fitted(readings: Readings, plain: GlassFace, ring: Points, *, starting: StartingValues) -> GlassFace:
    keys = [key for key in FIT_KEYS if key in readings]
    up = sum(key.startswith("rise_") for key in keys)
    if len(keys) < _LEAST_GAPS or up < _LEAST_UP:
        need = max(_LEAST_GAPS - len(keys), _LEAST_UP - up)
        raise ReadingError(
            f"{len(keys)} gaps are read. A fitted face takes nine at least, three of them with the straightedge up: "
            f"read {need} more at Survey, or clear these and the crowns count.",
            fields={keys[0]: f"{need} more gaps are needed."},
        )
    chart = _in_plane(plain.barrel, plain.barrel.charted(plain.lie.laid_out(ring)))
    turned = plain.lie.mirrored_about is not None
    low, high = chart.min(axis=0), chart.max(axis=0)
    middle, half = (low + high) / 2, (high - low) / 2
    edges = [_straightedge(key, chart - middle, half, turned) for key in keys]
    fit = fit_gaps(
        edges,
        [readings[key].mm for key in keys],
        half=(float(half[0]), float(half[1])),
        sigma=starting["crown_gap_sigma_mm"],
        rough=starting["fit_roughness"],
    )
    worst = int(np.argmax(np.abs(fit.misses)))
    if abs(fit.misses[worst]) > starting["misclosure_alarm_sigma"]:
        there = readings[keys[worst]]
        words = (
            f"{label(keys[worst]).capitalize()}: no smooth glass has {there.typed} there beside the other gaps. "
            "Read it again, and the ones next to it."
        )
        raise ReadingError(words, fields={keys[worst]: words})
    where = (float(middle[0]), float(middle[1]))
    tells = tuple(Tells(keys[worst], GraphFace(_Moved(one, where))) for one in fit.varied())
    return replace(plain, face=GraphFace(_Moved(fit.height, where)), crowns=None, tells=tells)


@dataclass(frozen=True)
class _Moved:
    """A fitted height about the pane's middle instead of the chart's."""

    height: Fitted
    middle: tuple[float, float]

    def slopes(self, x: Points, y: Points) -> Slopes:
        """Height and its derivatives."""
        return self.height.slopes(x - self.middle[0], y - self.middle[1])


def _straightedge(key: str, chart: Points, half: Points, turned: bool) -> Straightedge:
    """Where the straightedge of a reading lay: from edge to edge of the pane at a quarter, half or three quarters."""
    kind, *where = key.split("_")
    if kind == "gap":
        row, column = where
        level = _AT[row] * float(half[1])
        start, end = span_at(chart, 1, level)
        share = 0.5 + (-_AT[column] if turned else _AT[column]) / 2
        return Straightedge((start, level), (end, level), (start + share * (end - start), level))
    column, *low = where
    across = (-_AT[column] if turned else _AT[column]) * float(half[0])
    start, end = span_at(chart, 0, across)
    share = 0.25 if low else 0.5
    return Straightedge((across, start), (across, end), (across, start + share * (end - start)))


def _in_plane(barrel: Barrel, lengths: Points) -> Points:
    """The barrel's chart as seen square on: distances in the straightedge's plane."""
    return barrel.points(lengths)[:, :2]


def _table(face: GraphFace, way: int, reach: float) -> tuple[Points, Points]:
    """Chart and length along a middle line of a graph, as far as it is needed."""
    chart = np.linspace(-reach, reach, _TABLE)
    none = np.zeros_like(chart)
    e, _, g = face.metric(chart, none) if way == 0 else face.metric(none, chart)
    speed = np.sqrt(e if way == 0 else g)
    lengths = np.concatenate([[0.0], np.cumsum((speed[1:] + speed[:-1]) / 2 * np.diff(chart))])
    return chart, lengths - np.interp(0.0, chart, lengths)


def _at_length(face: GraphFace, lengths: Points, way: int) -> Points:
    chart, along = _table(face, way, float(np.max(np.abs(lengths), initial=1.0)))
    return np.interp(lengths, along, chart)

"""A pane's crowns: as read with a straightedge, else what its class lets expect."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import sqrt

from elumbra.core.glass import Barrel, Curve, gap_from_radius, radius_from_gap
from elumbra.core.measure.readings import MOST_GAP, FrozenReadings, Measures, Reading, Readings
from elumbra.core.starting import StartingValues

_ENDS = {"crown_across": ("crown_across_left", "crown_across_right"), "crown_up": ("crown_up_foot", "crown_up_head")}
_WHOLE = {"crown_across": ("width", "bottom", "top", "side_1_2"), "crown_up": ("height", "left", "right")}


@dataclass(frozen=True)
class Crown:
    """Curvature one way [1/mm] with its spread; ``key`` is the reading it comes from, if any."""

    curvature: float
    sigma: float  # one sigma [1/mm]; of what nobody read, a quarter of its class's width
    key: str | None = None

    @property
    def least(self) -> float:
        """The least curvature of its class [1/mm]; as read, where somebody did."""
        return self.curvature if self.key else max(self.curvature - _TO_END * self.sigma, 0.0)

    @property
    def most(self) -> float:
        """The greatest curvature of its class [1/mm]; as read, where somebody did."""
        return self.curvature if self.key else self.curvature + _TO_END * self.sigma


@dataclass(frozen=True)
class Crowns:
    """Both crowns of a pane."""

    across: Crown
    up: Crown

    @property
    def barrel(self) -> Barrel:
        """The face that the crowns tell of."""
        return Barrel(self.across.curvature, self.up.curvature)

    @property
    def all_read(self) -> bool:
        """Whether both were read and none is only what the class lets expect."""
        return self.across.key is not None and self.up.key is not None


def crowns_of(measures: Measures, *, starting: StartingValues) -> Crowns | None:
    """A pane's crowns; None for glass called flat, which is drawn in a plane."""
    if measures.curve is Curve.FLAT:
        return None
    return Crowns(
        _crown(measures, "crown_across", starting=starting),
        _crown(measures, "crown_up", starting=starting),
    )


def gap_of(readings: Readings, key: str) -> tuple[float, int] | None:
    """The gap one way [mm] and how many readings it is the mean of; None where none was read.

    Outside on convex glass the gap is read at both ends; their mean is what counts, also where
    the straightedge touches off the middle.
    """
    at_ends = [readings[end].mm for end in _ENDS[key] if end in readings]
    if key in readings:
        return readings[key].mm, 1
    return (sum(at_ends) / 2, 2) if len(at_ends) == 2 else None


def chord_of(readings: Readings, key: str) -> float | None:
    """Distance between the points that a crown was read at [mm]; the whole pane where nobody said."""
    for name in (f"{key}_chord", *_WHOLE[key]):
        if name in readings and readings[name].mm > 0:
            return readings[name].mm
    return None


def _crown(measures: Measures, key: str, *, starting: StartingValues) -> Crown:
    gap, chord = gap_of(measures.readings, key), chord_of(measures.readings, key)
    if gap is None or chord is None:
        return _of_class(measures.curve, key.removeprefix("crown_"), starting=starting)
    mm, readings = gap
    radius = radius_from_gap(gap=mm, chord=chord)
    # 1/R grows by 8/chord² with the gap, near enough for its spread.
    sigma = 8 * starting["crown_gap_sigma_mm"] / sqrt(readings) / chord**2
    return Crown(1 / radius if radius else 0.0, sigma, key)


def _of_class(curve: Curve, way: str, *, starting: StartingValues) -> Crown:
    """Radii with wide intervals; in between, curvature is what is spread evenly."""
    low, high = (starting[f"{curve.value}_{way}_{end}_mm"] for end in ("low", "high"))
    most, least = 1 / low, 1 / high
    return Crown((most + least) / 2, (most - least) / (2 * _TO_END))


_TO_END = 2.0  # sigmas from a class's middle to either end of it


def most_curved(measures: Measures, *, width: float, height: float, starting: StartingValues) -> Measures | None:
    """The same pane, had somebody read the greatest crowns of its class that its size allows where nobody read any.

    Parameters
    ----------
    measures
        As read.
    width, height
        Of the pane [mm]: the chord where the readings name none.
    starting
        The classes.

    Returns
    -------
    Measures or None
        None where both were read, and for glass called flat.
    """
    crowns = crowns_of(measures, starting=starting)
    if crowns is None or crowns.all_read:
        return None
    read = dict(measures.readings)
    for key, crown, across in (("crown_across", crowns.across, width), ("crown_up", crowns.up, height)):
        if crown.key is not None:
            continue
        chord = chord_of(measures.readings, key) or across
        gap = min(gap_from_radius(radius=1 / crown.most, chord=chord) or chord, MOST_GAP * chord)
        for name in _ENDS[key]:
            read.pop(name, None)  # one end read alone tells nothing yet
        read |= {key: Reading("", gap), f"{key}_chord": Reading("", chord)}
    return replace(measures, readings=FrozenReadings(read))

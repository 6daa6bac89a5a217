"""Readings of a pane: as typed, in mm, and which of them a pane can have and is asked for."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from functools import cache
from types import MappingProxyType

from elumbra.core.glass import Curve
from elumbra.core.measure.figures import Figure, plan_of


class TapeMode(StrEnum):
    """How the tape lay."""

    SURFACE = "surface"  # tape on the glass
    CHORD = "chord"  # straight from point to point


class Level(StrEnum):
    """How well a pane is known."""

    SIZE = "size"  # greatest width and height: enough for law and blanks
    SHAPE = "shape"  # sides and diagonals: enough for exact allowances
    CURVE = "curve"  # and crowns: enough for shrink and flat pattern


@dataclass(frozen=True)
class Reading:
    """One reading: as typed, in mm, and how the tape lay."""

    typed: str
    mm: float
    mode: TapeMode = TapeMode.SURFACE


Readings = Mapping[str, Reading]


class FrozenReadings(Readings):
    """Readings by key, as a value: compared and hashed by what they say.

    Examples
    --------
    >>> one = FrozenReadings({"width": Reading("30", 762.0)})
    >>> one == FrozenReadings(dict(one)), len({one, FrozenReadings(dict(one))}), len(FrozenReadings())
    (True, 1, 0)
    """

    __slots__ = ("_by_key", "_hash")

    def __init__(self, by_key: Readings = MappingProxyType({})) -> None:
        self._by_key = dict(by_key)
        self._hash = hash(frozenset(self._by_key.items()))

    def __getitem__(self, key: str) -> Reading:
        return self._by_key[key]

    def __iter__(self) -> Iterator[str]:
        return iter(self._by_key)

    def __len__(self) -> int:
        return len(self._by_key)

    def __hash__(self) -> int:
        return self._hash

    def __repr__(self) -> str:
        return f"FrozenReadings({self._by_key!r})"


@dataclass(frozen=True)
class Measures:
    """How well a pane is known and by which readings: a value to compare, share and keep."""

    level: Level = Level.SIZE
    figure: Figure = Figure.FOUR
    curve: Curve = Curve.FLAT
    readings: Readings = FrozenReadings()
    reentrant: frozenset[str] = frozenset()  # corners that point inward
    drawn: tuple[tuple[float, float], ...] = ()  # an outline from a file, seen from outside [mm]

    def __post_init__(self) -> None:
        if not isinstance(self.readings, FrozenReadings):
            object.__setattr__(self, "readings", FrozenReadings(self.readings))

    def on_window(self, own: Readings) -> Measures:
        """The same glass in another window, whose own strip readings go before these."""
        strip = {key: reading for key, reading in own.items() if key in STRIP_KEYS}
        return replace(self, readings=FrozenReadings({**self.readings, **strip}))


MOST_GAP = 0.25
"""The most that a gap can be of the distance it is read over: more is no car glass."""
SIZE_KEYS = ("width", "height")
CROWN_GAPS = ("crown_across", "crown_up")
CROWN_KEYS = (
    "crown_across", "crown_across_left", "crown_across_right", "crown_across_chord",
    "crown_up", "crown_up_foot", "crown_up_head", "crown_up_chord", "widest_height",
)  # fmt: skip
QUARTER_KEYS = {
    "across": ("crown_across_quarter_left", "crown_across_quarter_right"),
    "up": ("crown_up_quarter_foot", "crown_up_quarter_head"),
}
"""Gaps a quarter of the way in: there the curve gathers; read at both ends, at both alike."""
FIT_KEYS = (
    *(f"gap_{row}_{column}" for row in ("low", "mid", "high") for column in ("left", "mid", "right")),
    *(f"rise_{column}" for column in ("left", "mid", "right")),
    *(f"rise_{column}_low" for column in ("left", "mid", "right")),
)
"""Gaps of a straightedge laid across and up at several places, to which a smooth face is fitted."""
FACE_KEYS = (*QUARTER_KEYS["across"], *QUARTER_KEYS["up"], *FIT_KEYS)
STRIP_KEYS = ("strip_depth", "as1_depth", "strip_above_seat", "housing_width", "housing_depth")
MAY_BE_ZERO = frozenset({*CROWN_KEYS, *FACE_KEYS, *STRIP_KEYS}) - {"crown_across_chord", "crown_up_chord"}


def edges(figure: Figure) -> tuple[str, ...]:
    """Edge readings in order round the pane, counter-clockwise from the foot."""
    return plan_of(figure).edges


def corner_names(figure: Figure) -> tuple[str, ...]:
    """Corners in order round the pane, counter-clockwise from the bottom left."""
    return plan_of(figure).corners


@cache
def known_keys(figure: Figure) -> tuple[str, ...]:
    """Every key a pane's readings may have."""
    plan = plan_of(figure)
    of_edges = tuple(f"{what}_{edge}" for edge in plan.edges for what in ("bow", "more", "less"))
    radii = tuple(f"radius_{corner}" for corner in plan.corners)
    return (*SIZE_KEYS, *plan.all, *of_edges, *radii, *CROWN_KEYS, *FACE_KEYS, *STRIP_KEYS)


def asked_keys(measures: Measures) -> tuple[str, ...]:
    """Readings that a pane is asked for at its level, in the order a hand walks round it.

    Glass called flat is never asked for its crowns; a gap read at both ends stands for the one
    at the middle.
    """
    if measures.level is Level.SIZE:
        return SIZE_KEYS
    asked = plan_of(measures.figure).asked
    if measures.level is not Level.CURVE or measures.curve is Curve.FLAT:
        return asked
    return (*asked, *crown_keys_asked(measures.readings))


def crown_keys_asked(readings: Readings) -> tuple[str, ...]:
    """The readings that tell both crowns, as they have been begun: at the middle or at both ends."""
    asked: list[str] = []
    for gap, ends in (
        ("crown_across", ("crown_across_left", "crown_across_right")),
        ("crown_up", ("crown_up_foot", "crown_up_head")),
    ):
        asked += ends if any(end in readings for end in ends) and gap not in readings else [gap]
        asked.append(f"{gap}_chord")
    return tuple(asked)


def refining_keys(measures: Measures) -> tuple[str, ...]:
    """Readings that refine a pane: bows, corner radii, crowns, what a cut showed."""
    crowns = () if measures.curve is Curve.FLAT else (*CROWN_KEYS, *FACE_KEYS)
    asked = asked_keys(measures)
    if measures.level is Level.SIZE:
        return tuple(key for key in crowns if key not in asked)
    bows = tuple(f"bow_{edge}" for edge in edges(measures.figure))
    radii = tuple(f"radius_{corner}" for corner in corner_names(measures.figure))
    cut = tuple(key for key in measures.readings if key.startswith(("more_", "less_")))
    return tuple(key for key in (*bows, *radii, *crowns, *cut) if key not in asked)


def missing_keys(measures: Measures) -> tuple[str, ...]:
    """What a pane is asked for at its level and has not; a drawn outline is asked for nothing."""
    return tuple(key for key in asked_keys(measures) if key not in measures.readings)

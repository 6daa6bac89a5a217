"""Readings of a pane and what each of them joins.

A four-cornered pane **seen from outside the car**::

      top_left ────── top ────── top_right
          │ ╲                   ╱ │
        left    falling  rising  right
          │ ╱                   ╲ │
     bottom_left ── bottom ── bottom_right

Each straight reading is the distance between two points, and each point is a weighted mean
of the corners, so that sides, diagonals, mid-widths and corner-to-middle readings are all
handled alike. A three-cornered pane has ``bottom_left``, ``bottom_right`` and ``top``.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from itertools import pairwise
from types import MappingProxyType

from elumbra.core.errors import ReadingError
from elumbra.core.glass import Curve
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches


class TapeMode(StrEnum):
    """How the tape lay."""

    SURFACE = "surface"  # tape on the glass
    CHORD = "chord"  # straight from point to point


class Level(StrEnum):
    """How well a pane is known."""

    SIZE = "size"  # greatest width and height: enough for law and blanks
    SHAPE = "shape"  # sides and diagonals: enough for a pattern


class Figure(StrEnum):
    """How many corners a measured pane has."""

    FOUR = "four"
    THREE = "three"


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

    def __post_init__(self) -> None:
        if not isinstance(self.readings, FrozenReadings):
            object.__setattr__(self, "readings", FrozenReadings(self.readings))

    def on_window(self, own: Readings) -> Measures:
        """The same glass in another window, whose own strip readings go before these."""
        strip = {key: reading for key, reading in own.items() if key in STRIP_KEYS}
        return replace(self, readings=FrozenReadings({**self.readings, **strip}))

    def for_figure(self, figure: Figure) -> Measures:
        """The same pane drawn with another number of corners: readings that it cannot have go."""
        kept = {key: reading for key, reading in self.readings.items() if key in known_keys(figure)}
        return replace(self, figure=figure, readings=FrozenReadings(kept))


Ends = tuple[tuple[float, ...], tuple[float, ...]]

SIZE_KEYS = ("width", "height")
CROWN_KEYS = ("crown_across", "crown_up")
STRIP_KEYS = ("strip_depth", "as1_depth", "strip_above_seat", "housing_width", "housing_depth")

_BL, _BR, _TR, _TL = (1.0, 0, 0, 0), (0, 1.0, 0, 0), (0, 0, 1.0, 0), (0, 0, 0, 1.0)
_BOTTOM, _RIGHT, _TOP, _LEFT = (0.5, 0.5, 0, 0), (0, 0.5, 0.5, 0), (0, 0, 0.5, 0.5), (0.5, 0, 0, 0.5)

FOUR_READINGS: dict[str, Ends] = {
    "bottom": (_BL, _BR),
    "right": (_BR, _TR),
    "top": (_TR, _TL),
    "left": (_TL, _BL),
    "diagonal_rising": (_BL, _TR),
    "diagonal_falling": (_TL, _BR),
}
FOUR_EXTRA: dict[str, Ends] = {
    "mid_width": (_LEFT, _RIGHT),
    "mid_height": (_BOTTOM, _TOP),
    "bottom_left_to_top": (_BL, _TOP),
    "bottom_left_to_right": (_BL, _RIGHT),
    "bottom_right_to_top": (_BR, _TOP),
    "bottom_right_to_left": (_BR, _LEFT),
    "top_left_to_bottom": (_TL, _BOTTOM),
    "top_left_to_right": (_TL, _RIGHT),
    "top_right_to_bottom": (_TR, _BOTTOM),
    "top_right_to_left": (_TR, _LEFT),
}
THREE_READINGS: dict[str, Ends] = {
    "bottom": ((1.0, 0, 0), (0, 1.0, 0)),
    "right": ((0, 1.0, 0), (0, 0, 1.0)),
    "left": ((0, 0, 1.0), (1.0, 0, 0)),
}
THREE_EXTRA: dict[str, Ends] = {"top_to_bottom": ((0, 0, 1.0), (0.5, 0.5, 0))}

FOUR_EDGES = ("bottom", "right", "top", "left")
THREE_EDGES = ("bottom", "right", "left")
FOUR_CORNERS = ("bottom_left", "bottom_right", "top_right", "top_left")
THREE_CORNERS = ("bottom_left", "bottom_right", "top")
LABELS: dict[str, str] = {
    "width": "greatest width",
    "height": "greatest height",
    "bottom": "bottom",
    "right": "right side",
    "top": "top",
    "left": "left side",
    "diagonal_rising": "diagonal, bottom left to top right",
    "diagonal_falling": "diagonal, top left to bottom right",
    "mid_width": "width at mid-height",
    "mid_height": "height at mid-width",
    "bottom_left_to_top": "bottom left corner to middle of top",
    "bottom_left_to_right": "bottom left corner to middle of right side",
    "bottom_right_to_top": "bottom right corner to middle of top",
    "bottom_right_to_left": "bottom right corner to middle of left side",
    "top_left_to_bottom": "top left corner to middle of bottom",
    "top_left_to_right": "top left corner to middle of right side",
    "top_right_to_bottom": "top right corner to middle of bottom",
    "top_right_to_left": "top right corner to middle of left side",
    "top_to_bottom": "top corner to middle of bottom",
    "crown_across": "crown across, gap at mid-width",
    "crown_up": "crown up, gap at mid-height",
    "strip_depth": "strip depth from the top of the glass",
    "as1_depth": "AS-1 line from the top of the glass",
    "strip_above_seat": "strip's lower edge above the driver's seat",
    "housing_width": "camera housing, width",
    "housing_depth": "camera housing, depth from the top of the glass",
}


SHORT_LABELS: dict[str, str] = {
    "diagonal_rising": "diagonal ↗",
    "diagonal_falling": "diagonal ↘",
    "strip_depth": "strip depth from the top",
    "as1_depth": "AS-1 line from the top",
    "strip_above_seat": "strip’s edge above the seat",
    "housing_width": "housing width",
    "housing_depth": "housing depth",
}


def edges(figure: Figure) -> tuple[str, ...]:
    """Edge readings in order round the pane, counter-clockwise from the foot."""
    return FOUR_EDGES if figure is Figure.FOUR else THREE_EDGES


def corner_names(figure: Figure) -> tuple[str, ...]:
    """Corners in order round the pane, counter-clockwise from the bottom left."""
    return FOUR_CORNERS if figure is Figure.FOUR else THREE_CORNERS


def shape_keys(figure: Figure) -> dict[str, Ends]:
    """The readings that a shape needs."""
    return FOUR_READINGS if figure is Figure.FOUR else THREE_READINGS


def extra_keys(figure: Figure) -> dict[str, Ends]:
    """The further readings that can name a wrong one."""
    return FOUR_EXTRA if figure is Figure.FOUR else THREE_EXTRA


def known_keys(figure: Figure) -> tuple[str, ...]:
    """Every key a pane's readings may have."""
    bows = tuple(f"bow_{edge}" for edge in edges(figure))
    radii = tuple(f"radius_{corner}" for corner in corner_names(figure))
    straight = (*SIZE_KEYS, *shape_keys(figure), *extra_keys(figure))
    return (*straight, *bows, *radii, *CROWN_KEYS, *STRIP_KEYS)


def label(key: str) -> str:
    """A reading's name as an installer says it."""
    if key.startswith("bow_"):
        return f"bow of the {LABELS.get(key[4:], key[4:])}"
    if key.startswith("radius_"):
        return f"corner radius, {key[7:].replace('_', ' ')}"
    return LABELS.get(key, key.replace("_", " "))


def asked_keys(measures: Measures) -> tuple[str, ...]:
    """Readings that a pane is asked for at its level, in the order a hand walks round it."""
    if measures.level is Level.SIZE:
        return SIZE_KEYS
    if measures.figure is Figure.THREE:
        return ("bottom", "left", "right")
    return ("bottom", "top", "left", "right", "diagonal_rising", "diagonal_falling")


def refining_keys(measures: Measures) -> tuple[str, ...]:
    """Readings that refine a pane: bows, corner radii, crowns."""
    if measures.level is Level.SIZE:
        return CROWN_KEYS
    bows = tuple(f"bow_{edge}" for edge in edges(measures.figure))
    radii = tuple(f"radius_{corner}" for corner in corner_names(measures.figure))
    return (*bows, *radii, *CROWN_KEYS)


def short_label(key: str) -> str:
    """A reading's name at the head of a field, where the drawing beside it shows the rest.

    Examples
    --------
    >>> short_label("diagonal_rising"), short_label("width")
    ('Diagonal ↗', 'Greatest width')
    """
    words = SHORT_LABELS.get(key, label(key))
    return words[0].upper() + words[1:]


def check_readings(readings: Readings, *, figure: Figure, starting: StartingValues) -> None:
    """Refuse readings that no pane can have, all at once and each by its key.

    Raises
    ------
    ReadingError
        ``fields`` names each impossible reading with the reason and the mend.
    """
    fields: dict[str, str] = {}
    allowed = known_keys(figure)
    for key, reading in readings.items():
        if key not in allowed:
            fields[key] = f"“{key}” is not a reading of a {figure.value}-cornered pane."
        elif problem := _single_problem(key, reading.mm, longest=starting["reading_max_mm"]):
            fields[key] = problem
    if not fields:
        slack = starting["misclosure_alarm_sigma"] * starting["tape_sigma_mm"]
        fields |= _triangle_problems(readings, figure=figure, slack=slack)
        fields |= _edge_problems(readings, figure=figure)
    if fields:
        key, sentence = next(iter(fields.items()))
        raise ReadingError(f"{label(key).capitalize()}: {sentence}", fields=fields)


def _single_problem(key: str, mm: float, *, longest: float) -> str | None:
    may_be_zero = key.startswith(("bow_", "radius_")) or key in CROWN_KEYS + STRIP_KEYS
    if not mm >= 0 or (mm == 0 and not may_be_zero):
        return "A pane's size is more than nothing. Read it again."
    if mm > longest:
        return (
            f"{format_inches(mm)} in is longer than any car glass ({format_inches(longest)} in at most). "
            "Feet typed for inches?"
        )
    return None


def _triangle_problems(readings: Readings, *, figure: Figure, slack: float) -> dict[str, str]:
    """No side of a triangle of readings is longer than the other two together."""
    if figure is Figure.THREE:
        triangles = [("bottom", "right", "left")]
    else:
        triangles = [
            ("diagonal_rising", "bottom", "right"),
            ("diagonal_rising", "left", "top"),
            ("diagonal_falling", "bottom", "left"),
            ("diagonal_falling", "right", "top"),
        ]
    fields: dict[str, str] = {}
    for triangle in triangles:
        if not all(key in readings for key in triangle):
            continue
        longest = max(triangle, key=lambda key: readings[key].mm)
        first, second = (key for key in triangle if key != longest)
        most = readings[first].mm + readings[second].mm
        if readings[longest].mm > most + slack:
            fields.setdefault(
                longest,
                f"{format_inches(readings[longest].mm)} in cannot be: {label(first)} and {label(second)} together "
                f"reach only {format_inches(most)} in. Read all three again.",
            )
    return fields


def _edge_problems(readings: Readings, *, figure: Figure) -> dict[str, str]:
    fields: dict[str, str] = {}
    names = edges(figure)
    for edge in names:
        bow, chord = readings.get(f"bow_{edge}"), readings.get(edge)
        if bow and chord and bow.mm > chord.mm / 4:
            fields[f"bow_{edge}"] = (
                f"A bow over a quarter of its edge ({format_inches(chord.mm / 4)} in) is no car glass."
            )
    around = pairwise((names[-1], *names))
    for corner, (before, after) in zip(corner_names(figure), around, strict=True):
        radius = readings.get(f"radius_{corner}")
        sides = [readings[edge].mm for edge in (before, after) if edge in readings]
        if radius and sides and radius.mm > min(sides) / 2:
            fields[f"radius_{corner}"] = f"At most half its shorter edge: {format_inches(min(sides) / 2)} in."
    return fields

"""Figures of 3 to 8 corners: which readings draw them, and what those are called.

A four-cornered pane **seen from outside the car**::

      top_left ────── top ────── top_right
          │ ╲                   ╱ │
        left    falling  rising  right
          │ ╱                   ╲ │
     bottom_left ── bottom ── bottom_right

A three-cornered pane has ``bottom_left``, ``bottom_right`` and ``top``. From five corners on
they are numbered counter-clockwise from the bottom left, 1 and 2 at the foot. An n-cornered
pane is drawn by its n sides, all n − 3 diagonals from corner 1 and the one that joins its
neighbours, 2 and n: one reading more than it needs (heart, section 1).
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum
from functools import cache
from itertools import combinations


class Figure(StrEnum):
    """How many corners a measured pane has."""

    THREE = "three"
    FOUR = "four"
    FIVE = "five"
    SIX = "six"
    SEVEN = "seven"
    EIGHT = "eight"
    DRAWN = "drawn"  # an outline from a file instead of readings

    @property
    def corners(self) -> int:
        """How many corners are read; 0 for a drawn outline."""
        return _CORNERS.get(self, 0)


_CORNERS = {
    Figure.THREE: 3, Figure.FOUR: 4, Figure.FIVE: 5, Figure.SIX: 6, Figure.SEVEN: 7, Figure.EIGHT: 8,
}  # fmt: skip

Point = tuple[int, ...]  # one corner, or the middle of the edge between two
Ends = tuple[Point, Point]


@dataclass(frozen=True)
class Plan:
    """A figure's readings by what they join, corners counted from 0."""

    corners: tuple[str, ...]
    edges: tuple[str, ...]  # in order round the pane
    needed: dict[str, Ends]
    extra: dict[str, Ends]  # further ones that can name a wrong reading
    asked: tuple[str, ...]  # the needed ones in the order a hand walks round

    @property
    def all(self) -> dict[str, Ends]:
        """Needed and further readings."""
        return self.needed | self.extra

    @property
    def joining(self) -> str:
        """The reading that checks the figure: of the rest it is not needed to draw it."""
        return list(self.needed)[-1]


_BL, _BR, _TR, _TL = (0,), (1,), (2,), (3,)
_BOTTOM, _RIGHT, _TOP, _LEFT = (0, 1), (1, 2), (2, 3), (3, 0)

_FOUR = Plan(
    corners=("bottom_left", "bottom_right", "top_right", "top_left"),
    edges=("bottom", "right", "top", "left"),
    needed={
        "bottom": (_BL, _BR),
        "right": (_BR, _TR),
        "left": (_TL, _BL),
        "top": (_TR, _TL),
        "diagonal_rising": (_BL, _TR),
        "diagonal_falling": (_TL, _BR),
    },
    extra={
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
    },
    asked=("bottom", "top", "left", "right", "diagonal_rising", "diagonal_falling"),
)
_THREE = Plan(
    corners=("bottom_left", "bottom_right", "top"),
    edges=("bottom", "right", "left"),
    needed={"bottom": (_BL, _BR), "right": (_BR, _TR), "left": (_TR, _BL)},
    extra={"top_to_bottom": (_TR, _BOTTOM)},
    asked=("bottom", "left", "right"),
)


@cache
def plan_of(figure: Figure) -> Plan:
    """A figure's corners, edges and readings.

    Examples
    --------
    >>> plan_of(Figure.FIVE).asked[5:]
    ('diagonal_1_3', 'diagonal_1_4', 'diagonal_2_5')
    >>> len(plan_of(Figure.EIGHT).needed), plan_of(Figure.DRAWN).needed
    (14, {})
    """
    if figure is Figure.DRAWN:
        return Plan((), (), {}, {}, ())
    if figure is Figure.THREE:
        return _THREE
    if figure is Figure.FOUR:
        return _FOUR
    n = figure.corners
    sides = {f"side_{i + 1}_{(i + 1) % n + 1}": ((i,), ((i + 1) % n,)) for i in range(n)}
    fan = {f"diagonal_1_{k + 1}": ((0,), (k,)) for k in range(2, n - 1)}
    joining = {f"diagonal_2_{n}": ((1,), (n - 1,))}
    needed: dict[str, Ends] = {**sides, **fan, **joining}
    across = [(i, k) for i, k in combinations(range(n), 2) if k - i not in (1, n - 1)]
    others: dict[str, Ends] = {f"diagonal_{i + 1}_{k + 1}": ((i,), (k,)) for i, k in across}
    extra = {key: ends for key, ends in others.items() if key not in needed}
    return Plan(tuple(f"corner_{i + 1}" for i in range(n)), tuple(sides), needed, extra, tuple(needed))


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
    "crown_across": "crown across, gap at the middle",
    "crown_across_left": "crown across, gap at the left end",
    "crown_across_right": "crown across, gap at the right end",
    "crown_across_chord": "crown across, between the points read",
    "crown_up": "crown up, gap at the middle",
    "crown_up_foot": "crown up, gap at the lower end",
    "crown_up_head": "crown up, gap at the upper end",
    "crown_up_chord": "crown up, between the points read",
    "crown_across_quarter_left": "crown across, gap a quarter in from the left",
    "crown_across_quarter_right": "crown across, gap a quarter in from the right",
    "crown_up_quarter_foot": "crown up, gap a quarter up from the foot",
    "crown_up_quarter_head": "crown up, gap a quarter down from the head",
    **{
        f"gap_{row}_{column}": f"straightedge across {heights}, gap at {places}"
        for row, heights in (("low", "at a quarter"), ("mid", "at half height"), ("high", "at three quarters"))
        for column, places in (("left", "the left quarter"), ("mid", "the middle"), ("right", "the right quarter"))
    },
    **{
        f"rise_{column}{end}": f"straightedge up {places}, gap at {where}"
        for column, places in (
            ("left", "at the left quarter"),
            ("mid", "in the middle"),
            ("right", "at the right quarter"),
        )
        for end, where in (("", "half height"), ("_low", "the lower quarter"))
    },
    "widest_height": "widest circle above the foot",
    "strip_depth": "strip depth from the top of the glass",
    "as1_depth": "AS-1 line from the top of the glass",
    "strip_above_seat": "strip's lower edge above the driver's seat",
    "housing_width": "camera housing, width",
    "housing_depth": "camera housing, depth from the top of the glass",
}

SHORT_LABELS: dict[str, str] = {
    "diagonal_rising": "diagonal ↗",
    "diagonal_falling": "diagonal ↘",
    "crown_across": "across: gap, middle",
    "crown_across_left": "across: gap, left end",
    "crown_across_right": "across: gap, right end",
    "crown_across_chord": "across: chord",
    "crown_up": "up: gap, middle",
    "crown_up_foot": "up: gap, lower end",
    "crown_up_head": "up: gap, upper end",
    "crown_up_chord": "up: chord",
    "crown_across_quarter_left": "across: gap, left quarter",
    "crown_across_quarter_right": "across: gap, right quarter",
    "crown_up_quarter_foot": "up: gap, lower quarter",
    "crown_up_quarter_head": "up: gap, upper quarter",
    **{
        f"gap_{row}_{column}": f"{row}: {places}"
        for row in ("low", "mid", "high")
        for column, places in (("left", "left"), ("mid", "middle"), ("right", "right"))
    },
    **{
        f"rise_{column}{end}": f"up, {places}{where}"
        for column, places in (("left", "left"), ("mid", "middle"), ("right", "right"))
        for end, where in (("", ": half height"), ("_low", ": low"))
    },
    "widest_height": "widest circle, above the foot",
    "strip_depth": "strip depth from the top",
    "as1_depth": "AS-1 line from the top",
    "strip_above_seat": "strip’s edge above the seat",
    "housing_width": "housing width",
    "housing_depth": "housing depth",
}


def label(key: str) -> str:
    """A reading's name as an installer says it.

    Examples
    --------
    >>> label("bow_top"), label("side_2_3"), label("more_side_5_1")
    ('bow of the top', 'side 2 to 3', 'to add at side 5 to 1')
    """
    for start, words in (
        ("bow_", "bow of the "),
        ("radius_", "corner radius, "),
        ("more_", "to add at "),
        ("less_", "to take off at "),
    ):
        if key.startswith(start):
            return words + _place(key.removeprefix(start))
    return _place(key)


def _place(key: str) -> str:
    kind, *numbers = key.split("_")
    if kind in ("side", "diagonal") and len(numbers) == 2 and all(one.isdigit() for one in numbers):
        return f"{kind} {numbers[0]} to {numbers[1]}"
    return LABELS.get(key, key.replace("_", " "))


def short_label(key: str) -> str:
    """A reading's name at the head of a field, where the drawing beside it shows the rest.

    Examples
    --------
    >>> short_label("diagonal_rising"), short_label("width")
    ('Diagonal ↗', 'Greatest width')
    """
    words = SHORT_LABELS.get(key, label(key))
    return words[0].upper() + words[1:]

"""The figures that a step's sentence may name, each with the longest text it ever has.

A sentence is read from 1.5 m: with the longest figures filled in it has at most ``LONGEST_SENTENCE``
characters, which a test holds.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from types import MappingProxyType

LONGEST_SENTENCE = 60


@dataclass(frozen=True)
class Figure:
    """What a figure is, and its longest text."""

    words: str
    longest: str


FIGURES: Mapping[str, Figure] = MappingProxyType(
    {
        "soap": Figure("dose of soap for placing film", "24 strokes (2.5 ml/l)"),
        "soap_rich": Figure("dose of soap for cleaning", "24 strokes (2.5 ml/l)"),
        "cure": Figure("how long windows stay up", "up 5 days"),
        "housing": Figure("bare glass round a camera housing", "1/2 in"),
        "tuck": Figure("tuck at the foot of a door", "3/8 in"),
        "shift": Figure("shift before the second side is cut", "1/4 in"),
        "half": Figure("reach behind each seal", "1/8 in"),
        "lower": Figure("glass down before its top is cut", "3 1/2 in"),
        "top": Figure("top edge below the glass’s", "flush to 1/32 in"),
        "trim": Figure("film left round a piece that is trimmed in place", "3/4 in"),
        "border": Figure("cut line onto the border", "1/4 in"),
        "border_foot": Figure("the same at the foot where trim sits close", "1 1/16 in"),
        "gasket": Figure("tuck into a plain gasket", "1/8 in"),
        "spindle": Figure("where the wiper’s spindle is, from left and foot", "19 3/8 × 3 15/16 in"),
        "cross": Figure("cross line above the foot, at the middle", "19 15/16 in"),
        "h_side": Figure("side lines of the H from the edge", "3 in"),
        "shrink": Figure("what must shrink", "2.45 % (1.70 to 3.20)"),
        "fingers": Figure("how many fingers stand", "24 of about 4 3/4 in"),
        "lamp": Figure("the brake light’s box, width and height", "15 15/16 × 1 15/16 in"),
        "spoiler": Figure("spoiler over the top border", "3 15/16 in"),
        "strips": Figure("number of strips", "12"),
        "overlap": Figure("overlap of two strips", "1/8 in"),
        "strip_depth": Figure("depth of the sun strip", "6 15/16 in"),
        "press_top": Figure("pressed at the top before the glass is raised", "5 in"),
        "guard_low": Figure("piece parked lower under a rain guard", "1/16 in"),
        "stop_short": Figure("stop short of the sides", "1 in"),
        "second": Figure("second pass starts above the first boundary", "5 in"),
        "sheet": Figure("black plastic for this pane, width and height", "63 15/16 × 35 15/16 in"),
        "bag": Figure("black plastic over all edges", "2 in"),
        "ack": Figure("what the customer has acknowledged", "risk and price, 350 $"),
        "heat_why": Figure("why heat needs care here", "chipped, laminated, cold, absorbing"),
        "pad_why": Figure("why no razor is used here", "Laminated or coated glass takes no razor"),
        "peel_why": Figure("why the whole liner comes off at once", "With the weather strip out it goes whole"),
    }
)


def filled(sentence: str, figures: Mapping[str, str]) -> str:
    """A sentence with its figures.

    Raises
    ------
    KeyError
        A figure that nobody worked out.

    Examples
    --------
    >>> filled("Lower the glass {lower}", {"lower": "3 in"})
    'Lower the glass 3 in'
    """
    return sentence.format_map(figures) if "{" in sentence else sentence

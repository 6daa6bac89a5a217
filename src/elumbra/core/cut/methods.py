"""Ways of cutting (handbook, section 6): what is laid out for each, how long it takes, and its steps."""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

from elumbra.core.glass import WindowKind
from elumbra.core.starting import StartingValues


class CutMethod(StrEnum):
    """How a window's film is cut."""

    BULK = "bulk"  # on the glass, whichever way round costs least
    BULK_UPRIGHT = "bulk_upright"  # its foot on the factory edge
    BULK_SIDEWAYS = "bulk_sideways"  # the roll turned: the foot is cut as well
    PEN = "pen"  # traced on the glass, cut on a board
    TRIM = "trim"  # trimmed in place, inside
    PLOTTER = "plotter"  # a pattern cut by the machine
    KIT = "kit"  # bought ready cut: nothing to lay out
    HOME_SHEET = "home_sheet"  # from one bought sheet, at home


class Laid(StrEnum):
    """What a way of cutting needs from the roll."""

    BLANK = "blank"
    PATTERN = "pattern"
    NOTHING = "nothing"


class Glass(StrEnum):
    """What a way of cutting meets: only glass that rolls is lowered for its top."""

    ROLLS = "rolls"
    FREE = "free"  # a frameless door: no seal at its free edges, and it stays up
    FIXED = "fixed"
    STRIP = "strip"  # a sun strip, on whatever glass


GLASS_WORDS = {Glass.ROLLS: "", Glass.FREE: "frameless door", Glass.FIXED: "fixed glass", Glass.STRIP: "sun strip"}


@dataclass(frozen=True)
class Way:
    """One way of cutting; ``steps`` on glass that rolls, the others where they differ."""

    words: str
    laid: Laid
    minutes: str  # starting value: minutes a piece
    steps: tuple[str, ...]
    fixed: tuple[str, ...] = ()
    strip: tuple[str, ...] = ()
    free: tuple[str, ...] = ()

    def glass_of(self, kind: WindowKind, *, is_strip: bool) -> Glass:
        """What a pane is to this way of cutting; one that never lowers glass has one list of steps for all."""
        if is_strip and self.strip:
            return Glass.STRIP
        match kind:
            case WindowKind.FRAMED_DOOR:
                return Glass.ROLLS
            case WindowKind.FRAMELESS_DOOR:
                return Glass.FREE if self.free else Glass.ROLLS
            case _:
                return Glass.FIXED if self.fixed else Glass.ROLLS

    def steps_on(self, glass: Glass) -> tuple[str, ...]:
        """The steps on some glass."""
        by_glass = {
            Glass.ROLLS: self.steps, Glass.FREE: self.free, Glass.FIXED: self.fixed, Glass.STRIP: self.strip,
        }  # fmt: skip
        return by_glass[glass]


_UPRIGHT = (
    "Glass fully up. Wet it, lay the film on with the factory edge on the lower seal, liner toward you, tack.",
    "Cut one side down the seal line. Not the other yet: cut to both seals it is too small.",
    "Lift, shift sideways by 1/4 in, foot on its line, tack, cut the second side, move back half.",
    "Free the foot, lower the glass 2 in, cut the top along it in one stroke.",
    "On the board: round every corner, straighten nicks, turn it top for bottom for the carry.",
)

_ON_FIXED = (
    "Wet it, lay the film over the whole window, liner toward you, press it out.",
    "Check the border from inside. Dark film: tape the edge and set a lamp behind the glass.",
    "Cut 1/4 in onto the border, 1/8 in past the lip where there is a gasket.",
    "On the board: round every corner, straighten nicks.",
)
_FREE = (
    "Trip the latch: the glass stays up. Wet it, lay the film on, liner toward you, tack.",
    "Cut the bottom in its channel; a front gasket gets 1/8 in extra.",
    "Cut the exposed edges along the glass, tight and even, in one stroke each.",
    "On the board: round every corner.",
)
_STRIP = (
    "Wet the glass, lay the film along the top, liner toward you, its lower edge flat.",
    "Rule the lower edge at both corners and the middle, then cut it in one stroke: it is the good edge.",
    "Cut top and sides 1/8 in past what is seen, on edge tape with a lamp behind.",
)
_STRIP_BOARD = (
    "Lay the film along the top, press it out and dry the liner's face, or ink will not take.",
    "Rule the lower edge at both corners and the middle; trace top and sides.",
    "On a board: cut the lower edge in one stroke, top and sides 1/8 in outside. No knife near the car.",
)

WAYS: dict[CutMethod, Way] = {
    CutMethod.BULK: Way("bulk, either way round", Laid.BLANK, "cut_minutes_bulk", _UPRIGHT, _ON_FIXED, _STRIP, _FREE),
    CutMethod.BULK_UPRIGHT: Way(
        "bulk, upright on the glass", Laid.BLANK, "cut_minutes_bulk", _UPRIGHT, _ON_FIXED, _STRIP, _FREE
    ),
    CutMethod.BULK_SIDEWAYS: Way(
        "bulk, the roll turned sideways", Laid.BLANK, "cut_minutes_sideways",
        (
            "Glass fully up. Lay the film on sideways, liner toward you, tack.",
            "Cut the foot first, then the front.",
            "Slide 1/4 in forward and slightly low, then cut the rear.",
            "The top last, glass lowered 2 in.",
            "On the board: round every corner, turn it top for bottom.",
        ),
        _ON_FIXED,
        _STRIP,
        _FREE,
    ),
    CutMethod.PEN: Way(
        "pen and board", Laid.BLANK, "cut_minutes_pen",
        (
            "Glass fully up. Lay the film on, press it out and dry the liner's face, or ink will not take.",
            "Trace foot and sides at the seal. Fold the foot clear, lower the glass, tack again, trace the top.",
            "On a board: cut the top exactly on its line, sides and foot 1/8 in outside. No knife near the car.",
        ),
        (
            "Lay the film on, press it out and dry the liner's face, or ink will not take.",
            "Trace the border all round, the gasket where there is none.",
            "On a board: cut 1/4 in outside a border, 1/8 in outside a gasket. No knife near the car.",
        ),
        _STRIP_BOARD,
        (
            "Trip the latch: the glass stays up.",
            "Lay the film on, press it out and dry the liner's face, or ink will not take.",
            "Trace the bottom at its channel and the exposed edges along the glass.",
            "On a board: cut the exposed edges exactly on the line, the bottom 1/8 in outside. No knife near the car.",
        ),
    ),
    CutMethod.TRIM: Way(
        "trimmed in place", Laid.BLANK, "cut_minutes_trim",
        (
            "Panel off. Score 1/4 in outside the curved side and 1/2 to 1 in elsewhere, and cut it off the car.",
            "Lay it inside from the top, glass partly down, once the hidden part is seen to be covered.",
            "Cut the top in one stroke; the foot last, glass almost closed.",
        ),
        (
            "Score 1/2 to 1 in outside what is seen all round, and cut it off the car.",
            "Lay it inside from the top, once the hidden part is seen to be covered.",
            "Cut the top in one stroke, then the sides; the foot last.",
        ),
        (
            "Score 1/2 to 1 in outside top and sides, the lower edge on its ruled line, and cut it off the car.",
            "Lay it inside along the top, its lower edge flat before all else.",
            "Cut top and sides in place.",
        ),
        (
            "Score 1/4 in outside the exposed edges, 1/2 to 1 in at the bottom, and cut it off the car.",
            "Trip the latch: the glass stays up. Lay it inside from the top.",
            "Cut the exposed edges along the glass, tight and even; the bottom last.",
        ),
    ),
    CutMethod.PLOTTER: Way(
        "plotter pattern", Laid.PATTERN, "cut_minutes_plotter",
        (
            "Check which side of the roll lies up; the file is made for that side.",
            "Load the roll square, set the free end behind the knife, cut.",
            "Weed the waste, keep the largest piece left over.",
        ),
    ),
    CutMethod.KIT: Way(
        "ready-cut kit", Laid.NOTHING, "cut_minutes_kit",
        ("Lay the pieces out in the order of the windows and hold each against its glass before its liner is off.",),
    ),
    CutMethod.HOME_SHEET: Way(
        "home sheet", Laid.BLANK, "cut_minutes_home",
        (
            "Measure both windows first and lay both out on the sheet before the first cut: there is one try.",
            "Cut each 1 in larger all round than what is seen, then trim on the glass.",
        ),
    ),
}  # fmt: skip


def minutes_of(method: CutMethod, *, starting: StartingValues) -> float:
    """Minutes a piece takes by a way of cutting, in the shop's figures."""
    return starting[WAYS[method].minutes]

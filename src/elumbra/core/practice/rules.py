"""What goes wrong under a hand: one small function a rule, with its sentence and its source beside it.

A rule looks at one step: the film before it, the film after it, and what the hand did. It says in which cells
something has gone wrong. Damage stays; only a drum line, which is no damage, goes when it is warmed.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from enum import IntFlag
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from elumbra.core.practice.board import Board, Floats, Lie, Mask
from elumbra.core.practice.film import AFLOAT, BARE, CLINGS, PRESSED, WET, Sheet
from elumbra.core.practice.hand import Stroke
from elumbra.core.starting import StartingValues

Marks = NDArray[np.uint16]


class Damage(IntFlag):
    """What film, or its glass, has for good."""

    CREASE = 1
    PINCH = 2
    DRAG = 4
    HAZE = 8
    BURN = 16
    HOLE = 32
    GLASS = 64  # too hot: it may break
    TRAILS = 128
    GAP = 256
    ASKEW = 512


@dataclass(frozen=True)
class Moment:
    """One step, as rules see it."""

    board: Board
    lie: Lie
    before: Sheet
    after: Sheet
    gun: Stroke | None
    card: Mask  # cells that were pressed in this step, loose until then
    glove: Mask
    trimmed: bool
    has_h: bool

    @property
    def values(self) -> StartingValues:
        """Figures."""
        return self.board.values

    @cached_property
    def pressed(self) -> Mask:
        """Cells that were pressed in this step, loose until then."""
        return self.card | self.glove

    @cached_property
    def soft(self) -> Mask:
        """Film warm enough to give, when the hand came down on it."""
        return np.asarray(self.before.film >= self.values["film_softens_c"])

    @cached_property
    def standing(self) -> Floats:
        """What was too long before the hand came down."""
        return self.before.standing(self.lie)

    @cached_property
    def bears(self) -> Floats:
        """How much may still be too long where it is pressed: more where it is soft."""
        flat, soft = self.values["lies_flat_most"], self.soft
        by_card = np.where(soft, self.values["practice_card_soft_most"], flat)
        by_glove = np.where(soft, self.values["practice_glove_soft_most"], flat)
        return np.where(self.card, by_card, by_glove)

    @cached_property
    def stands(self) -> Mask:
        """Dry film that was pressed with too much of it left. Wet film only loses its water then."""
        return np.asarray(self.pressed & (self.before.contact != WET) & (self.standing > self.bears))

    @cached_property
    def shut(self) -> Mask:
        """Outside of film that stands too high for any hand, in the same column."""
        stands = self.standing > self.values["practice_card_soft_most"]
        return outside_of(stands & self.before.loose & self.lie.on_glass & ~self.pressed, self.lie)

    @cached_property
    def too_hot(self) -> Mask:
        """Pressed hotter than film is worked."""
        return np.asarray(self.pressed & (self.before.film > self.values["film_works_high_c"]))


@dataclass(frozen=True)
class Rule:
    """Something that goes wrong: what it leaves, why in the tutor's words, and what to do instead."""

    name: str
    damage: Damage
    words: str
    instead: str
    source: str
    broken: Callable[[Moment], Mask]


def cold_crease(at: Moment) -> Mask:
    """Pressed before the finger softened."""
    return np.asarray(at.stands & ~at.soft & ~at.shut & ~below_heat(at) & (at.before.contact != CLINGS))


def early_crease(at: Moment) -> Mask:
    """Pressed soft, with more of it left than the hand takes down."""
    early = at.stands & at.soft & ~at.shut & ~at.too_hot
    return np.asarray(early & (at.before.contact != CLINGS))


def below_heat(at: Moment) -> Mask:
    """Pressed cold, farther from the cross line than the heat has come in that column."""
    warmed = (at.before.shrunk > at.values["lies_flat_most"] / 2) & at.before.loose | (at.before.contact == PRESSED)
    outside = outside_of(warmed & (at.before.shrunk > 0), at.lie)
    cold = at.stands & ~at.soft & (at.before.shrunk <= at.values["lies_flat_most"] / 2)
    return np.asarray(cold & outside & ~at.shut & (at.before.contact != CLINGS))


def clinging(at: Moment) -> Mask:
    """Pressed half-dry with too much of it left: it can neither slide nor float."""
    return np.asarray(at.stands & (at.before.contact == CLINGS))


def outside_of(cells: Mask, lie: Lie) -> Mask:
    """Places farther from the cross line than one of these cells in the same column."""
    first = int(np.searchsorted(lie.v, 0.0, side="right"))
    found = np.zeros_like(cells)
    found[first + 1 :] = np.logical_or.accumulate(cells[first:-1], axis=0)
    if first > 1:
        found[: first - 1] = np.logical_or.accumulate(cells[first - 1 : 0 : -1], axis=0)[::-1]
    return found


def shut_in(at: Moment) -> Mask:
    """Pressed outside of standing film: the finger is shut in."""
    return np.asarray(at.pressed & (at.before.contact != WET) & at.shut & ~at.too_hot)


def hot_pinch(at: Moment) -> Mask:
    """Pressed hotter than film is worked."""
    return at.too_hot


def late_pinch(at: Moment) -> Mask:
    """Pressed soft after it was shrunk too far."""
    over = at.before.over(at.lie) > at.values["practice_drum_share"]
    return np.asarray(at.pressed & over & at.soft & ~at.too_hot)


def dragged(at: Moment) -> Mask:
    """Heated past a side line of the H while film inside it still stands."""
    none = np.zeros_like(at.lie.on_glass)
    if at.gun is None or not at.has_h:
        return none
    u, v = at.lie.on_film(at.gun.x, at.gun.y)
    left, right = at.lie.side_lines
    if left <= u <= right:
        return none
    same = (np.sign(at.lie.over_u) == np.sign(u)) & (np.sign(at.lie.over_v) == np.sign(v))
    inside = same & (at.lie.over_u > left) & (at.lie.over_u < right) & at.lie.on_glass & at.after.loose
    stands = inside & (at.after.standing(at.lie) > at.values["practice_card_soft_most"])
    outside = same & ((at.lie.over_u < left) | (at.lie.over_u > right)) & at.lie.on_glass & at.after.loose
    gave = at.after.shrunk - at.before.shrunk > 0
    return np.asarray(outside & gave & (at.after.film >= at.values["film_works_low_c"])) if stands.any() else none


def _hot(name: str) -> Callable[[Moment], Mask]:
    """Film that came to a figure's warmth."""

    def too_hot(at: Moment) -> Mask:
        return np.asarray((at.after.contact != BARE) & (at.after.film >= at.values[name]))

    return too_hot


def glass_hot(at: Moment) -> Mask:
    """Glass that no palm stays on."""
    return np.asarray(at.lie.on_glass & (at.after.outer >= at.values["glass_hot_c"]))


def trails(at: Moment) -> Mask:
    """Heated hard with water under it."""
    return np.asarray((at.after.contact == WET) & (at.after.film >= at.values["practice_trails_c"]))


def trimmed_early(at: Moment) -> Mask:
    """Cut at the edge while film there still has to shrink: it draws back from the edge."""
    inner = np.zeros_like(at.lie.on_glass)
    g = at.lie.on_glass
    inner[1:-1, 1:-1] = g[1:-1, 1:-1] & g[:-2, 1:-1] & g[2:, 1:-1] & g[1:-1, :-2] & g[1:-1, 2:]
    return np.asarray(g & ~inner & at.after.loose & (at.after.standing(at.lie) > at.values["lies_flat_most"]))


def askew(at: Moment) -> Mask:
    """Floating film that gives before anything holds it: the whole piece slides."""
    afloat = at.after.contact == AFLOAT
    if at.has_h or (at.after.contact >= PRESSED).any():
        return np.zeros_like(afloat)
    gives = at.after.shrunk - at.before.shrunk > at.values["lies_flat_most"] / 10
    return np.asarray(afloat & gives & at.lie.on_glass)


RULES: tuple[Rule, ...] = (
    Rule(
        "hot_pinch", Damage.PINCH, "You pressed film that was too hot: it pinches.",
        "Take the gun away first, count one, then press.", "handbook, section 8", hot_pinch,
    ),
    Rule(
        "late_pinch", Damage.PINCH, "It had shrunk too far when you pressed it: it pinches.",
        "Press as soon as a finger has drawn in; a drum line is warmed gently until it lets go.",
        "handbook, section 8", late_pinch,
    ),
    Rule(
        "shut_in", Damage.CREASE, "You pressed outside of film that still stands: the finger is shut in.",
        "Work from the cross line outward; leave nothing standing behind the hand.", "handbook, section 8", shut_in,
    ),
    Rule(
        "below_heat", Damage.CREASE, "You pressed below what you heated: it creases here.",
        "Heat the next band first, then press it. Heat, press, heat, press.", "handbook, section 8", below_heat,
    ),
    Rule(
        "cold_crease", Damage.CREASE, "You pressed a finger that had not softened: it creases.",
        "Keep the gun moving over it until it draws into a zigzag.", "handbook, section 8", cold_crease,
    ),
    Rule(
        "early_crease", Damage.CREASE, "You pressed while too much of the finger still stood: it folds over.",
        "Soft is not yet flat: warm it until it has drawn in.", "handbook, section 8; figure ours", early_crease,
    ),
    Rule(
        "clinging", Damage.CREASE, "The film is half-dry, too dry to slide and too damp to float: it creases.",
        "Lift it, wipe off the surplus, lay it anew.", "handbook, section 8", clinging,
    ),
    Rule(
        "dragged", Damage.DRAG, "You heated past the side line while film inside it stood: it drags the line.",
        "Shrink up to the side, not beyond it, until the quarter inside lies flat.", "handbook, section 8", dragged,
    ),
    Rule(
        "haze", Damage.HAZE, "Too hot: the film turned hazy.", "Keep moving, farther off; tall fingers heat fastest.",
        "handbook, section 8; figure ours", _hot("film_hazes_c"),
    ),
    Rule(
        "burn", Damage.BURN, "The film burnt.", "That piece is scrap. Go farther off and never stand still.",
        "handbook, section 8; figure ours", _hot("film_burns_c"),
    ),
    Rule(
        "hole", Damage.HOLE, "A hole burnt through.", "Take the gun away at the first haze.",
        "our assumption", _hot("film_holes_c"),
    ),
    Rule(
        "glass_hot", Damage.GLASS, "The glass is too hot for a palm: it may break.",
        "Stop and let it cool; work another quarter meanwhile.", "handbook, section 8", glass_hot,
    ),
    Rule(
        "trails", Damage.TRAILS, "You heated hard with water under the film: it leaves trails in the adhesive.",
        "Press the water out first.", "handbook, section 12; figure ours", trails,
    ),
    Rule(
        "trimmed_early", Damage.GAP, "You cut before the edge had shrunk: it draws back and leaves a gap of light.",
        "Shrink past the border line, press, then cut.", "handbook, section 8", trimmed_early,
    ),
    Rule(
        "askew", Damage.ASKEW, "Nothing held the film when it gave: the piece slid.",
        "Press the H before the gun comes near.", "handbook, section 8", askew,
    ),
)  # fmt: skip
"""Every rule; the first that speaks for a cell and a damage names its cause."""
BY_NAME = {rule.name: rule for rule in RULES}
_BY_HAND = Damage.CREASE | Damage.PINCH
_BY_HEAT = Damage.HAZE | Damage.BURN | Damage.HOLE
SCRAP = Damage(sum(Damage))
"""Each of them costs the piece, or its glass."""


def broken(at: Moment) -> list[tuple[Rule, Mask]]:
    """The rules that this step broke, with the cells; what is over the edge of the glass is cut away anyway."""
    may = Damage(0)
    if at.pressed.any():
        may |= _BY_HAND
    if at.after.film.max() >= at.values["film_hazes_c"]:
        may |= _BY_HEAT
    if at.after.outer.max() >= at.values["glass_hot_c"]:
        may |= Damage.GLASS
    if at.gun is not None:
        may |= Damage.DRAG | Damage.ASKEW | Damage.TRAILS
    if at.trimmed:
        may |= Damage.GAP
    found = []
    for rule in RULES:
        if rule.damage not in may:
            continue
        cells = rule.broken(at) & at.lie.on_glass
        if cells.any():
            found.append((rule, cells))
    return found

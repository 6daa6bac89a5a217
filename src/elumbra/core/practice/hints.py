"""The tutor: what to do next, from what is seen; and what went wrong, from the rule that it broke."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from elumbra.core.practice.board import Lie, Mask
from elumbra.core.practice.lessons import School
from elumbra.core.practice.rules import BY_NAME, outside_of
from elumbra.core.practice.run import Event
from elumbra.core.practice.screen import Looks, Screen, Warmth
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class Hint:
    """A sentence, and where on the pane it is about, as seen from outside; None: the pane as a whole."""

    about: str
    words: str
    at: tuple[float, float] | None = None


def mistake(event: Event) -> Hint:
    """What went wrong, and what to do instead."""
    rule = BY_NAME[event.rule]
    return Hint(rule.name, f"{rule.words} {rule.instead}", (event.x, event.y))


def next_hint(screen: Screen, *, school: School, values: StartingValues, laminated: bool) -> Hint:
    """The one thing to do now."""
    before = _before_heat(screen, school)
    if before is not None:
        return before
    danger = _danger(screen, values, laminated=laminated)
    if danger is not None:
        return danger
    lie, glass = screen.lie, screen.lie.on_glass
    if (glass & (screen.looks == Looks.CLINGS)).any():
        return Hint("clings", "Half-dry: too dry to slide, too damp to float. Lift it, wipe it dry, set the H anew.")
    if (glass & (screen.looks == Looks.WET)).any():
        return _at("water", "Press the water out first, from the middle outward.", lie, screen.looks == Looks.WET)
    drum = glass & (screen.looks == Looks.DRUM)
    if drum.any():
        return _at("drum", "A drum line: shrunk too far. Warm it gently, gun on low, until it lets go.", lie, drum)
    stands = glass & (screen.stands > 0) & (screen.looks == Looks.FLOATS)
    loose = glass & (screen.looks == Looks.FLOATS)
    if screen.way is not screen.h_way and stands.any():
        return Hint("sideways", "Fingers lie along the roll: heat takes none of that. Lift it, set the H along it.")
    ready = loose & ~stands & ~outside_of(stands, lie) & (screen.warmth < Warmth.TOO_HOT)
    if (ready & (screen.warmth >= Warmth.SOFT)).any():
        warm = ready & (screen.warmth >= Warmth.SOFT)
        return _at("press", "It has drawn in and lies down: press it now, from the middle outward.", lie, warm)
    if stands.any():
        inner = stands & ~outside_of(stands, lie)
        return _at("heat", "Heat the fingers nearest the cross line first, gun moving, until they zigzag.", lie, inner)
    if loose.any():
        return _at("press", "This lies flat: press it down.", lie, loose)
    if not screen.trimmed:
        return Hint("trim", "All of it lies down. Cut it at the edge of the glass.")
    return Hint("look", "Look at it from inside.")


def _before_heat(screen: Screen, school: School) -> Hint | None:
    if screen.way is None:
        if school is School.DRY and not screen.sheeted:
            return Hint("sheet", "Wipe a dryer sheet over the wet glass: film floats on what it leaves.")
        if school is School.DRY and not screen.dry:
            return Hint("wait", "Let it dry fully. Half-dry is the worst of both.")
        if school is not School.DRY and not screen.wet:
            return Hint("wet", "Spray the glass: this piece is laid on slip.")
        return Hint("lay", "Lay the film with its roll across the car: it shrinks along the roll only.")
    if screen.h_way is None:
        return Hint("h", "Press the H: a line across the middle, one up and down near each side.")
    return None


def _danger(screen: Screen, values: StartingValues, *, laminated: bool) -> Hint | None:
    lie, glass = screen.lie, screen.lie.on_glass
    too_hot = glass & (screen.warmth >= Warmth.TOO_HOT)
    if too_hot.any():
        return _at("too_hot", "Take the gun away: it smells, next it hazes.", lie, too_hot)
    warm = glass & (screen.glass >= values["glass_warns_c"])
    if warm.any():
        return _at("glass_warm", "The glass grows hot: work elsewhere until a palm can stay on it.", lie, warm)
    apart = values["practice_laminated_apart_k" if laminated else "practice_layers_apart_k"]
    uneven = glass & (screen.layers >= apart)
    if uneven.any():
        kind = "Laminated glass, its" if laminated else "The glass's"
        return _at("glass_uneven", f"{kind} outer face is far warmer than its inner: keep the gun moving.", lie, uneven)
    return None


def _at(about: str, words: str, lie: Lie, cells: Mask | Any) -> Hint:
    """About these cells: the one nearest to the middle of the pane."""
    far = np.where(cells & lie.on_glass, np.hypot(lie.over_u, lie.over_v), np.inf)
    row, column = np.unravel_index(int(np.argmin(far)), far.shape)
    x, y = lie.drawn(np.array([[lie.u[column], lie.v[row]]]))[0].tolist()
    return Hint(about, words, (round(x, 1), round(y, 1)))

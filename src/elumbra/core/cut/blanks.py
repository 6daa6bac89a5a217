"""Hand-cut blanks: the rectangle of film that is laid on a pane and cut to shape there."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np
from shapely import Polygon

from elumbra.core.cut.allowances import CutLine, FixedEdge, cut_line
from elumbra.core.cut.methods import CutMethod
from elumbra.core.geom import span_at
from elumbra.core.geom.polygon import Points
from elumbra.core.glass import DOORS, Outline, WindowKind
from elumbra.core.nest import Blank, HandPlace, Pattern, Turn, TurnOption
from elumbra.core.shrink import Unrolled, fine
from elumbra.core.starting import StartingValues
from elumbra.core.units import up_to_sixteenth


@dataclass(frozen=True)
class PaneToCut:
    """What a blank depends on: a pane, or one piece of the strip on it."""

    id: str
    label: str
    kind: WindowKind
    outline: Outline
    unrolled: frozenset[Unrolled] = frozenset(Unrolled)  # ways in which its film may be turned
    flatten: Callable[[Points], Points] | None = None  # from its drawing to the flat film, where its curve is known
    inner: frozenset[str] = frozenset()  # edges at which it overlaps another piece on the same pane
    is_strip: bool = False
    pair: str = ""
    play: float | None = None  # each side [mm], where less than usual was accepted
    window_id: str = ""  # the window it is for, where a window has more than one piece
    method: CutMethod = CutMethod.BULK
    edge: FixedEdge = FixedEdge()  # what fixed glass ends in
    by_hand: HandPlace | None = None  # where somebody put it


def blank_size(pane: PaneToCut, *, starting: StartingValues) -> tuple[float, float]:
    """Width and height of a pane's blank [mm].

    The visible size plus the play on every side, rounded up to the sixteenth that the ruler
    shows, so that what is cut is what was planned.
    """
    play = 2 * (starting["blank_play_mm"] if pane.play is None else pane.play)
    return up_to_sixteenth(pane.outline.width + play), up_to_sixteenth(pane.outline.height + play)


def blank_for(pane: PaneToCut, *, starting: StartingValues) -> Blank:
    """A pane's blank with the ways in which it may lie on the roll.

    Film shrinks along the roll only, so it may be turned only where what must shrink then stays
    within limits: ``unrolled`` says so. A door whose foot lies on a factory edge saves one cut; sideways it cannot,
    and needs a little more at the foot.
    """
    width, height = blank_size(pane, starting=starting)
    foot = starting["bottom_cut_minutes"] if pane.kind in DOORS else 0.0
    upright = TurnOption(Turn.UPRIGHT, width, height, edge_minutes=foot)
    if Unrolled.UP not in pane.unrolled:
        return Blank(pane.id, pane.label, (upright,), pane.pair, pane.window_id)
    longer = starting["turned_bottom_play_mm"] if foot else 0.0
    sideways = TurnOption(Turn.SIDEWAYS, height + longer, width, extra_minutes=foot)
    if Unrolled.ACROSS not in pane.unrolled:
        return Blank(pane.id, pane.label, (sideways,), pane.pair, pane.window_id)
    if pane.method is CutMethod.BULK_UPRIGHT:
        return Blank(pane.id, pane.label, (upright,), pane.pair, pane.window_id)
    if pane.method is CutMethod.BULK_SIDEWAYS:
        return Blank(pane.id, pane.label, (sideways,), pane.pair, pane.window_id)
    return Blank(pane.id, pane.label, (upright, sideways), pane.pair, pane.window_id)


def pattern_for(pane: PaneToCut, *, starting: StartingValues) -> tuple[Pattern, CutLine]:
    """A pane's pattern, seen liner side up, with the ways in which it may lie, and its cut line.

    Raises
    ------
    CoreError
        An outline that crosses itself, or allowances that leave nothing of it.
    """
    line = cut_line(
        pane.outline, pane.kind, edge=pane.edge, starting=starting, is_strip=pane.is_strip, inner=pane.inner
    )
    if pane.flatten is not None:
        line = _flat(line, pane.outline.ring, pane.flatten)
    return Pattern(pane.id, pane.label, line.ring - line.ring.min(axis=0), pattern_turns(pane), pane.pair), line


def pattern_turns(pane: PaneToCut) -> tuple[Turn, ...]:
    """The ways in which a pane's pattern may lie on the roll."""
    by_way = {
        Unrolled.ACROSS: (Turn.UPRIGHT, Turn.UPSIDE_DOWN),
        Unrolled.UP: (Turn.SIDEWAYS, Turn.SIDEWAYS_BACK),
    }
    return tuple(turn for way, turns in by_way.items() if way in pane.unrolled for turn in turns)


def _flat(line: CutLine, glass: Points, flatten: Callable[[Points], Points]) -> CutLine:
    """The cut line as flat film: its true pattern, with ticks outside it for the cross line and the centre."""
    ring = flatten(fine(line.ring))
    ring = np.asarray(Polygon(ring).simplify(_SMOOTH_MM).exterior.coords)[:-1]
    ticks = []
    for way, places in ((1, span_at(ring, 1, 0.0)), (0, span_at(ring, 0, 0.0))):
        for place, out in zip(places, (-_TICK_MM, _TICK_MM), strict=True):
            start, end = [0.0, 0.0], [0.0, 0.0]
            start[1 - way], end[1 - way] = place, place + out
            ticks.append(((start[0], start[1]), (end[0], end[1])))
    return replace(line, ring=ring, glass=flatten(fine(glass)), ticks=tuple(ticks))


_SMOOTH_MM = 0.02
_TICK_MM = 5.0

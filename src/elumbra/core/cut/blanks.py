"""Hand-cut blanks: the rectangle of film that is laid on a pane and cut to shape there."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import ceil

from elumbra.core.cut.allowances import CutLine, cut_line
from elumbra.core.cut.methods import CutMethod
from elumbra.core.glass import Curve, Outline, WindowKind
from elumbra.core.nest import Blank, HandPlace, Pattern, Turn, TurnOption
from elumbra.core.starting import StartingValues
from elumbra.core.units import MM_PER_INCH

_ROUNDING = 1e-6
_DOORS = frozenset({WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR})


@dataclass(frozen=True)
class PaneToCut:
    """What a blank depends on: a pane, or one piece of the strip on it."""

    id: str
    label: str
    kind: WindowKind
    curve: Curve
    outline: Outline
    is_strip: bool = False
    pair: str = ""
    play: float | None = None  # each side [mm], where less than usual was accepted
    window_id: str = ""  # the window it is for, where a window has more than one piece
    method: CutMethod = CutMethod.BULK
    borders: Mapping[str, float] = field(default_factory=dict)  # dark border by edge, as it was read [mm]
    by_hand: HandPlace | None = None  # where somebody put it


def blank_size(pane: PaneToCut, *, starting: StartingValues) -> tuple[float, float]:
    """Width and height of a pane's blank [mm].

    The visible size plus the play on every side, rounded up to the sixteenth that the ruler
    shows, so that what is cut is what was planned.
    """
    play = 2 * (starting["blank_play_mm"] if pane.play is None else pane.play)
    return _to_sixteenth(pane.outline.width + play), _to_sixteenth(pane.outline.height + play)


def _to_sixteenth(length_mm: float) -> float:
    step = float(MM_PER_INCH) / 16
    return ceil(length_mm / step - _ROUNDING) * step


def blank_for(pane: PaneToCut, *, starting: StartingValues) -> Blank:
    """A pane's blank with the ways in which it may lie on the roll.

    Film shrinks along the roll only, so glass curved both ways takes film unrolled across it:
    its width runs along the roll and nothing else will do. Near-flat glass and strips go
    either way. A door whose foot lies on a factory edge saves one cut; sideways it cannot,
    and needs a little more at the foot.
    """
    width, height = blank_size(pane, starting=starting)
    foot = starting["bottom_cut_minutes"] if pane.kind in _DOORS else 0.0
    upright = TurnOption(Turn.UPRIGHT, width, height, edge_minutes=foot)
    if pane.curve.binds_direction and not pane.is_strip:
        return Blank(pane.id, pane.label, (upright,), pane.pair)
    longer = starting["turned_bottom_play_mm"] if foot else 0.0
    sideways = TurnOption(Turn.SIDEWAYS, height + longer, width, extra_minutes=foot)
    if pane.method is CutMethod.BULK_UPRIGHT:
        return Blank(pane.id, pane.label, (upright,), pane.pair)
    if pane.method is CutMethod.BULK_SIDEWAYS:
        return Blank(pane.id, pane.label, (sideways,), pane.pair)
    return Blank(pane.id, pane.label, (upright, sideways), pane.pair)


def pattern_for(pane: PaneToCut, *, starting: StartingValues) -> tuple[Pattern, CutLine]:
    """A pane's pattern, seen liner side up, with the ways in which it may lie, and its cut line.

    Raises
    ------
    CoreError
        An outline that crosses itself, or allowances that leave nothing of it.
    """
    line = cut_line(pane.outline, pane.kind, borders=pane.borders, starting=starting, is_strip=pane.is_strip)
    turns: tuple[Turn, ...] = (Turn.UPRIGHT, Turn.UPSIDE_DOWN)
    if not pane.curve.binds_direction or pane.is_strip:
        turns = (*turns, Turn.SIDEWAYS, Turn.SIDEWAYS_BACK)
    return Pattern(pane.id, pane.label, line.ring - line.ring.min(axis=0), turns, pane.pair), line

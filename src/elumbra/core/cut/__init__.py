"""From a pane to its blank, and from a layout to cuts in the order the knife makes them."""

from elumbra.core.cut.allowances import (
    EDGES,
    CutLine,
    EdgeAllowance,
    FixedEdge,
    Rim,
    allowances_of,
    check_outline,
    cut_line,
    edge_allowances,
    edge_middles,
    fixed_edge,
    inside_borders,
)
from elumbra.core.cut.blanks import PaneToCut, blank_for, blank_size, pattern_for, pattern_turns
from elumbra.core.cut.booking import COUNTS_PER_MM, Booking, book, shared_out
from elumbra.core.cut.methods import GLASS_WORDS, WAYS, CutMethod, Glass, Laid, Way, minutes_of
from elumbra.core.cut.offcut_use import offcut_uses
from elumbra.core.cut.placed import Part, PutByHand, hand_place
from elumbra.core.cut.steps import CutKind, CutStep, cut_steps, outline_on_blank, points_on_blank
from elumbra.core.cut.strip import Housing, Ruler, StripPlan, StripShape, plan_strip

__all__ = [
    "COUNTS_PER_MM",
    "EDGES",
    "GLASS_WORDS",
    "WAYS",
    "Booking",
    "CutKind",
    "CutLine",
    "CutMethod",
    "CutStep",
    "EdgeAllowance",
    "FixedEdge",
    "Glass",
    "Housing",
    "Laid",
    "PaneToCut",
    "Part",
    "PutByHand",
    "Rim",
    "Ruler",
    "StripPlan",
    "StripShape",
    "Way",
    "allowances_of",
    "blank_for",
    "blank_size",
    "book",
    "check_outline",
    "cut_line",
    "cut_steps",
    "edge_allowances",
    "edge_middles",
    "fixed_edge",
    "hand_place",
    "inside_borders",
    "minutes_of",
    "offcut_uses",
    "outline_on_blank",
    "pattern_for",
    "pattern_turns",
    "plan_strip",
    "points_on_blank",
    "shared_out",
]

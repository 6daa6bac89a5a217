"""From a pane to its blank, and from a layout to cuts in the order the knife makes them."""

from elumbra.core.cut.allowances import EDGES, CutLine, EdgeAllowance, cut_line, edge_allowances, inside_borders
from elumbra.core.cut.blanks import PaneToCut, blank_for, blank_size, pattern_for
from elumbra.core.cut.booking import COUNTS_PER_MM, Booking, book
from elumbra.core.cut.methods import WAYS, CutMethod, Laid, Way, minutes_of
from elumbra.core.cut.steps import CutKind, CutStep, cut_steps, outline_on_blank
from elumbra.core.cut.strip import Housing, Ruler, StripPlan, StripShape, plan_strip

__all__ = [
    "COUNTS_PER_MM",
    "EDGES",
    "WAYS",
    "Booking",
    "CutKind",
    "CutLine",
    "CutMethod",
    "CutStep",
    "EdgeAllowance",
    "Housing",
    "Laid",
    "PaneToCut",
    "Ruler",
    "StripPlan",
    "StripShape",
    "Way",
    "blank_for",
    "blank_size",
    "book",
    "cut_line",
    "cut_steps",
    "edge_allowances",
    "inside_borders",
    "minutes_of",
    "outline_on_blank",
    "pattern_for",
    "plan_strip",
]

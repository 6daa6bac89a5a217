"""From a pane to its blank, and from a layout to cuts in the order the knife makes them."""

from elumbra.core.cut.blanks import PaneToCut, blank_for, blank_size
from elumbra.core.cut.booking import COUNTS_PER_MM, Booking, book
from elumbra.core.cut.steps import CutKind, CutStep, cut_steps, outline_on_blank
from elumbra.core.cut.strip import Housing, Ruler, StripPlan, StripShape, plan_strip

__all__ = [
    "COUNTS_PER_MM",
    "Booking",
    "CutKind",
    "CutStep",
    "Housing",
    "PaneToCut",
    "Ruler",
    "StripPlan",
    "StripShape",
    "blank_for",
    "blank_size",
    "book",
    "cut_steps",
    "outline_on_blank",
    "plan_strip",
]

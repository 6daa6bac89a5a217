"""How film shrinks onto curved glass: how much, where, in which order, and what flat piece to cut for it."""

from elumbra.core.shrink.anchor import AS_GOOD, Measuring, Placed, best_anchor, placed
from elumbra.core.shrink.drawing import Contour, contours, levels_for, profile
from elumbra.core.shrink.fingers import Finger, HeatPlan, Quarter, Zone, heat_plan
from elumbra.core.shrink.flat import Difference, difference, fine, flattened, laid_over, upright
from elumbra.core.shrink.net import Anchor, Net, OnFace, ShrinkError, Unrolled, laid_out
from elumbra.core.shrink.required import (
    Field,
    Glass,
    Required,
    changes_with,
    densified,
    field_of,
    required,
    required_of_each,
    with_inside,
)
from elumbra.core.shrink.school import LABELS, OPTIONS, Advice, Ask, Piece, school_of
from elumbra.core.shrink.strips import Strip, least_strips
from elumbra.core.shrink.verdict import Bears, Interval, ShrinkWord, Verdict, product_interval, stepped_interval

__all__ = [
    "AS_GOOD",
    "LABELS",
    "OPTIONS",
    "Advice",
    "Anchor",
    "Ask",
    "Bears",
    "Contour",
    "Difference",
    "Field",
    "Finger",
    "Glass",
    "HeatPlan",
    "Interval",
    "Measuring",
    "Net",
    "OnFace",
    "Piece",
    "Placed",
    "Quarter",
    "Required",
    "ShrinkError",
    "ShrinkWord",
    "Strip",
    "Unrolled",
    "Verdict",
    "Zone",
    "best_anchor",
    "changes_with",
    "contours",
    "densified",
    "difference",
    "field_of",
    "fine",
    "flattened",
    "heat_plan",
    "laid_out",
    "laid_over",
    "least_strips",
    "levels_for",
    "placed",
    "product_interval",
    "profile",
    "required",
    "required_of_each",
    "school_of",
    "stepped_interval",
    "upright",
    "with_inside",
]

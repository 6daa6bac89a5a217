"""Placing blanks on rolls and offcuts: least cost, verified, with bounds and comparisons."""

from elumbra.core.nest.bounds import Bounds, film_bounds
from elumbra.core.nest.by_hand import HandPlace, Tried, layout_of, plan_with_hand, settle, standing_places, try_place
from elumbra.core.nest.check import check_layout, cuttable
from elumbra.core.nest.holding import all_fit
from elumbra.core.nest.layout import (
    Blank,
    Costing,
    Lane,
    Layout,
    Leftover,
    Placed,
    Score,
    Section,
    Turn,
    TurnOption,
    Unplaced,
    by_id,
    lot_of,
    score,
)
from elumbra.core.nest.lots import plan_by_lot, split_pairs
from elumbra.core.nest.pattern import box_of, inner_of, plan_patterns
from elumbra.core.nest.pattern_by_hand import plan_patterns_with_hand, settle_patterns, try_pattern
from elumbra.core.nest.pattern_check import check_patterns
from elumbra.core.nest.pattern_layout import (
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRules,
    PatternStrip,
    rotation,
)
from elumbra.core.nest.pool import moved, packed
from elumbra.core.nest.search import Baseline, CutPlan, plan_cuts
from elumbra.core.nest.short import Longer, NewRoll, Short, least_reduction, what_is_short

__all__ = [
    "Baseline",
    "Blank",
    "Bounds",
    "Costing",
    "CutPlan",
    "HandPlace",
    "Lane",
    "Layout",
    "Leftover",
    "Longer",
    "NewRoll",
    "Pattern",
    "PatternPlaced",
    "PatternPlan",
    "PatternRules",
    "PatternStrip",
    "Placed",
    "Score",
    "Section",
    "Short",
    "Tried",
    "Turn",
    "TurnOption",
    "Unplaced",
    "all_fit",
    "box_of",
    "by_id",
    "check_layout",
    "check_patterns",
    "cuttable",
    "film_bounds",
    "inner_of",
    "layout_of",
    "least_reduction",
    "lot_of",
    "moved",
    "packed",
    "plan_by_lot",
    "plan_cuts",
    "plan_patterns",
    "plan_patterns_with_hand",
    "plan_with_hand",
    "rotation",
    "score",
    "settle",
    "settle_patterns",
    "split_pairs",
    "standing_places",
    "try_pattern",
    "try_place",
    "what_is_short",
]

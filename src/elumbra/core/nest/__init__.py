"""Placing blanks on rolls and offcuts: least cost, verified, with bounds and comparisons."""

from elumbra.core.nest.bounds import Bounds, film_bounds
from elumbra.core.nest.check import check_layout, cuttable
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
    score,
)
from elumbra.core.nest.lots import lot_of, plan_by_lot, split_pairs
from elumbra.core.nest.pattern import (
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRest,
    PatternRules,
    PatternStrip,
    check_patterns,
    plan_patterns,
    rotation,
)
from elumbra.core.nest.search import Baseline, CutPlan, plan_cuts

__all__ = [
    "Baseline",
    "Blank",
    "Bounds",
    "Costing",
    "CutPlan",
    "Lane",
    "Layout",
    "Leftover",
    "Pattern",
    "PatternPlaced",
    "PatternPlan",
    "PatternRest",
    "PatternRules",
    "PatternStrip",
    "Placed",
    "Score",
    "Section",
    "Turn",
    "TurnOption",
    "Unplaced",
    "by_id",
    "check_layout",
    "check_patterns",
    "cuttable",
    "film_bounds",
    "lot_of",
    "plan_by_lot",
    "plan_cuts",
    "plan_patterns",
    "rotation",
    "score",
    "split_pairs",
]

"""State tint law: records, and what they say of one pane."""

from elumbra.core.law.evaluate import PaneFacts, Verdict, VerdictWord, judge, worst
from elumbra.core.law.records import (
    Jurisdiction,
    LawBook,
    LinkedRule,
    VehicleClass,
    parse_law_book,
)

__all__ = [
    "Jurisdiction",
    "LawBook",
    "LinkedRule",
    "PaneFacts",
    "VehicleClass",
    "Verdict",
    "VerdictWord",
    "judge",
    "parse_law_book",
    "worst",
]

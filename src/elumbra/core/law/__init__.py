"""State tint law: records and clauses, and what they say of a pane on its car."""

from elumbra.core.law.book import (
    LAW_FORMAT,
    LAW_FORMAT_VERSION,
    WORKS_INSIDE,
    FieldWord,
    LawBook,
    LawFile,
    check_word,
    field_paths,
    field_value,
    odd_limit,
    parse_law_file,
)
from elumbra.core.law.clauses import Clause, PaneRules, clauses_for, dispute_words, rules_for
from elumbra.core.law.conditions import HELP, Condition, StripRule, Word, parse_condition, words_in
from elumbra.core.law.exemption import ExemptionRule, Grants, Means
from elumbra.core.law.facts import Asks, CarFacts, PaneFacts, Question, RegisteredAs, VehicleClass
from elumbra.core.law.finding import Finding, LightTest, State
from elumbra.core.law.floors import Floor, FloorKind
from elumbra.core.law.records import Dispute, FieldSource, Jurisdiction, LawReading, ReflectanceKind, Role
from elumbra.core.law.strips import Reach, allowed_reach, strip_words
from elumbra.core.law.verdict import ClauseResult, Verdict, VerdictWord, judge, judge_car, worst

__all__ = [
    "HELP",
    "LAW_FORMAT",
    "LAW_FORMAT_VERSION",
    "WORKS_INSIDE",
    "Asks",
    "CarFacts",
    "Clause",
    "ClauseResult",
    "Condition",
    "Dispute",
    "ExemptionRule",
    "FieldSource",
    "FieldWord",
    "Finding",
    "Floor",
    "FloorKind",
    "Grants",
    "Jurisdiction",
    "LawBook",
    "LawFile",
    "LawReading",
    "LightTest",
    "Means",
    "PaneFacts",
    "PaneRules",
    "Question",
    "Reach",
    "ReflectanceKind",
    "RegisteredAs",
    "Role",
    "State",
    "StripRule",
    "VehicleClass",
    "Verdict",
    "VerdictWord",
    "Word",
    "allowed_reach",
    "check_word",
    "clauses_for",
    "dispute_words",
    "field_paths",
    "field_value",
    "judge",
    "judge_car",
    "odd_limit",
    "parse_condition",
    "parse_law_file",
    "rules_for",
    "strip_words",
    "words_in",
    "worst",
]

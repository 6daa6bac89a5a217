"""State tint law: records and clauses, and what they say of a pane on its car."""

from elumbra.core.law.book import (
    LAW_FORMAT,
    LAW_FORMAT_VERSION,
    FieldWord,
    LawBook,
    LawFile,
    check_word,
    field_paths,
    field_value,
    parse_law_file,
)
from elumbra.core.law.clauses import Clause, PaneRules, clauses_for, rules_for
from elumbra.core.law.conditions import HELP, Condition, StripRule, Word, parse_condition, words_in
from elumbra.core.law.facts import Asks, CarFacts, PaneFacts, Question, RegisteredAs, VehicleClass
from elumbra.core.law.finding import Finding, LightTest, State
from elumbra.core.law.records import FieldSource, Floor, FloorKind, Jurisdiction, ReflectanceKind, Role
from elumbra.core.law.strips import Reach, allowed_reach, strip_words
from elumbra.core.law.verdict import ClauseResult, Verdict, VerdictWord, judge, judge_car, worst

__all__ = [
    "HELP",
    "LAW_FORMAT",
    "LAW_FORMAT_VERSION",
    "Asks",
    "CarFacts",
    "Clause",
    "ClauseResult",
    "Condition",
    "FieldSource",
    "FieldWord",
    "Finding",
    "Floor",
    "FloorKind",
    "Jurisdiction",
    "LawBook",
    "LawFile",
    "LightTest",
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
    "field_paths",
    "field_value",
    "judge",
    "judge_car",
    "parse_condition",
    "parse_law_file",
    "rules_for",
    "strip_words",
    "words_in",
    "worst",
]

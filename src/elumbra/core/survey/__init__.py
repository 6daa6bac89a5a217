"""Findings of the survey: what is seen on a car, and what each changes later."""

from elumbra.core.survey.findings import (
    Answer,
    Answers,
    Consequence,
    Field,
    Finding,
    FindingError,
    Follows,
    Group,
    ReadBy,
    check_answers,
    length_of,
)
from elumbra.core.survey.table import (
    CAR_FINDINGS,
    WINDOW_FINDINGS,
    asked_findings,
    car_follows,
    lasting_answers,
    window_follows,
)

__all__ = [
    "CAR_FINDINGS",
    "WINDOW_FINDINGS",
    "Answer",
    "Answers",
    "Consequence",
    "Field",
    "Finding",
    "FindingError",
    "Follows",
    "Group",
    "ReadBy",
    "asked_findings",
    "car_follows",
    "check_answers",
    "lasting_answers",
    "length_of",
    "window_follows",
]

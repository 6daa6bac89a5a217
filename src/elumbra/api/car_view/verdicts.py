"""Verdicts as every screen shows them."""

from __future__ import annotations

from pydantic import BaseModel

from elumbra.core.glass import Position
from elumbra.core.law import Asks, Question, State, Verdict, VerdictWord


class QuestionOut(BaseModel):
    """A missing fact that could change the answer, and where it is answered."""

    asks: Asks
    text: str
    window_id: str
    position: Position | None
    law_field: str
    film_id: str
    fact: str  # which of the vehicle's facts


class ClauseOut(BaseModel):
    """One clause of the law: its rule, what was found, and where it stands."""

    id: str
    state: State
    close: bool
    sentence: str
    found: str
    citation: str
    unconfirmed: list[str]


class VerdictOut(BaseModel):
    """One state's answer."""

    word: VerdictWord
    state: str
    state_name: str
    sentence: str
    citation: str
    vlt_percent: float | None
    limit_percent: float | None
    margin_points: float | None
    risk: float | None
    questions: list[QuestionOut]
    clauses: list[ClauseOut]
    tolerance_points: float | None  # granted by the law
    works_inside: bool  # the shop cuts film that is within it
    unconfirmed: list[str]
    deciding: list[str]  # those of them that the answer hangs on


def percent_of(share: float | None) -> float | None:
    """A fraction as percent."""
    return None if share is None else 100 * share


def question_out(question: Question) -> QuestionOut:
    """A question as the screens show it."""
    return QuestionOut(
        asks=question.asks,
        text=question.text,
        window_id=question.window_id,
        position=question.position,
        law_field=question.law_field,
        film_id=question.film_id,
        fact=question.fact,
    )


def verdict_out(verdict: Verdict) -> VerdictOut:
    """A verdict as the screens show it."""
    return VerdictOut(
        word=verdict.word,
        state=verdict.jurisdiction,
        state_name=verdict.law.name,
        sentence=verdict.sentence,
        citation=verdict.citation,
        vlt_percent=percent_of(verdict.vlt),
        limit_percent=percent_of(verdict.limit),
        margin_points=verdict.margin_points,
        risk=verdict.risk,
        questions=[question_out(question) for question in verdict.questions],
        clauses=[
            ClauseOut(
                id=c.id, state=c.state, close=c.close, sentence=c.sentence, found=c.found, citation=c.citation,
                unconfirmed=list(c.unconfirmed),
            )
            for c in verdict.clauses
        ],
        tolerance_points=verdict.tolerance_points,
        works_inside=verdict.works_inside,
        unconfirmed=list(verdict.unconfirmed),
        deciding=list(verdict.deciding),
    )  # fmt: skip

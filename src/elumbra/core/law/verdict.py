"""What a jurisdiction's record says of one pane with one film (heart, section 4).

The verdict is words first. Every clause is kept, broken or cannot be told, with its sentence
and citation. A missing fact that could change the answer makes it *Cannot tell*, with the
question; film under its limit that the law's own tolerance for the meter covers is *Within
tolerance*, never *Clears*; what the record does not cover is *No rule on file*.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum
from typing import NamedTuple

from elumbra.core.glass import Position
from elumbra.core.law.case import Case
from elumbra.core.law.clauses import Clause, PaneRules, rules_for
from elumbra.core.law.evaluate import find
from elumbra.core.law.facts import CarFacts, PaneFacts, Question
from elumbra.core.law.finding import Finding, LightTest, State, of_all
from elumbra.core.law.records import Jurisdiction
from elumbra.core.starting import StartingValues


class VerdictWord(StrEnum):
    """The seven answers, worst first; the last two release the knife by themselves."""

    NOT_ALLOWED = "Not allowed"  # no film here, colour, mirror: no lighter film mends it
    TOO_DARK = "Too dark"  # the mean is under the limit
    CANNOT_TELL = "Cannot tell"  # a fact is missing
    NO_RULE = "No rule on file"
    WITHIN_TOLERANCE = "Within tolerance"  # under the limit by no more than the law grants the meter
    CLOSE = "Close"  # over the limit, yet a meter may well read under it
    CLEARS = "Clears"

    @property
    def unlawful(self) -> bool:
        """Whether the figures or the rules say no: only a lead's reason lets such film go on."""
        return self in (VerdictWord.NOT_ALLOWED, VerdictWord.TOO_DARK)


@dataclass(frozen=True, slots=True)
class ClauseResult:
    """One clause's outcome for the pane."""

    id: str
    state: State
    close: bool
    sentence: str  # the rule
    found: str  # what was found
    citation: str
    unconfirmed: tuple[str, ...]


class Verdict(NamedTuple):
    """One jurisdiction's answer for one pane; its sentences are put into words when asked for."""

    word: VerdictWord
    law: Jurisdiction
    whole: Finding
    rules: PaneRules | None = None  # None for roof glass, of which no record speaks
    found: tuple[Finding, ...] = ()
    position: Position | None = None
    passes: float | None = None  # glass and film together, 0 to 1, whatever the record judges

    @property
    def jurisdiction(self) -> str:
        """The jurisdiction's code."""
        return self.law.code

    @property
    def light(self) -> LightTest | None:
        """Figure judged, limit, chance of a reading under it; none where no film is allowed at all, however light."""
        if self.rules is None:
            return self.whole.light
        floor = self.found[self.rules.floor_at]
        if floor.barred and floor.light is None:
            return None
        return self.whole.light or floor.light

    @property
    def vlt(self) -> float | None:
        """The figure judged, 0 to 1."""
        return self.light.vlt if self.light else None

    @property
    def limit(self) -> float | None:
        """Least VLT, 0 to 1."""
        return self.light.limit if self.light else None

    @property
    def margin_points(self) -> float | None:
        """How far over the limit, in points."""
        return 100 * self.light.margin if self.light else None

    @property
    def risk(self) -> float | None:
        """Chance that an officer reads below the limit."""
        return self.light.risk if self.light else None

    @property
    def questions(self) -> tuple[Question, ...]:
        """Missing facts that could change the answer."""
        return self.whole.questions

    @property
    def unconfirmed(self) -> tuple[str, ...]:
        """Fields it rests on that nobody has confirmed."""
        tolerance = ("tolerance_points",) if self.whole.within and "tolerance_points" in self.law.unconfirmed else ()
        return (*(self.rules.unconfirmed if self.rules else ()), *tolerance)

    @property
    def deciding(self) -> tuple[str, ...]:
        """Those of the unconfirmed fields that the answer hangs on: of the clauses that gave it."""
        rules = self.rules.clauses if self.rules else ()
        used = {"statute"} if not rules else set()
        for clause, one in zip(rules, self.found, strict=True):
            if one.state is self.whole.state and (self.whole.state is not State.KEPT or one.light or one.close):
                used.update(clause.rests_on)
        if self.whole.within:
            used.add("tolerance_points")
        return tuple(sorted(self.law.unconfirmed & used))

    @property
    def tolerance_points(self) -> float | None:
        """Points that the law grants the meter."""
        return self.law.tolerance_points if self.light else None

    @property
    def works_inside(self) -> bool:
        """Whether the shop cuts film that is within this state's tolerance."""
        return self.law.works_inside_tolerance

    @property
    def clauses(self) -> tuple[ClauseResult, ...]:
        """Every clause with its outcome."""
        rules = self.rules.clauses if self.rules else ()
        return tuple(_result(clause, one, self.law) for clause, one in zip(rules, self.found, strict=True))

    @property
    def sentence(self) -> str:
        """The decisive sentence, the figure before what is still open."""
        whole = self.whole
        if self.rules is None:
            return whole.words
        first = self.found[self.rules.scoped]
        if whole.state is State.CANNOT_TELL and whole.questions:
            told = (first.words if first.state is State.KEPT else "") or whole.about_light() or whole.words
            return f"{told} Still open: {whole.questions[0].text}"
        if whole.state is State.NO_RULE and first.light and first.state is State.KEPT:
            return f"{first.words} {whole.words}"
        if whole.state is State.KEPT:
            return (whole.words if whole.light else first.words) or whole.words
        return whole.brief

    @property
    def citation(self) -> str:
        """The section behind the answer: of the clauses that decided it."""
        rules = self.rules.clauses if self.rules else ()
        kept = self.whole.state is State.KEPT
        decided = [
            clause.citation
            for clause, one in zip(rules, self.found, strict=True)
            if one.state is self.whole.state and (not kept or clause.id == "floor" or one.within or one.close)
        ]
        return "; ".join(dict.fromkeys(decided)) or self.law.statute


def judge(law: Jurisdiction, pane: PaneFacts, car: CarFacts, *, starting: StartingValues) -> Verdict:
    """A jurisdiction's answer for one pane.

    Parameters
    ----------
    law
        The record in force.
    pane
        The pane as planned; it should be one of ``car.panes``, or other panes' rules miss it.
    car
        The vehicle with all its panes.
    starting
        Spreads and the share of risk that still clears.
    """
    if pane.position is Position.ROOF:
        nothing = Finding(State.NO_RULE, f"{law.name}: no rule on file for roof glass.")
        return Verdict(VerdictWord.NO_RULE, law, nothing)
    case = Case(law, pane, car, starting, pane.film)
    rules = rules_for(law, car.vehicle_class, pane.position, pane.is_strip)
    found = tuple([find(clause.condition, case) for clause in rules.clauses])
    outside = [one for one in found[: rules.scoped] if one.state is not State.KEPT] if rules.scoped else ()
    whole = of_all(outside or found)
    return Verdict(_word(whole), law, whole, rules, found, pane.position, pane.combined.vlt if pane.combined else None)


def judge_car(law: Jurisdiction, car: CarFacts, *, starting: StartingValues) -> dict[str, Verdict]:
    """A jurisdiction's answer for every pane with film, by pane id.

    Panes with the same facts are judged once, unless their glass is not known (the question
    names the pane) or their rules look at other windows (the sentence names those).
    """
    verdicts: dict[str, Verdict] = {}
    for pane, first in zip(car.panes, car.first_alike, strict=True):
        if pane.film is None:
            continue
        shared = verdicts.get(first.id) if pane is not first and pane.combined is not None else None
        if shared is None or shared.rules is None or shared.rules.looks_around:
            shared = judge(law, pane, car, starting=starting)
        verdicts[pane.id] = shared
    return verdicts


def worst(verdicts: Iterable[Verdict]) -> Verdict | None:
    """The answer that binds: the worst word, of the same words the least margin; None of none."""
    return min(verdicts, key=_binding, default=None)


def _binding(verdict: Verdict) -> tuple[int, float]:
    return _ORDER[verdict.word], verdict.light.margin if verdict.light else 1.0


_ORDER = {word: i for i, word in enumerate(VerdictWord)}


def _result(clause: Clause, one: Finding, law: Jurisdiction) -> ClauseResult:
    doubtful = tuple(sorted(law.unconfirmed.intersection(clause.rests_on)))
    return ClauseResult(clause.id, one.state, one.close, clause.sentence, one.words, clause.citation, doubtful)


def _word(whole: Finding) -> VerdictWord:
    match whole.state:
        case State.BROKEN:
            return VerdictWord.NOT_ALLOWED if whole.barred else VerdictWord.TOO_DARK
        case State.CANNOT_TELL:
            return VerdictWord.CANNOT_TELL
        case State.NO_RULE:
            return VerdictWord.NO_RULE
        case _ if whole.within:
            return VerdictWord.WITHIN_TOLERANCE
        case _:
            return VerdictWord.CLOSE if whole.close else VerdictWord.CLEARS

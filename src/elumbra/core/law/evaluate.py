"""What a state's record says of one pane with one film (heart, section 4).

The verdict is words first. A fact that is missing and could change the answer makes it
*Cannot tell*, with the question; a tolerance that the law grants is shown beside and never
turns *Too dark* into *Clears*; what the record does not cover is *No rule on file*.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from enum import StrEnum

from elumbra.core.film import Film
from elumbra.core.glass import Position
from elumbra.core.law.records import (
    Effect,
    Floor,
    FloorKind,
    Jurisdiction,
    LinkedRule,
    StripRule,
    VehicleClass,
)
from elumbra.core.light import Combined, probability_reads_below
from elumbra.core.starting import StartingValues
from elumbra.core.units import format_inches, inches

_SAME_MM = 0.5  # a strip within half a millimetre of its limit reaches just to it


class VerdictWord(StrEnum):
    """The six answers, worst first."""

    NOT_ALLOWED = "Not allowed"
    TOO_DARK = "Too dark"
    CANNOT_TELL = "Cannot tell"
    CLOSE = "Close"
    NO_RULE = "No rule on file"
    CLEARS = "Clears"


@dataclass(frozen=True)
class PaneFacts:
    """What is known of the pane, its film and its vehicle; None where nobody said."""

    vehicle_class: VehicleClass
    position: Position
    film: Film
    combined: Combined | None  # None while the bare glass is unknown
    is_strip: bool = False
    strip_depth: float | None = None  # mm from the top of the glass
    as1_depth: float | None = None  # mm from the top of the glass
    mirrors_both_sides: bool | None = None
    model_year: int | None = None


@dataclass(frozen=True)
class Verdict:
    """One jurisdiction's answer for one pane."""

    word: VerdictWord
    jurisdiction: str  # code
    sentence: str
    citation: str
    vlt: float | None = None  # figure judged, 0 to 1
    limit: float | None = None  # least VLT, 0 to 1
    margin_points: float | None = None
    risk: float | None = None  # chance that an officer reads below the limit
    questions: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    unconfirmed: tuple[str, ...] = ()


@dataclass
class _Case:
    """One pane under one record, with what the record's fields were used for."""

    law: Jurisdiction
    facts: PaneFacts
    starting: StartingValues
    used: list[str] = field(default_factory=list)
    notes: list[str] = field(default_factory=list)

    def verdict(
        self,
        word: VerdictWord,
        sentence: str,
        *,
        vlt: float | None = None,
        limit: float | None = None,
        margin_points: float | None = None,
        risk: float | None = None,
        questions: tuple[str, ...] = (),
    ) -> Verdict:
        doubtful = tuple(sorted(self.law.unconfirmed.intersection([*self.used, "statute"])))
        return Verdict(
            word,
            self.law.code,
            sentence,
            self.law.statute,
            vlt,
            limit,
            margin_points,
            risk,
            questions,
            tuple(self.notes),
            doubtful,
        )


def judge(law: Jurisdiction, facts: PaneFacts, *, starting: StartingValues) -> Verdict:
    """A state's answer for one pane.

    Parameters
    ----------
    law
        The state's record.
    facts
        Pane, film, vehicle.
    starting
        Spreads and the share of risk that still clears.
    """
    case = _Case(law, facts, starting)
    if facts.position is Position.ROOF:
        return case.verdict(VerdictWord.NO_RULE, f"{law.name}: no rule on file for roof glass.")
    answer = _by_film(case) or _by_light(case)
    if answer.word in (VerdictWord.NOT_ALLOWED, VerdictWord.NO_RULE):
        return _with_linked(case, answer)
    return _with_linked(case, _with_missing_facts(case, answer))


def worst(verdicts: Iterable[Verdict]) -> Verdict | None:
    """The worst of several answers; None of none."""
    order = list(VerdictWord)
    return min(verdicts, key=lambda verdict: order.index(verdict.word), default=None)


def _by_film(case: _Case) -> Verdict | None:
    """Colour and mirror bans, which no darkness mends."""
    law, film = case.law, case.facts.film
    case.used.append("banned_colours")
    if film.colour in law.banned_colours:
        return case.verdict(VerdictWord.NOT_ALLOWED, f"{law.name} bans {film.colour} film.")
    rule = law.reflectance.get(case.facts.position)
    if rule is None:
        return None
    case.used.append(f"reflectance.{case.facts.position.value}")
    if rule.kind == "unknown":
        case.notes.append("Reflectance: no rule on file.")
    mirror_banned = rule.kind in ("non_mirror", "numeric")
    if mirror_banned and film.mirror_finish:
        return case.verdict(VerdictWord.NOT_ALLOWED, f"{law.name} allows no mirror finish.")
    if rule.most is not None and film.reflectance is not None and film.reflectance > rule.most:
        return case.verdict(
            VerdictWord.NOT_ALLOWED,
            f"Reflects {_pct(film.reflectance)}; {law.name} allows at most {_pct(rule.most)}.",
        )
    return None


def _by_light(case: _Case) -> Verdict:
    facts, law = case.facts, case.law
    if facts.position is Position.WINDSHIELD:
        rule = law.windshield[facts.vehicle_class]
        path = f"{facts.vehicle_class.value}.windshield"
        if facts.is_strip:
            case.used += [f"{path}.strip", f"{path}.strip_inches", f"{path}.strip_vlt"]
            return _strip(case)
        case.used.append(f"{path}.below_strip")
        return _floor(case, rule.below_strip, "on the windshield below the strip")
    case.used += [f"{facts.vehicle_class.value}.{facts.position.value}", "basis"]
    where = facts.position.value.replace("_", " ")
    return _floor(case, law.floors[facts.vehicle_class, facts.position], f"at the {where}")


def _floor(case: _Case, floor: Floor, where: str) -> Verdict:
    law, facts = case.law, case.facts
    if floor.kind is FloorKind.NONE_ALLOWED:
        return case.verdict(VerdictWord.NOT_ALLOWED, f"{law.name} allows no film {where}.")
    if floor.kind is FloorKind.UNKNOWN or (floor.kind is FloorKind.FLOOR and floor.value is None):
        return case.verdict(VerdictWord.NO_RULE, f"{law.name}: no rule on file {where}.")
    vlt = facts.film.vlt if law.basis == "film" else (facts.combined.vlt if facts.combined else None)
    if floor.kind is FloorKind.NO_FLOOR:
        return case.verdict(VerdictWord.CLEARS, f"{law.name} sets no least light {where}.", vlt=vlt)
    limit = floor.value
    assert limit is not None
    if law.tolerance_points is not None:
        case.used.append("tolerance_points")
        case.notes.append(
            f"The law grants {law.tolerance_points:g} points of meter tolerance; shown beside, not used to pass."
        )
    if vlt is None or facts.combined is None:
        return case.verdict(
            VerdictWord.CANNOT_TELL,
            f"{law.name} asks for {_pct(limit)} {where}; the bare glass has not been metered.",
            limit=limit,
            questions=("What does the bare glass pass?",),
        )
    return _compare(case, limit, vlt, facts.combined, where)


def _compare(case: _Case, limit: float, vlt: float, combined: Combined, where: str) -> Verdict:
    judged = combined if combined.vlt == vlt else replace(combined, vlt=vlt)
    risk = probability_reads_below(judged, limit, starting=case.starting)
    margin = 100 * (vlt - limit)
    law = case.law
    if vlt < limit:
        word = VerdictWord.TOO_DARK
        sentence = f"{_pct(vlt)} is {-margin:.1f} points under {law.name}'s {_pct(limit)} {where}."
    elif risk > case.starting["clears_risk"]:
        word = VerdictWord.CLOSE
        sentence = (
            f"{_pct(vlt)} is {margin:.1f} points over {law.name}'s {_pct(limit)} {where}, "
            f"yet a meter may read under it: {_chance(risk)}."
        )
    else:
        word = VerdictWord.CLEARS
        sentence = f"{_pct(vlt)} is {margin:.1f} points over {law.name}'s {_pct(limit)} {where}."
    return case.verdict(word, sentence, vlt=vlt, limit=limit, margin_points=margin, risk=risk)


def _strip(case: _Case) -> Verdict:
    law, facts = case.law, case.facts
    rule = law.windshield[facts.vehicle_class]
    if rule.strip is StripRule.NONE:
        return case.verdict(VerdictWord.NOT_ALLOWED, f"{law.name} allows no strip on the windshield.")
    if rule.strip is StripRule.OTHER:
        return case.verdict(
            VerdictWord.CANNOT_TELL,
            f"{law.name} measures the strip in another way. {law.notes}",
            questions=("Where does the law let the strip end on this car?",),
        )
    if facts.strip_depth is None:
        return case.verdict(
            VerdictWord.CANNOT_TELL, "The strip's depth has not been read.", questions=("How deep is the strip?",)
        )
    within = _strip_within(facts, rule.strip, rule.strip_inches)
    allowed = _strip_words(rule.strip, rule.strip_inches)
    depth = f"{format_inches(facts.strip_depth)} in"
    if within is None:
        question = (
            "Where is the AS-1 line on this windshield?"
            if facts.as1_depth is None
            else "Which governs here, the AS-1 line or the inches?"
        )
        return case.verdict(
            VerdictWord.CANNOT_TELL, f"{law.name} allows a strip down to {allowed}.", questions=(question,)
        )
    if not within:
        return case.verdict(VerdictWord.NOT_ALLOWED, f"{depth} deep; {law.name} allows a strip down to {allowed}.")
    if rule.strip_vlt.kind is FloorKind.FLOOR:
        return _floor(case, rule.strip_vlt, "in the windshield strip")
    return case.verdict(VerdictWord.CLEARS, f"{depth} deep; {law.name} allows a strip down to {allowed}.")


def _strip_within(facts: PaneFacts, rule: StripRule, limit_in: float | None) -> bool | None:
    """Whether the strip ends where it may: None where a fact or the record leaves it open."""
    assert facts.strip_depth is not None
    by_inches = None if limit_in is None else facts.strip_depth <= inches(limit_in) + _SAME_MM
    by_as1 = None if facts.as1_depth is None else facts.strip_depth <= facts.as1_depth + _SAME_MM
    if rule is StripRule.INCHES:
        return by_inches
    if rule is StripRule.AS1:
        return by_as1
    return by_inches if by_inches == by_as1 else None


def _strip_words(rule: StripRule, limit_in: float | None) -> str:
    by_inches = f"{limit_in:g} in" if limit_in is not None else "a depth not on file"
    if rule is StripRule.INCHES:
        return by_inches
    return "the AS-1 line" if rule is StripRule.AS1 else f"the AS-1 line or {by_inches}"


def _with_missing_facts(case: _Case, answer: Verdict) -> Verdict:
    """Facts outside the light that a passing answer still needs."""
    facts, law = case.facts, case.law
    if answer.word is VerdictWord.TOO_DARK:
        return answer
    questions = list(answer.questions)
    rule = law.reflectance.get(facts.position)
    if rule and rule.most is not None and facts.film.reflectance is None:
        questions.append(f"How much does {facts.film.name} reflect? At most {_pct(rule.most)} is allowed.")
    if law.mirrors_if_rear_tinted and facts.position is Position.REAR_WINDOW:
        case.used.append("mirrors_required_if_rear_tinted")
        if facts.mirrors_both_sides is None:
            questions.append("Are there outside mirrors on both sides?")
        elif not facts.mirrors_both_sides:
            return case.verdict(
                VerdictWord.NOT_ALLOWED, f"{law.name} asks for outside mirrors on both sides when the rear is tinted."
            )
    if questions and answer.word is not VerdictWord.CANNOT_TELL:
        sentence = f"{answer.sentence} Still open: {questions[0]}"
        return replace(answer, word=VerdictWord.CANNOT_TELL, sentence=sentence, questions=tuple(questions))
    return replace(answer, questions=tuple(questions)) if len(questions) > len(answer.questions) else answer


def _with_linked(case: _Case, answer: Verdict) -> Verdict:
    """Linked rules: a fact nobody gave, that could change this answer, leaves it open."""
    if not case.law.linked:
        return answer
    passing = answer.word in (VerdictWord.CLEARS, VerdictWord.CLOSE)
    changes = {Effect.EITHER, Effect.TIGHTENS if passing else Effect.RELAXES}
    open_rules = [rule for rule in case.law.linked if _applies(rule, case.facts) and rule.effect in changes]
    if not open_rules or answer.word is VerdictWord.NO_RULE or _banned_for_good(answer, case):
        return answer
    questions = (*answer.questions, *(rule.question for rule in open_rules))
    sentence = f"{answer.sentence} But: {' '.join(rule.sentence for rule in open_rules)}"
    return replace(answer, word=VerdictWord.CANNOT_TELL, sentence=sentence, questions=questions)


def _banned_for_good(answer: Verdict, case: _Case) -> bool:
    """A colour or mirror ban stands whatever a linked rule says of light."""
    return answer.word is VerdictWord.NOT_ALLOWED and _by_film(case) is not None


def _applies(rule: LinkedRule, facts: PaneFacts) -> bool:
    if facts.vehicle_class not in rule.classes or facts.position not in rule.positions or facts.is_strip:
        return False
    if rule.model_year_from is not None and facts.model_year is not None:
        return facts.model_year < rule.model_year_from
    return not (rule.mirrors_settle and facts.mirrors_both_sides is True)


def _pct(share: float) -> str:
    return f"{share * 100:.1f}".rstrip("0").rstrip(".") + " %"


def _chance(risk: float) -> str:
    return f"{risk * 100:.0f} chances in 100" if risk >= 0.01 else "under 1 chance in 100"

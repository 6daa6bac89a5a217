"""How deep a strip at the top may reach, and how deep this one does."""

from __future__ import annotations

from dataclasses import dataclass

from elumbra.core.law.conditions import Condition, StripRule
from elumbra.core.law.facts import Asks, PaneFacts, Question
from elumbra.core.law.finding import Finding, State
from elumbra.core.units import format_inches, inches

_SAME_MM = 0.5  # a strip within half a millimetre of its limit reaches just to it
_NO_LINE = "this glass bears no AS-1 line"


@dataclass(frozen=True)
class Reach:
    """How deep a strip may reach; ``depth`` [mm] is None where that is not known yet."""

    depth: float | None
    words: str
    question: Question | None = None
    none_allowed: bool = False


def allowed_reach(rule: StripRule, limit_in: float | None, pane: PaneFacts) -> Reach:
    """The deepest that a strip may reach on this glass under a rule by AS-1 line and inches."""
    words = strip_words(rule, limit_in)
    limit = None if limit_in is None else inches(limit_in)
    line, bears_none = pane.as1_depth, pane.as1_mark is False
    ask = Question(Asks.AS1_DEPTH, "Where is the AS-1 line on this windshield?", pane.id)
    match rule:
        case StripRule.NONE:
            return Reach(None, words, none_allowed=True)
        case StripRule.INCHES:
            return Reach(limit, words)
        case StripRule.AS1:
            return Reach(None, f"{words}, and {_NO_LINE}") if bears_none else _by_line(line, words, ask)
        case StripRule.AS1_ELSE_INCHES:
            return Reach(limit, words) if bears_none else _by_line(line, words, ask)
        case StripRule.LONGER | StripRule.SHORTER:
            if bears_none:
                return Reach(limit, words)
            if line is None or limit is None:
                return Reach(None, words, ask)
            return Reach(max(line, limit) if rule is StripRule.LONGER else min(line, limit), words)
        case StripRule.AS1_OR_INCHES:
            if bears_none:
                return Reach(limit, words)
            if line is None or limit is None:
                return Reach(None, words, ask)
            return Reach(min(line, limit), f"{words}; the shorter is safe, for which governs is not on file")
        case _:
            return Reach(None, words)


def _by_line(line: float | None, words: str, ask: Question) -> Reach:
    return Reach(line, words, None if line is not None else ask)


def strip_words(rule: StripRule, limit_in: float | None) -> str:
    """A strip rule in words.

    Examples
    --------
    >>> strip_words(StripRule.LONGER, 5)
    'the AS-1 line or 5 in, whichever is longer'
    """
    by_inches = f"{limit_in:g} in" if limit_in is not None else "a depth not on file"
    return {
        StripRule.INCHES: by_inches,
        StripRule.AS1: "the AS-1 line",
        StripRule.LONGER: f"the AS-1 line or {by_inches}, whichever is longer",
        StripRule.SHORTER: f"the AS-1 line or {by_inches}, whichever is shorter",
        StripRule.AS1_ELSE_INCHES: f"the AS-1 line, or {by_inches} where there is none",
        StripRule.AS1_OR_INCHES: f"the AS-1 line or {by_inches}",
        StripRule.SEAT_HEIGHT: f"{by_inches} above the driver's seat",
        StripRule.AS_BELOW: "the whole windshield, by the limit of the glass below",
        StripRule.NONE: "nothing at all",
        StripRule.UNKNOWN: "a depth not on file",
    }[rule]


def strip_depth(condition: Condition, pane: PaneFacts, state: str) -> Finding:
    """Whether a strip ends where it may."""
    rule, limit_in = condition.strip or StripRule.UNKNOWN, condition.inches
    if rule is StripRule.NONE:
        return Finding(State.BROKEN, f"{state} allows no strip on the windshield.", barred=True)
    if rule is StripRule.UNKNOWN:
        return Finding(State.NO_RULE, f"{state}: no rule on file about a strip.")
    if pane.strip_depth is None:
        question = Question(Asks.STRIP_DEPTH, "How deep is the strip?", pane.id)
        return Finding(State.CANNOT_TELL, "The strip's depth has not been read.", questions=(question,))
    words = f"{state} allows a strip down to {strip_words(rule, limit_in)}"
    deep = f"{format_inches(pane.strip_depth)} in deep"
    within = _within(rule, limit_in, pane)
    if within is True:
        return Finding(State.KEPT, f"{deep}; {words}.")
    if within is False:
        return Finding(State.BROKEN, f"{deep}; {words}.", barred=True)
    if pane.as1_mark is False:
        return Finding(State.NO_RULE, f"{words}, and {_NO_LINE}: no rule on file for that.")
    if pane.as1_depth is None:
        question = Question(Asks.AS1_DEPTH, "Where is the AS-1 line on this windshield?", pane.id)
    else:
        question = Question(
            Asks.LAW, "Which governs here, the AS-1 line or the inches?", law_field=condition.key
        )  # fmt: skip
    return Finding(State.CANNOT_TELL, f"{words}.", questions=(question,))


def _within(rule: StripRule, limit_in: float | None, pane: PaneFacts) -> bool | None:
    """Whether the strip ends where it may: None where a fact or the record leaves it open."""
    assert pane.strip_depth is not None
    depth = pane.strip_depth - _SAME_MM
    by_inches = None if limit_in is None else depth <= inches(limit_in)
    by_line = None if pane.as1_depth is None else depth <= pane.as1_depth
    if rule is StripRule.INCHES:
        return by_inches
    if pane.as1_mark is False:
        return None if rule is StripRule.AS1 else by_inches
    match rule:
        case StripRule.LONGER:
            return True if by_inches else by_line
        case StripRule.SHORTER:
            return False if by_inches is False else by_line
        case StripRule.AS1_OR_INCHES:
            return by_inches if by_inches == by_line else None
        case _:
            return by_line


def seat_height(condition: Condition, pane: PaneFacts, state: str) -> Finding:
    """Whether the strip's lower edge is far enough above the undepressed driver's seat."""
    least_in = condition.inches or 0.0
    if pane.strip_above_seat is None:
        question = Question(
            Asks.SEAT_HEIGHT,
            "How far above the driver's seat, cushion not pressed down, is the strip's lower edge?",
            pane.id,
        )
        return Finding(
            State.CANNOT_TELL, f"{state} measures the strip from the seat: {least_in:g} in above it at least.",
            questions=(question,),
        )  # fmt: skip
    words = f"The strip ends {format_inches(pane.strip_above_seat)} in above the seat; {state} asks {least_in:g} in"
    if pane.strip_above_seat + _SAME_MM >= inches(least_in):
        return Finding(State.KEPT, f"{words}.")
    return Finding(State.BROKEN, f"{words}.", barred=True)

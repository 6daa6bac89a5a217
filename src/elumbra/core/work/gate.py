"""The one gate before the knife: what of the law's answer holds a window, and what lets it go.

Clears and Close release by themselves; Within tolerance where the shop works inside it; No
rule on file by a lead's word that it was looked up. Too dark and Not allowed only by a reason
that the law itself knows: a statement that the car stays off the road, or a medical exemption,
which releases what the state's record says it covers. Cannot tell is answered, never overruled: a fact that is left out
must not release what the fact would hold.
"""

from __future__ import annotations

from collections.abc import Iterable

from elumbra.core.law import Question, State, Verdict, VerdictWord, worst
from elumbra.core.work.exemption import releases_by_itself, uncovered
from elumbra.core.work.reasons import Reason, ReasonKind


def is_held(verdict: Verdict, reason: Reason | None, film_id: str | None) -> bool:
    """Whether one state's answer keeps the film from the knife, a lead's reason considered."""
    if releases_by_itself(verdict):
        return False
    if verdict.whole.state is State.CANNOT_TELL:
        return True
    kind = reason.kind if reason is not None and reason.film_id == film_id else None
    if kind is ReasonKind.OFF_ROAD_OR_SHOW:
        return False
    if kind is ReasonKind.MEDICAL_EXEMPTION and reason is not None:
        return bool(uncovered(verdict, reason))
    inside = not verdict.whole.within or verdict.works_inside
    return not (kind is ReasonKind.RULE_LOOKED_UP and verdict.whole.state is State.NO_RULE and inside)


def goes_on_by_reason(verdict: Verdict, reason: Reason | None, film_id: str | None) -> bool:
    """Whether the film is cut only because a lead gave a reason."""
    return not releases_by_itself(verdict) and not is_held(verdict, reason, film_id)


def holding(verdicts: Iterable[Verdict], reason: Reason | None, film_id: str | None) -> Verdict | None:
    """The worst of the states' answers that keep the film from the knife; None when none does."""
    return worst(verdict for verdict in verdicts if is_held(verdict, reason, film_id))


def hold_words(verdict: Verdict, reason: Reason | None = None, film_id: str | None = None) -> str:
    """Why the law holds a window, and the mend; of an exemption that was given for it, what it does not cover."""
    told = f"{verdict.word.value} in {verdict.law.name}"
    exempt = reason is not None and reason.kind is ReasonKind.MEDICAL_EXEMPTION and reason.film_id == film_id
    if exempt and reason and verdict.word is not VerdictWord.CANNOT_TELL and (why := uncovered(verdict, reason)):
        return f"{told}. {why}"
    match verdict.word:
        case VerdictWord.CANNOT_TELL:
            question: Question | None = next(iter(verdict.questions), None)
            return f"{told}: {question.text if question else verdict.sentence}"
        case VerdictWord.NO_RULE:
            return f"{told}: {verdict.whole.words} Look it up; the lead then says where, at Shade."
        case VerdictWord.WITHIN_TOLERANCE:
            return (
                f"{told}, and this shop does not work inside the law's tolerance. "
                "Choose a lighter film at Shade, or change that for the state in the rule book."
            )
        case _:
            return f"{told}. Choose another film at Shade, or have the lead give a reason there."

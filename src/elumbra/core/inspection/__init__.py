"""Inspection: what is seen on a filmed pane, why it is likely there, what becomes of it, what papers may say.

Vocabulary
----------
flaw
    Something on a pane that a customer might see.
cause
    Why it is likely there, ranked by what the run of this very window recorded. Never a person.
standard
    What the shop lets stay: counts and sizes by zone, per window or per car.
fitted
    What was read on the finished pane: light by the meter, depth of a strip by the ruler.
"""

from elumbra.core.inspection.book import (
    SOURCES,
    Cause,
    Decision,
    Evidence,
    FlawBook,
    FlawKind,
    FlawTableError,
    Group,
    HuntSide,
    HuntStep,
    RemedyStep,
    Standard,
    StandardRule,
    Unit,
    Wetness,
    Zone,
    parse_flaw_book,
    parse_standard,
)
from elumbra.core.inspection.callback import Bears, Call, CallAdvice, Outcome, advise_call
from elumbra.core.inspection.cause import MOST_QUESTIONS, AskedFact, Causes, RankedCause, Said, Told, rank_causes
from elumbra.core.inspection.decide import Judged, Seen, judge_flaws, open_redos
from elumbra.core.inspection.evidence import RunRecord, evidence_of
from elumbra.core.inspection.fitted import Certified, Fitted, Wording, certify, may_be_labelled, verdicts_on_reading
from elumbra.core.inspection.place import Part, Place, place_of

__all__ = [
    "MOST_QUESTIONS",
    "SOURCES",
    "AskedFact",
    "Bears",
    "Call",
    "CallAdvice",
    "Cause",
    "Causes",
    "Certified",
    "Decision",
    "Evidence",
    "Fitted",
    "FlawBook",
    "FlawKind",
    "FlawTableError",
    "Group",
    "HuntSide",
    "HuntStep",
    "Judged",
    "Outcome",
    "Part",
    "Place",
    "RankedCause",
    "RemedyStep",
    "RunRecord",
    "Said",
    "Seen",
    "Standard",
    "StandardRule",
    "Told",
    "Unit",
    "Wetness",
    "Wording",
    "Zone",
    "advise_call",
    "certify",
    "evidence_of",
    "judge_flaws",
    "may_be_labelled",
    "open_redos",
    "parse_flaw_book",
    "parse_standard",
    "place_of",
    "rank_causes",
    "verdicts_on_reading",
]

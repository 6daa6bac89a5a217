"""A customer calls: whether what he sees is normal, can be touched up or must be redone, and whose cost it is.

The record of the job decides more than memory: days since it was fitted, what was accepted at hand-over, the
lot, the car. What is missing is named; a missing fact never makes an answer kinder.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import StrEnum

from elumbra.core.film import Film, Warranty
from elumbra.core.inspection.book import Decision, FlawBook, FlawKind, Group, Wetness
from elumbra.core.inspection.cause import AskedFact, Told
from elumbra.core.starting import StartingValues

_YEAR = 365.25


class Outcome(StrEnum):
    """What is done."""

    NORMAL = "normal"  # wait: it goes by itself
    TOUCH_UP = "touch_up"
    REDO = "redo"
    SHOW = "show"  # cannot be told from here: the car is looked at


class Bears(StrEnum):
    """Whose cost it is."""

    NOBODY = "nobody"  # nothing to pay: it is normal
    SHOP = "shop"  # our warranty on the work
    MAKER = "maker"  # the film's warranty
    OWNER = "owner"  # a paid job
    UNKNOWN = "unknown"  # a fact is missing


@dataclass(frozen=True)
class Call:
    """What is known when the telephone rings; days since the car was handed over, None where no day is on record."""

    kind: str
    days: int | None
    cure_days: int
    film: Film | None = None
    lot: str = ""
    car_on_record: bool = False  # plate or VIN
    accepted_by: str = ""  # at hand-over, of this flaw on this window
    answers: Mapping[str, Told] = field(default_factory=dict)


@dataclass(frozen=True)
class CallAdvice:
    """What to tell the customer."""

    outcome: Outcome
    bears: Bears
    reasons: tuple[str, ...]
    questions: tuple[AskedFact, ...]
    missing: tuple[str, ...]
    say: str


def advise_call(call: Call, book: FlawBook, *, starting: StartingValues) -> CallAdvice:
    """What to tell a customer who calls.

    Raises
    ------
    CoreError
        Nobody knows that kind of flaw.
    """
    flaw = book.flaw(call.kind)
    outcome, why = _outcome(flaw, call)
    bears, reasons, missing = _bears(flaw, call, outcome, starting)
    open_facts = [fact for fact in flaw.owner_facts if call.answers.get(fact, Told.UNKNOWN) is Told.UNKNOWN]
    asks = () if outcome is Outcome.NORMAL or call.accepted_by else tuple(open_facts)
    questions = tuple(AskedFact(fact, book.evidence[fact].ask) for fact in asks)
    told = tuple(one for one in (why, *reasons, flaw.note) if one)
    return CallAdvice(outcome, bears, told, questions, tuple(missing), _say(call, outcome, bears))


def _outcome(flaw: FlawKind, call: Call) -> tuple[Outcome, str]:
    if call.accepted_by:
        return Outcome.SHOW, f"{call.accepted_by} accepted it by name at hand-over."
    if flaw.owner:
        return Outcome.SHOW, "It cannot be undone: look at it together."
    if flaw.group is Group.DRYING:
        if call.days is None:
            return Outcome.SHOW, "Nobody knows how long it has dried: no day of hand-over is on record."
        if call.days <= call.cure_days:
            left = call.cure_days - call.days
            return Outcome.NORMAL, f"Day {call.days} of {call.cure_days}: it is still drying. Wait {max(1, left)} more."
    decision = flaw.decides[Wetness.SET]
    if decision is Decision.KEEP:
        return Outcome.TOUCH_UP, "It should have dried away by now: water or air is left."
    if decision is Decision.TOUCH_UP:
        return Outcome.TOUCH_UP, "It can be put right on the pane."
    return Outcome.REDO, "Nothing mends it once it has set."


def _bears(
    flaw: FlawKind, call: Call, outcome: Outcome, starting: StartingValues
) -> tuple[Bears, list[str], list[str]]:
    if outcome is Outcome.NORMAL:
        return Bears.NOBODY, [], []
    if call.accepted_by:
        return Bears.OWNER, ["It was accepted with the work."], []
    if call.days is None:
        return Bears.UNKNOWN, [], ["the day of hand-over"]
    if flaw.group is Group.FILM:
        return _makers(call)
    for fact in flaw.owner_facts:
        told = call.answers.get(fact, Told.UNKNOWN)
        if told is Told.YES:
            return Bears.OWNER, [_OWNERS[fact]], []
    if any(call.answers.get(fact, Told.UNKNOWN) is Told.UNKNOWN for fact in flaw.owner_facts):
        return Bears.UNKNOWN, ["Ask first: it may have come from use."], []
    days = int(starting["work_warranty_days"])
    if call.days <= days:
        return Bears.SHOP, [f"Day {call.days} of {days} that we stand by our work."], []
    return Bears.OWNER, [f"We stand by our work for {days} days; this is day {call.days}."], []


_OWNERS = {
    "lowered_early": "The window was lowered in the days it had to stay up.",
    "rubbed": "Something rubs there: that is use, not the work.",
    "cleaned_early": "It was cleaned before it had set, or with ammonia.",
}


def _makers(call: Call) -> tuple[Bears, list[str], list[str]]:
    missing = []
    if not call.lot:
        missing.append("the film’s lot")
    if not call.car_on_record:
        missing.append("the car’s plate or VIN")
    if call.film is None or call.film.warranty is Warranty.UNKNOWN:
        missing.append("the film’s warranty")
        return Bears.UNKNOWN, ["Without these a maker answers no claim."], missing
    if call.film.warranty is Warranty.NONE:
        return Bears.OWNER, ["Its maker gives no warranty on this film."], []
    if call.film.warranty is Warranty.YEARS:
        years = call.film.warranty_years
        if years is None:
            missing.append("how many years the film’s warranty runs")
        elif (call.days or 0) > years * _YEAR:
            return Bears.OWNER, [f"The maker’s {years:g} years are over."], []
    if missing:
        return Bears.UNKNOWN, ["Void unless lot and car are on record."], missing
    return Bears.MAKER, ["Its maker’s warranty covers fading and bubbling; lot and car are on record."], []


def _say(call: Call, outcome: Outcome, bears: Bears) -> str:
    if outcome is Outcome.NORMAL:
        return "This is normal while it dries. Leave it, keep the windows up."
    if outcome is Outcome.SHOW:
        return "Come by: we look at it together." if not call.accepted_by else "This was accepted at hand-over."
    what = "We touch it up" if outcome is Outcome.TOUCH_UP else "We cut and fit it again"
    cost = {
        Bears.SHOP: "at our cost",
        Bears.MAKER: "under the film’s warranty",
        Bears.OWNER: "as a paid job",
        Bears.UNKNOWN: "once we know whose cost it is",
        Bears.NOBODY: "",
    }[bears]
    return f"{what}, {cost}."

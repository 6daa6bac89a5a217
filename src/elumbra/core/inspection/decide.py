"""Keep, touch up or redo: each flaw of a car held against the shop's written standard."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import hypot

from elumbra.core.inspection.book import Decision, FlawBook, FlawKind, Standard, StandardRule, Unit, Wetness, Zone
from elumbra.core.starting import StartingValues


@dataclass(frozen=True)
class Seen:
    """A flaw that stands open on a pane; sizes and places in mm, None where nobody read the size."""

    id: str
    window_id: str
    kind: str
    zone: Zone
    state: Wetness
    size_mm: float | None = None
    count: int = 1
    x_mm: float = 0.0
    y_mm: float = 0.0
    tries: int = 0  # touch-ups that did not mend it


@dataclass(frozen=True)
class Judged:
    """What becomes of a flaw by the standard, and why."""

    decision: Decision
    because: str
    asks_owner: bool = False  # it stays only where the owner accepts it by name
    section: str = ""


def judge_flaws(
    book: FlawBook, flaws: Sequence[Seen], standard: Standard, *, starting: StartingValues
) -> dict[str, Judged]:
    """What becomes of each flaw.

    Parameters
    ----------
    book
        The flaw table.
    flaws
        All flaws of one car that stand open.
    standard
        What may stay.
    starting
        How often a touch-up is tried, how near two specks are a clump.

    Notes
    -----
    A size that nobody read is never small enough to stay: not knowing does not help.
    """
    clumped = _clumps(flaws, near=starting["look_clump_mm"])
    most_tries = int(starting["look_touch_ups"])
    return {one.id: _judge(book, one, flaws, standard, clumped, most_tries) for one in flaws}


def _judge(
    book: FlawBook, one: Seen, flaws: Sequence[Seen], standard: Standard, clumped: frozenset[str], most_tries: int
) -> Judged:
    flaw = book.flaw(one.kind)
    if flaw.owner:
        return Judged(Decision.KEEP, "It cannot be undone: the owner is shown it.", asks_owner=True, section="12")
    base = flaw.decides[one.state]
    if base is Decision.KEEP:
        return Judged(Decision.KEEP, "It dries away by itself; the customer is told.", section=flaw.section)
    rule = standard.rule(one.kind, one.zone)
    too_much = _too_much(one, flaws, rule, standard.unit, clumped)
    if rule.most and not too_much and flaw.owner_may_accept:
        return Judged(Decision.KEEP, _HIDDEN, asks_owner=True, section=flaw.section)
    if rule.most and not too_much:
        return Judged(Decision.KEEP, _within(rule, standard), section=flaw.section)
    why = too_much or _no_rule(flaw, one.zone)
    if flaw.many is not None and one.count >= flaw.many:
        return Judged(Decision.REDO, f"{one.count} of them: too many to press out one by one.", section=flaw.section)
    if base is Decision.TOUCH_UP and one.tries >= most_tries:
        times = "once" if one.tries == 1 else f"{one.tries} times"
        return Judged(Decision.REDO, f"Touched up {times} and still there.", section=flaw.section)
    state = "still wet" if one.state is Wetness.WET else "set"
    mend = "it can be put right" if base is Decision.TOUCH_UP else "nothing mends it"
    return Judged(base, f"{why} It is {state}: {mend}.", section=flaw.section)


_HIDDEN = "Hidden when shut: the owner may accept it by name."


def _too_much(one: Seen, flaws: Sequence[Seen], rule: StandardRule, unit: Unit, clumped: frozenset[str]) -> str:
    """Why the standard does not let it stay; empty where it does, or has no rule."""
    if not rule.most:
        return ""
    if one.size_mm is None:
        return "Its size is not said, so it does not count as small."
    if one.size_mm > rule.mm:
        return f"{one.size_mm:g} mm is larger than the {rule.mm:g} mm that may stay."
    if one.id in clumped:
        return "Several close together are a clump."
    alike = [
        other
        for other in flaws
        if (other.kind, other.zone) == (one.kind, one.zone) and (unit is Unit.CAR or other.window_id == one.window_id)
    ]
    number = sum(other.count for other in alike)
    if number > rule.most:
        return f"{number} of them on one {unit.value}; {rule.most} may stay."
    return ""


def _within(rule: StandardRule, standard: Standard) -> str:
    whose = "the shop’s standard" if standard.own else "our standard"
    return f"Within {whose}: up to {rule.most} of {rule.mm:g} mm per {standard.unit.value}, {_ZONES[rule.zone]}."


_ZONES = {Zone.VIEW: "in view", Zone.EDGE: "at the edge", Zone.HIDDEN: "where it is hidden"}


def _no_rule(flaw: FlawKind, zone: Zone) -> str:
    words = f"{flaw.words[0].upper()}{flaw.words[1:]}"
    return f"{words} {_ZONES[zone]}: none may stay."


def _clumps(flaws: Sequence[Seen], *, near: float) -> frozenset[str]:
    """Flaws of a kind that lie close together on one pane."""
    found = set()
    for one, other in combinations(flaws, 2):
        if (one.kind, one.window_id) != (other.kind, other.window_id):
            continue
        if hypot(one.x_mm - other.x_mm, one.y_mm - other.y_mm) <= near:
            found |= {one.id, other.id}
    return frozenset(found)


def open_redos(judged: Mapping[str, Judged], decided: Mapping[str, Decision]) -> list[str]:
    """Flaws that are cut again: by what a person decided, else by the standard.

    Examples
    --------
    >>> open_redos({"a": Judged(Decision.REDO, "")}, {"a": Decision.KEEP})
    []
    >>> open_redos({"a": Judged(Decision.REDO, "")}, {})
    ['a']
    """
    return [one for one, by_standard in judged.items() if decided.get(one, by_standard.decision) is Decision.REDO]

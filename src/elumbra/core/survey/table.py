"""The tables of findings, put together, and what a window's or a car's answers change.

To add a finding, add an entry to ``on_glass``, ``round_glass`` or ``on_car``: it is declared
nowhere else. Minutes and dollars are our assumptions where the handbook gives no figure; the
section says where the consequence comes from.
"""

from __future__ import annotations

from collections.abc import Mapping
from types import MappingProxyType

from elumbra.core.glass import Position, WindowKind
from elumbra.core.survey.findings import Answers, Finding, Follows
from elumbra.core.survey.on_car import ON_CAR
from elumbra.core.survey.on_glass import ON_GLASS
from elumbra.core.survey.round_glass import ROUND_GLASS

WINDOW_FINDINGS: Mapping[str, Finding] = MappingProxyType({one.name: one for one in (*ON_GLASS, *ROUND_GLASS)})
CAR_FINDINGS: Mapping[str, Finding] = MappingProxyType({one.name: one for one in ON_CAR})


def asked_findings(kind: WindowKind, position: Position, answers: Answers, facts: Answers) -> tuple[str, ...]:
    """The findings that a window is asked for now, in the order one looks.

    Parameters
    ----------
    kind, position
        What the window is.
    answers
        What was found on it.
    facts
        Facts of the window as answers, for those findings that are asked under one.
    """
    known = {**answers, **facts}
    return tuple(
        one.name
        for one in WINDOW_FINDINGS.values()
        if not one.of_fact and one.asked_of(kind, position) and _is_under(one, known)
    )


def _is_under(finding: Finding, known: Answers) -> bool:
    if finding.under is None:
        return True
    name, wanted = finding.under
    return known.get(name) in wanted


def lasting_answers(answers: Answers) -> Answers:
    """Answers that belong to the model of car, for another car of it.

    Examples
    --------
    >>> lasting_answers({"side_seals": "worn", "wiper": "off"})
    {'wiper': 'off'}
    """
    return {
        name: answer for name, answer in answers.items() if name in WINDOW_FINDINGS and WINDOW_FINDINGS[name].lasting
    }


def window_follows(kind: WindowKind, position: Position, answers: Answers, facts: Answers) -> tuple[Follows, ...]:
    """What a window's findings change, in the order one looks; what it cannot raise says nothing."""
    known = {**answers, **facts}
    found = []
    for one in WINDOW_FINDINGS.values():
        if one.name in known and one.asked_of(kind, position) and _is_under(one, known):
            answer = known[one.name]
            found += [Follows(one.name, f"{one.label}: {one.words(answer)}", what) for what in one.consequences(answer)]
    return tuple(found)


def car_follows(answers: Answers) -> tuple[Follows, ...]:
    """What the findings of the whole car change."""
    return tuple(
        Follows(one.name, f"{one.label}: {one.words(answers[one.name])}", what)
        for one in CAR_FINDINGS.values()
        if one.name in answers
        for what in one.consequences(answers[one.name])
    )

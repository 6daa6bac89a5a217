"""What a step may ask: every fact with the values it can have.

Findings of the survey come from their own table: a choice keeps its name and options, each answer of
several is a yes or no of its own (``condition_chipped``), a length or number is a yes or no of whether
it was read. Shrink schools and ways of cutting come from where they are declared; the schools of the
bay stand in the step file.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from types import MappingProxyType

from elumbra.core.cut import CutMethod
from elumbra.core.glass import GlassType, WindowKind
from elumbra.core.shrink import OPTIONS, Ask
from elumbra.core.survey import CAR_FINDINGS, WINDOW_FINDINGS, Answers, Field, Finding
from elumbra.core.units import parse_length

UNSAID = "unsaid"
YES_NO = ("no", "yes")


@dataclass(frozen=True)
class Fact:
    """One fact: the values it can have, the first where nobody said."""

    name: str
    label: str
    values: tuple[str, ...]
    found: bool = False  # seen on this very car at the survey: what hangs on it is special here


def _declared() -> Iterable[Fact]:
    yield Fact("part", "Which run", ("window", "start", "end", "strip"))
    yield Fact("kind", "Kind of window", tuple(WindowKind))
    yield Fact("glass", "Glass", tuple(GlassType)[::-1])
    yield Fact("covers", "Film covers", ("full", "strip"))
    yield Fact("method", "Way of cutting", tuple(CutMethod))
    yield Fact("pieces", "Pieces of the sun strip", ("one", "two"))
    yield Fact("in_strips", "Cut in strips", YES_NO)
    yield Fact("paired", "Cut together with its mirror image", YES_NO)
    yield Fact("how", "Shrunk how", tuple(OPTIONS[Ask.HOW]))
    yield Fact("water", "Shrunk dry or wet", tuple(OPTIONS[Ask.WATER]))
    yield Fact("press", "Pressed with", tuple(OPTIONS[Ask.HAND]))
    yield Fact("where", "Shrunk where", tuple(OPTIONS[Ask.PLACE]))
    yield Fact("near_limit", "Near the film’s limit", YES_NO)
    yield Fact("dark", "Very dark film", YES_NO)
    yield Fact("absorbing", "Film absorbs much heat", YES_NO)
    yield Fact("film_off", "Old film was taken off", YES_NO, found=True)
    yield Fact("hatch_filmed", "The hatch is filmed today", YES_NO)
    yield Fact("temp", "Glass and shop", ("fair", "cold", "hot"))
    yield Fact("sun", "Sun on the car", YES_NO)
    yield Fact("wind", "Wind or open door", YES_NO)
    yield Fact("learner", "A learner", YES_NO)
    yield Fact("home", "At home", YES_NO)
    yield Fact("way", "Old film comes off by", ("heat", "steam", "bag", "soak"))
    yield Fact("glue_by", "Glue comes off by", ("pad", "degreaser", "razor"))
    yield Fact("came_off", "Which layer came off", ("not_yet", "both", "face_only"))


def _of_finding(finding: Finding) -> Iterable[Fact]:
    if finding.how is Field.CHOICE and not finding.of_fact:
        yield Fact(finding.name, finding.label, (UNSAID, *finding.options), found=True)
    elif finding.how is Field.SEVERAL:
        for option, words in finding.options.items():
            yield Fact(f"{finding.name}_{option}", f"{finding.label}: {words}", YES_NO, found=True)
    elif finding.how in (Field.LENGTH, Field.NUMBER):
        yield Fact(finding.name, f"{finding.label}, read", YES_NO, found=True)


_OF_FINDINGS = (*WINDOW_FINDINGS.values(), *CAR_FINDINGS.values())
FACTS: Mapping[str, Fact] = MappingProxyType(
    {fact.name: fact for fact in (*_declared(), *(one for finding in _OF_FINDINGS for one in _of_finding(finding)))}
)


def found_facts(answers: Answers, table: Mapping[str, Finding]) -> dict[str, str]:
    """The facts that answers of the survey make; what nobody answered is left out.

    Examples
    --------
    >>> found_facts({"wiper": "off", "condition": ("chipped",), "rain_guard": "2"}, WINDOW_FINDINGS)
    {'wiper': 'off', 'condition_chipped': 'yes', 'rain_guard': 'yes'}
    """
    made: dict[str, str] = {}
    for name, answer in answers.items():
        finding = table.get(name)
        if finding is None or finding.of_fact or finding.how is Field.TEXT:
            continue
        if isinstance(answer, tuple):
            made |= {f"{name}_{one}": "yes" for one in answer if one in finding.options}
        elif finding.how is Field.CHOICE:
            made[name] = answer
        else:
            made[name] = "yes" if _is_some(finding, answer) else "no"
    return made


def _is_some(finding: Finding, answer: str) -> bool:
    """Whether a length or number that was read is more than nothing."""
    return int(answer) > 0 if finding.how is Field.NUMBER else parse_length(answer).mm > 0

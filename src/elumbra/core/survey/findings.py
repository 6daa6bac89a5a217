"""What can be found on a car at the survey, and what each finding changes.

Vocabulary
----------
finding
    Something that somebody sees or asks at the survey: *side seals*. Declared once in
    ``table.py``; column, job file, API, form and consequence follow from that entry.
answer
    What was found: one of the finding's choices, several of them, a length as typed, a number.
consequence
    What an answer changes at a later station: a piece of preparation, a tool, a caution,
    minutes, dollars, or that no film goes on.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches
from enum import StrEnum

from elumbra.core.errors import CoreError, LengthError
from elumbra.core.glass import Position, WindowKind
from elumbra.core.units import parse_length

Answer = str | tuple[str, ...]
Answers = Mapping[str, Answer]

_MOST_CHARACTERS = 400
_MOST_MM = 5000.0


class Group(StrEnum):
    """Where one looks, in the order one looks."""

    GLASS = "glass"
    ON_IT = "on_it"
    ROUND_IT = "round_it"
    AT_BACK = "at_back"
    WINDSHIELD = "windshield"
    CAR = "car"


class Field(StrEnum):
    """How a finding is answered."""

    CHOICE = "choice"
    SEVERAL = "several"
    LENGTH = "length"  # as on a tape
    NUMBER = "number"
    TEXT = "text"


class ReadBy(StrEnum):
    """The station that acts on a consequence."""

    SURVEY = "survey"
    STRIP_OFF = "strip_off"
    SHADE = "shade"
    CUT = "cut"
    HEAT = "heat"
    BAY = "bay"
    LOOK = "look"
    HANDOVER = "handover"


@dataclass(frozen=True, kw_only=True)
class Consequence:
    """What an answer changes."""

    words: str  # what to do, as an installer says it
    read_by: ReadBy
    section: str  # of the handbook
    minutes: float = 0.0
    dollars: float = 0.0
    tool: str = ""
    caution: str = ""
    no_film: bool = False


@dataclass(frozen=True, kw_only=True)
class Finding:
    """One finding: what it is called, who can raise it, how it is answered, what follows."""

    name: str
    label: str
    group: Group
    how: Field = Field.CHOICE
    options: Mapping[str, str] = field(default_factory=dict)  # answer: words
    kinds: frozenset[WindowKind] | None = None  # that can raise it; None: all
    positions: frozenset[Position] | None = None
    under: tuple[str, tuple[str, ...]] | None = None  # asked only where that finding has such an answer
    follows: Mapping[str, Consequence] = field(default_factory=dict)  # by answer; "" for any, “over 7” for numbers
    lasting: bool = True  # belongs to the model of car; off: to this very car
    of_fact: bool = False  # answered by a fact that law and light go by, not here

    def asked_of(self, kind: WindowKind, position: Position) -> bool:
        """Whether such a window can raise it."""
        return (self.kinds is None or kind in self.kinds) and (self.positions is None or position in self.positions)

    def words(self, answer: Answer) -> str:
        """An answer in words."""
        if isinstance(answer, tuple):
            return ", ".join(self.options.get(one, one) for one in answer)
        return self.options.get(answer, answer)

    def consequences(self, answer: Answer) -> Iterator[Consequence]:
        """What an answer changes."""
        if self.how is Field.NUMBER:
            yield from (what for key, what in self.follows.items() if int(str(answer)) > int(key.removeprefix("over ")))
            return
        if self.how is Field.LENGTH and parse_length(str(answer)).mm <= 0:
            return
        for one in answer if isinstance(answer, tuple) else (answer,):
            if found := self.follows.get(one, self.follows.get("")):
                yield found


@dataclass(frozen=True)
class Follows:
    """A consequence with the finding it comes from."""

    finding: str
    found: str  # finding and answer in words
    what: Consequence


class FindingError(CoreError):
    """An answer that a finding cannot have; ``fields`` names each by its finding."""


def check_answers(answers: Answers, table: Mapping[str, Finding]) -> None:
    """Refuse answers that no finding can have, all at once.

    Raises
    ------
    FindingError
        Unknown findings with a near match, unknown choices, lengths that are none.
    """
    fields: dict[str, str] = {}
    for name, answer in answers.items():
        finding = table.get(name)
        if finding is None or finding.of_fact:
            near = get_close_matches(name, [key for key, one in table.items() if not one.of_fact], n=1)
            fields[name] = f"“{name}” is no finding here." + (f" Did you mean “{near[0]}”?" if near else "")
        elif problem := _problem(finding, answer):
            fields[name] = problem
    if fields:
        name, sentence = next(iter(fields.items()))
        label = table[name].label if name in table else name
        raise FindingError(f"{label}: {sentence}", fields=fields)


def _problem(finding: Finding, answer: Answer) -> str | None:
    several = isinstance(answer, tuple)
    if several != (finding.how is Field.SEVERAL):
        return "One answer, not several." if several else "A list of answers is wanted here."
    given = answer if isinstance(answer, tuple) else (answer,)
    if finding.how in (Field.CHOICE, Field.SEVERAL):
        unknown = [one for one in given if one not in finding.options]
        if unknown or len(set(given)) != len(given):
            return f"“{(unknown or given)[0]}” is not one of: {', '.join(finding.options)}."
        return None
    text = str(answer)
    if finding.how is Field.TEXT:
        return f"At most {_MOST_CHARACTERS} characters." if len(text) > _MOST_CHARACTERS else None
    if finding.how is Field.NUMBER:
        return None if text.isascii() and text.isdigit() and int(text) <= 100 else "A whole number, 0 to 100."
    try:
        mm = parse_length(text).mm
    except LengthError as error:
        return error.message
    return None if 0 <= mm <= _MOST_MM else "Longer than any car glass. Feet typed for inches?"


def length_of(answers: Answers, name: str) -> float | None:
    """A finding's length [mm]; None where nobody read it."""
    answer = answers.get(name)
    return parse_length(answer).mm if isinstance(answer, str) else None

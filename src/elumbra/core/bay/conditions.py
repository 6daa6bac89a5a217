"""The closed vocabulary in which a step says when it applies.

A condition is a mapping of facts to the values under which it holds, all of them at once::

    {"kind": ["framed_door", "frameless_door"], "rain_guard": "yes"}

``any``, ``all`` and ``not`` combine such mappings. A fact or value that is not in the vocabulary is
refused when the file is read, with the nearest known word.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum
from functools import cached_property
from typing import Any

from elumbra.core.errors import CoreError

Situation = Mapping[str, str]
"""What is known of a window, its film, the day and the hands: one value for every fact."""


class StepFileError(CoreError):
    """The file of steps says something that cannot be; the message names the place."""


class Word(StrEnum):
    """How conditions are put together."""

    ALL = "all"
    ANY = "any"
    NOT = "not"
    IS = "is"


@dataclass(frozen=True)
class Condition:
    """A tree of words over facts."""

    word: Word
    parts: tuple[Condition, ...] = ()
    fact: str = ""
    values: frozenset[str] = frozenset()

    def holds(self, situation: Situation) -> bool:
        """Whether it holds in a situation.

        Raises
        ------
        KeyError
            The situation does not say a fact that it asks for.
        """
        return self.asked(situation)

    @cached_property
    def asked(self) -> Callable[[Situation], bool]:
        """The condition as a function: asked for every step of every window, so it is put together once."""
        if self.word is Word.IS:
            fact, values = self.fact, self.values
            return lambda situation: situation[fact] in values
        tests = tuple(part.asked for part in self.parts)
        if self.word is Word.NOT:
            inner = tests[0]
            return lambda situation: not inner(situation)
        if len(tests) == 1:
            return tests[0]
        stops = self.word is Word.ANY

        def test(situation: Situation) -> bool:
            for one in tests:
                if one(situation) is stops:
                    return stops
            return not stops

        return test

    @property
    def facts(self) -> frozenset[str]:
        """The facts that it reads."""
        if self.word is Word.IS:
            return frozenset({self.fact})
        return frozenset[str]().union(*(part.facts for part in self.parts))


ALWAYS = Condition(Word.ALL)
NEVER = Condition(Word.ANY)


def is_(fact: str, *values: str) -> Condition:
    """A fact has one of these values.

    Examples
    --------
    >>> is_("glass", "tempered").holds({"glass": "tempered"})
    True
    """
    return Condition(Word.IS, fact=fact, values=frozenset(values))


def all_of(*parts: Condition) -> Condition:
    """Every one of them; none at all always holds."""
    flat: list[Condition] = []
    for part in parts:
        flat += part.parts if part.word is Word.ALL else (part,)
    return flat[0] if len(flat) == 1 else Condition(Word.ALL, tuple(dict.fromkeys(flat)))


def any_of(*parts: Condition) -> Condition:
    """At least one of them; none at all never holds."""
    flat: list[Condition] = []
    for part in parts:
        flat += part.parts if part.word is Word.ANY else (part,)
    return flat[0] if len(flat) == 1 else Condition(Word.ANY, tuple(dict.fromkeys(flat)))


def not_(part: Condition) -> Condition:
    """The contrary."""
    return part.parts[0] if part.word is Word.NOT else Condition(Word.NOT, (part,))


def parse_condition(document: Any, known: Mapping[str, Sequence[str]], *, where: str) -> Condition:
    """A condition as it stands in the file.

    Parameters
    ----------
    document
        A mapping; an empty one always holds.
    known
        Facts with their values.
    where
        What the file calls the place, for the message.

    Raises
    ------
    StepFileError
        A fact or value that nobody knows; the nearest known one is named.

    Examples
    --------
    >>> known = {"glass": ("tempered", "laminated")}
    >>> parse_condition({"glass": "tempered"}, known, where="razor").values
    frozenset({'tempered'})
    >>> parse_condition({"glas": "tempered"}, known, where="razor")
    Traceback (most recent call last):
    elumbra.core.bay.conditions.StepFileError: razor: “glas” is no fact; the nearest known one is “glass”.
    """
    if not isinstance(document, Mapping):
        raise StepFileError(f"{where}: a condition is a mapping of facts to values, not {document!r}.")
    parts = []
    for name, argument in document.items():
        if name in (Word.ALL, Word.ANY):
            if not isinstance(argument, list) or not argument:
                raise StepFileError(f"{where}: “{name}” needs a list of conditions.")
            inner = [parse_condition(part, known, where=where) for part in argument]
            parts.append(all_of(*inner) if name == Word.ALL else any_of(*inner))
        elif name == Word.NOT:
            parts.append(not_(parse_condition(argument, known, where=where)))
        else:
            parts.append(_is(str(name), argument, known, where))
    return all_of(*parts)


def _is(name: str, argument: Any, known: Mapping[str, Sequence[str]], where: str) -> Condition:
    if name not in known:
        raise StepFileError(f"{where}: “{name}” is no fact; the nearest known one is “{nearest(name, known)}”.")
    values = argument if isinstance(argument, list) else [argument]
    for value in values:
        if value not in known[name]:
            near = nearest(str(value), known[name])
            raise StepFileError(f"{where}: “{name}” is never “{value}”; the nearest value is “{near}”.")
    if not values:
        raise StepFileError(f"{where}: “{name}” needs at least one value.")
    return is_(name, *(str(value) for value in values))


def nearest(word: str, known: Any) -> str:
    """The known word that looks most like one.

    Examples
    --------
    >>> nearest("temperd", ["laminated", "tempered"])
    'tempered'
    """
    return get_close_matches(word, [str(one) for one in known], n=1, cutoff=0.0)[0]

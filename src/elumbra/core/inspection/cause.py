"""Which cause is likely: weights of the flaw table times what this window's run recorded.

Every cause starts from how likely it is where nothing else is known. A recorded fact multiplies it by one
figure where it holds and by another where it does not; an unknown one leaves it alone and is named. The
result is a ranking with its reasons, never a verdict on a person.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from math import log, prod

from elumbra.core.inspection.book import Cause, FlawBook
from elumbra.core.starting import StartingValues

MOST_QUESTIONS = 2
_SPEAKS = 1.0  # a factor above speaks for a cause, one below against it


class Told(StrEnum):
    """What the record says of a fact."""

    YES = "yes"
    NO = "no"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Said:
    """A fact with what it says of a cause."""

    fact: str
    words: str
    told: Told


@dataclass(frozen=True)
class RankedCause:
    """One cause with what speaks for it, against it, and what nobody knows."""

    cause: Cause
    share: float  # of all causes that the table has for this flaw, 0 to 1
    speaks_for: tuple[Said, ...]
    against: tuple[Said, ...]
    unknown: tuple[Said, ...]


@dataclass(frozen=True)
class AskedFact:
    """A question that would separate the leading causes."""

    fact: str
    ask: str


@dataclass(frozen=True)
class Causes:
    """The likely causes of one flaw, likeliest first, and what is worth asking."""

    ranked: tuple[RankedCause, ...]
    questions: tuple[AskedFact, ...]


def rank_causes(
    book: FlawBook, kind: str, known: Mapping[str, Told], *, starting: StartingValues, ask: bool = True
) -> Causes:
    """Causes of a kind of flaw, ranked.

    Parameters
    ----------
    book
        The flaw table.
    kind
        Which flaw.
    known
        What is recorded, by fact; what is left out is unknown.
    starting
        From which share on the first cause needs no question.
    ask
        Whether somebody is there to answer.

    Raises
    ------
    CoreError
        Nobody knows that kind.
    """
    flaw = book.flaw(kind)
    scores = {name: start * _weight(book.causes[name], known) for name, start in flaw.causes.items()}
    whole = sum(scores.values())
    order = sorted(scores, key=lambda name: -scores[name])  # alike: as the table has them
    ranked = tuple(_ranked(book, book.causes[name], scores[name] / whole, known) for name in order)
    sure = ranked[0].share >= starting["look_cause_sure"]
    return Causes(ranked, () if sure or not ask else _questions(book, ranked, known))


def _weight(cause: Cause, known: Mapping[str, Told]) -> float:
    return prod(_factor(cause, fact, known.get(fact, Told.UNKNOWN)) for fact in cause.weighs)


def _factor(cause: Cause, fact: str, told: Told) -> float:
    if fact not in cause.weighs or told is Told.UNKNOWN:
        return 1.0
    holds, fails = cause.weighs[fact]
    return holds if told is Told.YES else fails


def _ranked(book: FlawBook, cause: Cause, share: float, known: Mapping[str, Told]) -> RankedCause:
    speaks_for, against, unknown = [], [], []
    for fact in cause.weighs:
        told = known.get(fact, Told.UNKNOWN)
        said = Said(fact, book.evidence[fact].words, told)
        factor = _factor(cause, fact, told)
        if told is Told.UNKNOWN:
            unknown.append(said)
        elif factor > _SPEAKS:
            speaks_for.append(said)
        elif factor < _SPEAKS:
            against.append(said)
    return RankedCause(cause, share, tuple(speaks_for), tuple(against), tuple(unknown))


def _questions(book: FlawBook, ranked: tuple[RankedCause, ...], known: Mapping[str, Told]) -> tuple[AskedFact, ...]:
    """The open facts whose answer moves the leading causes furthest apart."""
    if len(ranked) < 2:
        return ()
    first, second = ranked[0].cause, ranked[1].cause
    found: dict[str, float] = {}
    for fact in dict.fromkeys([*first.weighs, *second.weighs]):
        if known.get(fact, Told.UNKNOWN) is Told.UNKNOWN and book.evidence[fact].ask:
            found[fact] = max(
                abs(log(_factor(first, fact, told) / _factor(second, fact, told))) for told in (Told.YES, Told.NO)
            )
    best = sorted((fact for fact, apart in found.items() if apart > 0), key=lambda fact: -found[fact])
    return tuple(AskedFact(fact, book.evidence[fact].ask) for fact in best[:MOST_QUESTIONS])

"""The shop's own results: how often a way came off clean, with what that leaves open."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt

from elumbra.core.removal.case import Way

_TWO_SIDED = 1.959964


@dataclass(frozen=True)
class OwnResult:
    """One window's film as it came off."""

    way: Way
    clean: bool  # both layers at once
    glue: bool  # some stayed
    minutes: float | None = None  # of work; None where nobody kept the time


@dataclass(frozen=True)
class Chance:
    """How likely, by own results: share and 95 % interval (Wilson), and how many there are."""

    share: float
    low: float
    high: float
    number: int


def chance_of(hits: int, number: int) -> Chance:
    """A share with its Wilson interval (Wilson 1927), never outside 0 to 1.

    Raises
    ------
    ValueError
        No results, or more hits than results.

    Examples
    --------
    >>> one = chance_of(15, 20)
    >>> round(one.low, 3), round(one.high, 3)
    (0.531, 0.888)
    """
    if number <= 0 or not 0 <= hits <= number:
        raise ValueError(f"{hits} of {number} is no share")
    z2 = _TWO_SIDED**2
    share = hits / number
    middle = (share + z2 / (2 * number)) / (1 + z2 / number)
    half = _TWO_SIDED / (1 + z2 / number) * sqrt(share * (1 - share) / number + z2 / (4 * number**2))
    return Chance(share, max(0.0, middle - half), min(1.0, middle + half), number)


def of_way(results: Sequence[OwnResult], way: Way) -> list[OwnResult]:
    """The results of one way."""
    return [one for one in results if one.way is way]

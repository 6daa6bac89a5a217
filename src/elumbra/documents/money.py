"""Money in what is told. Where an answer is made for somebody who does not see prices, it is not in it.

In Python and in files that are kept these are plain numbers and sentences.
"""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import PlainSerializer, SerializationInfo

_SEEN = "prices_seen"
_SUM = re.compile(r" \$\d[\d,]*(\.\d\d)?")


def seen_by(prices: bool) -> dict[str, Any]:
    """What an answer is serialised with, for somebody who sees prices or does not."""
    return {_SEEN: prices}


def without_sums(words: str) -> str:
    """A sentence without the sums in it.

    Examples
    --------
    >>> without_sums("96 in of R1 alone would cost $1,204.50 more.")
    '96 in of R1 alone would cost more.'
    """
    return _SUM.sub("", words)


def _hidden(info: SerializationInfo) -> bool:
    return not (info.context or {}).get(_SEEN, True)


def _sum(value: float, info: SerializationInfo) -> float | None:
    return None if _hidden(info) else value


def _sentences(value: list[str], info: SerializationInfo) -> list[str]:
    return [without_sums(one) for one in value] if _hidden(info) else value


Priced = Annotated[float, PlainSerializer(_sum, return_type=float | None)]
PricedWords = Annotated[list[str], PlainSerializer(_sentences, return_type=list[str])]

"""A least light as a record says it, in the table and of an exemption: a figure, or why there is none."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any


class FloorKind(StrEnum):
    """What a record says of the least light at a position."""

    FLOOR = "floor"
    NO_FLOOR = "no_floor"
    NONE_ALLOWED = "none_allowed"
    UNKNOWN = "unknown"


@dataclass(frozen=True)
class Floor:
    """Least VLT at a position (0 to 1), or why there is none."""

    kind: FloorKind
    value: float | None = None


def parse_floor(tag: Mapping[str, Any]) -> Floor:
    """A tagged least light.

    Raises
    ------
    ValueError, KeyError
        A kind outside the vocabulary, or a figure that is missing or outside 0 to 100 %.

    Examples
    --------
    >>> parse_floor({"kind": "floor", "value": 35}).value
    0.35
    """
    kind = FloorKind(tag["kind"])
    if kind is not FloorKind.FLOOR:
        return Floor(kind)
    if "value" not in tag:
        raise ValueError("a floor needs its value in percent")
    return Floor(kind, share(tag["value"]))


def share(percent: object) -> float:
    """A percentage of a law file as a fraction.

    Raises
    ------
    ValueError
        It is no number of 0 to 100.
    """
    if isinstance(percent, bool) or not isinstance(percent, int | float) or not 0 <= percent <= 100:
        raise ValueError(f"a figure of {percent} % is outside 0 to 100 %")
    return percent / 100

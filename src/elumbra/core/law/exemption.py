"""What a state's record says of a medical exemption: windows, least light, film or a device, until when.

It stands in the record like every other field: confirmed or overruled by the shop, with its citation.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from enum import StrEnum
from typing import Any

from elumbra.core.glass import Position

EXEMPTION = "exemption"  # the part of a record
_DAY = re.compile(r"(\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01]))?")


class Grants(StrEnum):
    """Whether a state grants a medical exemption."""

    YES = "yes"
    LIMITED = "limited"
    NO = "no"
    UNKNOWN = "unknown"


class Means(StrEnum):
    """What may be put on the glass under it."""

    FILM = "film"
    DEVICE = "device"  # a removable shade: never film
    UNKNOWN = "unknown"


class CoverKind(StrEnum):
    """What a record says of an exemption at a position; the words of a least light."""

    FLOOR = "floor"  # covered, down to a least light
    NO_FLOOR = "no_floor"  # covered, to any darkness
    NONE_ALLOWED = "none_allowed"  # not covered
    UNKNOWN = "unknown"  # not recorded: the lead says where it is written


@dataclass(frozen=True)
class Cover:
    """An exemption at a position; ``least`` (0 to 1) where it has a floor, be it not recorded of which windows."""

    kind: CoverKind = CoverKind.UNKNOWN
    least: float | None = None


@dataclass(frozen=True)
class ExemptionRule:
    """A state's exemption as it is recorded."""

    grants: Grants
    covers: Mapping[Position, Cover]
    means: Means
    issued_until: str  # ISO day: later ones are not granted; empty: still granted

    def at(self, position: Position | None) -> Cover:
        """What it says of a position."""
        return self.covers.get(position, Cover()) if position else Cover()


def exemption_default(part: str) -> Any:
    """What stands in a part of a record that says nothing of it."""
    return {"means": Means.UNKNOWN.value, "issued_until": ""}.get(part, {"kind": CoverKind.UNKNOWN.value})


def parse_exemption(row: Mapping[str, Any], positions: tuple[Position, ...]) -> ExemptionRule:
    """The exemption of a record; what is left out is not recorded.

    Raises
    ------
    ValueError, TypeError, KeyError
        A value outside its vocabulary or range.
    """
    said = row.get(EXEMPTION) or {}
    until = said.get("issued_until", "")
    if not isinstance(until, str) or not _DAY.fullmatch(until):
        raise ValueError(f"“{until}” is not a day like 2027-01-31")
    return ExemptionRule(
        Grants(row.get("medical_exemption", Grants.UNKNOWN)),
        {one: _cover(said.get(one.value, exemption_default(one.value))) for one in positions},
        Means(said.get("means", Means.UNKNOWN)),
        until,
    )


def _cover(tag: Mapping[str, Any]) -> Cover:
    kind = CoverKind(tag["kind"])
    if kind is not CoverKind.FLOOR and (kind is not CoverKind.UNKNOWN or "value" not in tag):
        return Cover(kind)
    least = tag["value"]
    if isinstance(least, bool) or not isinstance(least, int | float) or not 0 <= least <= 100:
        raise ValueError(f"a figure of {least} % is outside 0 to 100 %")
    return Cover(kind, least / 100)

"""What a state's record says of a medical exemption: windows, least light, film or a device, until when.

It stands in the record like every other field: confirmed or overruled by the shop, with its citation.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from typing import Any

from elumbra.core.glass import Position
from elumbra.core.law.floors import Floor, FloorKind, parse_floor, share

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


@dataclass(frozen=True)
class ExemptionRule:
    """A state's exemption as it is recorded.

    ``covers`` says by position: a floor or none at all means covered, down to it or to any darkness; "none allowed"
    means not covered; unknown, that the lead says where it is written. An unknown one has a value where the record
    has a least light, but not of which windows.
    """

    grants: Grants
    covers: Mapping[Position, Floor]
    means: Means
    issued_until: str  # ISO day: later ones are not granted; empty: still granted

    def at(self, position: Position | None) -> Floor:
        """What it says of a position."""
        unknown = Floor(FloorKind.UNKNOWN)
        return self.covers.get(position, unknown) if position else unknown


def exemption_default(part: str) -> Any:
    """What stands in a part of a record that says nothing of it."""
    return {"means": Means.UNKNOWN.value, "issued_until": ""}.get(part, {"kind": FloorKind.UNKNOWN.value})


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


def _cover(tag: Mapping[str, Any]) -> Floor:
    floor = parse_floor(tag)
    if floor.kind is FloorKind.UNKNOWN and "value" in tag:
        return replace(floor, value=share(tag["value"]))
    return floor

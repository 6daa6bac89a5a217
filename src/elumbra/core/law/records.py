"""One record per jurisdiction, read from the application's own versioned law file."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from difflib import get_close_matches
from enum import StrEnum
from typing import Any

from elumbra.core.errors import LawError
from elumbra.core.glass import Position

FORMAT = "elumbra-law"
FORMAT_VERSION = 1


class VehicleClass(StrEnum):
    """The class a vehicle is judged as."""

    PASSENGER = "passenger"
    MULTIPURPOSE = "multipurpose"  # SUV, van, truck


class FloorKind(StrEnum):
    """What a record says of the least light at a position."""

    FLOOR = "floor"
    NO_FLOOR = "no_floor"
    NONE_ALLOWED = "none_allowed"
    UNKNOWN = "unknown"


class StripRule(StrEnum):
    """How deep a windshield strip may reach."""

    INCHES = "inches"
    AS1 = "as1"
    AS1_OR_INCHES = "as1_or_inches"  # the record does not say which of the two governs
    NONE = "none"
    OTHER = "other"  # worded otherwise, for instance from the seat


class Effect(StrEnum):
    """Which answers a linked rule can change."""

    TIGHTENS = "tightens"
    RELAXES = "relaxes"
    EITHER = "either"


@dataclass(frozen=True)
class Floor:
    """Least VLT at a position (0 to 1), or why there is none."""

    kind: FloorKind
    value: float | None = None


@dataclass(frozen=True)
class Reflectance:
    """Reflectance rule: ``numeric`` (greatest share), ``non_mirror``, ``no_rule``, ``unknown``."""

    kind: str
    most: float | None = None


@dataclass(frozen=True)
class WindshieldRule:
    """The strip at the top and the glass below it."""

    strip: StripRule
    strip_inches: float | None
    strip_vlt: Floor
    below_strip: Floor


@dataclass(frozen=True)
class LinkedRule:
    """A rule that depends on a further fact; asked for where it could change the answer."""

    classes: frozenset[VehicleClass]
    positions: frozenset[Position]
    effect: Effect
    question: str
    sentence: str
    model_year_from: int | None = None
    mirrors_settle: bool = False


@dataclass(frozen=True)
class Jurisdiction:
    """One state's record."""

    code: str
    name: str
    statute: str
    basis: str  # "net" (glass and film) or "film"
    tolerance_points: float | None
    tolerance_how: str
    floors: Mapping[tuple[VehicleClass, Position], Floor]
    windshield: Mapping[VehicleClass, WindshieldRule]
    reflectance: Mapping[Position, Reflectance]
    banned_colours: frozenset[str]
    mirrors_if_rear_tinted: bool
    linked: tuple[LinkedRule, ...]
    unconfirmed: frozenset[str]
    confidence: str
    notes: str


@dataclass(frozen=True)
class LawBook:
    """All records of one version of the law file."""

    version: str
    compiled: str
    records: Mapping[str, Jurisdiction]

    def of(self, code: str) -> Jurisdiction:
        """A jurisdiction by its two-letter code.

        Raises
        ------
        LawError
            No such jurisdiction on file; the nearest codes are given.
        """
        if code not in self.records:
            near = get_close_matches(code.upper(), self.records, n=3, cutoff=0.4)
            hint = f" Did you mean {', '.join(near)}?" if near else ""
            raise LawError(f"There is no state “{code}” in the rule book.{hint}", fields={"state": "Pick a state."})
        return self.records[code]


def parse_law_book(document: Mapping[str, Any]) -> LawBook:
    """Read the law file's content.

    Raises
    ------
    LawError
        Foreign format, future version, or a value outside its closed vocabulary.
    """
    if document.get("format") != FORMAT:
        raise LawError("This is not an Elumbra law file (its “format” is not “elumbra-law”).")
    if document.get("format_version") != FORMAT_VERSION:
        raise LawError(
            f"This law file has format version {document.get('format_version')}; this program reads {FORMAT_VERSION}."
        )
    records: dict[str, Jurisdiction] = {}
    for row in document["records"]:
        try:
            record = _jurisdiction(row)
        except (KeyError, ValueError, TypeError) as error:
            raise LawError(f"Law record {row.get('code', '?')} cannot be used: {error}.") from error
        if record.code in records:
            raise LawError(f"Law record {record.code} stands twice.")
        records[record.code] = record
    return LawBook(str(document["version"]), str(document["compiled"]), records)


_SIDE_POSITIONS = (Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW)


def _jurisdiction(row: Mapping[str, Any]) -> Jurisdiction:
    tolerance = row["tolerance_points"]
    return Jurisdiction(
        code=row["code"],
        name=row["name"],
        statute=row["statute"],
        basis=row["basis"],
        tolerance_points=tolerance.get("points") if tolerance["kind"] == "granted" else None,
        tolerance_how=row["tolerance_how"],
        floors={
            (vehicle_class, position): _floor(row[vehicle_class.value][position.value])
            for vehicle_class in VehicleClass
            for position in _SIDE_POSITIONS
        },
        windshield={c: _windshield(row[c.value]["windshield"]) for c in VehicleClass},
        reflectance={p: _reflectance(row["reflectance"][p.value]) for p in _SIDE_POSITIONS},
        banned_colours=frozenset(row["banned_colours"]),
        mirrors_if_rear_tinted=row["mirrors_required_if_rear_tinted"] is True,
        linked=tuple(_linked(rule) for rule in row["linked"]),
        unconfirmed=frozenset(row["check"]),
        confidence=row["confidence"],
        notes=" ".join(part for part in (row["other"], row["second_note"]) if part),
    )


def _floor(tag: Mapping[str, Any]) -> Floor:
    kind = FloorKind(tag["kind"])
    value = tag["value"] / 100 if kind is FloorKind.FLOOR else None
    if value is not None and not 0 <= value <= 1:
        raise ValueError(f"a floor of {tag['value']} % is outside 0 to 100 %")
    return Floor(kind, value)


def _reflectance(tag: Mapping[str, Any]) -> Reflectance:
    if tag["kind"] not in ("numeric", "non_mirror", "no_rule", "unknown"):
        raise ValueError(f"unknown reflectance rule “{tag['kind']}”")
    return Reflectance(tag["kind"], tag["percent"] / 100 if tag["kind"] == "numeric" else None)


def _windshield(tag: Mapping[str, Any]) -> WindshieldRule:
    return WindshieldRule(
        StripRule(tag["strip"]), tag["strip_inches"], _floor(tag["strip_vlt"]), _floor(tag["below_strip"])
    )


def _linked(rule: Mapping[str, Any]) -> LinkedRule:
    settled = rule.get("settled_by", {})
    return LinkedRule(
        classes=frozenset(VehicleClass(name) for name in rule["classes"]),
        positions=frozenset(Position(name) for name in rule["positions"]),
        effect=Effect(rule["effect"]),
        question=rule["question"],
        sentence=rule["sentence"],
        model_year_from=settled.get("model_year_from"),
        mirrors_settle=bool(settled.get("mirrors_both_sides")),
    )

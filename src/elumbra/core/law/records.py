"""One record per jurisdiction and effective date, as parsed from a law file.

The table of a record holds tagged figures for class and position; what depends on further
facts stands in its clauses, in the closed vocabulary of ``conditions``.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Any

from elumbra.core.film import Colour
from elumbra.core.glass import Position
from elumbra.core.law.conditions import Condition, StripRule, colour_named, parse_condition
from elumbra.core.law.exemption import ExemptionRule, parse_exemption
from elumbra.core.law.facts import VehicleClass
from elumbra.core.law.floors import Floor, FloorKind, parse_floor, share

SIDE_POSITIONS = (Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW)
REFLECTANCE_POSITIONS = (*SIDE_POSITIONS, Position.WINDSHIELD)
_DAY = re.compile(r"\d{4}-\d{2}-\d{2}")


class ReflectanceKind(StrEnum):
    """What a record says of reflection."""

    NUMERIC = "numeric"  # a greatest share
    NON_MIRROR = "non_mirror"  # not metallic or mirrored
    NON_REFLECTIVE = "non_reflective"  # film that does not reflect, with no figure
    NO_RULE = "no_rule"  # the law sets none
    UNKNOWN = "unknown"


class Role(StrEnum):
    """How a linked clause stands to the record's own table."""

    ALSO = "also"  # holds besides it
    INSTEAD = "instead"  # keeping this is enough where the table's rule is broken
    REPLACES = "replaces"  # holds in place of it
    SCOPE = "scope"  # without it the section does not speak of this vehicle


@dataclass(frozen=True)
class Reflectance:
    """Reflectance rule; ``most`` (0 to 1) where it is numeric."""

    kind: ReflectanceKind
    most: float | None = None


@dataclass(frozen=True)
class WindshieldRule:
    """The strip at the top and the glass below it."""

    strip: StripRule
    strip_inches: float | None
    strip_vlt: Floor
    below_strip: Floor


@dataclass(frozen=True)
class LinkedClause:
    """A rule that depends on further facts, with its sentence and citation."""

    id: str
    role: Role
    of: str  # for INSTEAD and REPLACES: "floor" or "strip"
    classes: frozenset[VehicleClass]
    positions: frozenset[Position]
    on: str  # "strip", "glass" or "both"; "" where it says nothing: all but the strip of a windshield
    condition: Condition
    sentence: str
    citation: str
    rests_on: tuple[str, ...]

    def speaks_of(self, position: Position, *, strip: bool) -> bool:
        """Whether it holds for a pane at a position, or for a strip on it.

        Said nothing else, a clause holds for strips on side and rear glass as for the whole
        pane; the strip of a windshield has rules of its own.
        """
        if position not in self.positions:
            return False
        if not self.on:
            return not strip or position is not Position.WINDSHIELD
        return self.on == "both" or (self.on == "strip") == strip


@dataclass(frozen=True)
class LawReading:
    """A way of reading the law that somebody must settle: None until then."""

    question: str
    holds: bool | None
    until_settled: bool | None = None  # what holds meanwhile, where the stricter way is plain

    @property
    def in_use(self) -> bool | None:
        """The way it is read now."""
        return self.until_settled if self.holds is None else self.holds


@dataclass(frozen=True)
class Dispute:
    """A field of which two values are on file; the record's own, the stricter, decides until it is settled."""

    field: str
    values: tuple[Any, ...]  # as they stand in a law file


@dataclass(frozen=True)
class FieldSource:
    """Who confirmed or overruled a field, with what citation, from when."""

    overruled: bool
    citation: str
    effective_from: str
    person: str
    at: str


@dataclass(frozen=True, eq=False)
class Jurisdiction:
    """One state's record, in force from a day on."""

    code: str
    name: str
    statute: str
    effective_from: str  # ISO day; empty: since before this file
    basis: str  # "net" (glass and film) or "film"
    tolerance_points: float | None
    tolerance_how: str
    floors: Mapping[tuple[VehicleClass, Position], Floor]
    windshield: Mapping[VehicleClass, WindshieldRule]
    reflectance: Mapping[Position, Reflectance]
    reflectance_of: str  # "film" by its sheet, "window" with its glass, or "either", whichever is more
    banned_colours: frozenset[Colour]
    banned_on_windshield_only: bool
    mirrors_if_rear_tinted: bool | None
    mirrors_else: float | None  # VLT (0 to 1) that frees a rear window from the mirrors
    exemption: ExemptionRule
    readings: Mapping[str, LawReading]
    clauses: tuple[LinkedClause, ...]
    unconfirmed: frozenset[str]
    disputes: Mapping[str, Dispute]  # by field
    confidence: str
    notes: str
    row: Mapping[str, Any]
    sources: Mapping[str, FieldSource] = field(default_factory=dict)
    works_inside_tolerance: bool = False  # the shop's own setting: film within the law's tolerance is cut

    def unsettled(self, fields: Iterable[str]) -> tuple[Dispute, ...]:
        """Disputes about some fields on which the shop has not spoken."""
        return tuple(self.disputes[name] for name in fields if name in self.disputes and name not in self.sources)

    def floor(self, vehicle_class: VehicleClass, position: Position, *, strip: bool = False) -> Floor:
        """The table's figure for a pane, or for the strip on it."""
        if position is not Position.WINDSHIELD:
            return self.floors.get((vehicle_class, position), Floor(FloorKind.UNKNOWN))
        rule = self.windshield[vehicle_class]
        return rule.strip_vlt if strip and rule.strip is not StripRule.AS_BELOW else rule.below_strip


def parse_record(row: Mapping[str, Any], sources: Mapping[str, FieldSource] | None = None) -> Jurisdiction:
    """A record as it stands in a law file.

    Raises
    ------
    ValueError, KeyError, TypeError
        A value outside its vocabulary or range; the caller names the record.
    """
    tolerance = row["tolerance_points"]
    effective = row.get("effective_from") or ""
    if effective and not _DAY.fullmatch(effective):
        raise ValueError(f"“{effective}” is not a day like 2027-01-31")
    mirrors_else = row.get("mirrors_else_vlt")
    said = row.get("clauses_said") or {}
    for value in said.values():
        if not isinstance(value, bool):
            raise TypeError("a linked clause holds as written or does not")
    return Jurisdiction(
        code=row["code"],
        name=row["name"],
        statute=row["statute"],
        effective_from=effective,
        basis=_one_of(row["basis"], ("net", "film"), "basis"),
        tolerance_points=_tolerance(tolerance),
        tolerance_how=row["tolerance_how"],
        floors={(c, p): parse_floor(row[c.value][p.value]) for c in VehicleClass for p in SIDE_POSITIONS},
        windshield={c: _windshield(row[c.value]["windshield"]) for c in VehicleClass},
        reflectance={p: parse_reflectance(row["reflectance"][p.value]) for p in REFLECTANCE_POSITIONS},
        reflectance_of=_one_of(row["reflectance_of"], ("film", "window", "either"), "reflectance_of"),
        banned_colours=frozenset(colour_named(name) for name in row["banned_colours"]),
        banned_on_windshield_only=_one_of(row["banned_colours_where"], ("all", "windshield"), "banned_colours_where")
        == "windshield",
        mirrors_if_rear_tinted=_flag(row["mirrors_required_if_rear_tinted"]),
        mirrors_else=None if mirrors_else is None else share(mirrors_else),
        exemption=parse_exemption(row, REFLECTANCE_POSITIONS),
        readings={
            key: LawReading(tag["question"], _flag(tag["holds"]), _flag(tag.get("until_settled")))
            for key, tag in row["readings"].items()
        },
        clauses=tuple(_clause(clause, row) for clause in row["clauses"] if said.get(clause["id"], True)),
        unconfirmed=frozenset(row["check"]) | {f"clauses.{c['id']}" for c in row["clauses"] if c["id"] not in said},
        disputes=_disputes(row["disputed"]),
        confidence=row["confidence"],
        notes=" ".join(part for part in (row["other"], row["second_note"]) if part),
        row=row,
        sources=sources or {},
        works_inside_tolerance=_flag(row.get("works_inside_tolerance")) is True,
    )


def _disputes(listed: Any) -> dict[str, Dispute]:
    """Disputes by field; records of before 2026-11-25 held notes there, of fields by other names."""
    if isinstance(listed, Mapping):
        return {}
    return {one["field"]: Dispute(one["field"], tuple(one["values"])) for one in listed}


def _one_of(value: str, allowed: tuple[str, ...], name: str) -> str:
    if value not in allowed:
        raise ValueError(f"{name} is “{value}”; it is one of {', '.join(allowed)}")
    return value


def _flag(value: object) -> bool | None:
    if value is None or isinstance(value, bool):
        return value
    raise ValueError(f"{value!r} is not yes, no or unknown")


def _tolerance(tag: Mapping[str, Any]) -> float | None:
    kind = _one_of(tag["kind"], ("granted", "none_recalled", "none", "unknown"), "tolerance")
    if kind != "granted":
        return None
    points = tag["points"]
    if not isinstance(points, int | float) or not 0 <= points <= 20:
        raise ValueError(f"a tolerance of {points} points is outside 0 to 20")
    return float(points)


def parse_reflectance(tag: Mapping[str, Any]) -> Reflectance:
    """A tagged reflectance rule."""
    kind = ReflectanceKind(tag["kind"])
    if kind is not ReflectanceKind.NUMERIC:
        return Reflectance(kind)
    if "percent" not in tag:
        raise ValueError("a numeric reflectance rule needs its percent")
    return Reflectance(kind, share(tag["percent"]))


def _windshield(tag: Mapping[str, Any]) -> WindshieldRule:
    rule, depth = StripRule(tag["strip"]), tag["strip_inches"]
    if depth is not None and not (isinstance(depth, int | float) and 0 < depth <= 60):
        raise ValueError(f"a strip of {depth} in is outside 0 to 60 in")
    needs = (
        StripRule.INCHES, StripRule.LONGER, StripRule.SHORTER, StripRule.AS1_ELSE_INCHES, StripRule.SEAT_HEIGHT,
    )  # fmt: skip
    if rule in needs and depth is None:
        raise ValueError(f"strip rule “{rule}” needs its inches")
    return WindshieldRule(rule, depth, parse_floor(tag["strip_vlt"]), parse_floor(tag["below_strip"]))


def _clause(tag: Mapping[str, Any], row: Mapping[str, Any]) -> LinkedClause:
    role = Role(tag["role"])
    return LinkedClause(
        id=tag["id"],
        role=role,
        of=_one_of(tag.get("of", "floor"), ("floor", "strip"), "of"),
        classes=frozenset(VehicleClass(name) for name in tag.get("classes", [c.value for c in VehicleClass])),
        positions=frozenset(Position(name) for name in tag["positions"]),
        on=_one_of(tag.get("on", ""), ("", "strip", "glass", "both"), "on"),
        condition=parse_condition(tag["condition"]),
        sentence=tag["sentence"],
        citation=tag.get("citation") or row["statute"],
        rests_on=(*tag.get("rests_on", ()), f"clauses.{tag['id']}"),
    )

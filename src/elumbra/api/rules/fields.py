"""What the fields of a law record are called, and where they stand on its page."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from elumbra.api.car_view.law_books import value_words
from elumbra.api.rules.schemas import FieldGroup
from elumbra.core.glass import Position
from elumbra.core.law import FloorKind, Jurisdiction, VehicleClass

_LABELS = {
    "statute": "Statute",
    "basis": "What counts: glass and film, or film alone",
    "tolerance_points": "Meter tolerance that the law grants",
    "works_inside_tolerance": "This shop works inside that tolerance",
    "reflectance_of": "Reflection is of",
    "banned_colours": "Banned colours",
    "banned_colours_where": "Colour ban holds on",
    "mirrors_required_if_rear_tinted": "Outside mirrors when the rear window is tinted",
    "mirrors_else_vlt": "Rear window VLT that needs no mirrors, %",
    "sticker_or_label": "Sticker or label",
    "medical_exemption": "Medical exemption",
    "exemption.means": "Medical exemption is for",
    "exemption.issued_until": "Medical exemptions stand that were issued until",
}
_WINDSHIELD = {
    "strip": "strip reaches down to",
    "strip_inches": "strip, inches",
    "strip_vlt": "least light in the strip",
    "below_strip": "least light below the strip",
}
_GROUPS: dict[str, FieldGroup] = {
    "statute": "source",
    "basis": "light",
    "tolerance_points": "light",
    "works_inside_tolerance": "light",
    "banned_colours": "colour",
    "banned_colours_where": "colour",
    "mirrors_required_if_rear_tinted": "mirrors",
    "mirrors_else_vlt": "mirrors",
    "sticker_or_label": "papers",
    "medical_exemption": "papers",
}


def field_label(path: str, record: Jurisdiction) -> str:
    """A field's name as people say it."""
    if path in _LABELS:
        return _LABELS[path]
    if path.startswith("clauses."):
        clause_id = path.removeprefix("clauses.")
        return next((str(one["sentence"]) for one in record.row["clauses"] if one["id"] == clause_id), path)
    head, *rest = path.split(".")
    if head == "readings":
        reading = record.readings.get(rest[0])
        return reading.question if reading else path
    if head == "exemption":
        return f"Medical exemption at the {rest[0].replace('_', ' ')}"
    if head == "reflectance":
        return f"Reflection at the {rest[0].replace('_', ' ')}"
    if rest and rest[0] == "windshield" and len(rest) == 2:
        return f"Windshield, {_WINDSHIELD.get(rest[1], rest[1])} ({head})"
    return f"Least light at the {rest[0].replace('_', ' ')} ({head})" if rest else path


_COVERED = {
    FloorKind.NO_FLOOR: "covered, any darkness",
    FloorKind.NONE_ALLOWED: "not covered",
    FloorKind.UNKNOWN: "not recorded",
}


def field_words(path: str, value: Any) -> str:
    """What stands in a field, in words."""
    if not path.startswith("exemption."):
        return value_words(value)
    if not isinstance(value, Mapping):
        return {"device": "a removable device, not film", "": "still granted"}.get(value, str(value))
    kind = FloorKind(value["kind"])
    least = f"{value['value']:g} %" if "value" in value else ""
    if kind is FloorKind.FLOOR:
        return f"covered, at least {least}"
    return f"{_COVERED[kind]}, at least {least}" if least else _COVERED[kind]


def field_group(path: str) -> FieldGroup:
    """The part of the page that a field stands in."""
    if path in _GROUPS:
        return _GROUPS[path]
    if path.startswith("clauses."):
        return "linked"
    if path.startswith("readings."):
        return "reading"
    if path.startswith("exemption."):
        return "papers"
    if path.startswith("reflectance"):
        return "reflection"
    return "windshield" if ".windshield." in path else "light"


def field_place(path: str) -> tuple[VehicleClass | None, Position | None]:
    """The class and position a field is about, where it is about one."""
    head, *rest = path.split(".")
    vehicle_class = VehicleClass(head) if head in list(VehicleClass) else None
    place = rest[0] if rest else ""
    position = Position(place) if place in list(Position) else None
    return vehicle_class, position

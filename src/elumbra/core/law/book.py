"""The rule book: records by effective day, and the shop's own word on single fields."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping, Sequence
from copy import deepcopy
from dataclasses import dataclass, replace
from difflib import get_close_matches
from typing import Any

from elumbra.core.errors import LawError
from elumbra.core.law.exemption import EXEMPTION, exemption_default
from elumbra.core.law.facts import VehicleClass
from elumbra.core.law.floors import FloorKind
from elumbra.core.law.records import (
    REFLECTANCE_POSITIONS,
    SIDE_POSITIONS,
    FieldSource,
    Jurisdiction,
    parse_record,
)
from elumbra.core.starting import StartingValues

LAW_FORMAT = "elumbra-law"
LAW_FORMAT_VERSION = 2
CLAUSES = "clauses."  # before a linked clause's id: whether it holds as written
WORKS_INSIDE = "works_inside_tolerance"  # the shop's own setting, kept like its word on a field
_DAY = re.compile(r"\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])")


@dataclass(frozen=True)
class FieldWord:
    """The shop's own word on one field of a record: confirmed as it stands, or overruled.

    ``effective_from`` and ``effective_until`` are ISO days, both included; empty is open.
    """

    id: str
    code: str
    field: str
    value: Any
    citation: str
    effective_from: str = ""
    effective_until: str = ""
    person: str = ""
    at: str = ""

    def in_force(self, day: str) -> bool:
        """Whether it holds on a day."""
        return self.effective_from <= day and (not self.effective_until or day <= self.effective_until)


@dataclass(frozen=True, eq=False)
class LawBook:
    """The records in force on one day."""

    version: str
    compiled: str
    day: str
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

    def with_sources(self, sources: Mapping[str, Mapping[str, FieldSource]]) -> LawBook:
        """The same records, with who confirmed or overruled which field."""
        records = {code: replace(r, sources=sources.get(code, r.sources)) for code, r in self.records.items()}
        return replace(self, records=records)


@dataclass(frozen=True, eq=False)
class LawFile:
    """All records of one version of a law file, each jurisdiction's by effective day."""

    version: str
    compiled: str
    records: Mapping[str, tuple[Jurisdiction, ...]]

    def on(self, day: str, words: Sequence[FieldWord] = ()) -> LawBook:
        """The rule book as it stands on a day, the shop's own words laid over it.

        Raises
        ------
        LawError
            A word that does not fit its field; the field is named.
        """
        in_force: dict[str, Jurisdiction] = {}
        for code, versions in self.records.items():
            begun = [record for record in versions if record.effective_from <= day]
            if begun:
                in_force[code] = _with_words(begun[-1], [w for w in words if w.code == code and w.in_force(day)])
        return LawBook(self.version, self.compiled, day, in_force)


def parse_law_file(document: Mapping[str, Any]) -> LawFile:
    """Read a law file's content.

    Raises
    ------
    LawError
        Foreign format, future version, a value or condition word outside its closed
        vocabulary (with the nearest known one), or two records in force from the same day.
    """
    if document.get("format") != LAW_FORMAT:
        raise LawError("This is not an Elumbra law file: its “format” is not “elumbra-law”.")
    if document.get("format_version") != LAW_FORMAT_VERSION:
        raise LawError(
            f"This law file has format version {document.get('format_version')}; "
            f"this program reads {LAW_FORMAT_VERSION}."
        )
    rows = document.get("records")
    if not isinstance(rows, list) or not rows:
        raise LawError("This law file has no records.", fields={"records": "A list of at least one."})
    found: dict[str, list[Jurisdiction]] = {}
    for row in rows:
        record = _record(row)
        versions = found.setdefault(record.code, [])
        if any(other.effective_from == record.effective_from for other in versions):
            since = record.effective_from or "the start"
            raise LawError(f"Law record {record.code} stands twice from {since}: the effective dates overlap.")
        versions.append(record)
    records = {code: tuple(sorted(v, key=lambda record: record.effective_from)) for code, v in found.items()}
    return LawFile(str(document["version"]), str(document["compiled"]), records)


def _record(row: Any) -> Jurisdiction:
    code = row.get("code", "?") if isinstance(row, Mapping) else "?"
    try:
        return parse_record(row)
    except KeyError as error:
        raise LawError(f"Law record {code} cannot be used: it has no “{error.args[0]}”.") from error
    except (ValueError, TypeError, AttributeError) as error:
        raise LawError(f"Law record {code} cannot be used: {error}.") from error


def field_paths(record: Jurisdiction) -> list[str]:
    """Every field of a record that somebody can confirm or overrule."""
    paths = ["statute", "basis", "tolerance_points"]
    for vehicle_class in VehicleClass:
        paths += [f"{vehicle_class.value}.{position.value}" for position in SIDE_POSITIONS]
        paths += [
            f"{vehicle_class.value}.windshield.{name}" for name in ("strip", "strip_inches", "strip_vlt", "below_strip")
        ]
    paths += [f"reflectance.{position.value}" for position in REFLECTANCE_POSITIONS]
    paths += ["reflectance_of", "banned_colours", "banned_colours_where"]
    if record.tolerance_points:
        paths.append(WORKS_INSIDE)
    paths += ["mirrors_required_if_rear_tinted", "mirrors_else_vlt", "sticker_or_label", "medical_exemption"]
    paths += [f"{EXEMPTION}.{part}" for part in ("means", "issued_until", *map(str, REFLECTANCE_POSITIONS))]
    paths += [f"readings.{key}" for key in record.readings]
    return [*paths, *(f"{CLAUSES}{name}" for name in clause_ids(record))]


def clause_ids(record: Jurisdiction) -> list[str]:
    """Every linked clause of a record, those too that the shop says do not hold."""
    return [str(clause["id"]) for clause in record.row["clauses"]]


def field_value(record: Jurisdiction, path: str) -> Any:
    """A field's value as it stands in the law file."""
    if path.startswith(CLAUSES):
        return record.row.get("clauses_said", {}).get(path.removeprefix(CLAUSES), True)
    if path.startswith(f"{EXEMPTION}."):
        part = path.removeprefix(f"{EXEMPTION}.")
        return (record.row.get(EXEMPTION) or {}).get(part, exemption_default(part))
    value: Any = record.row
    for part in _steps(path):
        value = value.get(part)
    return value


def odd_limit(record: Jurisdiction, path: str, value: Any, *, starting: StartingValues) -> str:
    """Why a least light as typed is asked again: a fraction, hardly any light, or far under the old one.

    Empty where there is nothing odd about it.
    """
    if not isinstance(value, Mapping) or value.get("kind") != FloorKind.FLOOR.value:
        return ""
    typed = value.get("value")
    if not isinstance(typed, int | float) or isinstance(typed, bool):
        return ""
    if 0 < typed < 1:
        return f"{typed:g} % is nearly no light. Did you mean {100 * typed:g} %?"
    if typed < 100 * starting["limit_asked_below"]:
        return f"A limit of {typed:g} % is darker than any film. Is it right?"
    old = field_value(record, path)
    known = old.get("value") if isinstance(old, Mapping) else None
    if known is not None and known - typed >= 100 * starting["limit_asked_drop"]:
        return f"{typed:g} % is {known - typed:g} points under the {known:g} % on file. Is it right?"
    return ""


def check_word(record: Jurisdiction, word: FieldWord, others: Sequence[FieldWord]) -> None:
    """Refuse a word on a field that cannot be taken.

    Raises
    ------
    LawError
        No such field, no citation, days that are not days or overlap another word's, or a
        value outside the field's vocabulary; ``fields`` says which.
    """
    fields: dict[str, str] = {}
    if word.field not in field_paths(record):
        near = get_close_matches(word.field, field_paths(record), n=1, cutoff=0.0)
        fields["field"] = f"There is no field “{word.field}”. Did you mean “{near[0]}”?"
    if not word.citation.strip():
        fields["citation"] = "Say where it stands: the section, the page, who told you and when."
    for name in ("effective_from", "effective_until"):
        day = getattr(word, name)
        if day and not _DAY.fullmatch(day):
            fields[name] = f"“{day}” is not a day like 2027-01-31."
    if not fields and word.effective_until and word.effective_until < word.effective_from:
        fields["effective_until"] = "It ends before it begins."
    if not fields:
        fields = _overlaps(word, [other for other in others if other.field == word.field])
    if not fields:
        try:
            _apply(record.row, [word])
        except (ValueError, TypeError, KeyError, AttributeError) as error:
            fields["value"] = f"This cannot stand there: {error}."
    if fields:
        raise LawError(f"{record.name}, {word.field}: {next(iter(fields.values()))}", fields=fields)


def _overlaps(word: FieldWord, others: Sequence[FieldWord]) -> dict[str, str]:
    """An open-ended word ends when a later one begins; anything else that shares a day overlaps."""
    for other in others:
        first, second = sorted((word, other), key=lambda one: one.effective_from)
        ends = first.effective_until
        if first.effective_from == second.effective_from or (ends and second.effective_from <= ends):
            since = other.effective_from or "the start"
            until = other.effective_until or "further notice"
            return {
                "effective_from": f"The shop's word from {since} to {until} covers some of these days. "
                "Withdraw that one first, or choose other days."
            }
    return {}


def _with_words(record: Jurisdiction, words: Sequence[FieldWord]) -> Jurisdiction:
    if not words:
        return record
    latest = {word.field: word for word in sorted(words, key=lambda one: one.effective_from)}
    try:
        row = _apply(record.row, list(latest.values()))
        sources = {
            word.field: FieldSource(
                word.value != field_value(record, word.field), word.citation, word.effective_from, word.person, word.at
            )
            for word in latest.values()
        }
        return parse_record(row, sources)
    except (ValueError, TypeError, KeyError, AttributeError) as error:
        raise LawError(f"The shop's word on {record.code} cannot be used: {error}.") from error


def _apply(row: Mapping[str, Any], words: Sequence[FieldWord]) -> dict[str, Any]:
    changed: dict[str, Any] = deepcopy(dict(row))
    for word in words:
        if word.field.startswith(CLAUSES):
            changed.setdefault("clauses_said", {})[word.field.removeprefix(CLAUSES)] = word.value
            continue
        *steps, last = _steps(word.field)
        place = changed
        if steps == [EXEMPTION]:
            place.setdefault(EXEMPTION, {})
        for step in steps:
            place = place[step]
        place[last] = word.value
        changed["check"] = [name for name in changed["check"] if name != word.field]
    parse_record(changed)
    return changed


def _steps(path: str) -> Iterator[str]:
    steps = path.split(".")
    yield from ([*steps, "holds"] if steps[0] == "readings" else steps)

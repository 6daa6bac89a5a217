"""A record turned into the clauses that one kind of pane must keep."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

from elumbra.core.glass import Position
from elumbra.core.law.conditions import Condition, StripRule, Word, all_of, any_of, words_in
from elumbra.core.law.facts import VehicleClass
from elumbra.core.law.floors import Floor, FloorKind
from elumbra.core.law.records import Jurisdiction, LinkedClause, ReflectanceKind, Role
from elumbra.core.law.strips import strip_words
from elumbra.core.light import percent


@dataclass(frozen=True)
class Clause:
    """One rule for a pane, with the record's fields that it rests on."""

    id: str  # floor, strip, reflection, colour, mirrors, or a linked clause's own
    condition: Condition
    sentence: str
    citation: str
    rests_on: tuple[str, ...]
    scope: bool = False


@dataclass(frozen=True, eq=False)
class PaneRules:
    """All clauses for one kind of pane, and which of their fields nobody has confirmed."""

    clauses: tuple[Clause, ...]
    unconfirmed: tuple[str, ...]
    scoped: int  # so many of them, first in order, say whether the section speaks of this vehicle
    floor_at: int
    looks_around: bool  # some of them depend on other windows' film


@lru_cache(maxsize=8192)
def rules_for(law: Jurisdiction, vehicle_class: VehicleClass, position: Position, strip: bool) -> PaneRules:
    """The rules for a kind of pane; built once for each record."""
    clauses = clauses_for(law, vehicle_class, position, strip=strip)
    used = {field for clause in clauses for field in clause.rests_on} | {"statute"}
    floor_at = next(i for i, clause in enumerate(clauses) if clause.id == "floor")
    scoped = sum(clause.scope for clause in clauses)
    words = set[Word]().union(*(words_in(clause.condition) for clause in clauses))
    around = bool(words & {Word.OTHER_WINDOWS, Word.NO_FILM_ON, Word.FACTORY_GLASS})
    return PaneRules(clauses, tuple(sorted(law.unconfirmed & used)), scoped, floor_at, around)


def clauses_for(
    law: Jurisdiction, vehicle_class: VehicleClass, position: Position, *, strip: bool
) -> tuple[Clause, ...]:
    """The clauses of a record for a pane of a class and position, or for a strip on it.

    A linked clause that stands instead of the table's rule, or replaces it, is merged with
    it; the others stand by themselves.
    """
    linked = [
        clause for clause in law.clauses if vehicle_class in clause.classes and clause.speaks_of(position, strip=strip)
    ]
    linked.sort(key=lambda clause: clause.on == "strip")  # what is said of strips has the last word on them
    scope = [_own(clause, scope=True) for clause in linked if clause.role is Role.SCOPE]
    built = [_merged(base, linked) for base in _table_clauses(law, vehicle_class, position, strip)]
    also = [_own(clause, scope=False) for clause in linked if clause.role is Role.ALSO]
    floor = law.floor(vehicle_class, position, strip=strip)
    return tuple(
        replace(
            clause,
            condition=_with_floor(clause.condition, floor),
            sentence=_with_disputes(clause, law),
            citation=_cited(clause, law),
        )
        for clause in (*scope, *built, *also)
    )


def _cited(clause: Clause, law: Jurisdiction) -> str:
    """A clause's citation, with the shop's own where it spoke on a field the clause rests on."""
    own = dict.fromkeys(
        f"{'overruled' if source.overruled else 'confirmed'} by the shop: {source.citation}"
        for field in clause.rests_on
        if (source := law.sources.get(field))
    )
    return "; ".join([clause.citation, *own])


def _with_disputes(clause: Clause, law: Jurisdiction) -> str:
    """A clause's sentence, with what is disputed of the fields it rests on."""
    told = [clause.sentence]
    for dispute in law.unsettled(clause.rests_on):
        values = " or ".join(dispute_words(value) for value in dispute.values)
        told.append(f"Two readings are on file: {values}. The stricter decides until the shop settles it.")
    return " ".join(dict.fromkeys(told))


def dispute_words(value: Any) -> str:
    """A value of a law file as it is told where two of them are on file.

    Examples
    --------
    >>> dispute_words({"kind": "floor", "value": 35}), dispute_words({"kind": "none_allowed"}), dispute_words(None)
    ('35 %', 'no film', 'not on file')
    """
    match value:
        case {"kind": "floor", "value": figure} | {"kind": "numeric", "percent": figure}:
            return f"{figure:g} %"
        case {"kind": "granted", "points": points}:
            return f"{points:g} points"
        case {"kind": kind}:
            return _KIND_WORDS.get(kind, str(kind).replace("_", " "))
        case None:
            return "not on file"
        case True | False:
            return "yes" if value else "no"
        case _:
            return str(value).replace("_", " ")


_KIND_WORDS = {
    "no_floor": "any darkness", "none_allowed": "no film", "unknown": "not on file", "none_recalled": "no tolerance",
    "none": "no tolerance", "non_mirror": "no mirror", "no_rule": "no rule",
}  # fmt: skip


def _with_floor(condition: Condition, floor: Floor) -> Condition:
    """A condition with the table's figure put in where it says “floor”."""
    if condition.word is Word.FLOOR:
        return replace(condition, floor=floor.kind.value, least=floor.value)
    return replace(condition, parts=tuple(_with_floor(part, floor) for part in condition.parts))


def _own(clause: LinkedClause, *, scope: bool) -> Clause:
    return Clause(clause.id, clause.condition, clause.sentence, clause.citation, clause.rests_on, scope=scope)


def _merged(base: Clause, linked: list[LinkedClause]) -> Clause:
    for clause in linked:
        if clause.of != base.id:
            continue
        rests_on = (*base.rests_on, *clause.rests_on)
        citation = base.citation if clause.citation == base.citation else f"{base.citation}; {clause.citation}"
        if clause.role is Role.REPLACES:
            base = Clause(base.id, clause.condition, clause.sentence, citation, rests_on)
        elif clause.role is Role.INSTEAD:
            words = f"{base.sentence} Or: {clause.sentence}"
            base = Clause(base.id, any_of(base.condition, clause.condition), words, citation, rests_on)
    return base


def _table_clauses(law: Jurisdiction, vehicle_class: VehicleClass, position: Position, strip: bool) -> list[Clause]:
    clauses = []
    if strip and position is Position.WINDSHIELD:
        clauses.append(_strip(law, vehicle_class))
    clauses.append(_floor(law, vehicle_class, position, strip))
    clauses.append(_reflection(law, position))
    if position is Position.WINDSHIELD or not law.banned_on_windshield_only:
        clauses += _colours(law)
    if position is Position.REAR_WINDOW and law.mirrors_if_rear_tinted is not False:
        clauses.append(_mirrors(law))
    return clauses


def _colours(law: Jurisdiction) -> list[Clause]:
    """The colours that are banned; an empty list that nobody confirmed says nothing."""
    field = ("banned_colours",)
    if law.banned_colours:
        banned = tuple(sorted(law.banned_colours))
        words = f"No {_listed(banned)} film{' on the windshield' if law.banned_on_windshield_only else ''}."
        return [Clause("colour", Condition(Word.FILM_COLOUR_NOT, among=banned), words, law.statute, field)]
    if "banned_colours" not in law.unconfirmed:
        return []
    words = "Which colours are banned is not on file."
    return [Clause("colour", Condition(Word.FILM_COLOUR_NOT, key="unknown"), words, law.statute, field)]


def _listed(words: tuple[str, ...]) -> str:
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} or {words[-1]}"


def _strip(law: Jurisdiction, vehicle_class: VehicleClass) -> Clause:
    rule = law.windshield[vehicle_class]
    field = f"{vehicle_class.value}.windshield"
    words = f"A strip on the windshield may reach down to {strip_words(rule.strip, rule.strip_inches)}."
    match rule.strip:
        case StripRule.SEAT_HEIGHT:
            condition = Condition(Word.SEAT_HEIGHT, inches=rule.strip_inches)
            words = f"The strip's lower edge lies at least {rule.strip_inches:g} in above the driver's seat."
        case StripRule.AS_BELOW:
            condition = Condition(Word.ALL, (Condition(Word.FLOOR),))
            words = "There is no separate strip: the whole windshield keeps the limit of the glass below."
        case StripRule.NONE:
            condition, words = Condition(Word.STRIP, strip=rule.strip), "No strip on the windshield."
        case _:
            condition = Condition(Word.STRIP, strip=rule.strip, inches=rule.strip_inches, key=f"{field}.strip")
    return Clause("strip", condition, words, law.statute, (f"{field}.strip", f"{field}.strip_inches"))


def _floor(law: Jurisdiction, vehicle_class: VehicleClass, position: Position, strip: bool) -> Clause:
    floor = law.floor(vehicle_class, position, strip=strip)
    where = position.value.replace("_", " ")
    through = "the film by itself" if law.basis == "film" else "glass and film"
    if position is Position.WINDSHIELD:
        where = "windshield strip" if strip else "windshield below the strip"
        field = f"{vehicle_class.value}.windshield.{'strip_vlt' if strip else 'below_strip'}"
    else:
        field = f"{vehicle_class.value}.{position.value}"
    match floor.kind:
        case FloorKind.FLOOR:
            words = f"At least {percent(floor.value or 0)} through {through} at the {where}."
        case FloorKind.NO_FLOOR:
            words = f"Any darkness at the {where}."
        case FloorKind.NONE_ALLOWED:
            words = f"No film at the {where}."
        case _:
            words = f"No rule on file for the {where}."
    rests_on = (field, "basis") if floor.kind is FloorKind.FLOOR else (field,)
    return Clause("floor", Condition(Word.FLOOR), words, law.statute, rests_on)


def _reflection(law: Jurisdiction, position: Position) -> Clause:
    rule = law.reflectance[position]
    field = (f"reflectance.{position.value}",)
    match rule.kind:
        case ReflectanceKind.NUMERIC:
            meant, of = _REFLECTING[law.reflectance_of]
            words = f"At most {percent(rule.most or 0)} reflected by {of}."
            condition = all_of(*(Condition(word, most=rule.most) for word in meant))
            return Clause("reflection", condition, words, law.statute, (*field, "reflectance_of"))
        case ReflectanceKind.NON_REFLECTIVE:
            words = "Film that does not reflect."
            return Clause("reflection", Condition(Word.NON_REFLECTIVE), words, law.statute, field)
        case ReflectanceKind.NON_MIRROR:
            words = "No metallic or mirrored film."
            return Clause("reflection", Condition(Word.NO_MIRROR_FINISH), words, law.statute, field)
        case ReflectanceKind.NO_RULE:
            return Clause("reflection", Condition(Word.FILM_REFLECTS, most=1.0),
                          "No rule about reflection.", law.statute, field)  # fmt: skip
        case _:
            return Clause("reflection", Condition(Word.FILM_REFLECTS), "Reflection: no rule on file.",
                          law.statute, field)  # fmt: skip


_REFLECTING = {
    "film": ((Word.FILM_REFLECTS,), "the film"),
    "window": ((Word.WINDOW_REFLECTS,), "glass and film"),
    "either": ((Word.FILM_REFLECTS, Word.WINDOW_REFLECTS), "the film, and by glass and film"),
}


def _mirrors(law: Jurisdiction) -> Clause:
    field = ("mirrors_required_if_rear_tinted",)
    if law.mirrors_if_rear_tinted is None:
        condition = Condition(Word.OUTSIDE_MIRRORS, key="unknown")
        words = "Whether film on the rear window asks for outside mirrors is not on file."
        return Clause("mirrors", condition, words, law.statute, field)
    condition = Condition(Word.OUTSIDE_MIRRORS)
    words = "Film on the rear window asks for outside mirrors on both sides"
    if law.mirrors_else is not None:
        condition = any_of(condition, Condition(Word.THIS_WINDOW, least=law.mirrors_else))
        words += f", or for {percent(law.mirrors_else)} there"
    return Clause("mirrors", all_of(condition), f"{words}.", law.statute, field)

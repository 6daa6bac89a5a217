"""Law records as they are read, what each refuses and how, and every sentence that the law says."""

from __future__ import annotations

import json
from typing import Any

import pytest

from elumbra.core.errors import LawError
from elumbra.core.film import Colour
from elumbra.core.glass import Position
from elumbra.core.law import (
    CarFacts,
    FieldWord,
    PaneFacts,
    StripRule,
    VehicleClass,
    check_word,
    field_paths,
    field_value,
    judge,
    odd_limit,
    parse_condition,
    parse_law_file,
)
from elumbra.core.law.floors import FloorKind
from elumbra.core.law.records import ReflectanceKind, Role
from tests.catalogue.law import DAY, DOCUMENT, LAW, START, light
from tests.catalogue.law_told import FILE as TOLD
from tests.catalogue.law_told import told
from tests.catalogue.panes import film


def test_every_sentence_is_as_it_was_last_read() -> None:
    """What differs was changed on purpose, or is a fault: ``python -m tests.catalogue.law_told`` writes it anew."""
    known, now = TOLD.read_text("utf-8").splitlines(), told()
    gone, new = [one for one in known if one not in now], [one for one in now if one not in known]
    assert (gone[:5], new[:5]) == ([], [])
    assert known == now


# --- reading: each field of each record held against the file, by plain reading


def share(percent: float | None) -> float | None:
    return None if percent is None else percent / 100


def test_every_record_is_read_as_it_stands() -> None:
    file = parse_law_file(DOCUMENT)
    assert (file.version, file.compiled) == (DOCUMENT["version"], DOCUMENT["compiled"])
    book = file.on(DAY)
    assert (book.version, book.compiled, book.day) == (DOCUMENT["version"], DOCUMENT["compiled"], DAY)
    for row in DOCUMENT["records"]:
        record = book.of(row["code"])
        assert (record.code, record.name, record.statute) == (row["code"], row["name"], row["statute"])
        assert (record.effective_from, record.basis) == (row["effective_from"], row["basis"])
        granted = row["tolerance_points"]["kind"] == "granted"
        assert record.tolerance_points == (float(row["tolerance_points"]["points"]) if granted else None)
        assert (record.tolerance_how, record.confidence) == (row["tolerance_how"], row["confidence"])
        for vehicle_class in VehicleClass:
            for position in (Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW):
                tag, floor = row[vehicle_class.value][position.value], record.floor(vehicle_class, position)
                assert (floor.kind, floor.value) == (FloorKind(tag["kind"]), share(tag.get("value")))
            tag, rule = row[vehicle_class.value]["windshield"], record.windshield[vehicle_class]
            assert (rule.strip, rule.strip_inches) == (StripRule(tag["strip"]), tag["strip_inches"])
            for name, floor in (("strip_vlt", rule.strip_vlt), ("below_strip", rule.below_strip)):
                assert (floor.kind, floor.value) == (FloorKind(tag[name]["kind"]), share(tag[name].get("value")))
        for position in Position:
            if position is not Position.ROOF:
                tag, reflects = row["reflectance"][position.value], record.reflectance[position]
                assert (reflects.kind, reflects.most) == (ReflectanceKind(tag["kind"]), share(tag.get("percent")))
        assert record.reflectance_of == row["reflectance_of"]
        assert record.banned_colours == {Colour(name.lower()) for name in row["banned_colours"]}
        assert record.banned_on_windshield_only == (row["banned_colours_where"] == "windshield")
        assert record.mirrors_if_rear_tinted is row["mirrors_required_if_rear_tinted"]
        assert record.mirrors_else == share(row["mirrors_else_vlt"])
        assert {key: (one.question, one.holds, one.until_settled) for key, one in record.readings.items()} == {
            key: (one["question"], one["holds"], one.get("until_settled")) for key, one in row["readings"].items()
        }
        assert record.unconfirmed == {*row["check"], *(f"clauses.{one['id']}" for one in row["clauses"])}
        assert {name: one.values for name, one in record.disputes.items()} == {
            one["field"]: tuple(one["values"]) for one in row["disputed"]
        }
        assert record.notes == " ".join(filter(None, (row["other"], row["second_note"])))
        assert (record.row, record.sources, record.works_inside_tolerance) == (row, {}, False)
        for tag, clause in zip(row["clauses"], record.clauses, strict=True):
            assert (clause.id, clause.role, clause.of) == (tag["id"], Role(tag["role"]), tag.get("of", "floor"))
            assert {one.value for one in clause.classes} == set(tag.get("classes", [c.value for c in VehicleClass]))
            assert {one.value for one in clause.positions} == set(tag["positions"])
            assert (clause.on, clause.sentence) == (tag.get("on", ""), tag["sentence"])
            assert clause.citation == (tag.get("citation") or row["statute"])
            assert clause.rests_on == (*tag.get("rests_on", ()), f"clauses.{tag['id']}")
            assert clause.condition == parse_condition(tag["condition"])


# --- refusals, word for word

CLAUSE = {"id": "x", "role": "also", "positions": ["rear_side"], "sentence": "s", "condition": {"floor": True}}


def refused(change: dict[str, Any], *, drop: str = "") -> str:
    row = json.loads(json.dumps(DOCUMENT["records"][0]))
    for path, value in change.items():
        place = row
        *steps, last = path.split("/")
        for step in steps:
            place = place[step]
        place[last] = value
    row.pop(drop, None)
    with pytest.raises(LawError) as refusal:
        parse_law_file(DOCUMENT | {"records": [row]})
    return refusal.value.message


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"basis": "both"}, "basis is “both”; it is one of net, film"),
        ({"reflectance_of": "x"}, "reflectance_of is “x”; it is one of film, window, either"),
        ({"banned_colours_where": "x"}, "banned_colours_where is “x”; it is one of all, windshield"),
        ({"tolerance_points": {"kind": "x"}}, "tolerance is “x”; it is one of granted, none_recalled, none, unknown"),
        ({"tolerance_points": {"kind": "granted", "points": 20.5}}, "a tolerance of 20.5 points is outside 0 to 20"),
        ({"tolerance_points": {"kind": "granted", "points": -1}}, "a tolerance of -1 points is outside 0 to 20"),
        ({"tolerance_points": {"kind": "granted", "points": "3"}}, "a tolerance of 3 points is outside 0 to 20"),
        ({"effective_from": "2027-1-1"}, "“2027-1-1” is not a day like 2027-01-31"),
        ({"mirrors_required_if_rear_tinted": "yes"}, "'yes' is not yes, no or unknown"),
        ({"mirrors_else_vlt": 101}, "a figure of 101 % is outside 0 to 100 %"),
        ({"mirrors_else_vlt": True}, "a figure of True % is outside 0 to 100 %"),
        ({"passenger/front_side": {"kind": "floor"}}, "a floor needs its value in percent"),
        ({"passenger/front_side": {"kind": "floor", "value": -1}}, "a figure of -1 % is outside 0 to 100 %"),
        ({"passenger/front_side": {"kind": "floor", "value": "70"}}, "a figure of 70 % is outside 0 to 100 %"),
        ({"reflectance/front_side": {"kind": "numeric"}}, "a numeric reflectance rule needs its percent"),
        ({"passenger/windshield/strip_inches": 0}, "a strip of 0 in is outside 0 to 60 in"),
        ({"passenger/windshield/strip_inches": 61}, "a strip of 61 in is outside 0 to 60 in"),
        ({"passenger/windshield/strip_inches": "5"}, "a strip of 5 in is outside 0 to 60 in"),
        ({"passenger/windshield/strip": "inches", "passenger/windshield/strip_inches": None}, "strip rule “inches” needs its inches"),
        ({"clauses": [CLAUSE | {"of": "x"}]}, "of is “x”; it is one of floor, strip"),
        ({"clauses": [CLAUSE | {"on": "x"}]}, "on is “x”; it is one of , strip, glass, both"),
        ({"clauses_said": {"x": "yes"}}, "a linked clause holds as written or does not"),
        ({"banned_colours": ["greeen"]}, "“greeen” is not a colour of the list; the nearest is “green”"),
        ({"clauses": [CLAUSE | {"condition": {"all": "x"}}]}, "“all” needs a list of conditions"),
        ({"clauses": [CLAUSE | {"condition": {"any": []}}]}, "“any” needs a list of conditions"),
        ({"clauses": [CLAUSE | {"condition": {"floor": 1}}]}, "“floor” takes true, not 1"),
        ({"clauses": [CLAUSE | {"condition": {"this_window": {"least": 101}}}]}, "“this_window”: 101 is outside 0 to 100 %"),
        ({"clauses": [CLAUSE | {"condition": {"this_window": {"least": -1}}}]}, "“this_window”: -1 is outside 0 to 100 %"),
        ({"clauses": [CLAUSE | {"condition": {"this_window": {"least": "x"}}}]}, "“this_window”: 'x' is outside 0 to 100 %"),
        ({"clauses": [CLAUSE | {"condition": {"this_window": {"at": ["roof"]}}}]}, "“this_window” takes least or most, in percent; it has {'at': ['roof']}"),
        ({"clauses": [CLAUSE | {"condition": {"this_window": {"least": 5, "x": 1}}}]}, "“this_window” takes least or most, in percent; it has {'least': 5, 'x': 1}"),
        ({"clauses": [CLAUSE | {"condition": {"no_film_on": []}}]}, "“no_film_on” needs a list of positions"),
        ({"clauses": [CLAUSE | {"condition": {"built_as": {"persons_at_most": 10, "any": ["x", "truck_chassis"]}}}]}, "“built_as” knows truck_chassis, off_road_parts, not x"),
        ({"clauses": [CLAUSE | {"condition": {"strip": {"rule": "longer"}}}]}, "strip rule “longer” needs inches"),
        ({"clauses": [CLAUSE | {"condition": {"strips": {"rule": "as1"}}}]}, "unknown condition word “strips”; the nearest known word is “strip”"),
        ({"clauses": [CLAUSE | {"condition": {"floor": True, "strip": {}}}]}, "a condition is one word with its argument, not {'floor': True, 'strip': {}}"),
    ],
)  # fmt: skip
def test_a_record_with_a_slip_is_refused_word_for_word(change: dict[str, Any], says: str) -> None:
    assert refused(change) == f"Law record AK cannot be used: {says}."


def test_a_record_that_lacks_something_says_what() -> None:
    assert refused({}, drop="statute") == "Law record AK cannot be used: it has no “statute”."
    assert refused({}, drop="code") == "Law record ? cannot be used: it has no “code”."


@pytest.mark.parametrize(
    ("change", "says", "fields"),
    [
        ({"format": "x"}, "This is not an Elumbra law file: its “format” is not “elumbra-law”.", {}),
        ({"format_version": 3}, "This law file has format version 3; this program reads 2.", {}),
        ({"records": []}, "This law file has no records.", {"records": "A list of at least one."}),
        ({"records": {}}, "This law file has no records.", {"records": "A list of at least one."}),
        ({"records": DOCUMENT["records"][:1] * 2}, "Law record AK stands twice from the start: the effective dates overlap.", {}),
    ],
)  # fmt: skip
def test_a_foreign_file_is_refused_word_for_word(change: dict[str, Any], says: str, fields: dict[str, str]) -> None:
    with pytest.raises(LawError) as refusal:
        parse_law_file(DOCUMENT | change)
    assert (refusal.value.message, dict(refusal.value.fields)) == (says, fields)


def test_a_state_that_is_not_on_file_names_those_that_are_near() -> None:
    with pytest.raises(LawError) as refusal:
        LAW.of("tz")
    assert refusal.value.message.startswith("There is no state “tz” in the rule book. Did you mean ")
    assert "TX" in refusal.value.message
    assert dict(refusal.value.fields) == {"state": "Pick a state."}
    with pytest.raises(LawError) as refusal:
        LAW.of("999")
    assert refusal.value.message == "There is no state “999” in the rule book."


# --- conditions as they are read


@pytest.mark.parametrize(
    ("document", "facts"),
    [
        ({"other_windows": {"at": ["windshield"], "least": 70}}, {"at": (Position.WINDSHIELD,), "least": 0.7, "most": None}),
        ({"film_reflects": {"most": 13}}, {"at": (), "least": None, "most": 0.13}),
        ({"this_window": {"least": 0}}, {"least": 0.0}),
        ({"this_window": {"least": 100}}, {"least": 1.0}),
        ({"registered_as": ["van", "pickup"]}, {"among": ("van", "pickup")}),
        ({"film_colour_not": ["Gold", "silver"]}, {"among": ("gold", "silver")}),
        ({"built_as": {"persons_at_most": 10, "any": ["truck_chassis"]}}, {"most": 10.0, "among": ("truck_chassis",)}),
        ({"film_layers": {"most": 1}}, {"most": 1.0}),
        ({"model_year": {"from": 1994, "otherwise": "x."}}, {"least": 1994.0, "key": "x."}),
        ({"model_year": {"from": 1994}}, {"least": 1994.0, "key": ""}),
        ({"strip": {"rule": "longer", "inches": 5}}, {"strip": StripRule.LONGER, "inches": 5}),
        ({"strip": {"rule": "as1"}}, {"strip": StripRule.AS1, "inches": None}),
        ({"seat_height": {"least_inches": 29}}, {"inches": 29.0}),
        ({"settled": "rear"}, {"key": "rear"}),
        ({"factory_glass": "this"}, {"at": ()}),
        ({"factory_glass": ["roof"]}, {"at": (Position.ROOF,)}),
    ],
)  # fmt: skip
def test_a_condition_is_read_as_it_stands(document: dict[str, Any], facts: dict[str, Any]) -> None:
    found = parse_condition(document)
    assert {name: getattr(found, name) for name in facts} == facts
    assert found.word.value == next(iter(document))


# --- the shop's own word


def word(field: str, value: Any, **over: str) -> FieldWord:
    return FieldWord(**({"id": "w", "code": "UT", "citation": "made up"} | over), field=field, value=value)


def refused_word(said: FieldWord, *others: FieldWord) -> dict[str, str]:
    with pytest.raises(LawError) as refusal:
        check_word(LAW.of("UT"), said, list(others))
    first = next(iter(refusal.value.fields.values()))
    assert refusal.value.message == f"Utah, {said.field}: {first}"
    return dict(refusal.value.fields)


def test_a_word_that_cannot_be_taken_is_refused_word_for_word() -> None:
    floor = {"kind": "floor", "value": 35}
    assert refused_word(word("passenger.front_sid", floor)) == {
        "field": "There is no field “passenger.front_sid”. Did you mean “passenger.front_side”?"
    }
    cite = {"citation": "Say where it stands: the section, the page, who told you and when."}
    assert refused_word(word("basis", "net", citation=" ")) == cite
    bad = refused_word(word("basis", "net", effective_from="soon", effective_until="2027-13-01"))
    assert bad == {
        "effective_from": "“soon” is not a day like 2027-01-31.",
        "effective_until": "“2027-13-01” is not a day like 2027-01-31.",
    }
    ends = word("basis", "net", effective_from="2027-02-01", effective_until="2027-01-31")
    assert refused_word(ends) == {"effective_until": "It ends before it begins."}
    assert refused_word(word("basis", "both")) == {
        "value": "This cannot stand there: basis is “both”; it is one of net, film."
    }
    check_word(LAW.of("UT"), word("basis", "net", effective_from="2027-01-31", effective_until="2027-01-31"), [])


def test_words_on_the_same_days_overlap() -> None:
    def says(since: str, until: str) -> dict[str, str]:
        return {
            "effective_from": f"The shop's word from {since} to {until} covers some of these days. "
            "Withdraw that one first, or choose other days."
        }

    open_ended = word("basis", "film")
    assert refused_word(word("basis", "net"), open_ended) == says("the start", "further notice")
    closed = word("basis", "film", effective_from="2027-01-01", effective_until="2027-06-30")
    inside = word("basis", "net", effective_from="2027-06-30")
    assert refused_word(inside, closed) == says("2027-01-01", "2027-06-30")
    before = word("basis", "net", effective_from="2026-01-01", effective_until="2027-01-01")
    assert refused_word(before, closed) == says("2027-01-01", "2027-06-30")
    assert refused_word(inside, word("statute", "x"), closed) == says("2027-01-01", "2027-06-30")
    check_word(LAW.of("UT"), word("basis", "net", effective_from="2027-07-01"), [closed])
    check_word(LAW.of("UT"), inside, [open_ended])  # an open one ends when a later one begins
    check_word(LAW.of("UT"), inside, [word("statute", "x", effective_from="2027-06-30")])


@pytest.mark.parametrize(
    ("value", "says"),
    [
        ({"kind": "floor", "value": 0.35}, "0.35 % is nearly no light. Did you mean 35 %?"),
        ({"kind": "floor", "value": 1}, "A limit of 1 % is darker than any film. Is it right?"),
        ({"kind": "floor", "value": 0}, "A limit of 0 % is darker than any film. Is it right?"),
        ({"kind": "floor", "value": 13}, "13 % is 30 points under the 43 % on file. Is it right?"),
        ({"kind": "floor", "value": 40}, ""), ({"kind": "floor", "value": 90}, ""), ({"kind": "floor"}, ""),
        ({"kind": "floor", "value": True}, ""), ({"kind": "no_floor", "value": 0.3}, ""), ("net", ""),
    ],
)  # fmt: skip
def test_an_odd_limit_is_asked_again(value: Any, says: str) -> None:
    assert odd_limit(LAW.of("UT"), "passenger.front_side", value, starting=START) == says


def test_an_odd_limit_has_its_bounds() -> None:
    below, drop = 100 * START["limit_asked_below"], 100 * START["limit_asked_drop"]
    limit = LAW.of("UT").floor(VehicleClass.PASSENGER, Position.FRONT_SIDE).value or 0.0

    def asked(value: float) -> bool:
        tag = {"kind": "floor", "value": value}
        return bool(odd_limit(LAW.of("UT"), "passenger.front_side", tag, starting=START))

    assert [asked(below - 0.01), asked(below + 0.01 if 100 * limit - below < drop else 100 * limit - drop + 0.01)] == [
        True,
        False,
    ]
    assert [asked(100 * limit - drop), asked(100 * limit - drop + 0.01)] == [True, False]


def test_every_field_can_be_read_and_spoken_on() -> None:
    for record in LAW.records.values():
        paths = field_paths(record)
        assert len(paths) == len(set(paths))
        for path in paths:
            if path != "works_inside_tolerance":
                check_word(record, word(path, field_value(record, path), code=record.code), [])
    paths = field_paths(LAW.of("IL"))
    assert {"statute", "basis", "tolerance_points", "works_inside_tolerance", "passenger.windshield.strip_inches",
            "multipurpose.rear_window", "reflectance.windshield", "reflectance_of", "banned_colours",
            "banned_colours_where", "mirrors_required_if_rear_tinted", "mirrors_else_vlt", "sticker_or_label",
            "medical_exemption", "clauses.IL.fronts"} <= set(paths)  # fmt: skip
    assert "works_inside_tolerance" not in field_paths(LAW.of("FL"))
    assert field_value(LAW.of("IL"), "clauses.IL.fronts") is True
    assert field_value(LAW.of("IL"), "passenger.front_side") == {"kind": "floor", "value": 35}


def test_roof_glass_has_no_rule() -> None:
    pane = PaneFacts(Position.ROOF, film(), light(30), light(78), id="r")
    found = judge(LAW.of("FL"), pane, CarFacts(VehicleClass.PASSENGER, panes=(pane,)), starting=START)
    assert found.sentence == "Florida: no rule on file for roof glass."
    assert (found.clauses, found.light, found.unconfirmed, found.citation) == ((), None, (), LAW.of("FL").statute)

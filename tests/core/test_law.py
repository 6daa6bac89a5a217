"""Verdicts against a table written by hand from the clauses; the vocabulary; the shop's own word."""

import json
from dataclasses import replace
from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import LawError
from elumbra.core.glass import Position
from elumbra.core.law import (
    Asks,
    CarFacts,
    FieldWord,
    PaneFacts,
    RegisteredAs,
    State,
    StripRule,
    VehicleClass,
    VerdictWord,
    Word,
    allowed_reach,
    check_word,
    field_paths,
    judge,
    judge_car,
    parse_condition,
    parse_law_file,
    rules_for,
    words_in,
    worst,
)
from elumbra.core.light import Glass, GlassSource, combine
from tests.catalogue.law import DAY, DOCUMENT, FILE, LAW, START, Row, light, rows, verdict
from tests.catalogue.panes import INCH, film
from tests.effort import examples, sample

ORDER = list(VerdictWord)
ROWS = rows()
SIDES = [Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW]


@pytest.mark.parametrize("row", ROWS, ids=lambda row: f"{row.state}-{row.line}")
def test_verdict_by_hand(row: Row) -> None:
    found = verdict(row.state, row.vehicle_class, row.position, row.situation)
    assert found.word == row.word, f"{row.why}; it says: {found.sentence}"


def test_table_covers_every_word_tag_class_and_linked_jurisdiction() -> None:
    """What the table must hold: read off the law file itself, so that a new clause needs new rows."""
    assert len(ROWS) >= 150
    linked = {code for code, record in LAW.records.items() if record.clauses}
    assert linked <= {row.state for row in ROWS}
    assert {row.word for row in ROWS} == {word.value for word in VerdictWord}
    assert {row.vehicle_class for row in ROWS} == set(VehicleClass)
    judged = [
        (LAW.of(row.state), row.vehicle_class, row.position, "strip" in row.situation)
        for row in ROWS
        if row.position is not Position.ROOF
    ]
    words = set[Word]()
    tags = set[str]()
    for law, vehicle_class, position, strip in judged:
        for clause in rules_for(law, vehicle_class, position, strip).clauses:
            words |= words_in(clause.condition)
        tags.add(law.floor(vehicle_class, position, strip=strip).kind)
        tags.add(law.reflectance[position].kind)
    assert words == set(Word)
    assert tags >= {"floor", "no_floor", "none_allowed", "numeric", "non_mirror", "non_reflective", "unknown"}
    strips = {LAW.of(row.state).windshield[row.vehicle_class].strip for row in ROWS if "strip" in row.situation}
    assert strips == set(StripRule) - {StripRule.UNKNOWN}


def test_number_limit_margin_and_citation_stand_in_the_answer() -> None:
    found = verdict("FL", VehicleClass.PASSENGER, Position.FRONT_SIDE, "net 25")
    assert found.limit == 0.28
    assert found.margin_points == pytest.approx(-3)
    assert found.sentence == "25 % is 3.0 points under Florida's 28 % at the front side."
    assert "316.295" in found.citation
    assert found.risk is not None
    assert found.risk > 0.9


def test_close_says_how_likely_a_lower_reading_is() -> None:
    """26 against 25 with ±1.3 and an officer's ±2: z = 1 / (sqrt(1.3² + 2²) / 1.96) = 0.822, that is 20.6 in 100."""
    found = verdict("TX", VehicleClass.PASSENGER, Position.FRONT_SIDE, "net 26")
    assert found.sentence == (
        "26 % is 1.0 points over Texas's 25 % at the front side, yet a meter may read under it: 21 chances in 100."
    )


def test_tolerance_has_a_word_of_its_own_and_never_clears() -> None:
    """30.5 against 32 less 3 with ±1.525 and an officer's ±2: z = 1.5 / (2.515 / 1.96) = 1.17, 12 in 100: too dark.

    35 less 5 and a film at 34: z = 4 / (sqrt(1.7² + 2²) / 1.96) = 2.99, under 1 in 100: within.
    """
    front = (VehicleClass.PASSENGER, Position.FRONT_SIDE)
    assert verdict("AL", *front, "net 30.5").word is VerdictWord.TOO_DARK
    within = verdict("IL", *front, "net 34")
    assert (within.word, within.tolerance_points) == (VerdictWord.WITHIN_TOLERANCE, 5)
    assert "1.0 points under Illinois's 35 %" in within.sentence
    assert "grants the meter 5 points: under 30 % it reads with under 1 chance in 100" in within.sentence
    assert verdict("FL", *front, "net 27").tolerance_points is None


def test_every_clause_tells_its_rule_its_finding_and_where_it_stands() -> None:
    found = verdict("CO", VehicleClass.PASSENGER, Position.REAR_SIDE, "net 20, windshield 68")
    by_id = {clause.id: clause for clause in found.clauses}
    assert by_id["floor"].state is State.BROKEN
    assert by_id["floor"].sentence == (
        "At least 27 % through glass and film at the rear side. Or: Windows behind the driver may be darker if the "
        "windshield and the front sides pass at least 70 %."
    )
    assert "windshield: 68 % is 2.0 points under the 70 % asked of it." in by_id["floor"].found
    assert by_id["reflection"].state is State.KEPT
    assert all(clause.citation for clause in found.clauses)


@pytest.mark.parametrize(
    ("state", "vehicle_class", "position", "situation", "asks"),
    [
        ("FL", "P", "FS", "net ?", Asks.BARE_VLT),
        ("FL", "P", "FS", "net 40, reflects ?", Asks.FILM_REFLECTANCE),
        ("AZ", "P", "RS", "net 5, mirrors ?", Asks.MIRRORS),
        ("AR", "P", "FS", "net 40, year ?", Asks.MODEL_YEAR),
        ("MD", "M", "RS", "net 10", Asks.REGISTERED_AS),
        ("TN", "M", "RS", "net 10, factory ?", Asks.FACTORY_GLASS),
        ("IL", "P", "FS", "net 60, rears unlisted", Asks.GLASS_THERE),
        ("FL", "P", "WS", "strip 5", Asks.AS1_DEPTH),
        ("AZ", "P", "WS", "strip 4", Asks.SEAT_HEIGHT),
        ("IN", "M", "RS", "net 5", Asks.LAW),
    ],
)
def test_a_missing_fact_is_named_as_a_question(
    state: str, vehicle_class: str, position: str, situation: str, asks: Asks
) -> None:
    from tests.catalogue.law import CLASSES, POSITIONS

    found = verdict(state, CLASSES[vehicle_class], POSITIONS[position], situation)
    assert found.word is VerdictWord.CANNOT_TELL
    assert asks in [question.asks for question in found.questions]
    assert found.questions[0].text in found.sentence


def test_unread_strip_depth_is_asked_for() -> None:
    pane = PaneFacts(Position.WINDSHIELD, film(reflectance=0.05), light(30), light(78), is_strip=True)
    found = judge(LAW.of("AL"), pane, CarFacts(VehicleClass.PASSENGER, True, panes=(pane,)), starting=START)
    assert [question.asks for question in found.questions] == [Asks.STRIP_DEPTH]


def test_unconfirmed_fields_are_named() -> None:
    found = verdict("AK", VehicleClass.MULTIPURPOSE, Position.REAR_SIDE, "net 60")
    assert {"multipurpose.rear_side", "basis"} <= set(found.unconfirmed)


positions = st.sampled_from(SIDES)
classes = st.sampled_from(list(VehicleClass))
states = st.sampled_from(sorted(LAW.records))


@examples(300)
@given(
    state=states, vehicle_class=classes, position=positions, dark=st.floats(1, 88), lighter_by=st.floats(0, 60),
    fronts=st.sampled_from([None, 30, 60, 78]), rears=st.sampled_from([None, 10, 32, 60]),
)  # fmt: skip
def test_lighter_film_never_gets_a_worse_verdict_from_the_light(
    state: str, vehicle_class: VehicleClass, position: Position, dark: float, lighter_by: float,
    fronts: int | None, rears: int | None,
) -> None:  # fmt: skip
    """Whatever is linked to the other windows: the same film, lighter, is never judged worse."""
    around = "".join(f", {name} {net} filmed" for name, net in (("fronts", fronts), ("rears", rears)) if net)

    def rank(net: float) -> int:
        told = f"net {net}, alone {net}, registered sedan{around}"
        return ORDER.index(verdict(state, vehicle_class, position, told).word)

    assert rank(min(90, dark + lighter_by)) >= rank(dark)


@examples(250)
@given(state=states, vehicle_class=classes, position=positions, net=st.sampled_from([3, 22, 33, 52, 80]))
def test_unknown_never_becomes_clears(state: str, vehicle_class: VehicleClass, position: Position, net: int) -> None:
    """Clears with facts missing means that it clears whatever they turn out to be."""
    missing = f"net {net}, mirrors ?, factory ?, year ?"
    if verdict(state, vehicle_class, position, missing).word is not VerdictWord.CLEARS:
        return
    for mirrors, factory, registered in product(("yes", "no"), ("yes", "no"), (RegisteredAs.SEDAN, RegisteredAs.SUV)):
        told = f"net {net}, mirrors {mirrors}, factory {factory}, registered {registered.value}, year 1990"
        assert verdict(state, vehicle_class, position, told).word is VerdictWord.CLEARS


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_a_field_that_is_not_known_never_clears(state: str) -> None:
    """Each position's floor and reflection in turn set to unknown, with a film that a rule could bar."""
    row = next(row for row in DOCUMENT["records"] if row["code"] == state)
    shiny = film(0.8, reflectance=0.12)
    for vehicle_class, position in product(VehicleClass, SIDES):
        for kind in ("floor", "reflectance"):
            broken = json.loads(json.dumps(row))
            broken["clauses"] = [] if kind == "floor" else broken["clauses"]
            place = broken[vehicle_class.value] if kind == "floor" else broken["reflectance"]
            place[position.value] = {"kind": "unknown"}
            law = parse_law_file(DOCUMENT | {"records": [broken]}).on(DAY).of(state)
            pane = PaneFacts(position, shiny, light(88), light(88))
            car = CarFacts(vehicle_class, True, 2020, RegisteredAs.VAN, panes=(pane,))
            assert judge(law, pane, car, starting=START).word not in (VerdictWord.CLEARS, VerdictWord.CLOSE)


def test_all_51_jurisdictions_are_on_file() -> None:
    assert len(LAW.records) == 51


def test_worst_of_several_states() -> None:
    answers = [
        verdict(state, VehicleClass.PASSENGER, Position.FRONT_SIDE, f"net {net}")
        for state, net in (("TX", 29), ("FL", 20), ("NH", 29))
    ]
    found = worst(answers)
    assert found is not None
    assert found.word is VerdictWord.NOT_ALLOWED
    assert worst([]) is None


def test_unknown_state_gets_the_nearest() -> None:
    with pytest.raises(LawError, match="There is no state “TZ”"):
        LAW.of("TZ")


@pytest.mark.parametrize(
    ("rule", "inches", "line", "mark", "deep"),
    [
        ("inches", 6, None, None, 6), ("as1", None, 5.5, None, 5.5), ("as1", None, None, None, None),
        ("as1", None, None, False, None), ("longer", 5, 6, None, 6), ("longer", 5, 4, None, 5),
        ("longer", 5, None, False, 5), ("shorter", 5, 6, None, 5), ("shorter", 5, 4, None, 4),
        ("shorter", 5, None, None, None), ("as1_else_inches", 5, None, False, 5), ("as1_else_inches", 5, 7, None, 7),
        ("as1_or_inches", 5, 4, None, 4), ("none", None, 5, None, None), ("unknown", None, 5, None, None),
    ],
)  # fmt: skip
def test_deepest_allowed_strip(
    rule: str, inches: float | None, line: float | None, mark: bool | None, deep: float | None
) -> None:
    pane = PaneFacts(Position.WINDSHIELD, None, None, as1_depth=line and line * INCH, as1_mark=mark, is_strip=True)
    found = allowed_reach(StripRule(rule), inches, pane)
    assert found.depth == (None if deep is None else pytest.approx(deep * INCH))
    assert found.none_allowed == (rule == "none")


# --- the file and its vocabulary


@pytest.mark.parametrize(
    ("change", "says"),
    [
        ({"format": "other"}, "not an Elumbra law file"),
        ({"format_version": 9}, "format version 9; this program reads 2"),
        ({"records": DOCUMENT["records"][:1] * 2}, "AK stands twice from the start: the effective dates overlap"),
        ({"records": []}, "no records"),
        ({"records": ["x"]}, r"Law record \? cannot be used"),
    ],
)
def test_foreign_law_files_are_refused(change: dict[str, object], says: str) -> None:
    with pytest.raises(LawError, match=says):
        parse_law_file(DOCUMENT | change)


@pytest.mark.parametrize(
    ("path", "value", "says"),
    [
        (("passenger", "front_side"), {"kind": "floor", "value": 700}, "a figure of 700 % is outside 0 to 100 %"),
        (("passenger", "front_side"), {"kind": "floor"}, "a floor needs its value"),
        (("passenger", "rear_side"), {"kind": "loose"}, "'loose' is not a valid FloorKind"),
        (("reflectance", "front_side"), {"kind": "numeric"}, "needs its percent"),
        (("basis",), "both", "basis is “both”; it is one of net, film"),
        (("effective_from",), "next year", "“next year” is not a day"),
        (("clauses",), [{"id": "x", "role": "also", "positions": ["roof"], "sentence": "", "condition": {"film_alne": {"least": 5}}}], "unknown condition word “film_alne”; the nearest known word is “film_alone”"),
        (("clauses",), [{"id": "x", "role": "also", "positions": ["roof"], "sentence": "", "condition": {"this_window": {"least": 350}}}], "350 is outside 0 to 100 %"),
    ],
)  # fmt: skip
def test_value_outside_the_vocabulary_names_its_record(path: tuple[str, ...], value: object, says: str) -> None:
    broken = json.loads(json.dumps(DOCUMENT["records"][0]))
    place = broken
    for step in path[:-1]:
        place = place[step]
    place[path[-1]] = value
    with pytest.raises(LawError, match="Law record AK cannot be used") as refusal:
        parse_law_file(DOCUMENT | {"records": [broken]})
    assert says in refusal.value.message


@pytest.mark.parametrize(
    ("document", "says"),
    [
        ([], "one word with its argument"),
        ({"any": []}, "needs a list"),
        ({"outside_mirror": True}, "nearest known word is “outside_mirrors”"),
        ({"film_clear": "yes"}, "takes true"),
        ({"strip": {"rule": "longer"}}, "needs inches"),
        ({"this_window": {"more": 3}}, "takes least or most"),
        ({"registered_as": ["spaceship"]}, "spaceship"),
        ({"no_film_on": "front_side"}, "needs a list of positions"),
    ],
)
def test_condition_outside_the_vocabulary_is_refused(document: object, says: str) -> None:
    with pytest.raises(ValueError, match=says):
        parse_condition(document)


def test_a_record_takes_over_on_its_day() -> None:
    """A made-up amendment: Utah's front side from 43 to 35 from 2027 on."""
    old = next(row for row in DOCUMENT["records"] if row["code"] == "UT")
    new = json.loads(json.dumps(old)) | {"effective_from": "2027-01-01"}
    new["passenger"]["front_side"] = {"kind": "floor", "value": 35}
    file = parse_law_file(DOCUMENT | {"records": [new, old]})
    limits = {
        day: file.on(day).of("UT").floor(VehicleClass.PASSENGER, Position.FRONT_SIDE).value
        for day in ("2026-12-31", "2027-01-01", "2030-05-05")
    }
    assert limits == {"2026-12-31": 0.43, "2027-01-01": 0.35, "2030-05-05": 0.35}


# --- the shop's own word


def said(field: str, value: object, **over: str) -> FieldWord:
    return FieldWord("w", "UT", field, value, **({"citation": "made up for this test"} | over))


def test_confirming_a_field_takes_it_off_the_doubtful_and_keeps_who_said_so() -> None:
    before = LAW.of("UT")
    field = "passenger.front_side"
    assert field in before.unconfirmed
    after = FILE.on(DAY, [said(field, {"kind": "floor", "value": 43}, person="ines", at=DAY)]).of("UT")
    assert field not in after.unconfirmed
    source = after.sources[field]
    assert (source.overruled, source.citation, source.person) == (False, "made up for this test", "ines")
    assert before.sources == {}


def test_overruling_a_field_changes_the_verdict_from_its_day_on() -> None:
    word = said("passenger.front_side", {"kind": "floor", "value": 35}, effective_from="2027-01-01")
    pane = PaneFacts(Position.FRONT_SIDE, film(reflectance=0.05), light(40), light(78))
    car = CarFacts(VehicleClass.PASSENGER, True, panes=(pane,))
    words = [judge(FILE.on(day, [word]).of("UT"), pane, car, starting=START).word for day in (DAY, "2027-06-01")]
    assert words == [VerdictWord.TOO_DARK, VerdictWord.CLEARS]
    assert FILE.on("2027-06-01", [word]).of("UT").sources["passenger.front_side"].overruled


def test_a_later_word_ends_an_open_one() -> None:
    words = [
        said("passenger.front_side", {"kind": "floor", "value": 40}),
        said("passenger.front_side", {"kind": "floor", "value": 35}, effective_from="2027-01-01", effective_until="2027-12-31"),
    ]  # fmt: skip
    limits = [
        FILE.on(day, words).of("UT").floor(VehicleClass.PASSENGER, Position.FRONT_SIDE).value
        for day in ("2026-12-31", "2027-05-01", "2028-01-01")
    ]
    assert limits == [0.40, 0.35, 0.40]


@pytest.mark.parametrize(
    ("word", "field", "says"),
    [
        (said("passenger.front_side", {"kind": "floor", "value": 35}, citation=" "), "citation", "where it stands"),
        (said("passenger.frontside", {"kind": "floor", "value": 35}), "field", "Did you mean “passenger.front_side”?"),
        (said("passenger.front_side", {"kind": "floor", "value": 350}), "value", "outside 0 to 100"),
        (said("passenger.front_side", 35), "value", "cannot stand there"),
        (said("passenger.front_side", {"kind": "no_floor"}, effective_from="2027-13-01"), "effective_from", "not a day"),
        (said("passenger.front_side", {"kind": "no_floor"}, effective_from="2027-02-01", effective_until="2027-01-01"), "effective_until", "ends before it begins"),
        (said("passenger.rear_side", {"kind": "no_floor"}, effective_from="2027-03-01"), "effective_from", "covers some of these days"),
        (said("passenger.rear_side", {"kind": "no_floor"}, effective_from="2027-02-01"), "effective_from", "covers some of these days"),
    ],
)  # fmt: skip
def test_a_word_that_cannot_be_taken_is_refused_with_its_reason(word: FieldWord, field: str, says: str) -> None:
    present = [
        said("passenger.rear_side", {"kind": "no_floor"}, effective_from="2027-02-01", effective_until="2027-04-01")
    ]
    with pytest.raises(LawError) as refusal:
        check_word(LAW.of("UT"), word, present)
    assert says.lower() in refusal.value.fields[field].lower()


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_every_field_can_be_confirmed_as_it_stands(state: str) -> None:
    from elumbra.core.law import field_value

    record = LAW.of(state)
    for path in field_paths(record):
        check_word(record, replace(said(path, field_value(record, path)), code=state), [])


def test_risk_and_figures_agree_with_the_light() -> None:
    """Nothing is lost between light and law: the verdict's figure is the combined one."""
    glass = Glass(0.75, GlassSource.METERED)
    sheet = film(0.35, reflectance=0.05)
    pane = PaneFacts(Position.FRONT_SIDE, sheet, combine(glass, sheet, starting=START))
    found = judge(LAW.of("TX"), pane, CarFacts(VehicleClass.PASSENGER, True, panes=(pane,)), starting=START)
    assert found.vlt == pytest.approx(0.291667, abs=1e-6)
    assert found.margin_points == pytest.approx(4.1667, abs=1e-3)


def test_a_pair_is_judged_once_and_alike_and_what_is_not_known_by_itself() -> None:
    pair = [
        PaneFacts(Position.FRONT_SIDE, film(reflectance=0.05), light(20), light(78), id=name, label=name) for name in "ab"
    ]  # fmt: skip
    dark = [replace(pane, combined=None, id=f"{pane.id}?") for pane in pair]
    car = CarFacts(VehicleClass.PASSENGER, True, panes=(*pair, *dark))
    found = judge_car(LAW.of("FL"), car, starting=START)
    assert found["a"] is found["b"]
    assert {name: verdict.word for name, verdict in found.items()} == {
        "a": "Too dark", "b": "Too dark", "a?": "Cannot tell", "b?": "Cannot tell",
    }  # fmt: skip
    assert [found[name].questions[0].window_id for name in ("a?", "b?")] == ["a?", "b?"]
    for pane in car.panes:
        assert found[pane.id].word is judge(LAW.of("FL"), pane, car, starting=START).word


def test_a_verdict_cites_the_shop_s_own_word_beside_the_statute() -> None:
    word = said("passenger.front_side", {"kind": "floor", "value": 35}, citation="made-up bulletin 7, read today")
    pane = PaneFacts(Position.FRONT_SIDE, film(reflectance=0.05), light(20), light(78))
    car = CarFacts(VehicleClass.PASSENGER, True, panes=(pane,))
    found = judge(FILE.on(DAY, [word]).of("UT"), pane, car, starting=START)
    assert found.citation == "Utah Code 41-6a-1635; overruled by the shop: made-up bulletin 7, read today"


def test_open_strip_rule_names_the_field_to_settle_by_class() -> None:
    for vehicle_class in VehicleClass:
        found = verdict("WV", vehicle_class, Position.WINDSHIELD, "strip 4 3/4, as1 4 1/2")
        assert found.questions[0].law_field == f"{vehicle_class.value}.windshield.strip"
        assert found.questions[0].law_field in field_paths(LAW.of("WV"))

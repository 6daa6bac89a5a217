"""Each clause that a record makes, and each word of the vocabulary, by itself and word for word."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import pytest

from elumbra.core.film import Colour, VltBasis
from elumbra.core.glass import Position
from elumbra.core.law import (
    Asks,
    CarFacts,
    Condition,
    FieldWord,
    Finding,
    PaneFacts,
    Question,
    RegisteredAs,
    State,
    StripRule,
    VehicleClass,
    Word,
    allowed_reach,
    clauses_for,
    judge,
    judge_car,
    parse_condition,
    parse_law_file,
    rules_for,
    worst,
)
from elumbra.core.law.case import Case, compared, pane_name, points_words
from elumbra.core.law.clauses import dispute_words
from elumbra.core.law.evaluate import find
from elumbra.core.law.finding import of_all, of_any
from elumbra.core.law.records import Jurisdiction
from elumbra.core.law.strips import seat_height, strip_depth, strip_words
from tests.catalogue.law import DAY, DOCUMENT, FILE, LAW, START, light
from tests.catalogue.panes import INCH, film

P, FRONT, REAR, SHIELD = VehicleClass.PASSENGER, Position.FRONT_SIDE, Position.REAR_SIDE, Position.WINDSHIELD
STATUTE = LAW.of("TX").statute


def record(changes: dict[str, Any] | None = None, words: tuple[FieldWord, ...] = ()) -> Jurisdiction:
    """Texas with these fields of its row changed, and the shop's words on it."""
    row = json.loads(json.dumps(next(row for row in DOCUMENT["records"] if row["code"] == "TX")))
    row |= {"disputed": []}
    for path, value in (changes or {}).items():
        place = row
        *steps, last = path.split("/")
        for step in steps:
            place = place[step]
        place[last] = value
    return parse_law_file(DOCUMENT | {"records": [row]}).on(DAY, words).of("TX")


def clause(law: Jurisdiction, position: Position, name: str, *, strip: bool = False) -> tuple[Any, ...]:
    one = next(one for one in clauses_for(law, P, position, strip=strip) if one.id == name)
    return one.condition, one.sentence, one.citation, one.rests_on


# --- clauses of the table


@pytest.mark.parametrize(
    ("rule", "depth", "condition", "sentence"),
    [
        ("seat_height", 29, Condition(Word.SEAT_HEIGHT, inches=29), "The strip's lower edge lies at least 29 in above the driver's seat."),
        ("none", None, Condition(Word.STRIP, strip=StripRule.NONE), "No strip on the windshield."),
        ("longer", 5, Condition(Word.STRIP, strip=StripRule.LONGER, inches=5, key="passenger.windshield.strip"),
         "A strip on the windshield may reach down to the AS-1 line or 5 in, whichever is longer."),
    ],
)  # fmt: skip
def test_a_strip_s_clause(rule: str, depth: int | None, condition: Condition, sentence: str) -> None:
    law = record({"passenger/windshield/strip": rule, "passenger/windshield/strip_inches": depth})
    rests_on = ("passenger.windshield.strip", "passenger.windshield.strip_inches")
    assert clause(law, SHIELD, "strip", strip=True) == (condition, sentence, STATUTE, rests_on)


def test_a_strip_that_is_judged_as_the_glass_below_has_its_floor() -> None:
    law = record(
        {"passenger/windshield/strip": "as_below", "passenger/windshield/below_strip": {"kind": "floor", "value": 70}}
    )
    condition, sentence, _, _ = clause(law, SHIELD, "strip", strip=True)
    assert condition == Condition(Word.ALL, (Condition(Word.FLOOR, floor="floor", least=0.7),))
    assert sentence == "There is no separate strip: the whole windshield keeps the limit of the glass below."


@pytest.mark.parametrize(
    ("tag", "sentence", "least"),
    [
        ({"kind": "floor", "value": 25}, "At least 25 % through the film by itself at the front side.", 0.25),
        ({"kind": "floor", "value": 0}, "At least 0 % through the film by itself at the front side.", 0.0),
        ({"kind": "no_floor"}, "Any darkness at the front side.", None),
        ({"kind": "none_allowed"}, "No film at the front side.", None),
        ({"kind": "unknown"}, "No rule on file for the front side.", None),
    ],
)
def test_a_floor_s_clause(tag: dict[str, Any], sentence: str, least: float | None) -> None:
    law = record({"passenger/front_side": tag, "basis": "film"})
    condition, said, citation, rests_on = clause(law, FRONT, "floor")
    assert condition == Condition(Word.FLOOR, floor=tag["kind"], least=least)
    assert (said, citation) == (sentence, STATUTE)
    assert rests_on == (("passenger.front_side", "basis") if least is not None else ("passenger.front_side",))


REFLECTS = {
    "film": "At most 20 % reflected by the film.",
    "window": "At most 20 % reflected by glass and film.",
    "either": "At most 20 % reflected by the film, and by glass and film.",
}


@pytest.mark.parametrize(
    ("tag", "of", "sentence", "words"),
    [
        *(({"kind": "numeric", "percent": 20}, of, said, None) for of, said in REFLECTS.items()),
        ({"kind": "numeric", "percent": 0}, "film", "At most 0 % reflected by the film.", None),
        ({"kind": "non_mirror"}, "film", "No metallic or mirrored film.", Condition(Word.NO_MIRROR_FINISH)),
        ({"kind": "non_reflective"}, "film", "Film that does not reflect.", Condition(Word.NON_REFLECTIVE)),
        ({"kind": "no_rule"}, "film", "No rule about reflection.", Condition(Word.FILM_REFLECTS, most=1.0)),
        ({"kind": "unknown"}, "film", "Reflection: no rule on file.", Condition(Word.FILM_REFLECTS)),
    ],
)
def test_a_reflection_s_clause(tag: dict[str, Any], of: str, sentence: str, words: Condition | None) -> None:
    law = record({"reflectance/front_side": tag, "reflectance_of": of})
    condition, said, citation, rests_on = clause(law, FRONT, "reflection")
    assert (said, citation) == (sentence, STATUTE)
    numeric = tag["kind"] == "numeric"
    assert rests_on == (("reflectance.front_side", "reflectance_of") if numeric else ("reflectance.front_side",))
    if words is not None:
        assert condition == words
        return
    most = tag["percent"] / 100
    film_says, window_says = Condition(Word.FILM_REFLECTS, most=most), Condition(Word.WINDOW_REFLECTS, most=most)
    both = Condition(Word.ALL, (film_says, window_says))
    assert condition == {"film": film_says, "window": window_says, "either": both}[of]


@pytest.mark.parametrize(
    ("required", "otherwise", "condition", "sentence"),
    [
        (None, None, Condition(Word.OUTSIDE_MIRRORS, key="unknown"),
         "Whether film on the rear window asks for outside mirrors is not on file."),
        (True, None, Condition(Word.OUTSIDE_MIRRORS), "Film on the rear window asks for outside mirrors on both sides."),
        (True, 35, Condition(Word.ANY, (Condition(Word.OUTSIDE_MIRRORS), Condition(Word.THIS_WINDOW, least=0.35))),
         "Film on the rear window asks for outside mirrors on both sides, or for 35 % there."),
    ],
)  # fmt: skip
def test_the_mirrors_clause(required: bool | None, otherwise: int | None, condition: Condition, sentence: str) -> None:
    law = record({"mirrors_required_if_rear_tinted": required, "mirrors_else_vlt": otherwise})
    found = clause(law, Position.REAR_WINDOW, "mirrors")
    assert found == (condition, sentence, STATUTE, ("mirrors_required_if_rear_tinted",))
    assert all(one.id != "mirrors" for one in clauses_for(law, P, REAR, strip=False))


def test_what_the_shop_said_and_what_is_disputed_stand_in_a_clause() -> None:
    disputed = [{"field": "passenger.front_side", "values": [{"kind": "floor", "value": 25}, {"kind": "none_allowed"}]}]
    law = record({"disputed": disputed})
    told = " Two readings are on file: 25 % or no film. The stricter decides until the shop settles it."
    assert clause(law, FRONT, "floor")[1] == f"At least 25 % through glass and film at the front side.{told}"

    def said(value: int) -> tuple[str, str]:
        word = FieldWord("w", "TX", "passenger.front_side", {"kind": "floor", "value": value}, "the officer, 2026")
        spoken = record({"disputed": disputed}, (word,))
        found = clause(spoken, FRONT, "floor")
        return found[1], found[2]

    plain = "through glass and film at the front side."
    assert said(25) == (f"At least 25 % {plain}", f"{STATUTE}; confirmed by the shop: the officer, 2026")
    assert said(30) == (f"At least 30 % {plain}", f"{STATUTE}; overruled by the shop: the officer, 2026")


@pytest.mark.parametrize(
    ("value", "words"),
    [
        ({"kind": "floor", "value": 35}, "35 %"), ({"kind": "numeric", "percent": 20}, "20 %"),
        ({"kind": "granted", "points": 3}, "3 points"), ({"kind": "none_recalled"}, "no tolerance"),
        ({"kind": "non_reflective"}, "non reflective"), (None, "not on file"), (True, "yes"), (False, "no"),
        ("as1_or_inches", "as1 or inches"), (6, "6"),
    ],
)  # fmt: skip
def test_disputed_values_in_words(value: Any, words: str) -> None:
    assert dispute_words(value) == words


def linked(**over: Any) -> dict[str, Any]:
    return {
        "id": "x", "role": "replaces", "of": "floor", "positions": ["rear_side", "windshield"], "sentence": "Linked.",
        "condition": {"outside_mirrors": True}, "on": "both",
    } | over  # fmt: skip


def ruled(changes: dict[str, Any]) -> Jurisdiction:
    return record({"passenger/rear_side": {"kind": "floor", "value": 25}} | changes)


def test_linked_clauses_replace_stand_beside_and_come_on_top() -> None:
    mirrors, factory = Condition(Word.OUTSIDE_MIRRORS), Condition(Word.FACTORY_GLASS)
    both = ruled({"clauses": [linked(of="strip", id="s"), linked(id="a", citation="Sec. 2")]})
    condition, sentence, citation, rests_on = clause(both, REAR, "floor")
    assert (condition, sentence, citation) == (mirrors, "Linked.", f"{STATUTE}; Sec. 2")
    assert rests_on == ("passenger.rear_side", "basis", "clauses.a")
    instead = ruled({"clauses": [linked(role="instead", sentence="B.", rests_on=["basis"])]})
    condition, sentence, citation, rests_on = clause(instead, REAR, "floor")
    assert condition.word is Word.ANY
    assert condition.parts[1] == mirrors
    assert sentence == "At least 25 % through glass and film at the rear side. Or: B."
    assert (citation, rests_on) == (STATUTE, ("passenger.rear_side", "basis", "basis", "clauses.x"))
    also = ruled({"clauses": [linked(role="also"), linked(role="scope", id="sc")]})
    found = clauses_for(also, P, REAR, strip=False)
    assert (found[0].id, found[0].scope) == ("sc", True)
    assert (found[-1].id, found[-1].scope, found[-1].condition, found[-1].sentence) == ("x", False, mirrors, "Linked.")
    # What is said of strips has the last word on them, wherever it stands in the file.
    strips = linked(id="strips", on="strip", condition={"factory_glass": "this"})
    for order in ([strips, linked()], [linked(), strips]):
        assert clause(ruled({"clauses": order}), REAR, "floor", strip=True)[0] == factory
    rules = rules_for(also, P, REAR, False)
    assert (rules.scoped, rules.clauses[rules.floor_at].id, rules.looks_around) == (1, "floor", False)
    around = ruled({"clauses": [linked(condition={"any": [{"floor": True}, {"no_film_on": ["front_side"]}]})]})
    assert rules_for(around, P, REAR, False).looks_around


# --- each word of the vocabulary


def case(law: Jurisdiction | None = None, *others: PaneFacts, car: dict[str, Any] | None = None, **pane: Any) -> Case:
    """A filmed rear side at 30 % on a car with these other panes."""
    given = {
        "film": film(0.3, reflectance=0.05),
        "combined": light(30),
        "bare": light(78),
        "id": "this",
        "label": "Mine",
    } | pane
    own = PaneFacts(given.pop("position", REAR), **given)
    vehicle = CarFacts(P, panes=(own, *others), **(car or {}))
    return Case(law or record(), own, vehicle, START, own.film)


def other(position: Position = FRONT, net: float | None = 40.0, **over: Any) -> PaneFacts:
    passed = None if net is None else light(net)
    given = {"film": None, "combined": passed, "bare": passed, "id": "o", "label": "Other"} | over
    return PaneFacts(position, **given)


def told(found: Finding) -> tuple[State, str, bool]:
    return found.state, found.words, found.barred


FRONTS = (FRONT,)
UNLISTED = Question(
    Asks.GLASS_THERE,
    "Is there front side glass on this vehicle? Add it at Survey, or say there is none.",
    position=FRONT,
)


def test_the_table_s_floor_is_found() -> None:
    floor = Condition(Word.FLOOR, floor="none_allowed")
    assert told(find(floor, case())) == (State.BROKEN, "Texas allows no film at the rear side.", True)
    assert told(find(floor, case(film=None))) == (State.KEPT, "There is no film on it.", False)
    free = Condition(Word.FLOOR, floor="no_floor")
    assert told(find(free, case())) == (State.KEPT, "Texas sets no least light at the rear side.", False)
    silent = Condition(Word.FLOOR, floor="unknown")
    assert told(find(silent, case())) == (State.NO_RULE, "Texas: no rule on file at the rear side.", False)
    by_film = record({"basis": "film"})
    alone = find(Condition(Word.FLOOR, floor="floor", least=0.5), case(by_film))
    assert told(alone) == (
        State.BROKEN,
        "The film alone: 30.6 % is 19.4 points under the 50 % asked of the film by itself.",
        False,
    )
    net = find(Condition(Word.FLOOR, floor="floor", least=0.25), case())
    assert told(net) == (State.KEPT, "30 % is 5.0 points over Texas's 25 % at the rear side.", False)
    strip = case(is_strip=True, position=SHIELD)
    assert find(free, strip).words == "Texas sets no least light in the strip."
    assert find(free, case(position=SHIELD)).words == "Texas sets no least light at the windshield below the strip."


def test_glass_that_is_not_known_is_asked_for() -> None:
    found = find(Condition(Word.THIS_WINDOW, least=0.35), case(combined=None, doubt="Two readings differ."))
    assert told(found) == (
        State.CANNOT_TELL, "What the bare glass passes is not known, to hold against Texas's 35 % at the rear side.", False,
    )  # fmt: skip
    asked = Question(Asks.BARE_VLT, "Two readings differ. What does the bare glass of Mine pass?", "this")
    assert found.questions == (asked,)
    assert pane_name(PaneFacts(REAR, None, None)) == "the rear side"
    assert find(Condition(Word.THIS_WINDOW), case(combined=light(0.5))).state is State.KEPT, "no limit is no bar"


def test_other_windows_are_looked_at_but_never_the_pane_itself() -> None:
    words = Condition(Word.OTHER_WINDOWS, at=(FRONT, REAR), least=0.35)
    assert told(find(words, case(None, other(net=60)))) == (
        State.KEPT, "Other: 60 % is 25.0 points over the 35 % asked of it.", False,
    )  # fmt: skip
    dark = find(words, case(None, other(net=20)))
    assert told(dark) == (State.BROKEN, "Other: 20 % is 15.0 points under the 35 % asked of it.", True)
    assert dark.light is None, "a lighter film here does not mend it"
    unread = find(words, case(None, other(net=None)))
    assert told(unread) == (State.CANNOT_TELL, "Other is not metered.", False)
    assert unread.questions == (Question(Asks.BARE_VLT, "What does the bare glass of Other pass?", "o"),)
    unlisted = find(Condition(Word.OTHER_WINDOWS, at=FRONTS, least=0.35), case())
    assert told(unlisted) == (State.CANNOT_TELL, "No front side glass is listed.", False)
    assert unlisted.questions == (UNLISTED,)
    bare = {"no_glass_at": frozenset({FRONT})}
    none = Condition(Word.OTHER_WINDOWS, at=FRONTS, least=0.35)
    assert told(find(none, case(car=bare))) == (State.KEPT, "There is no front side glass.", False)
    both = Condition(Word.OTHER_WINDOWS, at=(FRONT, Position.REAR_WINDOW), least=0.35)
    nowhere = {"no_glass_at": frozenset({FRONT, Position.REAR_WINDOW})}
    assert find(both, case(car=nowhere)).words == "There is no front side or rear window glass."
    anything = Condition(Word.OTHER_WINDOWS, at=FRONTS)
    assert find(anything, case(None, other(net=50))).state is State.KEPT, "no limit is no bar"


def test_film_on_other_windows() -> None:
    words = Condition(Word.NO_FILM_ON, at=(FRONT, REAR))
    assert told(find(words, case(None, other()))) == (
        State.KEPT,
        "No film on the front side or rear side glass.",
        False,
    )
    filmed = other(film=film())
    assert told(find(words, case(None, filmed))) == (State.BROKEN, "Other carries film.", True)
    assert told(find(words, case(None, other(old_layers=1)))) == (State.BROKEN, "Other carries film.", True)
    missing = find(Condition(Word.NO_FILM_ON, at=FRONTS), case())
    assert (told(missing), missing.questions) == (
        (State.CANNOT_TELL, "No front side glass is listed.", False),
        (UNLISTED,),
    )


def test_factory_glass_here_and_elsewhere() -> None:
    here = Condition(Word.FACTORY_GLASS)
    assert told(find(here, case(factory_glass=True))) == (State.KEPT, "Mine is factory privacy glass.", False)
    assert told(find(here, case(factory_glass=False))) == (State.BROKEN, "Mine is not factory privacy glass.", True)
    unknown = find(here, case())
    assert told(unknown) == (State.CANNOT_TELL, "Whether Mine was made dark is not known.", False)
    assert unknown.questions == (Question(Asks.FACTORY_GLASS, "Is Mine factory privacy glass?", "this"),)
    there = Condition(Word.FACTORY_GLASS, at=(FRONT, REAR))
    assert find(there, case(None, other(factory_glass=True))).words == "Other is factory privacy glass."
    filmed = find(there, case(None, other(factory_glass=True, film=film())))
    assert told(filmed) == (State.BROKEN, "Other carries film besides its own tint.", True)
    alone = Condition(Word.FACTORY_GLASS, at=FRONTS)
    assert find(alone, case()).questions == (UNLISTED,)
    assert told(find(alone, case(car={"no_glass_at": frozenset({FRONT})}))) == (
        State.KEPT, "There is no front side glass.", False,
    )  # fmt: skip


def test_the_vehicle_s_own_facts() -> None:
    registered = Condition(Word.REGISTERED_AS, among=("van", "suv"))
    assert told(find(registered, case(car={"registered_as": RegisteredAs.SUV}))) == (
        State.KEPT, "Registered as SUV, which the exception covers.", False,
    )  # fmt: skip
    assert told(find(registered, case(car={"registered_as": RegisteredAs.STATION_WAGON}))) == (
        State.BROKEN, "Registered as station wagon, which the exception does not cover.", True,
    )  # fmt: skip
    unknown = find(registered, case())
    assert (unknown.words, unknown.questions) == (
        "The class on the registration is not known.", (Question(Asks.REGISTERED_AS, "What is the vehicle registered as?"),),
    )  # fmt: skip
    year = Condition(Word.MODEL_YEAR, least=1994.0)
    assert told(find(year, case(car={"model_year": 1994}))) == (
        State.KEPT, "Model year 1994: the section covers 1994 and later.", False,
    )  # fmt: skip
    assert told(find(year, case(car={"model_year": 1993}))) == (
        State.NO_RULE, "Model year 1993: another section holds, not on file.", False,
    )  # fmt: skip
    assert find(replace(year, key="Sec. 3."), case(car={"model_year": 1993})).words == "Model year 1993: Sec. 3."
    asked = find(year, case())
    assert (asked.words, asked.questions[0].text) == (
        "The model year is not known.",
        "Which model year is the vehicle?",
    )
    mirrors = Condition(Word.OUTSIDE_MIRRORS)
    assert told(find(mirrors, case(car={"mirrors_both_sides": True}))) == (
        State.KEPT,
        "Outside mirrors on both sides.",
        False,
    )
    assert told(find(mirrors, case(car={"mirrors_both_sides": False}))) == (
        State.BROKEN, "Texas asks for outside mirrors on both sides when this glass is tinted.", True,
    )  # fmt: skip
    silent = find(replace(mirrors, key="unknown"), case(car={"mirrors_both_sides": False}))
    assert told(silent) == (State.NO_RULE, "Texas: whether both outside mirrors are asked for is not on file.", False)
    open_ = find(mirrors, case())
    assert (told(open_), open_.questions) == (
        (State.CANNOT_TELL, "Mirrors are not known.", False),
        (Question(Asks.MIRRORS, "Are there outside mirrors on both sides?"),),
    )  # fmt: skip


MEANS = "Texas means at most 10 persons, and built on a truck chassis or fitted with parts for off-road use"


@pytest.mark.parametrize(
    ("car", "state", "words", "asks"),
    [
        ({"persons": 11, "truck_chassis": True}, State.BROKEN, f"Made for 11 persons; {MEANS}.", ""),
        ({"persons": 5, "truck_chassis": False, "off_road_parts": False}, State.BROKEN, f"Neither is said of this vehicle: {MEANS}.", ""),
        ({"truck_chassis": False, "off_road_parts": False}, State.BROKEN, f"Neither is said of this vehicle: {MEANS}.", ""),
        ({"persons": 10, "truck_chassis": True}, State.KEPT, f"A multipurpose vehicle: {MEANS}.", ""),
        ({"persons": 10, "off_road_parts": True, "truck_chassis": False}, State.KEPT, f"A multipurpose vehicle: {MEANS}.", ""),
        ({"truck_chassis": True}, State.CANNOT_TELL, "", "How many persons is the vehicle made to carry?"),
        ({"persons": 5}, State.CANNOT_TELL, "", "Is the vehicle built on a truck chassis?"),
        ({"persons": 5, "truck_chassis": False}, State.CANNOT_TELL, "", "Is the vehicle fitted with parts for off-road use?"),
    ],
)  # fmt: skip
def test_a_multipurpose_vehicle_is_what_the_state_means_by_it(
    car: dict[str, Any], state: State, words: str, asks: str
) -> None:
    found = find(Condition(Word.BUILT_AS, most=10.0, among=("truck_chassis", "off_road_parts")), case(car=car))
    said = words or f"Whether this is a multipurpose vehicle is not known: {MEANS}."
    assert told(found) == (state, said, state is State.BROKEN)
    assert [one.text for one in found.questions] == ([asks] if asks else [])
    assert [one.fact for one in found.questions] == (
        [{"How": "persons", "Is the vehicle b": "truck_chassis", "Is the vehicle f": "off_road_parts"}[asks[: 3 if asks[0] == "H" else 16]]]
        if asks else []
    )  # fmt: skip


@pytest.mark.parametrize(
    ("holds", "until", "state", "words"),
    [
        (True, None, State.KEPT, "Does it? Yes."), (False, None, State.BROKEN, "Does it? No."),
        (None, True, State.KEPT, "Does it? Yes, the stricter way, until the shop settles it."),
        (None, False, State.BROKEN, "Does it? No, the stricter way, until the shop settles it."),
        (None, None, State.CANNOT_TELL, "The law can be read two ways here."),
    ],
)  # fmt: skip
def test_a_reading_that_somebody_must_settle(holds: bool | None, until: bool | None, state: State, words: str) -> None:
    law = record({"readings": {"k": {"question": "Does it?", "holds": holds, "until_settled": until}}})
    found = find(Condition(Word.SETTLED, key="k"), case(law))
    assert told(found) == (state, words, state is State.BROKEN)
    asked = (Question(Asks.LAW, "Does it?", law_field="readings.k"),)
    assert found.questions == (asked if state is State.CANNOT_TELL else ())
    unknown = find(Condition(Word.SETTLED, key="other"), case(law))
    assert (unknown.state, unknown.questions[0].text) == (State.CANNOT_TELL, "other")


def test_of_several_ways_the_first_that_needs_no_doubt_is_taken_and_looked_no_further() -> None:
    close, clear = Condition(Word.THIS_WINDOW, least=0.295), Condition(Word.THIS_WINDOW, least=0.10)
    unlisted = Condition(Word.NO_FILM_ON, at=FRONTS)
    assert (
        find(Condition(Word.ANY, (close, clear)), case()).words
        == "30 % is 20.0 points over Texas's 10 % at the rear side."
    )
    assert find(Condition(Word.ANY, (close, unlisted)), case()).close
    assert not find(Condition(Word.ANY, (clear, close)), case()).close
    every = find(Condition(Word.ALL, (unlisted, Condition(Word.OUTSIDE_MIRRORS))), case())
    assert every.questions == (UNLISTED,), "of several unknown ones only the first is asked"
    assert find(Condition(Word.ALL, (clear, unlisted)), case()).state is State.CANNOT_TELL


# --- the film


@pytest.mark.parametrize(
    ("condition", "pane", "state", "words"),
    [
        (Condition(Word.FILM_REFLECTS, most=1.0), {}, State.KEPT, "The law sets nothing about reflection."),
        (Condition(Word.FILM_REFLECTS, most=0.05), {}, State.KEPT, "Reflects 5 %; Texas allows at most 5 %."),
        (Condition(Word.FILM_REFLECTS, most=0.04), {}, State.BROKEN, "Reflects 5 %; Texas allows at most 4 %."),
        (Condition(Word.FILM_REFLECTS, most=0.04), {"film": None}, State.KEPT, "There is no film on it."),
        (Condition(Word.WINDOW_REFLECTS, most=0.09), {"window_reflectance": 0.1}, State.BROKEN, "Glass and film reflect 10 %; Texas allows at most 9 %."),
        (Condition(Word.WINDOW_REFLECTS, most=0.05), {}, State.KEPT, "Glass and film reflect 5 %; Texas allows at most 5 %."),
        (Condition(Word.WINDOW_REFLECTS, most=0.04), {"film": None}, State.KEPT, "There is no film on it."),
        (Condition(Word.FILM_REFLECTS), {}, State.KEPT, "No rule on file about reflection; this film reflects no more than bare glass, which no rule can bar."),
        (Condition(Word.FILM_REFLECTS), {"film": film(reflectance=0.2)}, State.NO_RULE, "Texas: no rule on file about reflection."),
        (Condition(Word.WINDOW_REFLECTS), {"film": film(reflectance=0.2)}, State.NO_RULE, "Texas: no rule on file about reflection."),
        (Condition(Word.FILM_ALONE, least=0.2), {}, State.KEPT, "The film alone: 30.6 % is 10.6 points over the 20 % asked of the film by itself."),
        (Condition(Word.FILM_ALONE, least=0.2), {"film": None}, State.KEPT, "There is no film on it."),
        (Condition(Word.FILM_ALONE), {}, State.KEPT, "The film alone: 30.6 % is 30.6 points over the 0 % asked of the film by itself."),
        (Condition(Word.FILM_LAYERS, most=1.0), {}, State.KEPT, "1 sheet of film."),
        (Condition(Word.FILM_LAYERS), {"old_layers": 1}, State.BROKEN, "2 sheets of film; at most 1 allowed."),
        (Condition(Word.FILM_CLEAR), {"film": None}, State.KEPT, "There is no film on it."),
        (Condition(Word.FILM_CLEAR), {}, State.BROKEN, "Test film is not a colourless film."),
        (Condition(Word.FILM_CLEAR), {"film": film(0.5, colours=(Colour.COLOURLESS,), vlt_basis=VltBasis.FILM_ALONE)}, State.BROKEN, "Test film alone passes 50 %; a clear film passes at least"),
        (Condition(Word.FILM_CLEAR), {"film": film(0.91, colours=(Colour.COLOURLESS,), vlt_basis=VltBasis.FILM_ALONE)}, State.KEPT, "Clear, colourless film."),
        (Condition(Word.FILM_CLEAR), {"film": film(colours=())}, State.CANNOT_TELL, "The colour of Test film is not known."),
        (Condition(Word.FILM_COLOUR_NOT, among=("gold",)), {"film": film(colours=(Colour.GOLD,))}, State.BROKEN, "Texas bans gold film."),
        (Condition(Word.FILM_COLOUR_NOT, among=("gold",)), {"film": None}, State.KEPT, "Not one of the banned colours."),
        (Condition(Word.FILM_COLOUR_NOT, key="unknown"), {"film": film(colours=(Colour.GOLD,))}, State.NO_RULE, "Texas: no rule on file about colours."),
        (Condition(Word.FILM_COLOUR_NOT, key="unknown"), {}, State.KEPT, "Colourless or grey: no colour that could be banned."),
    ],
)  # fmt: skip
def test_what_is_found_of_the_film(condition: Condition, pane: dict[str, Any], state: State, words: str) -> None:
    found = find(condition, case(**pane))
    assert found.state is state
    assert found.words.startswith(words)
    assert words.endswith("at least") or found.words == words
    assert found.barred is (state is State.BROKEN)


def test_what_the_film_s_sheet_does_not_say_is_asked_of_the_film() -> None:
    unsaid = case(film=film(reflectance=None))
    found = find(Condition(Word.FILM_REFLECTS, most=0.2), unsaid)
    assert (found.state, found.words) == (State.CANNOT_TELL, "Reflectance is not in the film's data.")
    text = "How much does Test film reflect? At most 20 % is allowed."
    assert found.questions == (Question(Asks.FILM_REFLECTANCE, text, film_id="f"),)
    assert find(
        Condition(Word.WINDOW_REFLECTS, most=0.2), case(film=film(reflectance=None), window_reflectance=0.1)
    ).questions
    plain = find(Condition(Word.NON_REFLECTIVE), case(film=film(reflectance=None, mirror_finish=False)))
    asked = "How much does Test film reflect? Texas asks for film that does not."
    assert (plain.words, plain.questions) == (
        "Reflectance is not in the film's data.", (Question(Asks.FILM_REFLECTANCE, asked, film_id="f"),),
    )  # fmt: skip
    shiny = find(Condition(Word.NON_REFLECTIVE), case(film=film(reflectance=0.3, mirror_finish=False)))
    how = "How much may a film reflect in Texas? Its law says “non-reflective”, with no figure."
    assert (shiny.words, shiny.questions) == (
        "Test film reflects 30 %; Texas asks for film that does not.",
        (Question(Asks.LAW, how, law_field="reflectance.rear_side"),),
    )  # fmt: skip
    assert told(find(Condition(Word.NON_REFLECTIVE), case(film=film(mirror_finish=True)))) == (
        State.BROKEN, "Texas allows no mirror finish.", True,
    )  # fmt: skip
    assert find(Condition(Word.NON_REFLECTIVE), case(film=None)).words == "Not mirrored."
    assert find(Condition(Word.NON_REFLECTIVE), case()).words == "Reflects no more than glass does."


# --- strips


LINE = Question(Asks.AS1_DEPTH, "Where is the AS-1 line on this windshield?", "p")


def shield(**over: Any) -> PaneFacts:
    given = {"strip_depth": 5 * INCH, "id": "p", "is_strip": True} | over
    return PaneFacts(SHIELD, None, None, **given)


@pytest.mark.parametrize(
    ("rule", "pane", "depth", "words", "asks"),
    [
        (StripRule.NONE, {}, None, "nothing at all", False),
        (StripRule.INCHES, {}, 5, "5 in", False),
        (StripRule.AS1, {"as1_mark": False}, None, "the AS-1 line, and this glass bears no AS-1 line", False),
        (StripRule.AS1, {}, None, "the AS-1 line", True),
        (StripRule.AS1, {"as1_depth": 4 * INCH}, 4, "the AS-1 line", False),
        (StripRule.AS1_ELSE_INCHES, {"as1_mark": False}, 5, "the AS-1 line, or 5 in where there is none", False),
        (StripRule.AS1_ELSE_INCHES, {}, None, "the AS-1 line, or 5 in where there is none", True),
        (StripRule.LONGER, {"as1_mark": False}, 5, "the AS-1 line or 5 in, whichever is longer", False),
        (StripRule.LONGER, {"as1_depth": 6 * INCH}, 6, "the AS-1 line or 5 in, whichever is longer", False),
        (StripRule.LONGER, {}, None, "the AS-1 line or 5 in, whichever is longer", True),
        (StripRule.SHORTER, {"as1_depth": 6 * INCH}, 5, "the AS-1 line or 5 in, whichever is shorter", False),
        (StripRule.AS1_OR_INCHES, {"as1_mark": False}, 5, "the AS-1 line or 5 in", False),
        (StripRule.AS1_OR_INCHES, {}, None, "the AS-1 line or 5 in", True),
        (StripRule.AS1_OR_INCHES, {"as1_depth": 4 * INCH}, 4, "the AS-1 line or 5 in; the shorter is safe, for which governs is not on file", False),
        (StripRule.SEAT_HEIGHT, {}, None, "5 in above the driver's seat", False),
        (StripRule.AS_BELOW, {}, None, "the whole windshield, by the limit of the glass below", False),
        (StripRule.UNKNOWN, {}, None, "a depth not on file", False),
    ],
)  # fmt: skip
def test_how_deep_a_strip_may_reach(
    rule: StripRule, pane: dict[str, Any], depth: float | None, words: str, asks: bool
) -> None:
    found = allowed_reach(rule, 5, shield(**pane))
    assert found.depth == (None if depth is None else pytest.approx(depth * INCH))
    assert (found.words, found.question, found.none_allowed) == (words, LINE if asks else None, rule is StripRule.NONE)


def test_a_depth_that_is_not_on_file_is_said_so() -> None:
    assert strip_words(StripRule.INCHES, None) == "a depth not on file"
    assert allowed_reach(StripRule.LONGER, None, shield(as1_depth=100.0)).question == LINE
    assert allowed_reach(StripRule.INCHES, None, shield()).depth is None


@pytest.mark.parametrize(
    ("condition", "pane", "state", "words", "asks"),
    [
        ({"rule": "none"}, {}, State.BROKEN, "Texas allows no strip on the windshield.", None),
        ({"rule": "unknown"}, {}, State.NO_RULE, "Texas: no rule on file about a strip.", None),
        ({"rule": "inches", "inches": 5}, {"strip_depth": None}, State.CANNOT_TELL, "The strip's depth has not been read.", "How deep is the strip?"),
        ({"rule": "inches", "inches": 5}, {}, State.KEPT, "5 in deep; Texas allows a strip down to 5 in.", None),
        ({"rule": "inches", "inches": 5}, {"strip_depth": 5 * INCH + 0.5}, State.KEPT, "", None),
        ({"rule": "inches", "inches": 5}, {"strip_depth": 5 * INCH + 0.6}, State.BROKEN, "", None),
        ({"rule": "inches", "inches": 4}, {}, State.BROKEN, "5 in deep; Texas allows a strip down to 4 in.", None),
        ({"rule": "as1"}, {"as1_mark": False}, State.NO_RULE, "Texas allows a strip down to the AS-1 line, and this glass bears no AS-1 line: no rule on file for that.", None),
        ({"rule": "as1"}, {}, State.CANNOT_TELL, "Texas allows a strip down to the AS-1 line.", LINE.text),
        ({"rule": "as1"}, {"as1_depth": 5 * INCH}, State.KEPT, "5 in deep; Texas allows a strip down to the AS-1 line.", None),
        ({"rule": "as1_else_inches", "inches": 5}, {"as1_mark": False}, State.KEPT, "", None),
        ({"rule": "longer", "inches": 4}, {"as1_depth": 6 * INCH}, State.KEPT, "", None),
        ({"rule": "longer", "inches": 6}, {}, State.KEPT, "", None),
        ({"rule": "longer", "inches": 4}, {"as1_depth": 4 * INCH}, State.BROKEN, "", None),
        ({"rule": "shorter", "inches": 4}, {}, State.BROKEN, "", None),
        ({"rule": "shorter", "inches": 6}, {"as1_depth": 4 * INCH}, State.BROKEN, "", None),
        ({"rule": "shorter", "inches": 6}, {"as1_depth": 6 * INCH}, State.KEPT, "", None),
        ({"rule": "as1_or_inches", "inches": 4}, {"as1_depth": 6 * INCH}, State.CANNOT_TELL, "Texas allows a strip down to the AS-1 line or 4 in.", "Which governs here, the AS-1 line or the inches?"),
        ({"rule": "as1_or_inches", "inches": 6}, {"as1_depth": 6 * INCH}, State.KEPT, "", None),
        ({"rule": "as1_or_inches", "inches": 4}, {"as1_depth": 4 * INCH}, State.BROKEN, "", None),
    ],
)  # fmt: skip
def test_whether_a_strip_ends_where_it_may(
    condition: dict[str, Any], pane: dict[str, Any], state: State, words: str, asks: str | None
) -> None:
    rule = replace(parse_condition({"strip": condition}), key="passenger.windshield.strip")
    found = strip_depth(rule, shield(**pane), "Texas")
    assert found.state is state
    assert not words or found.words == words
    assert found.barred is (state is State.BROKEN)
    assert [one.text for one in found.questions] == ([asks] if asks else [])
    for one in found.questions:
        governs = one.asks is Asks.LAW
        assert (one.window_id, one.law_field) == (("", "passenger.windshield.strip") if governs else ("p", ""))


def test_a_strip_by_the_driver_s_seat() -> None:
    rule = Condition(Word.SEAT_HEIGHT, inches=29.0)
    asked = seat_height(rule, shield(), "Arizona")
    assert told(asked) == (
        State.CANNOT_TELL,
        "Arizona measures the strip from the seat: 29 in above it at least.",
        False,
    )
    how = "How far above the driver's seat, cushion not pressed down, is the strip's lower edge?"
    assert asked.questions == (Question(Asks.SEAT_HEIGHT, how, "p"),)
    words = "The strip ends 29 in above the seat; Arizona asks 29 in."
    assert told(seat_height(rule, shield(strip_above_seat=29 * INCH), "Arizona")) == (State.KEPT, words, False)
    assert seat_height(rule, shield(strip_above_seat=29 * INCH - 0.5), "Arizona").state is State.KEPT
    assert seat_height(rule, shield(strip_above_seat=29 * INCH - 0.6), "Arizona").barred
    free = seat_height(Condition(Word.SEAT_HEIGHT), shield(strip_above_seat=0.0), "Arizona")
    assert told(free) == (State.KEPT, "The strip ends 0 in above the seat; Arizona asks 0 in.", False)


# --- figures, and what becomes of several findings


def test_a_figure_at_its_limit_is_not_under_it() -> None:
    here = case(record({"tolerance_points": {"kind": "granted", "points": 3}}))

    def at(vlt: float, pm: float = 0.0, **over: Any) -> Finding:
        return compared(here, vlt, pm, 0.25, lambda: "the 25 % asked", **over)

    assert (at(0.25).state, at(0.25).within, at(0.25 - 5e-10).within) == (State.KEPT, False, False)
    assert at(0.2499).words == (
        "25 % is less than 0.1 points under the 25 % asked. Texas grants the meter 3 points: under 22 % it reads with "
        "under 1 chance in 100."
    )
    assert (at(0.2499).within, at(0.2199).state, at(0.2499, metered=False).state) == (True, State.BROKEN, State.BROKEN)
    assert at(0.24, 0.03).state is State.BROKEN, "a meter may well read it under the tolerance too"
    assert at(0.27, 0.03).words == (
        "27 % is 2.0 points over the 25 % asked, yet a meter may read under it: 14 chances in 100."
    )
    assert at(0.5, subject="Other: ").words == "Other: 50 % is 25.0 points over the 25 % asked."
    assert [points_words(one) for one in (0.0005, 0.0004, 1e-9, -0.031)] == [
        "0.1 points", "less than 0.1 points", "0.0 points", "3.1 points",
    ]  # fmt: skip


def test_nothing_asked_is_kept_and_the_tightest_figure_is_told() -> None:
    near = find(Condition(Word.THIS_WINDOW, least=0.25), case())
    far = find(Condition(Word.THIS_WINDOW, least=0.10), case())
    mirrors = Finding(State.KEPT, "Outside mirrors on both sides.")
    for order in ([near, far, mirrors], [mirrors, far, near]):
        whole = of_all(order)
        assert (whole.light, whole.words) == (near.light, near.words)
    asked, other_ = (Finding(State.CANNOT_TELL, name, questions=(Question(Asks.LAW, name),)) for name in ("a", "b"))
    assert [one.text for one in of_all([asked, other_, asked]).questions] == ["a", "b"]
    assert of_any([asked, far]).words == far.words
    dark = find(Condition(Word.THIS_WINDOW, least=0.9), case())
    both = of_any([dark, asked, other_])
    assert (both.state, both.light, [one.text for one in both.questions]) == (State.CANNOT_TELL, dark.light, ["a", "b"])
    silent = of_any([dark, Finding(State.NO_RULE, "silent")])
    assert (silent.words, silent.light) == ("silent", dark.light)
    many = of_any([dark, *(Finding(State.BROKEN, f"way {i}", barred=True) for i in range(3))])
    assert many.brief == f"{dark.words} way 0 2 more ways in the law are not met."


def test_the_whole_car_is_judged_pane_by_pane_and_pairs_once() -> None:
    one = PaneFacts(FRONT, film(), light(40), light(78), id="l", label="Left")
    pair = replace(one, id="r", label="Right")
    unread = replace(one, id="u", label="Unread", combined=None, bare=None)
    bare = PaneFacts(REAR, None, light(78), light(78), id="b")
    car = CarFacts(P, True, panes=(one, pair, unread, replace(unread, id="v", label="Other"), bare))
    found = judge_car(record(), car, starting=START)
    assert set(found) == {"l", "r", "u", "v"}
    assert found["l"] is found["r"]
    assert [found[name].questions[0].window_id for name in ("u", "v")] == ["u", "v"]
    told_apart = judge_car(LAW.of("IL"), car, starting=START)
    assert told_apart["l"] is not told_apart["r"], "its rules look at other windows"
    dark, dim, clear = (
        judge(record(), replace(one, combined=light(net)), car, starting=START) for net in (10, 20, 60)
    )  # fmt: skip
    roof = judge(record(), PaneFacts(Position.ROOF, film(), None), car, starting=START)
    assert worst([clear, dim, dark]) is dark
    assert worst([clear, dim]) is dim
    assert worst([clear, roof]) is roof
    assert worst([clear, judge(record(), replace(one, combined=light(70)), car, starting=START)]) is clear


def test_a_book_with_sources_names_who_spoke() -> None:
    from elumbra.core.law import FieldSource

    said = {"TX": {"basis": FieldSource(False, "cited", "", "Ines", "2026-11-24")}}
    book = LAW.with_sources(said)
    assert book.of("TX").sources == said["TX"]
    assert book.of("FL").sources == {}
    assert (book.version, book.day, set(book.records)) == (LAW.version, LAW.day, set(LAW.records))
    kept = book.with_sources({})
    assert kept.of("TX").sources == said["TX"], "who is not named keeps what was said"


def test_a_word_holds_on_its_days_and_the_latest_counts() -> None:
    def book(day: str) -> Jurisdiction:
        words = [
            FieldWord("1", "TX", "basis", "film", "a", effective_from="2026-01-01", person="Ines", at="noon"),
            FieldWord("2", "TX", "basis", "net", "b", effective_from="2026-06-01", effective_until="2026-06-30"),
            FieldWord("3", "FL", "basis", "film", "c"),
        ]
        return FILE.on(day, words).of("TX")

    assert [book(day).basis for day in ("2025-12-31", "2026-01-01", "2026-06-01", "2026-06-30", "2026-07-01")] == [
        "net", "film", "net", "net", "film",
    ]  # fmt: skip
    source = book("2026-01-01").sources["basis"]
    assert (source.overruled, source.citation, source.effective_from) == (True, "a", "2026-01-01")
    assert (source.person, source.at) == ("Ines", "noon")
    assert not book("2026-06-01").sources["basis"].overruled
    assert "basis" not in book("2026-01-01").unconfirmed

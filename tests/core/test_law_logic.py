"""The three-valued logic of conditions, held against trying out every completion of what is not known."""

from __future__ import annotations

from itertools import product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.glass import Position
from elumbra.core.law import (
    HELP,
    CarFacts,
    Condition,
    Finding,
    LightTest,
    PaneFacts,
    State,
    VehicleClass,
    Word,
    clauses_for,
    parse_condition,
    words_in,
)
from elumbra.core.law.evaluate import Case, find
from elumbra.core.law.finding import of_all, of_any
from elumbra.core.law.records import Role
from tests.catalogue.law import LAW, START, light, verdict
from tests.catalogue.panes import film
from tests.effort import examples

# A small world of four facts, each told or not: two answers of the vehicle, two of the pane.
FACTS = ("mirrors", "factory", "van", "line")


def leaf(fact: str) -> Condition:
    """A condition that is kept exactly when the fact is true."""
    return {
        "mirrors": Condition(Word.OUTSIDE_MIRRORS),
        "factory": Condition(Word.FACTORY_GLASS),
        "van": Condition(Word.REGISTERED_AS, among=("van",)),
        "line": parse_condition({"strip": {"rule": "as1"}}),
    }[fact]


conditions = st.recursive(
    st.sampled_from(FACTS).map(leaf),
    lambda inner: st.builds(
        Condition, st.sampled_from([Word.ALL, Word.ANY]), st.lists(inner, min_size=1, max_size=4).map(tuple)
    ),
    max_leaves=9,
)
worlds = st.fixed_dictionaries({fact: st.sampled_from([True, False, None]) for fact in FACTS})


def case(world: dict[str, bool | None]) -> Case:
    """The pane and car in which these facts hold; None where nobody said."""
    registered = {True: "van", False: "sedan", None: None}[world["van"]]
    line = {True: 200.0, False: 50.0, None: None}[world["line"]]  # the strip is 100 mm deep
    pane = PaneFacts(
        Position.WINDSHIELD, film(), light(30), light(78), is_strip=True, strip_depth=100.0, as1_depth=line,
        factory_glass=world["factory"],
    )  # fmt: skip
    from elumbra.core.law import RegisteredAs

    car = CarFacts(
        VehicleClass.PASSENGER, world["mirrors"], registered_as=RegisteredAs(registered) if registered else None,
        panes=(pane,),
    )  # fmt: skip
    return Case(LAW.of("TX"), pane, car, START, pane.film)


def truth(condition: Condition, world: dict[str, bool]) -> bool:
    """Plain two-valued logic, once everything is known."""
    if condition.word is Word.ALL:
        return all(truth(part, world) for part in condition.parts)
    if condition.word is Word.ANY:
        return any(truth(part, world) for part in condition.parts)
    return world[next(fact for fact in FACTS if leaf(fact) == condition)]


@examples(400)
@given(condition=conditions, world=worlds)
def test_what_is_told_with_facts_missing_holds_whatever_they_turn_out_to_be(
    condition: Condition, world: dict[str, bool | None]
) -> None:
    """Kept means kept in every completion, broken broken in every one; only else may it be left open."""
    found = find(condition, case(world))
    choices = [[told] if (told := world[fact]) is not None else [True, False] for fact in FACTS]
    outcomes = {truth(condition, dict(zip(FACTS, values, strict=True))) for values in product(*choices)}
    if found.state is State.KEPT:
        assert outcomes == {True}
    elif found.state is State.BROKEN:
        assert outcomes == {False}
    else:
        assert found.state is State.CANNOT_TELL
        assert None in world.values()
        assert found.questions, "what is open is asked"


@examples(200)
@given(condition=conditions, world=worlds)
def test_answering_the_question_asked_first_always_gets_further(
    condition: Condition, world: dict[str, bool | None]
) -> None:
    """After at most four answers everything is told, and each question is about something that nobody said."""
    by_key = {"mirrors_both_sides": "mirrors", "factory_glass": "factory", "registered_as": "van", "as1_depth": "line"}
    answered = dict(world)
    for _ in range(len(FACTS) + 1):
        found = find(condition, case(answered))
        if found.state is not State.CANNOT_TELL:
            return
        fact = by_key[found.questions[0].asks.value]
        assert answered[fact] is None
        answered[fact] = True
    pytest.fail("the questions go round in a circle")


KEPT, BROKEN = Finding(State.KEPT), Finding(State.BROKEN, barred=True)
OPEN, SILENT = Finding(State.CANNOT_TELL), Finding(State.NO_RULE)
DARK = Finding(State.BROKEN, "dark", light=LightTest(0.2, 0.3, 0.9))
CLOSE = Finding(State.KEPT, "close", close=True, light=LightTest(0.31, 0.3, 0.3))
CLEAR = Finding(State.KEPT, "clear", light=LightTest(0.5, 0.3, 0.0))


@pytest.mark.parametrize(
    ("found", "state", "barred", "close"),
    [
        ([KEPT, KEPT], State.KEPT, False, False),
        ([KEPT, CLOSE], State.KEPT, False, True),
        ([KEPT, SILENT], State.NO_RULE, False, False),
        ([SILENT, OPEN], State.CANNOT_TELL, False, False),
        ([OPEN, DARK], State.BROKEN, False, False),
        ([DARK, BROKEN], State.BROKEN, True, False),
        ([SILENT, BROKEN], State.BROKEN, True, False),
    ],
)
def test_every_one_must_hold(found: list[Finding], state: State, barred: bool, close: bool) -> None:
    whole = of_all(found)
    assert (whole.state, whole.barred, whole.close) == (state, barred, close)
    assert of_all(found[::-1]).state is state, "order decides nothing"


@pytest.mark.parametrize(
    ("found", "state", "barred", "close"),
    [
        ([BROKEN, KEPT], State.KEPT, False, False),
        ([CLOSE, CLEAR], State.KEPT, False, False),
        ([CLOSE, BROKEN], State.KEPT, False, True),
        ([OPEN, CLOSE], State.KEPT, False, True),
        ([OPEN, DARK], State.CANNOT_TELL, False, False),
        ([SILENT, DARK], State.NO_RULE, False, False),
        ([BROKEN, DARK], State.BROKEN, False, False),  # a lighter film mends the one way
        ([BROKEN, BROKEN], State.BROKEN, True, False),
    ],
)
def test_one_must_hold(found: list[Finding], state: State, barred: bool, close: bool) -> None:
    for order in (found, found[::-1]):
        whole = of_any(order)
        assert (whole.state, whole.barred, whole.close) == (state, barred, close)


def test_sentences_of_parts_stand_once_each_and_are_made_only_when_asked() -> None:
    asked = []

    def tell() -> str:
        asked.append(1)
        return "Said once."

    whole = of_all([Finding(State.BROKEN, tell), Finding(State.BROKEN, tell), DARK])
    assert asked == []
    assert whole.words == "Said once. dark"
    assert whole.about_light() == "dark"


def test_a_sentence_tells_two_ways_that_are_not_met_and_counts_the_rest() -> None:
    """Nearest first; what no lighter film mends comes after what one does. The clause keeps them all."""
    ways = [
        Finding(State.BROKEN, "under 50", light=LightTest(0.34, 0.50, 1.0)),
        Finding(State.BROKEN, "no film here", barred=True),
        Finding(State.BROKEN, "under 35", light=LightTest(0.34, 0.35, 0.7)),
    ]
    whole = of_any(ways)
    assert whole.brief == "under 35 under 50 One more way in the law is not met."
    assert whole.words == "under 35 under 50 no film here"
    assert of_all([whole, Finding(State.KEPT, "kept")]).brief == whole.brief
    assert of_any(ways[:2]).brief == "under 50 no film here"


def test_a_linked_limit_says_why_it_is_asked() -> None:
    said = verdict("IL", VehicleClass.PASSENGER, Position.FRONT_SIDE, "net 42, rears 32 filmed").sentence
    assert said.startswith(
        "42 % is 8.0 points under Illinois's 50 % at the front side. rear_side: 32 % is 3.0 points under"
    )
    assert said.endswith("One more way in the law is not met.")


@pytest.mark.parametrize("word", list(Word))
def test_every_word_has_a_meaning_and_an_example_that_reads(word: Word) -> None:
    meaning, argument = HELP[word]
    assert meaning
    assert parse_condition({word.value: argument}).word is word


def test_roles_do_what_they_say() -> None:
    """Illinois replaces its table, Colorado stands beside as a way out, Oregon comes on top, Arkansas sets the scope."""

    def of(state: str, position: Position) -> dict[str, Condition]:
        found = clauses_for(LAW.of(state), VehicleClass.PASSENGER, position, strip=False)
        return {clause.id: clause.condition for clause in found}

    floor = of("IL", Position.FRONT_SIDE)["floor"]
    assert floor.word is Word.ANY
    assert Word.OTHER_WINDOWS in words_in(floor)
    way_out = of("CO", Position.REAR_SIDE)["floor"]
    assert [part.word for part in way_out.parts] == [Word.FLOOR, Word.OTHER_WINDOWS]
    assert (way_out.parts[0].floor, way_out.parts[0].least) == ("floor", 0.27)
    assert "OR.film_alone" in of("OR", Position.FRONT_SIDE)
    assert next(iter(of("AR", Position.FRONT_SIDE))) == "AR.model_year"
    assert {clause.role for record in LAW.records.values() for clause in record.clauses} == set(Role)


def test_a_clause_speaks_only_of_its_own_classes_positions_and_strip() -> None:
    mirrors = [
        (vehicle_class, position)
        for vehicle_class in VehicleClass
        for position in Position
        if position is not Position.ROOF
        and any(c.id == "VA.mirrors_behind" for c in clauses_for(LAW.of("VA"), vehicle_class, position, strip=False))
    ]
    assert mirrors == [
        (VehicleClass.MULTIPURPOSE, Position.REAR_SIDE),
        (VehicleClass.MULTIPURPOSE, Position.REAR_WINDOW),
    ]
    front = LAW.of("MI"), VehicleClass.PASSENGER, Position.FRONT_SIDE
    assert clauses_for(*front, strip=True)[0].condition.word is Word.STRIP
    assert clauses_for(*front, strip=False)[0].condition.floor == "none_allowed"

"""One gate before the knife: nothing that adds film, reflection, colour or ignorance releases it.

The sweep goes through all jurisdictions, classes and positions, whole panes and strips; what
releases is said by ``heart`` section 4 and by nothing in the law file.
"""

import re
from collections.abc import Iterator
from dataclasses import replace
from functools import cache
from itertools import pairwise, product
from pathlib import Path
from typing import Any, NamedTuple

import pytest

from elumbra.core.errors import FilmError
from elumbra.core.film import Colour, Construction, Film, VltBasis, check_film
from elumbra.core.glass import GlassType, Position
from elumbra.core.law import CarFacts, PaneFacts, RegisteredAs, VehicleClass, Verdict, VerdictWord, judge, words_in
from elumbra.core.law import Word as ConditionWord
from elumbra.core.law.clauses import rules_for
from elumbra.core.light import Combined, GlassSource
from elumbra.core.measure import Level
from elumbra.core.work import ReasonKind, Station, Unmetered, is_held, look_over, readiness, releases_by_itself
from elumbra.core.work.reasons import Reason
from tests.catalogue.law import CLASSES, LAW, light, verdict
from tests.catalogue.law import POSITIONS as CATALOGUE_POSITIONS
from tests.catalogue.panes import film, readings, starting
from tests.core.test_work import job, window
from tests.effort import sample

START = starting()
POSITIONS = (Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW, Position.WINDSHIELD)
BARE = light(78)
REFLECTS = (None, 5.0, 15.0, 30.0, 45.0)
FINISH = (None, False, True)
GREY, CLEAR = (Colour.GREY,), (Colour.COLOURLESS,)
COLOURS: tuple[tuple[Colour, ...], ...] = ((), GREY, CLEAR, (Colour.GREEN,), (Colour.COLOURLESS, Colour.RED))
MADE = (Construction.CARBON, Construction.METAL, Construction.CLEAR)
ALONE = (20.0, 90.0)
NETS = (4, 33, 72, None)
FEW_NETS = (33, 72)


class Place(NamedTuple):
    """Where a pane is, in which state, and whether film covers all of it."""

    state: str
    vehicle_class: VehicleClass
    position: Position
    strip: bool


def places(state: str) -> Iterator[Place]:
    """Every kind of pane of a state."""
    for vehicle_class, position, strip in product(VehicleClass, POSITIONS, (False, True)):
        yield Place(state, vehicle_class, position, strip)


@cache
def films() -> dict[tuple[Any, ...], Film]:
    """Every film of the sweep that the shop would take on file."""
    found = {}
    for key in product(REFLECTS, FINISH, COLOURS, MADE, ALONE):
        reflects, finish, colours, made, alone = key
        one = Film(
            id="f", name="Sweep film", construction=made, vlt_percent=alone, vlt_basis=VltBasis.UNKNOWN,
            reflectance_percent=reflects, mirror_finish=finish, colours=colours,
        )  # fmt: skip
        try:
            check_film(one, starting=START)
        except FilmError:
            continue
        found[key] = one
    return found


class Known(NamedTuple):
    """Everything about car and pane that a record may ask; as if somebody had looked at it all."""

    net: float | None = 72
    factory: bool | None = False
    mirrors: bool | None = True
    year: int | None = 2020
    registered: RegisteredAs | None = RegisteredAs.SEDAN
    persons: int | None = 5
    chassis: bool | None = True
    off_road: bool | None = False
    strip_depth: float | None = 60.0
    as1_mark: bool | None = True
    as1_depth: float | None = 140.0
    seat: float | None = 800.0
    others: str = "bare"  # bare, filmed, unmetered, unlisted
    layers: int = 0


def pane_of(place: Place, one: Film, known: Known) -> PaneFacts:
    """A pane as planned."""
    combined = None if known.net is None else light(known.net)
    return PaneFacts(
        place.position, one, combined, BARE if combined else None, id="this", label="this window",
        old_layers=known.layers, window_reflectance=one.reflectance, is_strip=place.strip,
        strip_depth=known.strip_depth, as1_depth=known.as1_depth, as1_mark=known.as1_mark,
        strip_above_seat=known.seat, factory_glass=known.factory,
    )  # fmt: skip


def other_panes(place: Place, how: str) -> list[PaneFacts]:
    """The rest of the glass."""
    if how == "unlisted":
        return []
    dark = light(10)
    seen: dict[str, Combined | None] = {"bare": BARE, "filmed": dark, "unmetered": None}
    one = film() if how == "filmed" else None
    return [
        PaneFacts(p, one, seen[how], seen[how] if one is None else BARE, id=p.value, label=p.value, factory_glass=False)
        for p in POSITIONS
        if p is not place.position
    ]


def answer(place: Place, one: Film, known: Known) -> Verdict:
    """What the state says."""
    pane = pane_of(place, one, known)
    car = CarFacts(
        place.vehicle_class, known.mirrors, known.year, known.registered, known.persons, known.chassis,
        known.off_road, panes=(pane, *other_panes(place, known.others)),
    )  # fmt: skip
    return judge(LAW.of(place.state), pane, car, starting=START)


def releases(place: Place, one: Film, known: Known, *, inside: bool) -> bool:
    """Whether the knife is released, the shop working inside the law's tolerance or not."""
    found = answer(place, one, known)
    return releases_by_itself(found._replace(law=replace(found.law, works_inside_tolerance=inside)))


def no_worse(key: tuple[Any, ...]) -> Iterator[tuple[str, tuple[Any, ...]]]:
    """Films that must be released wherever a film is: with less to be said against it, or more known."""
    reflects, finish, colours, made, alone = key
    for other in REFLECTS[1:]:
        if reflects is None:
            yield "the reflectance was forgotten", (other, finish, colours, made, alone)
        elif other is not None and other < reflects:
            yield "reflecting more was released", (other, finish, colours, made, alone)
    if finish is None:
        yield from (("the finish was not told", (reflects, one, colours, made, alone)) for one in (True, False))
    if finish is True:
        yield "a mirror was released", (reflects, False, colours, made, alone)
    if not colours:
        yield from (("the colour was not told", (reflects, finish, one, made, alone)) for one in COLOURS)
    if colours == (Colour.COLOURLESS, Colour.RED):
        yield "red on colourless was released", (reflects, finish, CLEAR, made, alone)
    for other_make in MADE:
        if other_make is not Construction.METAL:
            yield "what it is made of released it", (reflects, finish, colours, other_make, alone)
    yield "darker by itself was released", (reflects, finish, colours, made, 90.0)


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_no_film_that_reflects_more_is_coloured_more_or_known_less_is_released(state: str) -> None:
    for place, net in product(places(state), FEW_NETS):
        free = {key for key, one in films().items() if releases(place, one, Known(net=net), inside=True)}
        wrong = [
            (why, key, better)
            for key in free
            for why, better in no_worse(key)
            if better in films() and better not in free
        ]
        assert not wrong, (place, net, wrong[0])


PLAIN = film(0.9, reflectance=0.05, mirror_finish=False)
AXES: dict[str, tuple[tuple[Any, ...], frozenset[ConditionWord]]] = {
    "factory": ((None, True, False), frozenset({ConditionWord.FACTORY_GLASS})),
    "mirrors": ((None, True, False), frozenset({ConditionWord.OUTSIDE_MIRRORS})),
    "year": ((None, 1990, 2020), frozenset({ConditionWord.MODEL_YEAR})),
    "registered": ((None, *RegisteredAs), frozenset({ConditionWord.REGISTERED_AS})),
    "persons": ((None, 5, 12), frozenset({ConditionWord.BUILT_AS})),
    "chassis": ((None, True, False), frozenset({ConditionWord.BUILT_AS})),
    "off_road": ((None, True, False), frozenset({ConditionWord.BUILT_AS})),
    "strip_depth": ((None, 60.0, 150.0, 300.0), frozenset({ConditionWord.STRIP})),
    "as1_depth": ((None, 50.0, 140.0, 400.0), frozenset({ConditionWord.STRIP})),
    "seat": ((None, 300.0, 800.0), frozenset({ConditionWord.SEAT_HEIGHT})),
}


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_no_fact_that_is_forgotten_releases_the_knife(state: str) -> None:
    """With every other fact at each of its values, a fact nobody told is no better than its worst value."""
    for place in places(state):
        rules = rules_for(LAW.of(state), place.vehicle_class, place.position, place.strip)
        asked = set[ConditionWord]().union(*(words_in(clause.condition) for clause in rules.clauses))
        axes = {name: values for name, (values, words) in AXES.items() if words & asked}
        for net, how in product(NETS, ("bare", "filmed", "unmetered", "unlisted")):
            for values in product(*(axes.values())):
                known = Known(net=net, others=how)._replace(**dict(zip(axes, values, strict=True)))
                if not releases(place, PLAIN, known, inside=True):
                    continue
                for name, told in axes.items():
                    if getattr(known, name) is None:
                        for one in told:
                            better = known._replace(**{name: one})
                            assert releases(place, PLAIN, better, inside=True), (place, known, name, one)
                if how in ("filmed", "unmetered", "unlisted"):
                    assert releases(place, PLAIN, known._replace(others="bare"), inside=True), (place, known)
                if net is None:
                    assert all(releases(place, PLAIN, known._replace(net=one), inside=True) for one in NETS), known


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_more_film_never_releases(state: str) -> None:
    """A darker film, one more sheet, film on another window, or the tolerance left unused."""
    for place in places(state):
        for how, inside in product(("bare", "filmed"), (False, True)):
            known = Known(others=how)
            row = [releases(place, PLAIN, known._replace(net=net), inside=inside) for net in (4, 15, 33, 34, 48, 72)]
            assert all(lighter or not darker for darker, lighter in pairwise(row)), (place, how, row)
            if releases(place, PLAIN, known._replace(layers=1), inside=inside):
                assert releases(place, PLAIN, known, inside=inside), (place, "one more sheet")
            if not inside and releases(place, PLAIN, known, inside=False):
                assert releases(place, PLAIN, known, inside=True), place


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_a_strip_on_side_or_rear_glass_is_never_judged_better_than_the_whole_pane(state: str) -> None:
    """But by a clause that is written for strips; Michigan has one."""
    order = list(VerdictWord)
    for vehicle_class, position in product(VehicleClass, POSITIONS[:3]):
        if any(clause.on == "strip" and position in clause.positions for clause in LAW.of(state).clauses):
            continue
        for net, how in product((4, 34, 72, None), ("bare", "filmed", "unlisted")):
            for one in list(films().values())[::11]:
                whole, strip = (
                    answer(Place(state, vehicle_class, position, on), one, Known(net=net, others=how)).word
                    for on in (False, True)
                )
                assert order.index(strip) <= order.index(whole), (vehicle_class, position, net, how, one)


REASONS = {
    kind: Reason(kind, "f", "wish", "M-71", "2099-01-01", citation="§ 3 of the made-up rules") for kind in ReasonKind
}


@pytest.mark.parametrize(
    ("state", "net", "one", "word", "released_by"),
    [
        ("FL", 40, PLAIN, VerdictWord.CLEARS, set(ReasonKind) | {None}),
        ("FL", 28, PLAIN, VerdictWord.CLOSE, set(ReasonKind) | {None}),
        ("FL", 20, PLAIN, VerdictWord.TOO_DARK, {ReasonKind.MEDICAL_EXEMPTION, ReasonKind.OFF_ROAD_OR_SHOW}),
        ("FL", 40, film(colours=(Colour.RED,), reflectance=0.05), VerdictWord.NOT_ALLOWED,
         {ReasonKind.OFF_ROAD_OR_SHOW}),
        ("FL", None, PLAIN, VerdictWord.CANNOT_TELL, set()),
        ("AL", 60, film(colours=(Colour.GREEN,), reflectance=0.05), VerdictWord.NO_RULE,
         {ReasonKind.OFF_ROAD_OR_SHOW, ReasonKind.RULE_LOOKED_UP}),
        ("IL", 34, PLAIN, VerdictWord.WITHIN_TOLERANCE, {ReasonKind.MEDICAL_EXEMPTION, ReasonKind.OFF_ROAD_OR_SHOW}),
    ],
)  # fmt: skip
def test_what_releases_each_word(
    state: str, net: float | None, one: Film, word: VerdictWord, released_by: set[ReasonKind | None]
) -> None:
    found = answer(Place(state, VehicleClass.PASSENGER, Position.FRONT_SIDE, strip=False), one, Known(net=net))
    assert found.word is word
    for kind in (None, *ReasonKind):
        given = None if kind is None else REASONS[kind]
        assert is_held(found, given, "f") is not (kind in released_by), kind
        assert is_held(found, given, "another film") is not (None in released_by), "a reason is for one film"


def test_a_shop_that_works_inside_the_tolerance_cuts_within_it_and_nothing_darker() -> None:
    place = Place("IL", VehicleClass.PASSENGER, Position.FRONT_SIDE, strip=False)
    assert [releases(place, PLAIN, Known(net=net), inside=False) for net in (28, 34, 36)] == [False, False, True]
    assert [releases(place, PLAIN, Known(net=net), inside=True) for net in (28, 34, 36)] == [False, True, True]


def test_film_under_the_limit_with_no_rule_beside_it_is_not_released_by_looking_the_rule_up() -> None:
    """Alabama, 31.9 % under 32 %: within its 3 points, and green film, of which nothing is on file."""
    green = film(colours=(Colour.GREEN,), reflectance=0.05)
    place = Place("AL", VehicleClass.PASSENGER, Position.FRONT_SIDE, strip=False)
    found = answer(place, green, Known(net=31.9))
    assert found.word is VerdictWord.NO_RULE
    assert is_held(found, REASONS[ReasonKind.RULE_LOOKED_UP], "f")
    inside = found._replace(law=replace(found.law, works_inside_tolerance=True))
    assert not is_held(inside, REASONS[ReasonKind.RULE_LOOKED_UP], "f")


GATE_PAGE = (Path(__file__).resolve().parents[2] / "docs" / "guide" / "gate.md").read_text(encoding="utf-8")
WRONG_CLEARS = [
    tuple(cell.strip() for cell in line.strip("|").split("|"))
    for line in GATE_PAGE.splitlines()
    if re.match(r"\| [A-Z]{2} [PM] (FS|RS|RW|WS) \|", line)
]


@pytest.mark.parametrize(("pane", "situation", "_why", "before", "now"), WRONG_CLEARS)
def test_no_wrong_clears_comes_back(pane: str, situation: str, _why: str, before: str, now: str) -> None:
    state, vehicle_class, position = pane.split()
    assert before in ("Clears", "Close")
    assert now not in ("Clears", "Close")
    assert verdict(state, CLASSES[vehicle_class], CATALOGUE_POSITIONS[position], situation).word.value == now


def test_the_page_of_wrong_clears_has_its_table() -> None:
    assert len(WRONG_CLEARS) >= 15


# ---- the gate in a car

SIZE = readings({"width": 900.0, "height": 450.0})
SLIPPED = readings(
    {"bottom": 900.0, "right": 450.0, "top": 900.0, "left": 450.0, "diagonal_rising": 1006.2, "diagonal_falling": 980.0}
)


def test_readings_that_do_not_close_hold_the_knife_and_say_what_to_read() -> None:
    car = job(
        window("df", level=Level.SHAPE, readings=SLIPPED, film_id="f"),
        window("dr", position=Position.REAR_SIDE, readings=SIZE, film_id="f"),
        films=(film(reflectance=0.05),),
    )
    found = look_over(car, LAW, starting=START)
    hold = found.held["df"]
    assert hold.station is Station.SURVEY
    assert hold.reason.startswith("The readings do not close")
    assert set(found.to_cut["f"].panes) == {"dr"}
    assert readiness(found).headline == "1 of 2 windows ready; 1 held back"


def test_cannot_tell_holds_with_its_question_and_the_answer_releases_it() -> None:
    unmetered = job(window("df", readings=SIZE, film_id="f", bare=None), films=(film(reflectance=0.05),))
    hold = look_over(unmetered, LAW, starting=START).held["df"]
    assert (hold.station, hold.word) == (Station.SHADE, VerdictWord.CANNOT_TELL)
    assert [question.text for question in hold.questions] == ["What does the bare glass of df pass?"]
    metered = job(window("df", readings=SIZE, film_id="f"), films=(film(0.7, reflectance=0.05),))
    assert not look_over(metered, LAW, starting=START).held


@pytest.mark.parametrize(("read", "held"), [((75.0, 20.0), True), ((75.0, 70.9), True), ((75.0, 71.0), False)])
def test_meter_readings_too_far_apart_are_asked_again(read: tuple[float, ...], held: bool) -> None:
    mean = sum(read) / len(read)
    pane = window(
        "df",
        readings=SIZE,
        film_id="f",
        bare_vlt_percent=mean,
        bare_readings_percent=read,
        glass_type=GlassType.TEMPERED,
    )
    found = look_over(job(pane, films=(film(0.7, reflectance=0.05),)), LAW, starting=START)
    assert bool(found.held) is held
    if held:
        assert "cannot be of one pane: read it again" in found.held["df"].reason


@pytest.mark.parametrize(
    ("source", "net", "does", "given", "held"),
    [
        ("assumed", 35, "ask", None, True),
        ("marked", 35, "ask", None, True),
        ("metered", 35, "ask", None, False),
        ("assumed", 35, "ask", ReasonKind.GLASS_NOT_METERED, False),
        ("assumed", 35, "warn", None, False),
        ("assumed", 35, "allow", None, False),
        ("assumed", 95, "ask", None, False),  # far enough over
    ],
)
def test_glass_that_nobody_metered_is_asked_about_told_or_left_as_the_shop_says(
    source: str, net: float, does: str, given: ReasonKind | None, held: bool
) -> None:
    """Florida asks for 28 %: 75 glass under a 35 film passes 29, and an assumed pane may well be darker."""
    bare = 75.0 if net == 35 else 92.0
    reason = Reason(given, "f", "wish", "the customer waits") if given else None
    readings_percent = (bare,) if source == "metered" else ()
    pane = window(
        "df", readings=readings({"width": 900.0, "height": 450.0}), film_id="f", bare_vlt_source=GlassSource(source),
        bare_vlt_percent=bare, bare_readings_percent=readings_percent, reason=reason,
    )  # fmt: skip
    car = replace(job(pane, films=(film(net / 100, reflectance=0.05),)), unmetered=Unmetered(does))
    found = look_over(car, LAW, starting=START)
    words = readiness(found).headline
    assert ("df" in found.held) is held, found.held
    told = does != "allow" and source != "metered" and net == 35
    assert ("Glass not metered: " in words and "chance a meter reads under" in words) is told
    if held:
        assert found.held["df"].station is Station.SURVEY
        assert "Meter the bare glass at Survey" in found.held["df"].reason

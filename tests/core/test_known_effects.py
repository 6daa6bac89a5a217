"""What must happen to an answer when its input changes in a known way, whatever the answer is.

These need no expected figure: a turned pane, one more sheet of film, a shallower strip or a
fuller rack has an effect that anybody in the trade can foretell.
"""

import re
from dataclasses import replace
from itertools import permutations
from math import prod

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from elumbra.core.cut import Housing, StripPlan, StripShape, plan_strip
from elumbra.core.film import VltBasis
from elumbra.core.geom import area
from elumbra.core.glass import Outline, Position
from elumbra.core.law import CarFacts, PaneFacts, RegisteredAs, VehicleClass, VerdictWord, judge, judge_car
from elumbra.core.light import (
    Element,
    Glass,
    GlassSource,
    chain,
    combine,
    probability_reads_below,
    stack,
)
from elumbra.core.measure import Figure
from elumbra.core.nest import Blank, Costing, CutPlan, Turn, TurnOption, plan_cuts
from tests.catalogue.law import LAW, light, verdict
from tests.catalogue.panes import INCH, QUADS, SIX, film, fit_corners, readings, roll, starting, true_lengths
from tests.effort import examples, sample

START = starting()
COSTING = Costing.from_starting(START)
ORDER = list(VerdictWord)
SIDES = (Position.FRONT_SIDE, Position.REAR_SIDE, Position.REAR_WINDOW, Position.WINDSHIELD)

states = st.sampled_from(sorted(LAW.records))
classes = st.sampled_from(list(VehicleClass))
positions = st.sampled_from(SIDES)
shares = st.floats(0.05, 0.95)


# ---- law


def _rank(state: str, vehicle_class: VehicleClass, position: Position, told: str) -> int:
    return ORDER.index(verdict(state, vehicle_class, position, told).word)


@examples(150)
@given(states, classes, positions, st.floats(0.01, 0.9), st.floats(0.01, 0.9), st.sampled_from([20, 40, 72]))
def test_film_that_gives_back_less_light_is_never_judged_worse(
    state: str, vehicle_class: VehicleClass, position: Position, one: float, other: float, net: int
) -> None:
    less, more = sorted((round(100 * one), round(100 * other)))
    told = f"net {net}, registered sedan, reflects "
    assert _rank(state, vehicle_class, position, told + str(less)) >= _rank(
        state, vehicle_class, position, told + str(more)
    )


@examples(150)
@given(states, classes, st.integers(4, 48), st.integers(4, 48), st.sampled_from(["as1 none", "as1 5 1/2", "seat 30"]))
def test_a_shallower_strip_is_never_judged_worse(
    state: str, vehicle_class: VehicleClass, one: int, other: int, known: str
) -> None:
    shallow, deep = sorted((one, other))
    told = f"net 60, registered sedan, {known}, strip "
    assert _rank(state, vehicle_class, Position.WINDSHIELD, f"{told}{shallow}/4") >= _rank(
        state, vehicle_class, Position.WINDSHIELD, f"{told}{deep}/4"
    )


@examples(100)
@given(states, classes, positions, st.sampled_from([3, 15, 30, 60]))
def test_outside_mirrors_never_make_it_worse(
    state: str, vehicle_class: VehicleClass, position: Position, net: int
) -> None:
    told = f"net {net}, registered sedan, mirrors "
    assert _rank(state, vehicle_class, position, told + "yes") >= _rank(state, vehicle_class, position, told + "no")


@examples(60)
@given(states, classes, st.permutations(range(6)))
def test_the_order_of_the_windows_does_not_matter(state: str, vehicle_class: VehicleClass, order: list[int]) -> None:
    dark = film(0.2)
    panes = [
        PaneFacts(p, dark if net < 70 else None, light(net), light(78), id=f"{p.value} {i}", factory_glass=False)
        for i, (p, net) in enumerate(zip((*SIDES, Position.FRONT_SIDE, Position.REAR_SIDE), (33, 28, 18, 75, 33, 28), strict=True))
    ]  # fmt: skip
    law = LAW.of(state)

    def words(listed: list[PaneFacts]) -> dict[str, VerdictWord]:
        car = CarFacts(vehicle_class, True, 2020, RegisteredAs.SEDAN, panes=tuple(listed))
        return {key: found.word for key, found in judge_car(law, car, starting=START).items()}

    assert words([panes[i] for i in order]) == words(panes)


@examples(60)
@given(states, classes, positions, st.sampled_from([10, 30, 60]))
def test_a_window_is_judged_the_same_alone_and_with_the_whole_car(
    state: str, vehicle_class: VehicleClass, position: Position, net: int
) -> None:
    panes = tuple(
        PaneFacts(p, film(), light(net), light(78), id=p.value, factory_glass=False) for p in SIDES
    )  # fmt: skip
    car = CarFacts(vehicle_class, True, 2020, RegisteredAs.SUV, panes=panes)
    pane = next(one for one in panes if one.position is position)
    together = judge_car(LAW.of(state), car, starting=START)[pane.id]
    assert together.word is judge(LAW.of(state), pane, car, starting=START).word


SITUATIONS = (
    "net 30", "net ?", "net 3, mirrors no", "net 60, reflects 40", "net 60, colour red", "net 60, mirror finish",
    "net 88, clear film", "net 20, layers 3", "net 55, strip 5, as1 none", "net 55, strip 7, as1 5 1/2",
    "net 20, factory ?, mirrors ?, year ?", "net 42, rears 32 filmed, fronts 60 filmed", "net 42, rears unlisted",
)  # fmt: skip
UNSPEAKABLE = re.compile(r"None|nan|\binf\b|  |\.\.|%%|[{}]|\bTrue\b|\bFalse\b|<|>")


@pytest.mark.parametrize("state", sample(sorted(LAW.records), 8, seed=3))
def test_every_answer_reads_as_a_sentence_with_its_citation(state: str) -> None:
    for vehicle_class in VehicleClass:
        for position in SIDES:
            for situation in SITUATIONS:
                found = verdict(state, vehicle_class, position, situation)
                said = [
                    found.sentence,
                    *(words for clause in found.clauses for words in (clause.sentence, clause.found)),
                ]
                assert found.sentence[-1] in ".?", (position, situation, found.sentence)
                assert not [words for words in said if UNSPEAKABLE.search(words)], (position, situation)
                assert found.citation.strip()
                if found.word is VerdictWord.CANNOT_TELL:
                    assert found.questions, (position, situation)


@examples(200)
@given(states, classes, positions, st.floats(1, 88))
def test_too_dark_lies_under_its_limit_and_close_may_be_read_under_it(
    state: str, vehicle_class: VehicleClass, position: Position, net: float
) -> None:
    """On its own: no other window, no other film that a linked rule could look at."""
    found = verdict(state, vehicle_class, position, f"net {net}, registered sedan, fronts unlisted, rears unlisted")
    if found.margin_points is None or found.risk is None:
        return
    if found.word is VerdictWord.TOO_DARK:
        assert found.margin_points < 0
    if found.word is VerdictWord.CLOSE:
        assert found.risk > 0.05  # what still counts as clear


# ---- light


@st.composite
def elements(draw: st.DrawFn) -> Element:
    """A part that passes, gives back and swallows light without making any."""
    through, outside, inside = draw(shares), draw(shares), draw(shares)
    total = max(through + outside, through + inside, 1.0)
    return Element(through / total, outside / total, inside / total)


def _turned(one: Element) -> Element:
    return Element(one.through, one.back_inside, one.back_outside)


@given(elements(), elements(), elements())
def test_parts_may_be_joined_in_any_grouping(a: Element, b: Element, c: Element) -> None:
    left, right = stack(stack(a, b), c), stack(a, stack(b, c))
    for key in ("through", "back_outside", "back_inside"):
        assert getattr(left, key) == pytest.approx(getattr(right, key), rel=1e-9)


@given(elements(), elements())
def test_light_passes_as_well_from_either_side(a: Element, b: Element) -> None:
    """Turned round, a stack passes the same and gives back what its other side gave."""
    there, back = stack(a, b), stack(_turned(b), _turned(a))
    assert back.through == pytest.approx(there.through, rel=1e-12)
    assert back.back_outside == pytest.approx(there.back_inside, rel=1e-12)


@given(st.lists(shares, min_size=2, max_size=4), st.floats(0.2, 0.9))
def test_sheets_in_any_order_make_the_same_darkness(sheets: list[float], glass: float) -> None:
    bare = Glass(glass, GlassSource.METERED)
    found = {
        round(combine(bare, film(order[0]), starting=START, layers=[film(v) for v in order[1:]]).vlt, 12)
        for order in permutations(sheets)
    }
    assert len(found) == 1


@given(st.lists(shares, min_size=1, max_size=3), shares, st.floats(0.2, 0.9))
def test_one_more_sheet_never_lets_more_through(sheets: list[float], more: float, glass: float) -> None:
    assume(more < 0.9)  # a film clearer than the glass its sheet is measured on is not a tint
    bare = Glass(glass, GlassSource.METERED)
    first, *rest = [film(v) for v in sheets]
    without = combine(bare, first, starting=START, layers=rest)
    with_it = combine(bare, first, starting=START, layers=[*rest, film(more)])
    assert with_it.vlt <= without.vlt + 1e-12
    assert chain(glass, [first, *rest, film(more, reflectance=0.06)], starting=START).through < 1


@given(shares, st.floats(0.2, 0.9), st.floats(0.02, 0.9), st.floats(0.02, 0.9))
def test_a_stricter_limit_is_never_less_likely_to_be_missed(
    sheet: float, glass: float, one: float, other: float
) -> None:
    mild, strict = sorted((one, other))
    combined = combine(Glass(glass, GlassSource.METERED), film(sheet), starting=START)
    assert probability_reads_below(combined, mild, starting=START) <= probability_reads_below(
        combined, strict, starting=START
    )


@given(st.lists(st.floats(0.3, 0.95), min_size=1, max_size=4), st.floats(0.2, 0.9))
def test_sheets_without_a_reference_simply_multiply(sheets: list[float], glass: float) -> None:
    first, *rest = [film(v, vlt_basis=VltBasis.UNKNOWN) for v in sheets]
    found = combine(Glass(glass, GlassSource.METERED), first, starting=START, layers=rest)
    assert found.vlt == pytest.approx(glass * prod(sheets), rel=1e-9)


# ---- panes

MIRRORED = {
    "bottom": "bottom", "top": "top", "left": "right", "right": "left",
    "diagonal_rising": "diagonal_falling", "diagonal_falling": "diagonal_rising",
}  # fmt: skip


@pytest.mark.parametrize("name", QUADS)
def test_readings_of_the_other_side_of_the_car_give_the_mirror_image(name: str) -> None:
    lengths = {key: true_lengths(QUADS[name])[key] for key in SIX}
    one = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    other = fit_corners(readings({MIRRORED[k]: v for k, v in lengths.items()}), figure=Figure.FOUR, starting=START)
    assert one is not None
    assert other is not None
    flipped = other.corners[[1, 0, 3, 2]] * [-1, 1]
    for i, j in ((0, 1), (1, 2), (2, 3), (3, 0), (0, 2), (1, 3)):
        assert np.hypot(*(flipped[i] - flipped[j])) == pytest.approx(
            np.hypot(*(one.corners[i] - one.corners[j])), abs=1e-3
        )
    assert area(flipped) == pytest.approx(area(one.corners), rel=1e-6)


@examples(25)
@given(st.sampled_from(sorted(QUADS)), st.floats(0.6, 1.6))
def test_a_pane_twice_as_large_has_corners_twice_as_far(name: str, times: float) -> None:
    lengths = {key: true_lengths(QUADS[name])[key] for key in SIX}
    one = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    other = fit_corners(readings({k: v * times for k, v in lengths.items()}), figure=Figure.FOUR, starting=START)
    assert one is not None
    assert other is not None
    np.testing.assert_allclose(other.corners, one.corners * times, atol=0.02)


# ---- strips


def _windshield(lean: float = 0.0) -> Outline:
    corners = np.array([[0, 0], [1450, 0], [1325 + lean, 700], [125 + lean, 700]], float)
    x = np.linspace(1325 + lean, 125 + lean, 61)
    y = 700 + 40 * (1 - ((x - 725 - lean) / 600) ** 2)
    return Outline(np.vstack([corners[:2], np.column_stack([x, y])]), corners, measured=True)


def _strip(depth: float, *, lean: float = 0.0, **over: object) -> StripPlan:
    given: dict[str, object] = {"shape": StripShape.STRAIGHT, "pieces": 1, "housing": None}
    return plan_strip(_windshield(lean), depth=depth, starting=START, **(given | over))  # type: ignore[arg-type]


@given(st.floats(60, 200), st.floats(5, 80), st.sampled_from(list(StripShape)))
def test_a_deeper_strip_is_larger_and_reads_more_everywhere(depth: float, more: float, shape: StripShape) -> None:
    shallow, deep = _strip(depth, shape=shape), _strip(depth + more, shape=shape)
    assert area(deep.pieces[0]) > area(shallow.pieces[0])
    assert all(b.reads > a.reads for a, b in zip(shallow.rulers, deep.rulers, strict=True))
    assert deep.blank_height >= shallow.blank_height


@given(st.floats(90, 200), st.floats(-60, 60), st.sampled_from(list(StripShape)))
def test_the_strip_of_a_mirrored_windshield_is_the_mirrored_strip(depth: float, lean: float, shape: StripShape) -> None:
    here, there = _strip(depth, lean=lean, shape=shape), _strip(depth, lean=-lean, shape=shape)
    assert [one.reads for one in here.rulers] == pytest.approx([one.reads for one in reversed(there.rulers)], abs=0.6)
    assert area(here.pieces[0]) == pytest.approx(area(there.pieces[0]), rel=1e-3)


@given(st.floats(90, 160), st.floats(60, 220))
def test_two_pieces_are_one_strip_less_what_stays_bare(depth: float, wide: float) -> None:
    whole = area(_strip(depth).pieces[0])
    parts = _strip(depth, pieces=2, housing=Housing(wide, 80.0)).pieces
    assert len(parts) == 2
    bare = whole - sum(area(part) for part in parts)
    assert wide * depth * 0.9 < bare < (wide + 60) * depth
    assert area(parts[0]) == pytest.approx(area(parts[1]), rel=1e-3)


# ---- layouts


def _blanks(sizes: list[tuple[int, int]]) -> list[Blank]:
    found = []
    for i, (width, height) in enumerate(sizes):
        w, h = width * INCH, height * INCH
        options = (TurnOption(Turn.UPRIGHT, w, h), TurnOption(Turn.SIDEWAYS, h, w))
        found.append(Blank(f"b{i}", f"b{i}", options))
    return found


NOTHING_KEPT = replace(COSTING, offcut_share=0.0)
"""Leftovers credited with nothing: their credit shrinks with the least film, so a better rack may lower it."""


def _best(sizes: list[tuple[int, int]], widths: list[int], costing: Costing = COSTING) -> CutPlan:
    stocks = [roll(f"r{i}", width) for i, width in enumerate(widths)]
    plan = list(plan_cuts(_blanks(sizes), stocks, costing, roll_widths=START.roll_widths_mm))[-1]
    assume(plan.proven)
    return plan


pieces = st.lists(st.tuples(st.integers(10, 40), st.integers(8, 30)), min_size=2, max_size=4)
rolls = st.lists(st.sampled_from([20, 24, 36, 40, 60]), min_size=1, max_size=3)


@examples(12)
@given(pieces, rolls, st.randoms(use_true_random=False))
def test_the_order_of_pieces_and_rolls_does_not_matter(sizes: list, widths: list, random) -> None:  # type: ignore[no-untyped-def, type-arg]
    assume(max(widths) >= 40)
    plan = _best(sizes, widths)
    shuffled, others = list(sizes), list(widths)
    random.shuffle(shuffled)
    random.shuffle(others)
    assert _best(shuffled, others).score.net == pytest.approx(plan.score.net, abs=1e-6)


@examples(12)
@given(pieces, rolls, st.sampled_from([24, 36, 60]))
def test_a_fuller_rack_never_costs_more(sizes: list, widths: list, more: int) -> None:  # type: ignore[type-arg]
    assume(max(widths) >= 40)
    fuller = _best(sizes, [*widths, more], NOTHING_KEPT)
    assert fuller.score.net <= _best(sizes, widths, NOTHING_KEPT).score.net + 1e-6


@examples(12)
@given(pieces, st.integers(0, 3))
def test_a_piece_less_never_takes_more_film(sizes: list, which: int) -> None:  # type: ignore[type-arg]
    assume(len(sizes) > 2)
    fewer = [size for i, size in enumerate(sizes) if i != which % len(sizes)]
    assert _best(fewer, [40], NOTHING_KEPT).score.net <= _best(sizes, [40], NOTHING_KEPT).score.net + 1e-6

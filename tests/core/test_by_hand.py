"""Pieces that somebody placed by hand: drawn up to edges, refused with the reason, kept by every plan."""

from dataclasses import replace

import numpy as np
import pytest
from shapely import Polygon

from elumbra.core.nest import (
    CutPlan,
    HandPlace,
    Turn,
    by_id,
    check_layout,
    check_patterns,
    layout_of,
    plan_cuts,
    plan_patterns,
    plan_patterns_with_hand,
    plan_with_hand,
    score,
    settle,
    split_pairs,
    try_pattern,
    try_place,
)
from tests.catalogue.panes import INCH, QUADS, roll
from tests.core.test_nest import COSTING, WIDTHS, blank, small_case
from tests.core.test_patterns import RULES, last, pattern

UP, SIDE = Turn.UPRIGHT, Turn.SIDEWAYS


def where(plan: CutPlan) -> dict[str, tuple[str, Turn, float, float]]:
    """Each blank's stock, turn and place."""
    return {
        item.blank_id: (section.stock_id, item.turn, item.x, item.y)
        for section in plan.layout.sections
        for lane in section.lanes
        for item in lane.placed
    }


BLANKS = [blank("a", 30, 20), blank("b", 24, 18), blank("c", 24, 18, turns=False)]
ROLL = roll("r", 40, length_in=100)


@pytest.mark.parametrize(
    ("place", "ends_at", "says"),
    [
        (HandPlace("r", 4, 9, UP), (0, 0), ""),  # near the corner: drawn into it
        (HandPlace("r", 300, 20 * INCH - 8, UP), (300, 20 * INCH), ""),  # near the far edge: drawn up to it
        (HandPlace("r", 300, 200, UP), (300, 200), ""),
        (HandPlace("r", 0, 30 * INCH, UP), None, "It reaches over the edge of r."),
        (HandPlace("r", 80 * INCH, 0, UP), None, "It reaches over the end of r."),
        (HandPlace("r", 0, 0, SIDE), (0, 0), ""),
        (HandPlace("gone", 0, 0, UP), None, "The film it was put on is not on the rack any more"),
    ],
)
def test_a_place_is_drawn_up_to_the_edge_or_refused_with_the_reason(
    place: HandPlace, ends_at: tuple[float, float] | None, says: str
) -> None:
    tried = try_place(BLANKS[0], place, held={}, blanks=BLANKS, stocks=[ROLL])
    if ends_at is None:
        assert tried.refused.startswith(says)
    else:
        assert (tried.place.x, tried.place.y) == pytest.approx(ends_at)
        assert tried.refused == ""


def test_what_lies_on_another_or_no_knife_can_cut_is_refused_and_says_so() -> None:
    held = {"b": HandPlace("r", 0, 0, UP)}
    on_it = try_place(BLANKS[0], HandPlace("r", 200, 100, UP), held=held, blanks=BLANKS, stocks=[ROLL])
    assert on_it.refused == "It lies on b."
    turned = try_place(BLANKS[2], HandPlace("r", 700, 0, SIDE), held=held, blanks=BLANKS, stocks=[ROLL])
    assert turned.refused.startswith("It may not lie this way round")
    # A pinwheel round a hole: no straight cut frees any of the four.
    wheel = [blank(name, *size) for name, size in {"n": (20, 10), "e": (10, 20), "s": (20, 10), "w": (10, 20)}.items()]
    places = {"s": (0, 0), "e": (20, 0), "n": (10, 20)}
    held = {name: HandPlace("r", x * INCH, y * INCH, UP) for name, (x, y) in places.items()}
    last_one = try_place(wheel[3], HandPlace("r", 0, 10 * INCH, UP), held=held, blanks=wheel, stocks=[ROLL])
    assert last_one.refused == "Three rounds of straight cuts (across, along, across) do not free it so."


def test_a_neighbour_draws_a_piece_up_to_it() -> None:
    held = {"b": HandPlace("r", 0, 0, UP)}
    tried = try_place(BLANKS[0], HandPlace("r", 5, 18 * INCH + 6, UP), held=held, blanks=BLANKS, stocks=[ROLL])
    assert (tried.place.x, tried.place.y) == (0, 18 * INCH)
    assert tried.refused == ""


@pytest.mark.parametrize("seed", range(60))
def test_every_plan_keeps_what_was_placed_and_is_checked(seed: int) -> None:
    blanks, stocks, costing = small_case(seed)
    rng = np.random.default_rng(seed + 1000)
    places = {}
    for one in blanks[: int(rng.integers(1, len(blanks) + 1))]:
        stock = stocks[int(rng.integers(len(stocks)))]
        option = one.turns[int(rng.integers(len(one.turns)))]
        y = float(rng.uniform(0, max(1.0, stock.width - option.across)))
        places[one.id] = HandPlace(stock.id, float(rng.uniform(0, 900)), y, option.turn)
    settled = settle(places, blanks, stocks)
    assert settled.ids | set(settled.refused) == set(places)
    plan = list(plan_with_hand(blanks, stocks, costing, places=places, roll_widths=WIDTHS))[-1]
    check_layout(plan.layout, blanks=by_id(blanks), stocks={one.id: one for one in stocks})
    lie = where(plan)
    for name in settled.ids:
        assert lie[name][:2] == (places[name].stock, places[name].turn)
    free = list(plan_cuts(blanks, stocks, costing, roll_widths=WIDTHS))[-1]
    if free.proven and settled.ids and not plan.layout.unplaced and free.score.new_film <= plan.score.new_film:
        assert plan.score.net >= free.score.net - 1e-6, "a hand's plan cannot beat the proven one"


def test_what_is_placed_stays_near_to_where_it_was_put_and_across_just_there() -> None:
    places = {"c": HandPlace("r", 31 * INCH, 20 * INCH, UP)}
    plan = list(plan_with_hand(BLANKS, [ROLL], COSTING, places=places, roll_widths=WIDTHS))[-1]
    stock, turn, x, y = where(plan)["c"]
    assert (stock, turn, y) == ("r", UP, 20 * INCH)
    assert x <= 31 * INCH + 1e-6
    assert not plan.proven


@pytest.mark.parametrize("seed", range(12))
def test_a_plan_s_places_give_its_layout_back_and_more_stock_never_costs_more(seed: int) -> None:
    """Started from the plan for the smaller stock, the plan for the larger one is never dearer."""
    blanks, stocks, costing = small_case(seed)
    first = list(plan_cuts(blanks, stocks, costing, roll_widths=WIDTHS))[-1]
    if first.layout.unplaced:
        return
    places = {name: HandPlace(stock, x, y, turn) for name, (stock, turn, x, y) in where(first).items()}
    again = layout_of(places, blanks, stocks, costing)
    assert again is not None
    check_layout(again, blanks=by_id(blanks), stocks={one.id: one for one in stocks})
    money = [
        score(one, blanks=by_id(blanks), stocks={s.id: s for s in stocks}, costing=costing)
        for one in (first.layout, again)
    ]
    assert money[1].new_film == pytest.approx(money[0].new_film)
    # How spare width is shared out is not told by where the pieces lie: a cut more or less.
    assert money[1].net <= money[0].net + 2 * costing.knife_cut_minutes * costing.minute_price
    more = [*stocks, roll("further", 48, length_in=200, price_per_sq_in=0.011)]
    larger = list(plan_cuts(blanks, more, costing, roll_widths=WIDTHS, starts=[first.layout], rounds=1))[-1]
    assert larger.score.new_film + larger.score.labour <= first.score.new_film + first.score.labour + 1e-6


def test_the_twin_of_a_placed_piece_comes_from_its_lot() -> None:
    pair = [replace(blank("left", 30, 18), pair="p"), replace(blank("right", 30, 18), pair="p")]
    cheap = replace(roll("cheap", 20, length_in=400), lot="A")
    dear = replace(roll("dear", 24, length_in=400, price_per_sq_in=0.03), lot="B")
    places = {"left": HandPlace("dear", 0, 0, UP)}
    for allowed in (False, True):
        plan = list(
            plan_with_hand(
                pair, [cheap, dear], COSTING, places=places, roll_widths=WIDTHS, two_lots_allowed=allowed
            )
        )[-1]  # fmt: skip
        assert where(plan)["left"][0] == "dear"
        assert bool(split_pairs(plan.layout, pair, [cheap, dear])) is allowed
        assert not plan.layout.unplaced


@pytest.mark.parametrize("seed", range(25))
def test_pairs_stay_on_one_lot_whatever_one_of_them_was_put_on(seed: int) -> None:
    """Two pairs and a single piece on two lots, one or two pieces put anywhere."""
    rng = np.random.default_rng(seed)
    sizes = [(float(rng.integers(20, 40)), float(rng.integers(12, 22))) for _ in range(3)]
    blanks = [replace(blank(f"{side}{i}", *sizes[i]), pair=f"p{i}") for i in range(2) for side in "lr"]
    blanks.append(blank("back", *sizes[2], turns=False))
    stocks = [
        replace(roll("a", float(rng.choice([24, 40])), length_in=300), lot="A"),
        replace(roll("b", float(rng.choice([24, 40])), length_in=300, price_per_sq_in=0.02), lot="B"),
    ]
    places = {"l0": HandPlace("ab"[seed % 2], float(rng.uniform(0, 900)), 0.0, UP)}
    if seed % 3 == 0:
        places["back"] = HandPlace("b", 0.0, 0.0, UP)
    settled = settle(places, blanks, stocks)
    plan = list(plan_with_hand(blanks, stocks, COSTING, places=places, roll_widths=WIDTHS))[-1]
    check_layout(plan.layout, blanks=by_id(blanks), stocks={one.id: one for one in stocks}, one_lot=True)
    assert plan.layout.unplaced == ()
    for name in settled.ids:
        assert where(plan)[name][:2] == (places[name].stock, places[name].turn)


# --- patterns --------------------------------------------------------------------------------------------------------

PATTERNS = [pattern("a"), pattern("b", mirrored=True), pattern("c", sorted(QUADS)[0])]


def test_a_pattern_is_kept_at_the_point_and_the_others_go_round_it() -> None:
    rolls = [roll("r", 40, length_in=300)]
    places = {"b": HandPlace("r", 250.0, 310.0, Turn.UPSIDE_DOWN)}
    plans = list(
        plan_patterns_with_hand(
            PATTERNS, rolls, COSTING, RULES, places=places, roll_widths=WIDTHS, seconds=(1,)
        )
    )  # fmt: skip
    done = plans[-1]
    assert done.finished
    check_patterns(done.strips, {one.id: one for one in PATTERNS}, {"r": rolls[0]}, RULES)
    lies = {item.pattern_id: item for strip in done.strips for item in strip.placed}
    assert (lies["b"].x, lies["b"].y, lies["b"].turn) == (250.0, 310.0, Turn.UPSIDE_DOWN)
    assert set(lies) == {"a", "b", "c"}
    free = last(PATTERNS, rolls)[-1]
    assert done.roll_length < 2 * free.roll_length, "the others use the room round what stands"


@pytest.mark.parametrize(
    ("place", "says"),
    [
        (HandPlace("r", 3.0, 3.0, UP), ""),  # drawn up to the margin
        (HandPlace("r", 500.0, 900.0, UP), "It reaches over the edge of r"),
        (HandPlace("r", 7500.0, 10.0, UP), "It reaches over the end of r"),
        (HandPlace("r", 500.0, 60.0, UP), "It lies on b, or nearer to it than the knife gap."),
        (HandPlace("x", 0.0, 0.0, UP), "The film it was put on is not on the rack"),
    ],
)
def test_a_pattern_s_place_is_refused_with_the_reason(place: HandPlace, says: str) -> None:
    tried = try_pattern(
        PATTERNS[0], place, held={"b": HandPlace("r", 1100.0, 100.0, UP)}, patterns=PATTERNS,
        stocks=[roll("r", 40, length_in=300)], rules=RULES,
    )  # fmt: skip
    assert tried.refused.startswith(says)
    assert bool(tried.refused) is bool(says)
    if not says:
        assert (tried.place.x, tried.place.y) == (RULES.margin, RULES.margin)


@pytest.mark.parametrize("seed", range(4))
def test_patterns_placed_anyhow_are_kept_where_they_can_be_and_all_is_checked(seed: int) -> None:
    rng = np.random.default_rng(seed)
    patterns = [pattern(f"p{i}", sorted(QUADS)[i % len(QUADS)], mirrored=bool(i % 2)) for i in range(5)]
    stocks = [roll("r", 40, length_in=400), roll("s", 60, length_in=200)]
    places = {
        f"p{i}": HandPlace("rs"[i % 2], float(rng.uniform(0, 1500)), float(rng.uniform(0, 500)), UP) for i in range(3)
    }
    done = list(
        plan_patterns_with_hand(patterns, stocks, COSTING, RULES, places=places, roll_widths=WIDTHS, seconds=())
    )[-1]
    check_patterns(done.strips, {one.id: one for one in patterns}, {one.id: one for one in stocks}, RULES)
    assert not done.unplaced
    assert sum(Polygon(item.ring).area for strip in done.strips for item in strip.placed) == pytest.approx(
        sum(Polygon(one.ring).area for one in patterns)
    )
    free = next(plan_patterns(patterns, stocks, COSTING, RULES, roll_widths=WIDTHS, seconds=()))
    assert done.placed_area == pytest.approx(free.placed_area)

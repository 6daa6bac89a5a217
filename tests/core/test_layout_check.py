"""The checker of layouts: one layout without a fault, and every fault that it can name put into it, one at a time."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

import pytest

from elumbra.core.errors import LayoutError
from elumbra.core.film import Stock, StockKind
from elumbra.core.nest import Blank, Lane, Layout, Placed, Section, Turn, TurnOption, Unplaced, check_layout, cuttable
from elumbra.core.nest.check import _over, between_cuts, check_lots

# Roll R1 from its free end: a section with a beside b and c, then one with d across the whole width. Offcut o: e beside f.
#
#      1000 ┌──────────────┬─────────┐
#           │ b    │ c     │         │   b and c have 100 mm of spare width beside them, a has 50 mm of its lane's length
#       400 ├──────┴───┬───┤    d    │
#           │ a        │   │         │
#         0 └──────────┴───┴─────────┘ 1100 of 5000 mm
A = Placed("a", Turn.UPRIGHT, 0.0, 0.0, 550.0, 400.0, True)
B = Placed("b", Turn.SIDEWAYS, 0.0, 400.0, 300.0, 500.0, False)
C = Placed("c", Turn.UPSIDE_DOWN, 300.0, 400.0, 300.0, 500.0, False)
D = Placed("d", Turn.UPRIGHT, 600.0, 0.0, 500.0, 1000.0, True)
E = Placed("e", Turn.UPRIGHT, 0.0, 0.0, 400.0, 300.0, False)
F = Placed("f", Turn.UPRIGHT, 0.0, 300.0, 400.0, 300.0, True)
FIRST = Section("r", 0.0, 600.0, (Lane(0.0, 400.0, (A,)), Lane(400.0, 600.0, (B, C), spare=100.0)))
SECOND = Section("r", 600.0, 500.0, (Lane(0.0, 1000.0, (D,)),))
THIRD = Section("o", 0.0, 400.0, (Lane(0.0, 300.0, (E,)), Lane(300.0, 300.0, (F,))))
GOOD = Layout((FIRST, SECOND, THIRD))
STOCKS = {
    "r": Stock("r", "film", StockKind.ROLL, 1000.0, 5000.0, 1e-5, lot="L1", label="R1"),
    "o": Stock("o", "film", StockKind.OFFCUT, 600.0, 800.0, 1e-5, lot="L2"),
}


def wide(name: str, along: float, across: float, pair: str = "") -> Blank:
    return Blank(name, name, (TurnOption(Turn.UPRIGHT, along, across),), pair)


BLANKS = {
    one.id: one
    for one in (
        wide("a", 550.0, 400.0, "ad"), wide("c", 300.0, 500.0), wide("d", 500.0, 1000.0, "ad"), wide("e", 400.0, 300.0, "ef"),
        wide("f", 400.0, 300.0, "ef"),
        Blank("b", "b", (TurnOption(Turn.UPRIGHT, 500.0, 300.0), TurnOption(Turn.SIDEWAYS, 300.0, 500.0))),
    )
}  # fmt: skip
Change = Callable[[Layout], Layout]


def each_section(change: Callable[[Section], Section]) -> Change:
    return lambda layout: replace(layout, sections=tuple(change(one) for one in layout.sections))


def put(name: str, **facts: Any) -> Change:
    """One piece as it is, but for these facts."""

    def lane(one: Lane) -> Lane:
        return replace(one, placed=tuple(replace(p, **facts) if p.blank_id == name else p for p in one.placed))

    return each_section(lambda one: replace(one, lanes=tuple(lane(each) for each in one.lanes)))


def section(which: Section, **facts: Any) -> Change:
    return each_section(
        lambda one: replace(one, **facts) if (one.stock_id, one.x) == (which.stock_id, which.x) else one
    )


def lane(which: Section, number: int, **facts: Any) -> Change:
    def changed(one: Section) -> Section:
        if (one.stock_id, one.x) != (which.stock_id, which.x):
            return one
        return replace(one, lanes=tuple(replace(e, **facts) if i == number else e for i, e in enumerate(one.lanes)))

    return each_section(changed)


def problems(*changes: Change, one_lot: bool = False) -> dict[str, str]:
    layout = GOOD
    for change in changes:
        layout = change(layout)
    try:
        check_layout(layout, blanks=BLANKS, stocks=STOCKS, one_lot=one_lot)
    except LayoutError as error:
        assert error.message == f"The layout cannot be cut: {next(iter(error.fields.values()))}"
        return dict(error.fields)
    return {}


NO_CUT = "Three stages of straight cuts do not free these blanks."
OUTSIDE_ROLL = "Lies outside R1."
IN_ANOTHERS = "Lies outside its lane."
UNPLACED = Unplaced("f", "too wide", 300.0, 400.0, None)
CASES: list[tuple[str, list[Change], dict[str, str]]] = [
    ("missing", [lane(THIRD, 1, placed=()), section(THIRD)], {"f": "Stands 0 times in the layout; must stand once."}),
    (
        "missing and set aside", [lane(THIRD, 1, placed=()), lambda one: replace(one, unplaced=(UNPLACED, UNPLACED))],
        {"f": "Stands 2 times in the layout; must stand once."},
    ),
    (
        "placed and set aside", [lambda one: replace(one, unplaced=(UNPLACED,))],
        {"f": "Stands 2 times in the layout; must stand once."},
    ),
    (
        "a stranger", [put("f", blank_id="x")],
        {"f": "Stands 0 times in the layout; must stand once.", "x": "Nobody asked for this blank."},
    ),
    (
        "a stranger beside one that is too large", [put("e", blank_id="x"), put("f", along=399.0)],
        {
            "e": "Stands 0 times in the layout; must stand once.", "x": "Nobody asked for this blank.",
            "f": "Has another size than was asked for.",
        },
    ),
    ("not on the rack", [section(THIRD, stock_id="lost")], {"lost": "Not on the rack."}),
    (
        "not on the rack, and another stock", [section(FIRST, stock_id="lost"), section(SECOND, length=501.0), put("f", y=301.0)],
        {
            "lost": "Not on the rack.", "r": "A section is longer than its blanks: film bought for nothing.",
            "f": "Lies outside o.",
        },
    ),
    ("turn", [put("a", turn=Turn.SIDEWAYS)], {"a": "May not be turned by 90 degrees."}),
    (
        "two that may not be turned so", [put("b", turn=Turn.SIDEWAYS_BACK), put("c", turn=Turn.SIDEWAYS)],
        {"b": "May not be turned by 270 degrees.", "c": "May not be turned by 90 degrees."},
    ),
    ("shorter", [put("f", along=399.0)], {"f": "Has another size than was asked for."}),
    ("narrower", [put("f", across=299.0), put("f", on_factory_edge=False)], {"f": "Has another size than was asked for."}),
    ("longer than asked", [put("e", along=401.0), section(THIRD, length=401.0)], {"e": "Has another size than was asked for."}),
    ("no factory edge", [put("b", on_factory_edge=True)], {"b": "Is said to lie on the factory edge and does not."}),
    (
        "short of the far edge", [put("e", on_factory_edge=True), put("f", y=299.0), lane(THIRD, 1, y=299.0)],
        {
            "f": "Is said to lie on the factory edge and does not.", "e": "Overlaps f.",
            "o": "Two lanes take the same width of film.",
        },
    ),
    ("beyond the end", [put("d", x=4600.0), section(SECOND, x=4600.0)],
     {"d": OUTSIDE_ROLL, "r": "There is a gap between two sections: film that nobody cuts off."}),
    ("before the end", [put("a", x=-1.0)], {"a": OUTSIDE_ROLL}),
    ("below the width", [put("d", y=-1.0)], {"d": OUTSIDE_ROLL}),
    ("over the width", [put("d", y=1.0), put("d", on_factory_edge=False)], {"d": OUTSIDE_ROLL}),
    ("over an offcut's width", [put("f", y=301.0)], {"f": "Lies outside o."}),
    ("overlap", [put("c", x=299.0)], {"b": "Overlaps c.", "r": NO_CUT}),
    ("overlap across", [put("b", y=399.0)], {"a": "Overlaps b.", "b": IN_ANOTHERS, "r": NO_CUT}),
    (
        "more than the roll has", [section(SECOND, length=4401.0)],
        {"r": "A section is longer than its blanks: film bought for nothing."},
    ),
    (
        "the same film twice", [section(SECOND, x=599.0), put("d", x=600.0)],
        {"d": "Reaches out of its section.", "r": "Two sections take the same length of film."},
    ),
    (
        "a gap", [section(SECOND, x=601.0), put("d", x=601.0)],
        {"r": "There is a gap between two sections: film that nobody cuts off."},
    ),
    (
        "a gap before the first", [section(THIRD, x=1.0), put("e", x=1.0), put("f", x=1.0)],
        {"o": "There is a gap between two sections: film that nobody cuts off."},
    ),
    ("too long", [section(THIRD, length=401.0)], {"o": "A section is longer than its blanks: film bought for nothing."}),
    ("too short", [section(THIRD, length=399.0)], {"e": "Reaches out of its section.", "f": "Reaches out of its section."}),
    ("lanes overlap", [lane(FIRST, 0, width=401.0)], {"r": "Two lanes take the same width of film."}),
    ("lanes below nothing", [lane(THIRD, 0, y=-1.0, width=301.0)], {"o": "Two lanes take the same width of film."}),
    ("spare below nothing", [lane(FIRST, 1, spare=-1.0)], {"r": "A lane has more spare width than it is wide."}),
    ("spare over its width", [lane(FIRST, 1, spare=601.0)], {"r": "A lane has more spare width than it is wide."}),
    ("wider than its lane", [lane(FIRST, 0, width=399.0)], {"a": "Is wider than its lane."}),
    ("below its lane", [lane(FIRST, 1, y=401.0, width=599.0)], {"b": IN_ANOTHERS, "c": IN_ANOTHERS}),
    ("above its lane", [lane(THIRD, 0, width=299.0, y=0.5), put("e", y=0.0)], {"e": "Is wider than its lane."}),
    ("under its lane", [lane(THIRD, 0, y=1.0, width=300.0), lane(THIRD, 1, y=301.0, width=299.0)],
     {"e": IN_ANOTHERS, "f": "Is wider than its lane."}),
    ("over its lane", [lane(FIRST, 1, width=550.0), put("c", y=475.0)], {"c": IN_ANOTHERS}),
    (
        "out of its section", [put("c", x=301.0)],
        {"c": "Overlaps d.", "r": NO_CUT},
    ),
    ("out of its section before", [section(SECOND, x=600.5)],
     {"d": "Reaches out of its section.", "r": "There is a gap between two sections: film that nobody cuts off."}),
    ("nothing in it", [lambda one: replace(one, sections=(*one.sections, Section("r", 1100.0, 0.5, ())))],
     {"r": "A section is longer than its blanks: film bought for nothing."}),
    (
        "lanes wider than the roll", [lane(FIRST, 1, width=601.6)],
        {"r": "The lanes need 1002 mm of width; there are 1000 mm."},
    ),
]  # fmt: skip


@pytest.mark.parametrize(("changes", "said"), [one[1:] for one in CASES], ids=[one[0] for one in CASES])
def test_every_fault_is_named_and_nothing_else(changes: list[Change], said: dict[str, str]) -> None:
    assert problems(*changes) == said


def test_length_is_counted_over_all_sections_of_a_stock() -> None:
    short = STOCKS | {"r": replace(STOCKS["r"], length=1099.0)}
    with pytest.raises(LayoutError) as refusal:
        check_layout(GOOD, blanks=BLANKS, stocks=short)
    assert refusal.value.fields == {"d": OUTSIDE_ROLL, "r": "Needs 1100 mm of R1, which has 1099 mm."}
    unnamed = STOCKS | {"o": replace(STOCKS["o"], length=399.6)}
    with pytest.raises(LayoutError) as refusal:
        check_layout(GOOD, blanks=BLANKS, stocks=unnamed)
    assert refusal.value.fields["o"] == "Needs 400 mm of o, which has 400 mm."
    check_layout(GOOD, blanks=BLANKS, stocks=STOCKS | {"r": replace(STOCKS["r"], length=1100.0)})


ALLOWED: list[tuple[str, list[Change]]] = [
    ("as it is", []),
    ("within the slack", [put("a", along=550.0005), put("d", x=600.0005), section(SECOND, length=500.0005)]),
    ("later section first", [lambda one: replace(one, sections=(SECOND, THIRD, FIRST))]),
    ("far lane first", [section(THIRD, lanes=THIRD.lanes[::-1])]),
    ("on the near edge", [put("e", on_factory_edge=True)]),
    ("no spare width", [lane(FIRST, 1, spare=0.0)]),
    ("all of it spare", [lane(FIRST, 1, spare=600.0)]),
    ("lane apart from the one before", [lane(FIRST, 0, width=400.0), lane(FIRST, 1, y=450.0, width=550.0), put("b", y=450.0), put("c", y=450.0)]),
    ("nothing in it", [lambda one: replace(one, sections=(*one.sections, Section("r", 1100.0, 0.0, ())))]),
]  # fmt: skip


@pytest.mark.parametrize("changes", [one[1] for one in ALLOWED], ids=[one[0] for one in ALLOWED])
def test_what_is_just_allowed_is_no_fault(changes: list[Change]) -> None:
    assert problems(*changes) == {}


TWIN = "Its twin comes from another lot."


def test_pairs_come_from_one_lot_where_that_is_asked() -> None:
    assert problems(one_lot=True) == {}
    elsewhere = replace(THIRD, lanes=(Lane(0.0, 300.0, (replace(E, blank_id="a"),)), THIRD.lanes[1]))
    layout = replace(GOOD, sections=(SECOND, elsewhere))
    blanks = {key: BLANKS[key] for key in ("d", "f")} | {"a": wide("a", 400.0, 300.0, "ad")}
    at_first = replace(
        layout, sections=(replace(SECOND, x=0.0, lanes=(Lane(0.0, 1000.0, (replace(D, x=0.0),)),)), elsewhere)
    )
    check_layout(at_first, blanks=blanks, stocks=STOCKS)
    with pytest.raises(LayoutError) as refusal:
        check_layout(at_first, blanks=blanks, stocks=STOCKS, one_lot=True)
    assert refusal.value.fields == {"a": TWIN, "d": TWIN}


def test_lots_that_nobody_noted_are_lots_of_their_own() -> None:
    stocks = {"1": replace(STOCKS["r"], id="1", lot=""), "2": replace(STOCKS["r"], id="2", lot="")}
    pairs = {"a": "p", "b": "p", "c": "", "d": ""}
    found: dict[str, str] = {"b": "Already said."}
    check_lots({"a": "1", "b": "2", "c": "1", "d": "2"}, pairs, stocks, found)
    assert found == {"b": "Already said.", "a": TWIN}
    found = {}
    check_lots({"a": "1", "b": "lost", "e": "2"}, pairs, stocks, found)
    assert found == {}


# --- straight cuts through everything: a pinwheel does not overlap, and no knife can cut it

PIN = [
    Placed("a", Turn.UPRIGHT, 0, 0, 60, 40, False),
    Placed("b", Turn.UPRIGHT, 60, 0, 40, 60, False),
    Placed("c", Turn.UPRIGHT, 40, 60, 60, 40, False),
    Placed("d", Turn.UPRIGHT, 0, 40, 40, 60, False),
]
NESTED = [
    Placed("a", Turn.UPRIGHT, 0, 0, 100, 50, False),
    Placed("b", Turn.UPRIGHT, 0, 50, 50, 50, False),
    Placed("c", Turn.UPRIGHT, 50, 50, 50, 25, False),
    Placed("d", Turn.UPRIGHT, 50, 75, 50, 25, False),
]


@pytest.mark.parametrize(
    ("items", "stages", "across_first", "said"),
    [
        (PIN, 9, True, False), (PIN[:1], 0, True, True), ([], 0, True, True), (PIN[:2], 0, True, False),
        (PIN[:2], 1, True, True), (NESTED, 3, True, False), (NESTED, 4, True, True), (NESTED, 3, False, True),
        (NESTED, 2, False, False), (NESTED[2:], 1, False, True), (NESTED[2:], 1, True, False),
        (NESTED[2:], 2, True, True), (NESTED[1:3], 1, True, True),
    ],
)  # fmt: skip
def test_stages_of_straight_cuts(items: list[Placed], stages: int, across_first: bool, said: bool) -> None:
    assert cuttable(items, stages=stages, across_first=across_first) is said
    assert cuttable(items[::-1], stages=stages, across_first=across_first) is said
    if across_first:
        assert cuttable(items, stages=stages) is said


def test_groups_lie_between_cuts_that_go_right_through() -> None:
    names = [[item.blank_id for item in group] for group in between_cuts(NESTED, along=False)]
    assert names == [["a"], ["c", "b", "d"]], "in the order in which they begin, the shorter first"
    assert [[item.blank_id for item in group] for group in between_cuts(NESTED[1:], along=True)] == [["b"], ["c", "d"]]
    short_and_long = [Placed("long", Turn.UPRIGHT, 0, 0, 90, 10, False), Placed("short", Turn.UPRIGHT, 0, 10, 20, 10, False),
                      Placed("after", Turn.UPRIGHT, 50, 10, 20, 10, False)]  # fmt: skip
    assert [[i.blank_id for i in group] for group in between_cuts(short_and_long, along=True)] == [
        ["short", "long", "after"]
    ]
    assert between_cuts([], along=True) == []
    touching = [Placed("a", Turn.UPRIGHT, 0, 0, 50, 10, False), Placed("b", Turn.UPRIGHT, 49.9995, 0, 50, 10, False)]
    assert len(between_cuts(touching, along=True)) == 2


def test_a_lane_whose_pieces_lie_beside_each_other_takes_a_fourth_stage() -> None:
    lanes = (Lane(0.0, 50.0, tuple(NESTED[:1])), Lane(50.0, 50.0, tuple(NESTED[1:])))
    layout = Layout((Section("r", 0.0, 100.0, lanes),))
    blanks = {item.blank_id: wide(item.blank_id, item.along, item.across) for item in NESTED}
    with pytest.raises(LayoutError) as refusal:
        check_layout(layout, blanks=blanks, stocks=STOCKS)
    assert refusal.value.fields == {"r": NO_CUT}


@pytest.mark.parametrize(
    ("one", "other", "said"), [(0.001, 0.0, False), (0.0011, 0.0, True), (-1.0, 0.0, False), (5.0, 4.0, True)]
)
def test_a_thousandth_of_a_millimetre_is_rounding(one: float, other: float, said: bool) -> None:
    assert _over(one, other) is said


def test_half_a_millimetre_beside_the_factory_edge_is_not_on_it() -> None:
    piece = replace(E, y=0.5, on_factory_edge=True)
    layout = Layout((Section("r", 0.0, 400.0, (Lane(0.5, 300.0, (piece,)),)),))
    with pytest.raises(LayoutError) as refusal:
        check_layout(layout, blanks={"e": BLANKS["e"]}, stocks=STOCKS)
    assert refusal.value.fields == {"e": "Is said to lie on the factory edge and does not."}

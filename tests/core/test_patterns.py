"""Cut lines with their allowances, patterns on film, their checker, and the files a cutter is sent."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from shapely import Polygon, box

from elumbra.core.cut import (
    EDGES,
    WAYS,
    CutMethod,
    FixedEdge,
    Laid,
    PaneToCut,
    Rim,
    cut_line,
    edge_allowances,
    fixed_edge,
    minutes_of,
    pattern_for,
)
from elumbra.core.errors import CoreError, LayoutError
from elumbra.core.film import Stock, StockKind
from elumbra.core.glass import Outline, WindowKind
from elumbra.core.nest import (
    Costing,
    Pattern,
    PatternPlaced,
    PatternPlan,
    PatternRules,
    PatternStrip,
    Turn,
    check_patterns,
    plan_patterns,
)
from elumbra.core.nest.leftover import largest_rectangle
from elumbra.core.shrink import Unrolled
from tests.catalogue.panes import INCH, QUADS, offcut, roll, starting
from tests.effort import examples

START = starting()
COSTING = Costing.from_starting(START)
RULES = PatternRules(gap=3.0, margin=6.0)
SQUARE_CORNERS = START.with_shop_values({"corner_radius_mm": 0})
NONE = FixedEdge()


def rectangle(width: float, height: float) -> Outline:
    ring = np.array([[0, 0], [width, 0], [width, height], [0, height]], float)
    return Outline(ring, ring, measured=True)


# --- allowances ------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("kind", "strip", "grows"),  # top, right, bottom, left in mm, by handbook section 5
    [
        (WindowKind.FRAMED_DOOR, False, (-0.8, 3.175, 9.525, 3.175)),
        (WindowKind.FRAMELESS_DOOR, False, (-0.8, -0.8, 9.525, -0.8)),
        (WindowKind.QUARTER, False, (0.0, 0.0, 0.0, 0.0)),
        (WindowKind.BACK_GLASS, False, (0.0, 0.0, 0.0, 0.0)),
        (WindowKind.WINDSHIELD, True, (3.175, 3.175, 0.0, 3.175)),
    ],
)
def test_a_rectangle_s_cut_line_lies_as_far_past_each_edge_as_the_handbook_says(
    kind: WindowKind, strip: bool, grows: tuple[float, float, float, float]
) -> None:
    line = cut_line(rectangle(900, 450), kind, edge=NONE, starting=SQUARE_CORNERS, is_strip=strip)
    top, right, bottom, left = grows
    low, high = line.ring.min(axis=0), line.ring.max(axis=0)
    assert low == pytest.approx([-left, -bottom], abs=0.03)
    assert high == pytest.approx([900 + right, 450 + top], abs=0.03)
    assert {one.edge for one in line.allowances} == set(EDGES)


def test_glass_with_a_border_is_cut_onto_the_border() -> None:
    """A border of 30 mm all round and 1/4 in onto it leave 30 - 6.35 mm of the glass free."""
    line = cut_line(
        rectangle(900, 450),
        WindowKind.BACK_GLASS,
        edge=FixedEdge(Rim.BORDER, dict.fromkeys(EDGES, 30.0)),
        starting=SQUARE_CORNERS,
    )
    assert line.ring.min(axis=0) == pytest.approx([30 - 6.35, 30 - 6.35], abs=0.03)
    assert {one.name for one in line.allowances} == {"onto the border"}


@pytest.mark.parametrize(
    ("edge", "name", "mm", "grows"),
    [
        (FixedEdge(), "onto the border, edge not read", 6.35, 0.0),  # it may lie anywhere: the piece covers the pane
        (FixedEdge(Rim.BORDER), "onto the border, width not read", 6.35, 0.0),
        (FixedEdge(Rim.GASKET), "into the gasket", 3.175, 3.175),
        (FixedEdge(Rim.BARE), "inside the bare edge", -0.8, -0.8),
    ],
)
@pytest.mark.parametrize("kind", [WindowKind.BACK_GLASS, WindowKind.QUARTER, WindowKind.SLIDER])
def test_fixed_glass_is_cut_onto_a_border_before_its_width_is_read(
    kind: WindowKind, edge: FixedEdge, name: str, mm: float, grows: float
) -> None:
    line = cut_line(rectangle(900, 450), kind, edge=edge, starting=SQUARE_CORNERS)
    assert {(one.name, round(one.mm, 3)) for one in line.allowances} == {(name, mm)}
    assert line.ring.min(axis=0) == pytest.approx([-grows, -grows], abs=0.03)
    assert line.ring.max(axis=0) == pytest.approx([900 + grows, 450 + grows], abs=0.03)


@pytest.mark.parametrize("edge", ["gasket", "bare"])
def test_border_widths_read_before_the_edge_was_put_right_no_longer_count(edge: str) -> None:
    widths = {f"border_{one}": "1" for one in EDGES}
    assert fixed_edge({"edge": edge, **widths}) == FixedEdge(Rim(edge))
    assert fixed_edge({"edge": "border", **widths}).borders == dict.fromkeys(EDGES, 25.4)


@pytest.mark.parametrize("kind", [WindowKind.FRAMED_DOOR, WindowKind.FRAMELESS_DOOR])
@pytest.mark.parametrize("edge", [FixedEdge(Rim.GASKET), FixedEdge(Rim.BORDER, dict.fromkeys(EDGES, 30.0))])
def test_a_door_s_seals_do_not_hang_on_what_was_read_of_fixed_glass(kind: WindowKind, edge: FixedEdge) -> None:
    bare, said = (cut_line(rectangle(900, 450), kind, edge=one, starting=START) for one in (NONE, edge))
    assert bare.allowances == said.allowances
    assert np.array_equal(bare.ring, said.ring)


def test_corners_are_rounded_and_a_clear_line_is_called_so() -> None:
    line = cut_line(rectangle(900, 450), WindowKind.QUARTER, edge=NONE, starting=START)
    full = Polygon(line.ring).envelope
    # Four corners of a square less a quarter circle each: (4 - π) r².
    assert full.area - Polygon(line.ring).area == pytest.approx((4 - np.pi) * 6.35**2, rel=0.05)
    clear = START.with_shop_values({"micro_edge_mm": 4.0})
    names = {one.name for one in edge_allowances(WindowKind.FRAMED_DOOR, is_strip=False, starting=clear)}
    assert "clear line" in names


@pytest.mark.parametrize("name", sorted(QUADS))
@pytest.mark.parametrize("kind", [WindowKind.FRAMED_DOOR, WindowKind.QUARTER])
def test_the_other_side_s_cut_line_is_the_mirror_image(name: str, kind: WindowKind) -> None:
    outline = Outline(QUADS[name], QUADS[name], measured=True)
    one = cut_line(outline, kind, edge=NONE, starting=START).ring
    other = cut_line(outline.mirrored(), kind, edge=NONE, starting=START).ring
    low, high = one[:, 0].min(), one[:, 0].max()
    flipped = Polygon(np.column_stack([low + high - one[:, 0], one[:, 1]]))
    moved = Polygon(other - other.min(axis=0) + [low, one[:, 1].min()])
    assert flipped.symmetric_difference(moved).area < 0.2 * flipped.length * 0.1
    assert Polygon(one).is_valid


def test_an_outline_that_crosses_itself_is_refused_with_the_mend() -> None:
    ring = np.array([[0, 0], [100, 100], [100, 0], [0, 100]], float)
    with pytest.raises(CoreError, match=r"crosses itself, so no pattern can be cut from it. Read it again at Survey"):
        cut_line(Outline(ring, ring, measured=True), WindowKind.QUARTER, edge=NONE, starting=START)


def test_every_way_of_cutting_has_words_minutes_and_steps() -> None:
    assert set(WAYS) == set(CutMethod)
    for method, way in WAYS.items():
        assert minutes_of(method, starting=START) > 0
        assert way.steps
        assert way.words
    assert [m for m, way in WAYS.items() if way.laid is Laid.PATTERN] == [CutMethod.PLOTTER]
    assert [m for m, way in WAYS.items() if way.laid is Laid.NOTHING] == [CutMethod.KIT]


# --- layouts -----------------------------------------------------------------------------------------------------------


def pattern(
    name: str, quad: str = "front door", *, mirrored: bool = False, unrolled: frozenset[Unrolled] = frozenset(Unrolled)
) -> Pattern:
    outline = Outline(QUADS[quad], QUADS[quad], measured=True)
    outline = outline.mirrored() if mirrored else outline
    pane = PaneToCut(name, name, WindowKind.FRAMED_DOOR, outline, unrolled=unrolled, window_id=name)
    return pattern_for(pane, starting=START)[0]


CAR = [
    pattern("df"), pattern("pf", mirrored=True), pattern("dr", "rear door"),
    pattern("pr", "rear door", mirrored=True), pattern("bg", "back glass", unrolled=frozenset({Unrolled.ACROSS})),
]  # fmt: skip


def last(patterns: list[Pattern], stocks: list[Stock], seconds: tuple[int, ...] = (1,)) -> list[PatternPlan]:
    return list(plan_patterns(patterns, stocks, COSTING, RULES, roll_widths=START.roll_widths_mm, seconds=seconds))


def test_outlines_take_less_film_than_rectangles_and_every_layout_is_verified() -> None:
    for seconds in (1, 8, 60):  # the search is timed: a busy machine needs longer for the same work
        plans = last(CAR, [roll("r40", 40), roll("r60", 60)], seconds=(seconds,))
        if plans[-1].net < plans[0].net:
            break
    assert plans[-1].finished
    assert plans[-1].net < plans[0].net
    assert plans[-1].bound <= plans[-1].new_film
    assert [p.net for p in plans] == sorted((p.net for p in plans), reverse=True)
    for plan in plans:
        check_patterns(plan.strips, {p.id: p for p in CAR}, {"r40": roll("r40", 40), "r60": roll("r60", 60)}, RULES)


def test_curved_glass_is_turned_by_0_or_180_only() -> None:
    (back,) = [p for p in CAR if p.id == "bg"]
    assert back.turns == (Turn.UPRIGHT, Turn.UPSIDE_DOWN)
    turns = {
        item.turn
        for item in (i for s in last(CAR, [roll("r60", 60)])[-1].strips for i in s.placed)
        if item.pattern_id == "bg"
    }
    assert turns <= {Turn.UPRIGHT, Turn.UPSIDE_DOWN}


def test_a_pattern_larger_than_any_roll_and_an_empty_rack_are_told() -> None:
    wide = last([pattern("bg", "back glass", unrolled=frozenset({Unrolled.ACROSS}))], [roll("r20", 20)])[-1]
    assert wide.unplaced[0].reason.endswith("the widest on the rack is 20 in.") or "of width" in wide.unplaced[0].reason
    assert last([pattern("df")], [])[-1].unplaced[0].reason == "None of this film is on the rack."
    assert last([], [roll("r20", 20)])[-1].strips == ()


def test_a_short_roll_holds_what_it_holds() -> None:
    plan = last(CAR, [roll("short", 60, length_in=42)], ())[-1]
    assert plan.unplaced
    assert sum(len(strip.placed) for strip in plan.strips) + len(plan.unplaced) == len(CAR)


def test_an_offcut_is_used_before_new_film() -> None:
    plan = last([pattern("dr", "rear door")], [roll("r40", 40), offcut("o", 24, 40)])[-1]
    assert plan.new_film == 0
    assert {strip.stock_id for strip in plan.strips} == {"o"}


@pytest.mark.parametrize("less", [0.0, 0.005, 0.3, 2.9, 6.1])
def test_a_pattern_that_just_fits_the_width_is_laid_and_none_ends_the_search(less: float) -> None:
    """Also where the library itself, which keeps its gap to the edges, would have no room for it."""
    width = 24 * INCH
    tall = rectangle(500.0, width - 2 * RULES.margin - less).ring
    just = [Pattern("just", "just", tall, (Turn.UPRIGHT,)), pattern("q")]
    done = last(just, [roll("r24", 24)])[-1]
    assert done.unplaced == ()
    check_patterns(done.strips, {one.id: one for one in just}, {"r24": roll("r24", 24)}, RULES)


def test_what_fits_a_sheet_by_outline_alone_is_squeezed_in() -> None:
    """Two triangles make the rectangle that each of them needs by itself, and a little."""
    half = np.array([[0.0, 0.0], [600.0, 0.0], [0.0, 500.0]])
    two = [Pattern(name, name, half, (Turn.UPRIGHT, Turn.UPSIDE_DOWN)) for name in ("a", "b")]
    sheet = replace(offcut("s", 550 / INCH, 700 / INCH), kind=StockKind.SHEET)
    first, *_, done = last(two, [sheet])
    assert len(first.unplaced) == 1
    assert done.unplaced == ()
    assert done.finished


def spoilt(item: PatternPlaced, **over: object) -> list[PatternStrip]:
    good = replace(item, **over)  # type: ignore[arg-type]
    return [PatternStrip("r60", 0.0, 2500.0, (good, TWO))]


ONE_RING = CAR[0].turned(Turn.UPRIGHT) + 10.0
ONE = PatternPlaced("df", Turn.UPRIGHT, 10.0, 10.0, ONE_RING)
TWO = PatternPlaced("pf", Turn.UPRIGHT, 1200.0, 10.0, CAR[1].turned(Turn.UPRIGHT) + np.array([1200.0, 10.0]))


def on_strip(*placed: PatternPlaced, stock: str = "r60", length: float = 2500.0) -> PatternStrip:
    return PatternStrip(stock, 0.0, length, placed)


def shifted(item: PatternPlaced, along: float, across: float = 0.0) -> PatternPlaced:
    return replace(item, x=item.x + along, y=item.y + across, ring=item.ring + np.array([along, across]))


CLOSE = float(ONE_RING[:, 0].max()) + 1.0
FAULTS: dict[str, list[PatternStrip]] = {
    "none": [on_strip(ONE, TWO)],
    "gap": [on_strip(ONE, shifted(TWO, CLOSE - TWO.x))],
    "overlap": [on_strip(ONE, shifted(TWO, -700.0))],
    "margin": spoilt(ONE, y=2.0, ring=ONE_RING - np.array([0, 8.0])),
    "end": [on_strip(ONE, TWO, length=float(TWO.ring[:, 0].max()) + 1.0)],
    "turn": spoilt(ONE, turn=Turn.SIDEWAYS, ring=CAR[0].turned(Turn.SIDEWAYS) + 10.0),
    "hand": spoilt(ONE, ring=CAR[1].turned(Turn.UPRIGHT) + 10.0),
    "size": spoilt(ONE, ring=(ONE_RING - 10) * 0.99 + 10),
    "twice": [on_strip(ONE, TWO, shifted(TWO, 10.0 - TWO.x, 600.0))],
    "missing": [on_strip(ONE)],
    "stock": [on_strip(ONE, TWO, stock="nowhere")],
    "length": [on_strip(ONE, TWO, length=90_000.0)],
    "lot": [on_strip(ONE), on_strip(shifted(TWO, 10.0 - TWO.x), stock="other lot")],
}


@pytest.mark.parametrize(
    ("what", "says"),
    [
        ("gap", "nearer than the gap"), ("overlap", "nearer than the gap"), ("margin", "nearer than the margin"),
        ("end", "nearer than the margin"), ("turn", "May not be turned by 90"), ("hand", "another hand"),
        ("size", "another outline"), ("twice", "Stands 2 times"), ("missing", "Stands 0 times"),
        ("stock", "Not on the rack"), ("length", "Needs 90000 mm"),
        ("lot", "Its twin comes from another lot"),
    ],
)  # fmt: skip
def test_the_checker_finds_every_injected_fault(what: str, says: str) -> None:
    upright = {p.id: replace(p, pair="p", turns=(Turn.UPRIGHT, Turn.UPSIDE_DOWN)) for p in CAR[:2]}
    stocks = {"r60": roll("r60", 60), "other lot": replace(roll("other lot", 60), lot="B 7")}
    check_patterns(FAULTS["none"], upright, stocks, RULES, one_lot=True)
    with pytest.raises(LayoutError) as refused:
        check_patterns(FAULTS[what], upright, stocks, RULES, one_lot=True)
    assert says in " ".join(refused.value.fields.values())


# --- what is left over ---------------------------------------------------------------------------------------------------


@examples(40)
@given(
    st.lists(
        st.tuples(st.integers(0, 15), st.integers(0, 9), st.integers(1, 6), st.integers(1, 6)), min_size=0, max_size=5
    )
)
def test_the_largest_rectangle_is_what_trying_all_of_them_finds(blocks: list[tuple[int, int, int, int]]) -> None:
    """On a grid of 60 mm, 16 by 10: every rectangle tried by hand."""
    cell, columns, rows = 60.0, 16, 10
    rings = [
        np.array(box(x * cell, y * cell, min(columns, x + w) * cell, min(rows, y + h) * cell).exterior.coords)[:-1]
        for x, y, w, h in blocks
    ]
    free = np.ones((columns, rows), dtype=bool)
    for x, y, w, h in blocks:
        free[x : x + w, y : y + h] = False
    most = max(
        (
            (j - i) * (n - m)
            for i in range(columns)
            for j in range(i + 1, columns + 1)
            for m in range(rows)
            for n in range(m + 1, rows + 1)
            if free[i:j, m:n].all()
        ),
        default=0,
    )
    x, y, along, across = largest_rectangle(rings, length=columns * cell, width=rows * cell, gap=0.0)
    # The grid that is searched is finer by ten; half a cell all round every piece is given away.
    assert along * across <= most * cell**2 + 1e-6
    assert along * across >= max(0.0, (most**0.5 * cell - 4 * 6) ** 2) - 25_000
    found = box(x, y, x + along, y + across).buffer(-1e-6)
    assert not any(found.intersects(Polygon(ring)) for ring in rings)


def test_what_is_left_of_a_sheet_is_a_stock_of_its_own() -> None:
    sheet = Stock("s", "f", StockKind.SHEET, 24 * INCH, 78 * INCH, 1e-5)
    plan = last([pattern("df")], [sheet], ())[-1]
    (rest,) = plan.rests
    assert rest.usable
    assert rest.x + rest.along <= sheet.length + 1e-6

"""Blanks, knife cuts, and the hand of a piece."""

from itertools import pairwise

import numpy as np
import pytest

from elumbra.core.cut import WAYS, CutKind, CutMethod, PaneToCut, blank_for, cut_steps, outline_on_blank
from elumbra.core.film import LinerSide
from elumbra.core.geom import area
from elumbra.core.glass import Outline, WindowKind, rectangle_outline
from elumbra.core.nest import Costing, Placed, Turn, by_id, check_layout, plan_cuts
from elumbra.core.shrink import Unrolled
from tests.catalogue.panes import INCH, QUADS, roll, starting

START = starting()
PLAY = START["blank_play_mm"]


ACROSS = frozenset({Unrolled.ACROSS})


def pane(kind: WindowKind = WindowKind.FRAMED_DOOR, **over: object) -> PaneToCut:
    given = {
        "id": "w",
        "label": "Window",
        "kind": kind,
        "outline": rectangle_outline(width=900, height=450),
    }
    return PaneToCut(**(given | over))  # type: ignore[arg-type]


def test_blank_is_visible_size_plus_an_inch_all_round() -> None:
    """900 + 50.8 = 950.8 mm = 37.433 in, up to the next sixteenth 37 7/16; 450 + 50.8 = 19.717, up to 19 3/4."""
    upright, sideways = blank_for(pane(), starting=START).turns
    assert upright.along == pytest.approx((37 + 7 / 16) * INCH)
    assert upright.across == pytest.approx((19 + 3 / 4) * INCH)
    assert sideways.along == pytest.approx((20) * INCH), "a turned door gets a quarter inch more at the foot"
    assert (upright.edge_minutes, sideways.extra_minutes) == (1.5, 1.5)


@pytest.mark.parametrize(
    ("unrolled", "turns"),
    [
        (frozenset(Unrolled), [Turn.UPRIGHT, Turn.SIDEWAYS]),
        (ACROSS, [Turn.UPRIGHT]),
        (frozenset({Unrolled.UP}), [Turn.SIDEWAYS]),
    ],
)
def test_film_is_turned_only_as_its_glass_allows(unrolled: frozenset[Unrolled], turns: list[Turn]) -> None:
    blank = blank_for(pane(WindowKind.BACK_GLASS, unrolled=unrolled), starting=START)
    assert [option.turn for option in blank.turns] == turns


def test_strip_goes_either_way_on_any_windshield() -> None:
    piece = rectangle_outline(width=900, height=5 * INCH)
    strip = blank_for(pane(WindowKind.WINDSHIELD, outline=piece, is_strip=True), starting=START)
    assert strip.turns[0].across == pytest.approx(7 * INCH)
    assert len(strip.turns) == 2


def placed(turn: Turn, width: float, height: float) -> Placed:
    along, across = (height, width) if turn is Turn.SIDEWAYS else (width, height)
    return Placed("w", turn, 100.0, 50.0, along + 2 * PLAY, across + 2 * PLAY, False)


def door(mirrored: bool) -> Outline:
    """A front door that leans: seen from outside its high corner stands right, on the other side left."""
    ring = QUADS["front door"] - QUADS["front door"].min(axis=0)
    outline = Outline(ring, ring, measured=True)
    return outline.mirrored() if mirrored else outline


def longest_top_side(ring: np.ndarray) -> str:
    """On which half the pane's upper corner-to-foot slope lies: where the top edge is farther from the side."""
    low, high = ring[:, 0].min(), ring[:, 0].max()
    top = ring[ring[:, 1] > ring[:, 1].min() + 0.8 * np.ptp(ring[:, 1])]
    return "left" if top[:, 0].min() - low > high - top[:, 0].max() else "right"


@pytest.mark.parametrize("other_side_of_car", [False, True])
@pytest.mark.parametrize("liner", [LinerSide.UP, LinerSide.DOWN])
def test_hand_of_a_piece_on_both_sides_of_the_car_and_both_faces(other_side_of_car: bool, liner: LinerSide) -> None:
    """Liner up shows the pane as seen from outside; film up shows its mirror image; never both or neither."""
    outline = door(other_side_of_car)
    item = placed(Turn.UPRIGHT, outline.width, outline.height)
    ring = outline_on_blank(outline, item, liner=liner, play=PLAY)
    slope_seen_from_outside = "right" if other_side_of_car else "left"
    expected = (
        {"left": "right", "right": "left"}[slope_seen_from_outside]
        if liner is LinerSide.DOWN
        else slope_seen_from_outside
    )
    assert longest_top_side(ring) == expected


@pytest.mark.parametrize("turn", [Turn.UPRIGHT, Turn.SIDEWAYS, Turn.UPSIDE_DOWN])
@pytest.mark.parametrize("liner", [LinerSide.UP, LinerSide.DOWN])
def test_outline_lies_inside_its_blank_with_play_all_round(turn: Turn, liner: LinerSide) -> None:
    outline = door(mirrored=False)
    item = placed(turn, outline.width, outline.height)
    ring = outline_on_blank(outline, item, liner=liner, play=PLAY)
    assert area(ring) == pytest.approx(outline.area), "turned, never turned over by accident"
    low, high = ring.min(axis=0), ring.max(axis=0)
    np.testing.assert_allclose(low, [item.x + PLAY, item.y + PLAY], atol=0.01)
    np.testing.assert_allclose(high, [item.x + item.along - PLAY, item.y + item.across - PLAY], atol=0.01)


def test_foot_lies_where_the_turn_says() -> None:
    outline = door(mirrored=False)
    width_at = {}
    for turn in (Turn.UPRIGHT, Turn.SIDEWAYS, Turn.UPSIDE_DOWN):
        item = placed(turn, outline.width, outline.height)
        ring = outline_on_blank(outline, item, liner=LinerSide.UP, play=PLAY)
        axis = 0 if turn is Turn.SIDEWAYS else 1
        near_high_end = ring[ring[:, axis] > ring[:, axis].mean()]
        width_at[turn] = float(np.ptp(near_high_end[:, 1 - axis]))
    assert width_at[Turn.UPRIGHT] < width_at[Turn.UPSIDE_DOWN], "upright the narrow head lies on the far side"
    assert width_at[Turn.SIDEWAYS] == pytest.approx(width_at[Turn.UPSIDE_DOWN], rel=0.01), (
        "sideways the foot lies right"
    )


def test_cuts_free_every_piece_in_order_across_along_across() -> None:
    blanks = [
        blank_for(pane(id=f"w{i}", outline=rectangle_outline(width=700 - 90 * i, height=420 - 40 * i)), starting=START)
        for i in range(5)
    ]
    stocks = {"r60": roll("r60", 60)}
    plan = list(plan_cuts(blanks, list(stocks.values()), Costing.from_starting(START), roll_widths=[]))[-1]
    check_layout(plan.layout, blanks=by_id(blanks), stocks=stocks)
    steps = cut_steps(plan.layout, stocks)
    assert [step.number for step in steps] == list(range(1, len(steps) + 1))
    stage = {CutKind.ACROSS_ROLL: 0, CutKind.ALONG: 1, CutKind.ACROSS_LANE: 2}
    for before, after in pairwise(steps):
        assert stage[after.kind] >= stage[before.kind] or after.kind is CutKind.ACROSS_ROLL
    lines = [(step.start, step.end) for step in steps]
    for item in (item for s in plan.layout.sections for lane in s.lanes for item in lane.placed):
        right = item.x + item.along
        assert any(abs(a[0] - right) < 1e-3 and abs(b[0] - right) < 1e-3 for a, b in lines), "each blank ends at a cut"
        for (x1, y1), (x2, y2) in lines:
            through_along = (
                item.y + 1 < y1 < item.y + item.across - 1 and y1 == y2 and x1 < right - 1 and x2 > item.x + 1
            )
            through_across = (
                item.x + 1 < x1 < right - 1 and x1 == x2 and y1 < item.y + item.across - 1 and y2 > item.y + 1
            )
            assert not through_along, "no cut goes through a blank"
            assert not through_across, "no cut goes through a blank"


def test_ruler_reads_from_the_free_end_of_each_section() -> None:
    blanks = [blank_for(pane(id=f"w{i}", unrolled=ACROSS), starting=START) for i in range(2)]
    stocks = {"r24": roll("r24", 24)}
    plan = list(plan_cuts(blanks, list(stocks.values()), Costing.from_starting(START), roll_widths=[]))[-1]
    across = [step for step in cut_steps(plan.layout, stocks) if step.kind is CutKind.ACROSS_ROLL]
    assert sum(step.at for step in across) == pytest.approx(plan.layout.used_length("r24"))


@pytest.mark.parametrize("kind", list(WindowKind))
@pytest.mark.parametrize("method", list(CutMethod))
def test_only_a_framed_door_is_raised_and_lowered_and_a_frameless_one_has_no_seal(
    method: CutMethod, kind: WindowKind
) -> None:
    way = WAYS[method]
    for is_strip in (False, True):
        told = " ".join(way.steps_on(way.glass_of(kind, is_strip=is_strip))).lower()
        assert told
        if is_strip or kind is not WindowKind.FRAMED_DOOR:
            assert not any(word in told for word in ("fully up", "lower the glass", "glass lowered", "partly down"))
            assert "almost closed" not in told
        if kind is WindowKind.FRAMELESS_DOOR:
            assert "seal" not in told, "its free edges have none"

"""Strips on windshields whose top is an arc, so that every depth is known in closed form."""

from math import asin, cos, sqrt

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.cut import Housing, StripPlan, StripShape, plan_strip
from elumbra.core.errors import CoreError
from elumbra.core.geom import area
from elumbra.core.glass import Outline, rectangle_outline
from tests.catalogue.panes import starting

START = starting()
TOP, FOOT, HEIGHT = 1200.0, 1450.0, 700.0


def windshield(crown: float, *, tilt: float = 0.0) -> Outline:
    """A windshield whose top is one arc of ``crown`` mm over its chord, the right corner ``tilt`` higher."""
    margin = (FOOT - TOP) / 2
    corners = np.array([[0, 0], [FOOT, 0], [margin + TOP, HEIGHT + tilt], [margin, HEIGHT]])
    if crown == 0:
        return Outline(corners, corners, measured=True)
    radius = TOP**2 / (8 * crown) + crown / 2
    half = asin(TOP / 2 / radius)
    angles = np.linspace(half, -half, 241)
    x = margin + TOP / 2 + radius * np.sin(angles)
    y = HEIGHT + radius * (np.cos(angles) - cos(half)) + tilt * (x - margin) / TOP
    ring = np.vstack([corners[:2], np.column_stack([x, y])])
    return Outline(ring, corners, measured=True)


def arc_height(crown: float, x_from_middle: float) -> float:
    """Height of that arc over its chord, by the circle's equation."""
    if crown == 0:
        return 0.0
    radius = TOP**2 / (8 * crown) + crown / 2
    return sqrt(radius**2 - x_from_middle**2) - (radius - crown)


def plan(outline: Outline, depth: float = 127.0, **over: object) -> StripPlan:
    given: dict[str, object] = {"shape": StripShape.STRAIGHT, "pieces": 1, "housing": None}
    return plan_strip(outline, depth=depth, starting=START, **(given | over))  # type: ignore[arg-type]


@pytest.mark.parametrize("crown", [0, 10, 30, 55])
def test_straight_edge_is_as_deep_in_the_middle_as_asked_and_less_at_the_corners(crown: float) -> None:
    found = plan(windshield(crown))
    reads = {ruler.at: ruler.reads for ruler in found.rulers}
    at_corner = 127 - crown + arc_height(crown, TOP * 0.46)
    assert reads["middle"] == pytest.approx(127, abs=0.05)
    assert reads["left"] == pytest.approx(at_corner, abs=0.1)
    assert reads["right"] == pytest.approx(reads["left"], abs=0.01), "equal left and right"
    assert found.deepest == pytest.approx(127, abs=0.05)


@pytest.mark.parametrize("crown", [0, 10, 30, 55])
def test_roof_line_is_as_deep_everywhere_and_needs_a_taller_blank(crown: float) -> None:
    found = plan(windshield(crown), shape=StripShape.ROOF_LINE)
    assert [ruler.reads for ruler in found.rulers] == pytest.approx([127, 127, 127], abs=0.05)
    assert found.blank_height == pytest.approx(127 + crown + 2 * START["blank_play_mm"], abs=0.5)
    straight = plan(windshield(crown))
    assert straight.blank_height == pytest.approx(127 + 2 * START["blank_play_mm"], abs=0.5)


@given(
    crown=st.one_of(st.just(0.0), st.floats(1, 60)),
    depth=st.floats(70, 250),
    tilt=st.floats(-15, 15),
    shape=st.sampled_from(StripShape),
)
def test_no_reading_is_ever_deeper_than_asked_and_left_equals_right(
    crown: float, depth: float, tilt: float, shape: StripShape
) -> None:
    found = plan(windshield(crown, tilt=tilt), depth, shape=shape)
    left, middle, right = (ruler.reads for ruler in found.rulers)
    assert max(left, middle, right, found.deepest) <= depth + 0.2
    assert left == pytest.approx(right, abs=0.5)


def test_area_of_a_roof_line_strip_on_parallel_sides() -> None:
    """Depth times width, for the lower edge is the top moved down (rectangle: exactly)."""
    found = plan(rectangle_outline(width=1400, height=700), 120, shape=StripShape.ROOF_LINE)
    assert area(found.pieces[0]) == pytest.approx(1400 * 120)


def test_two_pieces_leave_the_housing_and_its_gap_bare() -> None:
    """1400 wide, housing 150 with half an inch either side: two pieces of 612.3."""
    found = plan(rectangle_outline(width=1400, height=700), 120, pieces=2, housing=Housing(150, 90))
    widths = [float(np.ptp(piece[:, 0])) for piece in found.pieces]
    assert widths == pytest.approx([(1400 - 150 - 25.4) / 2] * 2)
    assert found.cautions == ()


def test_one_piece_goes_round_a_shallow_housing_and_cannot_round_a_deep_one() -> None:
    shallow = plan(rectangle_outline(width=1400, height=700), 120, housing=Housing(150, 60))
    assert len(shallow.pieces) == 1
    assert area(shallow.pieces[0]) == pytest.approx(1400 * 120 - (150 + 25.4) * (60 + 12.7))
    deep = plan(rectangle_outline(width=1400, height=700), 120, housing=Housing(150, 110))
    assert len(deep.pieces) == 2
    assert "one piece cannot go round it" in deep.cautions[0]


@pytest.mark.parametrize(
    ("crown", "shape", "says"),
    [
        (40, StripShape.STRAIGHT, "looks bowed"),
        (40, StripShape.ROOF_LINE, "plotted line, or the clean roof edge"),
        (0, StripShape.STRAIGHT, None),
        (0, StripShape.ROOF_LINE, None),
    ],
)
def test_what_the_eye_will_see_is_said_before_the_cut(crown: float, shape: StripShape, says: str | None) -> None:
    cautions = plan(windshield(crown), shape=shape).cautions
    assert (says is None and cautions == ()) or (says is not None and says in cautions[0])


def test_a_straight_edge_that_runs_out_before_the_corners_says_so() -> None:
    assert "runs out before the corners" in plan(windshield(58), 40).cautions[0]


@pytest.mark.parametrize(
    ("depth", "over", "field"),
    [(0, {}, "depth"), (-5, {}, "depth"), (700, {}, "depth"), (120, {"pieces": 3}, "pieces")],
)
def test_strips_that_cannot_be_are_refused(depth: float, over: dict[str, object], field: str) -> None:
    with pytest.raises(CoreError) as refusal:
        plan(rectangle_outline(width=1400, height=700), depth, **over)
    assert field in refusal.value.fields


def test_pane_leaning_like_a_real_one_keeps_its_sides() -> None:
    """The piece's sides follow the glass: the lower edge of a flat-topped strip is as wide as the pane there."""
    found = plan(windshield(0))
    widest = float(np.ptp(found.pieces[0][:, 0]))
    assert widest == pytest.approx(TOP + (FOOT - TOP) * 127 / HEIGHT)

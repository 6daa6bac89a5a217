import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from elumbra.core.errors import ReadingError
from elumbra.core.glass import Curve
from elumbra.core.measure import (
    Figure,
    Level,
    Measures,
    Reading,
    check_readings,
    describe_change,
    measure_pane,
)
from tests.catalogue.panes import INCH, QUADS, SIX, fit_corners, readings, starting, tape, true_lengths
from tests.effort import examples

START = starting()


def aligned(corners: np.ndarray) -> np.ndarray:
    """Corners moved and turned so that the foot starts at the origin and lies level."""
    foot = corners[1] - corners[0]
    c, s = foot / np.hypot(*foot)
    return (corners - corners[0]) @ np.array([[c, -s], [s, c]])


def six(name: str) -> dict[str, float]:
    lengths = true_lengths(QUADS[name])
    return {key: lengths[key] for key in SIX}


@pytest.mark.parametrize("name", QUADS)
def test_perfect_readings_give_the_corners_back(name: str) -> None:
    fit = fit_corners(readings(six(name)), figure=Figure.FOUR, starting=START)
    assert fit is not None
    np.testing.assert_allclose(fit.corners, aligned(QUADS[name]), atol=1e-3)
    assert fit.redundancy == 1
    assert fit.misclosure_sigma < 1e-4
    assert not fit.alarm


@pytest.mark.parametrize("name", QUADS)
def test_tape_readings_stay_near_the_truth_without_alarm(name: str) -> None:
    fit = fit_corners(tape(six(name)), figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert not fit.alarm
    assert np.max(np.abs(fit.corners - aligned(QUADS[name]))) < 4


def test_missing_reading_gives_no_corners() -> None:
    lengths = six("front door")
    del lengths["top"]
    assert fit_corners(readings(lengths), figure=Figure.FOUR, starting=START) is None


@pytest.mark.parametrize("slipped", SIX)
@pytest.mark.parametrize("name", ["rectangle", "front door", "rear door", "back glass"])
def test_closing_change_undoes_a_two_inch_slip(name: str, slipped: str) -> None:
    """Of all changes offered, the one of the slipped reading gives its true value back."""
    lengths = six(name)
    lengths[slipped] += 2 * INCH
    fit = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert fit.alarm
    change = next(change for change in fit.changes if change.key == slipped)
    assert change.change_mm == pytest.approx(-2 * INCH, abs=0.01)
    assert fit.culprit is None, "one redundancy cannot name the slip"
    assert fit.ask_for is not None


@pytest.mark.parametrize("slipped", SIX)
def test_further_readings_name_the_slip(slipped: str) -> None:
    """Asked readings, taken rightly, name a slip of an inch, whichever reading it is in."""
    lengths = true_lengths(QUADS["front door"])
    taken = tape({key: lengths[key] for key in SIX})
    wrong = taken[slipped].mm + INCH
    taken[slipped] = Reading(str(wrong / INCH), wrong)
    fit = fit_corners(taken, figure=Figure.FOUR, starting=START)
    for _ in range(4):
        assert fit is not None
        if fit.culprit or fit.ask_for is None:
            break
        taken[fit.ask_for] = tape({fit.ask_for: lengths[fit.ask_for]})[fit.ask_for]
        fit = fit_corners(taken, figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert fit.culprit is not None
    assert fit.culprit.key == slipped
    assert fit.culprit.change_mm == pytest.approx(-INCH, abs=5)


def test_likeliest_slip_is_named_in_words() -> None:
    lengths = six("rectangle")
    lengths["diagonal_rising"] += INCH
    fit = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    assert fit is not None
    sentences = [describe_change(change) for change in fit.changes]
    assert "Diagonal, bottom left to top right 1.00 in shorter, a whole inch" in sentences[:2]


def test_swapped_digits_are_recognised() -> None:
    lengths = six("rectangle")  # 900 mm is 35 7/16 in
    taken = readings(lengths)
    taken["bottom"] = Reading("53 7/16", (53 + 7 / 16) * INCH)
    fit = fit_corners(taken, figure=Figure.FOUR, starting=START)
    assert fit is not None
    change = next(change for change in fit.changes if change.key == "bottom")
    assert change.slip == "swapped digits"


def all_turn_left(corners: np.ndarray) -> bool:
    """Whether a ring goes round without crossing itself or turning back: a real pane."""
    sides = np.roll(corners, -1, axis=0) - corners
    following = np.roll(sides, -1, axis=0)
    turns = sides[:, 0] * following[:, 1] - sides[:, 1] * following[:, 0]
    return bool((turns > 1.0).all())


@examples(40)
@given(
    x=st.floats(500, 1500), lean_left=st.floats(-100, 300), lean_right=st.floats(-300, 100),
    left=st.floats(300, 700), right=st.floats(300, 700),
)  # fmt: skip
def test_any_convex_pane_is_solved_from_perfect_readings(
    x: float, lean_left: float, lean_right: float, left: float, right: float
) -> None:
    corners = np.array([[0, 0], [x, 0], [x + lean_right, right], [lean_left, left]])
    assume(all_turn_left(corners))
    lengths = true_lengths(corners)
    fit = fit_corners(readings({k: lengths[k] for k in SIX}), figure=Figure.FOUR, starting=START)
    assert fit is not None
    np.testing.assert_allclose(fit.corners, corners, atol=0.01)


def test_three_corners_need_three_sides_and_a_fourth_checks() -> None:
    sides = {"bottom": 400.0, "right": 300.0, "left": 500.0}
    fit = fit_corners(readings(sides), figure=Figure.THREE, starting=START)
    assert fit is not None
    np.testing.assert_allclose(fit.corners, [[0, 0], [400, 0], [400, 300]], atol=1e-3)
    assert fit.redundancy == 0
    median = float(np.hypot(200, 300))
    good = fit_corners(readings(sides | {"top_to_bottom": median}), figure=Figure.THREE, starting=START)
    bad = fit_corners(readings(sides | {"top_to_bottom": median + 30}), figure=Figure.THREE, starting=START)
    assert good is not None
    assert bad is not None
    assert not good.alarm
    assert bad.alarm


@pytest.mark.parametrize(
    ("given_readings", "field", "says"),
    [
        ({"bottom": 0.0}, "bottom", "more than nothing"),
        ({"bottom": -5.0}, "bottom", "more than nothing"),
        ({"bottom": float("nan")}, "bottom", "more than nothing"),
        ({"bottom": 30 * 12 * INCH}, "bottom", "longer than any car glass"),
        ({"bottom": 900.0, "right": 400.0, "diagonal_rising": 1400.0}, "diagonal_rising", "together"),
        ({"bottom": 900.0, "left": 200.0, "diagonal_falling": 500.0}, "bottom", "together"),
        ({"top": 600.0, "bow_top": 200.0}, "bow_top", "quarter of its edge"),
        ({"top": 600.0, "right": 400.0, "radius_top_right": 300.0}, "radius_top_right", "half its shorter edge"),
        ({"sideways": 600.0}, "sideways", "not a reading"),
    ],
)
def test_impossible_readings_are_refused_by_name(given_readings: dict[str, float], field: str, says: str) -> None:
    with pytest.raises(ReadingError) as refusal:
        check_readings(readings(given_readings), figure=Figure.FOUR, starting=START)
    assert says in refusal.value.fields[field]


def test_all_impossible_readings_are_told_at_once() -> None:
    with pytest.raises(ReadingError) as refusal:
        check_readings(readings({"bottom": 0.0, "top": -1.0}), figure=Figure.FOUR, starting=START)
    assert set(refusal.value.fields) == {"bottom", "top"}


def pane(given_readings: dict[str, Reading], **over: object) -> object:
    options = {"level": Level.SHAPE, "figure": Figure.FOUR, "curve": Curve.FLAT}
    return measure_pane(Measures(readings=given_readings, **(options | over)), starting=START)  # type: ignore[arg-type]


def test_size_gives_a_stand_in_that_is_not_measured() -> None:
    found = pane(readings({"width": 900.0, "height": 450.0}), level=Level.SIZE)
    assert not found.outline.measured
    assert (found.outline.width, found.outline.height) == (900.0, 450.0)
    assert pane({}, level=Level.SIZE).missing == ("width", "height")


def test_shape_still_incomplete_falls_back_on_the_size() -> None:
    found = pane(readings({"width": 900.0, "height": 450.0, "bottom": 890.0}))
    assert found.outline is not None
    assert not found.outline.measured
    assert "top" in found.missing


def test_bows_widen_the_outline_outward() -> None:
    lengths = six("rectangle")
    found = pane(readings(lengths | {"bow_top": 20.0, "bow_bottom": 10.0}))
    assert found.outline.measured
    assert found.outline.height == pytest.approx(450 + 30, abs=0.1)


def test_mirror_image_has_the_long_side_on_the_other_end() -> None:
    outline = pane(readings(six("front door"))).outline
    other = outline.mirrored()
    assert other.area == pytest.approx(outline.area)
    top = outline.ring[outline.ring[:, 1] > 400]
    top_other = other.ring[other.ring[:, 1] > 400]
    assert top[:, 0].min() == pytest.approx(outline.width - top_other[:, 0].max(), abs=0.01)


def test_greatest_size_that_contradicts_the_shape_is_said() -> None:
    found = pane(readings(six("rectangle") | {"width": 980.0}))
    assert any("Greatest width" in caution for caution in found.cautions)


def test_crossing_readings_are_refused() -> None:
    lengths = six("rectangle")
    lengths["diagonal_rising"], lengths["right"] = lengths["right"], lengths["diagonal_rising"]
    lengths["diagonal_falling"], lengths["left"] = lengths["left"], lengths["diagonal_falling"]
    lengths["top"] = 900.0
    with pytest.raises(ReadingError):
        pane(readings(lengths))

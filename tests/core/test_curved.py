"""Curved panes against an independent integration of the tape's path; what no tape shows; false alarms."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cache

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import ReadingError
from elumbra.core.glass import Barrel, Curve
from elumbra.core.measure import (
    Closing,
    CornerFit,
    Figure,
    Level,
    MeasuredPane,
    Measures,
    Reading,
    TapeMode,
    measure_pane,
)
from tests.catalogue.barrels import (
    BACK,
    CROWNS,
    DOOR,
    PAIRS,
    Bowl,
    apart,
    bowl_of,
    chart_of,
    crown_readings,
    tape_readings,
)
from tests.catalogue.panes import INCH, readings, starting
from tests.effort import effort, examples

START = starting()
SIGMA = START["tape_sigma_mm"]


@cache
def survey(
    crowns: str, pane: str = "back", widest: float = 0.0, tilt: float = 0.0
) -> tuple[Bowl, np.ndarray, dict[str, float]]:
    corners = BACK if pane == "back" else DOOR
    bowl = bowl_of(corners, *CROWNS[crowns])
    chart = chart_of(corners, bowl, widest_above_middle=widest, tilt_degrees=tilt)
    return bowl, chart, tape_readings(chart, bowl) | crown_readings(bowl, corners)


def measured(
    taken: Mapping[str, float] | Mapping[str, Reading], curve: Curve = Curve.BOTH_WAYS, level: Level = Level.CURVE
) -> MeasuredPane:
    given = {key: one if isinstance(one, Reading) else Reading(f"{one} mm", one) for key, one in taken.items()}
    return measure_pane(Measures(level, Figure.FOUR, curve, given), starting=START)


def fit_of(taken: Mapping[str, float], curve: Curve = Curve.BOTH_WAYS, level: Level = Level.CURVE) -> CornerFit:
    fit = measured(taken, curve, level).fit
    assert fit is not None
    return fit


@pytest.mark.parametrize("crowns", CROWNS)
def test_a_tape_on_a_barrel_is_as_long_as_its_path_integrated(crowns: str) -> None:
    bowl, chart, taken = survey(crowns)
    barrel = Barrel(1 / bowl.across, 1 / bowl.up)
    for key, (i, k) in PAIRS.items():
        assert float(barrel.tape(chart[i], chart[k])) == pytest.approx(taken[key], abs=1e-3)
        assert float(barrel.straight(chart[i], chart[k])) == pytest.approx(bowl.straight(chart[i], chart[k]), abs=1e-6)


@examples(12, deadline=None)
@given(
    x=st.floats(-600, 600), y=st.floats(-350, 350), u=st.floats(-600, 600), v=st.floats(-350, 350),
    across=st.floats(1200, 20000), up=st.floats(700, 20000),
)  # fmt: skip
def test_any_tape_on_any_barrel(x: float, y: float, u: float, v: float, across: float, up: float) -> None:
    a, b = np.array([x, y]), np.array([u, v])
    if np.hypot(*(a - b)) < 5:
        return
    assert float(Barrel(1 / across, 1 / up).tape(a, b)) == pytest.approx(Bowl(across, up).tape(a, b), abs=2e-3)


@pytest.mark.parametrize("pane", ["back", "door"])
@pytest.mark.parametrize("crowns", CROWNS)
def test_exact_readings_of_a_barrel_give_its_corners_back(crowns: str, pane: str) -> None:
    """Heart, section 1: within 0.1 mm, on barrels that keep the two stated assumptions."""
    bowl, chart, taken = survey(crowns, pane)
    fit = fit_of(taken)
    assert np.abs(fit.corners - bowl.laid_out(chart)).max() < 0.1
    assert fit.closing is Closing.CLOSES
    assert fit.misclosure_sigma < 0.01


@pytest.mark.parametrize("crowns", ["40/15", "150/50"])
def test_straight_chords_and_a_tape_on_the_glass_draw_the_same_pane(crowns: str) -> None:
    bowl, chart, taken = survey(crowns)
    mixed: dict[str, Reading] = readings(taken)
    for key in ("diagonal_rising", "right", "top"):
        i, k = PAIRS[key]
        mm = bowl.straight(chart[i], chart[k])
        mixed[key] = Reading(f"{mm} mm", mm, TapeMode.CHORD)
    fit = measured(mixed).fit
    assert fit is not None
    assert np.abs(fit.corners - bowl.laid_out(chart)).max() < 0.1


def test_a_strongly_curved_pane_read_as_flat_would_not_close() -> None:
    """Why the surface counts: the planar fit of the very same readings is off by more than a tape is."""
    _, _, taken = survey("150/50")
    sides = {key: taken[key] for key in PAIRS}
    assert fit_of(sides, Curve.FLAT, Level.SHAPE).misclosure_sigma > 3
    assert fit_of(taken, Curve.STRONG).misclosure_sigma < 0.01


@pytest.mark.parametrize("height", [-60.0, 40.0, 90.0])
def test_a_read_height_of_the_widest_circle_is_used(height: float) -> None:
    bowl, chart, taken = survey("100/35", widest=height)
    with_height = fit_of(taken | {"widest_height": 320.0 + height})
    assert np.abs(with_height.corners - bowl.laid_out(chart)).max() < 0.1
    assert apart(fit_of(taken).corners, bowl.laid_out(chart)) > 0.2, "without it the shape is another"


@pytest.mark.parametrize("crowns", CROWNS)
@pytest.mark.parametrize(("widest", "tilt"), [(80.0, 0.0), (-80.0, 0.0), (0.0, 4.0), (0.0, -4.0)])
def test_what_no_tape_shows_is_within_what_the_outline_carries(crowns: str, widest: float, tilt: float) -> None:
    """Either assumption at the end of its 95 % interval: all closes, and the shape is off by no more than is told."""
    bowl, chart, taken = survey(crowns, widest=widest, tilt=tilt)
    fit = fit_of(taken)
    assert fit.closing is not Closing.ALARM
    assert apart(fit.corners, bowl.laid_out(chart)) <= 1.1 * fit.unseen_mm + 0.1


def noisy(taken: Mapping[str, float], rng: np.random.Generator) -> dict[str, float]:
    """A survey: tape to a sixteenth, gaps with their own spread."""
    found = {}
    for key, mm in taken.items():
        if key.endswith("_chord"):
            found[key] = mm
        elif key.startswith("crown_"):
            found[key] = max(0.0, mm + rng.normal(0, START["crown_gap_sigma_mm"]))
        else:
            found[key] = round((mm + rng.normal(0, SIGMA)) / INCH * 16) / 16 * INCH
    return found


def test_a_strongly_curved_back_glass_raises_no_more_alarms_than_chance() -> None:
    """1,000 noisy surveys: beyond 3 sigma of one check lie 0.27 %, beyond 1.5 sigma 13.4 %."""
    rng = np.random.default_rng(20261125)
    _, _, taken = survey("150/50")
    surveys = effort(100, 1000)
    found = [fit_of(noisy(taken, rng), Curve.STRONG).closing for _ in range(surveys)]
    assert found.count(Closing.ALARM) <= effort(2, 10)
    assert 0.07 * surveys <= found.count(Closing.AMBER) <= 0.2 * surveys


@pytest.mark.parametrize("crowns", ["40/15", "100/35", "150/50"])
def test_a_slip_of_two_inches_is_found_on_curved_glass_and_its_change_undoes_it(crowns: str) -> None:
    _, _, taken = survey(crowns)
    for slipped in PAIRS:
        wrong = dict(taken)
        wrong[slipped] += 2 * INCH
        fit = fit_of(wrong)
        assert fit.closing is Closing.ALARM, slipped
        change = next(one for one in fit.changes if one.key == slipped)
        assert change.change_mm == pytest.approx(-2 * INCH, abs=1.5)


def test_class_defaults_give_amber_at_most_and_ask_for_the_crowns() -> None:
    _, _, taken = survey("100/35")
    wrong = {key: taken[key] for key in PAIRS} | {"diagonal_rising": taken["diagonal_rising"] + 3 * INCH}
    fit = fit_of(wrong, level=Level.SHAPE)
    assert fit.closing is Closing.AMBER
    assert fit.read_crowns
    honest = fit_of(wrong | crown_readings(bowl_of(BACK, *CROWNS["100/35"]), BACK), level=Level.SHAPE)
    assert honest.closing is Closing.ALARM


@pytest.mark.parametrize("curve", [Curve.BOTH_WAYS, Curve.STRONG])
def test_honest_readings_without_crowns_raise_no_alarm(curve: Curve) -> None:
    for crowns in CROWNS:
        _, _, taken = survey(crowns)
        assert fit_of({key: taken[key] for key in PAIRS}, curve, Level.SHAPE).closing is not Closing.ALARM


def test_both_end_gaps_stand_for_the_middle_one() -> None:
    """Outside on convex glass the straightedge touches the middle: the mean of both ends counts."""
    _, _, taken = survey("70/25")
    gap = taken.pop("crown_across")
    ends = taken | {"crown_across_left": gap - 6, "crown_across_right": gap + 6}
    np.testing.assert_allclose(fit_of(ends).corners, fit_of(taken | {"crown_across": gap}).corners, atol=0.6)
    assert not measured(ends).missing


def test_curve_asks_for_gap_and_chord_and_flat_glass_for_none() -> None:
    _, _, taken = survey("70/25")
    sides = {key: taken[key] for key in PAIRS}
    wanted = ("crown_across", "crown_across_chord", "crown_up", "crown_up_chord")
    assert measured(sides).missing == wanted
    assert measured(sides, Curve.FLAT).missing == ()
    half = measured(sides | {"crown_up_foot": 10.0})
    assert half.missing == (*wanted[:2], "crown_up_head", "crown_up_chord")


@pytest.mark.parametrize(
    ("over", "field"),
    [
        ({"crown_across": 400.0}, "crown_across"),  # over a quarter of the distance read
        ({"crown_up": 300.0, "crown_up_chord": 540.0}, "crown_up"),
        ({"crown_across_left": 500.0, "crown_across_right": 1.0}, "crown_across_left"),
        ({"crown_across_chord": 0.0}, "crown_across_chord"),
    ],
)
def test_crowns_larger_than_the_chord_allows_are_refused_by_name(over: dict[str, float], field: str) -> None:
    _, _, taken = survey("70/25")
    if "crown_across_left" in over:
        taken = {key: one for key, one in taken.items() if key != "crown_across"}
    with pytest.raises(ReadingError) as refusal:
        measured(taken | over)
    assert field in refusal.value.fields


def test_readings_of_a_pane_that_would_fold_are_refused() -> None:
    _, _, taken = survey("70/25")
    folding = taken | {"crown_across": 60.0, "crown_across_chord": 300.0, "crown_up": 50.0, "crown_up_chord": 250.0}
    with pytest.raises(ReadingError, match=r"fold|cross"):
        measured(folding)


def test_a_gap_without_its_distance_is_said() -> None:
    _, _, taken = survey("70/25")
    del taken["crown_across_chord"]
    pane = measured(taken)
    assert "crown_across_chord" in pane.missing


def test_unseen_error_grows_with_the_crowns_and_is_none_where_one_way_is_straight() -> None:
    told = [fit_of(survey(crowns)[2]).unseen_mm for crowns in CROWNS]
    assert told == sorted(told)
    assert told[-1] > 1
    _, _, taken = survey("22/8")
    straight = fit_of(taken | {"crown_across": 0.0}, Curve.ONE_WAY)
    assert straight.unseen_mm == pytest.approx(0, abs=0.01)

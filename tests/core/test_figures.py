"""Panes of 3 to 8 corners, inward ones too; amber, swaps, mirror images: all on made shapes and plain geometry."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import combinations, product

import numpy as np
import pytest

from elumbra.core.errors import ReadingError
from elumbra.core.glass import Curve, Outline
from elumbra.core.measure import (
    Closing,
    CornerFit,
    Figure,
    Level,
    Measures,
    Reading,
    asked_keys,
    corner_names,
    describe_swap,
    edges,
    leans,
    measure_pane,
    mirrored_readings,
    other_way_round,
    plan_of,
    read_mirrored,
)
from tests.catalogue.panes import INCH, QUADS, SIX, fit_corners, readings, starting, true_lengths

START = starting()
FIGURES = {
    3: Figure.THREE, 4: Figure.FOUR, 5: Figure.FIVE, 6: Figure.SIX, 7: Figure.SEVEN, 8: Figure.EIGHT,
}  # fmt: skip


def lengths_of(corners: np.ndarray) -> dict[str, float]:
    """Sides, all diagonals from corner 1, and the one that joins its neighbours, by plain geometry."""
    n = len(corners)
    between = [(i, (i + 1) % n) for i in range(n)]
    if n > 4:
        keys = [f"side_{i + 1}_{k + 1}" for i, k in between]
        fan = [(0, k) for k in range(2, n - 1)]
        between += [*fan, (1, n - 1)]
        keys += [f"diagonal_1_{k + 1}" for _, k in fan] + [f"diagonal_2_{n}"]
    else:
        keys = ["bottom", "right", "left"] if n == 3 else ["bottom", "right", "top", "left"]
        if n == 4:
            between += [(0, 2), (3, 1)]
            keys += ["diagonal_rising", "diagonal_falling"]
    return {key: float(np.hypot(*(corners[i] - corners[k]))) for key, (i, k) in zip(keys, between, strict=True)}


def polygon(n: int, rng: np.random.Generator) -> np.ndarray:
    """A pane of n corners, its foot level, none of them nearly straight."""
    turns = -np.pi / 2 - np.pi / n + 2 * np.pi * (np.arange(n) + rng.uniform(-0.12, 0.12, n)) / n
    corners = np.stack([520 * np.cos(turns), 380 * np.sin(turns)], axis=1) * rng.uniform(0.9, 1.1, (n, 1))
    foot = corners[1] - corners[0]
    c, s = foot / np.hypot(*foot)
    return (corners - corners[0]) @ np.array([[c, -s], [s, c]])


def solved(lengths: Mapping[str, float], n: int, inward: frozenset[str] = frozenset()) -> CornerFit:
    taken = {key: Reading(f"{mm} mm", mm) for key, mm in lengths.items()}
    fit = measure_pane(Measures(Level.SHAPE, FIGURES[n], Curve.FLAT, taken, inward), starting=START).fit
    assert fit is not None
    return fit


@pytest.mark.parametrize("n", FIGURES)
@pytest.mark.parametrize("seed", range(6))
def test_exact_readings_give_the_corners_of_any_figure_back(n: int, seed: int) -> None:
    corners = polygon(n, np.random.default_rng(100 * n + seed))
    fit = solved(lengths_of(corners), n)
    np.testing.assert_allclose(fit.corners, corners, atol=0.01)
    assert fit.redundancy == (0 if n == 3 else 1)
    assert fit.closing is Closing.CLOSES


@pytest.mark.parametrize("n", FIGURES)
def test_a_figure_is_asked_for_one_reading_more_than_it_needs(n: int) -> None:
    asked = asked_keys(Measures(Level.SHAPE, FIGURES[n]))
    assert len(asked) == (3 if n == 3 else 2 * n - 2)
    assert set(asked) == set(lengths_of(polygon(n, np.random.default_rng(1))))
    assert len(edges(FIGURES[n])) == len(corner_names(FIGURES[n])) == n


@pytest.mark.parametrize("n", [5, 6, 7, 8])
@pytest.mark.parametrize("at", [2, 3])
def test_a_corner_drawn_in_is_solved_and_tapped_as_inward(n: int, at: int) -> None:
    corners = polygon(n, np.random.default_rng(n))
    middle = corners.mean(axis=0)
    corners[at] = middle + 0.25 * (corners[at] - middle)
    name = corner_names(FIGURES[n])[at]
    found = solved(lengths_of(corners), n, frozenset({name}))
    np.testing.assert_allclose(found.corners, corners, atol=0.02)
    assert found.closing is Closing.CLOSES


@pytest.mark.parametrize("n", [5, 6, 7, 8])
@pytest.mark.parametrize("deep", [15.0, 35.0, 60.0])
def test_a_notch_is_drawn_as_it_is_once_tapped_and_never_as_another_figure_unasked(n: int, deep: float) -> None:
    """Corner 4 lies behind the line from corner 1 to corner 3: laid outward, the figure is another."""
    corners = polygon(n, np.random.default_rng(n))
    along = corners[2] / np.hypot(*corners[2])
    corners[3] = 0.5 * corners[2] + deep * np.array([along[1], -along[0]])
    lengths = lengths_of(corners)
    tapped = solved(lengths, n, frozenset({"corner_4"}))
    np.testing.assert_allclose(tapped.corners, corners, atol=0.02)
    assert tapped.closing is Closing.CLOSES
    try:
        plain = solved(lengths, n)
    except ReadingError as refusal:
        assert "cross" in refusal.message
        return
    told = "corner_4" in plain.suspicion.inward
    assert told or np.abs(plain.corners - corners).max() < 0.02 or plain.closing is not Closing.CLOSES


def test_an_inward_corner_that_the_figure_does_not_have_is_refused_by_name() -> None:
    lengths = lengths_of(polygon(5, np.random.default_rng(5)))
    with pytest.raises(ReadingError, match="corner_9"):
        solved(lengths, 5, frozenset({"corner_9"}))


def test_bows_radii_and_corrections_go_on_any_edge() -> None:
    corners = polygon(6, np.random.default_rng(5))
    plain = {key: Reading(f"{mm} mm", mm) for key, mm in lengths_of(corners).items()}

    def outline(**more: float) -> Outline:
        extra = {key: Reading(f"{mm} mm", mm) for key, mm in more.items()}
        found = measure_pane(Measures(Level.SHAPE, Figure.SIX, Curve.FLAT, plain | extra), starting=START).outline
        assert found is not None
        return found

    sides = lengths_of(corners)
    for edge in edges(Figure.SIX):
        side = sides[edge]
        bowed = outline(**{f"bow_{edge}": 15.0}).area - outline().area
        assert bowed == pytest.approx(2 / 3 * 15 * side, rel=0.03), "a flat arc holds two thirds of its rectangle"
        moved = outline(**{f"more_{edge}": 4.0}).area - outline().area
        assert moved == pytest.approx(4 * side, rel=0.08)
        taken_off = outline(**{f"less_{edge}": 4.0}).area - outline().area
        assert taken_off == pytest.approx(-4 * side, rel=0.08)
    for corner in corner_names(Figure.SIX):
        assert outline(**{f"radius_{corner}": 30.0}).area < outline().area


# --- amber


@pytest.mark.parametrize("slipped", SIX)
def test_half_an_inch_is_amber_or_worse_and_the_suspects_hold_it(slipped: str) -> None:
    lengths = {key: true_lengths(QUADS["front door"])[key] for key in SIX}
    lengths[slipped] += INCH / 2
    fit = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert fit.closing is not Closing.CLOSES
    assert slipped in {one.key for one in fit.changes}


def test_the_steps_lie_at_one_and_a_half_and_three_sigma() -> None:
    """A rectangle's diagonal: its share of the check is known, so how far it may be off is too."""
    lengths = {key: true_lengths(QUADS["rectangle"])[key] for key in SIX}

    def closing(mm: float) -> tuple[Closing, float]:
        moved = lengths | {"diagonal_rising": lengths["diagonal_rising"] + mm}
        fit = fit_corners(readings(moved), figure=Figure.FOUR, starting=START)
        assert fit is not None
        return fit.closing, fit.misclosure_sigma

    _, per_mm = closing(1.0)
    for sigma, wanted in ((1.4, Closing.CLOSES), (1.6, Closing.AMBER), (2.9, Closing.AMBER), (3.1, Closing.ALARM)):
        assert closing(sigma / per_mm)[0] is wanted


# --- swaps


@pytest.mark.parametrize(
    ("name", "one", "two"),
    [
        ("rear door", "right", "diagonal_rising"),
        ("back glass", "top", "diagonal_falling"),
        ("front door", "left", "diagonal_rising"),
        ("narrow slider", "bottom", "diagonal_falling"),
    ],
)
def test_two_swapped_readings_are_named_where_only_that_swap_closes(name: str, one: str, two: str) -> None:
    lengths = {key: true_lengths(QUADS[name])[key] for key in SIX}
    lengths[one], lengths[two] = lengths[two], lengths[one]
    fit = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert fit.suspicion.swap is not None
    assert set(fit.suspicion.swap) == {one, two}
    assert "look swapped" in describe_swap(fit.suspicion.swap)


def angles_missed(lengths: dict[str, float]) -> float:
    """How far six distances are from a flat pane whose diagonals cross, in degrees: 0 where they make one.

    A diagonal splits the angle at each of its corners, and the parts add up; angles by the law of cosines. Infinite
    where three of the readings make no triangle.
    """

    def angle(one: str, two: str, opposite: str) -> float:
        a, b, c = lengths[one], lengths[two], lengths[opposite]
        share = (a * a + b * b - c * c) / (2 * a * b)
        return float(np.degrees(np.arccos(share))) if abs(share) < 1 else np.inf

    corners = (
        ("bottom", "diagonal_rising", "left", "right", "top", "diagonal_falling"),
        ("right", "diagonal_falling", "bottom", "top", "left", "diagonal_rising"),
        ("top", "diagonal_rising", "right", "left", "bottom", "diagonal_falling"),
        ("left", "diagonal_falling", "top", "bottom", "right", "diagonal_rising"),
    )
    missed = [
        angle(side, diagonal, beyond) + angle(diagonal, other, far) - angle(side, other, across)
        for side, diagonal, other, beyond, far, across in corners
    ]
    return float(np.max(np.abs(missed))) if np.all(np.isfinite(missed)) else np.inf


def swapped(lengths: dict[str, float], one: str, two: str) -> dict[str, float]:
    return lengths | {one: lengths[two], two: lengths[one]}


def test_a_named_swap_is_the_one_that_was_made() -> None:
    """Every pair of readings on every pane: named where no other swap comes near to closing, never where one closes too."""
    named = {True: 0, False: 0}
    for name, (one, two) in product(sorted(set(QUADS) - {"rectangle"}), combinations(SIX, 2)):
        true = {key: true_lengths(QUADS[name])[key] for key in SIX}
        assert angles_missed(true) < 1e-6
        made = swapped(true, one, two)
        others = [pair for pair in combinations(SIX, 2) if set(pair) != {one, two}]
        nearest = min(angles_missed(swapped(made, *pair)) for pair in others)
        if abs(true[one] - true[two]) < 2 * INCH or angles_missed(made) < 5 or 0.01 < nearest < 5:
            continue
        try:
            fit = fit_corners(readings(made), figure=Figure.FOUR, starting=START)
        except ReadingError:
            continue
        assert fit is not None
        only = nearest > 5
        assert fit.suspicion.swap is None or only, (name, one, two)
        assert not only or set(fit.suspicion.swap or ()) == {one, two}, (name, one, two)
        named[only] += 1
    assert min(named.values()) >= 10


def test_a_mirror_pair_that_closes_either_way_is_not_called_a_swap() -> None:
    """On a symmetric pane several swaps close as well as each other: none of them is named."""
    lengths = {key: true_lengths(QUADS["rectangle"])[key] for key in SIX}
    lengths["diagonal_rising"] += 2 * INCH
    fit = fit_corners(readings(lengths), figure=Figure.FOUR, starting=START)
    assert fit is not None
    assert fit.suspicion.swap is None


# --- mirror images


@pytest.mark.parametrize("n", FIGURES)
def test_readings_turned_over_draw_the_mirror_image(n: int) -> None:
    corners = polygon(n, np.random.default_rng(n + 40))
    taken = {key: Reading(f"{mm} mm", mm) for key, mm in lengths_of(corners).items()}
    turned = mirrored_readings(taken, FIGURES[n])
    assert mirrored_readings(turned, FIGURES[n]) == taken
    found = (
        solved({key: one.mm for key, one in turned.items() if key in plan_of(FIGURES[n]).needed}, n)
        if (set(plan_of(FIGURES[n]).needed) <= set(turned))
        else None
    )
    if found is None:  # from five corners on, the fan of the mirror image starts at corner 2
        return
    mirror = (corners * [-1, 1])[[1, 0, *range(n - 1, 1, -1)]]
    mirror = mirror - mirror[0]
    np.testing.assert_allclose(found.corners, mirror, atol=0.02)


def outline_of(corners: np.ndarray) -> Outline:
    low = corners.min(axis=0)
    return Outline(corners - low, corners - low, measured=True)


@pytest.mark.parametrize("name", ["front door", "rear door"])
def test_a_pane_read_as_its_mirror_image_is_told_by_the_other_side(name: str) -> None:
    this_side = outline_of(QUADS[name])
    right_way, wrong_way = this_side.mirrored(), this_side
    assert not read_mirrored(right_way, this_side, tell_from=START["mirror_tell_mm"])
    assert read_mirrored(wrong_way, this_side, tell_from=START["mirror_tell_mm"])
    assert leans(this_side) > START["mirror_tell_mm"]


def test_a_pane_that_does_not_lean_is_never_asked_about() -> None:
    assert leans(outline_of(QUADS["rectangle"])) == 0
    assert not read_mirrored(outline_of(QUADS["rectangle"]), outline_of(QUADS["rectangle"]), tell_from=1.0)


def test_turning_over_takes_out_what_has_no_place_on_the_other_side() -> None:
    taken = readings({"left": 400.0, "bow_right": 12.0, "top_left_to_right": 700.0})
    turned = other_way_round(taken, Figure.FOUR)
    assert {key: one and one.mm for key, one in turned.items()} == {
        "left": None, "bow_right": None, "top_left_to_right": None,
        "right": 400.0, "bow_left": 12.0, "top_right_to_left": 700.0,
    }  # fmt: skip

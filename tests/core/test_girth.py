"""The tape round a roll: its length and the spread of that, against a roll wound turn by turn and drawn readings."""

from __future__ import annotations

from math import pi

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import CoreError
from elumbra.core.film import FullRoll, check_full_roll, recount

SIGMA = 0.8


def girth_of(length: float, core: float, thickness: float) -> float:
    """Round a roll, wound turn by turn: each turn is one thickness farther out."""
    radius, left = core / (2 * pi), length
    while left > 0:
        turn = 2 * pi * (radius + thickness / 2)
        radius += thickness * min(1.0, left / turn)
        left -= turn
    return 2 * pi * radius


@given(st.floats(500, 30_000), st.floats(0.05, 0.2), st.floats(180, 300))
def test_what_was_wound_is_what_is_left(length: float, thickness: float, core: float) -> None:
    full = FullRoll(girth_of(30_480.0, core, thickness), core, 30_480.0)
    found = recount(girth_of(length, core, thickness), core, [full], tape_sigma=SIGMA)
    assert found.length == pytest.approx(length, rel=0.005, abs=20)
    assert found.thickness == pytest.approx(thickness, rel=0.002)


@pytest.mark.parametrize("rolls", [1, 4])
@pytest.mark.parametrize("left", [3_000.0, 15_000.0])
def test_the_spread_is_that_of_drawn_readings(left: float, rolls: int) -> None:
    """Every tape put round anew, a hundred thousand times: 95 in 100 lengths lie within the half-width."""
    core, thickness, full_length = 270.0, 0.09, 30_480.0
    truth, full = girth_of(left, core, thickness), girth_of(full_length, core, thickness)
    exact = [FullRoll(full, core, full_length)] * rolls
    chance = np.random.default_rng(11)

    def read(mm: float, shape: tuple[int, ...]) -> np.ndarray:
        return chance.normal(mm, SIGMA, shape)

    size = 100_000
    thick = ((read(full, (size, rolls)) ** 2 - read(core, (size, rolls)) ** 2) / (4 * pi * full_length)).mean(axis=1)
    drawn = (read(truth, (size,)) ** 2 - read(core, (size,)) ** 2) / (4 * pi * thick)
    found = recount(truth, core, exact, tape_sigma=SIGMA)
    assert found.pm == pytest.approx(1.96 * float(np.std(drawn)), rel=0.03)
    assert found.rolls == rolls


def test_rolls_that_differ_among_themselves_spread_more_than_their_tapes() -> None:
    """Thicknesses 0.08, 0.09 and 0.10: mean 0.09, standard error of it sqrt(2 x 0.01 squared) / 3 = 0.004714."""
    core, length = 270.0, 30_480.0
    rolls = [FullRoll((4 * pi * one * length + core**2) ** 0.5, core, length) for one in (0.08, 0.09, 0.10)]
    girth = (4 * pi * 0.09 * 10_000 + core**2) ** 0.5
    found = recount(girth, core, rolls, tape_sigma=0.0)
    assert found.length == pytest.approx(10_000)
    assert found.pm == pytest.approx(1.96 * 10_000 * 0.0047140 / 0.09, rel=1e-3)
    assert (found.agrees_with(10_000 + found.pm - 1), found.agrees_with(10_000 + found.pm + 1)) == (True, False)
    assert (found.agrees_with(10_000 - found.pm + 1), found.agrees_with(10_000 - found.pm - 1)) == (True, False)


@pytest.mark.parametrize(("girth", "core"), [(270.0, 270.0), (100.0, 270.0), (300.0, 0.0), (300.0, -1.0)])
def test_less_round_the_roll_than_round_its_core_is_refused(girth: float, core: float) -> None:
    full = FullRoll(328.0, 270.0, 30_480.0)
    with pytest.raises(CoreError, match="must read more than round its core"):
        recount(girth, core, [full], tape_sigma=SIGMA)
    with pytest.raises(CoreError, match="must read more than round its core"):
        check_full_roll(FullRoll(girth, core, 30_480.0))


def test_nothing_to_compare_with_and_film_that_there_is_not_are_refused() -> None:
    with pytest.raises(CoreError, match="Put the tape round a full one first"):
        recount(300.0, 270.0, [], tape_sigma=SIGMA)
    with pytest.raises(CoreError, match=r"film 0\.908 mm thick") as refusal:
        check_full_roll(FullRoll(650.0, 270.0, 30_640.0))
    assert set(refusal.value.fields) == {"girth"}
    with pytest.raises(CoreError, match=r"comes 0\.03 to 0\.4 mm"):
        check_full_roll(FullRoll(272.0, 270.0, 30_480.0))
    check_full_roll(FullRoll(328.0, 270.0, 30_480.0))

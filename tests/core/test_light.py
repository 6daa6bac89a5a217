from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.errors import FilmError
from elumbra.core.film import VltBasis, check_film
from elumbra.core.light import Glass, GlassSource, combine, probability_reads_below, shade_hex
from tests.catalogue.panes import film, starting

START = starting()
METERED = GlassSource.METERED


@pytest.mark.parametrize(
    ("glass", "sheet", "basis", "judged", "bench"),
    [
        # Worked by hand: 0.75 x 0.35 / 0.90 and 0.75 x 0.35 (handbook 9: 29 against 26).
        (0.75, 0.35, VltBasis.ON_3MM_CLEAR, 0.291667, 0.2625),
        # Film over privacy glass: about 4 % (handbook 2).
        (0.20, 0.20, VltBasis.ON_3MM_CLEAR, 0.044444, 0.04),
        # A clear film alone passes (1 - 0.043) / (1 + 0.043) = 0.917546.
        (0.75, 0.35, VltBasis.FILM_ALONE, 0.286090, 0.2625),
        (0.75, 0.35, VltBasis.UNKNOWN, 0.2625, 0.2625),
        (0.75, 0.0, VltBasis.ON_3MM_CLEAR, 0.0, 0.0),
    ],
)
def test_combined_vlt_by_hand(glass: float, sheet: float, basis: VltBasis, judged: float, bench: float) -> None:
    found = combine(Glass(glass, METERED), film(sheet, vlt_basis=basis, reflectance=None), starting=START)
    assert found.vlt == pytest.approx(judged, abs=1e-6)
    assert found.bench == pytest.approx(bench)
    assert (found.bonded is None) == (basis is VltBasis.UNKNOWN)


def test_a_film_as_clear_as_its_reference_changes_nothing() -> None:
    clear = film(0.90, reflectance=0.08)
    assert combine(Glass(0.75, METERED), clear, starting=START).vlt == pytest.approx(0.75)


def test_bare_glass_keeps_its_own_spread() -> None:
    metered = combine(Glass(0.75, METERED), None, starting=START)
    assumed = combine(Glass(0.75, GlassSource.ASSUMED), None, starting=START)
    assert (metered.vlt, metered.pm, assumed.pm) == (0.75, 0.02, 0.05)
    assert "no film" in metered.formula


@given(glass=st.floats(0.02, 0.92), one=st.floats(0, 0.9), other=st.floats(0, 0.9))
def test_lighter_film_is_never_darker_on_the_car(glass: float, one: float, other: float) -> None:
    light, dark = max(one, other), min(one, other)
    on = Glass(glass, METERED)
    lighter = combine(on, film(light, reflectance=None), starting=START)
    darker = combine(on, film(dark, reflectance=None), starting=START)
    assert lighter.vlt >= darker.vlt
    assert 0 <= lighter.low <= lighter.vlt <= lighter.high <= 1


@pytest.mark.parametrize(("glass", "sheet", "limit"), [(0.75, 0.35, 0.28), (0.75, 0.35, 0.25), (0.72, 0.20, 0.15)])
def test_risk_agrees_with_monte_carlo(glass: float, sheet: float, limit: float) -> None:
    """A million drawn readings: glass ±2 points, film ±5 % of value, officer ±2 points, all 95 %."""
    rng = np.random.default_rng(5)
    size = 1_000_000
    drawn_glass = rng.normal(glass, 0.02 / 1.959964, size)
    drawn_film = rng.normal(sheet, max(0.005, 0.05 * sheet) / 1.959964, size)
    read = drawn_glass * drawn_film / 0.90 + rng.normal(0, 0.02 / 1.959964, size)
    found = combine(Glass(glass, METERED), film(sheet), starting=START)
    risk = probability_reads_below(found, limit, starting=START)
    assert risk == pytest.approx(float(np.mean(read < limit)), abs=0.003)
    assert found.pm == pytest.approx(1.959964 * float(np.std(drawn_glass * drawn_film / 0.90)), rel=0.01)


def test_risk_without_any_spread_is_certain() -> None:
    sharp = START.with_shop_values({"glass_metered_pm": 0, "officer_meter_pm": 0})
    bare = combine(Glass(0.5, METERED), None, starting=sharp)
    assert probability_reads_below(bare, 0.49, starting=sharp) == 0
    assert probability_reads_below(bare, 0.51, starting=sharp) == 1


@pytest.mark.parametrize(
    ("share", "colour"), [(0.2, "#7C7C7C"), (0.05, "#3F3F3F"), (0.7, "#DADADA"), (1, "#FFFFFF"), (0, "#000000")]
)
def test_backdrop_is_linear_light_encoded(share: float, colour: str) -> None:
    """Expected levels are worked with the sRGB curve by hand, one level either way."""
    assert abs(int(shade_hex(share)[1:3], 16) - int(colour[1:3], 16)) <= 1


@pytest.mark.parametrize(
    ("over", "field", "says"),
    [
        ({"vlt": 1.2}, "vlt", "outside 0 to 100"),
        ({"vlt": -0.1}, "vlt", "outside 0 to 100"),
        ({"vlt": float("nan")}, "vlt", "outside 0 to 100"),
        ({"vlt": 0.8, "reflectance": 0.3}, "reflectance", "make 110 %"),
        ({"vlt": 0.95, "reflectance": 0.01}, "vlt", "the glass alone passes 90 %"),
        ({"solar_transmittance": 0.7, "solar_reflectance": 0.4}, "solar_reflectance", "make 110 %"),
        ({"shrink_limit": 0.0}, "shrink_limit", "outside what film shrinks"),
        ({"name": " "}, "name", "needs a name"),
    ],
)
def test_film_that_cannot_be_is_refused(over: dict[str, object], field: str, says: str) -> None:
    with pytest.raises(FilmError) as refusal:
        check_film(replace(film(), **over), starting=START)  # type: ignore[arg-type]
    assert says in refusal.value.fields[field]


def test_film_alone_may_pass_more_than_glass_does() -> None:
    check_film(film(0.93, vlt_basis=VltBasis.FILM_ALONE, reflectance=0.05), starting=START)

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from elumbra.core.errors import FilmError
from elumbra.core.film import Construction, FilmFacts, VltBasis, Warranty, check_film, colours_in
from elumbra.core.light import (
    Element,
    Glass,
    GlassSource,
    Hour,
    InstalledReading,
    LitPane,
    PaneHeat,
    Seat,
    add_up,
    bare_glass_reflectance,
    break_caution,
    brightness,
    cabin_light,
    chain,
    combine,
    exposed,
    film_alone,
    fit_film,
    glass_pm,
    heat_side,
    least_sheet_vlt,
    look,
    lot_figure,
    metered_glass,
    overdrawn,
    probability_reads_below,
    quality_words,
    radio_advice,
    shade_hex,
    stack,
    two_panes,
    warranty_words,
)
from tests.catalogue.panes import SHARES, film, in_percent, starting

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
        ({"vlt": 0.95, "vlt_basis": VltBasis.FILM_ALONE}, "vlt", "its two faces alone leave 91.8 %"),
        ({"uv_rejection": 1.2}, "uv_rejection", "outside 0 to 100"),
        ({"vlt": 0.8, "reflectance": 0.1, "reflectance_inside": 0.3}, "reflectance_inside", "make 110 %"),
        ({"warranty_years": 0.0}, "warranty_years", "no warranty"),
    ],
)
def test_film_that_cannot_be_is_refused(over: dict[str, object], field: str, says: str) -> None:
    with pytest.raises(FilmError) as refusal:
        check_film(replace(film(), **in_percent(over)), starting=START)  # type: ignore[arg-type]
    assert says in refusal.value.fields[f"{field}_percent" if field in SHARES else field]


def test_film_alone_may_pass_more_than_glass_does() -> None:
    check_film(film(0.93, vlt_basis=VltBasis.FILM_ALONE, reflectance=0.05), starting=START)


# --- layers, repeat readings


def test_layers_multiply_and_each_brings_its_own_spread() -> None:
    """75 glass, a 50 that stays, a 35 over it: 0.75 x 0.5/0.9 x 0.35/0.9 = 0.162037, worked by hand."""
    under, over = film(0.5, reflectance=None), film(0.35, reflectance=None)
    found = combine(Glass(0.75, METERED), over, starting=START, layers=[under])
    assert found.vlt == pytest.approx(0.162037, abs=1e-6)
    assert found.bench == pytest.approx(0.75 * 0.5 * 0.35)
    glass = 0.5 / 0.9 * 0.35 / 0.9 * 0.02
    first = 0.75 * 0.35 / 0.9 * 0.025 / 0.9
    second = 0.75 * 0.5 / 0.9 * 0.0175 / 0.9
    assert found.pm == pytest.approx((glass**2 + first**2 + second**2) ** 0.5)
    assert "glass × 50 % sheet ÷ 90 % reference × 35 % sheet ÷ 90 % reference = 16.2 %" in found.formula


def test_layers_spread_agrees_with_monte_carlo() -> None:
    rng = np.random.default_rng(11)
    size = 500_000
    drawn = rng.normal(0.75, 0.02 / 1.959964, size)
    for sheet in (0.5, 0.35):
        drawn = drawn * rng.normal(sheet, 0.05 * sheet / 1.959964, size) / 0.9
    found = combine(Glass(0.75, METERED), film(0.35), starting=START, layers=[film(0.5)])
    assert found.pm == pytest.approx(1.959964 * float(np.std(drawn)), rel=0.01)


def test_reading_through_old_film_is_the_figure_it_goes_on() -> None:
    through = Glass(0.40, METERED, through_old_film=True)
    found = combine(through, film(0.5), starting=START)
    assert found.vlt == pytest.approx(0.40 * 0.5 / 0.9)
    assert "40 % glass and old film" in found.formula


@pytest.mark.parametrize(("readings", "pm"), [(1, 0.02), (4, 0.0177975), (100, 0.0170326), (10**9, 0.017)])
def test_repeat_readings_never_get_under_the_meters_bias(readings: int, pm: float) -> None:
    """sqrt(0.017² + (0.02² - 0.017²) / n), by hand."""
    assert glass_pm(Glass(0.7, METERED, readings), starting=START) == pytest.approx(pm, abs=1e-6)
    assert glass_pm(Glass(0.7, GlassSource.MARKED, readings), starting=START) == 0.05


def test_mean_of_readings_agrees_with_drawn_ones_that_share_a_bias() -> None:
    rng = np.random.default_rng(3)
    bias = rng.normal(0, 0.017 / 1.959964, 200_000)
    own = rng.normal(0, (0.02**2 - 0.017**2) ** 0.5 / 1.959964, (200_000, 3)).mean(axis=1)
    found = glass_pm(metered_glass([0.71, 0.72, 0.70]), starting=START)
    assert found == pytest.approx(1.959964 * float(np.std(bias + own)), rel=0.01)


def test_no_reading_is_no_glass() -> None:
    with pytest.raises(ValueError, match="at least one reading"):
        metered_glass([])


@pytest.mark.parametrize(
    ("sheet", "basis", "alone"),
    [
        (0.50, VltBasis.FILM_ALONE, 0.50),
        (0.50, VltBasis.UNKNOWN, 0.50),
        (0.50, VltBasis.ON_3MM_CLEAR, 0.509748),  # 0.5 / 0.9 x 0.957 / 1.043
    ],
)
def test_film_by_itself(sheet: float, basis: VltBasis, alone: float) -> None:
    vlt, pm = film_alone(film(sheet, vlt_basis=basis, reflectance=None), starting=START)
    assert vlt == pytest.approx(alone, abs=1e-6)
    assert pm == pytest.approx(0.05 * alone, abs=1e-6)


# --- the chain of faces


def bounced(parts: list[Element]) -> tuple[float, float]:
    """What passes and comes back through parts in a row, by following the light until it is gone.

    An independent way: no closed form, just light going right and left between the parts.
    """
    n = len(parts)
    right, left = [0.0] * (n + 1), [0.0] * (n + 1)
    right[0] = 1.0
    back = 0.0
    passed = 0.0
    for _ in range(400):
        next_right, next_left = [0.0] * (n + 1), [0.0] * (n + 1)
        for i, part in enumerate(parts):
            next_right[i + 1] += right[i] * part.through
            next_left[i] += right[i] * part.back_outside
            next_left[i] += left[i + 1] * part.through
            next_right[i + 1] += left[i + 1] * part.back_inside
        passed += next_right[n]
        back += next_left[0]
        next_right[n] = next_left[0] = 0.0
        right, left = next_right, next_left
    return passed, back


elements = st.builds(
    lambda t, a, b: Element(t, a * (1 - t), b * (1 - t)), st.floats(0.01, 0.95), st.floats(0, 0.9), st.floats(0, 0.9)
)


@given(one=elements, other=elements, third=elements)
def test_stack_is_what_bouncing_light_comes_to(one: Element, other: Element, third: Element) -> None:
    both = stack(stack(one, other), third)
    passed, back = bounced([one, other, third])
    assert both.through == pytest.approx(passed, abs=1e-6)
    assert both.back_outside == pytest.approx(back, abs=1e-6)
    assert stack(one, stack(other, third)).through == pytest.approx(both.through, rel=1e-9), "grouping is free"


@given(
    vlt=st.floats(0.02, 0.88),
    share=st.floats(0, 1),
    inside=st.floats(0, 1),
    basis=st.sampled_from([VltBasis.ON_3MM_CLEAR, VltBasis.UNKNOWN]),
)
def test_a_film_on_its_reference_glass_gives_back_its_sheet_exactly(
    vlt: float, share: float, inside: float, basis: VltBasis
) -> None:
    """The identity: T and both reflectances, for any sheet that leaves the film itself no less than nothing."""
    room = max(0.0, min(0.97 - vlt, 0.9))
    sheet = film(
        vlt,
        vlt_basis=basis,
        reflectance=0.043 + share * max(0, room - 0.043),
        reflectance_inside=0.02 + inside * room * 0.9,
    )
    assume(not overdrawn(sheet, starting=START))
    found = chain(0.90, [sheet], starting=START)
    assert found.through == pytest.approx(vlt, abs=1e-12)
    assert found.back_outside == pytest.approx(sheet.reflectance, abs=1e-12)
    assert found.back_inside == pytest.approx(sheet.reflectance_inside, abs=1e-12)


@given(vlt=st.floats(0.02, 0.9), share=st.floats(0, 0.8))
def test_a_film_alone_in_air_gives_back_its_sheet_exactly(vlt: float, share: float) -> None:
    back = 0.043 + share * max(0.0, 0.97 - vlt - 0.043)
    sheet = film(vlt, vlt_basis=VltBasis.FILM_ALONE, reflectance=back)
    face = Element(0.957, 0.043, 0.043)
    alone = stack(face, fit_film(sheet, starting=START))
    assert (alone.through, alone.back_outside) == pytest.approx((vlt, back), abs=1e-12)


@pytest.mark.parametrize("vlt", [0.05, 0.2, 0.7, 0.75, 0.9])
def test_bare_glass_passes_what_it_was_metered_at(vlt: float) -> None:
    assert chain(vlt, [], starting=START).through == pytest.approx(vlt, abs=1e-12)


@given(glass=st.floats(0.05, 0.88), sheet=st.floats(0.03, 0.85))
def test_bonded_formula_is_near_the_whole_chain(glass: float, sheet: float) -> None:
    """Within 2 in 100 of the figure: bouncing between faces is all that the short formula leaves out."""
    one = film(sheet, reflectance=0.08)
    assert chain(glass, [one], starting=START).through == pytest.approx(
        combine(Glass(glass, METERED), one, starting=START).vlt, rel=0.02
    )


@given(
    vlt=st.floats(0, 1),
    back=st.one_of(st.none(), st.floats(0, 1)),
    inside=st.one_of(st.none(), st.floats(0, 1)),
    glass=st.floats(0.03, 1),
    basis=st.sampled_from(VltBasis),
    layers=st.integers(1, 3),
)
def test_no_film_that_can_be_on_file_gives_light_of_its_own(
    vlt: float, back: float | None, inside: float | None, glass: float, basis: VltBasis, layers: int
) -> None:
    """Whatever passes and comes back, seen from either side, is no more than all and no less than nothing."""
    back, inside = (None if share is None else share * (1 - vlt) for share in (back, inside))
    one = film(vlt, reflectance=back, reflectance_inside=inside, vlt_basis=basis)
    try:
        check_film(one, starting=START)
    except FilmError:
        return
    for part in (fit_film(one, starting=START), chain(glass, [one] * layers, starting=START)):
        assert min(part.through, part.back_outside, part.back_inside) >= 0
        assert part.through + max(part.back_outside, part.back_inside) <= 1 + 1e-9


def test_a_sheet_that_leaves_less_than_nothing_for_the_film_is_told() -> None:
    clear = film(0.95, reflectance=0.03)
    assert "more light than there is" in quality_words(clear, starting=START)
    assert "more light than there is" not in quality_words(film(0.35, reflectance=0.08), starting=START)


def test_chain_loses_and_makes_no_light() -> None:
    one = chain(0.75, [film(0.5), film(0.35)], starting=START)
    assert 0 < one.through < 0.2
    assert one.absorbed > 0
    assert one.through + one.back_outside + one.absorbed == pytest.approx(1)
    assert one.through == pytest.approx(
        combine(Glass(0.75, METERED), film(0.35), starting=START, layers=[film(0.5)]).vlt, rel=0.02
    )


def test_two_separate_panes_by_hand() -> None:
    """T1 T2 / (1 - R1 R2) = 0.8 x 0.7 / (1 - 0.1 x 0.2) = 0.571429."""
    assert two_panes(Element(0.8, 0.1, 0.1), Element(0.7, 0.2, 0.2)) == pytest.approx(0.571429, abs=1e-6)


def test_bare_glass_gives_back_about_eight_in_a_hundred() -> None:
    assert bare_glass_reflectance(starting=START) == pytest.approx(0.082454, abs=1e-6)


# --- the question turned round


@pytest.mark.parametrize(("glass", "limit"), [(0.75, 0.28), (0.75, 0.35), (0.20, 0.06), (0.88, 0.70)])
def test_least_sheet_stands_just_at_the_risk_that_clears(glass: float, limit: float) -> None:
    """At the answer the chance of a lower reading is 5 in 100, or the mean is at the limit: by the normal curve itself."""
    from statistics import NormalDist

    sheet = least_sheet_vlt(Glass(glass, METERED), limit, starting=START)
    assert sheet is not None
    mean = glass * sheet / 0.9
    own = (sheet / 0.9 * 0.02) ** 2 + (glass / 0.9 * max(0.005, 0.05 * sheet)) ** 2
    risk = NormalDist(mean, (own + 0.02**2) ** 0.5 / 1.959964).cdf(limit)
    assert risk == pytest.approx(0.05, abs=1e-4)


def test_least_sheet_of_glass_too_dark_already_is_none() -> None:
    assert least_sheet_vlt(Glass(0.30, METERED), 0.35, starting=START) is None
    assert least_sheet_vlt(Glass(0.71, METERED), 0.70, starting=START) is None, "clear film would be close"
    assert least_sheet_vlt(Glass(0.75, METERED), 0.0, starting=START) is not None


# --- heat, glare, radio


def test_heat_side_by_hand() -> None:
    """Ts 30, Rs 9: absorbed 61; rejected 1 - (0.30 + 0.27 x 0.61) = 0.5353. Glare 1 - 0.29 / 0.75."""
    side = heat_side(
        film(solar_transmittance=0.30, solar_reflectance=0.09), bare_vlt=0.75, combined_vlt=0.29, starting=START
    )
    assert side.tser == pytest.approx(0.5353)
    assert side.solar_absorbed == pytest.approx(0.61)
    assert side.glare_cut == pytest.approx(1 - 0.29 / 0.75)
    assert side.uv_rejected is None
    empty = heat_side(film(), bare_vlt=None, combined_vlt=None, starting=START)
    assert (empty.tser, empty.solar_absorbed, empty.glare_cut) == (None, None, None)


ABSORBING = {"solar_transmittance": 0.30, "solar_reflectance": 0.09}


@pytest.mark.parametrize(
    ("over", "pane", "says"),
    [
        (ABSORBING, PaneHeat(True, 2e5, chipped=False, antenna=False), "Laminated"),
        (ABSORBING, PaneHeat(False, 9e5, chipped=False, antenna=False), "large pane"),
        (ABSORBING, PaneHeat(False, 2e5, chipped=True, antenna=False), "chipped"),
        (ABSORBING, PaneHeat(False, 2e5, chipped=False, antenna=False), None),
        ({"solar_transmittance": 0.6, "solar_reflectance": 0.2}, PaneHeat(True, 9e5, chipped=True, antenna=False), None),
        ({"construction": Construction.DYED}, PaneHeat(True, None, chipped=False, antenna=False), "not in the film's data"),
        ({}, PaneHeat(True, 9e5, chipped=True, antenna=False), None),
    ],
)  # fmt: skip
def test_break_caution_gives_its_reasons(over: dict[str, object], pane: PaneHeat, says: str | None) -> None:
    reasons = " ".join(break_caution(film(**over), pane, starting=START))
    assert (says in reasons) if says else reasons == ""


def test_metal_film_is_spoken_of_before_it_goes_over_an_antenna() -> None:
    metal = film(construction=Construction.METAL)
    with_antenna = PaneHeat(False, None, chipped=False, antenna=True)
    assert "over the antenna in this glass" in (radio_advice(metal, with_antenna) or "")
    assert "disturbs radio" in (radio_advice(metal, replace(with_antenna, antenna=False)) or "")
    assert radio_advice(film(), with_antenna) is None


@pytest.mark.parametrize(
    ("warranty", "years", "says"),
    [
        (Warranty.LIFETIME, None, "void unless lot and car are on record"),
        (Warranty.YEARS, 7.0, "7 years"), (Warranty.NONE, None, "none"), (Warranty.UNKNOWN, None, "not in the film's data"),
    ],
)  # fmt: skip
def test_warranty_in_words(warranty: Warranty, years: float | None, says: str) -> None:
    assert says in warranty_words(film(warranty=warranty, warranty_years=years))


# --- looks


def test_from_inside_by_day_a_pane_is_its_share_of_white() -> None:
    pane = LitPane(Element(0.2, 0.08, 0.08), 1.0)
    assert look([pane], hour=Hour.DAY, seat=Seat.INSIDE, starting=START) == ("#7C7C7C",)


def test_from_outside_a_dark_car_shows_what_its_glass_gives_back_and_a_lit_cabin() -> None:
    """Two panes, 0.2 and 0.8, areas 3 to 1: cabin 0.2 x 0.35 = 0.07; the dark one 0.08 + 0.2 x 0.07 = 0.094."""
    dark, clear = LitPane(Element(0.2, 0.08, 0.08), 3.0), LitPane(Element(0.8, 0.08, 0.08), 1.0)
    assert cabin_light([dark, clear], starting=START) == pytest.approx(0.07)
    seen = [
        brightness(one.optics, hour=Hour.DAY, seat=Seat.OUTSIDE, cabin=0.07, starting=START) for one in (dark, clear)
    ]
    assert seen == pytest.approx([0.094, 0.08 + 0.8 * 0.07])
    assert cabin_light([], starting=START) == 0


def test_from_outside_the_eye_looks_past_most_of_the_mirror_image_and_opens_to_clear_glass() -> None:
    """Clear glass of 75 %: two faces give back f = 0.043 + 0.75² x 0.043 / (1 - 0.043)² about 0.0694; cabin 0.15.

    White is then 0.1 x 0.0694 + 0.75 x 0.15 = 0.1194; the dark pane 0.094 - 0.9 x 0.08 = 0.022 of it, times 0.75.
    """
    pane = LitPane(Element(0.2, 0.08, 0.08), 1.0)
    seen = exposed(0.094, veil=0.08, starting=START)
    assert seen == pytest.approx(0.022 / 0.1194 * 0.75, rel=0.02)
    assert look([pane], hour=Hour.DAY, seat=Seat.OUTSIDE, starting=START)[0] != "#000000"


def test_five_and_forty_percent_are_told_apart_from_everywhere_and_at_every_hour() -> None:
    """At least 30 of 255 steps on the screen by day, and in order always."""
    films = [film(share, reflectance=0.05) for share in (0.05, 0.4)]
    panes = [LitPane(chain(0.75, [one], starting=START), 1.0) for one in films]
    for hour in Hour:
        for seat in Seat:
            dark, light = (int(one[1:3], 16) for one in look(panes, hour=hour, seat=seat, starting=START))
            assert light - dark >= (30 if hour is Hour.DAY else 8), (hour, seat, dark, light)


@given(through=st.floats(0.01, 0.9))
def test_later_is_never_brighter(through: float) -> None:
    pane = LitPane(Element(through, 0.08, 0.08), 1.0)
    for seat in Seat:
        day, dusk, night = (int(look([pane], hour=hour, seat=seat, starting=START)[0][1:3], 16) for hour in Hour)
        assert day >= dusk >= night


# --- lots


def read(value: float, times: int = 1) -> list[InstalledReading]:
    """Panes foretold at 30 % and read at ``value``, the glass itself known exactly."""
    return [InstalledReading(0.30, 0.0, value)] * times


def test_one_reading_moves_the_maker_s_figure_a_little() -> None:
    """Prior ±5 %; reading ±sqrt(0.02² - 0.017²)/0.3 and the bias ±0.017/0.3 shared: trust 0.360; 0.9 gives 0.35 x 0.964."""
    found = lot_figure(film(0.35), "L1", add_up(read(0.27), starting=START), starting=START)
    assert found is not None
    own, bias = (0.02**2 - 0.017**2) ** 0.5 / 0.3, 0.017 / 0.3
    trust = 0.05**2 / (0.05**2 + own**2 + bias**2)
    assert trust == pytest.approx(0.36, abs=0.001)
    assert found.vlt == pytest.approx(0.35 * (1 - 0.1 * trust))
    assert found.pm == pytest.approx(0.35 * 0.05 * (1 - trust) ** 0.5)
    assert (found.lot, found.readings) == ("L1", 1)


def test_many_readings_are_trusted_as_far_as_the_meter_s_own_bias() -> None:
    figures = [
        lot_figure(film(0.35), "L", add_up(read(0.27, n), starting=START), starting=START) for n in (1, 5, 50, 5000)
    ]
    values = [figure.vlt for figure in figures if figure]
    assert values == sorted(values, reverse=True)
    limit = 0.05**2 / (0.05**2 + (0.017 / 0.3) ** 2)
    assert values[-1] == pytest.approx(0.35 * (1 - 0.1 * limit), rel=1e-3)
    assert lot_figure(film(0.35), "L", add_up([], starting=START), starting=START) is None
    assert lot_figure(film(0.0), "L", add_up(read(0.27), starting=START), starting=START) is None


def test_a_lot_s_own_figure_replaces_the_sheet_s_in_the_shade() -> None:
    figure = lot_figure(film(0.35), "L", add_up(read(0.27, 20), starting=START), starting=START)
    corrected = combine(Glass(0.75, METERED), film(0.35, lot=figure), starting=START)
    maker = combine(Glass(0.75, METERED), film(0.35), starting=START)
    assert figure is not None
    assert corrected.vlt == pytest.approx(0.75 * figure.vlt / 0.9)
    assert corrected.pm < maker.pm


@pytest.mark.parametrize(
    ("words", "colours"),
    [
        ("neutral", ["grey"]), ("Charcoal", ["grey"]), ("clear", ["colourless"]), ("bronze", ["brown"]),
        ("blue and silver", ["blue", "silver"]), ("smoked pearl", []), ("", []), ("RED/amber", ["red", "amber"]),
        ("red, red", ["red"]), ("42", []),
    ],
)  # fmt: skip
def test_free_text_of_a_colour_is_mapped_or_left_to_be_asked(words: str, colours: list[str]) -> None:
    assert [colour.value for colour in colours_in(words)] == colours


@pytest.mark.parametrize(
    ("reflects", "mirror", "refused"),
    [(5, True, True), (20, True, True), (21, True, False), (39, False, False), (40, False, True), (45, None, False),
     (None, True, False), (None, False, False)],
)  # fmt: skip
def test_an_answer_about_the_finish_that_the_sheet_denies_is_refused(
    reflects: float | None, mirror: bool | None, refused: bool
) -> None:
    facts = FilmFacts(
        name="Any", construction=Construction.METAL, vlt_percent=20, reflectance_percent=reflects, mirror_finish=mirror
    )
    if not refused:
        check_film(facts, starting=START)
        return
    with pytest.raises(FilmError) as error:
        check_film(facts, starting=START)
    assert "mirror_finish" in error.value.fields


def test_quality_is_told_by_construction_and_by_how_little_it_shrinks() -> None:
    assert "about seven years" in quality_words(film(construction=Construction.DYED), starting=START)
    assert "poor film" in quality_words(film(shrink_limit=0.015), starting=START)
    assert "poor film" not in quality_words(film(shrink_limit=0.03), starting=START)

"""Light in closed form: a film taken out of the chain again, lots added up by hand, sentences word for word."""

from __future__ import annotations

from dataclasses import replace
from math import sqrt

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.film import Construction, VltBasis, Warranty
from elumbra.core.light import (
    NOT_IN_DATA,
    Element,
    Glass,
    GlassSource,
    Hour,
    InstalledReading,
    LitPane,
    PaneHeat,
    ReadingSums,
    Seat,
    add_up,
    break_caution,
    cabin_light,
    combine,
    exposed,
    film_alone,
    heat_side,
    least_sheet_vlt,
    look,
    lot_figure,
    metered_glass,
    percent,
    quality_words,
    radio_advice,
    risk_below,
    settle,
    shade_hex,
    stack,
    warranty_words,
)
from elumbra.core.light.chain import _bulk, _face, _without_cabin_face
from tests.catalogue.panes import film, starting

START = starting()
R = 0.043
SOUND = PaneHeat(laminated=False, area=1000.0, chipped=False, antenna=False)


@given(through=st.floats(0.02, 0.9), back=st.floats(0.0, 0.09))
def test_a_film_without_its_cabin_face_is_what_the_face_was_put_on(through: float, back: float) -> None:
    """A layer alike on both sides, a face on it, the face taken off: the layer again."""
    own = Element(through, back, back)
    with_face = stack(own, _face(R))
    found = _without_cabin_face(with_face, R)
    assert (found.through, found.back_outside, found.back_inside) == pytest.approx((through, back, back), abs=1e-9)


@given(t=st.floats(0.01, 1.0))
def test_the_inside_of_a_pane_is_solved_from_what_the_pane_passes(t: float) -> None:
    whole = (1 - R) ** 2 * t / (1 - (R * t) ** 2)
    found = _bulk(whole, R)
    assert found.through == pytest.approx(t, abs=1e-9)
    assert (found.back_outside, found.back_inside) == (0.0, 0.0)


def test_glass_clearer_than_its_faces_let_through_has_an_inside_of_one() -> None:
    assert _bulk(0.99, R).through == 1.0


@pytest.mark.parametrize(
    ("readings", "kept", "refused"),
    [
        ([0.71], (0.71,), ()),
        ([0.71, 0.72, 0.86], (0.71, 0.72), (0.86,)),
        # Median 0.72: two points either way of it are still of this pane.
        ([0.70, 0.72, 0.74], (0.70, 0.72, 0.74), ()),
        ([0.69, 0.72, 0.75], (0.72,), (0.69, 0.75)),
        # Two far apart: neither lies about their middle, so the first that is nearest stands alone.
        ([0.50, 0.75], (0.50,), (0.75,)),
        ([0.75, 0.50], (0.75,), (0.50,)),
    ],
)
def test_readings_of_one_pane_settle_about_their_median(
    readings: list[float], kept: tuple[float, ...], refused: tuple[float, ...]
) -> None:
    found = settle(readings, apart=0.04)
    assert (found.kept, found.refused) == (kept, refused)
    assert found.mean == pytest.approx(sum(kept) / len(kept))
    assert found.spread == pytest.approx(max(kept) - min(kept))


def test_readings_of_a_lot_weigh_by_their_spread() -> None:
    """w = p² / (pm² + s²), s² = 0.02² - 0.017² = 0.000111. For 0.30 ± 0.01: 0.09 / 0.000211 = 426.5403."""
    one, two = InstalledReading(0.30, 0.01, 0.27), InstalledReading(0.10, 0.005, 0.11)
    first, second = 0.09 / 0.000211, 0.01 / 0.000136
    found = add_up([one, two, InstalledReading(1e-5, 0.01, 0.5)], starting=START)
    assert found.count == 2, "what foretold nothing is left out"
    assert found.weight == pytest.approx(first + second)
    assert found.ratio == pytest.approx(first * 0.9 + second * 1.1)
    assert found.inverse == pytest.approx(first / 0.3 + second / 0.1)
    assert add_up([], starting=START) == ReadingSums(0, 0, 0, 0)


def test_no_reading_is_surer_than_a_millionth_of_its_figure() -> None:
    sharp = START.with_shop_values({"glass_metered_pm": 0.0, "meter_bias_pm": 0.0})
    assert add_up([InstalledReading(0.30, 0.0, 0.3)], starting=sharp).weight == pytest.approx(1e12)
    assert add_up([InstalledReading(0.30, 1e-7, 0.3)], starting=sharp).weight == pytest.approx(1e12)


def test_a_lots_figure_lies_between_the_makers_and_the_shops() -> None:
    """Prior 35 % ± 5 % of it; one reading 10 % under with weight 100, bias 1.7 points over 30 %."""
    sums = ReadingSums(1, 100.0, 90.0, 100 / 0.3)
    found = lot_figure(film(0.35), "L7", sums, starting=START)
    assert found is not None
    spread = 1 / 100 + (0.017 / 0.3) ** 2
    trust = 0.05**2 / (0.05**2 + spread)
    assert (found.lot, found.readings) == ("L7", 1)
    assert found.vlt == pytest.approx(0.35 * (1 - 0.1 * trust))
    assert found.pm == pytest.approx(0.35 * 0.05 * sqrt(1 - trust))
    sure = START.with_shop_values({"film_lot_pm_share": 0.0, "film_lot_pm_least": 0.0})
    believed = lot_figure(film(0.35), "L7", sums, starting=sure)
    assert believed is not None
    assert (believed.vlt, believed.pm) == (0.35, 0.0)
    clear = lot_figure(film(0.88), "L7", ReadingSums(500, 1e9, 2e9, 0.0), starting=START)
    assert clear is not None
    assert clear.vlt == 1.0
    assert lot_figure(film(0.35), "L7", ReadingSums(0, 0, 0, 0), starting=START) is None


def test_glass_is_the_mean_of_its_readings() -> None:
    found = metered_glass([0.70, 0.72, 0.74])
    assert (found.vlt, found.source, found.readings, found.through_old_film) == (
        pytest.approx(0.72), GlassSource.METERED, 3, False,
    )  # fmt: skip
    assert metered_glass([0.4], through_old_film=True).through_old_film
    with pytest.raises(ValueError, match=r"^at least one reading is needed$"):
        metered_glass([])


def test_every_figure_of_a_pane_says_how_it_was_worked_out() -> None:
    bare = combine(Glass(0.75, GlassSource.METERED), None, starting=START)
    assert (bare.vlt, bare.bonded, bare.bench, bare.formula) == (0.75, 0.75, 0.75, "glass 75 %, no film")
    old = combine(Glass(0.4, GlassSource.METERED, through_old_film=True), None, starting=START)
    assert old.formula == "glass and old film 40 %, no film"
    unknown = combine(Glass(0.75, GlassSource.METERED), film(0.35, vlt_basis=VltBasis.UNKNOWN), starting=START)
    assert unknown.formula == "75 % glass × 35 % sheet = 26.2 % (basis of the sheet unknown)"
    glass, sheet = 0.35 * 0.02, 0.75 * 0.0175
    assert unknown.pm == pytest.approx(sqrt(glass**2 + sheet**2))
    known = combine(Glass(0.75, GlassSource.METERED), film(0.35), starting=START)
    assert known.formula == "75 % glass × 35 % sheet ÷ 90 % reference = 29.2 %"
    clear = combine(Glass(0.75, GlassSource.METERED), film(0.91, reflectance=None), starting=START)
    assert clear.vlt == 0.75, "never above the glass's own"


def test_film_alone_never_passes_more_than_all() -> None:
    assert film_alone(film(0.99, reflectance=None), starting=START)[0] == 1.0


@pytest.mark.parametrize(
    ("share", "words"),
    [(0.35, "35 %"), (0.2917, "29.2 %"), (0.0, "0 %"), (1.0, "100 %"), (0.1, "10 %"), (0.005, "0.5 %")],
)
def test_light_in_percent(share: float, words: str) -> None:
    assert percent(share) == words


def test_a_figure_at_its_limit_without_any_spread_is_not_under_it() -> None:
    sharp = START.with_shop_values({"officer_meter_pm": 0.0})
    assert [risk_below(vlt, 0.0, 0.5, starting=sharp) for vlt in (0.499, 0.5, 0.501)] == [1.0, 0.0, 0.0]


@pytest.mark.parametrize(
    ("share", "colour"), [(0.002, "#070707"), (0.0031308, "#0A0A0A"), (3.0, "#FFFFFF"), (-1.0, "#000000")]
)
def test_the_darkest_shades_are_linear_and_none_is_out_of_range(share: float, colour: str) -> None:
    """12.92 x 0.002 x 255 = 6.6; at the joint both curves give 10.3."""
    assert shade_hex(share) == colour


def test_the_least_sheet_counts_what_lies_under_it() -> None:
    under = film(0.5, reflectance=None)
    on = Glass(0.75, GlassSource.METERED)
    plain = least_sheet_vlt(on, 0.2, starting=START)
    layered = least_sheet_vlt(on, 0.2, starting=START, layers=[under])
    assert plain is not None
    assert layered is not None
    assert layered == pytest.approx(plain * 0.9 / 0.5, rel=0.1)
    assert least_sheet_vlt(on, 0.3, starting=START, layers=[under, under]) is None
    # A sheet of unknown basis counts as it stands: more of it is needed, one to 0.9.
    unknown = least_sheet_vlt(on, 0.2, starting=START, basis=VltBasis.UNKNOWN)
    assert unknown == pytest.approx(plain / 0.9, rel=0.01)


# --- heat


def test_heat_of_a_film_by_hand() -> None:
    """Ts 0.4, Rs 0.1: absorbed 0.5, TSER 1 - (0.4 + 0.27 x 0.5) = 0.465; glare 1 - 0.2 / 0.8 = 0.75."""
    known = film(solar_transmittance=0.4, solar_reflectance=0.1, uv_rejection=0.99)
    found = heat_side(known, bare_vlt=0.8, combined_vlt=0.2, starting=START)
    assert (found.tser, found.solar_absorbed, found.glare_cut, found.uv_rejected) == pytest.approx(
        (0.465, 0.5, 0.75, 0.99)
    )
    for missing in ({"solar_transmittance": 0.4}, {"solar_reflectance": 0.1}):
        half = heat_side(film(**missing), bare_vlt=0.8, combined_vlt=None, starting=START)
        assert (half.tser, half.solar_absorbed, half.glare_cut) == (None, None, None)
    assert heat_side(known, bare_vlt=None, combined_vlt=0.2, starting=START).glare_cut is None
    assert heat_side(known, bare_vlt=0.0, combined_vlt=0.2, starting=START).glare_cut is None


def test_what_may_crack_in_the_sun_word_for_word() -> None:
    hot = film(solar_transmittance=0.3, solar_reflectance=0.1)
    just = film(solar_transmittance=0.4, solar_reflectance=0.1)
    cool = film(solar_transmittance=0.5, solar_reflectance=0.1)
    bad = PaneHeat(laminated=True, area=700_001.0, chipped=True, antenna=False)
    weak = ("The pane is chipped.", "Laminated glass bears uneven heat badly.", "It is a large pane.")
    assert break_caution(hot, bad, starting=START) == ("The film takes up 60 % of the sun's heat.", *weak)
    assert break_caution(just, bad, starting=START) == ("The film takes up 50 % of the sun's heat.", *weak)
    assert break_caution(cool, bad, starting=START) == ()
    assert break_caution(hot, SOUND, starting=START) == ()
    assert break_caution(hot, replace(SOUND, area=700_000.0), starting=START) == ()
    (_, unread) = break_caution(hot, PaneHeat(None, None, False, False), starting=START)
    assert "Nobody read the maker's mark" in unread
    unknown = film(construction=Construction.DYED, solar_transmittance=None, solar_reflectance=None)
    chipped = replace(SOUND, chipped=True)
    said = (f"Dyed film absorbs heat; how much is {NOT_IN_DATA}.", "The pane is chipped.")
    assert break_caution(unknown, chipped, starting=START) == said
    assert break_caution(replace(unknown, construction=Construction.CERAMIC), chipped, starting=START) == ()


def test_what_the_sheet_says_word_for_word() -> None:
    metal, carbon = film(construction=Construction.METAL), film(construction=Construction.CARBON)
    over = "Metal film over the antenna in this glass: reception will suffer. Choose a film without metal."
    near = "Metal film disturbs radio, phone and navigation. Ask where the antennas are before it goes on."
    assert radio_advice(metal, replace(SOUND, antenna=True)) == over
    assert radio_advice(metal, SOUND) == near
    assert radio_advice(carbon, replace(SOUND, antenna=True)) is None
    assert warranty_words(film(warranty=Warranty.LIFETIME)) == "lifetime, void unless lot and car are on record"
    assert warranty_words(film(warranty=Warranty.YEARS, warranty_years=7.0)) == "7 years; keep lot and car on record"
    some = "some years, how many is not stated; keep lot and car on record"
    assert warranty_words(film(warranty=Warranty.YEARS, warranty_years=None)) == some
    assert warranty_words(film(warranty=Warranty.NONE)) == "none from the maker"
    assert warranty_words(film(warranty=Warranty.UNKNOWN)) == NOT_IN_DATA
    assert (
        quality_words(film(construction=Construction.CARBON, shrink_limit=0.03), starting=START)
        == "Three ply with carbon."
    )
    poor = (
        "Three ply with carbon. It shrinks little: poor film on strong curves, costing more in redo work than it saves."
    )
    assert quality_words(film(construction=Construction.CARBON, shrink_limit=0.015), starting=START) == poor


# --- looks


def test_a_small_pane_lights_the_cabin_like_a_large_one_and_none_not_at_all() -> None:
    half = Element(0.5, 0.1, 0.1)
    assert cabin_light([], starting=START) == 0.0
    assert cabin_light([LitPane(half, 0.5)], starting=START) == cabin_light([LitPane(half, 9.0)], starting=START)
    assert cabin_light([LitPane(half, 0.5)], starting=START) == pytest.approx(0.5 * 0.2)


def test_no_panes_have_no_colours_and_nothing_is_brighter_than_white() -> None:
    assert look([], hour=Hour.DAY, seat=Seat.OUTSIDE, starting=START) == ()
    assert exposed(5.0, veil=0.0, starting=START) == 1.0

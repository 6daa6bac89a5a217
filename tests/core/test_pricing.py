"""Quotes: lines worked out by hand, sums in whole cents, what changed between versions, prices that cannot be."""

from __future__ import annotations

import json
from dataclasses import replace
from decimal import Decimal
from fractions import Fraction
from types import SimpleNamespace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.film import Construction
from elumbra.core.glass import WindowKind
from elumbra.core.pricing import (
    Agreed,
    Line,
    OwnLine,
    PricedFor,
    PriceError,
    changes,
    dollars,
    parse_prices,
    price_lines,
    scope_of,
    total,
)
from elumbra.core.pricing.quote import _extra, tax_lines
from elumbra.core.removal import Case, Way, advise
from elumbra.core.work import Coverage
from tests.catalogue.panes import DATA, starting
from tests.catalogue.steps import REMOVAL
from tests.core.test_inspection import fitted_car

OURS: dict[str, Any] = json.loads((DATA / "prices.json").read_text(encoding="utf-8"))


def prices(**over: Any) -> Any:
    return parse_prices(OURS | over)


def test_a_car_costs_its_windows_times_the_films_factor() -> None:
    # Three doors at 55 $, a carbon film: 1.3 times.
    lines = price_lines(fitted_car(("TX",)), prices(), {})
    assert [(one.kind, one.cents) for one in lines] == [(PricedFor.FILM, 7150)] * 3
    assert total(lines) == 21450
    own = prices(own_films={"f": 2.0}, tax_percent=8.25)
    lines = price_lines(fitted_car(("TX",)), own, {}, [OwnLine("courtesy", -1000)])
    # 3 x 110 - 10 = 320, and 8.25 % of that: 26.40.
    assert total(lines) == 32000 + 2640
    assert [one.kind for one in lines[-2:]] == [PricedFor.OWN, PricedFor.TAX]


def test_findings_and_old_film_come_on_top_and_the_dearer_end_is_offered() -> None:
    car = fitted_car(("TX",))
    door = replace(car.job.windows[0], old_film=True, findings={"side_seals": "worn"})
    plain = replace(car, job=replace(car.job, windows=(door,)))
    advice = advise(Case(kind=WindowKind.FRAMED_DOOR, glass=door.glass_type), REMOVAL, own=[], starting=starting())
    lines = {one.key: one for one in price_lines(plain, prices(), {door.id: advice})}
    # Four minutes to tape the seals at a dollar a minute.
    assert lines[f"extra:{door.id}"].cents >= 400
    first = advice.ranked[0]
    assert lines[f"removal:{door.id}"].cents == round(100 * first.price.high)
    chosen = replace(door, strip_way=Way.SOAK)
    dear = next(one for one in advice.ranked if one.way is Way.SOAK)
    again = price_lines(replace(car, job=replace(car.job, windows=(chosen,))), prices(), {door.id: advice})
    assert {one.key: one.cents for one in again}[f"removal:{door.id}"] == round(100 * dear.price.high)
    off = replace(door, old_film_off=True)
    gone = price_lines(replace(car, job=replace(car.job, windows=(off,))), prices(), {door.id: advice})
    assert f"removal:{door.id}" not in {one.key for one in gone}


def test_a_strip_has_its_own_price_and_scope() -> None:
    car = fitted_car(("TX",))
    strip = replace(car.job.windows[0], coverage=Coverage.STRIP)
    car = replace(car, job=replace(car.job, windows=(strip,)))
    (line,) = price_lines(car, prices(strip=40), {})
    assert line.cents == round(4000 * 1.3)
    assert scope_of(car)[strip.id].covers is Coverage.STRIP


def mixed_car() -> Any:
    """A door with old film and findings, a strip, a window without film, and a car that came dirty."""
    car = fitted_car(("TX",))
    door, strip, bare = car.job.windows
    door = replace(door, old_film=True, findings={"side_seals": "worn", "sticker": "yes"})
    strip = replace(strip, coverage=Coverage.STRIP)
    bare = replace(bare, film_id=None, findings={"side_seals": "worn"})
    vehicle = replace(car.job.vehicle, findings={"on_arrival": "dirty"})
    return replace(car, job=replace(car.job, windows=(door, strip, bare), vehicle=vehicle))


def test_every_line_word_for_word() -> None:
    """Door 55 x 1.3 = 71.50; strip 45 x 1.3 = 58.50; seals 4 min and sticker 4 min at 1 $; wash 20 min and 15 $."""
    car = mixed_car()
    advice = advise(
        Case(kind=WindowKind.FRAMED_DOOR, glass=car.job.windows[0].glass_type), REMOVAL, own=[], starting=starting()
    )
    low, high = advice.ranked[0].price.low, advice.ranked[0].price.high
    lines = price_lines(
        car, prices(tax_percent=8.25), {"df": advice, "dr": advice}, [OwnLine("courtesy", -1000), OwnLine("pads", 500)]
    )
    untaxed = 7150 + round(100 * high) + 800 + 5850 + 3500 - 1000 + 500
    assert lines == (
        Line("film:df", PricedFor.FILM, "df: F, whole pane", 7150, "df", "$55.00 for framed door, times 1.3 for carbon"),
        Line("removal:df", PricedFor.REMOVAL, "df: old film off", round(100 * high), "df",
             f"{low:.0f} to {high:.0f} $ by {advice.ranked[0].words}; the dearer end is offered"),
        Line("extra:df", PricedFor.EXTRA, "df: further work", 800, "df",
             "Feel for its edges with a razor; scrape, fold it glue-in; Tape the sides"),
        Line("film:dr", PricedFor.FILM, "dr: F, a strip at the top", 5850, "dr", "$45.00 for framed door, times 1.3 for carbon"),
        Line("extra:car", PricedFor.EXTRA, "The car: further work", 3500, "", "Wash it first"),
        Line("own:0", PricedFor.OWN, "courtesy", -1000), Line("own:1", PricedFor.OWN, "pads", 500),
        Line("tax", PricedFor.TAX, "Tax, 8.25 %", round(untaxed * 0.0825)),
    )  # fmt: skip
    assert scope_of(car) == {"df": car.job.windows[0].as_ordered, "dr": car.job.windows[1].as_ordered}


@pytest.mark.parametrize(
    ("minutes", "money", "cents"),
    [(1.0, 0.0, 100), (0.5, 0.0, None), (0.5, 2.0, 250), (0.0, 3.0, 300), (0.0, 0.0, None), (2.0, 1.5, 350)],
)
def test_further_work_is_charged_from_a_minute_or_a_dollar_on(minutes: float, money: float, cents: int | None) -> None:
    follows = [SimpleNamespace(what=SimpleNamespace(words="Wash it", minutes=minutes, dollars=money))]
    found = _extra("Door", "w", follows, prices())
    wanted = [Line("extra:w", PricedFor.EXTRA, "Door: further work", cents or 0, "w", "Wash it")]
    assert found == ([] if cents is None else wanted)
    free = _extra("Door", "w", follows, prices(minute=0))
    assert len(free) == (1 if money else 0), "minutes that cost nothing make no line"


def test_the_same_reason_is_told_once() -> None:
    one = SimpleNamespace(what=SimpleNamespace(words="Wash it", minutes=5.0, dollars=0.0))
    other = SimpleNamespace(what=SimpleNamespace(words="Dry it", minutes=5.0, dollars=0.0))
    silent = SimpleNamespace(what=SimpleNamespace(words="Look at it", minutes=0.0, dollars=0.0))
    (line,) = _extra("Door", "", [one, silent, one, other], prices())
    assert (line.key, line.why, line.cents) == ("extra:car", "Wash it; Dry it", 1500)


LINES = st.lists(
    st.builds(
        Line, key=st.sampled_from("abcdef"), kind=st.just(PricedFor.OWN), words=st.sampled_from(["x", "y"]),
        cents=st.integers(-10_000, 90_000),
    ),
    unique_by=lambda one: one.key,
)  # fmt: skip


@given(LINES, LINES)
def test_changes_are_told_exactly_where_something_changed(before: list[Line], after: list[Line]) -> None:
    told = changes(before, after)
    was, now = {one.key: one for one in before}, {one.key: one for one in after}
    different = sum(was.get(key) != now.get(key) for key in was | now)
    assert len(told) == different
    assert sum(one.startswith("Added: ") for one in told) == len(set(now) - set(was))
    assert sum(one.startswith("Taken out: ") for one in told) == len(set(was) - set(now))


@pytest.mark.parametrize(
    ("cents", "words"), [(0, "$0.00"), (1, "$0.01"), (-1, "-$0.01"), (125050, "$1,250.50"), (-500, "-$5.00")]
)
def test_money_as_papers_show_it(cents: int, words: str) -> None:
    assert dollars(cents) == words


@given(st.integers(-(10**9), 10**9))
def test_money_is_written_to_the_cent(cents: int) -> None:
    text = dollars(cents)
    assert int(text.replace("$", "").replace(",", "").replace(".", "")) == cents


A_PRICE, A_FACTOR = "A price between 0 and 100,000 $.", "A factor over 0 and up to 20."


@pytest.mark.parametrize(
    ("over", "field", "says"),
    [
        ({"strip": -1}, "strip", f"strip: {A_PRICE}"),
        ({"strip": None}, "strip", f"strip: {A_PRICE}"),
        ({"strip": 100_000.01}, "strip", f"strip: {A_PRICE}"),
        ({"minute": True}, "minute", f"minute: {A_PRICE}"),
        ({"minute": "1"}, "minute", f"minute: {A_PRICE}"),
        ({"windows": {}}, "framed_door", f"framed door: {A_PRICE}"),
        ({"films": {"dyed": 0}}, "films.dyed", f"films dyed: {A_FACTOR}"),
        ({"films": {"dyed": 20.5}}, "films.dyed", f"films dyed: {A_FACTOR}"),
        ({"own_films": {"x_1": -2}}, "own_films.x_1", f"own films x 1: {A_FACTOR}"),
        ({"own_films": {"x": True}}, "own_films.x", f"own films x: {A_FACTOR}"),
        ({"tax_percent": 50.5}, "tax_percent", "tax percent: Between 0 and 50 %."),
        ({"tax_percent": -1}, "tax_percent", "tax percent: Between 0 and 50 %."),
        ({"tax_percent": "8"}, "tax_percent", "tax percent: Between 0 and 50 %."),
    ],
)
def test_a_price_that_cannot_be_is_refused_with_its_name(over: dict[str, Any], field: str, says: str) -> None:
    with pytest.raises(PriceError) as refusal:
        prices(**over)
    assert field in refusal.value.fields
    assert refusal.value.message == says


def test_all_that_cannot_be_is_told_at_once() -> None:
    with pytest.raises(PriceError) as refusal:
        parse_prices({})
    named = {kind.value for kind in WindowKind} | {f"films.{one.value}" for one in Construction} | {"strip", "minute"}
    assert set(refusal.value.fields) == named
    assert set(refusal.value.fields.values()) == {A_PRICE, A_FACTOR}


def test_the_ends_of_what_may_be_asked_are_taken() -> None:
    free = {"strip": 0, "minute": 0.005, "tax_percent": 0, "own_films": {"f": 20}}
    dear = {"strip": 100_000, "tax_percent": 50, "own_films": {"f": 0.01}}
    assert (prices(**free).strip, prices(**free).minute, prices(**free).tax_percent) == (0, 0, 0.0)
    assert (prices(**dear).strip, prices(**dear).tax_percent) == (10_000_000, 50.0)
    assert [prices(**one).factor("f", Construction.DYED) for one in (free, dear)] == [20.0, 0.01]
    untaxed = {key: value for key, value in OURS.items() if key != "tax_percent"}
    found = parse_prices(untaxed)
    assert (found.tax_percent, found.own, parse_prices(untaxed, own=True).own) == (0.0, False, True)
    assert not price_lines(fitted_car(("TX",)), found, {})[-1].key.startswith("tax")


def test_every_kind_of_window_and_film_has_a_price() -> None:
    assert set(prices().windows) == set(WindowKind)
    assert set(prices().films) == set(Construction)


def own_lines(*cents: int) -> list[Line]:
    return [Line(f"own:{i}", PricedFor.OWN, "x", one) for i, one in enumerate(cents)]


@pytest.mark.parametrize(
    ("cents", "over", "tax", "words"),
    [
        ([10_000], {"tax_percent": 8.25}, 825, "Tax, 8.25 %"),
        ([10_000, -1_000], {"tax_percent": 8.25}, 743, "Tax, 8.25 %"),  # 742.5: a half away from zero
        ([6_000, 4_000], {"tax_percent": 10, "taxed": ["own"]}, 1_000, "Tax, 10 %"),
        ([6_000, 4_000], {"tax_percent": 10, "taxed": ["film"]}, 0, ""),
        ([10, 10, 10], {"tax_percent": 5}, 2, "Tax, 5 %"),  # 1.5 of the sum
        ([10, 10, 10], {"tax_percent": 5, "tax_by_line": True}, 3, "Tax, 5 %"),  # 0.5 each, and each becomes 1
        ([5_000, -9_000], {"tax_percent": 10}, 0, ""),
        ([10_000], {}, 0, ""),
    ],
)
def test_tax_by_hand(cents: list[int], over: dict[str, Any], tax: int, words: str) -> None:
    found = tax_lines(own_lines(*cents), prices(**over))
    assert [(one.cents, one.words) for one in found] == ([(tax, words)] if tax else [])


def test_a_discount_is_shared_by_taxed_and_untaxed_lines_in_proportion() -> None:
    """$300 of film and $100 of removal less $40: 10 % off each; film alone is taxed: 270.00 x 8 % = 21.60."""
    lines = [
        Line("film:a", PricedFor.FILM, "x", 30_000), Line("removal:a", PricedFor.REMOVAL, "y", 10_000),
        *own_lines(-4_000),
    ]  # fmt: skip
    (tax,) = tax_lines(lines, prices(tax_percent=8, taxed=["film"]))
    assert (tax.cents, tax.words) == (2_160, "Tax, 8 % of $270.00")


@given(
    st.lists(st.integers(-20_000, 90_000), max_size=8),
    st.decimals("0", "20", places=3),
    st.booleans(),
)
def test_tax_is_the_exact_share_to_half_a_cent_a_line(cents: list[int], percent: Decimal, by_line: bool) -> None:
    lines = own_lines(*cents)
    tax = sum(one.cents for one in tax_lines(lines, prices(tax_percent=float(percent), tax_by_line=by_line)))
    exact = max(Fraction(0), sum(map(Fraction, cents), Fraction(0))) * Fraction(percent) / 100
    assert abs(tax - exact) <= Fraction(len(cents) if by_line else 1, 2)


def test_what_was_accepted_keeps_its_cents_whatever_the_prices_say_later() -> None:
    car = mixed_car()
    advice = advise(
        Case(kind=WindowKind.FRAMED_DOOR, glass=car.job.windows[0].glass_type), REMOVAL, own=[], starting=starting()
    )
    removals, own = {"df": advice}, [OwnLine("courtesy", -1000)]
    then = price_lines(car, prices(tax_percent=8.25), removals, own)
    windows = tuple(
        replace(one, ordered=one.as_ordered if one.film_id else None, old_film_off=one.old_film)
        for one in car.job.windows
    )
    ordered = replace(car, job=replace(car.job, windows=windows))
    dear = prices(tax_percent=20, minute=9, strip=450, films={one.value: 5.0 for one in Construction})
    accepted = Agreed({one.key: one for one in then})
    assert price_lines(ordered, dear, removals, own, accepted) == then  # the old film that is off, too
    assert price_lines(ordered, dear, {}, own, accepted) == then
    more = price_lines(ordered, dear, removals, [*own, OwnLine("pads", 500)], accepted)
    assert [one for one in more if one.kind not in (PricedFor.OWN, PricedFor.TAX)] == [
        one for one in then if one.kind not in (PricedFor.OWN, PricedFor.TAX)
    ]
    untaxed = sum(one.cents for one in more if one.kind is not PricedFor.TAX)
    assert more[-1].cents == -(-untaxed // 5)  # 20 %, nothing ends in half a cent here
    assert untaxed % 5 == 0


def test_old_film_that_is_off_costs_what_was_acknowledged_and_nothing_that_nobody_said() -> None:
    car = mixed_car()
    windows = tuple(replace(one, old_film_off=one.old_film) for one in car.job.windows)
    off = replace(car, job=replace(car.job, windows=windows))
    said = Line("removal:df", PricedFor.REMOVAL, "df: old film off", 6500, "df")
    told = [one for one in price_lines(off, prices(), {}, (), Agreed(removals={"df": said})) if one.window_id == "df"]
    assert said in told
    assert [one.key for one in price_lines(off, prices(), {}) if one.kind is PricedFor.REMOVAL] == []

"""Quotes: lines worked out by hand, sums in whole cents, what changed between versions, prices that cannot be."""

from __future__ import annotations

import json
from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from elumbra.core.film import Construction
from elumbra.core.glass import WindowKind
from elumbra.core.pricing import (
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


@given(st.integers(-(10**9), 10**9))
def test_money_is_written_to_the_cent(cents: int) -> None:
    text = dollars(cents)
    assert int(text.replace("$", "").replace(",", "").replace(".", "")) == cents


@pytest.mark.parametrize(
    ("over", "field"),
    [
        ({"strip": -1}, "strip"),
        ({"strip": None}, "strip"),
        ({"minute": True}, "minute"),
        ({"windows": {}}, "framed_door"),
        ({"films": {"dyed": 0}}, "films.dyed"),
        ({"tax_percent": 80}, "tax_percent"),
        ({"strip": 10**9}, "strip"),
        ({"own_films": {"x": -2}}, "own_films.x"),
    ],
)
def test_a_price_that_cannot_be_is_refused_with_its_name(over: dict[str, Any], field: str) -> None:
    with pytest.raises(PriceError) as refusal:
        prices(**over)
    assert field in refusal.value.fields


def test_every_kind_of_window_and_film_has_a_price() -> None:
    assert set(prices().windows) == set(WindowKind)
    assert set(prices().films) == set(Construction)

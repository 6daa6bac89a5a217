"""What a quote says of itself: its name, its day, until when it stands; and what cannot be offered."""

from __future__ import annotations

from datetime import date, timedelta
from io import BytesIO
from typing import Any

import pytest
from pypdf import PdfReader
from sqlalchemy import delete, update

from elumbra.car.quote import PRICES
from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from elumbra.storage.kept_tables import QuoteRow
from elumbra.storage.tables import SettingRow
from tests.api.conftest import Desk
from tests.api.test_handover import accepted, named, offered, paper, text_of
from tests.api.test_jobs import opened, patch, window_of
from tests.api.test_rack_ledger import again
from tests.api.test_strip import PURPLE, strip
from tests.api.test_strip import sign as sign_removal


def quote(desk: Desk, job: Any) -> Any:
    return desk.get(f"/jobs/{job['id']}/quote")


def in_words(day: date) -> str:
    return f"{day:%B} {day.day}, {day.year}"


def test_a_quote_has_a_number_a_day_and_an_end_on_screen_and_paper(desk: Desk) -> None:
    job = opened(desk)
    (version,) = offered(desk, job)["versions"]
    today = date.fromisoformat(today_iso())
    assert version["called"] == f"{job['number']}-1"
    assert version["valid_until"] == (today + timedelta(days=30)).isoformat()
    content = desk.call("GET", f"/quotes/{version['id']}/paper.pdf").data
    paper = text_of(PdfReader(BytesIO(content)))
    assert f"Quote {job['number']}-1" in paper
    assert f"Offered on {in_words(today)}, valid until {in_words(today + timedelta(days=30))}." in paper


def test_the_shop_says_how_long_a_quote_stands_and_earlier_ones_keep_their_end(desk: Desk) -> None:
    job = opened(desk)
    before = offered(desk, job)["versions"][0]["valid_until"]
    desk.do("PUT", "/starting-values/quote_valid_days", {"value": 7, "version": 0})
    newest, first = offered(desk, job, own_lines=[{"words": "Courtesy", "dollars": -5}])["versions"]
    assert first["valid_until"] == before
    assert newest["valid_until"] == (date.fromisoformat(today_iso()) + timedelta(days=7)).isoformat()


@pytest.mark.parametrize(("days", "stands"), [(0, True), (-1, False)])
def test_a_quote_is_accepted_to_its_last_day_and_offered_again_after_it(
    desk: Desk, database: Database, days: int, stands: bool
) -> None:
    job = opened(desk)
    offered(desk, job)
    last = (date.fromisoformat(today_iso()) + timedelta(days=days)).isoformat()
    with database.session(write=True) as session:
        session.execute(update(QuoteRow).values(valid_until=last))
    if stands:
        assert accepted(desk, job)["accepted"] == 1
        return
    assert f"was valid until {last}" in accepted(desk, job, status=422)["message"]
    found = quote(desk, job)
    assert found["versions"][0]["too_old"]
    assert "offer it again" in found["headline"]
    again = offered(desk, job)["versions"][0]
    assert (again["number"], again["too_old"]) == (2, False)
    assert accepted(desk, job)["accepted"] == 2


def test_no_more_is_taken_off_than_it_comes_to(desk: Desk) -> None:
    job = opened(desk)
    whole = quote(desk, job)["total"]
    told = offered(desk, job, status=422, own_lines=[{"words": "All and more", "dollars": -whole - 1}])
    assert told["fields"] == {"own_lines": "More than the bill."}
    assert quote(desk, job)["versions"] == []
    free = offered(desk, job, own_lines=[{"words": "All of it", "dollars": -whole}])
    assert free["versions"][0]["total"] == 0


def prices_become(desk: Desk, **over: Any) -> None:
    now = desk.get("/price-list")
    desk.do("PUT", "/price-list", {name: now[name] for name in now if name != "own"} | over)


def film_off(desk: Desk, job: Any) -> Any:
    """All old film comes off, one window after the other."""
    for one in strip(desk, job)["windows"]:
        body = {"layer": "both", "glue": "no", "version": one["version"]}
        desk.do("POST", f"/windows/{one['window_id']}/strip-off/result", body)
    return quote(desk, job)


def test_an_accepted_removal_stays_on_quote_and_invoice_once_the_film_is_off(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    for one in [one for one in job["windows"] if one["film_id"]]:
        job = patch(desk, window_of(again(desk, job), one["label"]), film_id=None)
    before = offered(desk, job)
    assert [one["kind"] for one in before["lines"]] == ["removal"] * 5
    accepted(desk, job)
    after = film_off(desk, job)
    assert (after["total"], after["differs"], after["change"]) == (before["total"], [], "")
    assert after["headline"].endswith("accepted by R. Alder")
    named(desk)
    bill = text_of(paper(desk, job, "invoice"))
    assert f"${before['total']:,.2f} to pay" in bill
    assert bill.count(": old film off") == 5


def test_on_a_mixed_job_a_removal_is_charged_once_by_the_quote_that_was_accepted(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    window = window_of(job, "Driver front")
    before = offered(desk, job)
    accepted(desk, job)
    sign_removal(desk, again(desk, job))
    prices_become(desk, strip=99)
    after = film_off(desk, job)
    assert after["lines"] == before["lines"]
    assert sum(one["key"] == f"removal:{window['id']}" for one in after["lines"]) == 1


def test_a_removal_that_was_only_acknowledged_is_charged_as_it_was_told(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    before = quote(desk, job)["lines"]
    sign_removal(desk, job)
    after = film_off(desk, job)
    assert after["lines"] == before
    other = opened(desk, "Fenwick 4, rears only")
    assert all(one["kind"] != "removal" for one in quote(desk, other)["lines"])


def test_prices_and_tax_of_later_change_nothing_that_was_accepted_and_a_change_is_new_less_old(desk: Desk) -> None:
    job = opened(desk)
    prices_become(desk, tax_percent=8.25)
    offered(desk, job)
    before = accepted(desk, job)
    taxed_cents = next(one["dollars"] for one in before["lines"] if one["kind"] == "tax")
    windows = {kind: 3 * price for kind, price in desk.get("/price-list")["windows"].items()}
    prices_become(desk, tax_percent=10, windows=windows)
    assert quote(desk, job)["lines"] == before["lines"]
    assert quote(desk, job)["differs"] == []
    own = [{"words": "Floor mats", "dollars": 20}]
    after = offered(desk, job, own_lines=own)["versions"][0]
    untaxed = sum(round(100 * one["dollars"]) for one in after["lines"] if one["kind"] != "tax")
    assert untaxed == sum(round(100 * one["dollars"]) for one in before["lines"] if one["kind"] != "tax") + 2000
    tax = (untaxed * 10 + 50) // 100  # a half upward, and above nothing that is away from zero
    more, of_it = round(100 * after["total"] - 100 * before["total"]), tax - round(100 * taxed_cents)
    assert round(100 * after["total"]) == untaxed + tax
    assert after["told"][-1] == f"The change: ${more / 100:,.2f} more, ${of_it / 100:,.2f} of it tax."


def test_what_is_taxed_is_the_shops_word(desk: Desk) -> None:
    job = opened(desk, PURPLE)
    prices_become(desk, tax_percent=10, taxed=["film"])
    lines = quote(desk, job)["lines"]
    film = sum(round(100 * one["dollars"]) for one in lines if one["kind"] == "film")
    assert film
    assert {one["kind"] for one in lines} >= {"film", "removal", "tax"}
    tax = next(one for one in lines if one["kind"] == "tax")
    assert tax["words"] == f"Tax, 10 % of ${film / 100:,.2f}"
    assert round(100 * tax["dollars"]) == (film + 5) // 10
    body = desk.get("/price-list") | {"taxed": ["labor"]}
    body.pop("own")
    assert "taxed" in str(desk.do("PUT", "/price-list", body, status=422)["fields"])


def test_further_work_that_nobody_accepted_is_not_billed_and_holds_no_invoice(desk: Desk) -> None:
    job = opened(desk)
    offered(desk, job)
    before = accepted(desk, job)
    worked = {one["window_id"] for one in before["lines"] if one["kind"] == "extra"}
    plain = next(one for one in again(desk, job)["windows"] if one["film_id"] and one["id"] not in worked)
    patch(desk, plain, findings={"side_seals": "worn", "sticker": "yes"})
    after = quote(desk, job)
    assert len(after["lines"]) == len(before["lines"]) + 1
    assert after["differs"]
    named(desk)
    bill = text_of(paper(desk, job, "invoice"))
    assert f"${before['total']:,.2f} to pay" in bill
    assert f"{plain['label']}: further work" not in bill


def test_starting_prices_are_told_and_an_owner_says_yes_before_the_first_offer(
    desk_of: Any, desk: Desk, database: Database
) -> None:
    with database.session(write=True) as session:
        session.execute(delete(SettingRow).where(SettingRow.id == PRICES))
        session.execute(delete(QuoteRow))
    job = opened(desk)
    told = offered(desk, job, status=422)
    assert told["fields"] == {"prices": "Starting prices."}
    assert "not yours yet" in told["message"]
    assert (quote(desk, job)["starting_prices"], quote(desk, job)["ask_owner"]) == (True, True)
    body = {"version": desk.get("/price-list")["version"]}
    desk.do("POST", "/price-list/starting", body, status=403)
    before = desk.get("/price-list")
    after = desk_of("ruth").do("POST", "/price-list/starting", body)
    assert after["own"]
    again_yes = {"version": after["version"]}
    assert "they stay" in desk_of("ruth").do("POST", "/price-list/starting", again_yes, status=422)["message"]
    assert {name: after[name] for name in ("windows", "films", "strip")} == {
        name: before[name] for name in ("windows", "films", "strip")
    }
    assert offered(desk, job)["versions"][0]["number"] == 1
    assert not quote(desk, job)["starting_prices"]


def test_a_shop_that_offered_before_is_told_of_starting_prices_and_goes_on(desk: Desk, database: Database) -> None:
    job = opened(desk)
    offered(desk, job)
    with database.session(write=True) as session:
        session.execute(delete(SettingRow).where(SettingRow.id == PRICES))
    found = quote(desk, job)
    assert (found["starting_prices"], found["ask_owner"]) == (True, False)
    offered(desk, job, own_lines=[{"words": "Courtesy", "dollars": -5}])


def test_a_medical_exemption_is_on_the_quote_with_the_windows_it_was_applied_to(desk: Desk) -> None:
    job = opened(desk, "Larkspur coupe, limo fronts")
    front, other = (window_of(job, one) for one in ("Driver front", "Passenger front"))
    body = {
        "film_id": front["film_id"], "version": front["version"], "kind": "medical_exemption", "document": "M-71",
        "state": "FL", "issued_on": "2020-01-01", "expires_on": "2099-01-01", "citation": "section 3", "also": [other["id"]],
    }  # fmt: skip
    after = desk.do("POST", f"/windows/{front['id']}/reason", body, status=201)
    assert [window_of(after, one)["reason"]["document"] for one in ("Driver front", "Passenger front")] == ["M-71"] * 2
    (version,) = offered(desk, job)["versions"]
    told = text_of(PdfReader(BytesIO(desk.call("GET", f"/quotes/{version['id']}/paper.pdf").data)))
    assert "Driver front, Passenger front: medical exemption, document M-71 of FL, issued 2020-01-01" in told

"""What a quote says of itself: its name, its day, until when it stands; and what cannot be offered."""

from __future__ import annotations

from datetime import date, timedelta
from io import BytesIO
from typing import Any

import pytest
from pypdf import PdfReader
from sqlalchemy import update

from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from elumbra.storage.kept_tables import QuoteRow
from tests.api.conftest import Desk
from tests.api.test_handover import accepted, offered, text_of
from tests.api.test_jobs import opened


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

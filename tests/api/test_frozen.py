"""A car that is gone stays as it went: whatever the shop says later, its screens, papers and answers are the same."""

from __future__ import annotations

import json
import time
from collections.abc import Callable
from random import Random
from typing import Any

import pytest
from sqlalchemy import delete, text, update
from sqlalchemy.exc import DatabaseError

from elumbra.api.handover.older import freeze_gone
from elumbra.core.film import FilmFacts
from elumbra.storage.database import Database
from elumbra.storage.deliveries import deliveries_of
from elumbra.storage.kept_tables import DeliveryRow, PaperRow
from elumbra.storage.tables import JobRow
from tests.api.conftest import Desk
from tests.api.test_bay import happened, send
from tests.api.test_foundations import changeable
from tests.api.test_handover import begin_ready, handover, offered, owned, paper, ready_file, sign, text_of
from tests.api.test_jobs import opened, patch, window_of
from tests.api.test_law import word
from tests.api.test_look import flaw
from tests.effort import effort

__all__ = ["ready_file"]

PAPERS = ("care", "certificate", "warranty", "invoice", "record", "set")


def of_the_car(desk: Desk, job: Any) -> dict[str, Any]:
    """All that is shown, printed and answered of a car."""
    filmed = [window["id"] for window in desk.get(f"/jobs/{job['id']}")["windows"] if window["film_id"]]
    found = {name: desk.get(f"/jobs/{job['id']}{name}") for name in ("", "/look", "/handover", "/quote", "/bay")}
    found["/bay"].pop("now")
    for name in PAPERS:
        found[name] = desk.call("GET", f"/jobs/{job['id']}/papers/{name}").data
    found["a4"] = text_of(paper(desk, job, "record", paper="a4"))
    for window in filmed:
        found[f"history {window}"] = desk.get(f"/windows/{window}/history")
        for kind in ("faded", "peeling"):
            found[f"advice {kind} {window}"] = desk.get(f"/windows/{window}/call-advice?kind={kind}")
    return found


def other_film(desk: Desk, chance: Random, **change: Any) -> None:
    """A film's facts are said otherwise."""
    rack = desk.get("/rack")
    film = chance.choice(rack["films"])
    facts = {name: film[name] for name in (*changeable(FilmFacts), "price_per_m2", "version")}
    said = {"name": f"Film {chance.randrange(10**6)}", "vlt_percent": chance.randint(4, 60), "construction": "carbon",
            "warranty": "none", "warranty_years": None, "price_per_m2": chance.randint(1, 90)}  # fmt: skip
    desk.do("PUT", f"/films/{film['id']}", facts | said | change)


def other_prices(desk: Desk, chance: Random) -> None:
    body = {key: one for key, one in desk.get("/price-list").items() if key != "own"}
    body |= {"tax_percent": chance.choice([0, 6.25, 8.25]), "strip": chance.randint(10, 300)}
    body["windows"] = {kind: chance.randint(10, 400) for kind in body["windows"]}
    desk.do("PUT", "/price-list", body)


def other_name(desk: Desk, chance: Random) -> None:
    version = desk.get("/letterhead")["version"]
    desk.do("PUT", "/letterhead", {"name": f"Shop {chance.randrange(10**6)}", "version": version})


def other_standard(desk: Desk, chance: Random) -> None:
    rules = [{"kind": "speck", "zone": "view", "most": chance.randint(0, 4), "mm": chance.choice([0.5, 1, 3])}]
    desk.do("PUT", "/look-standard", {"unit": "car", "rules": rules, "version": desk.get("/look-standard")["version"]})


def other_schools(desk: Desk, chance: Random) -> None:
    body = {"schools": {"s_enter": chance.choice(["rear", "either"]), "s_soap": chance.choice(["ml", "strokes"])},
            "home": False, "version": desk.get("/bay-schools")["shop_version"]}  # fmt: skip
    desk.do("PUT", "/bay-schools/shop", body)


def other_figures(desk: Desk, chance: Random) -> None:
    value = chance.choice(desk.get("/starting-values")["values"])
    number = round(chance.uniform(value["low"], value["high"]), 4)
    desk.do("PUT", f"/starting-values/{value['name']}", {"value": number, "version": value["record_version"]})


def other_law(desk: Desk, chance: Random) -> None:
    fields = desk.get("/rules/TX")["fields"]
    known = chance.choice(
        [one for one in fields if isinstance(one["value"], dict) and one["value"].get("kind") == "floor"]
    )
    replaces = {"replaces": known["source"]["word_id"]} if known["source"] else {}
    word(desk, "TX", known["path"], {"kind": "floor", "value": chance.randint(20, 70)}, sure=True, **replaces)


CHANGES: list[Callable[[Desk, Random], None]] = [
    other_film, other_prices, other_name, other_standard, other_schools, other_figures, other_law
]  # fmt: skip


@begin_ready
def test_nothing_of_a_car_that_is_gone_follows_what_the_shop_says_later(desk: Desk) -> None:
    job = opened(desk)
    sign(desk, job)
    as_it_went = of_the_car(desk, job)
    chance = Random(26)
    for change in CHANGES:
        change(desk, chance)
        after = of_the_car(desk, job)
        assert {name for name in after if after[name] != as_it_went[name]} == set(), change.__name__
    for _ in range(effort(3, 200)):
        for change in chance.sample(CHANGES, 5):
            change(desk, chance)
    assert of_the_car(desk, job) == as_it_went
    # Nor what somebody says of its work afterwards; a tick that was made before and comes late still counts.
    time.sleep(1.1)
    window = window_of(opened(desk), "Driver rear")["id"]
    send(desk, job, happened("conditions", glass_c=2.0, shop_c=5.0, humidity=0.9, outside_low_c=-15.0))
    send(desk, job, happened("wrong", window_id=window, what="torn", spoilt=True))
    assert of_the_car(desk, job) == as_it_went


@begin_ready
def test_a_film_without_warranty_from_now_on_leaves_the_warranty_of_cars_that_are_gone(desk: Desk) -> None:
    job = opened(desk)
    sign(desk, job)
    path = f"/windows/{window_of(opened(desk), 'Driver rear')['id']}/call-advice?kind=faded"
    before = desk.get(path)
    assert before["bears"] == "maker"
    for film in desk.get("/rack")["films"]:
        facts = {name: film[name] for name in (*changeable(FilmFacts), "price_per_m2", "version")}
        desk.do("PUT", f"/films/{film['id']}", facts | {"warranty": "none", "warranty_years": None})
    assert desk.get(path) == before


@begin_ready
def test_what_went_is_not_written_any_more_and_says_what_to_do(desk: Desk) -> None:
    job = opened(desk)
    cutting = job["cuttings"][-1]
    sign(desk, job)
    gone = opened(desk)
    assert gone["cuttings"][-1]["may_be_taken_back"] is False
    front = window_of(gone, "Driver front")
    refused = [
        patch(desk, front, 422, film_id=None),
        patch(desk, front, 422, readings={"width": {"typed": "40"}}),
        desk.do("PATCH", f"/jobs/{job['id']}", {"version": gone["version"], "note": "Later"}, status=422),
        desk.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]}, status=422),
        offered(desk, job, status=422, own_lines=[{"words": "Later", "dollars": 10}]),
        flaw(desk, job, kind="crease", status=422),
    ]
    for one in refused:
        assert "was delivered on" in one["message"], one
        assert "undo the delivery" in one["message"]
    # What a customer calls about, and how he is reached, is kept with it.
    flaw(desk, job, kind="crease", when="callback")
    owned(desk, job, phone="(555) 017-9")


@begin_ready
def test_a_delivery_that_is_undone_and_done_again_is_a_new_version(desk: Desk, database: Database) -> None:
    job = opened(desk)
    sign(desk, job)
    first = text_of(paper(desk, job, "record"))
    version = handover(desk, job)["version"]
    desk.do("POST", f"/jobs/{job['id']}/handover/take-back", {"version": version, "reason": "Wrong note."})
    here = opened(desk)
    desk.do("PATCH", f"/jobs/{job['id']}", {"version": here["version"], "note": "Keys under the mat."})
    sign(desk, job)
    second = text_of(paper(desk, job, "record"))
    assert "Keys under the mat." in second
    assert "Keys under the mat." not in first
    with database.session(write=False) as session:
        kept = deliveries_of(session, job["id"])
        assert [one.number for one in kept] == [1, 2]
        assert [one.job_file["job"]["note"] for one in kept] == [here["note"], "Keys under the mat."]
        assert session.query(PaperRow).filter_by(delivery_id=kept[0].id, name="record").count() == 1


@begin_ready
def test_only_erasing_a_person_changes_what_went_and_papers_are_made_without_him(
    desk: Desk, database: Database
) -> None:
    job = opened(desk)
    sign(desk, job)
    assert "R. Alder" in text_of(paper(desk, job, "warranty"))
    for statement in ("UPDATE delivery SET number = 9", "DELETE FROM delivery", "UPDATE paper SET content = x'00'"):
        with pytest.raises(DatabaseError, match="append-only"), database.session(write=True) as session:
            session.execute(text(statement))
    who = desk.get(f"/jobs/{job['id']}/owner")["customer"]
    body = {"name": who["name"], "version": desk.get(f"/customers/{who['id']}")["version"]}
    desk.do("POST", f"/customers/{who['id']}/erase", body)
    with database.session(write=False) as session:
        (kept,) = deliveries_of(session, job["id"])
        assert "Alder" not in json.dumps(kept.job_file)
        assert session.query(PaperRow).count() == 0
    record = text_of(paper(desk, job, "record"))
    assert "5 windows filmed" in record
    assert "R. Alder" not in record


@begin_ready
def test_a_car_that_an_older_release_delivered_is_kept_in_the_background(desk: Desk, database: Database) -> None:
    job = opened(desk)
    sign(desk, job)
    with database.session(write=True) as session:
        # As the release before left it: gone, and never kept.
        session.execute(text("DROP TRIGGER delivery_never_deleted"))
        session.execute(delete(PaperRow))
        session.execute(delete(DeliveryRow))
        session.execute(update(JobRow).where(JobRow.number == 1008).values(status="delivered"))
    before = of_the_car(desk, job)
    assert freeze_gone(database, stop=lambda: True) == 0
    for change in CHANGES:  # between the upgrade and the moment at which this car is frozen
        change(desk, Random(3))
    assert freeze_gone(database) >= 1
    assert freeze_gone(database) == 0, "each once"
    after = of_the_car(desk, job)
    assert {name for name in after if name not in PAPERS and after[name] != before[name]} == {""}
    assert {key for key in after[""] if after[""][key] != before[""][key]} <= {
        "films",
        "windows",
        "cuttings",
        "law",
        "input_hash",
    }
    other_name(desk, Random(1))
    other_prices(desk, Random(1))
    assert {name: one for name, one in of_the_car(desk, job).items() if name not in PAPERS} == {
        name: one for name, one in after.items() if name not in PAPERS
    }

"""The archive: films, rolls, customers and cars of the shelf leave their lists by a lead, and come back whole."""

from __future__ import annotations

from typing import Any

import pytest

from tests.api.conftest import Desk
from tests.api.test_handover import owned
from tests.api.test_jobs import opened
from tests.api.test_rack_ledger import item
from tests.api.test_shelf import cars, first

KINDS = ("film", "stock", "customer", "shelf_car")


def rack_names(desk: Desk, of: str, name: str) -> set[str]:
    return {one[name] for one in desk.get("/rack")[of]}


def subject(desk: Desk, kind: str) -> tuple[str, int, str]:
    """Something of a kind that nothing open holds: id, version, name."""
    if kind == "film":
        new = {"name": "Only 60", "construction": "ceramic", "vlt_percent": 60}
        film = next(one for one in desk.do("POST", "/films", new, status=201)["films"] if one["name"] == "Only 60")
        return film["id"], film["version"], "Only 60"
    if kind == "stock":
        roll = item(desk, "H35-40")
        return roll["id"], roll["version"], "H35-40"
    if kind == "customer":
        owned(desk, opened(desk), name="Renée Alder")
        (one,) = desk.get("/customers?search=renee")["customers"]
        return one["id"], desk.get(f"/customers/{one['id']}")["version"], "Renée Alder"
    car = first(desk, "sedan")
    return car["id"], car["version"], f"{car['name']} {car['years']}".strip()


def listed(desk: Desk, kind: str, name: str) -> bool:
    match kind:
        case "film":
            return name in rack_names(desk, "films", "name")
        case "stock":
            return name in rack_names(desk, "stock", "label")
        case "customer":
            return bool(desk.get("/customers?search=renee")["customers"])
        case _:
            return any(f"{one['name']} {one['years']}".strip() == name for one in cars(desk, name)["cars"])


@pytest.mark.parametrize("kind", KINDS)
def test_it_leaves_its_list_by_a_lead_and_comes_back(desk: Desk, desk_of: Any, kind: str) -> None:
    thing, version, name = subject(desk, kind)
    for person in ("tobi", "nils", "sol"):
        desk_of(person).do("POST", f"/archive/{kind}/{thing}", {"version": version}, status=403)
        desk_of(person).do("GET", f"/archive/{kind}", status=403)
    assert listed(desk, kind, name)
    desk.do("POST", f"/archive/{kind}/{thing}", {"version": version + 7}, status=409)
    (gone,) = desk.do("POST", f"/archive/{kind}/{thing}", {"version": version})["items"]
    assert (gone["id"], gone["name"], gone["person"], gone["version"]) == (thing, name, "Ines Varga", version + 1)
    assert not listed(desk, kind, name)
    assert desk.get(f"/archive/{kind}")["items"] == [gone]
    desk_of("tobi").do("POST", f"/archive/{kind}/{thing}/restore", {"version": gone["version"]}, status=403)
    back = desk.do("POST", f"/archive/{kind}/{thing}/restore", {"version": gone["version"]})
    assert back["items"] == []
    assert listed(desk, kind, name)


def test_a_film_leaves_the_lists_once_no_open_job_and_no_roll_needs_it(desk: Desk) -> None:
    """What was done with it stays: the demo's delivered cars name films, and hold none of them."""
    held = desk.do("POST", "/archive/film/dusk20", {"version": 1}, status=422)["message"]
    assert "stays on file, for it is named in: " in held
    assert "job 1008" not in held


def test_a_roll_does_not_come_back_beside_another_of_its_label_nor_without_its_film(desk: Desk) -> None:
    roll = item(desk, "H35-40")
    (gone,) = desk.do("POST", f"/archive/stock/{roll['id']}", {"version": roll["version"]})["items"]
    same = {"kind": "roll", "label": "h35-40", "width": "20", "full_length": "9", "length_left": "9", "price": 9}
    desk.do("POST", "/stock", same | {"film_id": roll["film_id"]}, status=201)
    refused = desk.do("POST", f"/archive/stock/{roll['id']}/restore", {"version": gone["version"]}, status=422)
    assert "is called H35-40 by now" in refused["message"]


def test_who_was_erased_is_not_in_the_archive_and_does_not_come_back(desk: Desk) -> None:
    thing, version, name = subject(desk, "customer")
    desk.do("POST", f"/customers/{thing}/erase", {"version": version, "name": name})
    assert desk.get("/archive/customer")["items"] == []
    now = desk.get(f"/customers/{thing}")["version"]
    desk.do("POST", f"/archive/customer/{thing}/restore", {"version": now}, status=422)


def test_what_there_is_not_is_told(desk: Desk) -> None:
    desk.do("GET", "/archive/nothing", status=422)
    desk.do("POST", "/archive/film/nothing", {"version": 1}, status=404)
    desk.do("POST", "/archive/film/nothing/restore", {"version": 1}, status=404)

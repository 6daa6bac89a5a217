"""A fact that stock declares goes wherever the film goes: every one of them, by its type, whoever declares it."""

from __future__ import annotations

import json
from dataclasses import fields
from enum import StrEnum
from pathlib import Path
from types import NoneType
from typing import Annotated, Any, get_args, get_origin, get_type_hints

import pytest

from elumbra.core.film import RackFacts, StockFacts
from elumbra.documents.job_file import StockPart, parse_job_file
from elumbra.storage.clock import today_iso
from elumbra.storage.database import Database
from elumbra.storage.store import stock
from elumbra.storage.whole_shop import export_shop, import_shop
from tests.api.conftest import Desk
from tests.api.test_jobs import opened
from tests.api.test_knife import cut, put
from tests.api.test_rack_and_layouts import live

__all__ = ["live"]

DAYS = ("received_on", "opened_on")
OF_THE_PLACE = {"place", "received_on", "opened_on", "slittable"}  # an offcut has its own


def told(kind: type[Any]) -> dict[str, Any]:
    """A value for each fact that is not its default."""
    hints = get_type_hints(kind)
    return {one.name: _told(one.name, hints[one.name], one.default) for one in fields(kind)}


def _told(name: str, hint: Any, default: Any) -> Any:
    if name in DAYS:
        return "2026-03-05"
    if get_origin(hint) is Annotated:
        hint = get_args(hint)[0]
    (plain,) = [one for one in get_args(hint) or (hint,) if one is not NoneType]
    if issubclass(plain, StrEnum):
        return next(one.value for one in plain if one != default)
    if plain is bool:
        return not default
    return {str: f"a word on {name}", int: 7, float: 76.2}[plain]


EVERY = told(RackFacts) | {"slittable": True}  # one that may not be slit is tried by itself
WITH_THE_FILM = told(StockFacts)


def of(shown: dict[str, Any], names: Any) -> dict[str, Any]:
    return {name: shown[name] for name in names}


def item(desk: Desk, label: str) -> dict[str, Any]:
    (found,) = [one for one in desk.get("/rack")["stock"] if one["label"] == label]
    return found  # type: ignore[no-any-return]


MUST = ("film_id", "kind", "label", "width", "full_length", "length_left")


def test_what_is_told_of_new_stock_is_kept_and_what_is_not_is_its_default(desk: Desk) -> None:
    roll = put(desk, label="told", **EVERY)
    assert of(roll, EVERY) == EVERY
    desk.do("POST", "/stock", of(roll, MUST) | {"label": "nothing told", "price": 180}, status=201)
    defaults = {one.name: one.default for one in fields(RackFacts)} | {"received_on": today_iso(), "opened_on": None}
    assert of(item(desk, "nothing told"), EVERY) == defaults


@pytest.mark.parametrize("changed", sorted(EVERY))
def test_an_edit_of_one_fact_leaves_all_others(desk: Desk, changed: str) -> None:
    roll = put(desk, label="told", **EVERY)
    other = {"received_on": "2026-04-06", "opened_on": "2026-04-06", "liner": "down", "slittable": False}
    new = other.get(changed, 50.8 if isinstance(EVERY[changed], float) else "another word")
    desk.do("PUT", f"/stock/{roll['id']}", of(roll, MUST) | {"version": roll["version"], changed: new})
    assert of(item(desk, "told"), EVERY) == EVERY | {changed: new}
    roll = item(desk, "told")
    desk.do("PUT", f"/stock/{roll['id']}", of(roll, MUST) | {"version": roll["version"], "label": "renamed"})
    assert of(item(desk, "renamed"), EVERY) == EVERY | {changed: new}


def test_both_halves_of_a_slit_roll_are_what_it_was(desk: Desk) -> None:
    roll = put(desk, label="told", width="20", **EVERY)
    rack = desk.do("POST", f"/stock/{roll['id']}/slit", {"version": roll["version"], "at": "8"})
    halves = [one for one in rack["stock"] if one["label"].startswith("told")]
    assert [of(one, EVERY) for one in halves] == [EVERY, EVERY]


def test_an_offcut_is_what_its_roll_was_and_taking_back_leaves_the_roll_so(live: Desk, database: Database) -> None:
    for one in live.get("/rack")["stock"]:
        live.do("PUT", f"/stock/{one['id']}", of(one, MUST) | {"version": one["version"], "price": None} | EVERY)
    before = {one["id"]: of(one, EVERY) for one in live.get("/rack")["stock"]}
    assert set(map(str, before.values())) == {str(EVERY)}
    job = cut(live, opened(live))
    (cutting,) = job["cuttings"]
    assert cutting["kept"]
    for kept in cutting["kept"]:
        shown = item(live, kept["label"])
        assert of(shown, WITH_THE_FILM) == WITH_THE_FILM
        assert of(shown, set(EVERY) - OF_THE_PLACE) == of(EVERY, set(EVERY) - OF_THE_PLACE)
    live.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    assert {one["id"]: of(one, EVERY) for one in live.get("/rack")["stock"]} == before


def test_a_job_file_has_what_goes_with_the_film_and_gives_it_back(live: Desk) -> None:
    job = opened(live)
    film = next(window["film_id"] for window in job["windows"] if window["film_id"])
    roll = put(live, label="told", film_id=film, **EVERY)
    content = live.call("GET", f"/jobs/{job['id']}/export").data
    (part,) = [one for one in json.loads(content)["stock"] if one["id"] == roll["id"]]
    assert of(part, WITH_THE_FILM) == WITH_THE_FILM
    (read_back,) = [one for one in parse_job_file(content).stock if one.id == roll["id"]]
    assert of(read_back.model_dump(mode="json"), WITH_THE_FILM) == WITH_THE_FILM


def test_a_shop_file_has_every_fact(desk: Desk, database: Database, tmp_path: Path) -> None:
    roll = put(desk, label="told", **EVERY)
    export_shop(database.path, None, tmp_path / "shop.zip")
    import_shop(tmp_path / "shop.zip", tmp_path / "taken-in.db", tmp_path / "photos")
    again = Database(tmp_path / "taken-in.db")
    with again.session(write=False) as session:
        record = stock(session).get(roll["id"])
    again.close()
    assert {name: getattr(record, name) for name in EVERY} == EVERY


def test_liner_left_out_of_a_job_file_is_unknown() -> None:
    part = StockPart.model_validate(
        {"id": "r", "film": "f", "kind": "roll", "label": "R", "width": "40", "length": "100 ft", "price_per_m2": 9}
    )
    assert part.model_dump(mode="json")["liner"] == "unknown"

"""Who does not see prices is told no sum: in no answer, no sentence and no paper; and can do his work without."""

from __future__ import annotations

import json
import re
from collections.abc import Iterator
from io import BytesIO
from typing import Any

import pytest
from pypdf import PdfReader

from elumbra.api.base.roles import Role
from elumbra.core.units import inches
from elumbra.documents.money import seen_by
from elumbra.documents.plan import PlanDocument
from tests.api.conftest import Desk
from tests.api.test_handover import begin_ready, paper, ready_file
from tests.api.test_jobs import opened
from tests.api.test_rack_and_layouts import FILM, ROLL

__all__ = ["ready_file"]

SUM = re.compile(r"\$ ?\d|\d \$")
SUMS = {
    "price", "price_per_m2", "dollars", "more_dollars", "net", "new_film", "offcuts_used", "offcuts_kept", "labour",
    "bound_area", "bound_free",
}  # fmt: skip
# What old film off costs is signed by the customer where the car stands: whoever takes the signature shows it.
SIGNED_FOR = ("/jobs/{id}/strip", "/jobs/{id}/removal.pdf", "/jobs/{id}/bay")


def keep_from(desk_of: Any, person_id: str) -> Desk:
    """A person who does not see prices any more."""
    owner = desk_of("ruth")
    card = next(one for one in owner.get("/people")["people"] if one["id"] == person_id)
    owner.do("PATCH", f"/people/{person_id}", {"version": card["version"], "prices": False})
    found: Desk = desk_of(person_id)
    return found


def leaves(value: Any, name: str = "") -> Iterator[tuple[str, Any]]:
    """All that an answer holds, by its last name."""
    if isinstance(value, dict):
        for key, inner in value.items():
            yield from leaves(inner, key)
    elif isinstance(value, list):
        for inner in value:
            yield from leaves(inner, name)
    else:
        yield name, value


def addresses(app: Any, desk: Desk) -> dict[str, str]:
    """Every address that an installer may read, filled with records of the demo shop."""
    job = next(one for one in desk.get("/jobs")["jobs"] if one["number"] == 1001)["id"]
    screen = desk.get(f"/jobs/{job}")
    shelf = desk.get("/shelf")["cars"][0]["id"]
    ids = {
        "jobs": job, "windows": next(w["id"] for w in screen["windows"] if w["film_id"]), "films": "dusk20", "stock": "r01",
        "shelf": shelf, "tasks": desk.do("POST", f"/jobs/{job}/layout", status=202)["id"],
    }  # fmt: skip
    found = {}
    for rule in app.url_map.iter_rules():
        view = app.view_functions[rule.endpoint]
        if "GET" in rule.methods and Role.INSTALLER in getattr(view, "__elumbra_roles__", ()):
            path = rule.rule.removeprefix("/api")
            kind = path.split("/")[1]
            filled = re.sub(r"<string:id>", ids.get(kind, "none"), path)
            filled = re.sub(r"<string:(day|name|window_id)>", lambda m: {"name": "set"}.get(m[1], "2026-11-27"), filled)
            found[re.sub(r"<[^>]+>", "{id}", path)] = filled
    found["/jobs/{id}/layout.svg"] += "?film_id=harbor15"
    return found


def test_no_answer_tells_a_sum_to_who_does_not_see_prices(app: Any, desk_of: Any) -> None:
    """The same addresses before and after: what was a sum is nothing, and no sentence or paper has one."""
    tobi = desk_of("tobi")
    paths = addresses(app, tobi)
    before = {name: tobi.call("GET", path) for name, path in paths.items()}
    assert sum(1 for one in before.values() if one.status_code == 200) > 60
    tobi = keep_from(desk_of, "tobi")
    told, refused = set(), set()
    for name, path in paths.items():
        after = tobi.call("GET", path)
        if after.status_code == 403:
            refused.add(name)
            continue
        assert after.status_code == before[name].status_code, f"{name}: {after.text[:300]}"
        if name in SIGNED_FOR:
            continue
        if after.is_json:
            assert not SUM.search(after.text), name
            sums = [(key, value) for key, value in leaves(before[name].json) if key in SUMS and value is not None]
            assert [key for key, value in leaves(after.json) if key in SUMS and value is not None] == [], name
            told |= {name} if sums else set()
        elif after.mimetype == "application/pdf":
            pages = "".join(page.extract_text() for page in PdfReader(BytesIO(after.data)).pages)
            assert not SUM.search(pages), name
        elif after.mimetype in ("text/html", "text/csv", "image/svg+xml"):
            assert not SUM.search(after.text), name
    assert {"/rack", "/films/{id}", "/stock/{id}", "/tasks/{id}", "/windows/{id}/shrink/ways"} <= told
    assert {"/ledger", "/jobs/{id}/quote", "/jobs/{id}/export", "/price-list"} <= refused


def test_the_sentences_of_a_plan_lose_their_sums_only(desk: Desk) -> None:
    job = next(one for one in desk.get("/jobs")["jobs"] if one["number"] == 1001)["id"]
    found = PlanDocument.model_validate(desk.do("POST", f"/jobs/{job}/layout", status=202)["plan"])
    found.films[0].why[:] = ["2 of 8 lie upright.", "96 1/2 in of R1 alone would cost $1,204.50 more."]
    told = json.loads(found.model_dump_json(context=seen_by(prices=False)))["films"][0]
    assert told["why"] == ["2 of 8 lie upright.", "96 1/2 in of R1 alone would cost more."]
    assert told["score"]["net"] is None
    assert told["score"]["minutes"] == found.films[0].score.minutes
    assert json.loads(found.model_dump_json())["films"][0]["why"] == found.films[0].why


@begin_ready
def test_the_invoice_is_left_to_who_sees_prices(desk: Desk, desk_of: Any) -> None:
    job = opened(desk)
    assert paper(desk, job, "invoice")
    tobi = keep_from(desk_of, "tobi")
    found = {one["name"]: one for one in tobi.get(f"/jobs/{job['id']}/handover")["papers"]}
    assert [one["words"] for one in found["invoice"]["missing"]] == ["somebody who sees prices"]
    assert "somebody who sees prices" in paper(tobi, job, "invoice", status=422)["message"]
    file = tobi.call("GET", f"/jobs/{job['id']}/customer-file").text
    assert "Care card" in file
    assert "to pay" not in file
    assert "to pay" in desk.call("GET", f"/jobs/{job['id']}/customer-file").text


def test_who_sees_no_prices_puts_rolls_up_by_their_films_price(desk_of: Any) -> None:
    tobi = keep_from(desk_of, "tobi")
    unpriced = {key: value for key, value in ROLL.items() if key != "price"}
    tobi.do("POST", "/stock", unpriced, status=201)
    ines = desk_of("ines")
    film = next(one for one in ines.get("/rack")["films"] if one["id"] == "kiln50")
    (roll,) = [one for one in ines.get("/rack")["stock"] if one["label"] == "K50-36"]
    area = inches(36) / 1000 * inches(1200) / 1000
    assert roll["price"] == pytest.approx(film["price_per_m2"] * area, abs=0.005)
    change = unpriced | {"place": "top", "version": roll["version"]}
    tobi.do("PUT", f"/stock/{roll['id']}", change)
    (after,) = [one for one in ines.get("/rack")["stock"] if one["label"] == "K50-36"]
    assert (after["price"], after["place"]) == (roll["price"], "top")


def test_a_roll_of_a_film_without_a_price_is_not_free(desk_of: Any) -> None:
    ines = desk_of("ines")
    film = next(one for one in ines.do("POST", "/films", FILM, status=201)["films"] if one["name"] == "New 40")
    unpriced = {key: value for key, value in ROLL.items() if key != "price"} | {"film_id": film["id"]}
    assert "has no price on file" in keep_from(desk_of, "tobi").do("POST", "/stock", unpriced, status=422)["message"]
    ines.do("PUT", f"/films/{film['id']}", FILM | {"price_per_m2": 10, "version": 1})
    changed = ines.do("PUT", f"/films/{film['id']}", FILM | {"vlt_percent": 41, "version": 2})
    assert next(one for one in changed["films"] if one["id"] == film["id"])["price_per_m2"] == 10
    ines.do("POST", "/stock", unpriced, status=201)


def test_a_conflict_tells_no_price_either(desk_of: Any) -> None:
    ines, tobi = desk_of("ines"), keep_from(desk_of, "tobi")
    made = ines.do("POST", "/stock", ROLL, status=201)
    roll = next(one for one in made["stock"] if one["label"] == "K50-36")
    ines.do("PUT", f"/stock/{roll['id']}", ROLL | {"price": 765.43, "version": roll["version"]})
    said = tobi.do("PUT", f"/stock/{roll['id']}", ROLL | {"price": 700, "version": roll["version"]}, status=409)
    assert "765" not in str(said)
    assert "765.43" in str(
        ines.do("PUT", f"/stock/{roll['id']}", ROLL | {"price": 700, "version": roll["version"]}, status=409)
    )

"""The word on the screen is the word in the plan, and what the screen holds the plan holds."""

from __future__ import annotations

import json
from collections.abc import Iterator
from dataclasses import asdict
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given
from hypothesis import strategies as st
from sqlalchemy.orm import Session

from elumbra.api.car_view.schemas import JobOut
from elumbra.api.car_view.view import job_screen
from elumbra.api.exchange.operations import Importer, export_job, import_job
from elumbra.car import assemble, input_hash, plan_input
from elumbra.cli import main
from elumbra.core.errors import CoreError
from elumbra.core.work import VehicleFacts, WindowFacts, facts_of
from elumbra.documents.job_file import JobFile, WindowPart, parse_job_file, to_bytes
from elumbra.documents.plan import PlanDocument
from elumbra.storage.clock import today_iso
from elumbra.storage.data_files import law_file, starting_values
from elumbra.storage.database import Database
from elumbra.storage.records import PersonRecord
from elumbra.tasks import final_plan
from tests.catalogue.facts import facts
from tests.catalogue.jobs import job_document
from tests.effort import examples

LEAD = Importer(PersonRecord(id="test", name="A. Lead", role="lead"), is_lead=True)


@pytest.fixture(scope="module")
def database(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Database]:
    made = Database(tmp_path_factory.mktemp("shop") / "elumbra.db")
    made.migrate()
    yield made
    made.close()


def both(session: Session, document: JobFile) -> tuple[JobOut, PlanDocument]:
    """A job as its screens show it, and its plan by the command line's road: export, file, plan."""
    job_id = import_job(session, document, LEAD)
    exported, _ = export_job(session, job_id)
    plan = final_plan(parse_job_file(to_bytes(exported)), law_file(), starting_values(), today=today_iso())
    return job_screen(session, job_id), plan


def agree(screen: JobOut, plan: PlanDocument) -> None:
    assert screen.stuck is None
    filmed = [window for window in screen.windows if window.film_id is not None]
    words = {verdict.window_id: verdict.word for verdict in plan.verdicts}
    assert words == {window.id: window.worst.value if window.worst else None for window in filmed}
    held = {one.window_id: (one.reason, one.station) for one in plan.held}
    assert held == {window.id: (window.held, window.held_at) for window in filmed if window.held}
    cut = plan.cut_windows | {item.window_id for film in plan.films for item in film.unplaced}
    assert cut == {window.id for window in filmed if not window.held}
    shown = {window.id: window.verdicts for window in filmed}
    for verdict in plan.verdicts:
        assert any(verdict.citation in (one.citation, "") for one in shown[verdict.window_id]) or not verdict.word


sizes = st.sampled_from([None, ("36", "18"), ("900 mm", "21 1/4")])


def documents() -> st.SearchStrategy[dict[str, Any]]:
    window = st.fixed_dictionaries(
        {
            "facts": facts(WindowFacts),
            "film": st.sampled_from([None, "carbon35", "dark20"]),
            "layers": st.sampled_from([(), ("dark20",)]),
            "size": sizes,
            "strip": st.sampled_from([None, "4", "9"]),
            "share": st.sampled_from([None, False, True]),
        }
    )
    vehicle = facts(VehicleFacts)
    return st.fixed_dictionaries({"windows": st.lists(window, min_size=1, max_size=4), "vehicle": vehicle})


def built(drawn: dict[str, Any]) -> dict[str, Any]:
    """A drawn car as a job file; later windows may share the first one's glass."""
    document = job_document() | {"format_version": 3}
    windows = []
    for i, one in enumerate(drawn["windows"]):
        row = {"id": f"w{i}", "label": f"Window {i}", "film": one["film"], "layers": list(one["layers"])}
        if i and one["share"] is not None:
            row["same_as"] = {"window": "w0", "mirrored": one["share"]}
        elif one["size"]:
            row["readings"] = {
                key: {"typed": typed} for key, typed in zip(("width", "height"), one["size"], strict=True)
            }
        if one["strip"]:
            row.setdefault("readings", {})["strip_depth"] = {"typed": one["strip"]}
        windows.append(row | one["facts"])
    document["job"] |= {"windows": windows, "vehicle": {"label": "Any car"} | drawn["vehicle"]}
    return document


@examples(60, suppress_health_check=[HealthCheck.too_slow])
@given(drawn=documents())
def test_screen_and_plan_never_disagree(database: Database, drawn: dict[str, Any]) -> None:
    document = parse_job_file(json.dumps(built(drawn), default=asdict).encode())
    try:
        with database.session(write=True) as session:
            agree(*both(session, document))
    except CoreError as refused:
        assert refused.message, "a car that cannot be is refused in words, and nothing of it is kept"


def test_glass_shared_with_a_door_under_a_strip_is_held_on_paper_too(database: Database) -> None:
    """Michigan: the passenger front has its strip's depth from the driver front, and both are too deep."""
    document = job_document()
    driver, passenger = document["job"]["windows"][:2]
    document["job"]["windows"] = [driver, passenger]
    document["job"]["vehicle"]["states"] = ["MI"]
    for window in (driver, passenger):
        window |= {"film": "dark20", "coverage": "strip"}
    driver["readings"]["strip_depth"] = {"typed": "9"}
    with database.session(write=True) as session:
        screen, plan = both(session, parse_job_file(json.dumps(document, default=asdict).encode()))
    agree(screen, plan)
    assert [window.worst and window.worst.value for window in screen.windows] == ["Not allowed", "Not allowed"]
    assert len(plan.held) == 2
    assert plan.films == []


@pytest.mark.parametrize(
    ("expires", "cut_on", "held"),
    [("2099-01-01", None, False), ("2020-06-01", None, True), ("2020-06-01", "2020-06-01", False),
     ("2020-06-01", "2020-06-02", True)],
)  # fmt: skip
def test_an_expired_exemption_holds_on_screen_and_by_the_command_line_but_for_film_that_was_cut_in_time(
    database: Database, tmp_path: Path, expires: str, cut_on: str | None, held: bool
) -> None:
    document = job_document() | {"format_version": 3}
    driver = document["job"]["windows"][0]
    document["job"]["windows"] = [driver]
    document["job"]["vehicle"]["states"] = ["FL"]
    driver["film"] = "dark20"
    driver["reason"] = {
        "kind": "medical_exemption", "film": "dark20", "wish": "dark", "document": "M-71", "state": "FL",
        "issued_on": "2020-01-01", "expires_on": expires, "citation": "§ 3 of the made-up rules",
    }  # fmt: skip
    for one in document["films"]:
        one |= {"colours": ["grey"], "name": f"Grey {one['name']}"}
    if cut_on:
        driver["cut"] = {"film": "dark20", "on": cut_on}
    read = parse_job_file(json.dumps(document, default=asdict).encode())
    car = assemble(read, law_file(), starting_values(), today="2026-12-02")
    assert car.job.windows[0].reason is not None
    assert car.job.windows[0].reason.lapsed is held
    if cut_on:
        return
    plan = final_plan(read, law_file(), starting_values(), today="2026-12-02")
    assert [one.window_id for one in plan.held] == ([driver["id"]] if held else []), plan.held
    if held:
        assert "The exemption M-71 expired on 2020-06-01." in plan.held[0].reason
    job, out = tmp_path / "job.json", tmp_path / "out"
    job.write_text(json.dumps(document, default=asdict))
    assert main(["plan", str(job), "--out", str(out)]) == 0
    assert bool(json.loads((out / "plan.json").read_text())["held"]) is held
    with database.session(write=True) as session:
        screen, again = both(session, read)
    agree(screen, again)
    assert bool(again.held) is held
    reason = screen.windows[0].reason
    assert reason is not None
    assert (reason.expired, reason.standing) == (held, not held)


@examples(40, suppress_health_check=[HealthCheck.too_slow])
@given(drawn=documents())
def test_every_fact_goes_in_and_comes_out_again(database: Database, drawn: dict[str, Any]) -> None:
    """File to records to file, and to the screen: each fact, link and reading as it was."""
    document = parse_job_file(json.dumps(built(drawn), default=asdict).encode())
    try:
        with database.session(write=True) as session:
            job_id = import_job(session, document, LEAD)
            exported, screen = export_job(session, job_id)[0], job_screen(session, job_id)
    except CoreError:
        return
    vehicle, given_vehicle = exported.job.vehicle, document.job.vehicle
    assert facts_of(vehicle, VehicleFacts) == facts_of(given_vehicle, VehicleFacts)
    order = {window.id: i for i, window in enumerate(exported.job.windows)}
    films = {film.id: film.name for film in exported.films}
    given_films = {film.id: film.name for film in document.films}
    for got, asked, shown in zip(exported.job.windows, document.job.windows, screen.windows, strict=True):
        assert facts_of(got, WindowFacts) == facts_of(asked, WindowFacts) == facts_of(shown, WindowFacts)
        for link in ("label", "curve", "level", "figure", "readings"):
            assert getattr(got, link) == getattr(asked, link), link
        assert films.get(got.film or "") == given_films.get(asked.film or "")
        assert [films[layer] for layer in got.layers] == [given_films[layer] for layer in asked.layers]
        assert shown.film_id == got.film
        assert linked(got, order) == linked(asked, {f"w{i}": i for i in range(9)})


def linked(part: WindowPart, order: dict[str, int]) -> tuple[int, bool] | None:
    return (order[part.same_as.window], part.same_as.mirrored) if part.same_as else None


def test_a_plan_depends_on_what_planning_reads_and_nothing_else() -> None:
    def hashed(**job: Any) -> str:
        document = job_document()
        document["job"] |= job
        return input_hash(parse_job_file(json.dumps(document, default=asdict).encode()))

    plain = hashed()
    assert hashed(note="Ring the bell", title="Another name", customer="B. Else") == plain
    vehicle = job_document()["job"]["vehicle"]
    assert hashed(vehicle=vehicle | {"label": "Other words"}) == plain
    assert hashed(vehicle=vehicle | {"model_year": 1990}) != plain, "the law may read it"
    windows = job_document()["job"]["windows"]
    windows[2]["readings"]["height"]["typed"] = "18 1/16"
    assert hashed(windows=windows) != plain
    reduced = plan_input(parse_job_file(json.dumps(job_document()).encode()))
    assert input_hash(reduced) == plain
    plans = [
        final_plan(one, law_file(), starting_values(), today="2026-11-25")
        for one in (reduced, parse_job_file(json.dumps(job_document()).encode()))
    ]
    names = {"title": "", "customer": "", "vehicle": ""}
    assert plans[0].model_copy(update=names) == plans[1].model_copy(update=names)

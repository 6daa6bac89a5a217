"""The API held against its own document by a fuzzer: no server error, and nothing that breaks its schema."""

from __future__ import annotations

import json
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from hypothesis import HealthCheck, Phase, given, settings
from openapi_spec_validator import validate
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from elumbra.reference import reference_pages
from elumbra.storage.database import Database
from tests.api.conftest import Desk
from tests.effort import effort

SPEC = json.loads(reference_pages()["openapi.json"])
OPERATIONS = [(path, method) for path, methods in SPEC["paths"].items() for method in methods]
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
SECONDS_AN_OPERATION = effort(0.1, 0.4)
LEAST = effort(2, 3)  # inputs tried even on the busiest machine


class Enough(KeyboardInterrupt):
    """The time box is over. Of this kind only, Hypothesis lets an end through at once and draws no further input."""


def test_the_document_is_valid_openapi() -> None:
    validate(SPEC)


@pytest.fixture(scope="module")
def schema(put_together: Any) -> Any:
    loaded = schemathesis.openapi.from_dict(SPEC)
    loaded.app = put_together
    return loaded


@pytest.fixture(scope="module")
def records(put_together: Any, demo_file: Path, tmp_path_factory: pytest.TempPathFactory) -> list[str]:
    """Names of records of the demo shop, one of each kind that an address may name; every copy of it has the same."""
    path = tmp_path_factory.mktemp("names") / "elumbra.db"
    path.write_bytes(demo_file.read_bytes())
    database = Database(path)
    put_together.config.update(DATABASE=database)
    desk = Desk(put_together.test_client())
    desk.sign_in("ines")
    job = desk.get("/jobs")["jobs"][0]["id"]
    window = desk.get(f"/jobs/{job}")["windows"][0]["id"]
    shelf = desk.get("/shelf")["cars"][0]["id"]
    database.close()
    return [job, window, "dusk20", "r01", "TX", "blank_play_mm", "tobi", shelf]


@pytest.fixture
def names(records: list[str], desk: Desk) -> list[str]:
    """Those records, and a customer, since the demo shop begins with none."""
    customer = desk.do("POST", "/customers", {"name": "R. Alder", "phone": "", "email": "", "note": ""}, status=201)
    return [*records, customer["id"]]


@pytest.mark.parametrize(("path", "method"), OPERATIONS, ids=[f"{m.upper()} {p}" for p, m in OPERATIONS])
def test_no_input_breaks_the_server_or_its_promises(
    schema: Any, desk: Desk, names: list[str], path: str, method: str
) -> None:
    """A time box for each operation: as many inputs as fit, half of them on records of the demo shop."""
    operation = schema[path][method.upper()]
    session = desk._client.get_cookie("elumbra")
    assert session is not None
    end = time.monotonic() + SECONDS_AN_OPERATION
    tried, at_the_door = 0, 0

    @settings(
        max_examples=80, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=operation.as_strategy())
    def attack(case: Any) -> None:
        nonlocal tried, at_the_door
        if tried >= LEAST and time.monotonic() > end:
            raise Enough
        tried += 1
        if case.path_parameters and tried % 2:
            case.path_parameters = {each: names[tried // 2 % len(names)] for each in case.path_parameters}
        response = case.call(headers={"X-Write-Id": f"fuzz-{tried:08}"}, cookies={"elumbra": session.value})
        at_the_door += response.status_code == 401 and response.json()["code"] == "no_person"
        case.validate_response(response, checks=CHECKS)

    with suppress(Enough):
        attack()
    assert at_the_door < tried, "somebody is signed in: what is tried is the route, not its door"

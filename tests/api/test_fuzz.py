"""The API held against its own document by a fuzzer: no server error, and nothing that breaks its schema."""

from __future__ import annotations

import json
import time
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

from elumbra.api.app import AppConfig, make_app
from elumbra.reference import reference_pages
from elumbra.storage.database import Database
from tests.api.conftest import Desk, StandInTasks

SPEC = json.loads(reference_pages()["openapi.json"])
OPERATIONS = [(path, method) for path, methods in SPEC["paths"].items() for method in methods]
CHECKS = [not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance]
SECONDS_AN_OPERATION = 0.4
LEAST = 3  # inputs tried even on the busiest machine


@pytest.fixture
def app(database: Database, tasks: StandInTasks) -> Any:
    """An application of this test's own: it is given a further address."""
    return make_app(AppConfig(database, tasks, b"test"))


def test_the_document_is_valid_openapi() -> None:
    validate(SPEC)


@pytest.fixture
def schema(app: Any) -> Any:
    def document() -> Any:
        return app.response_class(json.dumps(SPEC), mimetype="application/json")

    document.__elumbra_page__ = True  # type: ignore[attr-defined]
    app.add_url_rule("/openapi.json", view_func=document)
    return schemathesis.openapi.from_wsgi("/openapi.json", app)


@pytest.mark.parametrize(("path", "method"), OPERATIONS, ids=[f"{m.upper()} {p}" for p, m in OPERATIONS])
def test_no_input_breaks_the_server_or_its_promises(schema: Any, desk: Desk, path: str, method: str) -> None:
    """A time box for each operation: as many inputs as fit, half of them on records of the demo shop."""
    operation = schema[path][method.upper()]
    job = desk.get("/jobs")["jobs"][0]
    window = desk.get(f"/jobs/{job['id']}")["windows"][0]["id"]
    real = [job["id"], window, "dusk20", "r01", "TX", "blank_play_mm"]
    session = desk._client.get_cookie("elumbra")
    assert session is not None
    end = time.monotonic() + SECONDS_AN_OPERATION
    tried = 0

    @settings(
        max_examples=80, deadline=None, database=None, derandomize=True, phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )  # fmt: skip
    @given(case=operation.as_strategy())
    def attack(case: Any) -> None:
        nonlocal tried
        if tried >= LEAST and time.monotonic() > end:
            return
        tried += 1
        if case.path_parameters and tried % 2:
            case.path_parameters = {name: real[tried // 2 % len(real)] for name in case.path_parameters}
        headers = {"X-Write-Id": f"fuzz-{tried:08}", "Cookie": f"elumbra={session.value}"}
        response = case.call(headers=headers)
        case.validate_response(response, checks=CHECKS)

    attack()
    assert tried > 0

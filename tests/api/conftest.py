"""A server without a network: the application, a fresh database, and a client that acts as somebody."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from elumbra.api.app import AppConfig, make_app
from elumbra.api.car_view import briefs
from elumbra.api.jobs.operations import board
from elumbra.api.web.sittings import TOKEN
from elumbra.demo import demo_password, fill_demo
from elumbra.storage import doors
from elumbra.storage.database import Database
from tests.conftest import Once


class StandInTasks:
    """Counts how often it is woken and works nothing out."""

    def __init__(self) -> None:
        self.woken = 0

    def wake(self) -> None:
        self.woken += 1


class Desk:
    """Somebody at a screen: calls with a write id of their own, and expects an answer."""

    def __init__(self, client: FlaskClient) -> None:
        self._client = client

    def call(
        self, method: str, path: str, body: Any = None, *, write_id: str | None = None, data: bytes | None = None
    ) -> TestResponse:
        headers = {} if method == "GET" else {"X-Write-Id": write_id or uuid4().hex}
        options: dict[str, Any] = {"data": data} if data is not None else {"json": body} if body is not None else {}
        return self._client.open(f"/api{path}", method=method, headers=headers, **options)

    def sign_in(self, person_id: str, password: str | None = None) -> Any:
        secret = demo_password(person_id) if password is None else password
        return self.do("POST", "/session", {"person_id": person_id, "password": secret})

    def get(self, path: str) -> Any:
        response = self.call("GET", path)
        assert response.status_code == 200, response.text
        return response.json

    def do(self, method: str, path: str, body: Any = None, *, status: int = 200, **over: Any) -> Any:
        response = self.call(method, path, body, **over)
        assert response.status_code == status, response.text
        return response.json


@pytest.fixture(scope="session")
def demo_file(once: Once) -> Path:
    """A database filled with the demo shop once, copied for each test; the cars on its lists are looked over."""

    def make(folder: Path) -> None:
        database = Database(folder / "elumbra.db")
        database.migrate()
        fill_demo(database)
        to_keep: dict[str, tuple[str, str]] = {}
        with database.session(write=False) as session:
            board(session, to_keep=to_keep)
        briefs.keep(lambda: database.session(write=True), to_keep)
        in_one_file(database)

    return once.made("demo", make) / "elumbra.db"


def in_one_file(database: Database) -> None:
    """Close a database so that its file alone is all of it."""
    with database.engine.connect() as connection:
        connection.exec_driver_sql("COMMIT")
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
    database.close()


@pytest.fixture
def start_file(request: pytest.FixtureRequest, demo_file: Path) -> Path:
    """What a test's shop begins as: the demo shop, or what another fixture made of it, given as parameter by name."""
    found: Path = request.getfixturevalue(request.param) if hasattr(request, "param") else demo_file
    return found


@pytest.fixture
def database(tmp_path: Path, start_file: Path) -> Iterator[Database]:
    """This test's own copy of the shop."""
    path = tmp_path / "elumbra.db"
    path.write_bytes(start_file.read_bytes())
    made = Database(path)  # its tables are of today: the demo shop was filled by this very release
    yield made
    made.close()


@pytest.fixture
def tasks() -> StandInTasks:
    return StandInTasks()


@pytest.fixture(scope="session")
def put_together(demo_file: Path) -> Any:
    """The application, put together once; what differs from test to test is what it works on."""
    return make_app(AppConfig(Database(demo_file), StandInTasks(), b"test"))


@pytest.fixture
def app(put_together: Any, database: Database, tasks: StandInTasks) -> Any:
    put_together.config.update(DATABASE=database, TASKS=tasks)
    return put_together


@pytest.fixture
def desk_of(app: Any, database: Database) -> Any:
    """Desks by person id; their people have come in already, by no password."""

    def sit(person_id: str | None) -> Desk:
        client = app.test_client()
        if person_id:
            with database.session(write=True) as session:
                token = doors.sit_down(session, person_id, device_id="", address="127.0.0.1")
            with client.session_transaction() as cookie:
                cookie[TOKEN] = token
                cookie.permanent = True
        return Desk(client)

    return sit


@pytest.fixture
def desk(desk_of: Any) -> Desk:
    """The lead's desk."""
    found: Desk = desk_of("ines")
    return found

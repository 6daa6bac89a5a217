"""Killed hard while it writes: every write that was answered is there, once; sent again, still once."""

from __future__ import annotations

import multiprocessing
import os
import random
import signal
from multiprocessing.connection import Connection
from pathlib import Path

from sqlalchemy import text

from elumbra.api.app import AppConfig, make_app
from elumbra.storage.database import Database
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people
from tests.api.conftest import Desk, StandInTasks

KILLS = 20


def write_on(path: Path, first: list[str], told: Connection) -> None:
    """Write jobs, each under an id of its own, and tell what was sent and what was answered."""
    database = Database(path)
    desk = Desk(make_app(AppConfig(database, StandInTasks(), b"test")).test_client())
    desk.do("POST", "/session", {"person_id": "ines"})
    number = 0
    while True:
        write_id = first.pop() if first else f"{os.getpid()}-{number:06}"
        number += 1
        told.send(("sent", write_id))
        body = {"vehicle_label": write_id, "body": "sedan", "states": ["TX"]}
        desk.do("POST", "/jobs", body, status=201, write_id=write_id)
        told.send(("answered", write_id))


def kill_often(path: Path, kills: int, seed: int = 1) -> tuple[set[str], set[str]]:
    """Kill writers at random moments; what was sent and what was answered over all of them."""
    chance = random.Random(seed)
    context = multiprocessing.get_context("fork")
    sent: set[str] = set()
    answered: set[str] = set()
    for _ in range(kills):
        ours, theirs = context.Pipe(duplex=False)
        open_ones = sorted(sent - answered)
        writer = context.Process(target=write_on, args=(path, open_ones, theirs))
        writer.start()
        theirs.close()
        wanted = chance.randint(1, 12)
        while wanted:
            kind, write_id = ours.recv()
            (sent if kind == "sent" else answered).add(write_id)
            wanted -= 1
        os.kill(writer.pid or 0, signal.SIGKILL)
        writer.join()
        try:
            while True:
                kind, write_id = ours.recv()
                (sent if kind == "sent" else answered).add(write_id)
        except (EOFError, OSError):
            ours.close()
    return sent, answered


def counted(path: Path) -> dict[str, int]:
    database = Database(path)
    database.check()
    with database.session(write=False) as session:
        rows = session.execute(text("SELECT vehicle_label, count(*) FROM job GROUP BY vehicle_label"))
        found = {str(label): int(count) for label, count in rows}
        windows = session.execute(text("SELECT count(*) FROM window")).scalar() or 0
        assert windows == 6 * sum(found.values()), "a job came whole or not at all"
    database.close()
    return found


def prepared(path: Path) -> None:
    database = Database(path)
    database.migrate()
    with database.session(write=True) as session:
        people(session).create(PersonRecord(id="ines", name="Ines", role="lead"), person_id="test")
    database.close()


def test_twenty_hard_kills_lose_nothing_and_double_nothing(tmp_path: Path) -> None:
    path = tmp_path / "elumbra.db"
    prepared(path)
    sent, answered = kill_often(path, KILLS)
    found = counted(path)
    assert len(answered) > KILLS, "it wrote between the kills"
    assert answered - set(found) == set(), "lost"
    assert {label for label, count in found.items() if count > 1} == set(), "doubled"
    assert set(found) <= sent

"""Killed hard while it writes: every write that was answered is there, once; sent again, still once."""

from __future__ import annotations

import json
import multiprocessing
import os
import random
import signal
import threading
import urllib.request
from collections.abc import Callable
from contextlib import suppress
from http.client import HTTPException
from multiprocessing.connection import Connection
from pathlib import Path
from shutil import copy
from uuid import uuid4

from sqlalchemy import text

from elumbra.api.app import AppConfig, make_app
from elumbra.cli import DATABASE
from elumbra.demo import demo_password
from elumbra.storage import doors, ledger
from elumbra.storage.database import Database
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import cuttings, people, stock
from elumbra.tasks.runner import TaskRunner
from tests.api.conftest import Desk, StandInTasks
from tests.api.test_jobs import opened
from tests.api.test_knife import cut, planned
from tests.api.test_rack_and_layouts import ROLL
from tests.e2e.server import running_demo
from tests.effort import effort

KILLS = effort(4, 20)


def write_on(path: Path, first: list[str], told: Connection) -> None:
    """Write jobs, each under an id of its own, and tell what was sent and what was answered."""
    database = Database(path)
    desk = Desk(make_app(AppConfig(database, StandInTasks(), b"test")).test_client())
    desk.sign_in("ines")
    number = 0
    while True:
        write_id = first.pop() if first else f"{os.getpid()}-{number:06}"
        number += 1
        told.send(("sent", write_id))
        body = {"vehicle_label": write_id, "body": "sedan", "states": ["TX"]}
        desk.do("POST", "/jobs", body, status=201, write_id=write_id)
        told.send(("answered", write_id))


Writer = Callable[[Path, list[str], Connection], None]


def kill_often(path: Path, kills: int, seed: int = 1, write: Writer = write_on) -> tuple[set[str], set[str]]:
    """Kill writers at random moments; what was sent and what was answered over all of them."""
    chance = random.Random(seed)
    context = multiprocessing.get_context("fork")
    sent: set[str] = set()
    answered: set[str] = set()
    for _ in range(kills):
        ours, theirs = context.Pipe(duplex=False)
        open_ones = sorted(sent - answered)
        writer = context.Process(target=write, args=(path, open_ones, theirs))
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
        doors.set_secret(session, "ines", doors.PASSWORD, demo_password("ines"), known=True)
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


# --- the real server, over the network --------------------------------------------------------------------------------


class Counter:
    """Somebody at the counter of a running server: signs in and takes in jobs until it answers no more."""

    def __init__(self, address: str) -> None:
        self._address = address
        self._opener = urllib.request.build_opener(urllib.request.HTTPCookieProcessor())
        self.answered: list[str] = []
        self._post("/session", {"person_id": "ines", "password": demo_password("ines")}, uuid4().hex)

    def _post(self, path: str, body: object, write_id: str) -> None:
        headers = {"Content-Type": "application/json", "X-Write-Id": write_id}
        request = urllib.request.Request(f"{self._address}/api{path}", json.dumps(body).encode(), headers)
        with self._opener.open(request, timeout=60) as answer:
            assert answer.status in (200, 201)

    def take_in_jobs(self) -> None:
        with suppress(OSError, HTTPException):
            while True:
                label = uuid4().hex
                self._post("/jobs", {"vehicle_label": label, "body": "sedan", "states": ["TX"]}, label)
                self.answered.append(label)


def test_a_server_killed_hard_while_it_writes_starts_again_with_all_that_it_answered(tmp_path: Path) -> None:
    """The real server with three desks writing at once: killed, its lock is free and its data whole, twice."""
    prepared(tmp_path / DATABASE)
    answered: list[str] = []
    for wanted in (5, 9):
        with running_demo(tmp_path, command="serve") as address:
            desks = [Counter(address) for _ in range(3)]
            threads = [threading.Thread(target=desk.take_in_jobs) for desk in desks]
            for thread in threads:
                thread.start()
            while sum(len(desk.answered) for desk in desks) < wanted:
                assert any(thread.is_alive() for thread in threads), "the server answers no more"
                threads[0].join(0.01)
        for thread in threads:
            thread.join()
        answered += [label for desk in desks for label in desk.answered]
    found = counted(tmp_path / DATABASE)
    assert len(answered) >= 14
    assert set(answered) <= set(found), "lost"
    assert set(found.values()) == {1}, "doubled"
    assert len(found) <= len(answered) + 2 * 3, "at most one a desk was under way"


# --- the ledger ----------------------------------------------------------------------------------------------------------


def planned_rack(path: Path, demo_file: Path) -> None:
    """The demo shop with one job's plan worked out: of rolls that film was cut off before, which no figure typed says."""
    copy(demo_file, path)
    database = Database(path)
    runner = TaskRunner(database)
    runner.start()
    desk = Desk(make_app(AppConfig(database, runner, b"test")).test_client())
    desk.sign_in("ines")
    (cutting,) = cut(desk, opened(desk))["cuttings"]
    desk.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]})
    planned(desk, opened(desk))
    runner.stop()
    database.close()


def work_the_rack(path: Path, first: list[str], told: Connection) -> None:
    """Cut and take back, receive, correct, slit and throw away, by chance, each under an id of its own."""
    database = Database(path)
    desk = Desk(make_app(AppConfig(database, StandInTasks(), b"test")).test_client())
    desk.sign_in("ines")
    chance = random.Random(os.getpid())
    other_film = next(one["id"] for one in desk.get("/rack")["films"] if "Kiln" in one["name"])
    number = 0
    # What was sent and never answered is not sent again: its body cannot be made again.
    first.clear()
    while True:
        write_id = f"{os.getpid()}-{number:06}"
        number += 1
        told.send(("sent", write_id))
        rolls = [one for one in desk.get("/rack")["stock"] if one["label"].startswith("K-")]
        one_of_them = chance.choice(rolls) if rolls else None
        what = chance.choice(["cut", "receive", "slit", "bin", "correct"])
        if what == "cut":
            cut_or_take_back(desk, write_id)
        elif what == "receive" or one_of_them is None:
            new = ROLL | {"film_id": other_film, "label": f"K-{write_id}", "width": "40"}
            desk.do("POST", "/stock", new, status=201, write_id=write_id)
        elif what == "slit" and one_of_them["width_mm"] > 600:
            body = {"version": one_of_them["version"], "at": "10"}
            desk.do("POST", f"/stock/{one_of_them['id']}/slit", body, write_id=write_id)
        elif what == "bin":
            body = {"version": one_of_them["version"], "reason": "creased"}
            desk.do("POST", f"/stock/{one_of_them['id']}/bin", body, write_id=write_id)
        else:
            kept = {name: one_of_them[name] for name in ROLL} | {"version": one_of_them["version"]}
            left = f"{chance.randint(10, 90)} ft"
            answer = desk.call(
                "PUT",
                f"/stock/{one_of_them['id']}",
                kept | {"length_left": left, "reason": "counted"},
                write_id=write_id,
            )
            assert answer.status_code in (200, 422), answer.text
        told.send(("answered", write_id))


def cut_or_take_back(desk: Desk, write_id: str) -> None:
    """The job's film is cut, or its cut taken back."""
    job = desk.get(f"/jobs/{opened(desk)['id']}")
    if job["cuttings"]:
        (cutting,) = job["cuttings"]
        desk.do("POST", f"/cuttings/{cutting['id']}/take-back", {"version": cutting["version"]}, write_id=write_id)
    else:
        desk.do("POST", f"/jobs/{job['id']}/cut", {"input_hash": job["input_hash"]}, write_id=write_id)


def ledger_holds(path: Path) -> int:
    """Every cut is booked whole or not at all, every count has come and gone once; how many cuts were looked at."""
    database = Database(path)
    database.check()
    with database.session(write=False) as session:
        looked = cuttings(session).all(removed_too=True)
        everything = stock(session).all(removed_too=True)
        moved: dict[tuple[str, str], dict[str, int]] = {}
        for one in everything:
            sums = ledger.balance(session, one.id)
            assert min(sums.received, sums.used, sums.waste, sums.kept, sums.left) >= 0, one.label
            assert sums.received == sums.used + sums.waste + sums.kept + sums.left
            for movement in ledger.movements(session, one.id):
                kinds = moved.setdefault((movement.cutting_id or "", one.id), {})
                kinds[movement.kind] = kinds.get(movement.kind, 0) + movement.count
        for cutting in looked:
            for taken in cutting.taken:
                kinds = moved[cutting.id, taken.stock_id]
                booked = tuple(-kinds.get(kind, 0) for kind in ("used", "kept", "waste"))
                assert booked == ((0, 0, 0) if cutting.removed else (taken.used, taken.kept, taken.waste))
            for kept in cutting.kept:
                assert moved[cutting.id, kept.stock_id].get("received", 0) >= 0
                assert stock(session).get(kept.stock_id).removed == cutting.removed
        labels = [one.label for one in everything if one.label.startswith("K-") and "," not in one.label]
        assert len(labels) == len(set(labels)), "received twice"
        count = len(looked)
    database.close()
    return count


def test_twenty_hard_kills_keep_every_count_of_film(tmp_path: Path, demo_file: Path) -> None:
    path = tmp_path / "elumbra.db"
    planned_rack(path, demo_file)
    _, answered = kill_often(path, KILLS, write=work_the_rack)
    assert len(answered) > KILLS, "it worked between the kills"
    assert ledger_holds(path) > 0, "something was cut"

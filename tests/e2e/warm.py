"""A process that has the application imported and forks a server of it whenever it is asked: no start pays its imports.

Each line on its input is a request, each line on its output the answer. ``{"warm": path}`` looks round a copy of that
shop, so that what any server of this release works out once is there before it is forked. ``{"start": [...]}`` runs the application's own
command line in a process of its own and answers its id; ``{"ended": id}`` answers its exit code, or null while it runs.
When nobody asks any more, all that it started ends with it.
"""

from __future__ import annotations

import importlib
import json
import multiprocessing
import os
import shutil
import signal
import sys
from contextlib import suppress
from multiprocessing import forkserver
from pathlib import Path
from tempfile import TemporaryDirectory
from uuid import uuid4

from elumbra.demo import demo_password

PRELOAD = ["elumbra.tasks.work", "elumbra.core.schedule.exact"]
OF_THE_COMMAND = (
    "elumbra.api.app",
    "elumbra.demo_day",
    "elumbra.demo_month",
    "elumbra.lan",
    "elumbra.lan.front",
    "elumbra.storage.upkeep",
    "elumbra.tasks",
    "waitress.server",
)


def nothing() -> None:
    """What the solver's own fork server is started with."""


def main() -> None:
    """Import, then serve requests until the input ends."""
    for name in OF_THE_COMMAND:
        importlib.import_module(name)
    solver = multiprocessing.get_context("forkserver")
    solver.set_forkserver_preload(PRELOAD)
    first = solver.Process(target=nothing)
    first.start()
    first.join()
    started: set[int] = set()
    answer("ready")
    for line in sys.stdin:
        asked = json.loads(line)
        if "warm" in asked:
            look_round(Path(asked["warm"]))
            answer("warm")
        elif "start" in asked:
            pid = fork(asked["start"])
            started.add(pid)
            answer(pid)
        else:
            found, status = os.waitpid(asked["ended"], os.WNOHANG)
            if found:
                started.discard(found)
            answer(os.waitstatus_to_exitcode(status) if found else None)
    for pid in started:
        with suppress(ProcessLookupError):
            os.kill(pid, signal.SIGKILL)


def look_round(shop: Path) -> None:
    """Ask for what most journeys look at."""
    from elumbra.api.app import AppConfig, make_app
    from elumbra.storage.database import Database
    from elumbra.tasks import TaskRunner

    with TemporaryDirectory() as folder:
        database = Database(Path(shutil.copy(shop, folder)))
        client = make_app(AppConfig(database, TaskRunner(database), b"warm")).test_client()
        sign_in = {"person_id": "ines", "password": demo_password("ines")}
        client.post("/api/session", json=sign_in, headers={"X-Write-Id": uuid4().hex})
        jobs = [job["id"] for job in client.get("/api/jobs").json["jobs"]]
        pages = ["board", "rack", "rules", "shelf", *(f"jobs/{one}" for one in jobs)]
        pages += [f"jobs/{jobs[0]}/{name}" for name in ("bay", "handover", "quote", "look", "shrink")]
        for page in pages:
            client.get(f"/api/{page}")
        database.close()


def answer(value: object) -> None:
    """One line."""
    print(json.dumps(value), flush=True)


def fork(arguments: list[str]) -> int:
    """A process of its own with the application's command; its id."""
    if pid := os.fork():
        return pid
    code = 1
    try:
        os.dup2(os.open(os.devnull, os.O_RDONLY), 0)
        os.dup2(2, 1)
        # The solver's fork server is not this process's child, so it cannot be waited for; it is there all the same.
        forkserver._forkserver.ensure_running = lambda: None  # type: ignore[attr-defined]
        from elumbra.cli import main as command

        code = command(arguments)
    finally:
        os._exit(code)


if __name__ == "__main__":
    main()

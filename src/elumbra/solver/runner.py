"""Feeds the solver process from the queue; a cancelled solve's process is killed.

Processes are forked from a server that has everything imported, so that a solve starts in
milliseconds and can be ended at any moment without losing what it has sent.
"""

from __future__ import annotations

import logging
import multiprocessing
import threading
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerContext, ForkServerProcess

from elumbra.solver.work import solve
from elumbra.storage import solves
from elumbra.storage.database import Database
from elumbra.storage.records import SolveRecord

_IDLE_SECONDS = 1.0
_POLL_SECONDS = 0.05
_log = logging.getLogger(__name__)


class SolverRunner:
    """One thread that keeps one solver process busy."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._context: ForkServerContext = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(["elumbra.solver.work"])
        self._wake = threading.Event()
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="solver-runner", daemon=True)

    def start(self) -> None:
        """Begin with what the queue holds; interrupted solves start again."""
        with self._database.session(write=True) as session:
            solves.requeue_interrupted(session)
        self._thread.start()

    def wake(self) -> None:
        """Something was queued or cancelled: look now."""
        self._wake.set()

    def stop(self) -> None:
        """End the running solve and the thread."""
        self._stop.set()
        self._wake.set()
        self._thread.join(timeout=5)

    def _run(self) -> None:
        self._warm_up()
        while not self._stop.is_set():
            try:
                with self._database.session(write=True) as session:
                    record = solves.next_queued(session)
                if record is None:
                    self._wake.wait(_IDLE_SECONDS)
                    self._wake.clear()
                else:
                    self._solve(record)
            except Exception:
                _log.exception("solver runner")
                self._stop.wait(_IDLE_SECONDS)

    def _warm_up(self) -> None:
        """Start the fork server now, so that the first solve does not wait for its imports."""
        process = self._context.Process(target=_nothing)
        process.start()
        process.join()

    def _solve(self, record: SolveRecord) -> None:
        ours, theirs = self._context.Pipe(duplex=False)
        process = self._context.Process(target=solve, args=(record.input, record.pull_from_customary, theirs))
        process.start()
        theirs.close()
        try:
            self._listen(record, process, ours)
        finally:
            if process.is_alive():
                process.kill()
            process.join()
            ours.close()

    def _listen(self, record: SolveRecord, process: ForkServerProcess, answers: Connection) -> None:
        while not self._stop.is_set():
            if answers.poll(_POLL_SECONDS):
                try:
                    message = answers.recv()
                except EOFError:
                    break
                if self._record(record, message):
                    return
            elif self._cancelled(record):
                return
            elif not process.is_alive() and not answers.poll(0):
                break
        if not self._stop.is_set():
            with self._database.session(write=True) as session:
                solves.finish(session, record.id, status="failed", error="The planner stopped without an answer.")

    def _record(self, record: SolveRecord, message: tuple[str, str, bool] | tuple[str, str]) -> bool:
        with self._database.session(write=True) as session:
            if message[0] == "error":
                solves.finish(session, record.id, status="failed", error=message[1])
                return True
            finished = bool(message[2])  # type: ignore[misc]
            solves.record_step(session, record.id, plan=message[1], finished=finished)
            return finished

    def _cancelled(self, record: SolveRecord) -> bool:
        with self._database.session(write=False) as session:
            return solves.get(session, record.id).status != "running"


def _nothing() -> None:
    pass

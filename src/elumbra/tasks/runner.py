"""Feeds the task process from the queue; a cancelled or overdue task's process is killed.

Processes are forked from a server that has everything imported, so that a task starts in
milliseconds and can be ended at any moment without losing what it has sent. Whatever happens,
a task ends as done, cancelled or failed, or is queued again: never “running” for ever.
"""

from __future__ import annotations

import logging
import multiprocessing
import secrets
import threading
import time
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerContext, ForkServerProcess

from elumbra.storage import holds, tasks
from elumbra.storage.database import Database
from elumbra.storage.ledger import counts
from elumbra.storage.records import TaskRecord
from elumbra.tasks.work import Failure, Step, work

_IDLE_SECONDS = 1.0
_POLL_SECONDS = 0.05
_log = logging.getLogger(__name__)


class TaskRunner:
    """One thread that keeps one task process busy."""

    def __init__(self, database: Database) -> None:
        self._database = database
        self._context: ForkServerContext = multiprocessing.get_context("forkserver")
        self._context.set_forkserver_preload(["elumbra.tasks.work", "elumbra.core.schedule.exact"])
        self._wake = threading.Event()
        self._stop = threading.Event()
        self._thread = threading.Thread(target=self._run, name="task-runner", daemon=True)

    def start(self) -> None:
        """Begin with what the queue holds; interrupted tasks start again."""
        self._thread.start()

    def wake(self) -> None:
        """Something was queued or cancelled: look now."""
        self._wake.set()

    def stop(self) -> None:
        """End the running task and the thread."""
        self._stop.set()
        self._wake.set()
        if self._thread.is_alive():
            self._thread.join(timeout=10)

    def _run(self) -> None:
        self._warm_up()
        while not self._stop.is_set():
            try:
                if not self._anything_waits():
                    self._wake.wait(_IDLE_SECONDS)
                    self._wake.clear()
                    continue
                with self._database.session(write=True) as session:
                    # Nobody else works on tasks: what is “running” now was left so by a failure.
                    tasks.requeue_interrupted(session)
                    record = tasks.next_queued(session)
                if record is not None:
                    self._do(record)
            except Exception:
                _log.exception("task runner")
                self._stop.wait(_IDLE_SECONDS)

    def _anything_waits(self) -> bool:
        with self._database.session(write=False) as session:
            return tasks.waiting(session) > 0

    def _warm_up(self) -> None:
        """Start the fork server now, so that the first task does not wait for its imports."""
        process = self._context.Process(target=_nothing)
        process.start()
        process.join()

    def _do(self, record: TaskRecord) -> None:
        ours, theirs = self._context.Pipe(duplex=False)
        process = self._context.Process(target=work, args=(record.kind, record.input, record.memory_mb, theirs))
        process.start()
        theirs.close()
        try:
            self._listen(record, process, ours)
        finally:
            if process.is_alive():
                process.kill()
            process.join()
            ours.close()

    def _listen(self, record: TaskRecord, process: ForkServerProcess, answers: Connection) -> None:
        overdue_at = time.monotonic() + record.deadline_s
        while not self._stop.is_set():
            if answers.poll(_POLL_SECONDS):
                try:
                    message = answers.recv()
                except EOFError:
                    break
                if self._keep(record, message):
                    return
            elif self._cancelled(record):
                return
            elif time.monotonic() > overdue_at:
                self._overdue(record)
                return
            elif not process.is_alive() and not answers.poll(0):
                break
        if not self._stop.is_set():
            process.join()
            self._end(record, self._death(record, process.exitcode))

    def _death(self, record: TaskRecord, code: int | None) -> str:
        """Why a process is gone that said nothing; libraries that are refused memory may end it so."""
        number = _fault_number()
        _log.error("fault %s: the process of task %s (%s) ended with code %s", number, record.id, record.kind, code)
        how = f"was ended by signal {-code}" if code is not None and code < 0 else f"ended with code {code}"
        return (
            f"The planner {how} before it answered, as it does when it needs more than {record.memory_mb} MB of "
            f"memory. Ask again; plan it in two jobs if it stays. It is fault {number} in the server's log."
        )

    def _fault(self, record: TaskRecord, failure: Failure) -> str:
        """A fault of ours, in a sentence, with the number under which the log has it whole."""
        number = _fault_number()
        _log.error("fault %s in task %s (%s):\n%s", number, record.id, record.kind, failure.trace)
        return (
            f"The planner has a fault ({failure.kind}); what it found until then stands. Ask again, or change the job. "
            f"It is fault {number} in the server's log."
        )

    def _keep(self, record: TaskRecord, message: Step | Failure) -> bool:
        """Keep what was sent; whether that was the last."""
        if isinstance(message, Failure):
            self._end(record, self._fault(record, message) if message.kind else message.error)
            return True
        with self._database.session(write=True) as session:
            tasks.record_step(
                session, record.id, result=message.result, summary=message.summary, finished=message.finished
            )
            if message.finished and record.job_id is not None:
                taken = message.summary["taken"]
                holds.settle(session, record.job_id, {stock: counts(length) for stock, length in taken.items()})
        return message.finished

    def _overdue(self, record: TaskRecord) -> None:
        """The time is up: the best result found stays, where there is one."""
        words = f"Stopped after {record.deadline_s:g} seconds."
        with self._database.session(write=True) as session:
            tasks.stop(session, record.id, otherwise="failed", error=words)

    def _end(self, record: TaskRecord, error: str) -> None:
        with self._database.session(write=True) as session:
            tasks.stop(session, record.id, otherwise="failed", error=error)

    def _cancelled(self, record: TaskRecord) -> bool:
        with self._database.session(write=False) as session:
            return tasks.get(session, record.id).status != "running"


def _fault_number() -> str:
    """A short number to find a fault by."""
    return secrets.token_hex(3)


def _nothing() -> None:
    pass

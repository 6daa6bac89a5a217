"""Long work ends, whatever happens to the process that does it."""

from __future__ import annotations

import json
import os
import re
import signal
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest

from elumbra.storage import tasks
from elumbra.storage.database import Database
from elumbra.storage.records import TaskRecord
from elumbra.tasks import TaskRunner
from elumbra.tasks import runner as runner_module
from elumbra.tasks import work as work_module
from elumbra.tasks.plan import PlanInput
from elumbra.tasks.work import Step
from tests.catalogue.jobs import job_document

_LIMIT_SECONDS = 180


@pytest.fixture
def database(tmp_path: Path) -> Iterator[Database]:
    made = Database(tmp_path / "shop.db")
    made.migrate()
    yield made
    made.close()


@pytest.fixture
def runner(database: Database) -> Iterator[TaskRunner]:
    made = TaskRunner(database)
    yield made
    made.stop()


def ask(database: Database, content: str, **over: Any) -> str:
    with database.session(write=True) as session:
        return tasks.enqueue(
            session,
            kind="quick_cut",
            job_id=None,
            input_hash=content[-40:],
            content=PlanInput(job=content).model_dump_json(),
            **over,
        ).id


def until(database: Database, task_id: str, holds: Callable[[TaskRecord], bool]) -> TaskRecord:
    """The task once something holds of it; a busy machine only makes that later."""
    end = time.monotonic() + _LIMIT_SECONDS
    pause = threading.Event()
    while time.monotonic() < end:
        with database.session(write=False) as session:
            record = tasks.get(session, task_id)
        if holds(record):
            return record
        pause.wait(0.02)
    raise AssertionError(f"still {record.status} after {_LIMIT_SECONDS} s")


def ended(record: TaskRecord) -> bool:
    return record.status not in tasks.WAITING


def car() -> str:
    return json.dumps(job_document())


def many(count: int) -> str:
    """A job of many different panes, which is improved for long."""
    document = job_document()
    pane = document["job"]["windows"][2]
    document["job"]["windows"] = [
        pane | {"id": f"w{i}", "readings": {"width": {"typed": f"{20 + i}"}, "height": {"typed": f"{11 + i % 7}"}}}
        for i in range(count)
    ]
    return json.dumps(document)


def crash(kind: str, content: str, memory_mb: int, answers: Any) -> None:
    os.kill(os.getpid(), signal.SIGKILL)


def silence(kind: str, content: str, memory_mb: int, answers: Any) -> None:
    answers.close()


def test_a_task_is_done_in_a_process_of_its_own(database: Database, runner: TaskRunner) -> None:
    runner.start()
    task_id = ask(database, car())
    runner.wake()
    record = until(database, task_id, ended)
    assert (record.status, record.error) == ("done", "")
    assert record.summary["cut"] == ["bk", "df", "dr", "pf"]
    assert record.progress >= 1


def fault(kind: str, content: str, memory_mb: int, answers: Any) -> None:
    """A planner that finds one plan, then has a fault."""

    def faulty(asked: str) -> Iterator[Step]:
        yield next(work_module.KINDS["quick_cut"](asked))
        raise ZeroDivisionError("no such thing")

    work_module.KINDS["faulty"] = faulty
    work_module.work("faulty", content, memory_mb, answers)


def test_a_fault_is_told_as_what_it_is_under_a_number_of_the_log_and_what_was_found_stands(
    database: Database, runner: TaskRunner, monkeypatch: pytest.MonkeyPatch, caplog: pytest.LogCaptureFixture
) -> None:
    monkeypatch.setattr(runner_module, "work", fault)
    runner.start()
    record = until(database, ask(database, car()), ended)
    assert record.status == "done"
    assert record.result is not None
    assert "a fault (ZeroDivisionError)" in record.error
    assert "memory" not in record.error
    number = re.search(r"fault ([0-9a-f]{6}) in the server", record.error)
    assert number
    assert number[1] in caplog.text
    assert "no such thing" in caplog.text


@pytest.mark.parametrize(("target", "how"), [(crash, "was ended by signal 9"), (silence, "ended with code 0")])
def test_a_process_that_dies_or_says_nothing_has_failed(
    database: Database, runner: TaskRunner, monkeypatch: pytest.MonkeyPatch, target: Any, how: str
) -> None:
    monkeypatch.setattr(runner_module, "work", target)
    runner.start()
    record = until(database, ask(database, car()), ended)
    assert record.status == "failed"
    assert f"The planner {how} before it answered" in record.error
    monkeypatch.undo()
    assert until(database, ask(database, many(2)), ended).status == "done", "the next one is done all the same"


def test_what_needs_too_much_memory_fails_in_a_sentence(database: Database, runner: TaskRunner) -> None:
    runner.start()
    record = until(database, ask(database, many(9), memory_mb=1), ended)
    assert record.status == "failed"
    assert "more than 1 MB of memory" in record.error, "told by the task, or for it where a library ended the process"


def test_what_takes_too_long_ends_with_the_best_found(database: Database, runner: TaskRunner) -> None:
    runner.start()
    record = until(database, ask(database, many(40), deadline_s=0.0), ended)
    if record.result is None:
        assert (record.status, record.error) == ("failed", "Stopped after 0 seconds.")
    else:
        assert record.status == "done"


def test_a_cancelled_task_is_killed_and_keeps_its_best(database: Database, runner: TaskRunner) -> None:
    runner.start()
    task_id = ask(database, many(40))
    runner.wake()
    until(database, task_id, lambda record: record.result is not None or ended(record))
    with database.session(write=True) as session:
        tasks.finish(session, task_id, status="cancelled")
    runner.wake()
    assert until(database, ask(database, car()), ended).status == "done"
    with database.session(write=False) as session:
        stopped = tasks.get(session, task_id)
    assert stopped.status in ("cancelled", "done")
    assert stopped.result is not None


def test_what_ran_when_the_server_ended_is_done_after_it_starts_again(database: Database) -> None:
    task_id = ask(database, car())
    with database.session(write=True) as session:
        assert tasks.next_queued(session) is not None, "running, and nobody works on it"
    again = TaskRunner(database)
    again.start()
    assert until(database, task_id, ended).status == "done"
    again.stop()


def test_content_that_cannot_be_is_a_failure_in_words(database: Database, runner: TaskRunner) -> None:
    runner.start()
    record = until(database, ask(database, "{"), ended)
    assert (record.status, "broken at line 1" in record.error) == ("failed", True)

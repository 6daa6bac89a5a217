"""What runs inside the task process: a task's input in, ever better results out."""

from __future__ import annotations

import resource
import traceback
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from multiprocessing.connection import Connection
from typing import Any

from elumbra.core.errors import CoreError
from elumbra.documents.job_file import parse_job_file
from elumbra.storage import clock
from elumbra.storage.data_files import law_file, starting_values
from elumbra.tasks.day import DayInput, plan_day
from elumbra.tasks.day_sheet import DAY_PLAN, PROBLEM, day_plans
from elumbra.tasks.plan import PlanInput, plan_job_file, plan_shell
from elumbra.tasks.sheets import SheetInput, plan_sheets

_MB = 1_000_000


@dataclass(frozen=True)
class Step:
    """A result so far; ``summary`` is what the lists tell of it."""

    result: str
    summary: dict[str, Any]
    finished: bool


@dataclass(frozen=True)
class Failure:
    """Why there will be no (better) result, in a sentence; for a fault of ours its kind and where it came up."""

    error: str
    kind: str = ""
    trace: str = ""


def _plan(content: str, *, pull_from_customary: bool = False) -> Iterator[Step]:
    asked = PlanInput.model_validate_json(content)
    plans = plan_job_file(
        parse_job_file(asked.job.encode()), law_file(), starting_values(), today=clock.today_iso(),
        pull_from_customary=pull_from_customary, beside=asked.beside,
    )  # fmt: skip
    for plan in plans:
        yield Step(plan.model_dump_json(), plan.summary, plan.finished)


def _quick_cut(content: str) -> Iterator[Step]:
    return _plan(content, pull_from_customary=True)


def _day(content: str) -> Iterator[Step]:
    day = DayInput.model_validate_json(content)
    for plan in plan_day(day, law_file(), starting_values(), today=clock.today_iso()):
        yield Step(plan.model_dump_json(), plan.summary, plan.finished)


def _sheets(content: str) -> Iterator[Step]:
    asked = SheetInput.model_validate_json(content)
    for plan in plan_sheets(asked, plan_shell, law_file(), starting_values(), today=clock.today_iso()):
        yield Step(plan.model_dump_json(), {}, plan.finished)


def _day_sheet(content: str) -> Iterator[Step]:
    for found in day_plans(PROBLEM.validate_json(content)):
        yield Step(DAY_PLAN.dump_json(found).decode(), {}, found.finished)


KINDS: dict[str, Callable[[str], Iterator[Step]]] = {
    "plan": _plan,
    "quick_cut": _quick_cut,
    "day": _day,
    "sheets": _sheets,
    "day_sheet": _day_sheet,
}


def work(kind: str, content: str, memory_mb: int, answers: Connection) -> None:
    """Do a task and send each better result as a ``Step``; a ``Failure`` where it cannot be done.

    Memory beyond the limit is refused by the system: the task fails, the machine goes on.
    """
    try:
        _limit_memory(memory_mb)
        for step in KINDS[kind](content):
            answers.send(step)
    except CoreError as error:
        answers.send(Failure(error.message))
    except MemoryError:
        answers.send(Failure(f"This takes more than {memory_mb} MB of memory. Plan it in two jobs."))
    except BrokenPipeError:
        return  # nobody listens any more: the server is going down
    except Exception as error:
        answers.send(Failure("", type(error).__name__, traceback.format_exc()))
    finally:
        answers.close()


def _limit_memory(memory_mb: int) -> None:
    """Allow so much memory beyond what the process has already."""
    with open("/proc/self/statm", encoding="ascii") as file:  # noqa: PTH123  a system file of one line
        pages = int(file.read().split()[0])
    limit = pages * resource.getpagesize() + memory_mb * _MB
    resource.setrlimit(resource.RLIMIT_AS, (limit, limit))

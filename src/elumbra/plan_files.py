"""The command “plan”: a job file in; plan, cut sheet and drawings out, and what is short in words.

Exit codes: 0 all that may be cut has film; 3 the plan is written, but film is short; 1 the files cannot be written;
2 the job file cannot be used; 4 the planner has a fault. Nothing but a sentence is printed, whatever goes wrong.
"""

from __future__ import annotations

import sys
import traceback
from pathlib import Path

from elumbra.core.errors import CoreError
from elumbra.documents.cut_sheet import cut_sheet_pdf
from elumbra.documents.job_file import JobFileError, parse_job_file
from elumbra.documents.layout_svg import layout_svg
from elumbra.documents.paper import Paper
from elumbra.documents.plan import PlanDocument
from elumbra.storage import clock
from elumbra.storage.data_files import law_file, starting_values
from elumbra.tasks import final_plan

WHOLE, UNWRITABLE, SHORT, FAULT = 0, 1, 3, 4
_TRACE = "fault.txt"


def write_plan(job: Path, out: Path, paper: str) -> int:
    """Plan a job file and write what comes of it; the exit code.

    Raises
    ------
    CoreError
        The job file cannot be used.
    """
    try:
        content = job.read_bytes()
    except OSError as error:
        raise JobFileError(f"{job} cannot be read: {error.strerror}. Check the name.") from error
    document = parse_job_file(content)
    try:
        out.mkdir(parents=True, exist_ok=True)
        plan = final_plan(document, law_file(), starting_values(), today=clock.today_iso())
        for name, data in _files(plan, paper).items():
            (out / name).write_bytes(data)
            print(out / name)
    except CoreError:
        raise
    except OSError as error:
        print(f"elumbra: {error.filename or out}: {error.strerror}. Name another folder with --out.", file=sys.stderr)
        return UNWRITABLE
    except Exception as error:
        (out / _TRACE).write_text(traceback.format_exc(), encoding="utf-8")
        told = f"the planner has a fault ({type(error).__name__}); {out / _TRACE} says where."
        print(f"elumbra: {told} Change the job, or plan it in two.", file=sys.stderr)
        return FAULT
    return _tell(plan)


def _files(plan: PlanDocument, paper: str) -> dict[str, bytes]:
    files = {
        "plan.json": (plan.model_dump_json(indent=2) + "\n").encode(),
        "cut-sheet.pdf": cut_sheet_pdf(plan, paper=Paper(paper)),
    }
    for i, film in enumerate(plan.films):
        files[f"layout-{i + 1}.svg"] = layout_svg(film, told=plan.gate_lines())
    return files


def _tell(plan: PlanDocument) -> int:
    """What is ready, what is held back, what is short and what would do."""
    for film in plan.films:
        for item in film.unplaced:
            print(f"no film for {item.label}: {item.reason}", file=sys.stderr)
        for line in film.short.lines(film.film_name) if film.short else ():
            print(f"  {line}", file=sys.stderr)
    print(plan.ready)
    for held in plan.held:
        print(f"held back: {held.label}: {held.reason}", file=sys.stderr)
    return SHORT if any(film.unplaced for film in plan.films) else WHOLE

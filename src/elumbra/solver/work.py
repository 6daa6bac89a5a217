"""What runs inside the solver process: a job file in, ever better plans out."""

from __future__ import annotations

from multiprocessing.connection import Connection

from elumbra.core.errors import CoreError
from elumbra.documents.job_file import parse_job_file
from elumbra.documents.make_plan import plan_job_file
from elumbra.storage.clock import today_iso
from elumbra.storage.data_files import law_file, starting_values


def solve(document: str, pull_from_customary: bool, answers: Connection) -> None:
    """Plan a job file and send each better plan as ``("plan", json, finished)``.

    What cannot be planned is sent as ``("error", sentence)``.
    """
    try:
        job_file = parse_job_file(document.encode())
        plans = plan_job_file(
            job_file, law_file(), starting_values(), today=today_iso(), pull_from_customary=pull_from_customary
        )
        for plan in plans:
            answers.send(("plan", plan.model_dump_json(), plan.finished))
    except CoreError as error:
        answers.send(("error", error.message))
    except BrokenPipeError:
        return  # nobody listens any more: the server is going down
    finally:
        answers.close()

"""From a job file to its car, and what of it a plan depends on.

::

    records ──job_file()──▶ job file ──assemble()──▶ Car ──▶ screens
    a shop's export ───────────▲                      └────▶ plan, papers, command line
"""

from __future__ import annotations

import hashlib

from elumbra.core.law import LawFile
from elumbra.core.starting import StartingValues
from elumbra.core.work import Car, look_over
from elumbra.documents.job_core import core_job, law_of, with_lapsed
from elumbra.documents.job_file import JobFile, JobPart, check_references
from elumbra.documents.plan import PlanDocument

_UNREAD = "-"


def assemble(document: JobFile, shipped: LawFile, defaults: StartingValues, *, today: str, judged: bool = True) -> Car:
    """A job file's car, looked over.

    Parameters
    ----------
    document
        Job, films, stock; the law it was judged by, where it was.
    shipped
        The law file for a job that does not bring its law.
    defaults
        Starting values; the file's own ones are laid over them.
    today
        ISO day: of the law for such a job, and by which documents run out.
    judged
        Off for panes of no car, which no law speaks of.

    Raises
    ------
    CoreError
        The document holds something that cannot be; ``fields`` says where.
    """
    check_references(document)
    starting = defaults.with_shop_values(document.starting_values)
    law = law_of(document, shipped, today=today)
    job = with_lapsed(core_job(document, starting=starting), document, today=today)
    for code in job.vehicle.states:
        law.of(code)
    return look_over(job, law, starting=starting, judged=judged)


def plan_input(document: JobFile) -> JobFile:
    """A job file without what no plan reads: names, customer, notes."""
    job = document.job
    vehicle = type(job.vehicle)(**(vars(job.vehicle) | {"label": _UNREAD}))
    bare = JobPart(title=_UNREAD, vehicle=vehicle, windows=job.windows)
    return document.model_copy(update={"job": bare})


def input_hash(document: JobFile) -> str:
    """What a plan depends on, in one short text: the same for jobs that are cut alike."""
    return hashlib.sha256(plan_input(document).model_dump_json().encode()).hexdigest()


def named(plan: PlanDocument, job: JobPart) -> PlanDocument:
    """A plan under its job's names as they stand now."""
    return plan.model_copy(update={"title": job.title, "customer": job.customer, "vehicle": job.vehicle.label})

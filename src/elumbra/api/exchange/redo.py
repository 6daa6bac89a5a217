"""A redo is a job of its own, linked to the one that it mends. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.exchange.operations import Importer, import_job
from elumbra.car import job_file, load_parts, load_shop
from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.core.work import filmed_before
from elumbra.documents.job_file import JobFile, WindowPart
from elumbra.storage.store import films, jobs


def redo(session: Session, job_id: str, chosen: Sequence[str], importer: Importer) -> str:
    """A new job for windows of a delivered car: the same glass and film, whose old film comes off first. The job's id.

    The car as it went is not touched. Film on its other windows stays, and counts as such.

    Raises
    ------
    CoreError
        The car is still here, or one of the windows has no film of that job.
    """
    old = jobs(session).get_present(job_id)
    if old.status != State.DELIVERED.value:
        raise CoreError("This car is still here: mend it on this job. A redo is for a car that was delivered.")
    document = job_file(load_parts(session, old), load_shop(session))
    filmed = {one.id for one in document.job.windows if one.film}
    if not chosen or not set(chosen) <= filmed:
        raise CoreError("Choose windows that this job put film on.", fields={"windows": "At least one, with film."})
    made = jobs(session).get(import_job(session, _to_mend(session, document, set(chosen)), importer))
    linked = replace(
        made, title=f"Redo: {old.title}", body=old.body, redo_of=old.id, customer_id=old.customer_id,
        vehicle_id=old.vehicle_id,
    )  # fmt: skip
    jobs(session).update(linked, person_id=importer.person.id, action=f"redo of {old.number}")
    return made.id


def _to_mend(session: Session, document: JobFile, chosen: set[str]) -> JobFile:
    """The car as it stands now: film on all that was filmed, to come off where it is redone."""
    on_file = {one.id for one in films(session).all()}
    parts = [_as_it_stands(one, mend=one.id in chosen, on_file=on_file) for one in document.job.windows]
    job = document.job.model_copy(update={"windows": parts, "note": ""})
    return document.model_copy(update={"job": job})


def _as_it_stands(part: WindowPart, *, mend: bool, on_file: set[str]) -> WindowPart:
    bare: dict[str, Any] = {"reason": None, "cut": None, "ordered": None}
    if part.film is None:
        return replace(part, **bare)
    known = part.film if part.film in on_file else None
    film, layers = (known, part.layers) if mend else (None, (*part.layers, part.film))
    return replace(part, **bare, **filmed_before(comes_off=mend), film=film, layers=layers)

"""What offcuts of a job are called on the rack."""

from __future__ import annotations

from collections.abc import Iterator
from string import ascii_uppercase

from sqlalchemy.orm import Session

from elumbra.documents.plan import PlanDocument
from elumbra.storage.records import JobRecord
from elumbra.storage.store import cuttings, stock


def kept_labels(session: Session, job: JobRecord) -> Iterator[str]:
    """Labels for offcuts of a job that no other stock has: 1004-A, 1004-B and on."""
    present = {record.label.casefold() for record in stock(session).all()}
    given = {one.label for record in cuttings(session).all(job_id=job.id, removed_too=True) for one in record.kept}
    number = 0
    while True:
        label = f"{job.number}-{_letters(number)}"
        number += 1
        if label not in given and label.casefold() not in present:
            yield label


def _letters(number: int) -> str:
    """A, B, … Z, AA, AB …"""
    found = ""
    while number >= 0:
        found = ascii_uppercase[number % 26] + found
        number = number // 26 - 1
    return found


def with_labels(plan: PlanDocument, labels: Iterator[str]) -> PlanDocument:
    """The plan with a label of its own on every offcut worth keeping."""
    films = []
    for film in plan.films:
        used = {source.id for source in film.stocks if source.used_mm > 0}
        rests = [
            rest.model_copy(update={"label": next(labels)}) if rest.usable and rest.stock_id in used else rest
            for rest in film.leftovers
        ]
        films.append(film.model_copy(update={"leftovers": rests}))
    return plan.model_copy(update={"films": films})

"""What is printed of the bay."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.bay.schemas import CardQuery
from elumbra.api.bay.view import bay_of
from elumbra.documents.job_card import CardRun, CardStep, job_card_pdf
from elumbra.storage.records import PersonRecord


def card_of(session: Session, job_id: str, query: CardQuery, *, person: PersonRecord) -> tuple[str, bytes]:
    """The job card: its name, and the PDF.

    Raises
    ------
    CoreError
        The job's car cannot be put together.
    """
    bay = bay_of(session, job_id, person=person, unit=query.unit)
    why = {one.window_id: one.why for one in bay.order}
    runs = [
        CardRun(
            label=run.label + (", old film" if run.strip else ""),
            told=run.refusal or run.held or why.get(run.window_id or "", ""),
            minutes=sum(block.minutes for block in run.blocks),
            steps=tuple(
                CardStep(
                    phase=block.words if number == 0 else "", say=step.say, caution=step.caution, check=step.check,
                    wait=step.wait, special=step.special or step.again, done=step.done is not None,
                )
                for block in run.blocks
                for number, step in enumerate(step for step in run.steps if step.key in set(block.keys))
            ),
        )
        for run in bay.runs
    ]  # fmt: skip
    day = [f"Soap: {bay.day.soap}; for cleaning {bay.day.soap_rich}.", f"Windows stay up {bay.day.cure_days} days."]
    told = [bay.day.stop, *bay.day.told, *day, *(f"To put back: {one.thing} ({one.label})." for one in bay.apart)]
    return bay.title, job_card_pdf(bay.title, [one for one in told if one], runs, paper=query.paper)

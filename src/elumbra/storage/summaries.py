"""Jobs as the lists show them, kept from one look to the next."""

from __future__ import annotations

from collections.abc import Mapping

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from elumbra.storage.tables import SummaryRow


def kept(session: Session, basis: Mapping[str, str]) -> dict[str, str]:
    """By job, the summary that was worked out from the same basis."""
    query = select(SummaryRow.job_id, SummaryRow.basis, SummaryRow.content).where(SummaryRow.job_id.in_(list(basis)))
    return {job_id: content for job_id, was, content in session.execute(query) if was == basis[job_id]}


def keep(session: Session, worked_out: Mapping[str, tuple[str, str]]) -> None:
    """Keep summaries, each as its basis and content, in place of older ones."""
    session.execute(delete(SummaryRow).where(SummaryRow.job_id.in_(list(worked_out))))
    session.add_all(
        SummaryRow(job_id=job_id, basis=basis, content=content) for job_id, (basis, content) in worked_out.items()
    )  # fmt: skip

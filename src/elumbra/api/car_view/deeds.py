"""A job's deeds as its screens show them: what was done, what can be done now, and whose button it is."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import UTC
from types import MappingProxyType
from typing import Any

from sqlalchemy.orm import Session

from elumbra.api.base.roles import BENCH, EVERYONE, LEAD, TRUSTED, Role
from elumbra.api.car_view.schemas import DeedOut, NextDeedOut
from elumbra.car.day import shop_day
from elumbra.core.deeds import REASON_ASKED, Deed, State, possible
from elumbra.storage.deeds import counting, deeds_of
from elumbra.storage.records import JobRecord
from elumbra.storage.store import jobs

BY_BUTTON: Mapping[Deed, frozenset[Role]] = MappingProxyType(
    {
        Deed.ARRIVE: EVERYONE,
        Deed.START: BENCH,
        Deed.PAUSE: BENCH,
        Deed.FINISH: BENCH,
        Deed.CANCEL: TRUSTED,
        Deed.NO_SHOW: TRUSTED,
        Deed.STEP_BACK: LEAD,
    }
)
"""Whose button a deed is. A car is booked on the day sheet and delivered at Handover."""


def deeds_out(session: Session, job: JobRecord) -> dict[str, Any]:
    """What was done with a job, and what can be done now."""
    done = deeds_of(session, job.id)
    now = possible(State(job.status), before=bool(counting(done)))
    return {
        "deeds": [
            DeedOut(
                deed=Deed(one.deed), state=State(one.state), at=one.at.replace(tzinfo=UTC), person=one.person_name,
                reason=one.reason, by_upgrade="made_by_upgrade" in one.told,
            )
            for one in done
        ],
        "next_deeds": [
            NextDeedOut(
                deed=deed, reason_asked=deed in REASON_ASKED, roles=sorted(BY_BUTTON[deed]),
                bays=[bay.name for bay in shop_day(session).bays] if deed is Deed.START else [],
            )
            for deed in now
            if deed in BY_BUTTON and not job.removed
        ],
    }  # fmt: skip


def redos_out(session: Session, job: JobRecord) -> dict[str, Any]:
    """The job that a job mends, and those that mend it."""
    before = jobs(session).find(job.redo_of) if job.redo_of else None
    after = jobs(session).all(order="number", redo_of=job.id)
    return {
        "redo_of": {"id": before.id, "number": before.number} if before else None,
        "redone_in": [{"id": one.id, "number": one.number} for one in after],
    }

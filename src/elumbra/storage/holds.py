"""Film held for jobs. A hold is no movement: it says what others may not plan on.

It ends when the film is cut or released, when the job's plan comes to take other lengths, or with the
promised day.
"""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.storage import clock
from elumbra.storage.rack import holds
from elumbra.storage.records import HoldRecord
from elumbra.storage.store import stamp_shop

CUT, RELEASED, PLANNED_ANEW = "cut", "released", "planned anew"


def standing(session: Session, **equal: Any) -> list[HoldRecord]:
    """Holds that stand today, oldest first."""
    found = holds(session).all(order="on_day", ended="", **equal)
    return [hold for hold in found if hold.until >= clock.today_iso()]


def held_counts(session: Session, *, but_jobs: Collection[str] = ()) -> dict[str, int]:
    """By stock, how much is held; ``but_jobs`` leaves out what these jobs hold themselves."""
    found: dict[str, int] = {}
    for hold in standing(session):
        if hold.job_id not in but_jobs:
            found[hold.stock_id] = found.get(hold.stock_id, 0) + hold.count
    return found


def hold(
    session: Session, job_id: str, lengths: Mapping[str, int], *, until: str, person_id: str, person_name: str
) -> None:
    """Hold lengths for a job, in place of what it held before."""
    end(session, job_id, why=PLANNED_ANEW, person_id=person_id)
    for stock_id, count in lengths.items():
        record = HoldRecord(
            stock_id=stock_id, job_id=job_id, count=count, until=until, on_day=clock.today_iso(),
            person_name=person_name,
        )  # fmt: skip
        holds(session).create(record, person_id=person_id)
    stamp_shop(session)


def end(session: Session, job_id: str, *, why: str, person_id: str) -> None:
    """End what a job holds."""
    for one in standing(session, job_id=job_id):
        holds(session).update(replace(one, ended=why), person_id=person_id, action=why)
    stamp_shop(session)


def settle(session: Session, job_id: str, lengths: Mapping[str, int]) -> None:
    """A job was planned anew: what it holds stands only if the plan takes just that."""
    held = {one.stock_id: one.count for one in standing(session, job_id=job_id)}
    if held and held != dict(lengths):
        end(session, job_id, why=PLANNED_ANEW, person_id="planner")

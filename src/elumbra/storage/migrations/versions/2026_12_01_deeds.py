"""Deeds: what was done with each job, as far as its state of then tells; a job closed without a handover is delivered."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4

import sqlalchemy as sa
from alembic import op

revision = "2026_12_01_deeds"
down_revision = "2026_11_29_practice"
branch_labels = None
depends_on = None

_ROADS = {
    "inquiry": [],
    "booked": [("book", "booked")],
    "in_bay": [("start", "in_bay")],
    "paused": [("start", "in_bay"), ("pause", "paused")],
    "done": [("deliver", "delivered")],
}


def upgrade() -> None:
    op.create_table(
        "deed",
        sa.Column("id", sa.String(length=64), primary_key=True, nullable=False),
        sa.Column("job_id", sa.String(length=64), nullable=False),
        sa.Column("deed", sa.String(), nullable=False),
        sa.Column("state", sa.String(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.Column("told", sa.JSON(), nullable=False),
        sa.Column("person_id", sa.String(), nullable=False),
        sa.Column("person_name", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
    )
    op.create_index("ix_deed_job_id", "deed", ["job_id"])
    # Only a person's name, and what was said of one, may be erased from a deed.
    for event, name in (("UPDATE OF id, job_id, deed, state, told, person_id, at", "changed"), ("DELETE", "deleted")):
        op.execute(
            f"CREATE TRIGGER deed_never_{name} BEFORE {event} ON deed BEGIN SELECT RAISE(ABORT, 'deed is append-only'); END"
        )
    connection = op.get_bind()
    said = _last_said(connection)
    jobs = connection.exec_driver_sql(
        "SELECT job.id, job.status, job.handed_over_on, job.promised_at, job.created_at, booking.id"
        " FROM job LEFT JOIN booking ON booking.id = job.id AND NOT booking.removed"
    ).all()
    for job_id, status, handed_over_on, promised_at, created_at, booked in jobs:
        known = "inquiry" if status == "booked" and not (booked or promised_at) else status
        at, person_id, person = said.get(job_id, (created_at, "", ""))
        told: dict[str, Any] = {"made_by_upgrade": True}
        if known == "done" and not handed_over_on:
            told["without_handover"] = True
            handed_over_on = str(at)[:10]
        state = "inquiry"
        for deed, state in _ROADS.get(known, []):
            connection.exec_driver_sql(
                "INSERT INTO deed (id, job_id, deed, state, reason, told, person_id, person_name, at)"
                " VALUES (?, ?, ?, ?, '', ?, ?, ?, ?)",
                (uuid4().hex[:16], job_id, deed, state, json.dumps(told), person_id, person, at),
            )
        connection.exec_driver_sql(
            "UPDATE job SET status = ?, handed_over_on = ? WHERE id = ?", (state, handed_over_on, job_id)
        )


def _last_said(connection: sa.Connection) -> dict[str, tuple[str, str, str]]:
    """By job when its state was last said, and by whom."""
    rows = connection.exec_driver_sql(
        "SELECT audit.record_id, audit.at, audit.person_id, coalesce(person.name, '') FROM audit"
        " LEFT JOIN person ON person.id = audit.person_id"
        " WHERE audit.record_kind = 'job' AND json_extract(audit.changes, '$.status') IS NOT NULL ORDER BY audit.id"
    )
    return {row[0]: (row[1], row[2], row[3]) for row in rows}


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

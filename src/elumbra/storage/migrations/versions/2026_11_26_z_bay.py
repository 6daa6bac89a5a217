"""Work times by step and phase, and events found by their kind."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_11_26_z_bay"
down_revision = "2026_11_26_rack_ledger"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "work_time",
        sa.Column("id", sa.String(length=64), nullable=False),
        sa.Column("job_id", sa.String(length=64), nullable=False),
        sa.Column("window_kind", sa.String(), nullable=False),
        sa.Column("what", sa.String(), nullable=False),
        sa.Column("person_id", sa.String(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_work_time_job_id", "work_time", ["job_id"])
    op.create_index("work_time_at", "work_time", ["at"])
    op.create_index("step_event_kind", "step_event", ["kind"])


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

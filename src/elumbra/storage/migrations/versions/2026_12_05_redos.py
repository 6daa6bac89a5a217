"""Redos: the delivered job that a job mends."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_12_05_redos"
down_revision = "2026_12_04_marks_not_read"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("job", sa.Column("redo_of", sa.String(length=64), nullable=True))
    op.create_index("ix_job_redo_of", "job", ["redo_of"])

"""Deliveries: a car as it went, and its papers; until when a quote stands.

Cars of before are frozen in the background after the start.
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_12_02_deliveries"
down_revision = "2026_12_01_deeds"
branch_labels = None
depends_on = None

# What is said of a person may be erased: in a delivery, its job's file; a paper goes as a whole.
_NEVER = (
    ("delivery", "changed", "UPDATE OF id, job_id, number, release, settings, lines, person_id, at"),
    ("delivery", "deleted", "DELETE"),
    ("paper", "changed", "UPDATE"),
)


def upgrade() -> None:
    op.create_table(
        "delivery",
        sa.Column("id", sa.String(length=64), primary_key=True, nullable=False),
        sa.Column("job_id", sa.String(length=64), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("release", sa.String(), nullable=False),
        sa.Column("job_file", sa.JSON(), nullable=False),
        sa.Column("settings", sa.JSON(), nullable=False),
        sa.Column("lines", sa.JSON(), nullable=False),
        sa.Column("person_id", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
    )
    op.create_index("ix_delivery_job_id", "delivery", ["job_id"])
    op.create_index("delivery_job", "delivery", ["job_id", "number"], unique=True)
    op.create_table(
        "paper",
        sa.Column("id", sa.String(length=64), primary_key=True, nullable=False),
        sa.Column("delivery_id", sa.String(length=64), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("size", sa.String(), nullable=False),
        sa.Column("content", sa.LargeBinary(), nullable=False),
        sa.ForeignKeyConstraint(["delivery_id"], ["delivery.id"]),
    )
    op.create_index("ix_paper_delivery_id", "paper", ["delivery_id"])
    op.create_index("paper_of", "paper", ["delivery_id", "name", "size"], unique=True)
    op.add_column("quote", sa.Column("valid_until", sa.String(), nullable=False, server_default=""))
    for table, name, event in _NEVER:
        op.execute(
            f"CREATE TRIGGER {table}_never_{name} BEFORE {event} ON {table} "
            f"BEGIN SELECT RAISE(ABORT, '{table} is append-only'); END"
        )


def downgrade() -> None:
    raise NotImplementedError

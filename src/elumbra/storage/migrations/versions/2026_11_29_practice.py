"""Runs on the practice glass, and their strokes."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_11_29_practice"
down_revision = "2026_11_28_day_people_doors"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "practice_run",
        sa.Column("id", sa.String(length=64), primary_key=True, nullable=False),
        sa.Column("person_id", sa.String(), nullable=False),
        sa.Column("by", sa.String(length=16), nullable=False),
        sa.Column("lesson", sa.String(length=40), nullable=False),
        sa.Column("title", sa.String(), nullable=False),
        sa.Column("setup", sa.JSON(), nullable=False),
        sa.Column("setup_digest", sa.String(length=64), nullable=False),
        sa.Column("rules", sa.String(length=40), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("steps", sa.Integer(), nullable=False),
        sa.Column("over", sa.Boolean(), nullable=False),
        sa.Column("points", sa.Integer(), nullable=True),
        sa.Column("passed", sa.Boolean(), nullable=False),
        sa.Column("score", sa.JSON(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
    )
    op.create_index("practice_run_person", "practice_run", ["person_id", "lesson"])
    op.create_index("ix_practice_run_setup_digest", "practice_run", ["setup_digest"])
    op.create_table(
        "practice_strokes",
        sa.Column("run_id", sa.String(length=64), primary_key=True, nullable=False),
        sa.Column("after", sa.Integer(), primary_key=True, nullable=False),
        sa.Column("until", sa.Integer(), nullable=False),
        sa.Column("rows", sa.JSON(), nullable=False),
        sa.ForeignKeyConstraint(["run_id"], ["practice_run.id"]),
    )


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

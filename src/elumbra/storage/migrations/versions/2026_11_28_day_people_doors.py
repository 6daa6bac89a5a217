"""Passwords, devices, sittings, guesses; bookings, day sheets, promises; what a person is, besides name and role."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_11_28_day_people_doors"
down_revision = "2026_11_27_look"
branch_labels = None
depends_on = None


def _word(name: str, *, primary: bool = False, length: int | None = None) -> sa.Column:
    return sa.Column(name, sa.String(length=length), nullable=False, primary_key=primary)


def _at(name: str = "at", *, nullable: bool = False) -> sa.Column:
    return sa.Column(name, sa.DateTime(), nullable=nullable)


def _versioned() -> list[sa.Column]:
    return [
        _word("id", primary=True, length=64),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
    ]


def upgrade() -> None:
    op.add_column("person", sa.Column("facts", sa.JSON(), nullable=False, server_default="{}"))
    op.create_table(
        "credential", _word("person_id", primary=True, length=64), _word("kind", primary=True, length=16),
        _word("hash"), sa.Column("once", sa.Boolean(), nullable=False), _at(),
        sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
    )
    op.create_table("device", *_versioned(), _word("name"), _word("token_hash"), _word("enrolled_by"), _at())
    op.create_index("ix_device_token_hash", "device", ["token_hash"])
    op.create_table("enrolment", _word("code_hash", primary=True, length=64), _word("person_id"), _at("until"))
    op.create_table(
        "sitting", _word("token_hash", primary=True, length=64), _word("person_id", length=64), _word("device_id"),
        _word("address"), _at("began_at"), _at("seen_at"), sa.ForeignKeyConstraint(["person_id"], ["person.id"]),
    )
    op.create_index("ix_sitting_person_id", "sitting", ["person_id"])
    op.create_index("ix_sitting_seen_at", "sitting", ["seen_at"])
    op.create_table(
        "guess", _word("subject", primary=True, length=120), sa.Column("wrong", sa.Integer(), nullable=False), _at()
    )
    op.create_table(
        "booking", *_versioned(), _word("day"), _at("drop_off_at"), _at("pick_up_from", nullable=True),
        _at("pick_up_until", nullable=True), sa.Column("waits_here", sa.Boolean(), nullable=False),
        sa.Column("note", sa.Text(), nullable=False),
    )
    op.create_index("ix_booking_day", "booking", ["day"])
    op.create_table(
        "day_sheet", *_versioned(), sa.Column("facts", sa.JSON(), nullable=False),
        sa.Column("plan", sa.JSON(), nullable=False),
    )
    op.create_table(
        "promise", _word("id", primary=True, length=64), _word("job_id", length=64), _at("promised_at"),
        sa.Column("chance", sa.Double(), nullable=True), _word("person_id"), _at(),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
    )
    op.create_index("ix_promise_job_id", "promise", ["job_id"])
    for event in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER promise_no_{event.lower()} BEFORE {event} ON promise "
            "BEGIN SELECT RAISE(ABORT, 'promises are append-only'); END"
        )
    # A shop of an earlier release has people and no owner: its first lead is that.
    op.execute(
        "UPDATE person SET role = 'owner' WHERE id = (SELECT id FROM person WHERE role = 'lead' AND NOT removed "
        "ORDER BY rowid LIMIT 1) AND NOT EXISTS (SELECT 1 FROM person WHERE role = 'owner')"
    )


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

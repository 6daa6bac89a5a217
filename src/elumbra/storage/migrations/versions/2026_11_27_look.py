"""Flaws, looks, quotes, signatures, customers, vehicles, calls; pictures beside the database."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_11_27_look"
down_revision = "2026_11_26_z_bay"
branch_labels = None
depends_on = None


def _versioned() -> list[sa.Column]:
    return [
        sa.Column("id", sa.String(length=64), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
    ]


def _id() -> sa.Column:
    return sa.Column("id", sa.String(length=64), nullable=False)


def _job() -> list:
    return [sa.Column("job_id", sa.String(length=64), nullable=False), sa.ForeignKeyConstraint(["job_id"], ["job.id"])]


def _window() -> list:
    return [
        sa.Column("window_id", sa.String(length=64), nullable=False),
        sa.ForeignKeyConstraint(["window_id"], ["window.id"]),
    ]


def _word(name: str) -> sa.Column:
    return sa.Column(name, sa.String(), nullable=False)


def _text(name: str) -> sa.Column:
    return sa.Column(name, sa.Text(), nullable=False)


def _json(name: str) -> sa.Column:
    return sa.Column(name, sa.JSON(), nullable=False)


def _at(name: str = "at", *, nullable: bool = False) -> sa.Column:
    return sa.Column(name, sa.DateTime(), nullable=nullable)


def upgrade() -> None:
    op.create_table(
        "customer", *_versioned(), _word("name"), _word("phone"), _word("email"), _text("note"), _text("search"),
        sa.Column("merged_into", sa.String(length=64)), _word("erased_on"), sa.PrimaryKeyConstraint("id"),
    )
    op.create_table(
        "vehicle", *_versioned(), sa.Column("customer_id", sa.String(length=64)), _word("label"), _word("plate"),
        _word("vin"), _text("note"), _text("search"), sa.ForeignKeyConstraint(["customer_id"], ["customer.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_vehicle_customer_id", "vehicle", ["customer_id"])
    op.create_table(
        "flaw", *_versioned(), *_job(), *_window(), _word("kind"), sa.Column("x", sa.Double(), nullable=False),
        sa.Column("y", sa.Double(), nullable=False), _word("seen_from"), _word("state"),
        sa.Column("size_mm", sa.Double()), sa.Column("count", sa.Integer(), nullable=False), _word("when"),
        _text("note"), _json("answers"), _word("film_id"), _word("lot"), _word("decision"), _text("because"),
        _word("accepted_by"), sa.Column("tries", sa.Integer(), nullable=False), _word("closed"), _word("person_name"),
        _at(), sa.PrimaryKeyConstraint("id"),
    )
    for name in ("job_id", "window_id", "kind"):
        op.create_index(f"ix_flaw_{name}", "flaw", [name])
    op.create_table(
        "look", *_versioned(), *_job(), *_window(), _word("when"), sa.Column("clean", sa.Boolean(), nullable=False),
        _word("film_id"), _json("rulers"), _word("person_name"), _at(), sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_look_job_id", "look", ["job_id"])
    op.create_index("look_window", "look", ["window_id", "when"])
    op.create_table(
        "quote", *_versioned(), *_job(), sa.Column("number", sa.Integer(), nullable=False), _json("lines"),
        _json("own_lines"), _json("scope"), _json("told"), sa.Column("total_cents", sa.Integer(), nullable=False),
        _word("status"), _text("note"), _word("accepted_by"), _at("accepted_at", nullable=True), _word("person_name"),
        _at(), sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_quote_job_id", "quote", ["job_id"])
    op.create_index("quote_job", "quote", ["job_id", "number"], unique=True)
    op.create_table(
        "signature", _id(), *_job(), _word("what"), _word("about"), _word("name"), _word("how"), _json("strokes"),
        _json("told"), _word("person_id"), _at(), sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_signature_job_id", "signature", ["job_id"])
    op.create_table(
        "call", *_versioned(), *_job(), *_window(), _word("kind"), _text("said"), _json("answers"), _word("outcome"),
        _word("bears"), _json("reasons"), _text("overruled"), _word("status"), _word("person_name"), _at(),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_call_job_id", "call", ["job_id"])
    op.create_index("ix_call_status", "call", ["status"])
    with op.batch_alter_table("photo") as photo:
        photo.alter_column("content", existing_type=sa.LargeBinary(), nullable=True)
        photo.add_column(sa.Column("flaw_id", sa.String(length=64)))
        photo.add_column(sa.Column("sha256", sa.String(length=64), nullable=False, server_default=""))
        photo.add_column(sa.Column("width", sa.Integer(), nullable=False, server_default="0"))
        photo.add_column(sa.Column("height", sa.Integer(), nullable=False, server_default="0"))
        photo.create_index("ix_photo_flaw_id", ["flaw_id"])
    op.add_column("cutting", sa.Column("lots", sa.Text(), nullable=False, server_default=""))
    op.execute(
        "UPDATE cutting SET lots = coalesce((SELECT group_concat(lower(json_extract(w.value, '$.lot')), ' ') "
        "FROM json_each(cutting.content, '$.windows') w), '')"
    )
    op.create_index("ix_cutting_on_day", "cutting", ["on_day"])
    op.create_index("ix_movement_at", "movement", ["at"])
    op.create_index("ix_installed_reading_on_day", "installed_reading", ["on_day"])
    # The trail stays append-only but for one thing: what it says of a person may be erased, and says that it was.
    for table, column in (("audit", "changes"), ("step_event", "value")):
        op.execute(f"DROP TRIGGER IF EXISTS {table}_no_update")
        op.execute(
            f"CREATE TRIGGER {table}_no_update BEFORE UPDATE ON {table} "
            f"WHEN NOT json_valid(NEW.{column}) OR json_extract(NEW.{column}, '$.erased') IS NULL "
            "OR NEW.id IS NOT OLD.id OR NEW.at IS NOT OLD.at OR NEW.person_id IS NOT OLD.person_id "
            "BEGIN SELECT RAISE(ABORT, 'the trail is append-only'); END"
        )
    op.add_column("job", sa.Column("customer_id", sa.String(length=64)))
    op.add_column("job", sa.Column("vehicle_id", sa.String(length=64)))
    op.add_column("job", sa.Column("handed_over_on", sa.String(), nullable=False, server_default=""))
    for name in ("customer_id", "vehicle_id", "handed_over_on"):
        op.create_index(f"ix_job_{name}", "job", [name])


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

"""What is told of stock, film held for jobs, full rolls to recount by."""

from __future__ import annotations

import json
import secrets

import sqlalchemy as sa
from alembic import op

from elumbra.core.film import SHOP_LENGTH, SHOP_LETTERS

revision = "2026_11_26_rack_ledger"
down_revision = "2026_11_25_zzz_shelf"
branch_labels = None
depends_on = None


def _columns() -> list[sa.Column]:
    return [
        sa.Column("id", sa.String(length=64), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("removed", sa.Boolean(), nullable=False),
    ]


def upgrade() -> None:
    op.execute("ALTER TABLE stock ADD COLUMN number INTEGER NOT NULL DEFAULT 0")
    op.execute("ALTER TABLE stock ADD COLUMN place VARCHAR NOT NULL DEFAULT ''")
    op.execute("ALTER TABLE stock ADD COLUMN received_on VARCHAR NOT NULL DEFAULT ''")
    op.execute("ALTER TABLE stock ADD COLUMN opened_on VARCHAR NOT NULL DEFAULT ''")
    op.execute("ALTER TABLE stock ADD COLUMN slittable BOOLEAN NOT NULL DEFAULT 1")
    _known(op.get_bind())
    op.create_index("stock_number", "stock", ["number"], unique=True)
    op.create_table(
        "hold", *_columns(),
        sa.Column("stock_id", sa.String(length=64), nullable=False),
        sa.Column("job_id", sa.String(length=64), nullable=False),
        sa.Column("count", sa.Integer(), nullable=False),
        sa.Column("until", sa.String(), nullable=False),
        sa.Column("on_day", sa.String(), nullable=False),
        sa.Column("person_name", sa.String(), nullable=False),
        sa.Column("ended", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["stock_id"], ["stock.id"]),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_hold_stock_id", "hold", ["stock_id"])
    op.create_index("ix_hold_job_id", "hold", ["job_id"])
    op.create_table(
        "full_roll", *_columns(),
        sa.Column("film_id", sa.String(length=64), nullable=False),
        sa.Column("girth_mm", sa.Double(), nullable=False),
        sa.Column("core_mm", sa.Double(), nullable=False),
        sa.Column("length_mm", sa.Double(), nullable=False),
        sa.Column("on_day", sa.String(), nullable=False),
        sa.Column("person_name", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["film_id"], ["film.id"]),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_full_roll_film_id", "full_roll", ["film_id"])
    letters = "".join(secrets.choice(SHOP_LETTERS) for _ in range(SHOP_LENGTH))
    op.get_bind().execute(
        sa.text("INSERT INTO setting (id, version, removed, value) VALUES ('shop_code', 1, 0, :value)"),
        {"value": json.dumps({"value": letters})},
    )


def _known(connection) -> None:
    """A number for every label in the order in which stock came, and the days that the ledger knows."""
    first = sa.text("SELECT date(min(at)) FROM movement WHERE stock_id = :id AND kind = 'received'")
    opened = sa.text("SELECT date(min(at)) FROM movement WHERE stock_id = :id AND kind IN ('used', 'kept', 'waste')")
    rows = connection.execute(sa.text("SELECT id FROM stock ORDER BY rowid")).all()
    for number, (stock_id,) in enumerate(rows, start=1):
        days = [connection.execute(query, {"id": stock_id}).scalar() or "" for query in (first, opened)]
        connection.execute(
            sa.text("UPDATE stock SET number = :number, received_on = :first, opened_on = :opened WHERE id = :id"),
            {"number": number, "first": days[0], "opened": days[1], "id": stock_id},
        )


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

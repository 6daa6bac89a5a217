"""Exemptions: what a document says of itself, beside a lead's reason."""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "2026_12_03_exemptions"
down_revision = "2026_12_02_deliveries"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("reason", sa.Column("state", sa.String(), nullable=False, server_default=""))
    op.add_column("reason", sa.Column("issued_on", sa.String(), nullable=False, server_default=""))
    op.add_column("reason", sa.Column("no_expiry", sa.Boolean(), nullable=False, server_default=sa.false()))
    op.add_column("reason", sa.Column("least_percent", sa.Double(), nullable=True))
    op.add_column("reason", sa.Column("citation", sa.String(), nullable=False, server_default=""))

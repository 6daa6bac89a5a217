"""Cuttings and settings; a film's colours from a closed list, and a finish that somebody said or nobody did"""

import json

import sqlalchemy as sa
from alembic import op

from elumbra.core.film import colours_in

revision = "2026_11_25_zz_cuttings"
down_revision = "2026_11_25_z_facts_ledger_tasks"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table('cutting',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('input_hash', sa.String(), nullable=False),
    sa.Column('on_day', sa.String(), nullable=False),
    sa.Column('person_name', sa.String(), nullable=False),
    sa.Column('content', sa.JSON(), nullable=False),
    sa.ForeignKeyConstraint(['job_id'], ['job.id']),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_index('ix_cutting_job_id', 'cutting', ['job_id'])
    op.create_table('setting',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.Column('value', sa.JSON(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.execute("ALTER TABLE movement ADD COLUMN cutting_id VARCHAR(64) REFERENCES cutting (id)")
    _films(op.get_bind())


def _films(connection) -> None:
    """The box was off until somebody ticked it: off says nothing."""
    for film_id, content in connection.execute(sa.text("SELECT id, facts FROM film")).all():
        facts = json.loads(content)
        words = str(facts.pop("colour", "") or "")
        facts |= {"colours": [colour.value for colour in colours_in(words)], "colour_words": words[:120]}
        facts["mirror_finish"] = True if facts.get("mirror_finish") else None
        connection.execute(
            sa.text("UPDATE film SET facts = :facts WHERE id = :id"), {"facts": json.dumps(facts), "id": film_id}
        )


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

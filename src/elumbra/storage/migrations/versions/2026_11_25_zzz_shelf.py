"""The glass shelf, photos, drawn outlines; findings in the place of a window's list of features"""

import json

import sqlalchemy as sa
from alembic import op

from elumbra.documents.job_file import findings_of_features

revision = "2026_11_25_zzz_shelf"
down_revision = "2026_11_25_zz_cuttings"
branch_labels = None
depends_on = None

def upgrade() -> None:
    op.create_table('shelf_car',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('years', sa.String(), nullable=False),
    sa.Column('body', sa.String(), nullable=False),
    sa.Column('doors', sa.Integer(), nullable=True),
    sa.Column('trim', sa.Text(), nullable=False),
    sa.Column('search', sa.Text(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('shelf_pane',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.Column('car_id', sa.String(length=64), nullable=False),
    sa.Column('ordinal', sa.Integer(), nullable=False),
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('content', sa.JSON(), nullable=False),
    sa.Column('width_mm', sa.Double(), nullable=True),
    sa.Column('height_mm', sa.Double(), nullable=True),
    sa.Column('ring', sa.JSON(), nullable=False),
    sa.ForeignKeyConstraint(['car_id'], ['shelf_car.id']),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_index('ix_shelf_pane_car_id', 'shelf_pane', ['car_id'])
    op.create_table('shelf_revision',
    sa.Column('pane_id', sa.String(length=64), nullable=False),
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('content', sa.JSON(), nullable=False),
    sa.Column('why', sa.String(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['pane_id'], ['shelf_pane.id']),
    sa.PrimaryKeyConstraint('pane_id', 'revision')
    )
    op.create_table('photo',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('window_id', sa.String(length=64), nullable=True),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('content', sa.LargeBinary(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.ForeignKeyConstraint(['job_id'], ['job.id']),
    sa.ForeignKeyConstraint(['window_id'], ['window.id']),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_index('ix_photo_job_id', 'photo', ['job_id'])
    op.execute("ALTER TABLE window ADD COLUMN reentrant JSON NOT NULL DEFAULT '[]'")
    op.execute("ALTER TABLE window ADD COLUMN drawn JSON NOT NULL DEFAULT '[]'")
    op.execute("ALTER TABLE window ADD COLUMN shelf_pane_id VARCHAR(64) REFERENCES shelf_pane (id)")
    op.execute("ALTER TABLE window ADD COLUMN shelf_revision INTEGER")
    op.create_index('ix_window_shelf_pane_id', 'window', ['shelf_pane_id'])
    for table in ('shelf_revision', 'photo'):
        op.execute(
            f"CREATE TRIGGER {table}_never_changed BEFORE UPDATE ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'append-only'); END"
        )
        op.execute(
            f"CREATE TRIGGER {table}_never_deleted BEFORE DELETE ON {table} "
            "BEGIN SELECT RAISE(ABORT, 'append-only'); END"
        )
    _windows(op.get_bind())


def _windows(connection) -> None:
    """What was in or at the glass, as findings."""
    for window_id, content in connection.execute(sa.text("SELECT id, facts FROM window")).all():
        facts = json.loads(content)
        facts["findings"] = findings_of_features(facts.pop("features", None) or ())
        connection.execute(
            sa.text("UPDATE window SET facts = :facts WHERE id = :id"), {"facts": json.dumps(facts), "id": window_id}
        )


def downgrade() -> None:
    raise NotImplementedError("Restore a backup made before the upgrade instead.")

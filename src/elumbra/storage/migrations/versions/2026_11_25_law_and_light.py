"""Law that the shop keeps, reasons, readings after installation, more facts of films, jobs and windows"""

import sqlalchemy as sa
from alembic import op

revision = "2026_11_25_law_and_light"
down_revision = "2026_11_24_first_tables"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table('law_file',
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('content', sa.Text(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.PrimaryKeyConstraint('revision')
    )
    op.create_table('law_word',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('revision', sa.Integer(), nullable=False),
    sa.Column('withdrawn_revision', sa.Integer(), nullable=True),
    sa.Column('code', sa.String(), nullable=False),
    sa.Column('field', sa.String(), nullable=False),
    sa.Column('value', sa.JSON(), nullable=False),
    sa.Column('citation', sa.String(), nullable=False),
    sa.Column('effective_from', sa.String(), nullable=False),
    sa.Column('effective_until', sa.String(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('withdrawn_by', sa.String(), nullable=True),
    sa.Column('withdrawn_at', sa.DateTime(), nullable=True),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('law_word', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_law_word_code'), ['code'], unique=False)
        batch_op.create_index(batch_op.f('ix_law_word_revision'), ['revision'], unique=False)

    op.create_table('installed_reading',
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('window_id', sa.String(length=64), nullable=False),
    sa.Column('film_id', sa.String(length=64), nullable=False),
    sa.Column('lot', sa.String(), nullable=False),
    sa.Column('predicted_percent', sa.Double(), nullable=False),
    sa.Column('predicted_pm', sa.Double(), nullable=False),
    sa.Column('read_percent', sa.Double(), nullable=False),
    sa.Column('on_day', sa.String(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['film_id'], ['film.id'], ),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.ForeignKeyConstraint(['window_id'], ['window.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('installed_reading', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_installed_reading_film_id'), ['film_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_installed_reading_job_id'), ['job_id'], unique=False)

    op.create_table('reason',
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('window_id', sa.String(length=64), nullable=False),
    sa.Column('film_id', sa.String(length=64), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('wish', sa.String(), nullable=False),
    sa.Column('document', sa.String(), nullable=False),
    sa.Column('expires_on', sa.String(), nullable=False),
    sa.Column('note', sa.String(), nullable=False),
    sa.Column('person_name', sa.String(), nullable=False),
    sa.Column('on_day', sa.String(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['film_id'], ['film.id'], ),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.ForeignKeyConstraint(['window_id'], ['window.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('reason', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_reason_job_id'), ['job_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_reason_window_id'), ['window_id'], unique=False)

    with op.batch_alter_table('film', schema=None) as batch_op:
        batch_op.add_column(sa.Column('reflectance_inside_percent', sa.Double(), nullable=True))
        batch_op.add_column(sa.Column('uv_rejection_percent', sa.Double(), nullable=True))
        batch_op.add_column(sa.Column('warranty', sa.String(), server_default='unknown', nullable=False))
        batch_op.add_column(sa.Column('warranty_years', sa.Double(), nullable=True))

    with op.batch_alter_table('job', schema=None) as batch_op:
        batch_op.add_column(sa.Column('registered_as', sa.String(), nullable=True))
        batch_op.add_column(sa.Column('no_glass_at', sa.JSON(), server_default='[]', nullable=False))
        batch_op.add_column(sa.Column('law_day', sa.String(), server_default='', nullable=False))
        batch_op.add_column(sa.Column('law_revision', sa.Integer(), server_default='0', nullable=False))

    with op.batch_alter_table('window', schema=None) as batch_op:
        batch_op.add_column(sa.Column('bare_readings_percent', sa.JSON(), server_default='[]', nullable=False))
        batch_op.add_column(sa.Column('bare_vlt_through_old_film', sa.Boolean(), server_default='0', nullable=False))
        batch_op.add_column(sa.Column('old_film_stays', sa.Boolean(), server_default='0', nullable=False))
        batch_op.add_column(sa.Column('layers', sa.JSON(), server_default='[]', nullable=False))
        batch_op.add_column(sa.Column('factory_glass', sa.Boolean(), nullable=True))
        batch_op.add_column(sa.Column('as1_mark', sa.Boolean(), nullable=True))
        batch_op.add_column(sa.Column('features', sa.JSON(), server_default='[]', nullable=False))
        batch_op.add_column(sa.Column('strip_shape', sa.String(), server_default='straight', nullable=False))
        batch_op.add_column(sa.Column('strip_pieces', sa.Integer(), server_default='1', nullable=False))


def downgrade() -> None:
    for table, columns in (
        ("window", ("bare_readings_percent", "bare_vlt_through_old_film", "old_film_stays", "layers", "factory_glass",
                    "as1_mark", "features", "strip_shape", "strip_pieces")),
        ("job", ("registered_as", "no_glass_at", "law_day", "law_revision")),
        ("film", ("reflectance_inside_percent", "uv_rejection_percent", "warranty", "warranty_years")),
    ):
        with op.batch_alter_table(table) as batch_op:
            for column in columns:
                batch_op.drop_column(column)
    for table in ("reason", "installed_reading", "law_word", "law_file"):
        op.drop_table(table)

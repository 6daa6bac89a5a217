"""First tables"""

import sqlalchemy as sa
from alembic import op

revision = '2026_11_24_first_tables'
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table('audit',
    sa.Column('id', sa.Integer(), autoincrement=True, nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('action', sa.String(), nullable=False),
    sa.Column('record_kind', sa.String(), nullable=False),
    sa.Column('record_id', sa.String(), nullable=False),
    sa.Column('record_version', sa.Integer(), nullable=False),
    sa.Column('job_id', sa.String(), nullable=True),
    sa.Column('changes', sa.JSON(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('audit', schema=None) as batch_op:
        batch_op.create_index('audit_record', ['record_kind', 'record_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_audit_job_id'), ['job_id'], unique=False)

    op.create_table('film',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('construction', sa.String(), nullable=False),
    sa.Column('vlt_percent', sa.Double(), nullable=False),
    sa.Column('vlt_basis', sa.String(), nullable=False),
    sa.Column('reflectance_percent', sa.Double(), nullable=True),
    sa.Column('colour', sa.String(), nullable=False),
    sa.Column('mirror_finish', sa.Boolean(), nullable=False),
    sa.Column('solar_transmittance_percent', sa.Double(), nullable=True),
    sa.Column('solar_reflectance_percent', sa.Double(), nullable=True),
    sa.Column('shrink_limit_percent', sa.Double(), nullable=True),
    sa.Column('price_per_m2', sa.Double(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('job',
    sa.Column('number', sa.Integer(), nullable=False),
    sa.Column('title', sa.String(), nullable=False),
    sa.Column('customer', sa.String(), nullable=False),
    sa.Column('note', sa.Text(), nullable=False),
    sa.Column('status', sa.String(), nullable=False),
    sa.Column('bay', sa.String(), nullable=False),
    sa.Column('promised_at', sa.DateTime(), nullable=True),
    sa.Column('vehicle_label', sa.String(), nullable=False),
    sa.Column('body', sa.String(), nullable=False),
    sa.Column('vehicle_class', sa.String(), nullable=False),
    sa.Column('states', sa.JSON(), nullable=False),
    sa.Column('mirrors_both_sides', sa.Boolean(), nullable=True),
    sa.Column('model_year', sa.Integer(), nullable=True),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.PrimaryKeyConstraint('id'),
    sa.UniqueConstraint('number')
    )
    with op.batch_alter_table('job', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_job_status'), ['status'], unique=False)

    op.create_table('person',
    sa.Column('name', sa.String(), nullable=False),
    sa.Column('role', sa.String(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('shop_value',
    sa.Column('value', sa.Double(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('write',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('request', sa.String(), nullable=False),
    sa.Column('status', sa.Integer(), nullable=False),
    sa.Column('body', sa.Text(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('solve',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=True),
    sa.Column('input_hash', sa.String(), nullable=False),
    sa.Column('input', sa.Text(), nullable=False),
    sa.Column('pull_from_customary', sa.Boolean(), nullable=False),
    sa.Column('status', sa.String(), nullable=False),
    sa.Column('step', sa.Integer(), nullable=False),
    sa.Column('plan', sa.Text(), nullable=True),
    sa.Column('error', sa.String(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('finished_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('solve', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_solve_input_hash'), ['input_hash'], unique=False)
        batch_op.create_index(batch_op.f('ix_solve_job_id'), ['job_id'], unique=False)
        batch_op.create_index(batch_op.f('ix_solve_status'), ['status'], unique=False)

    op.create_table('stock',
    sa.Column('film_id', sa.String(length=64), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('label', sa.String(), nullable=False),
    sa.Column('width_typed', sa.String(), nullable=False),
    sa.Column('width_mm', sa.Double(), nullable=False),
    sa.Column('full_length_typed', sa.String(), nullable=False),
    sa.Column('full_length_mm', sa.Double(), nullable=False),
    sa.Column('length_left_typed', sa.String(), nullable=False),
    sa.Column('length_left_mm', sa.Double(), nullable=False),
    sa.Column('price', sa.Double(), nullable=False),
    sa.Column('lot', sa.String(), nullable=False),
    sa.Column('liner', sa.String(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['film_id'], ['film.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('stock', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_stock_film_id'), ['film_id'], unique=False)

    op.create_table('window',
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('ordinal', sa.Integer(), nullable=False),
    sa.Column('label', sa.String(), nullable=False),
    sa.Column('position', sa.String(), nullable=False),
    sa.Column('side', sa.String(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('glass_type', sa.String(), nullable=False),
    sa.Column('bare_vlt_percent', sa.Double(), nullable=True),
    sa.Column('bare_vlt_source', sa.String(), nullable=False),
    sa.Column('old_film', sa.Boolean(), nullable=False),
    sa.Column('film_id', sa.String(length=64), nullable=True),
    sa.Column('coverage', sa.String(), nullable=False),
    sa.Column('curve', sa.String(), nullable=False),
    sa.Column('level', sa.String(), nullable=False),
    sa.Column('figure', sa.String(), nullable=False),
    sa.Column('readings', sa.JSON(), nullable=False),
    sa.Column('same_as_id', sa.String(length=64), nullable=True),
    sa.Column('same_as_mirrored', sa.Boolean(), nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('version', sa.Integer(), nullable=False),
    sa.Column('removed', sa.Boolean(), nullable=False),
    sa.ForeignKeyConstraint(['film_id'], ['film.id'], ),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.ForeignKeyConstraint(['same_as_id'], ['window.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    with op.batch_alter_table('window', schema=None) as batch_op:
        batch_op.create_index(batch_op.f('ix_window_job_id'), ['job_id'], unique=False)

    for verb in ("UPDATE", "DELETE"):
        op.execute(
            f"CREATE TRIGGER audit_no_{verb.lower()} BEFORE {verb} ON audit "
            "BEGIN SELECT RAISE(ABORT, 'the audit trail is append-only'); END"
        )


def downgrade() -> None:
    with op.batch_alter_table('window', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_window_job_id'))

    op.drop_table('window')
    with op.batch_alter_table('stock', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_stock_film_id'))

    op.drop_table('stock')
    with op.batch_alter_table('solve', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_solve_status'))
        batch_op.drop_index(batch_op.f('ix_solve_job_id'))
        batch_op.drop_index(batch_op.f('ix_solve_input_hash'))

    op.drop_table('solve')
    op.drop_table('write')
    op.drop_table('shop_value')
    op.drop_table('person')
    with op.batch_alter_table('job', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_job_status'))

    op.drop_table('job')
    op.drop_table('film')
    with op.batch_alter_table('audit', schema=None) as batch_op:
        batch_op.drop_index(batch_op.f('ix_audit_job_id'))
        batch_op.drop_index('audit_record')

    op.drop_table('audit')

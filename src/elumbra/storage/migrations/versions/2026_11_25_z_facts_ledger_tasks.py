"""Facts kept as they are declared, a ledger for the rack, events, tasks of any kind, stored summaries"""

import json
from datetime import UTC, datetime

import sqlalchemy as sa
from alembic import op

revision = "2026_11_25_z_facts_ledger_tasks"
down_revision = "2026_11_25_law_and_light"
branch_labels = None
depends_on = None

FILM = {
    "name": None, "construction": None, "vlt_percent": None, "vlt_basis": None, "reflectance_percent": None,
    "colour": None, "mirror_finish": bool, "solar_transmittance_percent": None, "solar_reflectance_percent": None,
    "shrink_limit_percent": None, "reflectance_inside_percent": None, "uv_rejection_percent": None, "warranty": None,
    "warranty_years": None,
}
JOB = {
    "vehicle_class": None, "states": json.loads, "mirrors_both_sides": bool, "model_year": None,
    "registered_as": None, "no_glass_at": json.loads,
}
WINDOW = {
    "position": None, "side": None, "kind": None, "glass_type": None, "bare_vlt_percent": None,
    "bare_vlt_source": None, "bare_readings_percent": json.loads, "bare_vlt_through_old_film": bool, "old_film": bool,
    "old_film_stays": bool, "factory_glass": bool, "as1_mark": bool, "features": json.loads, "coverage": None,
    "strip_shape": None, "strip_pieces": None,
}
APPEND_ONLY = ("movement", "step_event")


def upgrade() -> None:
    connection = op.get_bind()
    for table, columns in (("film", FILM), ("job", JOB), ("window", WINDOW)):
        _into_facts(connection, table, columns)
    op.execute("ALTER TABLE job ADD COLUMN stamp INTEGER NOT NULL DEFAULT 0")
    op.execute("CREATE INDEX ix_window_film_id ON window (film_id)")
    _create_tables()
    _open_ledger(connection)
    _tasks_from_solves(connection)
    op.execute("ALTER TABLE write ADD COLUMN digest VARCHAR(64) NOT NULL DEFAULT ''")
    op.execute("ALTER TABLE write ADD COLUMN about VARCHAR NOT NULL DEFAULT ''")
    op.execute("ALTER TABLE write DROP COLUMN status")
    op.execute("ALTER TABLE write DROP COLUMN body")
    op.execute("CREATE INDEX ix_write_at ON write (at)")
    op.execute("INSERT INTO shop_stamp (id, stamp) VALUES (1, 0)")
    for table in APPEND_ONLY:
        for verb in ("UPDATE", "DELETE"):
            op.execute(
                f"CREATE TRIGGER {table}_no_{verb.lower()} BEFORE {verb} ON {table} "
                f"BEGIN SELECT RAISE(ABORT, 'the {table.replace('_', ' ')} rows are append-only'); END"
            )


def _into_facts(connection, table, columns) -> None:
    op.execute(f"ALTER TABLE {table} ADD COLUMN facts JSON NOT NULL DEFAULT '{{}}'")
    rows = connection.execute(sa.text(f"SELECT id, {', '.join(columns)} FROM {table}")).all()
    for record_id, *values in rows:
        facts = {
            name: read(value) if read and value is not None else value
            for (name, read), value in zip(columns.items(), values, strict=True)
        }
        connection.execute(
            sa.text(f"UPDATE {table} SET facts = :facts WHERE id = :id"), {"facts": json.dumps(facts), "id": record_id}
        )
    for name in columns:
        op.execute(f"ALTER TABLE {table} DROP COLUMN {name}")


def _create_tables() -> None:
    op.create_table('shop_stamp',
    sa.Column('id', sa.Integer(), nullable=False),
    sa.Column('stamp', sa.Integer(), nullable=False),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_table('task',
    sa.Column('seq', sa.Integer(), autoincrement=True, nullable=False),
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=True),
    sa.Column('input_hash', sa.String(), nullable=False),
    sa.Column('input', sa.Text(), nullable=False),
    sa.Column('status', sa.String(), nullable=False),
    sa.Column('progress', sa.Integer(), nullable=False),
    sa.Column('result', sa.Text(), nullable=True),
    sa.Column('summary', sa.JSON(), nullable=False),
    sa.Column('error', sa.String(), nullable=False),
    sa.Column('attempts', sa.Integer(), nullable=False),
    sa.Column('deadline_s', sa.Double(), nullable=False),
    sa.Column('memory_mb', sa.Integer(), nullable=False),
    sa.Column('created_at', sa.DateTime(), nullable=False),
    sa.Column('finished_at', sa.DateTime(), nullable=True),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.PrimaryKeyConstraint('seq'),
    sa.UniqueConstraint('id')
    )
    for column in ("input_hash", "job_id", "status"):
        op.create_index(f"ix_task_{column}", "task", [column])
    op.create_table('movement',
    sa.Column('id', sa.Integer(), autoincrement=True, nullable=False),
    sa.Column('stock_id', sa.String(length=64), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('count', sa.Integer(), nullable=False),
    sa.Column('typed', sa.String(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=True),
    sa.Column('note', sa.String(), nullable=False),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.ForeignKeyConstraint(['stock_id'], ['stock.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    for column in ("job_id", "stock_id"):
        op.create_index(f"ix_movement_{column}", "movement", [column])
    op.create_table('step_event',
    sa.Column('id', sa.String(length=64), nullable=False),
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('window_id', sa.String(length=64), nullable=True),
    sa.Column('step', sa.String(), nullable=False),
    sa.Column('kind', sa.String(), nullable=False),
    sa.Column('happened_at', sa.DateTime(), nullable=False),
    sa.Column('at', sa.DateTime(), nullable=False),
    sa.Column('person_id', sa.String(), nullable=False),
    sa.Column('value', sa.Text(), nullable=False),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.ForeignKeyConstraint(['window_id'], ['window.id'], ),
    sa.PrimaryKeyConstraint('id')
    )
    op.create_index("ix_step_event_job_id", "step_event", ["job_id"])
    op.create_table('summary',
    sa.Column('job_id', sa.String(length=64), nullable=False),
    sa.Column('basis', sa.String(), nullable=False),
    sa.Column('content', sa.Text(), nullable=False),
    sa.ForeignKeyConstraint(['job_id'], ['job.id'], ),
    sa.PrimaryKeyConstraint('job_id')
    )


def _open_ledger(connection) -> None:
    """What is on the rack now: received in full, then corrected to what was noted as left."""
    rows = connection.execute(
        sa.text("SELECT id, full_length_mm, full_length_typed, length_left_mm, length_left_typed FROM stock")
    ).all()
    at = datetime.now(UTC).replace(tzinfo=None, microsecond=0)
    entry = sa.text(
        "INSERT INTO movement (stock_id, kind, count, typed, at, person_id, note) "
        "VALUES (:stock, :kind, :count, :typed, :at, 'upgrade', :note)"
    )
    for stock_id, full, full_typed, left, left_typed in rows:
        received, rest = round(full / 0.0125), round(left / 0.0125)
        common = {"stock": stock_id, "at": at, "note": "ledger opened"}
        connection.execute(entry, common | {"kind": "received", "count": received, "typed": full_typed})
        if rest != received:
            connection.execute(entry, common | {"kind": "corrected", "count": rest - received, "typed": left_typed})
    op.execute("ALTER TABLE stock DROP COLUMN length_left_mm")
    op.execute("ALTER TABLE stock DROP COLUMN length_left_typed")


def _tasks_from_solves(connection) -> None:
    """Finished layouts stay as what the lists tell of them; they are worked out anew when looked at."""
    rows = connection.execute(
        sa.text("SELECT id, job_id, plan, created_at, finished_at FROM solve "
                "WHERE status = 'done' AND plan IS NOT NULL AND job_id IS NOT NULL ORDER BY created_at, id")
    ).all()  # fmt: skip
    entry = sa.text(
        "INSERT INTO task (id, kind, job_id, input_hash, input, status, progress, result, summary, error, attempts, "
        "deadline_s, memory_mb, created_at, finished_at) VALUES (:id, 'plan', :job, :id, '', 'done', 1, NULL, "
        ":summary, '', 1, 120, 1500, :created, :finished)"
    )
    for task_id, job_id, plan, created, finished in rows:
        short = [f"{item['label']}: no film. {item['reason']}" for f in json.loads(plan)["films"] for item in f["unplaced"]]
        summary = json.dumps({"cut": [], "unplaced": short})
        values = {"id": task_id, "job": job_id, "summary": summary, "created": created, "finished": finished}
        connection.execute(entry, values)
    op.drop_table("solve")


def downgrade() -> None:
    raise NotImplementedError("Restore the copy that was made before the upgrade.")

"""Runs migrations on the engine that the application hands over."""

from alembic import context

from elumbra.storage import door_tables, kept_tables, practice_tables  # noqa: F401  their tables belong to the same database
from elumbra.storage.declared import Base

engine = context.config.attributes["engine"]
with engine.connect().execution_options(elumbra_write=True) as connection:
    context.configure(connection=connection, target_metadata=Base.metadata, render_as_batch=True)
    with context.begin_transaction():
        context.run_migrations()

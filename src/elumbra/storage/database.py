"""The one SQLite file of a shop: connection settings, transactions, migrations."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from sqlalchemy import Engine, create_engine, event
from sqlalchemy.orm import Session

_MIGRATIONS = Path(__file__).parent / "migrations"
_BUSY_MS = 5000


class Database:
    """Opens sessions on one SQLite file: WAL, foreign keys, full sync, one writer at a time."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.engine = _engine(path)

    @contextmanager
    def session(self, *, write: bool) -> Iterator[Session]:
        """A transaction: committed at the end, rolled back on any error.

        A writing one takes SQLite's write lock at once, so that what it reads cannot change
        under it.
        """
        with Session(self.engine, expire_on_commit=False) as session:
            session.connection(execution_options={"elumbra_write": write})
            try:
                yield session
                session.commit()
            except BaseException:
                session.rollback()
                raise

    def migrate(self) -> None:
        """Bring the file's tables to the newest migration; creates the file."""
        self.path.parent.mkdir(parents=True, exist_ok=True)
        config = Config()
        config.set_main_option("script_location", str(_MIGRATIONS))
        config.attributes["engine"] = self.engine
        command.upgrade(config, "head")

    def close(self) -> None:
        """Close all connections."""
        self.engine.dispose()


def _engine(path: Path) -> Engine:
    engine = create_engine(f"sqlite:///{path}", connect_args={"timeout": _BUSY_MS / 1000})

    @event.listens_for(engine, "connect")
    def _on_connect(connection: Any, _: Any) -> None:
        connection.isolation_level = None  # transactions are begun below, not by the driver
        cursor = connection.cursor()
        for pragma in ("journal_mode=WAL", "foreign_keys=ON", "synchronous=FULL", f"busy_timeout={_BUSY_MS}"):
            cursor.execute(f"PRAGMA {pragma}")
        cursor.close()

    @event.listens_for(engine, "begin")
    def _on_begin(connection: Any) -> None:
        write = connection.get_execution_options().get("elumbra_write", False)
        connection.exec_driver_sql("BEGIN IMMEDIATE" if write else "BEGIN")

    return engine

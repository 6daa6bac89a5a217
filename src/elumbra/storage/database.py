"""The one SQLite file of a shop: connection settings, transactions, migrations, what can be wrong with it."""

from __future__ import annotations

import sqlite3
import threading
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any

from alembic import command
from alembic.config import Config
from alembic.script import ScriptDirectory
from sqlalchemy import Engine, create_engine, event, text
from sqlalchemy.exc import DatabaseError, OperationalError
from sqlalchemy.orm import Session

_MIGRATIONS = Path(__file__).parent / "migrations"
BESIDE = ("-wal", "-shm")
"""What SQLite keeps beside its file while it is open, or after its process was killed."""
_BUSY_MS = 5000
_RETRIES = 3
_RETRY_SECONDS = 0.2
_WRITER_SECONDS = 30.0


class BusyError(Exception):
    """Somebody else is writing, and has been for long."""


class DiskFullError(Exception):
    """Nothing more can be kept: the disk is full."""


class ReadOnlyError(Exception):
    """Nothing can be kept: the file or its disk may only be read."""


class UnusableDatabaseError(Exception):
    """The file cannot be worked with; the message says why and what mends it."""


class Database:
    """Opens sessions on one SQLite file: WAL, foreign keys, full sync, one writer at a time."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self.engine = _engine(path)
        # Writers of this process wait for each other here, in turn, and not at SQLite's lock.
        self._writer = threading.Lock()

    @contextmanager
    def session(self, *, write: bool) -> Iterator[Session]:
        """A transaction: committed at the end, rolled back on any error.

        A writing one takes SQLite's write lock at once, so that what it reads cannot change
        under it.

        Raises
        ------
        BusyError
            The write lock could not be had.
        DiskFullError
            What was written finds no room; nothing of it was kept.
        """
        if write and not self._writer.acquire(timeout=_WRITER_SECONDS):
            raise BusyError
        try:
            with Session(self.engine, expire_on_commit=False) as session:
                self._begin(session, write=write)
                try:
                    yield session
                    session.commit()
                except BaseException as error:
                    session.rollback()
                    if isinstance(error, DatabaseError):
                        _raise_known(error)
                    raise
        finally:
            if write:
                self._writer.release()

    @staticmethod
    def _begin(session: Session, *, write: bool) -> None:
        for attempt in range(_RETRIES + 1):
            try:
                session.connection(execution_options={"elumbra_write": write})
            except OperationalError as error:
                session.rollback()
                if not _says(error, "locked") or attempt == _RETRIES:
                    _raise_known(error)
                    raise
                time.sleep(_RETRY_SECONDS * (attempt + 1))
            else:
                return

    def check(self) -> None:
        """Look whether the file can be worked with, before anything is done with it.

        Raises
        ------
        UnusableDatabaseError
            Not a database, damaged, foreign, or of a newer release.
        """
        if not self.path.exists() or self.path.stat().st_size == 0:
            return
        name = self.path
        mend = "Put back a copy: ./elumbra restore --data DIR COPY"
        try:
            with closing(sqlite3.connect(f"file:{name}?mode=ro", uri=True)) as connection:
                verdict = str(connection.execute("PRAGMA quick_check(1)").fetchone()[0])
                tables = {row[0] for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
                ours = "alembic_version" in tables
                version = connection.execute("SELECT version_num FROM alembic_version").fetchone() if ours else None
        except sqlite3.DatabaseError as error:
            raise UnusableDatabaseError(f"{name} is not a database that can be read ({error}). {mend}") from error
        if verdict != "ok":
            raise UnusableDatabaseError(f"{name} is damaged ({verdict}). {mend}")
        if tables and version is None:
            raise UnusableDatabaseError(f"{name} is some other program's database. Name another folder with --data.")
        if version and version[0] not in _known_revisions():
            raise UnusableDatabaseError(
                f"{name} was written by a newer release of Elumbra. Update the program, or name another folder with "
                "--data."
            )

    def migrate(self) -> None:
        """Bring the file's tables to the newest migration; creates the file, readable by its owner only.

        Raises
        ------
        UnusableDatabaseError, OSError
            The file cannot be worked with or written.
        """
        self.path.parent.mkdir(parents=True, exist_ok=True)
        self.path.touch(mode=0o600)
        for path in (self.path, *(self.path.with_name(self.path.name + end) for end in BESIDE)):
            if path.exists():
                path.chmod(0o600)
        self.check()
        try:
            command.upgrade(self._alembic(), "head")
        except DatabaseError as error:
            _raise_known(error)
            raise UnusableDatabaseError(
                f"{self.path} cannot be written: {error.orig}. Mend that, or name another folder with --data."
            ) from error

    def _alembic(self) -> Config:
        config = Config()
        config.set_main_option("script_location", str(_MIGRATIONS))
        config.attributes["engine"] = self.engine
        return config

    def at_head(self) -> bool:
        """Whether all migrations ran; also for a file that has none yet."""
        if not self.path.exists():
            return True
        with self.engine.connect() as connection:
            tables = connection.execute(text("SELECT name FROM sqlite_master WHERE name = 'alembic_version'")).first()
            if tables is None:
                return True
            version = connection.execute(text("SELECT version_num FROM alembic_version")).scalar()
        return version == ScriptDirectory(str(_MIGRATIONS)).get_current_head()

    @contextmanager
    def standing_still(self) -> Iterator[None]:
        """Nobody of this process writes meanwhile.

        Raises
        ------
        BusyError
            Somebody writes and does not end.
        """
        if not self._writer.acquire(timeout=_WRITER_SECONDS):
            raise BusyError
        try:
            yield
        finally:
            self._writer.release()

    def close(self) -> None:
        """Close all connections."""
        self.engine.dispose()


def _known_revisions() -> frozenset[str]:
    return frozenset(script.revision for script in ScriptDirectory(str(_MIGRATIONS)).walk_revisions())


def _says(error: DatabaseError, words: str) -> bool:
    return words in str(error.orig)


def _raise_known(error: DatabaseError) -> None:
    """Raise our own error for what people can do something about."""
    if _says(error, "disk is full") or _says(error, "disk I/O"):
        raise DiskFullError(str(error.orig)) from error
    if _says(error, "readonly"):
        raise ReadOnlyError(str(error.orig)) from error
    if _says(error, "locked") or _says(error, "busy"):
        raise BusyError(str(error.orig)) from error


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

"""A copy of the shop's file, checked, and put in its place while no server runs."""

from __future__ import annotations

import os
import shutil
import sqlite3
from contextlib import closing, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import delete

from elumbra.storage.database import BESIDE, Database, DiskFullError, UnusableDatabaseError
from elumbra.storage.declared import now
from elumbra.storage.tables import WriteRow

FOLDER = "backups"
_WRITES_KEPT = timedelta(days=14)


def copy_to(database: Path, target: Path) -> Path:
    """A whole copy of a database that may be in use; it is there in full or not at all.

    Raises
    ------
    UnusableDatabaseError
        What was copied is damaged; no copy is left.
    DiskFullError
        No room for the copy.
    """
    target.parent.mkdir(parents=True, exist_ok=True)
    unfinished = target.with_name(f".{target.name}.{os.getpid()}")
    try:
        unfinished.touch(mode=0o600)
        with closing(sqlite3.connect(database)) as source, closing(sqlite3.connect(unfinished)) as copy:
            source.backup(copy)
            copy.execute("PRAGMA journal_mode=DELETE")
        check_copy(unfinished)
        with unfinished.open("rb+") as file:
            os.fsync(file.fileno())
        unfinished.replace(target)
    except sqlite3.OperationalError as error:
        if "full" in str(error):
            raise DiskFullError(str(error)) from error
        raise UnusableDatabaseError(f"{database} cannot be copied to {target}: {error}.") from error
    finally:
        unfinished.unlink(missing_ok=True)
    return target


def photos_beside(copy: Path) -> Path:
    """Where the pictures of a copy lie: beside it; those of the shop’s own copies share one folder.

    Examples
    --------
    >>> photos_beside(Path("/usb/shop.db")).as_posix(), photos_beside(Path("/d/backups/a.db")).as_posix()
    ('/usb/shop.photos', '/d/backups/photos')
    """
    return copy.parent / "photos" if copy.parent.name == FOLDER else copy.with_suffix(".photos")


def check_copy(path: Path) -> None:
    """Refuse a copy that is not whole.

    Raises
    ------
    UnusableDatabaseError
        Not a database of ours, or damaged.
    """
    if not path.is_file():
        raise UnusableDatabaseError(f"{path} is not there.")
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True)) as connection:
            verdict = connection.execute("PRAGMA integrity_check(1)").fetchone()[0]
            connection.execute("SELECT version_num FROM alembic_version").fetchone()
            broken = connection.execute("PRAGMA foreign_key_check").fetchone()
    except sqlite3.DatabaseError as error:
        raise UnusableDatabaseError(f"{path} is not a copy of Elumbra's data ({error}).") from error
    if verdict != "ok" or broken:
        raise UnusableDatabaseError(f"{path} is damaged ({verdict}). Use another copy.")


def put_back(copy: Path, database: Path) -> Path | None:
    """Put a copy in the place of the data; what was there is kept beside it. The server must not run.

    Returns
    -------
    Path | None
        Where the data that stood there before is now; None where there was none.

    Raises
    ------
    UnusableDatabaseError
        The copy is no good; nothing was changed.
    """
    check_copy(copy)
    database.parent.mkdir(parents=True, exist_ok=True)
    unfinished = database.with_name(f".{database.name}.restoring")
    copy_to(copy, unfinished)
    before = None
    if database.exists():
        stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
        before = database.parent / FOLDER / f"before-restore-{stamp}.db"
        before.parent.mkdir(exist_ok=True)
        # What the -wal holds goes into the file first, so that the file alone is whole should this be ended here.
        with suppress(sqlite3.DatabaseError), closing(sqlite3.connect(database)) as old:
            old.execute("PRAGMA wal_checkpoint(TRUNCATE)")
        shutil.copy2(database, before)
        for ending in BESIDE:  # an old -wal beside a new file would be played into it
            beside = database.with_name(database.name + ending)
            if beside.exists():
                beside.replace(before.with_name(before.name + ending))
    unfinished.replace(database)
    return before


def forget_old_writes(database: Database) -> int:
    """Forget writes that nobody sends again any more; how many."""
    with database.session(write=True) as session:
        done = session.execute(delete(WriteRow).where(WriteRow.at < now() - _WRITES_KEPT))
    return int(getattr(done, "rowcount", 0))

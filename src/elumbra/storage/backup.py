"""Copies of the shop's data: made while it is in use, checked, and put back.

Of the daily copies the newest seven stay, and of each of the last twelve months the first.
"""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
from contextlib import closing, suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path

from sqlalchemy import delete

from elumbra.storage import clock
from elumbra.storage.database import BESIDE, Database, DiskFullError, UnusableDatabaseError
from elumbra.storage.records import now
from elumbra.storage.tables import WriteRow

FOLDER = "backups"
_DAILY = re.compile(r"elumbra-(\d{4}-\d{2})-\d{2}\.db")
_DAYS, _MONTHS = 7, 12
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


def daily_copy(database: Database, folder: Path) -> Path | None:
    """Today's copy, where there is none yet; older ones go by the rule."""
    target = folder / f"elumbra-{clock.today_iso()}.db"
    made = None if target.exists() else copy_to(database.path, target)
    for old in spare_copies([path.name for path in folder.glob("elumbra-*.db")]):
        (folder / old).unlink(missing_ok=True)
    return made


def spare_copies(names: list[str]) -> list[str]:
    """Daily copies that need not be kept.

    Examples
    --------
    >>> spare_copies([f"elumbra-2026-11-{day:02}.db" for day in range(1, 11)])
    ['elumbra-2026-11-02.db', 'elumbra-2026-11-03.db']
    >>> spare_copies([])
    []
    """
    daily = sorted(name for name in names if _DAILY.fullmatch(name))
    first_of_month: dict[str, str] = {}
    for name in daily:
        found = _DAILY.fullmatch(name)
        if found:
            first_of_month.setdefault(found[1], name)
    months = sorted(first_of_month)[-_MONTHS:]
    kept = {*daily[-_DAYS:], *(first_of_month[month] for month in months)}
    return [name for name in daily if name not in kept]


def forget_old_writes(database: Database) -> int:
    """Forget writes that nobody sends again any more; how many."""
    with database.session(write=True) as session:
        done = session.execute(delete(WriteRow).where(WriteRow.at < now() - _WRITES_KEPT))
    return int(getattr(done, "rowcount", 0))

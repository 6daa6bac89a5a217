"""Copies of the shop: made while it is in use, compared with what they were made from, rotated, rehearsed, put back.

Kept are the newest seven of the nightly copies, of each of the last four weeks the first, and of each of the last
twelve months the first. Copies made by hand or before an upgrade stay until somebody deletes them.
"""

from __future__ import annotations

import os
import re
import shutil
import sqlite3
import tempfile
from collections.abc import Callable, Mapping, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, date, datetime
from pathlib import Path

from elumbra import __version__
from elumbra.storage import clock
from elumbra.storage.backup import FOLDER, check_copy
from elumbra.storage.database import BESIDE, Database, DiskFullError, UnusableDatabaseError
from elumbra.storage.manifest import (
    Differences,
    Manifest,
    checksum,
    differences,
    parse_manifest,
    revision_of,
    table_digests,
)
from elumbra.storage.photos import FOLDER as PHOTOS
from elumbra.storage.photos import copy_photos

NIGHTLY, BY_HAND, UPGRADE, RESTORE = "nightly", "by hand", "before an upgrade", "before a restore"
_NIGHT = re.compile(r"elumbra-(\d{4}-\d{2}-\d{2})\.db")
_NAME = re.compile(r"[A-Za-z0-9][A-Za-z0-9._-]{0,80}\.db")
_DAYS, _WEEKS, _MONTHS = 7, 4, 12


@dataclass(frozen=True)
class Copy:
    """A copy of the shop."""

    name: str
    path: Path
    size: int
    manifest: Manifest | None  # None: made by a release that wrote none


@dataclass(frozen=True)
class Rehearsal:
    """What putting a copy back would give."""

    copy: Copy
    revision: str
    tables: Mapping[str, int]  # rows once it is brought to this release
    against_now: Differences
    upgraded: bool


def make_copy(database: Path, folder: Path, *, name: str, why: str, photos: Path | None = None) -> Copy:
    """A copy that was compared, table by table, with what it was made from; there in full or not at all.

    The copy is of one moment, however much is written meanwhile: table digests and pages are read in one transaction.

    Raises
    ------
    UnusableDatabaseError
        What came out is not what went in; no copy is left.
    DiskFullError
        No room for it.
    """
    folder.mkdir(parents=True, exist_ok=True)
    target, unfinished = folder / name, folder / f".{name}.{os.getpid()}"
    try:
        unfinished.touch(mode=0o600)
        with closing(sqlite3.connect(database, isolation_level=None)) as source:
            source.execute("BEGIN")
            wanted, revision = table_digests(source), revision_of(source)
            with closing(sqlite3.connect(unfinished)) as copy:
                source.backup(copy)
                copy.execute("PRAGMA journal_mode=DELETE")
            source.execute("ROLLBACK")
        check_copy(unfinished)
        with closing(sqlite3.connect(f"file:{unfinished}?mode=ro", uri=True)) as copy:
            lost = differences(wanted, table_digests(copy))
        if lost:
            raise UnusableDatabaseError(f"The copy differs from the shop ({lost.tables}); it was thrown away.")
        with unfinished.open("rb+") as file:
            os.fsync(file.fileno())
        if photos is not None:
            copy_photos(photos, folder / PHOTOS)
        manifest = Manifest(
            made_at=datetime.now(UTC).replace(microsecond=0).isoformat(), release=__version__, revision=revision,
            sha256=checksum(unfinished), size=unfinished.stat().st_size, tables=wanted, photos=_photos_in(photos),
            why=why,
        )  # fmt: skip
        beside = _manifest_path(target)
        waiting = beside.with_name(f".{beside.name}.{os.getpid()}")
        waiting.write_text(manifest.to_json(), encoding="utf-8")
        unfinished.replace(target)
        waiting.replace(beside)
    except (sqlite3.OperationalError, OSError) as error:
        if "full" in str(error) or "space" in str(error):
            raise DiskFullError(str(error)) from error
        raise UnusableDatabaseError(f"{database} cannot be copied to {target}: {error}.") from error
    finally:
        unfinished.unlink(missing_ok=True)
    return Copy(name, target, manifest.size, manifest)


def _photos_in(folder: Path | None) -> int:
    return sum(1 for one in folder.rglob("*") if one.is_file()) if folder is not None and folder.is_dir() else 0


def _manifest_path(copy: Path) -> Path:
    return copy.with_suffix(".json")


def copies_in(folder: Path) -> list[Copy]:
    """The copies of a folder, newest first."""
    found = []
    for path in folder.glob("*.db") if folder.is_dir() else ():
        if _NAME.fullmatch(path.name):
            beside = _manifest_path(path)
            manifest = parse_manifest(beside.read_text(encoding="utf-8")) if beside.is_file() else None
            found.append((path.stat().st_mtime, Copy(path.name, path, path.stat().st_size, manifest)))
    return [one for _, one in sorted(found, key=lambda pair: pair[0], reverse=True)]


Maker = Callable[[], Copy]


def tonight(folder: Path) -> Path:
    """Where tonight's copy lies once it is made."""
    return folder / f"elumbra-{clock.today_iso()}.db"


def nightly(database: Path, folder: Path, *, photos: Path | None = None) -> Copy:
    """Tonight's copy, in the place of one that there is; older nightly ones go by the rule."""
    made = make_copy(database, folder, name=tonight(folder).name, why=NIGHTLY, photos=photos)
    for old in spare_copies([path.name for path in folder.glob("elumbra-*.db")]):
        (folder / old).unlink(missing_ok=True)
        _manifest_path(folder / old).unlink(missing_ok=True)
    return made


def spare_copies(names: Sequence[str]) -> list[str]:
    """Nightly copies that need not be kept.

    Examples
    --------
    >>> [name[16:18] for name in spare_copies([f"elumbra-2026-11-{day:02}.db" for day in range(1, 15)])]
    ['03', '04', '05', '06', '07']
    >>> spare_copies(["before-upgrade.db"])
    []
    """
    nights = sorted(name for name in names if _night(name) is not None)
    first_of: dict[str, dict[object, str]] = {"week": {}, "month": {}}
    for name in nights:
        day = _night(name)
        if day is not None:
            first_of["week"].setdefault(day.isocalendar()[:2], name)
            first_of["month"].setdefault((day.year, day.month), name)
    kept = {*nights[-_DAYS:], *list(first_of["week"].values())[-_WEEKS:], *list(first_of["month"].values())[-_MONTHS:]}
    return [name for name in nights if name not in kept]


def _night(name: str) -> date | None:
    found = _NIGHT.fullmatch(name)
    try:
        return date.fromisoformat(found[1]) if found else None
    except ValueError:
        return None


def to_second_folder(copy: Copy, second: Path) -> None:
    """Put a copy with its manifest and pictures on a second folder or drive as well, and compare it there.

    Raises
    ------
    UnusableDatabaseError
        The folder is not there, or what lies there is not what was written.
    DiskFullError
        No room on it.
    """
    if not second.is_dir():
        raise UnusableDatabaseError(f"The second folder {second} is not there. Put the drive in, or name another one.")
    target = second / copy.name
    unfinished = second / f".{copy.name}.{os.getpid()}"
    try:
        shutil.copyfile(copy.path, unfinished)
        with unfinished.open("rb+") as file:
            os.fsync(file.fileno())
        if checksum(unfinished) != checksum(copy.path):
            raise UnusableDatabaseError(f"{second} gives back something else than was written. Use another drive.")
        unfinished.replace(target)
        if _manifest_path(copy.path).is_file():
            shutil.copyfile(_manifest_path(copy.path), _manifest_path(target))
        copy_photos(copy.path.parent / PHOTOS, second / PHOTOS)
    except OSError as error:
        if "space" in str(error) or "full" in str(error):
            raise DiskFullError(f"{second} is full") from error
        raise UnusableDatabaseError(f"{second} cannot be written: {error.strerror or error}.") from error
    finally:
        unfinished.unlink(missing_ok=True)
    for old in spare_copies([path.name for path in second.glob("elumbra-*.db")]):
        (second / old).unlink(missing_ok=True)
        _manifest_path(second / old).unlink(missing_ok=True)


def find_copy(folder: Path, name: str) -> Copy:
    """A copy by its name.

    Raises
    ------
    UnusableDatabaseError
        There is none of that name.
    """
    found = next((one for one in copies_in(folder) if one.name == name), None) if _NAME.fullmatch(name) else None
    if found is None:
        raise UnusableDatabaseError(f"There is no copy “{name[:80]}” in {folder}.")
    return found


def rehearse(copy: Copy, now: Path | None) -> Rehearsal:
    """Put a copy back in a scratch place, bring it to this release, and compare it with its manifest and with now.

    Raises
    ------
    UnusableDatabaseError
        Damaged, changed since it was made, foreign, or of a newer release; nothing was touched.
    """
    check_copy(copy.path)
    if copy.manifest is not None and checksum(copy.path) != copy.manifest.sha256:
        raise UnusableDatabaseError(f"{copy.name} was changed since it was made. Use another copy.")
    with tempfile.TemporaryDirectory(prefix="elumbra-rehearsal-") as scratch:
        place = Path(scratch) / "elumbra.db"
        shutil.copyfile(copy.path, place)
        with closing(sqlite3.connect(place)) as connection:
            held, revision = table_digests(connection), revision_of(connection)
        if copy.manifest is not None and (lost := differences(copy.manifest.tables, held)):
            raise UnusableDatabaseError(f"{copy.name} does not hold what its manifest says: {lost.tables}.")
        database = Database(place)
        database.migrate()
        upgraded = not (revision and revision == _revision(place))
        database.close()
        with closing(sqlite3.connect(place)) as connection:
            after = table_digests(connection)
        present = _digests_of(now)
    return Rehearsal(
        copy, revision, {name: count for name, (count, _) in after.items()}, differences(after, present), upgraded
    )  # fmt: skip


def _revision(path: Path) -> str:
    with closing(sqlite3.connect(path)) as connection:
        return revision_of(connection)


def _digests_of(path: Path | None) -> dict[str, tuple[int, str]]:
    if path is None or not path.exists():
        return {}
    with closing(sqlite3.connect(path, isolation_level=None)) as connection:
        connection.execute("BEGIN")
        found = table_digests(connection)
        connection.execute("ROLLBACK")
    return found


def restore_live(database: Database, copy: Copy, *, folder: Path, photos: Path | None = None) -> tuple[Copy, Rehearsal]:
    """Put a copy in the place of a shop that is being served; what was there is copied first.

    The copy is rehearsed, brought to this release aside, and written over the shop's file in one transaction: whoever
    reads sees the old shop or the new one, and a machine that loses power in between keeps the old one.

    Returns
    -------
    tuple[Copy, Rehearsal]
        The copy of what was there before, and what the rehearsal found.

    Raises
    ------
    UnusableDatabaseError
        The copy is no good; nothing was changed.
    """
    found = rehearse(copy, database.path)
    stamp = datetime.now(UTC).strftime("%Y%m%d-%H%M%S")
    before = make_copy(database.path, folder, name=f"before-restore-{stamp}.db", why=RESTORE, photos=photos)
    with tempfile.TemporaryDirectory(prefix="elumbra-restore-") as scratch:
        place = Path(scratch) / "elumbra.db"
        shutil.copyfile(copy.path, place)
        aside = Database(place)
        aside.migrate()
        aside.close()
        with database.standing_still():
            with closing(sqlite3.connect(place)) as source, closing(sqlite3.connect(database.path, timeout=20)) as live:
                source.backup(live)
            database.close()
    if photos is not None:
        copy_photos(copy.path.parent / PHOTOS, photos)
    return before, found


def shop_size(database: Path, photos: Path | None) -> dict[str, int]:
    """Bytes of the database, of what SQLite keeps beside it, and of pictures."""
    beside = [database.with_name(database.name + end) for end in BESIDE]
    return {
        "database": database.stat().st_size if database.exists() else 0,
        "journal": sum(one.stat().st_size for one in beside if one.exists()),
        "photos": sum(one.stat().st_size for one in photos.rglob("*") if one.is_file())
        if photos is not None and photos.is_dir()
        else 0,
    }


__all__ = [
    "BY_HAND",
    "FOLDER",
    "NIGHTLY",
    "RESTORE",
    "UPGRADE",
    "Copy",
    "Maker",
    "Rehearsal",
    "copies_in",
    "find_copy",
    "make_copy",
    "nightly",
    "rehearse",
    "restore_live",
    "shop_size",
    "spare_copies",
    "to_second_folder",
    "tonight",
]

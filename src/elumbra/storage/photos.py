"""Pictures beside the database, each file named by its checksum; the database knows what they show.

A picture is written whole before the database says that it is there: what is left over after a crash belongs
to nobody and is swept away by the upkeep.
"""

from __future__ import annotations

import errno
import os
import shutil
from collections.abc import Iterator
from datetime import datetime, timedelta
from hashlib import sha256
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session

from elumbra.core.errors import CoreError
from elumbra.storage.database import Database, DiskFullError
from elumbra.storage.declared import as_record, new_id, now
from elumbra.storage.kept_records import PhotoRecord
from elumbra.storage.kept_tables import PhotoRow

FOLDER = "photos"
_LEFT_OVER = timedelta(days=1)
_IN_COPIES = timedelta(days=396)  # the oldest copy of the database is a year old
_ENDING, _THUMB = ".jpg", ".small.jpg"


class MissingPictureError(CoreError):
    """A picture that is on record is not where it was kept, or was changed there."""


def folder_of(session: Session) -> Path:
    """Where this shop's pictures lie."""
    path = session.get_bind().engine.url.database
    return Path(str(path)).parent / FOLDER


def _file(folder: Path, checksum: str, ending: str = _ENDING) -> Path:
    return folder / checksum[:2] / f"{checksum}{ending}"


def write_file(folder: Path, content: bytes, thumb: bytes) -> str:
    """Put a picture and its small copy on the disk; its checksum.

    Raises
    ------
    DiskFullError
        No room; nothing is left behind.
    """
    checksum = sha256(content).hexdigest()
    for ending, part in ((_THUMB, thumb), (_ENDING, content)):
        target = _file(folder, checksum, ending)
        if target.exists() and target.stat().st_size == len(part):
            os.utime(target)  # it belongs to somebody again: no sweeping it away
            continue
        unfinished = target.with_name(f".{target.name}.{os.getpid()}.{new_id()}")
        try:
            target.parent.mkdir(parents=True, exist_ok=True)
            with unfinished.open("wb") as file:
                file.write(part)
                file.flush()
                os.fsync(file.fileno())
            unfinished.replace(target)
        except OSError as error:
            unfinished.unlink(missing_ok=True)
            if error.errno in (errno.ENOSPC, errno.EDQUOT):
                raise DiskFullError(str(error)) from error
            raise
    return checksum


def add_photo(session: Session, record: PhotoRecord, content: bytes, thumb: bytes) -> PhotoRecord:
    """Keep a picture.

    Raises
    ------
    DiskFullError
        No room for it: nothing was kept.
    """
    checksum = write_file(folder_of(session), content, thumb)
    values = {**vars(record), "sha256": checksum}
    session.add(PhotoRow(**values, content=None))
    session.flush()
    return PhotoRecord(**values)


def new_photo(
    *,
    job_id: str,
    window_id: str | None,
    person_id: str,
    flaw_id: str | None = None,
    width: int = 0,
    height: int = 0,
) -> PhotoRecord:
    """A picture that is about to be kept."""
    return PhotoRecord(
        id=new_id(), job_id=job_id, window_id=window_id, flaw_id=flaw_id, width=width, height=height,
        person_id=person_id, at=now(),
    )  # fmt: skip


def photos_of(session: Session, job_id: str) -> list[PhotoRecord]:
    """A job's pictures, oldest first."""
    rows = session.scalars(select(PhotoRow).where(PhotoRow.job_id == job_id).order_by(PhotoRow.at, PhotoRow.id))
    return [as_record(row, PhotoRecord) for row in rows]


def photo(session: Session, photo_id: str) -> PhotoRecord | None:
    """One picture; None where there is none."""
    row = session.get(PhotoRow, photo_id)
    return None if row is None else as_record(row, PhotoRecord)


def content_of(session: Session, record: PhotoRecord, *, small: bool = False) -> bytes:
    """What a picture shows.

    Raises
    ------
    MissingPictureError
        Its file is gone, or is no longer what was kept.
    """
    if not record.sha256:
        row = session.get(PhotoRow, record.id)
        return bytes(row.content) if row is not None and row.content else b""
    path = _file(folder_of(session), record.sha256, _THUMB if small else _ENDING)
    try:
        content = path.read_bytes()
    except OSError as error:
        raise MissingPictureError(f"This picture’s file is gone ({path.name}). Put it back from a copy.") from error
    if not small and sha256(content).hexdigest() != record.sha256:
        raise MissingPictureError(f"This picture’s file was changed ({path.name}). Put it back from a copy.")
    return content


def forget_photos(session: Session, job_ids: list[str]) -> int:
    """Take pictures off the record, where a person's data is erased; how many. Their files are swept away."""
    rows = session.scalars(select(PhotoRow).where(PhotoRow.job_id.in_(job_ids))).all()
    for row in rows:
        session.delete(row)
    session.flush()
    return len(rows)


def move_out(database: Database) -> int:
    """Pictures that an older release kept inside the database go to their files; how many."""
    with database.session(write=True) as session:
        folder = folder_of(session)
        rows = session.scalars(select(PhotoRow).where(PhotoRow.content.is_not(None))).all()
        for row in rows:
            content = bytes(row.content or b"")
            row.sha256 = write_file(folder, content, content)
            row.content = None
        return len(rows)


def sweep(database: Database) -> int:
    """Files that belong to no picture on record, and are older than a day; how many went."""
    with database.session(write=False) as session:
        return _sweep(folder_of(session), _known(session), older=_LEFT_OVER)


def sweep_copies(database: Database, copies: Path) -> int:
    """Copied files that no copy of the database speaks of any more: they outlive their picture by thirteen months."""
    with database.session(write=False) as session:
        return _sweep(copies, _known(session), older=_IN_COPIES)


def _known(session: Session) -> set[str]:
    return set(session.scalars(select(PhotoRow.sha256)))


def _sweep(folder: Path, known: set[str], *, older: timedelta) -> int:
    oldest = datetime.now().timestamp() - older.total_seconds()  # noqa: DTZ005  a file's own clock
    gone = 0
    for path in _files(folder):
        checksum = path.name.lstrip(".").partition(".")[0]
        if checksum not in known and path.stat().st_mtime < oldest:
            path.unlink(missing_ok=True)
            gone += 1
    return gone


def _files(folder: Path) -> Iterator[Path]:
    yield from (path for path in folder.glob("*/*") if path.is_file())


def copy_photos(source: Path, target: Path) -> int:
    """Copy what is not there yet from one folder of pictures to another; how many.

    Raises
    ------
    DiskFullError
        No room for all of them.
    """
    copied = 0
    for path in _files(source):
        there = target / path.parent.name / path.name
        if path.name.startswith(".") or there.exists():
            continue
        unfinished = there.with_name(f".{there.name}.{os.getpid()}")
        try:
            there.parent.mkdir(parents=True, exist_ok=True)
            shutil.copyfile(path, unfinished)
            unfinished.replace(there)
        except OSError as error:
            unfinished.unlink(missing_ok=True)
            if error.errno in (errno.ENOSPC, errno.EDQUOT):
                raise DiskFullError(str(error)) from error
            raise
        copied += 1
    return copied

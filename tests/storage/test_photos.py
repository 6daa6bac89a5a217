"""Pictures beside the database: by checksum, moved out of it, swept, copied, and a full disk."""

from __future__ import annotations

import errno
import os
import shutil
from datetime import datetime, timedelta
from pathlib import Path
from typing import Any

import pytest

from elumbra.storage import photos
from elumbra.storage.database import Database, DiskFullError
from elumbra.storage.declared import new_id, now
from elumbra.storage.kept_tables import PhotoRow
from elumbra.storage.photos import FOLDER, MissingPictureError, add_photo, content_of, new_photo, write_file
from elumbra.storage.store import jobs
from tests.api.conftest import demo_file
from tests.catalogue.pictures import picture_bytes

__all__ = ["demo_file"]


@pytest.fixture
def shop(tmp_path: Path, demo_file: Path) -> Database:
    return Database(Path(shutil.copy(demo_file, tmp_path / "elumbra.db")))


def kept(shop: Database, content: bytes = b"one") -> Any:
    with shop.session(write=True) as session:
        job = jobs(session).all()[0]
        record = new_photo(job_id=job.id, window_id=None, person_id="ines")
        return add_photo(session, record, content, b"small")


def test_a_picture_lies_beside_the_database_by_its_checksum(shop: Database) -> None:
    one, again = kept(shop), kept(shop)
    assert one.sha256 == again.sha256
    files = sorted(path.name for path in (shop.path.parent / FOLDER).glob("*/*"))
    assert files == [f"{one.sha256}.jpg", f"{one.sha256}.small.jpg"]
    with shop.session(write=False) as session:
        assert content_of(session, one) == b"one"
        assert content_of(session, one, small=True) == b"small"


def test_a_changed_or_missing_file_is_told_and_breaks_nothing_else(shop: Database) -> None:
    one = kept(shop)
    path = shop.path.parent / FOLDER / one.sha256[:2] / f"{one.sha256}.jpg"
    path.write_bytes(b"something else")
    with shop.session(write=False) as session, pytest.raises(MissingPictureError, match="was changed"):
        content_of(session, one)
    path.unlink()
    with shop.session(write=False) as session, pytest.raises(MissingPictureError, match="is gone"):
        content_of(session, one)


def test_a_full_disk_keeps_nothing_and_says_so(shop: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    def full(_: int) -> None:
        raise OSError(errno.ENOSPC, "No space left on device")

    monkeypatch.setattr(photos.os, "fsync", full)
    with pytest.raises(DiskFullError):
        kept(shop)
    monkeypatch.undo()
    assert [path for path in (shop.path.parent / FOLDER).rglob("*") if path.is_file()] == []
    with shop.session(write=False) as session:
        assert session.query(PhotoRow).count() == 0


def test_pictures_of_an_older_release_move_out_of_the_database(shop: Database) -> None:
    with shop.session(write=True) as session:
        job = jobs(session).all()[0]
        session.add(
            PhotoRow(id=new_id(), job_id=job.id, kind="image/png", content=picture_bytes(), person_id="x", at=now())
        )
    assert photos.move_out(shop) == 1
    assert photos.move_out(shop) == 0
    with shop.session(write=False) as session:
        (record,) = photos.photos_of(session, job.id)
        assert content_of(session, record) == picture_bytes()
        assert session.query(PhotoRow).filter(PhotoRow.content.is_not(None)).count() == 0


def test_what_belongs_to_nobody_is_swept_after_a_day(shop: Database) -> None:
    one = kept(shop)
    folder = shop.path.parent / FOLDER
    orphan = write_file(folder, b"nobody's", b"small")
    assert photos.sweep(shop) == 0
    old = (datetime.now() - timedelta(days=2)).timestamp()  # noqa: DTZ005  a file's own clock
    for path in folder.glob("*/*"):
        os.utime(path, (old, old))
    assert photos.sweep(shop) == 2
    left = {path.name.partition(".")[0] for path in folder.glob("*/*")}
    assert left == {one.sha256}
    assert orphan not in left


def test_copies_forget_a_picture_once_no_copy_of_the_database_speaks_of_it(shop: Database, tmp_path: Path) -> None:
    one = kept(shop)
    copies = tmp_path / "photos"
    orphan = write_file(copies, b"of somebody erased", b"small")
    photos.copy_photos(shop.path.parent / FOLDER, copies)
    for days, gone in ((300, 0), (400, 2)):
        old = (datetime.now() - timedelta(days=days)).timestamp()  # noqa: DTZ005  a file's own clock
        for path in copies.glob("*/*"):
            os.utime(path, (old, old))
        assert photos.sweep_copies(shop, copies) == gone
    assert {path.name.partition(".")[0] for path in copies.glob("*/*")} == {one.sha256} != {orphan}


def test_copies_take_pictures_along_and_bring_them_back(shop: Database, tmp_path: Path) -> None:
    one = kept(shop)
    source, target = shop.path.parent / FOLDER, tmp_path / "usb.photos"
    assert photos.copy_photos(source, target) == 2
    assert photos.copy_photos(source, target) == 0
    for path in source.glob("*/*"):
        path.unlink()
    assert photos.copy_photos(target, source) == 2
    with shop.session(write=False) as session:
        assert content_of(session, one) == b"one"

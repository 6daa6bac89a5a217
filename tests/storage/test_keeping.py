"""Copies of the shop: of one moment, compared, rotated, rehearsed, put back while served; the whole shop as files."""

from __future__ import annotations

import json
import shutil
import sqlite3
import threading
import zipfile
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path

import pytest

from elumbra.storage import keeping
from elumbra.storage.database import Database, DiskFullError, ReadOnlyError, UnusableDatabaseError
from elumbra.storage.manifest import checksum, differences, parse_manifest, table_digests
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people
from elumbra.storage.upkeep import SECOND_FOLDER, Upkeep
from elumbra.storage.whole_shop import OF_THE_MACHINE, export_shop, import_shop
from tests.api.conftest import demo_file

__all__ = ["demo_file"]


@pytest.fixture
def shop(tmp_path: Path, demo_file: Path) -> Iterator[Database]:
    data = tmp_path / "data"
    data.mkdir()
    shutil.copy(demo_file, data / "elumbra.db")
    database = Database(data / "elumbra.db")
    yield database
    database.close()


def digests(path: Path) -> dict[str, tuple[int, str]]:
    with closing(sqlite3.connect(path)) as connection:
        return table_digests(connection)


def add(database: Database, name: str) -> None:
    with database.session(write=True) as session:
        people(session).create(PersonRecord(name=name, role="installer"), person_id="test")


def test_a_copy_made_under_load_is_of_one_moment_and_restores_equal(shop: Database, tmp_path: Path) -> None:
    """Somebody writes all the time; each copy holds a prefix of what was written, and what its manifest says."""
    stop, written = threading.Event(), [0]

    def write() -> None:
        while not stop.is_set():
            add(shop, f"Load {written[0]:05}")
            written[0] += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        made = [
            keeping.make_copy(shop.path, tmp_path / "b", name=f"by-hand-{i}.db", why=keeping.BY_HAND) for i in range(4)
        ]
    finally:
        stop.set()
        writer.join()
    assert written[0] > 4
    for copy in made:
        assert copy.manifest is not None
        assert digests(copy.path) == copy.manifest.tables
        with closing(sqlite3.connect(copy.path)) as connection:
            names = [
                row[0] for row in connection.execute("SELECT name FROM person WHERE name LIKE 'Load%' ORDER BY name")
            ]
        assert names == [f"Load {i:05}" for i in range(len(names))], "a prefix: nothing torn out of its middle"
        found = keeping.rehearse(copy, None)
        assert found.tables["job"] == 9
        assert not found.upgraded


def test_a_copy_that_was_changed_cut_short_or_is_foreign_is_refused_in_rehearsal(
    shop: Database, tmp_path: Path
) -> None:
    def copy(name: str) -> keeping.Copy:
        return keeping.make_copy(shop.path, tmp_path / "b", name=name, why=keeping.BY_HAND)

    changed = copy("changed.db")
    with closing(sqlite3.connect(changed.path)) as connection:
        connection.execute("UPDATE person SET name = 'Eve' WHERE id = 'tobi'")
        connection.commit()
    with pytest.raises(UnusableDatabaseError, match="was changed since it was made"):
        keeping.rehearse(changed, None)
    short = copy("short.db")
    short.path.write_bytes(short.path.read_bytes()[:40_000])
    with pytest.raises(UnusableDatabaseError):
        keeping.rehearse(short, None)
    foreign = tmp_path / "b" / "foreign.db"
    with closing(sqlite3.connect(foreign)) as connection:
        connection.execute("CREATE TABLE other (x)")
    with pytest.raises(UnusableDatabaseError, match="not a copy of Elumbra"):
        keeping.rehearse(keeping.Copy("foreign.db", foreign, 1, None), None)
    newer = copy("newer.db")
    with closing(sqlite3.connect(newer.path)) as connection:
        connection.execute("UPDATE alembic_version SET version_num = '2099_future'")
        connection.commit()
    with pytest.raises(UnusableDatabaseError, match="newer release"):
        keeping.rehearse(keeping.Copy("newer.db", newer.path, 1, None), None)
    with pytest.raises(UnusableDatabaseError, match="no copy"):
        keeping.find_copy(tmp_path / "b", "../../etc/passwd")


def test_a_copy_is_put_back_while_the_shop_is_served_and_what_stood_there_is_kept(
    shop: Database, tmp_path: Path
) -> None:
    folder = tmp_path / "b"
    good = keeping.make_copy(shop.path, folder, name="by-hand-1.db", why=keeping.BY_HAND)
    add(shop, "Later")
    rehearsed = keeping.rehearse(good, shop.path)
    assert rehearsed.against_now.tables["person"] == "6 rows against 7"
    before, _ = keeping.restore_live(shop, good, folder=folder)
    with shop.session(write=False) as session:
        assert "Later" not in [one.name for one in people(session).all()]
    add(shop, "After the restore")
    with closing(sqlite3.connect(before.path)) as connection:
        assert connection.execute("SELECT count(*) FROM person WHERE name = 'Later'").fetchone()[0] == 1
    bad = folder / "by-hand-2.db"
    bad.write_bytes(b"not a database")
    held = digests(shop.path)
    with pytest.raises(UnusableDatabaseError):
        keeping.restore_live(shop, keeping.Copy(bad.name, bad, 14, None), folder=folder)
    assert digests(shop.path) == held, "a bad copy changes nothing"


def test_copies_go_to_a_second_folder_and_what_is_wrong_with_it_is_told(shop: Database, tmp_path: Path) -> None:
    upkeep = Upkeep(shop, shop.path.parent)
    assert "No copy" in upkeep.last.words
    second = tmp_path / "drive"
    second.mkdir()
    with shop.session(write=True) as session:
        from elumbra.storage.kept_settings import keep

        keep(session, SECOND_FOLDER, str(second), version=0, person_id="test")
    made = upkeep.copy_now()
    assert checksum(second / made.name) == checksum(made.path)
    manifest = parse_manifest((second / made.name).with_suffix(".json").read_text())
    assert manifest == made.manifest
    assert not upkeep.last.bad
    shutil.rmtree(second)
    with pytest.raises(UnusableDatabaseError, match="Put the drive in"):
        upkeep.copy_now()
    assert upkeep.last.bad
    assert "is not there" in upkeep.last.words


@pytest.mark.parametrize("where", ["copyfile", "backup"])
def test_a_full_drive_leaves_no_half_a_copy(
    shop: Database, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, where: str
) -> None:
    folder, second = tmp_path / "b", tmp_path / "drive"
    second.mkdir()
    full = OSError(28, "No space left on device")

    def refuse(*_: object, **__: object) -> None:
        raise full

    if where == "copyfile":
        made = keeping.make_copy(shop.path, folder, name="by-hand-1.db", why=keeping.BY_HAND)
        monkeypatch.setattr(shutil, "copyfile", refuse)
        with pytest.raises(DiskFullError):
            keeping.to_second_folder(made, second)
        assert list(second.iterdir()) == []
    else:
        monkeypatch.setattr(keeping, "checksum", refuse)
        with pytest.raises(DiskFullError):
            keeping.make_copy(shop.path, folder, name="by-hand-1.db", why=keeping.BY_HAND)
        assert list(folder.iterdir()) == []


def test_a_file_that_may_only_be_read_is_told_as_that(shop: Database) -> None:
    with shop.engine.connect() as connection:
        connection.exec_driver_sql("COMMIT")
        connection.exec_driver_sql("PRAGMA query_only=ON")
    with pytest.raises(ReadOnlyError), shop.session(write=True) as session:
        session.connection().exec_driver_sql("PRAGMA query_only=ON")
        people(session).create(PersonRecord(name="Nobody", role="lead"), person_id="test")


def test_a_whole_shop_is_written_out_and_taken_in_the_same(shop: Database, tmp_path: Path) -> None:
    photos = shop.path.parent / "photos"
    (photos / "ab").mkdir(parents=True)
    (photos / "ab" / "abcd.jpg").write_bytes(b"\xff\xd8 picture")
    counts = export_shop(shop.path, photos, tmp_path / "shop.zip")
    assert counts["job"] == 9
    with zipfile.ZipFile(tmp_path / "shop.zip") as archive:
        names = set(archive.namelist())
        assert not {f"tables/{name}.json" for name in OF_THE_MACHINE} & names, "no password leaves the machine"
        people_in = json.loads(archive.read("tables/person.json"))
        assert "Ines Varga" in str(people_in["rows"])
    there = tmp_path / "there"
    there.mkdir()
    assert not import_shop(tmp_path / "shop.zip", there / "elumbra.db", there / "photos")
    mine = {name: one for name, one in digests(shop.path).items() if name not in OF_THE_MACHINE}
    theirs = {name: one for name, one in digests(there / "elumbra.db").items() if name not in OF_THE_MACHINE}
    assert not differences(mine, theirs)
    assert (there / "photos" / "ab" / "abcd.jpg").read_bytes() == b"\xff\xd8 picture"
    taken = Database(there / "elumbra.db")
    taken.check()
    add(taken, "Goes on")
    with pytest.raises(Exception, match="append-only"), taken.session(write=True) as session:
        session.connection().exec_driver_sql("DELETE FROM audit")
    taken.close()
    with pytest.raises(UnusableDatabaseError, match="has a shop already"):
        import_shop(tmp_path / "shop.zip", there / "elumbra.db", there / "photos")


def _without(source: Path, target: Path, name: str, content: bytes | None) -> Path:
    with zipfile.ZipFile(source) as old, zipfile.ZipFile(target, "w") as new:
        for one in old.namelist():
            if one != name:
                new.writestr(one, old.read(one))
        if content is not None:
            new.writestr(name, content)
    return target


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("shop.json", None, "is no shop of ours"),
        ("shop.json", b"{}", "no shop of ours"),
        ("shop.json", b"not json", "is no shop of ours"),
        ("tables/job.json", None, "is damaged"),
        ("tables/job.json", b'{"columns": ["id"], "rows": [["x"]]}', "is damaged|point at|differs"),
        ("tables/person.json", b'{"columns": ["id", "hack"], "rows": []}', "does not know"),
        (
            "tables/person.json",
            b'{"columns": ["id", "name", "role", "version", "removed", "facts"], "rows": []}',
            "differs|point at",
        ),
    ],
)
def test_a_damaged_shop_is_refused_and_leaves_nothing_behind(
    shop: Database, tmp_path: Path, name: str, content: bytes | None, said: str
) -> None:
    export_shop(shop.path, None, tmp_path / "shop.zip")
    bad = _without(tmp_path / "shop.zip", tmp_path / "bad.zip", name, content)
    there = tmp_path / "there"
    there.mkdir()
    with pytest.raises(UnusableDatabaseError, match=said):
        import_shop(bad, there / "elumbra.db", there / "photos")
    assert not list(there.glob("*.db")) + list(there.glob(".elumbra*"))


def test_a_picture_never_lies_outside_its_folder(shop: Database, tmp_path: Path) -> None:
    export_shop(shop.path, None, tmp_path / "shop.zip")
    with zipfile.ZipFile(tmp_path / "shop.zip") as archive:
        head = json.loads(archive.read("shop.json"))
    head["photos"] = {"../../evil.jpg": "0" * 64}
    bad = _without(tmp_path / "shop.zip", tmp_path / "bad.zip", "shop.json", json.dumps(head).encode())
    with zipfile.ZipFile(bad, "a") as archive:
        archive.writestr("photos/../../evil.jpg", b"x")
    there = tmp_path / "there"
    there.mkdir()
    with pytest.raises(UnusableDatabaseError, match="lie outside"):
        import_shop(bad, there / "elumbra.db", there / "photos")
    assert not (tmp_path / "evil.jpg").exists()


@pytest.mark.parametrize("text", ["", "{}", "[]", "not json", '{"tables": {"a": 1}}', '{"tables": {}, "other": 1}'])
def test_a_manifest_that_is_none_is_none(text: str) -> None:
    assert parse_manifest(text) is None

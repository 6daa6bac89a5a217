"""What can be wrong with the data folder: said in one sentence with the mend, never a traceback."""

from __future__ import annotations

import os
import shutil
import sqlite3
import stat
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from datetime import date, timedelta
from pathlib import Path

import pytest

from elumbra.cli import main
from elumbra.storage.backup import copy_to, put_back
from elumbra.storage.database import Database, UnusableDatabaseError
from elumbra.storage.keeping import spare_copies
from elumbra.storage.lock import FolderLock, FolderTakenError
from elumbra.storage.records import PersonRecord
from elumbra.storage.store import people
from tests.e2e.server import free_port


def shop(folder: Path, name: str = "Ada") -> Path:
    """A data folder with one person in it."""
    folder.mkdir(parents=True, exist_ok=True)
    database = Database(folder / "elumbra.db")
    database.migrate()
    with database.session(write=True) as session:
        people(session).create(PersonRecord(id="ada", name=name, role="lead"), person_id="test")
    with database.engine.connect() as connection:
        connection.exec_driver_sql("COMMIT")
        connection.exec_driver_sql("PRAGMA wal_checkpoint(TRUNCATE)")
    database.close()
    return folder


def who(folder: Path) -> list[str]:
    database = Database(folder / "elumbra.db")
    try:
        with database.session(write=False) as session:
            return [person.name for person in people(session).all()]
    finally:
        database.close()


def garbage(folder: Path) -> None:
    (folder / "elumbra.db").write_bytes(b"this is no database at all, but a letter " * 200)


def truncated(folder: Path) -> None:
    path = folder / "elumbra.db"
    path.write_bytes(path.read_bytes()[: path.stat().st_size // 2])


def newer(folder: Path) -> None:
    with sqlite3.connect(folder / "elumbra.db") as connection:
        connection.execute("UPDATE alembic_version SET version_num = '2031_01_01_from_the_future'")


def foreign(folder: Path) -> None:
    (folder / "elumbra.db").unlink()
    with sqlite3.connect(folder / "elumbra.db") as connection:
        connection.execute("CREATE TABLE recipes (name TEXT)")


def foreign_secret(folder: Path) -> None:
    (folder / "secret.key").write_bytes(b"short")


def empty_secret(folder: Path) -> None:
    (folder / "secret.key").write_bytes(b"")


def a_folder_in_its_place(folder: Path) -> None:
    (folder / "elumbra.db").unlink()
    (folder / "elumbra.db").mkdir()


@pytest.mark.parametrize(
    ("damage", "says"),
    [
        (garbage, "is not a database that can be read"),
        (truncated, "elumbra restore"),
        (newer, "written by a newer release"),
        (foreign, "some other program's database"),
        (foreign_secret, "is not a key of ours: it has 5 bytes"),
        (empty_secret, "Delete it; a new one is made"),
        (a_folder_in_its_place, "elumbra: "),
    ],
)
def test_a_data_folder_that_cannot_be_used_is_told_in_one_sentence(
    tmp_path: Path, capfd: pytest.CaptureFixture[str], damage: Callable[[Path], None], says: str
) -> None:
    folder = shop(tmp_path / "data")
    damage(folder)
    assert main(["serve", "--port", str(free_port()), "--data", str(folder)]) == 1
    told = capfd.readouterr().err
    assert says in told
    assert told.startswith("elumbra: ")
    assert "Traceback" not in told
    assert told.count("\n") == 1


def test_a_folder_that_cannot_be_written_is_told(tmp_path: Path, capfd: pytest.CaptureFixture[str]) -> None:
    """A file stands where the folder should be: no rights of any user help there."""
    (tmp_path / "data").write_text("not a folder")
    assert main(["serve", "--port", str(free_port()), "--data", str(tmp_path / "data")]) == 1
    assert "name another folder with --data" in capfd.readouterr().err


def test_files_are_the_owner_s_alone(tmp_path: Path) -> None:
    from elumbra.api.app import load_secret

    folder = shop(tmp_path / "data")
    secret = load_secret(folder)
    assert len(secret) == 32
    assert load_secret(folder) == secret
    for name in ("elumbra.db", "secret.key"):
        assert stat.S_IMODE((folder / name).stat().st_mode) == 0o600
    assert [path.name for path in folder.glob("secret*")] == ["secret.key"], "nothing half written stays"


def test_what_an_older_release_left_open_to_all_is_closed(tmp_path: Path) -> None:
    database = Database(shop(tmp_path / "data") / "elumbra.db")
    with database.engine.connect() as kept_open:  # SQLite's own files beside it stay while somebody reads
        kept_open.exec_driver_sql("SELECT count(*) FROM job")
        files = [database.path.with_name(database.path.name + end) for end in ("", "-wal", "-shm")]
        for path in files:
            path.chmod(0o644)
        database.migrate()
        assert [stat.S_IMODE(path.stat().st_mode) for path in files] == [0o600] * 3


def test_a_second_server_says_who_has_the_folder(tmp_path: Path, capfd: pytest.CaptureFixture[str]) -> None:
    folder = shop(tmp_path / "data")
    first = FolderLock(folder)
    first.take("the server at http://127.0.0.1:8420")
    with pytest.raises(FolderTakenError, match=rf"8420 \(process {os.getpid()}\)"):
        FolderLock(folder).take("another")
    assert main(["serve", "--port", str(free_port()), "--data", str(folder)]) == 1
    assert "is in use by the server at http://127.0.0.1:8420" in capfd.readouterr().err
    assert main(["restore", "--data", str(folder), str(folder / "elumbra.db")]) == 1
    first.release()
    FolderLock(folder).take("another")


def test_a_copy_made_while_writing_goes_on_is_whole_and_comes_back(tmp_path: Path) -> None:
    folder = shop(tmp_path / "data")
    database = Database(folder / "elumbra.db")
    with database.session(write=True) as session:
        people(session).create(PersonRecord(id="bea", name="Bea", role="lead"), person_id="test")
    assert main(["backup", "--data", str(folder), str(tmp_path / "copy.db")]) == 0
    with database.session(write=True) as session:
        people(session).create(PersonRecord(id="cy", name="Cy", role="lead"), person_id="test")
    database.close()
    assert stat.S_IMODE((tmp_path / "copy.db").stat().st_mode) == 0o600
    (folder / "elumbra.db-wal").write_bytes(b"left behind by a crash")
    (folder / "elumbra.db-shm").write_bytes(b"the same")
    assert main(["restore", "--data", str(folder), str(tmp_path / "copy.db")]) == 0
    assert sorted(who(folder)) == ["Ada", "Bea"]
    (before,) = (folder / "backups").glob("before-restore-*.db")
    assert before.stat().st_size > 0


def test_a_restore_ended_before_its_last_step_leaves_the_old_data(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    copy = tmp_path / "copy.db"
    copy_to(shop(tmp_path / "other", "Other") / "elumbra.db", copy)
    folder, killed = shop(tmp_path / "data"), tmp_path / "killed"
    killed.mkdir()
    with closing(sqlite3.connect(folder / "elumbra.db")) as writer:
        writer.execute("PRAGMA wal_autocheckpoint=0")
        writer.execute("UPDATE person SET name = 'Only in the wal'")
        writer.commit()
        for path in folder.glob("elumbra.db*"):
            shutil.copy(path, killed)  # as a server ended hard leaves it
    assert (killed / "elumbra.db-wal").stat().st_size > 0
    replace = Path.replace

    def ended(path: Path, target: Path) -> Path:
        if path.name.endswith(".restoring"):
            raise KeyboardInterrupt
        return replace(path, target)

    monkeypatch.setattr(Path, "replace", ended)
    with pytest.raises(KeyboardInterrupt):
        put_back(copy, killed / "elumbra.db")
    monkeypatch.undo()
    assert who(killed) == ["Only in the wal"]
    put_back(copy, killed / "elumbra.db")
    assert who(killed) == ["Other"]


def test_a_bad_copy_is_refused_and_nothing_is_changed(tmp_path: Path, capfd: pytest.CaptureFixture[str]) -> None:
    folder = shop(tmp_path / "data")
    (tmp_path / "bad.db").write_bytes(b"not a copy" * 500)
    assert main(["restore", "--data", str(folder), str(tmp_path / "bad.db")]) == 1
    assert "is not a copy of Elumbra's data" in capfd.readouterr().err
    assert main(["restore", "--data", str(folder), str(tmp_path / "none.db")]) == 1
    assert main(["backup", "--data", str(tmp_path / "nowhere"), str(tmp_path / "x.db")]) == 1
    half = shop(tmp_path / "half", "Half") / "elumbra.db"
    half.write_bytes(half.read_bytes()[: half.stat().st_size // 3])
    with pytest.raises(UnusableDatabaseError):
        put_back(half, folder / "elumbra.db")
    assert who(folder) == ["Ada"]
    assert not list(folder.glob(".*"))


def test_nightly_copies_go_by_the_rule_of_days_weeks_and_months() -> None:
    """Through a year and a half of nights, one by one: seven days, four weeks' firsts, twelve months' firsts."""
    kept: list[str] = []
    days = [date(2026, 1, 1) + timedelta(days=i) for i in range(540)]
    for day in days:
        kept.append(f"elumbra-{day}.db")
        gone = set(spare_copies([*kept, "by-hand-1.db", "before-upgrade.db"]))
        assert not gone & {"by-hand-1.db", "before-upgrade.db"}
        kept = [name for name in kept if name not in gone]
    assert kept[-7:] == [f"elumbra-{day}.db" for day in days[-7:]]
    left = {date.fromisoformat(name[8:18]) for name in kept}
    months = {(day.year, day.month) for day in days}
    firsts = [min(day for day in days if (day.year, day.month) == one) for one in sorted(months)[-12:]]
    assert set(firsts) <= left, "the first of each of twelve months"
    weeks = sorted({day.isocalendar()[:2] for day in days})[-4:]
    for week in weeks:
        assert any(day.isocalendar()[:2] == week for day in left)
    assert len(left) <= 7 + 4 + 12


def test_a_full_disk_leaves_no_half_a_copy(tmp_path: Path) -> None:
    folder = shop(tmp_path / "data")
    target = tmp_path / "there" / "copy.db"
    copy_to(folder / "elumbra.db", target)
    assert who_of(target) == 1
    with pytest.raises(UnusableDatabaseError):
        copy_to(tmp_path / "none" / "x.db", tmp_path / "there" / "y.db")
    assert [path.name for path in target.parent.iterdir()] == ["copy.db"]


def who_of(copy: Path) -> int:
    with sqlite3.connect(copy) as connection:
        return int(connection.execute("SELECT count(*) FROM person").fetchone()[0])


def test_the_application_loads_no_solver_at_its_start() -> None:
    """Only the process that proves loads it: it takes as long as all else that starts."""
    code = "import sys, elumbra.api.app; print(*{'ortools', 'pandas'} & set(sys.modules))"
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.split() == []

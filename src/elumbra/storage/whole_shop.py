"""The whole shop as open files, and back: one zip with a JSON file for each table, and the pictures.

Left out are passwords, devices, who sits where, long work and write ids: they belong to one machine, not to a shop.
"""

from __future__ import annotations

import json
import sqlite3
import zipfile
from contextlib import closing
from dataclasses import dataclass
from hashlib import sha256
from pathlib import Path

from elumbra import __version__
from elumbra.storage.database import Database, UnusableDatabaseError
from elumbra.storage.manifest import Differences, as_plain, differences, from_plain, revision_of, table_digests

FORMAT, VERSION = "elumbra-shop", 1
OF_THE_MACHINE = frozenset(
    {"alembic_version", "credential", "device", "enrolment", "guess", "sitting", "task", "write", "summary"}
)
_LARGEST_TABLE = 2_000_000_000
_MOST_PHOTOS = 500_000


def export_shop(database: Path, photos: Path | None, out: Path) -> dict[str, int]:
    """Write the whole shop into a zip; rows by table.

    The zip is there whole or not at all; all tables are of one moment.
    """
    unfinished = out.with_name(f".{out.name}.unfinished")
    counts: dict[str, int] = {}
    try:
        with (
            closing(sqlite3.connect(database, isolation_level=None)) as source,
            zipfile.ZipFile(unfinished, "w", zipfile.ZIP_DEFLATED) as archive,
        ):
            source.execute("BEGIN")
            digests = {name: one for name, one in table_digests(source).items() if name not in OF_THE_MACHINE}
            for name in digests:
                counts[name] = _write_table(source, archive, name)
            pictures = _write_photos(archive, photos)
            head = {
                "format": FORMAT, "version": VERSION, "release": __version__, "revision": revision_of(source),
                "tables": digests, "photos": pictures,
            }  # fmt: skip
            archive.writestr("shop.json", json.dumps(head, indent=1))
            source.execute("ROLLBACK")
        unfinished.replace(out)
    finally:
        unfinished.unlink(missing_ok=True)
    return counts


def _write_table(source: sqlite3.Connection, archive: zipfile.ZipFile, name: str) -> int:
    cursor = source.execute(f'SELECT rowid AS _rowid, * FROM "{name}" ORDER BY rowid')
    columns = [one[0] for one in cursor.description][1:]
    count = 0
    with archive.open(f"tables/{name}.json", "w", force_zip64=True) as file:
        file.write(json.dumps({"columns": columns}).encode()[:-1] + b', "rows": [')
        for row in cursor:
            file.write((b"," if count else b"") + b"\n" + json.dumps([as_plain(one) for one in row[1:]]).encode())
            count += 1
        file.write(b"\n]}\n")
    return count


def _write_photos(archive: zipfile.ZipFile, photos: Path | None) -> dict[str, str]:
    found = {}
    for path in sorted(photos.rglob("*")) if photos is not None and photos.is_dir() else ():
        if path.is_file() and not path.name.startswith("."):
            content = path.read_bytes()
            name = path.relative_to(photos).as_posix() if photos is not None else path.name
            archive.writestr(zipfile.ZipInfo(f"photos/{name}"), content)
            found[name] = sha256(content).hexdigest()
    return found


def import_shop(archive_path: Path, database: Path, photos: Path) -> Differences:
    """Take a whole shop into an empty place; what differs from what was written out: nothing.

    Raises
    ------
    UnusableDatabaseError
        The place is not empty; the zip is none of ours, damaged, or of a newer release. Nothing is left behind.
    """
    if database.exists() and database.stat().st_size:
        raise UnusableDatabaseError(f"{database} has a shop already. Name an empty folder with --data.")
    unfinished = database.with_name(f".{database.name}.taking-in")
    try:
        try:
            with zipfile.ZipFile(archive_path) as archive:
                head = _head(archive)
                made = Database(unfinished)
                made.migrate()
                made.close()
                with closing(sqlite3.connect(unfinished)) as target:
                    if head.revision != revision_of(target):
                        raise UnusableDatabaseError(
                            f"{archive_path.name} was written by release {head.release}, whose tables are others than "
                            f"those of {__version__}. Take it in with that release, then upgrade."
                        )
                    _fill(target, archive, list(head.tables))
                    found = {name: one for name, one in table_digests(target).items() if name not in OF_THE_MACHINE}
                _take_photos(archive, head.photos, photos)
        except (zipfile.BadZipFile, KeyError, ValueError, TypeError, sqlite3.DatabaseError) as error:
            raise UnusableDatabaseError(f"{archive_path} is no shop of ours, or is damaged ({error}).") from error
        lost = differences(head.tables, found)
        if lost:
            raise UnusableDatabaseError(f"What was taken in differs from what was written out: {lost.tables}.")
        unfinished.replace(database)
    finally:
        for path in unfinished.parent.glob(f"{unfinished.name}*"):
            path.unlink(missing_ok=True)
    return lost


@dataclass(frozen=True)
class _Head:
    release: str
    revision: str
    tables: dict[str, tuple[int, str]]
    photos: dict[str, str]


def _head(archive: zipfile.ZipFile) -> _Head:
    said = json.loads(archive.read("shop.json"))
    if said.get("format") != FORMAT or said.get("version") != VERSION:
        raise UnusableDatabaseError("This zip is no shop of ours, or of a newer release.")
    tables = {str(name): (int(one[0]), str(one[1])) for name, one in said["tables"].items()}
    photos = {str(name): str(digest) for name, digest in said["photos"].items()}
    return _Head(str(said["release"]), str(said["revision"]), tables, photos)


def _fill(target: sqlite3.Connection, archive: zipfile.ZipFile, names: list[str]) -> None:
    """All rows in one transaction; what a fresh shop has by itself makes way."""
    known = {str(row[0]) for row in target.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
    triggers = target.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
    target.execute("PRAGMA foreign_keys=OFF")
    target.execute("BEGIN")
    for name, _ in triggers:
        target.execute(f'DROP TRIGGER "{name}"')
    for name in names:
        if name not in known:
            raise UnusableDatabaseError(f"There is no table “{name[:60]}” in this release.")
        info = archive.getinfo(f"tables/{name}.json")
        if info.file_size > _LARGEST_TABLE:
            raise UnusableDatabaseError(f"The table {name} is larger than any shop's.")
        content = json.loads(archive.read(info))
        own = {str(row[1]) for row in target.execute(f'PRAGMA table_info("{name}")')}
        columns = [str(one) for one in content["columns"]]
        if not set(columns) <= own:
            raise UnusableDatabaseError(f"The table {name} has columns that this release does not know.")
        target.execute(f'DELETE FROM "{name}"')
        listed = ", ".join(f'"{one}"' for one in columns)
        marks = ", ".join("?" for _ in columns)
        target.executemany(
            f'INSERT INTO "{name}" ({listed}) VALUES ({marks})',
            ([from_plain(one) for one in row] for row in content["rows"]),
        )
    for _, sql in triggers:
        target.execute(sql)
    broken = target.execute("PRAGMA foreign_key_check").fetchone()
    if broken:
        raise UnusableDatabaseError(f"Rows of {broken[0]} point at what is not there.")
    target.commit()


def _take_photos(archive: zipfile.ZipFile, wanted: dict[str, str], photos: Path) -> None:
    if len(wanted) > _MOST_PHOTOS:
        raise UnusableDatabaseError("More pictures than any shop has.")
    for name, digest in wanted.items():
        place = (photos / name).resolve()
        if not place.is_relative_to(photos.resolve()):
            raise UnusableDatabaseError(f"A picture wants to lie outside: {name[:80]}.")
        content = archive.read(f"photos/{name}")
        if sha256(content).hexdigest() != digest:
            raise UnusableDatabaseError(f"The picture {name[:80]} is damaged.")
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(content)

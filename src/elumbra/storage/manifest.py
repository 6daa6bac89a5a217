"""What a copy holds, in few words: its checksum, and of every table how many rows and a digest of them.

Digests do not depend on the order of rows, so that a shop that was written out and taken in again compares equal.
"""

from __future__ import annotations

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, dataclass, field
from hashlib import sha256
from pathlib import Path
from typing import Any

_CHUNK = 1 << 20
_PASSING = frozenset({"sitting", "guess", "enrolment"})
"""Who sits where just now: no part of what a shop keeps."""


@dataclass(frozen=True)
class Manifest:
    """What a copy holds."""

    made_at: str  # ISO, UTC
    release: str
    revision: str  # of its tables
    sha256: str  # of the file
    size: int
    tables: Mapping[str, tuple[int, str]]  # rows and digest
    photos: int
    why: str = "nightly"

    def to_json(self) -> str:
        """As it lies beside the copy."""
        return json.dumps(asdict(self), indent=1)


@dataclass(frozen=True)
class Differences:
    """What two shops do not have in common, by table."""

    tables: Mapping[str, str] = field(default_factory=dict)

    def __bool__(self) -> bool:
        return bool(self.tables)


def parse_manifest(text: str) -> Manifest | None:
    """A manifest; None where it is none of ours."""
    try:
        said = json.loads(text)
        tables = {str(name): (int(one[0]), str(one[1])) for name, one in said.pop("tables").items()}
        return Manifest(tables=tables, **said)
    except (ValueError, TypeError, KeyError, IndexError, AttributeError):
        return None


def checksum(path: Path) -> str:
    """SHA-256 of a file."""
    total = sha256()
    with path.open("rb") as file:
        while chunk := file.read(_CHUNK):
            total.update(chunk)
    return total.hexdigest()


def table_digests(connection: sqlite3.Connection) -> dict[str, tuple[int, str]]:
    """Of every table the number of rows and a digest of them, in whatever order they lie."""
    names = [
        str(row[0])
        for row in connection.execute(
            "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%' ORDER BY name"
        )
    ]
    found = {}
    for name in names:
        if name in _PASSING:
            continue
        count, total = 0, 0
        for row in connection.execute(f'SELECT * FROM "{name}"'):
            count += 1
            total = (total + int.from_bytes(sha256(repr(row).encode()).digest()[:16], "big")) % (1 << 128)
        found[name] = (count, f"{total:032x}")
    return found


def revision_of(connection: sqlite3.Connection) -> str:
    """Which migration the tables are at."""
    try:
        row = connection.execute("SELECT version_num FROM alembic_version").fetchone()
    except sqlite3.DatabaseError:
        return ""
    return "" if row is None else str(row[0])


def differences(before: Mapping[str, tuple[int, str]], after: Mapping[str, tuple[int, str]]) -> Differences:
    """What differs, in words, by table.

    Examples
    --------
    >>> differences({"job": (3, "a")}, {"job": (4, "b"), "film": (1, "c")}).tables
    {'film': 'only in the second', 'job': '3 rows against 4'}
    >>> bool(differences({}, {}))
    False
    """
    found = {}
    for name in sorted({*before, *after}):
        if name not in after:
            found[name] = "only in the first"
        elif name not in before:
            found[name] = "only in the second"
        elif before[name][0] != after[name][0]:
            found[name] = f"{before[name][0]} rows against {after[name][0]}"
        elif before[name][1] != after[name][1]:
            found[name] = f"{before[name][0]} rows, not all the same"
    return Differences(found)


def as_plain(value: Any) -> Any:
    """A value of a row as JSON takes it: bytes as hex, marked."""
    return {"hex": value.hex()} if isinstance(value, bytes) else value


def from_plain(value: Any) -> Any:
    """Back again."""
    return bytes.fromhex(value["hex"]) if isinstance(value, dict) and set(value) == {"hex"} else value

"""Copies of the shop. Plain arguments, no web framework."""

from __future__ import annotations

import shutil
from collections.abc import Mapping
from datetime import UTC, datetime
from pathlib import Path
from typing import Protocol

from sqlalchemy.orm import Session

from elumbra.api.keeping.schemas import (
    CopyDifference,
    CopyOut,
    KeepingBody,
    KeepingOut,
    RehearsalOut,
    RestoreBody,
    RestoredOut,
    SizeOut,
)
from elumbra.core.errors import CoreError
from elumbra.storage import keeping
from elumbra.storage.database import Database
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.upkeep import SECOND_FOLDER, Last

_RULES = (
    "Every night a copy; kept are the newest seven, the first of each of four weeks and of each of twelve months.",
    "Before a new release changes the shop’s file, and before a copy is put back, a copy is made and stays.",
    "Each copy is read back and compared, table by table, with the shop at the moment it was made.",
    "Of long work the newest 400 results stay; ids of writes are kept for 14 days, sittings for 30.",
)
_NAMES: Mapping[str, str] = {
    "job": "jobs", "window": "windows", "customer": "customers", "stock": "pieces of film", "movement": "movements of "
    "film", "audit": "entries of the trail", "photo": "pictures", "quote": "quotes", "step_event": "ticks",
}  # fmt: skip


class Keeper(Protocol):
    """Whoever makes copies."""

    folder: Path
    photos: Path
    last: Last

    def copy_now(self) -> keeping.Copy:
        """A copy by hand."""


def page(session: Session, database: Database, keeper: Keeper) -> KeepingOut:
    """Copies, sizes and rules."""
    second, version = kept(session, SECOND_FOLDER, "")
    copies = keeping.copies_in(keeper.folder)
    size = keeping.shop_size(database.path, keeper.photos)
    return KeepingOut(
        copies=[_copy(one) for one in copies],
        folder=str(keeper.folder),
        second_folder=second,
        version=version,
        last_at=keeper.last.at,
        last_words=keeper.last.words,
        last_bad=keeper.last.bad,
        database_bytes=size["database"],
        journal_bytes=size["journal"],
        photo_bytes=size["photos"],
        free_bytes=shutil.disk_usage(database.path.parent).free,
        growth=_growth(copies),
        rules=list(_RULES),
    )


def _copy(copy: keeping.Copy) -> CopyOut:
    said = copy.manifest
    return CopyOut(
        name=copy.name,
        made_at=datetime.fromisoformat(said.made_at)
        if said
        else datetime.fromtimestamp(copy.path.stat().st_mtime, UTC),
        why=said.why if said else "by an earlier release",
        size=copy.size,
        release=said.release if said else "",
        rows=sum(count for count, _ in said.tables.values()) if said else None,
        photos=said.photos if said else None,
    )


def _written(path: Path) -> datetime:
    return datetime.fromtimestamp(path.stat().st_mtime, UTC)


def _growth(copies: list[keeping.Copy]) -> list[SizeOut]:
    by_day: dict[str, int] = {}
    for one in copies:
        if one.manifest is not None:
            by_day.setdefault(one.manifest.made_at[:10], one.size)
    return [SizeOut(day=day, size=size) for day, size in sorted(by_day.items())]


def set_second_folder(session: Session, body: KeepingBody, *, person_id: str) -> str:
    """Where copies go besides.

    Raises
    ------
    CoreError
        A folder that is not there or cannot be written.
    """
    name = body.second_folder.strip()
    if name:
        place = Path(name)
        if not place.is_absolute() or not place.is_dir():
            raise CoreError(
                f"There is no folder {name} on the machine that runs Elumbra. Put the drive in, then name its folder "
                "from the root on.",
                fields={"second_folder": "Not there."},
            )
        try:
            probe = place / ".elumbra-probe"
            probe.write_text("", encoding="utf-8")
            probe.unlink()
        except OSError as error:
            words = f"{name} cannot be written: {error.strerror}."
            raise CoreError(words, fields={"second_folder": "Not writable."}) from error
    return keep(session, SECOND_FOLDER, name, version=body.version, person_id=person_id)


def rehearse(database: Database, keeper: Keeper, name: str) -> RehearsalOut:
    """What putting a copy back would give; nothing is touched."""
    return _rehearsal(keeping.rehearse(keeping.find_copy(keeper.folder, name), database.path))


def _rehearsal(found: keeping.Rehearsal) -> RehearsalOut:
    differs = [
        CopyDifference(what=_NAMES.get(table, table.replace("_", " ")), words=words)
        for table, words in found.against_now.tables.items()
        if table not in ("sitting", "write", "task", "summary", "guess", "alembic_version")
    ]
    jobs, customers = found.tables.get("job", 0), found.tables.get("customer", 0)
    return RehearsalOut(
        name=found.copy.name, words=f"{found.copy.name} is whole: {jobs} jobs, {customers} customers",
        jobs=jobs, customers=customers, rows=sum(found.tables.values()), upgraded=found.upgraded,
        differs=differs,
    )  # fmt: skip


def restore(database: Database, keeper: Keeper, body: RestoreBody) -> RestoredOut:
    """Put a copy in the place of the shop.

    Raises
    ------
    CoreError
        Its name was not typed once more.
    """
    if body.again.strip() != body.name:
        raise CoreError("Type the name of the copy once more: all that was done since it was made goes with this.",
                        fields={"again": "The name of the copy."})  # fmt: skip
    copy = keeping.find_copy(keeper.folder, body.name)
    before, found = keeping.restore_live(database, copy, folder=keeper.folder, photos=keeper.photos)
    words = (
        f"{copy.name} is in place: {found.tables.get('job', 0)} jobs. What stood there is {before.name}. Sign in again."
    )
    return RestoredOut(words=words, before=before.name)

"""Reading and writing records: one way for all tables.

Every write names the acting person, bumps the record's version and leaves an audit entry.
A write based on an older version is refused with what changed since.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any, Generic, TypeVar
from uuid import uuid4

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.storage.records import (
    AuditRecord,
    FilmRecord,
    InstalledReadingRecord,
    JobRecord,
    PersonRecord,
    ReasonRecord,
    StockRecord,
    WindowRecord,
    as_record,
)
from elumbra.storage.tables import (
    AuditRow,
    FilmRow,
    InstalledReadingRow,
    JobRow,
    PersonRow,
    ReasonRow,
    ShopValueRow,
    StockRow,
    WindowRow,
)

R = TypeVar("R")


class NotFoundError(LookupError):
    """No such record."""

    def __init__(self, kind: str, record_id: str) -> None:
        super().__init__(f"There is no {kind} “{record_id}” here.")


@dataclass(frozen=True)
class ChangedField:
    """What someone else changed since the version a stale write was based on."""

    field: str
    now: Any
    person_id: str
    at: datetime


class StaleWriteError(Exception):
    """The record has moved on since the writer read it."""

    def __init__(self, kind: str, version: int, changed: Sequence[ChangedField]) -> None:
        names = ", ".join(sorted({change.field.replace("_", " ") for change in changed})) or "it"
        super().__init__(f"Someone changed {names} of this {kind} meanwhile. Look at the new values and save again.")
        self.version = version
        self.changed = tuple(changed)


def now() -> datetime:
    """The time that records carry: UTC, without zone, as SQLite keeps it."""
    return datetime.now(UTC).replace(tzinfo=None, microsecond=0)


def new_id() -> str:
    """An id that nobody else makes."""
    return uuid4().hex[:16]


class Store(Generic[R]):
    """Records of one table."""

    def __init__(self, session: Session, table: type[Any], record: type[R], kind: str) -> None:
        self._session, self._table, self._record, self._kind = session, table, record, kind

    def get(self, record_id: str) -> R:
        """A record by its id, removed ones too.

        Raises
        ------
        NotFoundError
            There is none.
        """
        return as_record(self._row(record_id), self._record)

    def all(self, *, order: str = "id", **equal: Any) -> list[R]:
        """Records that are not removed, with the given values."""
        query = select(self._table).where(self._table.removed.is_(False)).filter_by(**equal)
        rows = self._session.scalars(query.order_by(getattr(self._table, order), self._table.id))
        return [as_record(row, self._record) for row in rows]

    def create(self, values: Mapping[str, Any], *, person_id: str, record_id: str | None = None) -> R:
        """A new record, version 1."""
        row = self._table(id=record_id or new_id(), version=1, removed=False, **values)
        self._session.add(row)
        self._session.flush()
        self._audit(row, "created", {name: [None, _plain(value)] for name, value in values.items()}, person_id)
        return as_record(row, self._record)

    def update(
        self, record_id: str, changes: Mapping[str, Any], *, version: int, person_id: str, action: str = "changed"
    ) -> R:
        """Change a record that still is at the given version.

        Raises
        ------
        StaleWriteError
            It has moved on; what changed since is attached.
        NotFoundError
            There is no such record.
        """
        row = self._row(record_id)
        if row.version != version:
            raise StaleWriteError(self._kind, row.version, self._changed_since(row, version))
        different = {name: value for name, value in changes.items() if getattr(row, name) != value}
        if not different:
            return as_record(row, self._record)
        before = {name: _plain(getattr(row, name)) for name in different}
        for name, value in different.items():
            setattr(row, name, value)
        row.version += 1
        self._session.flush()
        entries = {name: [before[name], _plain(value)] for name, value in different.items()}
        self._audit(row, action, entries, person_id)
        return as_record(row, self._record)

    def remove(self, record_id: str, *, version: int, person_id: str) -> R:
        """Take a record out of sight; ``restore`` brings it back."""
        return self.update(record_id, {"removed": True}, version=version, person_id=person_id, action="removed")

    def restore(self, record_id: str, *, version: int, person_id: str) -> R:
        """Undo a removal."""
        return self.update(record_id, {"removed": False}, version=version, person_id=person_id, action="restored")

    def _row(self, record_id: str) -> Any:
        row = self._session.get(self._table, record_id)
        if row is None:
            raise NotFoundError(self._kind, record_id)
        return row

    def _changed_since(self, row: Any, version: int) -> list[ChangedField]:
        query = select(AuditRow).where(
            AuditRow.record_kind == self._kind, AuditRow.record_id == row.id, AuditRow.record_version > version
        )
        latest: dict[str, ChangedField] = {}
        for entry in self._session.scalars(query.order_by(AuditRow.id)):
            for name in entry.changes:
                latest[name] = ChangedField(name, _plain(getattr(row, name)), entry.person_id, entry.at)
        return list(latest.values())

    def _audit(self, row: Any, action: str, changes: dict[str, Any], person_id: str) -> None:
        job_id = row.id if isinstance(row, JobRow) else getattr(row, "job_id", None)
        self._session.add(
            AuditRow(
                at=now(), person_id=person_id, action=action, record_kind=self._kind, record_id=row.id,
                record_version=row.version, job_id=job_id, changes=changes,
            )
        )  # fmt: skip


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def people(session: Session) -> Store[PersonRecord]:
    """The people of the shop."""
    return Store(session, PersonRow, PersonRecord, "person")


def films(session: Session) -> Store[FilmRecord]:
    """Film products."""
    return Store(session, FilmRow, FilmRecord, "film")


def stock(session: Session) -> Store[StockRecord]:
    """Rolls, offcuts and sheets."""
    return Store(session, StockRow, StockRecord, "stock")


def jobs(session: Session) -> Store[JobRecord]:
    """Jobs."""
    return Store(session, JobRow, JobRecord, "job")


def windows(session: Session) -> Store[WindowRecord]:
    """Windows of all jobs."""
    return Store(session, WindowRow, WindowRecord, "window")


def reasons(session: Session) -> Store[ReasonRecord]:
    """Leads' reasons for unlawful films."""
    return Store(session, ReasonRow, ReasonRecord, "reason")


def installed_readings(session: Session) -> Store[InstalledReadingRecord]:
    """Panes metered with their new film on."""
    return Store(session, InstalledReadingRow, InstalledReadingRecord, "reading after installation")


@dataclass(frozen=True)
class ShopValueRecord:
    """The shop's own figure for a starting value."""

    id: str
    version: int
    removed: bool
    value: float


def shop_values(session: Session) -> Store[ShopValueRecord]:
    """The shop's own figures."""
    return Store(session, ShopValueRow, ShopValueRecord, "shop value")


def next_job_number(session: Session) -> int:
    """The number after the highest one given out."""
    return int(session.scalar(select(func.coalesce(func.max(JobRow.number), 1000))) or 1000) + 1


def job_history(session: Session, job_id: str, *, most: int = 100) -> list[AuditRecord]:
    """The newest entries of a job's audit trail, newest first."""
    query = select(AuditRow).where(AuditRow.job_id == job_id).order_by(AuditRow.id.desc()).limit(most)
    return [as_record(row, AuditRecord) for row in session.scalars(query)]

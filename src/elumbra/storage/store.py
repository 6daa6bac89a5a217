"""Reading and writing records: one way for all tables.

Every write names the acting person, bumps the record's version and leaves an audit entry.
A write based on an older version is refused with what changed since.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Generic, TypeVar

from sqlalchemy import func, literal_column, select, update
from sqlalchemy.orm import Session

from elumbra.core.deeds import State
from elumbra.core.errors import CoreError
from elumbra.storage.declared import as_kept, as_record, new_id, now
from elumbra.storage.kept_tables import DeliveryRow
from elumbra.storage.records import (
    AuditRecord,
    CuttingRecord,
    FilmRecord,
    InstalledReadingRecord,
    JobRecord,
    PersonRecord,
    ReasonRecord,
    Record,
    SettingRecord,
    ShopValueRecord,
    StockRecord,
    WindowRecord,
)
from elumbra.storage.shelf_records import ShelfCarRecord, ShelfPaneRecord
from elumbra.storage.tables import (
    AuditRow,
    CuttingRow,
    FilmRow,
    InstalledReadingRow,
    JobRow,
    PersonRow,
    ReasonRow,
    SettingRow,
    ShelfCarRow,
    ShelfPaneRow,
    ShopStampRow,
    ShopValueRow,
    StockRow,
    WindowRow,
)

__all__ = ["ChangedField", "NotFoundError", "StaleWriteError", "Store", "new_id", "now"]

R = TypeVar("R", bound=Record)
_KEPT_BY_STORE = frozenset({"id", "version", "stamp"})
_FACTS = "facts"
_BY_KEY = frozenset({"readings", "findings"})


class NotFoundError(LookupError):
    """No such record."""

    def __init__(self, kind: str, record_id: str) -> None:
        super().__init__(f"There is no {kind} “{record_id[:80]}” here.")


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


class DeliveredError(CoreError):
    """A car that is gone stays as it went."""

    def __init__(self, day: str) -> None:
        super().__init__(
            f"This car was delivered on {day}: what went stays as it was. A lead can undo the delivery, with a reason; "
            "what is done again is a job of its own.",
            fields={"version": "Delivered."},
        )


class Store(Generic[R]):
    """Records of one table."""

    def __init__(self, session: Session, table: type[Any], record: type[R], kind: str) -> None:
        self._session, self._table, self._record, self._kind = session, table, record, kind
        self._columns = frozenset(column.key for column in table.__table__.columns)

    def get(self, record_id: str) -> R:
        """A record by its id, removed ones too.

        Raises
        ------
        NotFoundError
            There is none.
        """
        return as_record(self._row(record_id), self._record)

    def get_present(self, record_id: str) -> R:
        """A record by its id that was not taken out of sight.

        Raises
        ------
        NotFoundError
            There is none, or it was removed.
        """
        found = self.get(record_id)
        if found.removed:
            raise NotFoundError(self._kind, record_id)
        return found

    def find(self, record_id: str) -> R | None:
        """A record by its id, removed ones too; None where there is none."""
        row = self._session.get(self._table, record_id)
        return None if row is None else as_record(row, self._record)

    def all(self, *, order: str = "id", removed_too: bool = False, **equal: Any) -> list[R]:
        """Records with the given values, or one of several; those out of sight only where asked for.

        What is alike in the order asked for comes in the order in which it was written.
        """
        query = select(self._table)
        for name, value in equal.items():
            column = getattr(self._table, name)
            query = query.where(column.in_(value) if isinstance(value, list) else column == value)
        if not removed_too:
            query = query.where(self._table.removed.is_(False))
        rows = self._session.scalars(
            query.order_by(getattr(self._table, order), literal_column(f"{self._table.__tablename__}.rowid"))
        )
        return [as_record(row, self._record) for row in rows]

    def count(self, **equal: Any) -> int:
        """How many records have the given values, removed ones too."""
        return self._session.scalar(select(func.count()).select_from(self._table).filter_by(**equal)) or 0

    def create(self, record: R, *, person_id: str) -> R:
        """Keep a new record."""
        self._refuse_delivered(record)
        values = {name: getattr(record, name) for name in self._columns}
        row = self._table(**{name: as_kept(value) for name, value in values.items()})
        self._session.add(row)
        self._session.flush()
        changes = {name: [None, value] for name, value in self._flat(values).items() if name not in _KEPT_BY_STORE}
        self._audit(row, "created", changes, person_id)
        return as_record(row, self._record)

    def update(
        self,
        record: R,
        *,
        person_id: str,
        action: str = "changed",
        besides: Mapping[str, tuple[Any, Any]] | None = None,
    ) -> R:
        """Keep what is different in a record that still is at its version.

        Parameters
        ----------
        record
            The record as it should be; its version is the one that the change is based on.
        person_id, action
            Who does what, for the audit trail.
        besides
            What changes beside the record itself, before and after by name: it counts as a change.

        Raises
        ------
        StaleWriteError
            It has moved on; what changed since is attached.
        NotFoundError
            There is no such record.
        """
        row = self._row(record.id)
        if row.version != record.version:
            raise StaleWriteError(self._kind, row.version, self._changed_since(row, record.version))
        before = {name: getattr(row, name) for name in self._columns - _KEPT_BY_STORE}
        after = {name: as_kept(getattr(record, name)) for name in before}
        different = [name for name in before if before[name] != after[name]]
        if not different and not besides:
            return as_record(row, self._record)
        if action != ERASED and (self._table is not JobRow or _GOES_WITH_THE_CAR.intersection(different)):
            self._refuse_delivered(record)
        for name in different:
            setattr(row, name, after[name])
        row.version += 1
        self._session.flush()
        old, new = self._flat(before), self._flat(after)
        entries = {name: [old.get(name), new.get(name)] for name in old | new if old.get(name) != new.get(name)}
        self._audit(row, action, entries | {name: list(pair) for name, pair in (besides or {}).items()}, person_id)
        return as_record(row, self._record)

    def remove(self, record_id: str, *, version: int, person_id: str) -> R:
        """Take a record out of sight; ``restore`` brings it back."""
        gone = replace(self.get(record_id), version=version, removed=True)
        return self.update(gone, person_id=person_id, action="removed")

    def restore(self, record_id: str, *, version: int, person_id: str) -> R:
        """Undo a removal."""
        back = replace(self.get(record_id), version=version, removed=False)
        return self.update(back, person_id=person_id, action="restored")

    def _refuse_delivered(self, record: R) -> None:
        """Refuse to change what went with a car; what a customer calls about later is kept with it."""
        if self._kind not in _OF_THE_CAR or getattr(record, "when", "") == "callback":
            return
        job_id = record.id if isinstance(record, JobRecord) else record.job_id  # type: ignore[attr-defined]
        day = self._session.scalar(
            select(JobRow.handed_over_on)
            .join(DeliveryRow, DeliveryRow.job_id == JobRow.id)
            .where(JobRow.id == job_id, JobRow.status == State.DELIVERED.value)
            .limit(1)
        )
        if day is not None:
            raise DeliveredError(day)

    def _row(self, record_id: str) -> Any:
        row = self._session.get(self._table, record_id)
        if row is None:
            raise NotFoundError(self._kind, record_id)
        return row

    @staticmethod
    def _flat(values: Mapping[str, Any]) -> dict[str, Any]:
        """Values by name, as the audit trail keeps them: facts, readings and findings each by its own."""
        plain = {name: _plain(value) for name, value in values.items() if name != _FACTS}
        flat: dict[str, Any] = {}
        for name, value in (plain | dict(values.get(_FACTS) or {})).items():
            if name in _BY_KEY and isinstance(value, Mapping):
                flat |= {f"{name}.{key}": one for key, one in value.items()}
            else:
                flat[name] = value
        return flat

    def _changed_since(self, row: Any, version: int) -> list[ChangedField]:
        query = select(AuditRow).where(
            AuditRow.record_kind == self._kind, AuditRow.record_id == row.id, AuditRow.record_version > version
        )
        latest: dict[str, ChangedField] = {}
        for entry in self._session.scalars(query.order_by(AuditRow.id)):
            for name, (_, after) in entry.changes.items():
                latest[name] = ChangedField(name, after, entry.person_id, entry.at)
        return list(latest.values())

    def _audit(self, row: Any, action: str, changes: dict[str, Any], person_id: str) -> None:
        job_id = row.id if isinstance(row, JobRow) else getattr(row, "job_id", None)
        self._session.add(
            AuditRow(
                at=now(), person_id=person_id, action=action, record_kind=self._kind, record_id=row.id,
                record_version=row.version, job_id=job_id, changes=changes,
            )
        )  # fmt: skip
        if job_id is not None:
            self._session.execute(update(JobRow).where(JobRow.id == job_id).values(stamp=JobRow.stamp + 1))
        if self._table in _SHOP_WIDE:
            stamp_shop(self._session)


ERASED = "erased"
"""The action of erasing a person: the only one that changes what went with a car."""
_OF_THE_CAR = frozenset({"job", "window", "reason", "reading after installation", "cutting", "quote", "flaw", "look"})
_GOES_WITH_THE_CAR = frozenset({"facts", "title", "note", "vehicle_label", "body", "law_day", "law_revision"})
_SHOP_WIDE = frozenset({FilmRow, StockRow, ShopValueRow, InstalledReadingRow})


def stamp_shop(session: Session) -> None:
    """Note that something changed which all jobs are looked at with."""
    session.execute(update(ShopStampRow).values(stamp=ShopStampRow.stamp + 1))


def shop_stamp(session: Session) -> int:
    """How often something changed which all jobs are looked at with."""
    return session.scalar(select(ShopStampRow.stamp)) or 0


def _plain(value: Any) -> Any:
    return value.isoformat() if isinstance(value, datetime) else value


def people(session: Session) -> Store[PersonRecord]:
    """The people of the shop."""
    return Store(session, PersonRow, PersonRecord, "person")


def films(session: Session) -> Store[FilmRecord]:
    """Film products."""
    return Store(session, FilmRow, FilmRecord, "film")


def stock(session: Session) -> Store[StockRecord]:
    """Rolls, offcuts and sheets; what is left of them is told by ``ledger.on_rack``."""
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


def cuttings(session: Session) -> Store[CuttingRecord]:
    """Times that film was cut."""
    return Store(session, CuttingRow, CuttingRecord, "cutting")


def shelf_cars(session: Session) -> Store[ShelfCarRecord]:
    """Cars of the glass shelf."""
    return Store(session, ShelfCarRow, ShelfCarRecord, "car of the shelf")


def shelf_panes(session: Session) -> Store[ShelfPaneRecord]:
    """Panes of the glass shelf, as they stand; change them by ``shelf.revise``."""
    return Store(session, ShelfPaneRow, ShelfPaneRecord, "pane of the shelf")


def settings(session: Session) -> Store[SettingRecord]:
    """The shop's settings that are no figures."""
    return Store(session, SettingRow, SettingRecord, "setting")


def shop_values(session: Session) -> Store[ShopValueRecord]:
    """The shop's own figures."""
    return Store(session, ShopValueRow, ShopValueRecord, "shop value")


def next_job_number(session: Session) -> int:
    """The number after the highest one given out."""
    return int(session.scalar(select(func.coalesce(func.max(JobRow.number), 1000))) or 1000) + 1


def job_changes(session: Session, job_id: str, *, since: int, most: int = 50) -> list[AuditRecord]:
    """Entries of a job's audit trail after one of them, newest first."""
    query = select(AuditRow).where(AuditRow.job_id == job_id, AuditRow.id > since)
    return [as_record(row, AuditRecord) for row in session.scalars(query.order_by(AuditRow.id.desc()).limit(most))]


def job_history(session: Session, job_id: str, *, most: int = 100) -> list[AuditRecord]:
    """The newest entries of a job's audit trail, newest first."""
    query = select(AuditRow).where(AuditRow.job_id == job_id).order_by(AuditRow.id.desc()).limit(most)
    return [as_record(row, AuditRecord) for row in session.scalars(query)]

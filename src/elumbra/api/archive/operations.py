"""Archiving and bringing back. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import UTC
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from elumbra.api.archive.schemas import Archivable, ArchivedItem, ArchivedOut
from elumbra.core.errors import CoreError
from elumbra.storage.film_uses import check_film_present, film_uses
from elumbra.storage.kept import customers
from elumbra.storage.ledger import off_rack
from elumbra.storage.store import films, people, shelf_cars, stock
from elumbra.storage.tables import AuditRow

_MOST_USES_TOLD = 6


@dataclass(frozen=True)
class _Kind:
    records: Callable[[Session], Any]
    audited: str  # what the audit trail calls it
    name: Callable[[Any], str]


_KINDS = {
    Archivable.FILM: _Kind(films, "film", lambda one: str(one.name)),
    Archivable.STOCK: _Kind(stock, "stock", lambda one: str(one.label)),
    Archivable.CUSTOMER: _Kind(customers, "customer", lambda one: str(one.name)),
    Archivable.SHELF_CAR: _Kind(shelf_cars, "car of the shelf", lambda one: f"{one.name} {one.years}".strip()),
}


def archived(session: Session, kind: Archivable) -> ArchivedOut:
    """All of a kind that is in the archive; who was erased or merged away, and film that is used up, is gone."""
    of = _KINDS[kind]
    gone = off_rack(session) if kind is Archivable.STOCK else of.records(session).all(removed_too=True)
    records = [
        one
        for one in gone
        if one.removed and not getattr(one, "erased_on", "") and not getattr(one, "merged_into", None)
    ]
    newest = (
        select(func.max(AuditRow.id))
        .where(AuditRow.record_kind == of.audited, AuditRow.action == "removed")
        .group_by(AuditRow.record_id)
    )
    told = {one.record_id: one for one in session.scalars(select(AuditRow).where(AuditRow.id.in_(newest)))}
    names = {one.id: one.name for one in people(session).all(removed_too=True)}
    items = [
        ArchivedItem(
            id=one.id,
            version=one.version,
            name=of.name(one),
            person=names.get(told[one.id].person_id, "") if one.id in told else "",
            at=told[one.id].at.replace(tzinfo=UTC) if one.id in told else None,
        )
        for one in records
    ]
    return ArchivedOut(kind=kind, items=sorted(items, key=lambda one: (one.name.casefold(), one.id)))


def archive(session: Session, kind: Archivable, record_id: str, *, version: int, person_id: str) -> str:
    """Take something out of its list; ``restore`` brings it back.

    Raises
    ------
    CoreError
        A film that an open job or stock still names: it is told where.
    StaleWriteError
        Somebody changed it meanwhile.
    """
    of = _KINDS[kind]
    record = of.records(session).get_present(record_id)
    if kind is Archivable.FILM and (uses := film_uses(session, record_id)):
        more = f" and {len(uses) - _MOST_USES_TOLD} more places" if len(uses) > _MOST_USES_TOLD else ""
        raise CoreError(
            f"{record.name} stays on file, for it is named in: "
            f"{'; '.join(uses[:_MOST_USES_TOLD])}{more}. Choose another film there first."
        )
    return str(of.records(session).remove(record_id, version=version, person_id=person_id).id)


def restore(session: Session, kind: Archivable, record_id: str, *, version: int, person_id: str) -> str:
    """Bring something back to its list.

    Raises
    ------
    CoreError
        Not archived, its film is archived itself, or its label is taken meanwhile.
    StaleWriteError
        Somebody changed it meanwhile.
    """
    of = _KINDS[kind]
    record = of.records(session).get(record_id)
    if getattr(record, "erased_on", "") or getattr(record, "merged_into", None):
        raise CoreError("This record was merged or erased: it does not come back.", fields={"id": "Gone."})
    if kind is Archivable.STOCK:
        check_film_present(session, record.film_id, where="the rack")
        if any(one.label.casefold() == record.label.casefold() for one in stock(session).all()):
            raise CoreError(
                f"Another piece on the rack is called {record.label} by now. Rename that one first.",
                fields={"label": "Taken."},
            )
    return str(of.records(session).restore(record_id, version=version, person_id=person_id).id)

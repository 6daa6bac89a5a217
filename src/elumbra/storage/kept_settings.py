"""Settings that the shop said once: read with their version, written on the version that was looked at."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from sqlalchemy.orm import Session

from elumbra.storage.kept_records import DeliveryRecord
from elumbra.storage.records import SettingRecord
from elumbra.storage.store import StaleWriteError, settings


def kept(session: Session, name: str, default: Any = None) -> tuple[Any, int]:
    """A setting and its version; the default and 0 while nobody said."""
    record = settings(session).find(name)
    return (default, 0) if record is None else (record.value.get("value", default), record.version)


def kept_then(session: Session, delivered: DeliveryRecord | None, name: str, default: Any = None) -> Any:
    """A setting; of a car that is gone, as it was said when it went."""
    if delivered is None:
        return kept(session, name, default)[0]
    value = delivered.settings.get(name)
    return default if value is None else value


def keep(session: Session, name: str, value: Any, *, version: int, person_id: str) -> str:
    """Say a setting; its name.

    Raises
    ------
    StaleWriteError
        Somebody said it meanwhile.
    """
    record = settings(session).find(name)
    if record is None:
        if version != 0:
            raise StaleWriteError("setting", 0, [])
        settings(session).create(SettingRecord(id=name, value={"value": value}), person_id=person_id)
    else:
        changed = replace(record, version=version, value={"value": value})
        settings(session).update(changed, person_id=person_id)
    return name

"""Starting values and pick lists."""

from __future__ import annotations

from pydantic import BaseModel
from sqlalchemy.orm import Session

from elumbra.api.job_documents import shop_starting_values
from elumbra.api.law_books import current_book
from elumbra.storage import data_files
from elumbra.storage.store import NotFoundError, shop_values


class StartingValueOut(BaseModel):
    """One figure."""

    name: str
    label: str
    value: float
    unit: str
    low: float
    high: float
    basis: str
    changed_by_shop: bool


class StartingValuesOut(BaseModel):
    """All figures of one version."""

    version: str
    values: list[StartingValueOut]


class StateOut(BaseModel):
    """A jurisdiction in a pick list."""

    code: str
    name: str


class BodyOut(BaseModel):
    """A body style in a pick list."""

    key: str
    label: str
    windows: int


class PickLists(BaseModel):
    """What new jobs are made from."""

    states: list[StateOut]
    bodies: list[BodyOut]
    law_version: str


def pick_lists(session: Session) -> PickLists:
    """Body styles and states on file."""
    law = current_book(session)
    states = sorted((StateOut(code=r.code, name=r.name) for r in law.records.values()), key=lambda s: s.name)
    bodies = [
        BodyOut(key=key, label=body["label"], windows=len(body["windows"])) for key, body in data_files.bodies().items()
    ]
    return PickLists(states=states, bodies=bodies, law_version=law.version)


def starting_values(session: Session) -> StartingValuesOut:
    """All figures, the shop's own in place."""
    current = shop_starting_values(session)
    return StartingValuesOut(
        version=current.version, values=[StartingValueOut(**vars(entry)) for entry in current.values.values()]
    )


def set_value(session: Session, name: str, value: float | None, *, person_id: str) -> StartingValuesOut:
    """Set or take back the shop's own figure.

    Raises
    ------
    StartingValueError
        Unknown name, or outside the stated range.
    """
    data_files.starting_values().of(name)
    store = shop_values(session)
    try:
        record = store.get(name)
    except NotFoundError:
        record = None
    if value is None:
        if record and not record.removed:
            store.remove(name, version=record.version, person_id=person_id)
        return starting_values(session)
    data_files.starting_values().with_shop_values({name: value})
    if record is None:
        store.create({"value": value}, person_id=person_id, record_id=name)
    else:
        store.update(name, {"value": value, "removed": False}, version=record.version, person_id=person_id)
    return starting_values(session)

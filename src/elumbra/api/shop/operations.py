"""Starting values and pick lists. Plain arguments, no web framework."""

from __future__ import annotations

from dataclasses import replace

from pydantic import BaseModel
from sqlalchemy.orm import Session

from elumbra.api.car_view.law_books import current_book
from elumbra.car import shop_starting_values
from elumbra.car.shop import own_figures
from elumbra.storage import data_files
from elumbra.storage.records import ShopValueRecord
from elumbra.storage.store import StaleWriteError, shop_values


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
    record_version: int  # of the shop's own figure; 0 while there never was one


class StartingValuesOut(BaseModel):
    """All figures of one version."""

    version: str
    values: list[StartingValueOut]
    told: list[str]  # own figures that had to be brought into range


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
    versions = {record.id: record.version for record in shop_values(session).all(removed_too=True)}
    return StartingValuesOut(
        version=current.version,
        values=[
            StartingValueOut(**vars(entry), record_version=versions.get(entry.name, 0))
            for entry in current.values.values()
        ],
        told=own_figures(session)[1],
    )


def set_value(session: Session, name: str, value: float | None, *, version: int, person_id: str) -> str:
    """Set or take back the shop's own figure; its name.

    Raises
    ------
    StartingValueError
        Unknown name, or outside the stated range.
    StaleWriteError
        Somebody set it meanwhile.
    """
    data_files.starting_values().of(name)
    if value is not None:
        data_files.starting_values().with_shop_values({name: value})
    store = shop_values(session)
    record = store.find(name)
    if record is None:
        if version != 0:
            raise StaleWriteError("starting value", 0, [])
        if value is not None:
            store.create(ShopValueRecord(id=name, value=value), person_id=person_id)
        return name
    kept = record.value if value is None else value
    changed = replace(record, version=version, value=kept, removed=value is None)
    store.update(changed, person_id=person_id, action="removed" if value is None else "changed")
    return name

"""Starting values and pick lists. Plain arguments, no web framework."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from pydantic import BaseModel
from sqlalchemy.orm import Session

from elumbra.api.car_view.law_books import HOME_STATES, check_states, current_book
from elumbra.api.car_view.ways import SHOP_WAY, own_way_name
from elumbra.car import shop_starting_values
from elumbra.car.shop import UNMETERED_GLASS, own_figures, unmetered_glass
from elumbra.core.cut import CutMethod
from elumbra.core.work import Unmetered
from elumbra.storage import data_files
from elumbra.storage.kept_settings import keep, kept
from elumbra.storage.records import ShopValueRecord
from elumbra.storage.store import StaleWriteError, shop_values, stamp_shop


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


class HomeOut(BaseModel):
    """The states whose law a new job is judged by; none until the shop says."""

    states: list[str]
    record_version: int  # 0 while it was never said


class PickLists(BaseModel):
    """What new jobs are made from."""

    home: HomeOut

    states: list[StateOut]
    bodies: list[BodyOut]
    openings: list[BodyOut]  # several panes that come together
    law_version: str


def pick_lists(session: Session) -> PickLists:
    """Body styles and states on file."""
    law = current_book(session)
    states = sorted((StateOut(code=r.code, name=r.name) for r in law.records.values()), key=lambda s: s.name)
    bodies, openings = _styles(data_files.bodies()), _styles(data_files.openings())
    return PickLists(home=home(session), states=states, bodies=bodies, openings=openings, law_version=law.version)


def _styles(found: Mapping[str, Any]) -> list[BodyOut]:
    return [BodyOut(key=key, label=one["label"], windows=len(one["windows"])) for key, one in found.items()]


def home(session: Session) -> HomeOut:
    """Where the shop is."""
    states, version = kept(session, HOME_STATES, [])
    return HomeOut(states=list(states), record_version=version)


def set_home(session: Session, states: Sequence[str], *, version: int, person_id: str) -> str:
    """Say whose law new jobs are judged by.

    Raises
    ------
    LawError
        A state that is not in the rule book.
    StaleWriteError
        Somebody said so meanwhile.
    """
    check_states(session, list(states))
    return keep(session, HOME_STATES, list(states), version=version, person_id=person_id)


class WaysOut(BaseModel):
    """How new jobs are cut unless somebody says otherwise: the shop's way, and one's own; none: as the shop."""

    shop: CutMethod
    shop_version: int
    own: CutMethod | None
    own_version: int


def ways(session: Session, *, person_id: str) -> WaysOut:
    """The shop's way of cutting and one person's own."""
    shop, shop_version = kept(session, SHOP_WAY, CutMethod.BULK)
    own, own_version = kept(session, own_way_name(person_id))
    return WaysOut(shop=shop, shop_version=shop_version, own=own, own_version=own_version)


def set_shop_way(session: Session, way: CutMethod, *, version: int, person_id: str) -> str:
    """Say how the shop cuts.

    Raises
    ------
    StaleWriteError
        Somebody said so meanwhile.
    """
    return keep(session, SHOP_WAY, way.value, version=version, person_id=person_id)


def set_own_way(session: Session, way: CutMethod | None, *, version: int, person_id: str) -> str:
    """Say how one cuts oneself; none goes back to the shop's way.

    Raises
    ------
    StaleWriteError
        It was said on another screen meanwhile.
    """
    return keep(session, own_way_name(person_id), way and way.value, version=version, person_id=person_id)


class UnmeteredOut(BaseModel):
    """What the shop does before it cuts film for glass that nobody metered."""

    does: Unmetered
    version: int


def unmetered(session: Session) -> UnmeteredOut:
    """The shop's word on glass that nobody metered."""
    does, version = unmetered_glass(session)
    return UnmeteredOut(does=does, version=version)


def set_unmetered(session: Session, does: Unmetered, *, version: int, person_id: str) -> str:
    """Say what the shop does before it cuts film for glass that nobody metered.

    Raises
    ------
    StaleWriteError
        Somebody said so meanwhile.
    """
    stamp_shop(session)
    return keep(session, UNMETERED_GLASS, does.value, version=version, person_id=person_id)


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

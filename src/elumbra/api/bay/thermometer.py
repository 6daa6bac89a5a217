"""The thermometer that the shop uses. Plain arguments, no web framework."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.bay.schemas import ThermometerOut
from elumbra.devices import thermometer
from elumbra.storage.kept_settings import keep, kept

_SETTING = "thermometer"


def address(session: Session) -> tuple[str, int]:
    """Where it is, and the version of that setting: 0 while nobody said."""
    return kept(session, _SETTING, thermometer.DEFAULT_ADDRESS)


def set_address(session: Session, value: str, *, version: int, person_id: str) -> str:
    """Say where it is.

    Raises
    ------
    ThermometerError
        No address.
    """
    host, port = thermometer.check_address(value)
    return keep(session, _SETTING, f"{host}:{port}", version=version, person_id=person_id)


def state(where: tuple[str, int]) -> ThermometerOut:
    """What it reads, or why it reads nothing."""
    at, version = where
    empty = ThermometerOut(
        address=at, version=version, there=False, told="", glass_c=None, shop_c=None, humidity=None
    )  # fmt: skip
    try:
        found = thermometer.read_climate(at)
    except thermometer.ThermometerError as error:
        return empty.model_copy(update={"told": error.message})
    return ThermometerOut(
        address=at, version=version, there=True, told=found.name, glass_c=found.glass_c, shop_c=found.shop_c,
        humidity=found.humidity,
    )  # fmt: skip

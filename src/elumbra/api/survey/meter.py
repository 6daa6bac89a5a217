"""The light meter that the shop uses. Plain arguments, no web framework."""

from __future__ import annotations

from sqlalchemy.orm import Session

from elumbra.api.survey.schemas import MeterOut, MeterStateOut
from elumbra.car import shop_starting_values
from elumbra.devices import light_meter
from elumbra.storage.kept_settings import keep, kept

_SETTING = "light_meter"


def address(session: Session) -> tuple[str, int]:
    """Where the meter is, and the version of that setting: 0 while nobody said."""
    return kept(session, _SETTING, light_meter.DEFAULT_ADDRESS)


def set_address(session: Session, value: str, *, version: int, person_id: str) -> str:
    """Say where the meter is.

    Raises
    ------
    MeterError
        No address.
    """
    host, port = light_meter.check_address(value)
    return keep(session, _SETTING, f"{host}:{port}", version=version, person_id=person_id)


def apart(session: Session) -> float:
    """How far readings of one pane may lie apart (fraction)."""
    return shop_starting_values(session)["meter_readings_apart"]


def state(where: tuple[str, int]) -> MeterStateOut:
    """Whether the meter answers."""
    at, version = where
    try:
        found = light_meter.read_state(at)
    except light_meter.MeterError as error:
        return MeterStateOut(address=at, version=version, there=False, told=error.message)
    return MeterStateOut(
        address=at, version=version, there=True, told=f"{found.name}, battery {found.battery_percent} %"
    )


def readings(at: str, *, times: int, apart: float) -> MeterOut:
    """Readings of the pane that the meter sits on.

    Raises
    ------
    MeterError
        It gives none.
    """
    settled, name = light_meter.read_light(at, times=times, apart=apart)
    return MeterOut(
        readings_percent=[round(100 * one, 1) for one in settled.kept],
        refused_percent=[round(100 * one, 1) for one in settled.refused],
        mean_percent=round(100 * settled.mean, 2),
        spread_points=round(100 * settled.spread, 2),
        meter=name,
    )

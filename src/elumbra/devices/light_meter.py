"""Client of a light meter on the network; its protocol is written down in docs/guide/light-meter.md.

Tried with the simulated meter that ships with the application, never on a real one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from elumbra.core.errors import CoreError
from elumbra.core.light import Settled, settle
from elumbra.devices.line import Device

DEFAULT_ADDRESS = "127.0.0.1:8651"
_TOO_MANY = 4  # readings taken again for those that were refused
_ERRORS = {
    "BATTERY": "its battery is flat. Charge it, or type the reading",
    "LAMP": "its lamp is out. Type the reading of another meter",
    "RANGE": "the glass is out of its range. Type the reading of another meter",
}


class MeterError(CoreError):
    """The light meter gives no readings; the message says why and what to do."""


_METER = Device(
    protocol="METER 1 ",
    answer_s=4.0,
    error=MeterError,
    no_address="A meter's address is a name or number and a port, such as 127.0.0.1:8651.",
    unknown="What answers at the light meter’s address is no meter that is known here.",
    unplugged="The light meter was unplugged in the middle of a reading. Plug it in and read again.",
    silent="The light meter went silent. Look at its cable and read again, or type the reading.",
    absent="No light meter answers at {address}. Plug it in and switch it on, or type the reading.",
)
check_address = _METER.check_address


@dataclass(frozen=True)
class MeterState:
    """A meter that answers."""

    name: str
    battery_percent: int


def read_state(address: str) -> MeterState:
    """Which meter is there and how full its battery is.

    Raises
    ------
    MeterError
        None answers.
    """
    with _METER.connected(address) as line:
        said = line.ask("BATTERY")
        if not (match := re.fullmatch(r"BATTERY (\d{1,3})", said)):
            raise MeterError(f"The light meter answered “{said[:40]}”, which means nothing here.")
        return MeterState(line.name, min(int(match[1]), 100))


def read_light(address: str, *, times: int, apart: float) -> tuple[Settled, str]:
    """Several readings of one pane, outliers refused and read again; and the meter's name.

    Parameters
    ----------
    address
        Host and port.
    times
        How many readings are wanted, 3 or more.
    apart
        How far readings of one pane may lie apart (fraction).

    Raises
    ------
    MeterError
        It is not there, went silent, was unplugged, is flat, talks nonsense, or does not settle.
    """
    with _METER.connected(address) as line:
        taken: list[float] = []
        for _ in range(times + _TOO_MANY):
            taken.append(_value(line.ask("READ")))
            settled = settle(taken, apart=apart)
            if len(settled.kept) >= times:
                return settled, line.name
    raise MeterError("The light meter’s readings do not settle: hold it flat on one pane, and read again.")


def _value(said: str) -> float:
    if match := re.fullmatch(r"T (\d{1,3}(?:\.\d)?)", said):
        value = float(match[1])
        if value <= 100:
            return value / 100
    if said.startswith("ERR "):
        raise MeterError(f"The light meter gives no reading: {_ERRORS.get(said[4:], said[4:44].lower())}.")
    raise MeterError(f"The light meter answered “{said[:40]}”, which is no reading. Type it by hand.")

"""Client of a thermometer on the network; its protocol is written down in docs/guide/thermometer.md.

Tried with the simulated thermometer that ships with the application, never on a real one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from elumbra.core.errors import CoreError
from elumbra.devices.line import Device

DEFAULT_ADDRESS = "127.0.0.1:8653"


class ThermometerError(CoreError):
    """The thermometer gives no readings; the message says why and what to do."""


_THERMOMETER = Device(
    protocol="THERMOMETER 1 ",
    answer_s=3.0,
    error=ThermometerError,
    no_address="A thermometer's address is a name or number and a port, such as 127.0.0.1:8653.",
    unknown="What answers at the thermometer’s address is no thermometer that is known here.",
    unplugged="The thermometer was unplugged. Plug it in and read again, or type the temperature.",
    silent="The thermometer went silent. Read again, or type the temperature.",
    absent="No thermometer answers at {address}. Switch it on, or type the temperature.",
)
check_address = _THERMOMETER.check_address


@dataclass(frozen=True)
class Climate:
    """What it read: °C at the glass and in the shop, humidity as a share."""

    name: str
    glass_c: float
    shop_c: float
    humidity: float


def read_climate(address: str) -> Climate:
    """One reading.

    Raises
    ------
    ThermometerError
        None answers, it talks nonsense, or it reads what no shop has.
    """
    with _THERMOMETER.connected(address) as line:
        said = line.ask("READ")
        match = re.fullmatch(r"GLASS (-?\d{1,3}(?:\.\d)?) SHOP (-?\d{1,3}(?:\.\d)?) HUMIDITY (\d{1,3})", said)
        if not match:
            raise ThermometerError(f"The thermometer answered “{said[:40]}”, which is no reading. Type it by hand.")
        glass, shop, humidity = float(match[1]), float(match[2]), int(match[3])
        if not (-50 <= glass <= 90 and -50 <= shop <= 90 and humidity <= 100):
            raise ThermometerError(f"The thermometer reads “{said[:40]}”, which no shop has. Look at its probe.")
        return Climate(line.name, glass, shop, humidity / 100)

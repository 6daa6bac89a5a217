"""A device on the network that is asked one line and answers one line."""

from __future__ import annotations

import re
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import BinaryIO

from elumbra.core.errors import CoreError

_LONGEST = 120
_CONNECT_S = 2.0


@dataclass(frozen=True)
class Device:
    """What all devices of a kind have in common; the sentences say what is wrong and the mend."""

    protocol: str  # that its greeting begins with
    answer_s: float
    error: type[CoreError]
    no_address: str
    unknown: str
    unplugged: str
    silent: str
    absent: str  # with a place for the address

    def check_address(self, address: str) -> tuple[str, int]:
        """Host and port of an address.

        Raises
        ------
        CoreError
            The device's own kind of it: this is none.
        """
        match = re.fullmatch(r"([A-Za-z0-9.-]{1,200}):(\d{1,5})", address.strip())
        if not match or not 0 < int(match[2]) < 65536:
            raise self.error(self.no_address, fields={"address": self.no_address})
        return match[1], int(match[2])

    @contextmanager
    def connected(self, address: str) -> Iterator[Line]:
        """A line to the device, open as long as it is used.

        Raises
        ------
        CoreError
            The device's own kind of it: none answers, it is another one, it went silent or was unplugged.
        """
        host_and_port = self.check_address(address)
        try:
            with socket.create_connection(host_and_port, timeout=_CONNECT_S) as connection:
                connection.settimeout(self.answer_s)
                with connection.makefile("rb") as file:
                    yield Line(self, connection, file)
        except TimeoutError as error:
            raise self.error(self.silent) from error
        except ConnectionResetError as error:
            raise self.error(self.unplugged) from error
        except OSError as error:
            raise self.error(self.absent.format(address=address)) from error


class Line:
    """An open connection, one line each way."""

    def __init__(self, device: Device, connection: socket.socket, file: BinaryIO) -> None:
        self._device = device
        self._connection = connection
        self._file = file
        greeting = self._next()
        if not greeting.startswith(device.protocol):
            raise device.error(device.unknown)
        self.name = greeting.removeprefix(device.protocol)[:60]

    def ask(self, words: str, content: bytes = b"") -> str:
        """Send a line, with what follows it, and read the answer."""
        self._connection.sendall(f"{words}\n".encode("ascii") + content)
        return self._next()

    def _next(self) -> str:
        raw = self._file.readline(_LONGEST)
        if not raw.endswith(b"\n"):
            raise self._device.error(self._device.unplugged)
        return raw.decode("ascii", "replace").strip()

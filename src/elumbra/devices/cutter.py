"""Client of a cutter on the network; its protocol is written down in docs/guide/cutter.md.

Tried with the simulated cutter that ships with the application, never on a real one.
"""

from __future__ import annotations

import re
import socket
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import BinaryIO

from elumbra.core.errors import CoreError

PROTOCOL = "CUTTER 1 "
DEFAULT_ADDRESS = "127.0.0.1:8652"
_LONGEST = 120
_CONNECT_S, _ANSWER_S = 2.0, 6.0
_WORDS = {
    "idle": "ready",
    "cutting": "cutting",
    "paused": "paused",
    "done": "done",
    "aborted": "stopped: the rest can be sent again",
    "jammed": "jammed. Clear the film, then go on; a spoiled piece is cut again afterwards",
    "out": "out of film: load more, stop this job and send the rest again",
    "edge": "off the film's edge: stop this job, look which roll is loaded and send the rest again",
}
_REFUSED = {
    "BUSY": "it is at another job. Wait until that is done, or stop it",
    "EMPTY": "the file cuts nothing",
    "SIZE": "the file is too large",
}


class CutterError(CoreError):
    """The cutter does not do what it is asked; the message says why and what to do."""


@dataclass(frozen=True)
class CutterState:
    """How far a cutter is; ``done`` of ``total`` lines are whole."""

    name: str
    state: str
    words: str
    done: int
    total: int
    seconds_left: float


def check_address(address: str) -> tuple[str, int]:
    """Host and port of an address.

    Raises
    ------
    CutterError
        It is none.
    """
    match = re.fullmatch(r"([A-Za-z0-9.-]{1,200}):(\d{1,5})", address.strip())
    if not match or not 0 < int(match[2]) < 65536:
        words = "A cutter's address is a name or number and a port, such as 127.0.0.1:8652."
        raise CutterError(words, fields={"address": words})
    return match[1], int(match[2])


def read_state(address: str) -> CutterState:
    """What the cutter is at.

    Raises
    ------
    CutterError
        None answers.
    """
    with _connected(address) as line:
        return _state(line)


def send(address: str, content: bytes) -> CutterState:
    """Send a file in HP-GL and begin to cut it.

    Raises
    ------
    CutterError
        None answers, or it does not take the job.
    """
    with _connected(address) as line:
        said = line.send(content)
        if said.startswith("ERR "):
            raise CutterError(f"The cutter does not take this job: {_REFUSED.get(said[4:], said[4:44].lower())}.")
        return _state(line)


def order(address: str, word: str) -> CutterState:
    """``PAUSE``, ``RESUME`` or ``ABORT``.

    Raises
    ------
    CutterError
        None answers, or there is nothing to do that to.
    """
    with _connected(address) as line:
        said = line.ask(word)
        state = _state(line)
        if said != "OK":
            raise CutterError(f"That cannot be done now: the cutter is {state.words}.")
        return state


def _state(line: _Line) -> CutterState:
    said = line.ask("STATE")
    found = re.fullmatch(r"STATE ([a-z]{2,12}) (\d{1,7}) (\d{1,7}) (\d{1,7}(?:\.\d)?)", said)
    if not found or found[1] not in _WORDS:
        raise CutterError(f"The cutter answered “{said[:40]}”, which means nothing here.")
    return CutterState(line.name, found[1], _WORDS[found[1]], int(found[2]), int(found[3]), float(found[4]))


class _Line:
    """A connection to a cutter."""

    def __init__(self, connection: socket.socket, file: BinaryIO) -> None:
        self._connection = connection
        self._file = file
        greeting = self._next()
        if not greeting.startswith(PROTOCOL):
            raise CutterError("What answers at the cutter’s address is no cutter that is known here.")
        self.name = greeting.removeprefix(PROTOCOL)[:60]

    def ask(self, words: str) -> str:
        self._connection.sendall(f"{words}\n".encode("ascii"))
        return self._next()

    def send(self, content: bytes) -> str:
        self._connection.sendall(f"JOB {len(content)}\n".encode("ascii") + content)
        return self._next()

    def _next(self) -> str:
        raw = self._file.readline(_LONGEST)
        if not raw.endswith(b"\n"):
            raise CutterError("The cutter was unplugged. Plug it in, look how far it came, and send the rest.")
        return raw.decode("ascii", "replace").strip()


@contextmanager
def _connected(address: str) -> Iterator[_Line]:
    try:
        with socket.create_connection(check_address(address), timeout=_CONNECT_S) as connection:
            connection.settimeout(_ANSWER_S)
            with connection.makefile("rb") as file:
                yield _Line(connection, file)
    except TimeoutError as error:
        raise CutterError("The cutter went silent. Look at its cable, then how far it came.") from error
    except OSError as error:
        raise CutterError(
            f"No cutter answers at {address}. Switch it on, or take the HP-GL file to it by hand."
        ) from error

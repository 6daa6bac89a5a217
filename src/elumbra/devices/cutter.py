"""Client of a cutter on the network; its protocol is written down in docs/guide/cutter.md.

Tried with the simulated cutter that ships with the application, never on a real one.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from elumbra.core.errors import CoreError
from elumbra.devices.line import Device, Line

DEFAULT_ADDRESS = "127.0.0.1:8652"
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


_CUTTER = Device(
    protocol="CUTTER 1 ",
    answer_s=6.0,
    error=CutterError,
    no_address="A cutter's address is a name or number and a port, such as 127.0.0.1:8652.",
    unknown="What answers at the cutter’s address is no cutter that is known here.",
    unplugged="The cutter was unplugged. Plug it in, look how far it came, and send the rest.",
    silent="The cutter went silent. Look at its cable, then how far it came.",
    absent="No cutter answers at {address}. Switch it on, or take the HP-GL file to it by hand.",
)
check_address = _CUTTER.check_address


@dataclass(frozen=True)
class CutterState:
    """How far a cutter is; ``done`` of ``total`` lines are whole."""

    name: str
    state: str
    words: str
    done: int
    total: int
    seconds_left: float


def read_state(address: str) -> CutterState:
    """What the cutter is at.

    Raises
    ------
    CutterError
        None answers.
    """
    with _CUTTER.connected(address) as line:
        return _state(line)


def send(address: str, content: bytes) -> CutterState:
    """Send a file in HP-GL and begin to cut it.

    Raises
    ------
    CutterError
        None answers, or it does not take the job.
    """
    with _CUTTER.connected(address) as line:
        said = line.ask(f"JOB {len(content)}", content)
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
    with _CUTTER.connected(address) as line:
        said = line.ask(word)
        state = _state(line)
        if said != "OK":
            raise CutterError(f"That cannot be done now: the cutter is {state.words}.")
        return state


def _state(line: Line) -> CutterState:
    said = line.ask("STATE")
    found = re.fullmatch(r"STATE ([a-z]{2,12}) (\d{1,7}) (\d{1,7}) (\d{1,7}(?:\.\d)?)", said)
    if not found or found[1] not in _WORDS:
        raise CutterError(f"The cutter answered “{said[:40]}”, which means nothing here.")
    return CutterState(line.name, found[1], _WORDS[found[1]], int(found[2]), int(found[3]), float(found[4]))

"""A simulated light meter: a small TCP server that speaks the protocol of docs/guide/light-meter.md.

Run by ``./elumbra meter``, and beside the demo. It shares no code with the client.
"""

from __future__ import annotations

import argparse
import contextlib
import os
import random
import socket
import socketserver
import sys
import threading

GREETING = "METER 1 simulated-light-meter SIM-0001"
_LONGEST = 80


class Meter:
    """What the meter sits on and how well it is."""

    def __init__(self, *, glass: float = 71.5, noise: float = 0.4, seed: int | None = None) -> None:
        self.glass, self.noise, self.battery, self.fault = glass, noise, 83, ""
        self.chance = random.Random(seed)
        self.lock = threading.Lock()

    def answer(self, line: str) -> str | None:
        """The answer to a line; empty where it says nothing, None where the plug is pulled."""
        with self.lock:
            match line.split():
                case ["READ"]:
                    return self._read()
                case ["BATTERY"]:
                    return f"BATTERY {self.battery}"
                case ["SET", "GLASS", value]:
                    return self._set("glass", value, 0, 100)
                case ["SET", "NOISE", value]:
                    return self._set("noise", value, 0, 20)
                case ["SET", "BATTERY", value]:
                    return self._set("battery", value, 0, 100)
                case ["SET", "FAULT", ("none" | "unplug" | "silent" | "garbage" | "outlier" | "lamp") as fault]:
                    self.fault = "" if fault == "none" else fault
                    return "OK"
                case _:
                    return "ERR COMMAND"

    def _set(self, name: str, value: str, least: float, most: float) -> str:
        try:
            number = float(value)
        except ValueError:
            return "ERR VALUE"
        if not least <= number <= most:
            return "ERR VALUE"
        setattr(self, name, int(number) if name == "battery" else number)
        return "OK"

    def _read(self) -> str | None:
        if self.battery < 5:
            return "ERR BATTERY"
        fault, self.fault = self.fault, self.fault if self.fault in ("silent", "garbage", "lamp") else ""
        if fault == "unplug":
            return None
        if fault == "silent":
            return ""
        if fault == "garbage":
            return "T seventy"
        if fault == "lamp":
            return "ERR LAMP"
        off = 15.0 if fault == "outlier" else 0.0
        value = min(max(self.glass + off + self.chance.gauss(0, self.noise), 0.0), 100.0)
        return f"T {value:.1f}"


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True
    meter: Meter


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        meter = self.server.meter  # type: ignore[attr-defined]
        self._say(GREETING)
        while raw := self.rfile.readline(_LONGEST):
            line = raw.decode("ascii", "replace").strip()
            if line == "BYE":
                return
            said = meter.answer(line)
            if said is None:
                self.request.shutdown(socket.SHUT_RDWR)
                return
            if said:
                self._say(said)

    def _say(self, line: str) -> None:
        self.wfile.write(f"{line}\n".encode("ascii"))


def make_server(port: int, meter: Meter) -> socketserver.ThreadingTCPServer:
    """A server for this machine only; port 0 takes any that is free.

    Raises
    ------
    OSError
        The port is taken.
    """
    server = _Server(("127.0.0.1", port), _Handler)
    server.meter = meter
    return server


def _end_with_parent() -> None:
    """Standard input is a pipe that closes when the parent is gone, also when it was killed."""
    sys.stdin.buffer.read()
    os._exit(0)


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="light-meter", description="A simulated light meter.")
    parser.add_argument("--port", type=int, default=8651)
    parser.add_argument("--glass", type=float, default=71.5, help="what it sits on, percent of light that passes")
    parser.add_argument("--seed", type=int, default=None, help="the same noise each time")
    parser.add_argument("--with-parent", action="store_true", help="end when whoever started it has ended")
    options = parser.parse_args()
    server = make_server(options.port, Meter(glass=options.glass, seed=options.seed))
    print(f"Simulated light meter at 127.0.0.1:{server.server_address[1]}, on glass of {options.glass:g} %", flush=True)  # noqa: T201
    if options.with_parent:
        threading.Thread(target=_end_with_parent, daemon=True).start()
    with contextlib.suppress(KeyboardInterrupt):
        server.serve_forever()


if __name__ == "__main__":
    main()

"""A simulated thermometer: a small TCP server that speaks the protocol of docs/guide/thermometer.md.

Run by ``./elumbra thermometer``, and beside the demo. It shares no code with the client.
"""

from __future__ import annotations

import argparse
import contextlib
import os
import socketserver
import sys
import threading

GREETING = "THERMOMETER 1 simulated-thermometer SIM-0003"
_LONGEST = 80
_RANGES = {"GLASS": (-60.0, 120.0), "SHOP": (-60.0, 120.0), "HUMIDITY": (0.0, 100.0)}


class Thermometer:
    """What it hangs beside, and how well it is."""

    def __init__(self, *, glass: float = 21.0, shop: float = 20.0, humidity: float = 48.0) -> None:
        self.values = {"GLASS": glass, "SHOP": shop, "HUMIDITY": humidity}
        self.fault = ""
        self.lock = threading.Lock()

    def answer(self, line: str) -> str:
        """The answer to a line; empty where it says nothing."""
        with self.lock:
            match line.split():
                case ["READ"]:
                    return self._read()
                case ["SET", "FAULT", ("none" | "silent" | "garbage") as fault]:
                    self.fault = "" if fault == "none" else fault
                    return "OK"
                case ["SET", name, value] if name in _RANGES:
                    return self._set(name, value)
                case _:
                    return "ERR COMMAND"

    def _set(self, name: str, value: str) -> str:
        try:
            number = float(value)
        except ValueError:
            return "ERR VALUE"
        low, high = _RANGES[name]
        if not low <= number <= high:
            return "ERR VALUE"
        self.values[name] = number
        return "OK"

    def _read(self) -> str:
        if self.fault == "silent":
            return ""
        if self.fault == "garbage":
            return "GLASS warm"
        told = self.values
        return f"GLASS {told['GLASS']:.1f} SHOP {told['SHOP']:.1f} HUMIDITY {told['HUMIDITY']:.0f}"


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True
    thermometer: Thermometer


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        self._say(GREETING)
        while raw := self.rfile.readline(_LONGEST):
            line = raw.decode("ascii", "replace").strip()
            if line == "BYE":
                return
            if said := self.server.thermometer.answer(line):  # type: ignore[attr-defined]
                self._say(said)

    def _say(self, line: str) -> None:
        self.wfile.write(f"{line}\n".encode("ascii"))


def make_server(port: int, thermometer: Thermometer) -> socketserver.ThreadingTCPServer:
    """A server for this machine only; port 0 takes any that is free.

    Raises
    ------
    OSError
        The port is taken.
    """
    server = _Server(("127.0.0.1", port), _Handler)
    server.thermometer = thermometer
    return server


def _end_with_parent() -> None:
    """Standard input is a pipe that closes when the parent is gone, also when it was killed."""
    sys.stdin.buffer.read()
    os._exit(0)


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="thermometer", description="A simulated thermometer.")
    parser.add_argument("--port", type=int, default=8653)
    parser.add_argument("--glass", type=float, default=21.0, help="°C at the glass")
    parser.add_argument("--shop", type=float, default=20.0, help="°C in the shop")
    parser.add_argument("--humidity", type=float, default=48.0, help="percent")
    parser.add_argument("--with-parent", action="store_true", help="end when whoever started it has ended")
    options = parser.parse_args()
    told = Thermometer(glass=options.glass, shop=options.shop, humidity=options.humidity)
    server = make_server(options.port, told)
    print(f"Simulated thermometer at 127.0.0.1:{server.server_address[1]}", flush=True)  # noqa: T201
    if options.with_parent:
        threading.Thread(target=_end_with_parent, daemon=True).start()
    with contextlib.suppress(KeyboardInterrupt):
        server.serve_forever()


if __name__ == "__main__":
    main()

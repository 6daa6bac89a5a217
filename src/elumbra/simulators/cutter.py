"""A simulated cutter: a small TCP server that speaks the protocol of docs/guide/cutter.md.

Run by ``./elumbra cutter``, and beside the demo. It shares no code with the client: it reads HP-GL by
itself, moves at the speed the file asks for, keeps what it cut as SVG, and can run out of film, leave
the film's edge, or jam.
"""

from __future__ import annotations

import argparse
import contextlib
import os
import re
import socketserver
import sys
import threading
import time
from itertools import pairwise
from pathlib import Path

GREETING = "CUTTER 1 simulated-cutter SIM-0002"
_LONGEST = 120
_LARGEST = 4_000_000
_PER_MM = 40.0
_TICK_S = 0.02

Point = tuple[float, float]


def strokes_of(text: str) -> tuple[list[list[Point]], float]:
    """The lines that pen 1 cuts [mm], and the speed [mm/s]."""
    strokes: list[list[Point]] = []
    pen, speed, at = 0, 100.0, (0.0, 0.0)
    for word in text.replace("\n", "").split(";"):
        name, numbers = word[:2], [float(n) for n in re.findall(r"-?\d+(?:\.\d+)?", word[2:])]
        if name == "SP":
            pen = int(numbers[0]) if numbers else 0
        elif name == "VS" and numbers:
            speed = numbers[0] * 10
        elif name in ("PU", "PD"):
            points = [(x / _PER_MM, y / _PER_MM) for x, y in zip(numbers[::2], numbers[1::2], strict=False)]
            if name == "PD" and pen == 1 and points:
                strokes.append([at, *points])
            if points:
                at = points[-1]
    return strokes, max(speed, 1.0)


class Cutter:
    """What is loaded, what it is at, and how well it is."""

    def __init__(self, folder: Path | None, *, faster: float = 1.0) -> None:
        self.folder, self.faster = folder, faster
        self.length, self.width = 30_000.0, 1_600.0  # film loaded [mm]
        self.jam_at = 0  # jams on this line; 0: never
        self.state, self.done, self.jobs = "idle", 0, 0
        self.strokes: list[list[Point]] = []
        self.speed, self.left_s = 100.0, 0.0
        self.lock = threading.Lock()
        threading.Thread(target=self._run, daemon=True).start()

    def answer(self, line: str) -> str:
        """The answer to a line."""
        with self.lock:
            match line.split():
                case ["STATE"]:
                    return f"STATE {self.state} {self.done} {len(self.strokes)} {self._seconds():.1f}"
                case ["PAUSE"]:
                    return self._to("paused", "cutting")
                case ["RESUME"]:
                    return self._to("cutting", "paused", "jammed")
                case ["ABORT"]:
                    self._keep()
                    return self._to("aborted", "cutting", "paused", "jammed", "out", "edge")
                case ["SET", ("LENGTH" | "WIDTH") as name, value] if value.isdecimal():
                    setattr(self, name.lower(), float(value))
                    return "OK"
                case ["SET", "JAM", value] if value.isdecimal():
                    self.jam_at = int(value)
                    return "OK"
                case _:
                    return "ERR COMMAND"

    def take(self, text: str) -> str:
        """Begin a job."""
        strokes, speed = strokes_of(text)
        with self.lock:
            if self.state in ("cutting", "paused", "jammed"):
                return "ERR BUSY"
            if not strokes:
                return "ERR EMPTY"
            self.strokes, self.speed = strokes, speed
            self.done, self.left_s = 0, 0.0
            self.state = "cutting"
            self.jobs += 1
            return f"OK {len(strokes)}"

    def _to(self, state: str, *before: str) -> str:
        if self.state not in before:
            return f"ERR STATE {self.state}"
        self.state = state
        return "OK"

    def _seconds(self) -> float:
        rest = sum(_length(stroke) for stroke in self.strokes[self.done :])
        return rest / self.speed

    def _run(self) -> None:
        while True:
            time.sleep(_TICK_S)
            with self.lock:
                if self.state == "cutting":
                    self._step(_TICK_S * self.faster)

    def _step(self, seconds: float) -> None:
        """Cut on for so long; a line counts once it is whole."""
        self.left_s += seconds
        while self.done < len(self.strokes):
            stroke = self.strokes[self.done]
            if self.jam_at and self.done + 1 == self.jam_at:
                self.state, self.jam_at = "jammed", 0
                return
            if max(x for x, _ in stroke) > self.length:
                self.state = "out"
                return
            if not all(0 <= y <= self.width for _, y in stroke):
                self.state = "edge"
                return
            took = _length(stroke) / self.speed
            if took > self.left_s:
                return
            self.left_s -= took
            self.done += 1
        self.state = "done"
        self._keep()

    def _keep(self) -> None:
        if self.folder is None:
            return
        lines = "".join(
            f'<polyline fill="none" stroke="black" points="{" ".join(f"{x:.3f},{y:.3f}" for x, y in stroke)}"/>'
            for stroke in self.strokes[: self.done]
        )
        (self.folder / f"cut-{self.jobs}.svg").write_text(f'<svg xmlns="http://www.w3.org/2000/svg">{lines}</svg>')


def _length(stroke: list[Point]) -> float:
    return float(sum(((u - x) ** 2 + (v - y) ** 2) ** 0.5 for (x, y), (u, v) in pairwise(stroke)))


class _Server(socketserver.ThreadingTCPServer):
    allow_reuse_address = True
    daemon_threads = True
    cutter: Cutter


class _Handler(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        cutter = self.server.cutter  # type: ignore[attr-defined]
        self._say(GREETING)
        while raw := self.rfile.readline(_LONGEST):
            line = raw.decode("ascii", "replace").strip()
            if line == "BYE":
                return
            if found := re.fullmatch(r"JOB (\d{1,8})", line):
                size = int(found[1])
                if size > _LARGEST:
                    self._say("ERR SIZE")
                    return
                self._say(cutter.take(self.rfile.read(size).decode("ascii", "replace")))
            else:
                self._say(cutter.answer(line))

    def _say(self, line: str) -> None:
        self.wfile.write(f"{line}\n".encode("ascii"))


def make_server(port: int, cutter: Cutter) -> socketserver.ThreadingTCPServer:
    """A server for this machine only; port 0 takes any that is free.

    Raises
    ------
    OSError
        The port is taken.
    """
    server = _Server(("127.0.0.1", port), _Handler)
    server.cutter = cutter
    return server


def _end_with_parent() -> None:
    """Standard input is a pipe that closes when the parent is gone, also when it was killed."""
    sys.stdin.buffer.read()
    os._exit(0)


def main() -> None:
    """Serve until ended."""
    parser = argparse.ArgumentParser(prog="cutter", description="A simulated cutter.")
    parser.add_argument("--port", type=int, default=8652)
    parser.add_argument("--keep", type=Path, default=None, help="folder where what was cut is kept as SVG")
    parser.add_argument("--faster", type=float, default=1.0, help="times real speed")
    parser.add_argument("--with-parent", action="store_true", help="end when whoever started it has ended")
    options = parser.parse_args()
    server = make_server(options.port, Cutter(options.keep, faster=options.faster))
    print(f"Simulated cutter at 127.0.0.1:{server.server_address[1]}", flush=True)  # noqa: T201
    if options.with_parent:
        threading.Thread(target=_end_with_parent, daemon=True).start()
    with contextlib.suppress(KeyboardInterrupt):
        server.serve_forever()


if __name__ == "__main__":
    main()

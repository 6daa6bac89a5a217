"""The simulated cutter as a process of its own: sending, pausing, jams, the end of the film, and sending the rest."""

import ast
import re
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from shapely import LineString, Polygon

from elumbra.devices import cutter
from tests.api.conftest import Desk
from tests.api.test_jobs import opened
from tests.api.test_knife import planned
from tests.api.test_rack_and_layouts import live
from tests.api.test_ways import by

__all__ = ["live"]

ROOT = Path(__file__).resolve().parents[2]
SQUARE = b"IN;VS30;FS90;SP1;" + b"".join(
    f"PU{x},0;PD{x + 4000},0,{x + 4000},4000,{x},4000,{x},0;".encode() for x in (0, 5000, 10000)
)
BOUND_S = 60.0


class Bench:
    def __init__(self, port: int, kept: Path) -> None:
        self.address, self.port, self.kept = f"127.0.0.1:{port}", port, kept

    def set(self, words: str) -> None:
        with socket.create_connection(("127.0.0.1", self.port), timeout=10) as line, line.makefile("rwb") as file:
            file.readline()
            file.write(f"SET {words}\n".encode())
            file.flush()
            assert file.readline() == b"OK\n"

    def until(self, *states: str) -> cutter.CutterState:
        """Wait for the cutter to come to one of these states."""
        end = time.monotonic() + BOUND_S
        while (found := cutter.read_state(self.address)).state not in states:
            assert time.monotonic() < end, found
            time.sleep(0.02)
        return found


@pytest.fixture
def bench(tmp_path: Path) -> Iterator[Bench]:
    command = [
        sys.executable,
        "-m",
        "elumbra.simulators.cutter",
        "--port",
        "0",
        "--keep",
        str(tmp_path),
        "--faster",
        "40",
    ]
    with subprocess.Popen(command, cwd=ROOT / "src", stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        match = re.search(r":(\d+)", process.stdout.readline())
        assert match
        yield Bench(int(match[1]), tmp_path)
        process.terminate()


def test_what_was_cut_is_kept_and_time_is_told(bench: Bench) -> None:
    begun = cutter.send(bench.address, SQUARE)
    assert begun.total == 3
    # Three squares of 100 mm at 300 mm/s: four seconds together.
    assert 0 < begun.seconds_left <= 4.0
    assert bench.until("done").done == 3
    svg = (bench.kept / "cut-1.svg").read_text()
    assert len(re.findall("<polyline", svg)) == 3
    assert "125.000,0.000 225.000,0.000 225.000,100.000" in svg


def test_a_jam_is_told_and_gone_on_from(bench: Bench) -> None:
    bench.set("JAM 2")
    cutter.send(bench.address, SQUARE)
    jammed = bench.until("jammed")
    assert jammed.done == 1
    assert "Clear the film" in jammed.words
    cutter.order(bench.address, "RESUME")
    assert bench.until("done").done == 3


@pytest.mark.parametrize(("words", "state", "done"), [("LENGTH 150", "out", 1), ("WIDTH 50", "edge", 0)])
def test_the_end_of_the_film_and_its_edge_stop_it(bench: Bench, words: str, state: str, done: int) -> None:
    bench.set(words)
    cutter.send(bench.address, SQUARE)
    assert bench.until(state).done == done
    cutter.order(bench.address, "ABORT")
    assert cutter.read_state(bench.address).state == "aborted"


def test_pause_stop_and_what_cannot_be_done(bench: Bench) -> None:
    with pytest.raises(cutter.CutterError, match="That cannot be done now: the cutter is ready"):
        cutter.order(bench.address, "PAUSE")
    bench.set("JAM 3")
    cutter.send(bench.address, SQUARE)
    with pytest.raises(cutter.CutterError, match="at another job"):
        cutter.send(bench.address, SQUARE)
    bench.until("jammed")
    cutter.order(bench.address, "ABORT")
    with pytest.raises(cutter.CutterError, match="the file cuts nothing"):
        cutter.send(bench.address, b"IN;SP2;PU0,0;PD10,10;")


def test_nobody_there_and_something_else_there_are_told(bench: Bench) -> None:
    with pytest.raises(cutter.CutterError, match=r"No cutter answers at 127\.0\.0\.1:1"):
        cutter.read_state("127.0.0.1:1")
    with pytest.raises(cutter.CutterError, match="a name or number and a port"):
        cutter.read_state("nonsense")
    with socket.create_server(("127.0.0.1", 0)) as other:

        def greet() -> None:
            line, _ = other.accept()
            with line:
                line.sendall(b"SMTP\n")

        threading.Thread(target=greet, daemon=True).start()
        with pytest.raises(cutter.CutterError, match="no cutter that is known"):
            cutter.read_state(f"127.0.0.1:{other.getsockname()[1]}")


def imports(path: Path) -> set[str]:
    """Names of the modules that a file imports."""
    tree = ast.parse(path.read_text(encoding="utf-8"))
    found = {node.module or "" for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)}
    return found | {name.name for node in ast.walk(tree) if isinstance(node, ast.Import) for name in node.names}


def test_the_simulator_shares_no_code_with_its_client() -> None:
    simulator = imports(ROOT / "src/elumbra/simulators/cutter.py")
    client = imports(ROOT / "src/elumbra/devices/cutter.py")
    assert not any(name.startswith("elumbra") for name in simulator)
    assert not any("simulators" in name for name in client)


def test_a_plan_is_sent_stopped_by_a_jam_and_the_rest_sent_again(live: Desk, bench: Bench) -> None:
    """Every pattern is cut once, along its line, whatever stopped the first try; nothing is booked by sending."""
    state = live.get("/cutter")
    live.do("PUT", "/cutter", {"address": bench.address, "version": state["version"]})
    job = by(live, opened(live), "plotter")
    plan = planned(live, job)["plan"]
    film, stock, pieces = _largest(plan)
    body = {"film_id": film["film_id"], "stock_id": stock["id"], "speed_mm_s": 1500}
    before = live.get("/rack")["stock"]
    bench.set("JAM 2")
    assert live.do("POST", f"/jobs/{job['id']}/cutter", body)["total"] == len(pieces)
    assert bench.until("jammed").done == 1
    live.do("POST", "/cutter/orders", {"word": "ABORT"})
    stopped = live.get("/cutter")
    assert (stopped["state"], stopped["done"]) == ("aborted", 1)
    rest = live.do("POST", f"/jobs/{job['id']}/cutter", body | {"after": stopped["done"]})
    assert rest["total"] == len(pieces) - 1
    bench.until("done")
    cut = [line for i in (1, 2) for line in _lines(bench.kept / f"cut-{i}.svg")]
    assert len(cut) == len(pieces)
    for piece in pieces:
        due = Polygon(piece["cut_line"]).exterior
        assert min(LineString(line).hausdorff_distance(due) for line in cut) < 0.05
    refused = live.do("POST", f"/jobs/{job['id']}/cutter", body | {"after": len(pieces)}, status=422)
    assert refused["message"] == "All pieces of this stock are cut already."
    assert live.get("/rack")["stock"] == before


def _largest(plan: Any) -> tuple[Any, Any, list[Any]]:
    found = []
    for film in plan["films"]:
        for stock in film["stocks"]:
            pieces = [piece for piece in film["pieces"] if piece["stock_id"] == stock["id"]]
            found.append((len(pieces), film, stock, pieces))
    _, film, stock, pieces = max(found, key=lambda one: one[0])
    assert len(pieces) >= 2
    return film, stock, pieces


def _lines(path: Path) -> list[list[tuple[float, float]]]:
    points = re.findall(r'points="([^"]+)"', path.read_text())
    return [[(float(x), float(y)) for x, y in (pair.split(",") for pair in line.split())] for line in points]

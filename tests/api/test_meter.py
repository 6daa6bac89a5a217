"""The simulated light meter as a process of its own, and all that can go wrong on the line."""

from __future__ import annotations

import ast
import contextlib
import re
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from elumbra.core.light import settle
from elumbra.devices.light_meter import MeterError, read_light, read_state
from tests.api.conftest import Desk
from tests.api.test_jobs import opened, patch, window_of

ROOT = Path(__file__).resolve().parents[2]
APART = 0.04


class Bench:
    """A meter on the bench: its address, and a line of one's own to set what is wrong with it."""

    def __init__(self, port: int) -> None:
        self.port = port
        self.address = f"127.0.0.1:{port}"

    def set(self, words: str) -> str:
        with (
            socket.create_connection(("127.0.0.1", self.port), timeout=10) as line,
            line.makefile("rwb") as file,
        ):
            file.readline()
            file.write(f"SET {words}\n".encode())
            file.flush()
            return file.readline().decode().strip()


@pytest.fixture(scope="module")
def running() -> Iterator[Bench]:
    command = [sys.executable, "-m", "elumbra.simulators.light_meter", "--port", "0", "--glass", "70", "--seed", "7"]
    with subprocess.Popen(command, cwd=ROOT / "src", stdout=subprocess.PIPE, text=True) as process:
        assert process.stdout is not None
        match = re.search(r":(\d+)", process.stdout.readline())
        assert match
        yield Bench(int(match[1]))
        process.terminate()


@pytest.fixture
def bench(running: Bench) -> Bench:
    for words in ("FAULT none", "BATTERY 83", "GLASS 70", "NOISE 0.4"):
        assert running.set(words) == "OK"
    return running


def test_three_readings_lie_about_the_glass_with_mean_and_spread(bench: Bench) -> None:
    settled, name = read_light(bench.address, times=3, apart=APART)
    assert name.startswith("simulated-light-meter")
    assert len(settled.kept) == 3
    assert settled.mean == pytest.approx(0.70, abs=0.02)
    assert settled.spread == pytest.approx(max(settled.kept) - min(settled.kept))


def test_an_outlier_is_refused_and_read_again(bench: Bench) -> None:
    bench.set("FAULT outlier")
    settled, _ = read_light(bench.address, times=3, apart=APART)
    assert len(settled.kept) == 3
    assert len(settled.refused) == 1
    assert settled.refused[0] == pytest.approx(0.85, abs=0.02)
    assert settled.mean == pytest.approx(0.70, abs=0.02)


@pytest.mark.parametrize(
    ("fault", "says"),
    [
        ("FAULT unplug", "unplugged in the middle"),
        ("FAULT garbage", "is no reading"),
        ("FAULT lamp", "lamp is out"),
        ("FAULT silent", "went silent"),
        ("BATTERY 3", "battery is flat"),
        ("NOISE 20", "do not settle"),
    ],
)
def test_what_is_wrong_with_the_meter_is_told_with_the_mend(bench: Bench, fault: str, says: str) -> None:
    assert bench.set(fault) == "OK"
    with pytest.raises(MeterError, match=says):
        for _ in range(5):  # noise may settle by chance once
            read_light(bench.address, times=3, apart=0.001 if "NOISE" in fault else APART)


def test_nobody_at_the_address_and_something_else_at_it() -> None:
    with socket.create_server(("127.0.0.1", 0)) as free:
        nobody = free.getsockname()[1]
    with pytest.raises(MeterError, match="No light meter answers"):
        read_state(f"127.0.0.1:{nobody}")
    with socket.create_server(("127.0.0.1", 0)) as other:

        def answer() -> None:
            line, _ = other.accept()
            line.sendall(b"220 mail.example ESMTP\n")
            line.close()

        thread = threading.Thread(target=answer)
        thread.start()
        with pytest.raises(MeterError, match="no meter that is known"):
            read_state(f"127.0.0.1:{other.getsockname()[1]}")
        thread.join(timeout=20)


def test_a_line_without_end_is_cut_off() -> None:
    with socket.create_server(("127.0.0.1", 0)) as other:

        def flood() -> None:
            line, _ = other.accept()
            with contextlib.suppress(OSError):
                line.sendall(b"METER 1 x" + b"x" * 2_000_000)
            line.close()

        thread = threading.Thread(target=flood)
        thread.start()
        with pytest.raises(MeterError):
            read_state(f"127.0.0.1:{other.getsockname()[1]}")
        thread.join(timeout=20)


@pytest.mark.parametrize(
    "address", ["", "here", "127.0.0.1", "127.0.0.1:0", "127.0.0.1:70000", "a b:80", "http://x:80"]
)
def test_what_is_no_address_is_refused(address: str) -> None:
    with pytest.raises(MeterError, match="address is"):
        read_state(address)


def test_the_simulator_ends_with_whoever_started_it() -> None:
    command = [sys.executable, "-m", "elumbra.simulators.light_meter", "--port", "0", "--with-parent"]
    with subprocess.Popen(
        command, cwd=ROOT / "src", stdin=subprocess.PIPE, stdout=subprocess.PIPE, text=True
    ) as process:
        assert process.stdout is not None
        assert process.stdin is not None
        assert "light meter at" in process.stdout.readline()
        process.stdin.close()  # as the system does when the parent is killed
        assert process.wait(timeout=60) == 0


def test_client_and_simulator_share_no_code() -> None:
    """Nothing of the application is imported by the simulator, and it not by the client."""

    def imports(path: Path) -> set[str]:
        tree = ast.parse(path.read_text(encoding="utf-8"))
        found = {alias.name for node in ast.walk(tree) if isinstance(node, ast.Import) for alias in node.names}
        return found | {node.module or "" for node in ast.walk(tree) if isinstance(node, ast.ImportFrom)}

    simulator = imports(ROOT / "src/elumbra/simulators/light_meter.py")
    client = imports(ROOT / "src/elumbra/devices/light_meter.py")
    assert not [one for one in simulator if one.startswith("elumbra")]
    assert not [one for one in client if "simulators" in one]


def test_the_documented_protocol_names_every_line_the_simulator_knows() -> None:
    guide = (ROOT / "docs" / "guide" / "light-meter.md").read_text(encoding="utf-8")
    source = (ROOT / "src/elumbra/simulators/light_meter.py").read_text(encoding="utf-8")
    for word in (
        "METER 1",
        "READ",
        "BATTERY",
        "BYE",
        "SET GLASS",
        "SET NOISE",
        "SET BATTERY",
        "SET FAULT",
        "ERR COMMAND",
        "ERR VALUE",
    ):
        assert word in guide, word
    for fault in re.findall(r'"(unplug|silent|garbage|outlier|lamp)"', source):
        assert fault in guide


@pytest.mark.parametrize(
    ("readings", "kept", "refused"),
    [
        ([0.71, 0.72, 0.70], 3, 0),
        ([0.71, 0.72, 0.86], 2, 1),
        ([0.05, 0.72, 0.71, 0.715], 3, 1),
        ([0.10, 0.90], 1, 1),
        ([0.70, 0.70, 0.70], 3, 0),
    ],
)
def test_readings_settle_about_their_median(readings: list[float], kept: int, refused: int) -> None:
    found = settle(readings, apart=APART)
    assert (len(found.kept), len(found.refused)) == (kept, refused)
    assert sorted([*found.kept, *found.refused]) == sorted(readings)


# --- through the API


def test_a_reading_of_the_meter_and_one_typed_by_hand_are_the_same_fact(desk: Desk, bench: Bench) -> None:
    state = desk.get("/meter")
    set_to = desk.do("PUT", "/meter", {"address": bench.address, "version": state["version"]})
    assert set_to["there"]
    assert "battery 83 %" in set_to["told"]
    found = desk.do("POST", "/meter/readings", {"times": 3})
    assert len(found["readings_percent"]) == 3
    window = window_of(opened(desk), "Driver front")
    metered = window_of(patch(desk, window, bare_readings_percent=found["readings_percent"]), "Driver front")
    assert metered["bare_vlt_source"] == "metered"
    assert metered["bare_vlt_percent"] == pytest.approx(found["mean_percent"], abs=0.1)


def test_a_meter_that_is_away_is_told_and_nothing_breaks(desk: Desk) -> None:
    desk.do("PUT", "/meter", {"address": "127.0.0.1:9", "version": desk.get("/meter")["version"]})
    assert not desk.get("/meter")["there"]
    refused = desk.do("POST", "/meter/readings", {"times": 3}, status=422)
    assert "type the reading" in refused["message"]


def test_only_the_lead_says_where_the_meter_is(desk_of: Any) -> None:
    desk_of("tobi").do("PUT", "/meter", {"address": "127.0.0.1:9", "version": 0}, status=403)

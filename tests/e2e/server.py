"""Starts the built application on a free port with demo data, for journeys, pictures and benchmarks."""

from __future__ import annotations

import json
import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from uuid import uuid4

from playwright.sync_api import Page

from elumbra.demo import demo_password
from elumbra.storage.data_files import read_data

ROOT = Path(__file__).resolve().parents[2]
CHROMIUM = "/usr/bin/chromium"
# The last list of features counts, so those that Playwright turns off stand here too. The popups of an address bar
# that nobody sees would cost each new page one and a half seconds of a core.
_FEATURES_OFF = (
    "AimEnabled",
    "AvoidCorsURLLoaderRestartOnRedirect",
    "AvoidUnnecessaryBeforeUnloadCheckSync",
    "DestroyProfileOnBrowserClose",
    "HttpsFirstBalancedModeAutoEnable",
    "HttpsUpgrades",
    "LensOverlay",
    "MediaRouter",
    "NetworkTimeServiceQuerying",
    "OptimizationHints",
    "PaintHolding",
    "PreconnectToSearch",
    "ThirdPartyStoragePartitioning",
    "WebUIOmniboxAimPopup",
    "WebUIOmniboxFullPopup",
    "WebUIOmniboxPopup",
)
CHROMIUM_FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    f"--disable-features={','.join(_FEATURES_OFF)}",
]
_START_SECONDS = 180  # a cold disk or a busy machine only makes it later
_END_SECONDS = 60
PEOPLE = read_data("demo.json")["people"]


def free_port() -> int:
    """A port that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def sign_in(page: Page, name: str) -> None:
    """Open the page's shop as somebody of the demo, past the start page; journeys of the doors themselves go through it."""
    enter(page, "/".join(page.url.split("/")[:3]), name)


def enter(page: Page, address: str, name: str) -> None:
    """Sign in at a shop as somebody of the demo, and open it."""
    person = next(one["id"] for one in PEOPLE if one["name"] == name)
    answer = page.request.post(
        f"{address}/api/session",
        data={"person_id": person, "password": demo_password(person)},
        headers={"X-Write-Id": uuid4().hex},
    )
    assert answer.ok, answer.text()
    if page.url.startswith(address):
        page.reload()
    else:
        page.goto(address)
    page.get_by_role("button", name="Lock", exact=True).wait_for()


class Warm:
    """A process with the application imported, from which servers are forked; one for all journeys of a worker."""

    def __init__(self) -> None:
        self._process: subprocess.Popen[str] | None = None

    def ask(self, request: object) -> object:
        """Ask it something; it is started by the first question."""
        if self._process is None:
            self._process = subprocess.Popen(
                [sys.executable, "-m", "tests.e2e.warm"], cwd=ROOT, stdin=subprocess.PIPE, stdout=subprocess.PIPE,
                text=True, env=os.environ | {"PYTHONPATH": f"{ROOT / 'src'}{os.pathsep}{ROOT}"},
            )  # fmt: skip
            assert self._read() == "ready"
        assert self._process.stdin is not None
        self._process.stdin.write(json.dumps(request) + "\n")
        self._process.stdin.flush()
        return self._read()

    def _read(self) -> object:
        assert self._process is not None
        assert self._process.stdout is not None
        line = self._process.stdout.readline()
        assert line, "the warm process ended"
        return json.loads(line)


WARM = Warm()


class Server:
    """The application's own command in a process of its own, forked from a warm one."""

    def __init__(self, *arguments: object) -> None:
        self.pid = WARM.ask({"start": [str(one) for one in arguments]})
        assert isinstance(self.pid, int)
        self.code: int | None = None

    def poll(self) -> int | None:
        """Its exit code, once it has ended."""
        if self.code is None:
            code = WARM.ask({"ended": self.pid})
            self.code = code if isinstance(code, int) else None
        return self.code

    def end(self, how: signal.Signals) -> None:
        """Send it a signal and wait until it is gone."""
        if self.poll() is None:
            os.kill(self.pid, how)
        end = time.monotonic() + _END_SECONDS
        while self.poll() is None:
            assert time.monotonic() < end, "it does not end"
            time.sleep(0.01)

    def kill(self) -> None:
        """End it as a power cut does."""
        self.end(signal.SIGKILL)

    def answering(self, port: int) -> None:
        """Wait until it answers."""
        end = time.monotonic() + _START_SECONDS
        while time.monotonic() < end:
            if self.poll() is not None:
                raise RuntimeError(f"the server ended with exit code {self.code}")
            try:
                with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2):
                    return
            except OSError:
                time.sleep(0.02)
        raise RuntimeError("the server did not answer in time")


@contextmanager
def serving(
    folder: Path, *arguments: object, command: str = "demo", port: int | None = None
) -> Iterator[tuple[str, Server]]:
    """The application over a data folder: its address and its process, which is killed at the end."""
    port = port or free_port()
    server = Server(command, "--port", port, "--data", folder, *arguments)
    try:
        server.answering(port)
        yield f"http://127.0.0.1:{port}", server
    finally:
        server.kill()


@contextmanager
def running_demo(folder: Path, *, command: str = "demo", devices: bool = False) -> Iterator[str]:
    """The application's address over a data folder; devices have ports of their own."""
    without = ["--no-devices"] if command == "demo" and not devices else []
    with serving(folder, *without, command=command) as (address, _):
        yield address

"""Starts the built application on a free port with demo data, for journeys, pictures and benchmarks."""

from __future__ import annotations

import os
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from playwright.sync_api import Page

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


def free_port() -> int:
    """A port that nobody listens on now."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def sign_in(page: Page, name: str) -> None:
    """Sign in as somebody of the demo, by the password that its start page says."""
    page.get_by_role("button", name=name).click()
    page.get_by_role("button", name="As the demo says").click()
    page.get_by_role("button", name="Lock", exact=True).wait_for()


@contextmanager
def running_demo(folder: Path, *, command: str = "demo", devices: bool = False, kill: bool = False) -> Iterator[str]:
    """The application's address, served from a fresh data folder by its own command; devices have ports of their own.

    At the end the server is asked to stop, or killed in the middle of what it does.
    """
    port = free_port()
    without = ["--no-devices"] if command == "demo" and not devices else []
    process = subprocess.Popen(
        [sys.executable, "-m", "elumbra.cli", command, "--port", str(port), "--data", str(folder), *without],
        cwd=ROOT,
        env=os.environ | {"PYTHONPATH": str(ROOT / "src")},
    )
    address = f"http://127.0.0.1:{port}"
    try:
        _wait(address, process)
        yield address
    finally:
        if kill:
            process.kill()
        else:
            process.terminate()
        process.wait(timeout=60)


def _wait(address: str, process: subprocess.Popen[bytes]) -> None:
    end = time.monotonic() + _START_SECONDS
    while time.monotonic() < end:
        if process.poll() is not None:
            raise RuntimeError(f"the server ended with exit code {process.returncode}")
        try:
            with urllib.request.urlopen(f"{address}/api/health", timeout=2):
                return
        except OSError:
            time.sleep(0.1)
    raise RuntimeError("the server did not answer in time")

"""One browser and one warm process for the journeys of a worker; each journey has a page and a shop of its own."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, Page, Playwright, expect, sync_playwright

from elumbra.cli import DATABASE
from tests.api.conftest import demo_file as filled_file
from tests.e2e.server import CHROMIUM, CHROMIUM_FLAGS, WARM, enter, running_demo

__all__ = ["filled_file"]
PATIENCE_MS = 180_000  # a busy machine only makes it later
expect.set_options(timeout=PATIENCE_MS)


@pytest.fixture(scope="session")
def playwright() -> Iterator[Playwright]:
    with sync_playwright() as running:
        yield running


@pytest.fixture(scope="session")
def browser(playwright: Playwright) -> Iterator[Browser]:
    chromium = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
    plain = chromium.new_context

    def patient(**over: Any) -> BrowserContext:
        context = plain(**{"reduced_motion": "reduce"} | over)
        context.set_default_timeout(PATIENCE_MS)
        return context

    chromium.new_context = patient  # type: ignore[method-assign]
    yield chromium
    chromium.close()


@pytest.fixture(autouse=True)
def pages_end_with_their_journey(browser: Browser) -> Iterator[None]:
    """A page left open goes on asking a server that is gone, and slows every journey after it."""
    yield
    for context in browser.contexts:
        context.close()


@pytest.fixture(scope="session")
def demo_file(filled_file: Path) -> Path:
    """The demo shop; the process from which its servers are forked has looked round it."""
    WARM.ask({"warm": str(filled_file)})
    return filled_file


@pytest.fixture
def address(request: pytest.FixtureRequest, tmp_path: Path, demo_file: Path) -> Iterator[str]:
    """A shop of this journey's own, with simulated devices where its file says so; the demo is filled once for all."""
    folder = tmp_path / "shop"
    folder.mkdir()
    shutil.copy(demo_file, folder / DATABASE)
    with running_demo(folder, devices=getattr(request.module, "DEVICES", False)) as running:
        yield running


@pytest.fixture
def page(browser: Browser, address: str) -> Iterator[Page]:
    """A page at the first screen, acting as the lead; any error in its console fails the journey."""
    context = browser.new_context(
        service_workers="block", viewport={"width": 1280, "height": 800}, accept_downloads=True
    )
    opened = context.new_page()
    problems: list[str] = []
    opened.on("pageerror", lambda error: problems.append(str(error)))
    opened.on(
        "request",
        lambda request: (
            problems.append(request.url) if address not in request.url and not request.url.startswith("data:") else None
        ),
    )
    enter(opened, address, "Ines Varga")
    expect(opened.get_by_role("heading", name="In the bays now")).to_be_visible()
    yield opened
    context.close()
    assert problems == [], "errors on the page, or a call to the outside"

"""Makes the pictures in docs/screenshots from the demo shop: one current PNG of each main view."""

from __future__ import annotations

import sys
from pathlib import Path
from tempfile import TemporaryDirectory

sys.path.insert(0, str(Path(__file__).resolve().parents[2]))

from playwright.sync_api import Page, expect, sync_playwright

from tests.e2e.server import CHROMIUM, CHROMIUM_FLAGS, ROOT, running_demo, sign_in

SHOTS = ROOT / "docs" / "screenshots"
BENCH = {"width": 1280, "height": 800}
TABLET = {"width": 800, "height": 1280}
PHONE = {"width": 390, "height": 844}
_SETTLE_MS = 600


def open_job(page: Page, address: str, title: str, station: str, window: str | None = None) -> None:
    """Open a demo job at a station, with a window picked."""
    page.goto(f"{address}/jobs")
    page.locator("a", has_text=title).first.click()
    page.wait_for_url("**/jobs/*")
    page.goto(f"{page.url.split('?')[0].rstrip('/')}/{station}")
    page.wait_for_load_state("networkidle")
    if window:
        page.locator(f'[data-window="{window}"]').click()


def practise(page: Page, address: str) -> None:
    """A run on the practice glass in which a card came too early."""
    page.goto(f"{address}/practice")
    page.get_by_role("article", name="A back glass").get_by_role("button").click()
    glass = page.get_by_role("application")
    glass.wait_for()
    page.get_by_role("button", name="Dryer sheet").click()
    page.get_by_text("Lay the film", exact=False).first.wait_for()
    page.get_by_role("button", name="Lay film across the car").click()
    page.get_by_role("button", name="Press the H", exact=True).click()
    page.get_by_role("button", name="Glove").wait_for()
    box = glass.bounding_box()
    assert box is not None
    middle = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    for tool, rise, fall in (("Heat gun", 60, 120), ("Card", 20, 150)):
        page.get_by_role("button", name=tool, exact=True).click()
        page.mouse.move(middle[0] - 60, middle[1] - rise)
        page.mouse.down()
        for k in range(60):
            page.mouse.move(middle[0] - 60 + (k % 12) * 16, middle[1] - rise - k * (fall - rise) / 60)
            page.wait_for_timeout(60)
        page.mouse.up()
    page.get_by_role("button", name="Look", exact=True).click()
    page.get_by_role("button", name="What it was worth").click()
    page.get_by_role("list", name="Score").wait_for()


def take(page: Page, name: str) -> None:
    """Wait for the screen to settle and keep it."""
    page.wait_for_load_state("networkidle")
    expect(page.locator("main").get_by_role("progressbar")).to_have_count(0, timeout=60_000)
    page.wait_for_timeout(_SETTLE_MS)
    page.screenshot(path=SHOTS / f"{name}.png")
    print(SHOTS / f"{name}.png")


def main() -> None:
    """All pictures, from one fresh demo shop."""
    SHOTS.mkdir(parents=True, exist_ok=True)
    with (
        TemporaryDirectory() as folder,
        running_demo(Path(folder), devices=True) as address,
        sync_playwright() as playwright,
    ):
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport=BENCH, service_workers="block")
        page.goto(address)
        page.wait_for_load_state("networkidle")
        sign_in(page, "Ines Varga")
        take(page, "bays")
        open_job(page, address, "Fenwick 4, all round", "survey")
        take(page, "survey")
        open_job(page, address, "Larkspur coupe", "shade")
        take(page, "shade-too-dark")
        open_job(page, address, "Morrow SUV", "cut")
        take(page, "cut")
        open_job(page, address, "Fenwick 4, all round", "heat", "Back glass")
        take(page, "heat")
        open_job(page, address, "Fenwick 4, all round", "bay")
        page.get_by_role("button", name="Read the thermometer").click()
        page.get_by_text("Read from").wait_for()
        take(page, "bay")
        open_job(page, address, "Fenwick 4, purple film off", "strip_off", "Back glass")
        take(page, "strip-off")
        for name, path in (
            ("shelf", "/shelf"),
            ("rack", "/rack"),
            ("rule-book", "/rules/NC"),
            ("ledger", "/ledger"),
        ):
            page.goto(address + path)
            take(page, name)
        open_job(page, address, "Fenwick 4, all round", "look", "Driver front")
        for kind, across, down in (("speck", 0.6, 0.4), ("dots", 0.24, 0.62)):
            page.get_by_role("radio", name=kind).click()
            pane = page.locator("[data-put-here]")
            box = pane.bounding_box()
            if box:
                pane.click(position={"x": box["width"] * across, "y": box["height"] * down}, force=True)
            page.locator(f"[data-flaw-panel='{kind}']").wait_for()
        take(page, "look")
        open_job(page, address, "Fenwick 4, all round", "handover")
        take(page, "handover")
        open_job(page, address, "Morrow SUV", "quote")
        page.get_by_role("button", name="Offer this").click()
        page.get_by_text("Accept version 1", exact=False).first.wait_for()
        page.mouse.wheel(0, -2000)
        take(page, "quote")
        page.goto(f"{address}/calls?q=soto")
        page.get_by_role("link", name="Driver front").first.click()
        page.get_by_label("The caller sees").click()
        page.get_by_role("option", name="peeling top corner").click()
        page.get_by_text("Touch up · ", exact=False).wait_for()
        take(page, "call")
        page.goto(f"{address}/day")
        page.get_by_role("navigation", name="Days").get_by_role("link").filter(has_text="cars").first.click()
        page.get_by_role("table", name="Cars of the day").wait_for()
        page.get_by_text("Looking for a better one").wait_for(state="hidden")
        take(page, "day")
        practise(page, address)
        take(page, "practice")
        page.set_viewport_size(PHONE)
        page.goto(f"{address}/look-up")
        page.get_by_role("combobox", name="State").fill("Florida")
        page.get_by_role("option", name="Florida").click()
        page.get_by_role("button", name="Kiln 50").click()
        take(page, "look-up-phone")
        page.set_viewport_size(TABLET)
        open_job(page, address, "Fenwick 4, all round", "bay")
        page.get_by_role("button", name="Bay dark").click()
        page.locator("[data-line]", has_text="Back glass").get_by_role("button", name="Begin").click()
        for _ in range(2):
            page.get_by_role("button", name="Done, next").click()
            page.wait_for_timeout(300)
        take(page, "bay-run-tablet")
        browser.close()


if __name__ == "__main__":
    main()

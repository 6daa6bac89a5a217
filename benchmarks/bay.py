"""The bay: how long runs, proofs and a step's change take, against their aims. Prints; fails nothing."""

from __future__ import annotations

import sys
import time
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path
from statistics import median
from tempfile import TemporaryDirectory

sys.path.insert(0, str(Path(__file__).resolve().parents[1]))

from playwright.sync_api import sync_playwright

from elumbra.core.bay import RULES, Day, Hands, car_runs, of_book
from elumbra.core.bay.prove import counterexample
from elumbra.core.glass import WindowKind
from elumbra.storage.data_files import step_book
from tests.core.test_bay import door
from tests.core.test_heat import back, car
from tests.e2e.server import CHROMIUM, CHROMIUM_FLAGS, running_demo, sign_in

RUNS_AIM_MS, STEP_AIM_MS = 20.0, 50.0


def timed(do: Callable[[], object], times: int) -> list[float]:
    """Milliseconds of each time."""
    found = []
    for _ in range(times):
        start = time.perf_counter()
        do()
        found.append(1000 * (time.perf_counter() - start))
    return found


def told(words: str, found: list[float], aim: float | None = None) -> None:
    """Median and 95 %, with the ratio to the aim."""
    found = sorted(found)
    late = found[int(0.95 * (len(found) - 1))]
    ratio = f", {median(found) / aim:.2f} of the aim of {aim:g} ms" if aim else ""
    print(f"{words}: median {median(found):.1f} ms, 95 % {late:.1f} ms{ratio}")


def ten_windows() -> None:
    """Runs of a ten-window car in the core; the glass is laid once, as for every screen."""
    windows = [back("70/25", kind=WindowKind.HATCH, findings={"defroster": "yes", "wiper": "off"})]
    windows += [replace(door(), id=f"d{i}", label=f"Door {i}", findings={"side_seals": "worn"}) for i in range(9)]
    looked, book, day, hands = car(*windows), step_book(), Day(glass_c=20, shop_c=20), Hands()
    car_runs(book, looked, [], day=day, hands=hands)
    told("runs of a ten-window car", timed(lambda: car_runs(book, looked, [], day=day, hands=hands), 60), RUNS_AIM_MS)


def proofs() -> None:
    """All hard rules, every combination of facts."""
    book = step_book()
    for rule in RULES:
        told(f"proof of “{rule.name}”", timed(lambda rule=rule: counterexample(rule, of_book(book), book.known), 3))


# Until the new card is painted: the frame after the one in which it was put in.
_STEP = """async () => {
  const run = document.querySelector("[data-run]");
  const at = run.dataset.at;
  const start = performance.now();
  window.dispatchEvent(new KeyboardEvent("keydown", { key: "PageDown" }));
  while (document.querySelector("[data-run]").dataset.at === at) await new Promise(requestAnimationFrame);
  await new Promise(requestAnimationFrame);
  return performance.now() - start;
}"""


def steps_in_browser() -> None:
    """From the key to the next step on the screen."""
    with TemporaryDirectory() as folder, running_demo(Path(folder)) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path=CHROMIUM, args=CHROMIUM_FLAGS)
        page = browser.new_page(viewport={"width": 1024, "height": 768})
        page.goto(address)
        sign_in(page, "Ines Varga")
        page.wait_for_load_state("networkidle")
        page.goto(f"{address}/jobs")
        page.locator("a", has_text="Fenwick 4, all round").first.click()
        page.wait_for_url("**/jobs/*")
        page.goto(f"{page.url.split('?')[0].split('/survey')[0]}/bay")
        page.locator("[data-line]", has_text="Driver front").get_by_role("button", name="Begin").click()
        page.get_by_role("button", name="Unfold into steps").click()
        page.wait_for_timeout(1000)
        found = []
        for _ in range(40):
            found.append(float(page.evaluate(_STEP)))
            page.wait_for_timeout(60)
        browser.close()
    told("step change in the browser, two frames included", found, STEP_AIM_MS)


if __name__ == "__main__":
    ten_windows()
    proofs()
    steps_in_browser()

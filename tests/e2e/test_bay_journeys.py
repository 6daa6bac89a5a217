"""The bay on screens: by touch alone, two browsers, a spoilt piece, old film off, a server that is killed."""

from __future__ import annotations

import re
import shutil
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect

from elumbra.cli import DATABASE
from tests.e2e.server import enter, free_port, serving, sign_in
from tests.e2e.test_journeys import GONE, answer, here_again

SEDAN = "Fenwick 4, all round"
PURPLE = "Fenwick 4, purple film off"
TABLET, PHONE = {"width": 800, "height": 1280}, {"width": 390, "height": 844}
MOST_CARDS = 80


def touch(browser: Browser, address: str, size: dict[str, int], person: str = "Ines Varga") -> Page:
    """A device without mouse or keys."""
    context = browser.new_context(service_workers="block", viewport=size, has_touch=True)  # type: ignore[arg-type]
    page = context.new_page()
    enter(page, address, person)
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    return page


def job_at(page: Page, title: str, station: str) -> str:
    """Open a job's station by its address, whatever the screen's width; the job's id."""
    if title == GONE:
        here_again(page)
    address = page.url.split("/", 3)
    page.goto(f"{address[0]}//{address[2]}/jobs")
    href = page.locator("a", has_text=title).first.get_attribute("href")
    assert href
    job_id = href.split("/")[2].split("?")[0]
    page.goto(f"{address[0]}//{address[2]}/jobs/{job_id}/{station}")
    return job_id


def line(page: Page, label: str) -> Locator:
    return page.locator("[data-line]", has_text=label).first


def big(page: Page, name: str | re.Pattern[str]) -> Locator:
    return page.locator("[data-run]").get_by_role("button", name=name)


def call(page: Page, method: str, path: str, body: Any = None) -> Any:
    """The API as this page's person."""
    address = page.url.split("/", 3)
    answered = page.request.fetch(
        f"{address[0]}//{address[2]}/api{path}", method=method, data=body, headers={"X-Write-Id": uuid4().hex}
    )
    assert answered.ok, answered.text()
    return answered.json()


@pytest.mark.parametrize("size", [TABLET, PHONE], ids=["tablet", "phone"])
def test_a_front_door_from_start_to_end_by_touch_only(browser: Browser, address: str, size: dict[str, int]) -> None:
    page = touch(browser, address, size)
    window = "Driver front" if size is TABLET else "Passenger front"
    job_at(page, SEDAN, "bay")
    line(page, window).get_by_role("button", name="Begin").tap()
    sentence = page.locator("[data-step]")
    expect(sentence).to_be_visible()
    measured = sentence.evaluate("one => parseFloat(getComputedStyle(one).fontSize)")
    assert measured >= (60 if size is TABLET else 28)
    for name in ("Done, next", "Went wrong", "Back"):
        box = page.locator("[data-run]").get_by_role("button", name=name, exact=True).bounding_box()
        assert box
        assert box["height"] >= 120
    if size is TABLET:
        check_targets(page)
    run, taps = page.locator("[data-run]"), 0
    swiped(page, run)
    while taps < MOST_CARDS and not page.get_by_text(f"{window} is done").is_visible():
        at = run.get_attribute("data-at") or ""
        taps += 1
        big(page, re.compile("^(Done, next|Ready now)$")).tap()
        expect(run).not_to_have_attribute("data-at", at)
    expect(page.get_by_text(f"{window} is done")).to_be_visible()
    assert taps < 40, "a professional taps a phase, not a step"
    page.get_by_role("button", name="Close the run").tap()
    expect(line(page, window)).to_contain_text("done")
    page.context.close()


def swiped(page: Page, run: Locator) -> None:
    """A finger across the screen goes on, and back."""
    for start, end, wanted in ((300, 100, "1"), (100, 300, "0"), (300, 100, "1")):
        page.evaluate(
            """([start, end]) => {
              const run = document.querySelector("[data-run]");
              const at = (x) => new Touch({ identifier: 1, target: run, clientX: x, clientY: 300 });
              run.dispatchEvent(new TouchEvent("touchstart", { bubbles: true, touches: [at(start)] }));
              run.dispatchEvent(new TouchEvent("touchend", { bubbles: true, changedTouches: [at(end)] }));
            }""",
            [start, end],
        )
        expect(run).to_have_attribute("data-at", wanted)


def check_targets(page: Page) -> None:
    """Every button is large enough for a glove and keeps its distance."""
    boxes = [
        box for one in page.locator("[data-run] button:visible").all()
        if (box := one.bounding_box()) and not one.evaluate("one => one.closest('ol') !== null")
    ]  # fmt: skip
    assert len(boxes) > 6
    for box in boxes:
        assert box["height"] >= 88, box
        assert box["width"] >= 88, box
    for i, one in enumerate(boxes):
        for other in boxes[i + 1 :]:
            across = max(one["x"], other["x"]) - min(one["x"] + one["width"], other["x"] + other["width"])
            down = max(one["y"], other["y"]) - min(one["y"] + one["height"], other["y"] + other["height"])
            assert max(across, down) >= 16 - 0.5, (one, other)


def test_every_step_by_itself_by_key_and_pedal_with_undo_and_lock(page: Page) -> None:
    job_at(page, SEDAN, "bay")
    line(page, "Driver rear").get_by_role("button", name="Begin").click()
    page.get_by_role("button", name="Unfold into steps").click()
    sentence = page.locator("[data-step]")
    first = sentence.inner_text()
    page.keyboard.press("PageDown")
    expect(sentence).not_to_have_text(first)
    second = sentence.inner_text()
    page.keyboard.press("PageUp")
    expect(sentence).to_have_text(first)
    expect(page.get_by_text("Done by Ines Varga")).to_be_visible()
    page.keyboard.press("ArrowRight")
    expect(sentence).to_have_text(second)
    big(page, re.compile("^Undo")).click()
    expect(sentence).to_have_text(first)
    page.get_by_role("button", name="Water lock").click()
    lock = page.get_by_role("button", name=re.compile("hold to touch again"))
    expect(lock).to_be_visible()
    # A drop on the screen does nothing; the pedal still works.
    page.mouse.click(700, 420)
    expect(sentence).to_have_text(first)
    page.keyboard.press("PageDown")
    expect(sentence).to_have_text(second)
    lock.hover()
    page.mouse.down()
    expect(page.locator("[data-lock]")).to_be_hidden()
    page.mouse.up()
    page.get_by_role("button", name="Pause", exact=True).click()
    expect(sentence).to_have_text("Paused by Ines Varga")
    page.reload()
    expect(sentence).to_have_text("Paused by Ines Varga")
    page.get_by_role("button", name="Go on here").click()
    expect(sentence).to_have_text(second)
    page.keyboard.press("Escape")
    expect(page.locator("[data-run]")).to_be_hidden()


def test_two_browsers_on_one_car(browser: Browser, page: Page, address: str) -> None:
    job_at(page, SEDAN, "bay")
    line(page, "Passenger rear").get_by_role("button", name="Take").click()
    expect(line(page, "Passenger rear")).to_contain_text("Ines Varga")
    other = touch(browser, address, TABLET, "Tobi Lund")
    job_at(other, SEDAN, "bay")
    expect(line(other, "Passenger rear")).to_contain_text("Ines Varga")
    line(other, "Passenger rear").get_by_role("button", name="Begin").tap()
    line(page, "Passenger rear").get_by_role("button", name=re.compile("Begin|Go on")).click()
    words = page.locator("[data-step]").inner_text()
    # The same step on both, at once: settled, and nobody's tick is lost.
    big(other, "Done, next").tap()
    big(page, "Done, next").click()
    expect(page.locator("[data-step]")).not_to_have_text(words)
    expect(other.locator("[data-step]")).to_have_text(page.locator("[data-step]").inner_text())
    page.keyboard.press("PageUp")
    expect(page.get_by_text(re.compile("Done by (Ines Varga|Tobi Lund) and (Tobi Lund|Ines Varga)"))).to_be_visible()
    other.context.close()


def test_went_wrong_in_two_touches_to_a_cut_from_an_offcut(page: Page) -> None:
    page.set_viewport_size(PHONE)  # type: ignore[arg-type]
    job_id = job_at(page, "Fenwick 4, rears only", "bay")
    job = call(page, "GET", f"/jobs/{job_id}")
    task = call(page, "POST", f"/jobs/{job_id}/layout")
    end = time.monotonic() + 600
    while task["status"] not in ("done", "failed") and time.monotonic() < end:
        task = call(page, "GET", f"/tasks/{task['id']}")
    call(page, "POST", f"/jobs/{job_id}/cut", {"input_hash": task["input_hash"], "sure": True})
    film = next(one for one in job["windows"] if one["label"] == "Driver rear")["film_id"]
    offcut = {
        "film_id": film, "kind": "offcut", "label": "Band from the van", "width": "40", "full_length": "60",
        "length_left": "60", "price": 9, "place": "bin 4",
    }  # fmt: skip
    call(page, "POST", "/stock", offcut)
    page.reload()
    line(page, "Driver rear").get_by_role("button", name="Begin").click()
    big(page, "Done, next").click()
    big(page, "Went wrong").click()
    page.get_by_role("dialog", name="What went wrong").get_by_role("button", name=re.compile("^Creased")).click()
    expect(page.get_by_text(re.compile("booked as waste"))).to_be_visible()
    expect(page.get_by_text("Cut it again from the offcut Band from the van")).to_be_visible()
    expect(page.locator("[data-step]")).to_be_visible()
    page.get_by_role("link", name="To the cut").click()
    expect(page.locator("svg", has_text="Driver rear").first).to_be_visible()
    window = next(one for one in call(page, "GET", f"/jobs/{job_id}")["windows"] if one["label"] == "Driver rear")
    assert window["cut"] is None


def test_old_film_off_with_a_soak_and_a_reading_that_changes_the_law(page: Page) -> None:
    page.set_viewport_size(TABLET)  # type: ignore[arg-type]
    job_id = job_at(page, PURPLE, "strip_off")
    page.locator('[data-window="Back glass"]').click()
    expect(answer(page)).to_contain_text("Steam: ")
    expect(page.get_by_text("The run starts once risk and price are signed")).to_be_visible()
    pad = page.get_by_role("img", name="Signature")
    pad.scroll_into_view_if_needed()
    box = pad.bounding_box()
    assert box
    page.mouse.move(box["x"] + 30, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + 160, box["y"] + 30, steps=6)
    page.mouse.up()
    page.get_by_role("button", name="Signed here").click()
    page.get_by_role("link", name="Begin taking it off").click()
    timer = page.get_by_role("timer")
    for _ in range(MOST_CARDS):
        if timer.is_visible():
            break
        at = page.locator("[data-run]").get_attribute("data-at") or ""
        big(page, "Done, next").click()
        expect(page.locator("[data-run]")).not_to_have_attribute("data-at", at)
    expect(timer).to_have_text(re.compile(r"1[45]:\d\d left"))
    expect(page.get_by_role("button", name=re.compile("^Meanwhile: "))).to_be_visible()
    page.reload()
    expect(timer).to_have_text(re.compile(r"1[45]:\d\d left"))
    big(page, "Ready now").click()
    expect(timer).to_be_hidden()
    page.get_by_role("button", name="Close the run").click()
    # A front that turns out to be privacy glass under its old film.
    page.goto(f"{page.url.split('/jobs/')[0]}/jobs/{job_id}/strip_off")
    page.locator('[data-window="Driver front"]').click()
    page.get_by_role("button", name="both layers at once").click()
    page.get_by_label("Bare glass reads, %").fill("36 36.4")
    page.get_by_role("button", name="Keep it").click()
    loud = page.get_by_role("alert").filter(has_text="Too dark now")
    expect(loud).to_be_visible()
    size = loud.locator("p").first.evaluate("one => parseFloat(getComputedStyle(one).fontSize)")
    assert size >= 30
    expect(page.locator('[data-window="Driver front"]')).to_contain_text("S✓")


def test_the_cold_stops_the_run_until_the_lead_gives_a_reason(page: Page) -> None:
    job_at(page, "Tansy hatch, rears 20", "bay")
    glass = page.get_by_label("At the glass, °F")
    glass.fill("33")
    glass.press("Enter")
    expect(answer(page)).to_contain_text("Too cold: 33 °F")
    line(page, "Driver rear").get_by_role("button", name="Begin").click()
    expect(page.locator("[data-step]")).to_have_text("No film now")
    expect(big(page, "Done, next")).to_be_disabled()
    page.get_by_label("Why it goes on all the same").fill("Heaters are on the glass")
    page.get_by_role("button", name="Go on with this reason").click()
    expect(big(page, "Done, next")).to_be_enabled()


def test_the_order_round_the_car_is_changed_and_proposed_again(page: Page) -> None:
    job_at(page, "Morrow SUV, fronts to match", "bay")
    order = page.get_by_role("list", name="Order round the car").locator("[data-line]")
    expect(order.nth(1)).to_contain_text("Hatch glass")
    page.get_by_role("button", name="Driver front earlier").click()
    expect(order.nth(1)).to_contain_text("Driver front")
    expect(order.nth(1)).to_contain_text("Your order")
    page.get_by_role("button", name="As proposed again").click()
    expect(order.nth(1)).to_contain_text("Hatch glass")
    page.get_by_label("Why the hatch may be closed early").fill("The bay door must shut")
    page.get_by_role("button", name="Let it be closed").click()
    expect(page.get_by_text("Hatch may be closed early: The bay door must shut")).to_be_visible()


def test_the_server_is_killed_in_mid_run_and_nothing_is_lost(browser: Browser, tmp_path: Path, demo_file: Path) -> None:
    port = free_port()  # the page comes back to the same address
    shutil.copy(demo_file, tmp_path / DATABASE)
    context: BrowserContext = browser.new_context(service_workers="block", viewport={"width": 1024, "height": 768})
    page = context.new_page()
    with serving(tmp_path, "--no-devices", port=port) as (_, server):
        page.goto(f"http://127.0.0.1:{port}")
        sign_in(page, "Ines Varga")
        expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
        job_id = job_at(page, SEDAN, "bay")
        line(page, "Driver front").get_by_role("button", name="Begin").click()
        sentence = page.locator("[data-step]")
        with page.expect_response(lambda answer: answer.url.endswith("/bay/events")):
            big(page, "Done, next").click()
        expect(page.get_by_text("not sent yet")).to_be_hidden()
        server.kill()
        said = []
        for _ in range(3):
            words = sentence.inner_text()
            said.append(words)
            big(page, "Done, next").click()
            expect(sentence).not_to_have_text(words)
        expect(page.get_by_text("3 not sent yet")).to_be_visible()
        stands = sentence.inner_text()
    with serving(tmp_path, "--no-devices", port=port):
        expect(page.get_by_text("not sent yet")).to_be_hidden(timeout=90_000)
        expect(sentence).to_have_text(stands)
        bay = call(page, "GET", f"/jobs/{job_id}/bay")
        run = next(one for one in bay["runs"] if one["label"] == "Driver front")
        ticks = {one["done"]["event_id"] for one in run["steps"] if one["done"]}
        assert len(ticks) == 4, "one before, three while it was away, each once"
        assert datetime.fromisoformat(bay["now"]) <= datetime.now(UTC)
        page.reload()
        expect(sentence).to_have_text(stands)
    context.close()


def test_a_job_without_film_says_what_to_do_first(page: Page) -> None:
    job_at(page, "Hauler van, heat film", "bay")
    expect(answer(page)).to_contain_text("windows to do, about")
    job_id = call(
        page, "POST", "/jobs", {"vehicle_label": "Bare", "body": "sedan", "states": ["TX"], "mirrors_both_sides": True}
    )["id"]
    page.goto(f"{page.url.split('/jobs')[0]}/jobs/{job_id}/bay")
    expect(answer(page)).to_have_text("No film chosen yet: nothing to do in the bay")
    expect(page.get_by_role("link", name="Shade").last).to_be_visible()

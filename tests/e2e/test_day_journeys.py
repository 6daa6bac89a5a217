"""The day: a car booked with a promise, a car that runs late, the day planned anew; people and screens that follow."""

from __future__ import annotations

import re
import time
from collections.abc import Iterator
from datetime import date
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect

from elumbra.api.day.operations import ask_better
from elumbra.cli import DATABASE
from elumbra.demo_day import fill_day
from elumbra.storage import tasks
from elumbra.storage.database import Database
from elumbra.tasks import TaskRunner
from tests.api.conftest import in_one_file
from tests.conftest import Once
from tests.e2e.server import enter, running_demo

_LOOKS_SECONDS = 600  # a busy machine only makes it later


@pytest.fixture(scope="session")
def booked_file(once: Once, demo_file: Path) -> tuple[Path, str]:
    """The demo shop with its next working day booked and planned, once; and that day."""

    def make(folder: Path) -> None:
        path = folder / DATABASE
        path.write_bytes(demo_file.read_bytes())
        database = Database(path)
        database.migrate()
        day = fill_day(database)
        best_planned(database, day)
        in_one_file(database)
        (folder / "day").write_text(day.isoformat())

    folder = once.made("booked", make)
    return folder / DATABASE, (folder / "day").read_text()


def best_planned(database: Database, day: date) -> None:
    """The best plan of a day as it stands is found and kept."""
    runner = TaskRunner(database)
    runner.start()
    with database.session(write=True) as session:
        task_id = ask_better(session, day)
    runner.wake()
    end = time.monotonic() + _LOOKS_SECONDS
    status = "queued"
    while status in tasks.WAITING:
        assert time.monotonic() < end, "the better plan never came"
        time.sleep(0.1)
        with database.session(write=False) as session:
            status = tasks.get(session, task_id).status
    runner.stop()
    assert status == "done"


@pytest.fixture
def booked(tmp_path: Path, booked_file: tuple[Path, str]) -> Iterator[tuple[str, str]]:
    """A shop of this test's own with its next working day booked: its address, and that day."""
    folder = tmp_path / "shop"
    folder.mkdir()
    (folder / DATABASE).write_bytes(booked_file[0].read_bytes())
    with running_demo(folder) as address:
        yield address, booked_file[1]


def screen(browser: Browser, address: str, name: str, *, width: int = 1280, height: int = 800) -> Page:
    page = browser.new_context(service_workers="block", viewport={"width": width, "height": height}).new_page()
    enter(page, address, name)
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    return page


def answer(page: Page) -> str:
    return page.locator("[data-answer]").first.inner_text()


_LOOKED = "async day => (await (await fetch(`/api/days/${day}`)).json()).looked"


def planned(page: Page) -> None:
    """The sheet is whole, and nobody looks for a better plan any more."""
    expect(page.get_by_role("table", name="Cars of the day")).to_be_visible()
    end = time.monotonic() + _LOOKS_SECONDS
    while not page.evaluate(_LOOKED, re.search(r"\d{4}-\d{2}-\d{2}", page.url)[0]):  # type: ignore[index]
        assert time.monotonic() < end, "the better plan never came"
        page.wait_for_timeout(500)
    expect(page.get_by_text("Looking for a better one")).to_be_hidden()


def placed(page: Page) -> set[str]:
    """The cars that the plan of the day makes ready, be it tomorrow; no car of the list is stuck."""
    rows = page.get_by_role("table", name="Cars of the day").locator("tbody tr")
    ready = {row.locator("td").nth(0).inner_text()[:4]: row.locator("td").nth(2).inner_text() for row in rows.all()}
    assert all(re.search(r"\d:\d\d", words) for words in ready.values()), ready
    return set(ready)


def test_a_car_is_booked_with_an_honest_promise(browser: Browser, booked: tuple[str, str]) -> None:
    address, day = booked
    page = screen(browser, address, "Sol Pereira")
    page.goto(f"{address}/day/{day}")
    planned(page)
    cars = page.get_by_role("table", name="Cars of the day").get_by_role("row")
    before = cars.count()
    page.get_by_role("button", name="Book a car").first.click()
    page.get_by_role("combobox", name="Job").click()
    page.get_by_role("option", name=re.compile("1006")).click()
    page.get_by_role("button", name="Earliest honest time").click()
    told = page.get_by_role("dialog").get_by_role("status")
    expect(told).to_contain_text("kept on")
    share = int(re.search(r"kept on (\d+) of 100", told.inner_text())[1])  # type: ignore[index]
    assert share >= 90
    page.get_by_role("button", name="Promise this").click()
    expect(page.get_by_label("Promised for")).not_to_have_value("")
    comes = page.get_by_label("Comes").input_value()
    page.get_by_role("button", name="Book", exact=True).click()
    expect(page.get_by_role("dialog")).to_be_hidden()
    page.goto(f"{address}/day/{comes[:10]}")
    planned(page)
    row = page.get_by_role("row", name=re.compile("1006"))
    expect(row).to_be_visible()
    if comes[:10] == day:
        assert cars.count() == before + 1


def test_somebody_falls_ill_the_day_is_planned_anew_and_says_what_is_in_danger_and_what_would_save_it(
    browser: Browser, booked: tuple[str, str]
) -> None:
    address, day = booked
    page, other = screen(browser, address, "Ines Varga"), screen(browser, address, "Tobi Lund")
    for one in (page, other):
        one.goto(f"{address}/day/{day}")
        planned(one)
    for name in ("Mara Quist", "Nils Brandt"):
        page.get_by_role("checkbox", name=f"{name} is here").click()
        expect(page.get_by_role("checkbox", name=f"{name} is here")).not_to_be_checked()
    expect(page.locator("[data-answer]").first).to_have_text(re.compile("in danger|do not fit"))
    expect(other.locator("[data-answer]").first).to_have_text(re.compile("in danger|do not fit"))
    planned(page)
    page.get_by_role("complementary").get_by_role("button", name=re.compile("promised for")).first.click()
    page.get_by_role("button", name="What would save it?").click()
    expect(page.get_by_role("complementary")).to_contain_text(
        re.compile("comes in after all|overtime|before all others|Call the customer")
    )


def test_a_block_is_moved_by_hand_with_mouse_and_keys_and_let_go(browser: Browser, booked: tuple[str, str]) -> None:
    address, day = booked
    page = screen(browser, address, "Ines Varga")
    page.goto(f"{address}/day/{day}")
    planned(page)
    block = page.get_by_role("button", name=re.compile("^Tobi Lund, ")).last
    block.focus()
    page.keyboard.press("Enter")
    panel = page.get_by_role("complementary")
    panel.get_by_role("button", name="+5 min").click()
    expect(panel.get_by_text("put by hand").first).to_be_visible()
    planned(page)
    panel.get_by_role("button", name="Let it go").click()
    expect(panel.get_by_text("put by hand")).to_have_count(0)
    planned(page)
    panel.get_by_role("button", name="Close").click()
    block = page.get_by_role("button", name=re.compile("^Tobi Lund, ")).last
    box = block.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + 12)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] / 2 + 30, box["y"] + 14, steps=4)
    page.mouse.up()
    expect(page.get_by_role("complementary").get_by_text("put by hand").first).to_be_visible()


def test_what_cannot_be_kept_by_hand_is_told_costs_no_car_its_place_and_is_let_go(
    browser: Browser, booked: tuple[str, str]
) -> None:
    address, day = booked
    page = screen(browser, address, "Ines Varga")
    page.goto(f"{address}/day/{day}")
    planned(page)
    before = placed(page)
    assert len(before) >= 6
    block = page.get_by_role(
        "button", name=re.compile(r"^Ines Varga, .*Back glass shrink|^Mara Quist, .*Back glass shrink")
    )
    block.first.dispatch_event("click")  # a block of three minutes may lie under its neighbor's edge
    panel = page.get_by_role("complementary")
    panel.get_by_role("combobox", name="Done by").click()
    page.get_by_role("option", name="Nils Brandt").click()
    expect(panel.get_by_text(re.compile("Nils Brandt may not shrink"))).to_be_visible()
    expect(panel.get_by_text("put by hand").first).to_be_visible()
    planned(page)
    assert placed(page) == before  # a longer look may end another car tomorrow; none is left without a place
    panel.get_by_role("button", name="Let it go").click()
    expect(panel.get_by_text(re.compile("Nils Brandt may not shrink"))).to_have_count(0)


def test_the_sheet_fits_a_bench_and_a_tablet_and_its_answer_is_its_largest_text(
    browser: Browser, booked: tuple[str, str]
) -> None:
    address, day = booked
    for width, height in ((1280, 800), (800, 1280), (390, 844)):
        page = screen(browser, address, "Ines Varga", width=width, height=height)
        page.goto(f"{address}/day/{day}")
        planned(page)
        sizes = page.evaluate(
            "[...document.querySelectorAll('main *')].filter((e) => e.childElementCount === 0 && e.textContent.trim())"
            ".map((e) => [parseFloat(getComputedStyle(e).fontSize), !!e.closest('[data-answer]')])"
        )
        largest = max(size for size, own in sizes if own)
        assert largest >= 1.5 * max(size for size, own in sizes if not own)
        assert page.evaluate("document.documentElement.scrollWidth") <= width + 1
        if width == 1280:
            drawing = page.get_by_role("group", name=re.compile("^The day from")).bounding_box()
            assert drawing is not None
            assert drawing["y"] + drawing["height"] <= height
        page.context.close()


def test_the_owner_adds_somebody_who_changes_his_password_and_copies_are_made_and_rehearsed(
    browser: Browser, booked: tuple[str, str]
) -> None:
    address, _ = booked
    owner = screen(browser, address, "Ruth Amsel")
    owner.goto(f"{address}/people")
    owner.get_by_role("button", name="Add somebody").click()
    owner.get_by_label("Name", exact=True).first.fill("Ola Berg")
    owner.get_by_label("First password").fill("first password")
    owner.get_by_role("button", name="Add", exact=True).click()
    expect(owner.get_by_role("button", name=re.compile("Ola Berg"))).to_be_visible()
    new = browser.new_context(service_workers="block", viewport={"width": 1280, "height": 800}).new_page()
    new.goto(address)
    new.get_by_role("button", name="Ola Berg").click()
    new.get_by_label("Password").fill("wrong one")
    new.get_by_role("button", name="Sign in").click()
    expect(new.get_by_text("do not go together")).to_be_visible()
    new.get_by_label("Password").fill("first password")
    new.get_by_role("button", name="Sign in").click()
    expect(new.get_by_role("heading", name="Choose a password of your own")).to_be_visible()
    new.get_by_label("Old password").fill("first password")
    new.get_by_label("New password").fill("rain on the glass")
    new.get_by_label("Once more").fill("rain on the glass")
    new.get_by_role("button", name="Change the password").click()
    expect(new.get_by_role("heading", name="In the bays now")).to_be_visible()
    new.get_by_role("button", name="Lock", exact=True).click()
    expect(new.get_by_role("heading", name="Who is working?")).to_be_visible()
    owner.goto(f"{address}/keeping")
    owner.get_by_role("button", name="Copy now").click()
    expect(owner.get_by_text("by hand")).to_be_visible()
    owner.get_by_role("button", name=re.compile("Look into by-hand")).click()
    owner.get_by_role("button", name="Rehearse putting it back").click()
    expect(owner.get_by_text(re.compile("is whole: 9 jobs"))).to_be_visible()


def test_two_tablets_and_a_bench_on_one_job_follow_each_other(browser: Browser, booked: tuple[str, str]) -> None:
    """What one ticks the others see within two seconds; what one types is not taken out of the field."""
    address, _ = booked
    bench = screen(browser, address, "Ines Varga")
    bench.goto(f"{address}/jobs")
    bench.get_by_role("link", name=re.compile("Fenwick 4, all round")).first.click()
    bench.wait_for_url(re.compile(r"/jobs/[0-9a-f]+"))
    job = re.search(r"/jobs/([0-9a-f]+)", bench.url)[1]  # type: ignore[index]
    first, second = (screen(browser, address, name, width=800, height=1280) for name in ("Tobi Lund", "Mara Quist"))
    for page in (bench, first, second):
        page.goto(f"{address}/jobs/{job}/bay")
        expect(page.get_by_role("button", name="Begin").first).to_be_visible()
    line = '[data-line="start"], [data-line]'
    assert first.locator(line).count() > 0
    first.get_by_role("button", name="Begin").first.click()
    first.get_by_role("button", name="Done, next").click()
    expect(first.get_by_text("not sent yet")).to_be_hidden()
    for page in (bench, second):
        expect(page.get_by_role("button", name="Go on").first).to_be_visible(timeout=6_000)
    bench.goto(f"{address}/jobs/{job}/survey")
    bench.locator('[data-window="Driver front"]').click()
    field = bench.get_by_label("Bare glass VLT, %")
    field.fill("7")
    second.get_by_role("button", name="Go on").first.click()
    with bench.expect_response(lambda answer: answer.url.endswith(f"/api/jobs/{job}"), timeout=30_000):
        second.get_by_role("button", name="Done, next").click()
    expect(field).to_have_value("7")

"""Heat on the screen: the line dragged, the film turned, strips for a coupe that will not take a poor film, keys only."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.e2e.server import enter
from tests.e2e.test_journeys import answer, open_job

COUPE = "Larkspur coupe, limo fronts"


def at(page: Page, job: str, window: str) -> Locator:
    """The cross line of a window at Heat."""
    open_job(page, job, "Heat")
    page.locator(f'[data-window="{window}"]').click()
    line = page.get_by_role("slider", name=re.compile("^Cross line"))
    expect(line).to_be_visible()
    return line


def shrink(page: Page) -> float:
    """The percent in the answer."""
    found = re.search(r"([\d.]+)\s%", answer(page).inner_text())
    assert found
    return float(found.group(1))


def test_the_line_is_dragged_kept_and_put_back(page: Page) -> None:
    line = at(page, "Tansy hatch, rears 20", "Hatch glass")
    before = answer(page).inner_text()
    least = shrink(page)
    box = line.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x, y + 40, steps=8)
    page.mouse.up()
    expect(answer(page)).not_to_have_text(before)
    expect(page.get_by_role("button", name="Best line")).to_be_visible()
    assert shrink(page) > least
    dragged = line.get_attribute("aria-valuetext")
    page.get_by_role("button", name="Keep this line").click()
    expect(page.get_by_text("this line kept")).to_be_visible()
    page.reload()
    line = page.get_by_role("slider", name=re.compile("^Cross line"))
    expect(line).to_have_attribute("aria-valuetext", dragged or "")
    page.get_by_role("button", name="Best line").click()
    expect(answer(page)).to_have_text(before)
    page.get_by_role("button", name="Keep this line").click()
    expect(page.get_by_text("best line kept")).to_be_visible()


def test_a_strong_coupe_glass_that_will_not_take_a_poor_film_goes_on_in_strips(page: Page) -> None:
    at(page, COUPE, "Back glass")
    expect(answer(page)).to_contain_text("Will not shrink in one piece")
    page.get_by_role("button", name="Turn the film").click()
    expect(page.get_by_role("slider", name="Line of the film, from the left edge")).to_be_visible()
    expect(answer(page)).to_contain_text("Will not shrink in one piece")
    page.get_by_role("button", name="As it was").click()
    open_job(page, COUPE, "Cut")
    held = page.locator('[data-held="Back glass"]')
    expect(held).to_contain_text("Will not shrink in one piece")
    held.get_by_role("link", name="Mend it at Heat").click()
    expect(page.locator('[data-way="strips"]')).to_contain_text("2 strips")
    page.get_by_role("button", name="Take it: 2 strips").click()
    expect(answer(page)).to_contain_text("2 strips, each within what the film takes")
    page.get_by_role("group", name="Which strip").get_by_role("button", name="Strip 2").click()
    expect(answer(page)).to_contain_text("Strip 2 of 2: one piece")
    open_job(page, COUPE, "Cut")
    expect(held).to_be_hidden()
    expect(page.get_by_text("Back glass, strip 1 of 2").first).to_be_visible()


def test_by_keys_alone(page: Page) -> None:
    at(page, "Fenwick 4, all round", "Back glass")
    before = answer(page).inner_text()
    for _ in range(60):
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement.getAttribute('role')") == "slider":
            break
    line = page.get_by_role("slider", name=re.compile("^Cross line"))
    expect(line).to_be_focused()
    height = float(line.get_attribute("aria-valuenow") or 0)
    page.keyboard.press("Shift+ArrowUp")
    expect(answer(page)).not_to_have_text(before)
    expect(line).to_have_attribute("aria-valuenow", re.compile(f"^{round(height) + 25}|{round(height) + 26}$"))
    page.keyboard.press("PageDown")
    expect(answer(page)).to_have_text(before)
    page.keyboard.press("ArrowRight")
    expect(answer(page)).not_to_have_text(before)


def test_what_is_shown_changes_and_files_are_there(page: Page, tmp_path: Path) -> None:
    at(page, "Fenwick 4, all round", "Back glass")
    shown = page.get_by_role("group", name="Shown on the pane")
    shown.get_by_role("button", name="Pattern").click()
    expect(page.get_by_text("True pattern against the drawings")).to_be_visible()
    shown.get_by_role("button", name="Order of heat").click()
    expect(page.locator("main svg text", has_text=re.compile("^1$")).first).to_be_visible()
    with page.expect_download() as download:
        page.get_by_role("link", name="True pattern, DXF").click()
    assert download.value.suggested_filename.endswith("true pattern.dxf")
    page.get_by_role("button", name="Whole car").click()
    expect(answer(page)).to_contain_text("windows take their film in one piece")
    page.locator("main").get_by_role("button", name="Back glass").last.click()
    expect(page.get_by_role("slider")).to_be_visible()


@pytest.mark.parametrize("size", [(800, 1280), (1024, 768)])
def test_beside_the_car_one_bite_at_a_time_and_it_stands_where_it_was_left(
    browser: Browser, address: str, size: tuple[int, int]
) -> None:
    context = browser.new_context(
        service_workers="block", viewport={"width": size[0], "height": size[1]}, has_touch=True
    )
    page = context.new_page()
    enter(page, address, "Ines Varga")
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    at(page, "Fenwick 4, all round", "Back glass")
    page.get_by_role("button", name="Read beside the car").tap()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text(re.compile("bite 1 of"))
    forward = dialog.get_by_role("button", name="Pressed, next bite")
    box = forward.bounding_box()
    assert box
    assert box["height"] >= 120
    said = dialog.get_by_text(re.compile("bite 1 of"))
    assert float(said.evaluate("node => parseFloat(getComputedStyle(node).fontSize)")) >= 60
    forward.tap()
    expect(dialog).to_contain_text(re.compile("bite 2 of"))
    page.reload()
    page.get_by_role("button", name="Read beside the car").tap()
    expect(dialog).to_contain_text(re.compile("bite 2 of"))
    dialog.get_by_role("button", name="Back").tap()
    expect(dialog).to_contain_text(re.compile("bite 1 of"))
    context.close()


def test_at_the_bench_answer_and_drawing_are_seen_together(page: Page) -> None:
    line = at(page, COUPE, "Driver front")
    for part in (answer(page), line):
        box = part.bounding_box()
        assert box
        assert box["y"] + box["height"] <= 800

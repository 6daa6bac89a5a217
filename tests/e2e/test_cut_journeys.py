"""The knife's day: pieces moved by hand and kept, an order that grows after the first cut, a spoiled piece, a slit roll."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page, Route, expect

from tests.e2e.test_journeys import answer, open_job


def ready(page: Page) -> None:
    """The plan of the job as it stands is there, with its papers."""
    sheet = page.get_by_role("link", name="Cut sheet, Letter")
    sheet.wait_for(timeout=60_000)
    expect(sheet).not_to_have_attribute("aria-disabled", "true", timeout=60_000)


def grab(page: Page, piece: Locator) -> tuple[float, float]:
    """Hold a piece at its middle; where that is."""
    piece.scroll_into_view_if_needed()
    box = piece.bounding_box()
    assert box
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(*at)
    page.mouse.down()
    return at


def test_a_piece_is_dragged_kept_refused_turned_and_taken_back(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Cut")
    page.get_by_role("button", name="Whole car").click()
    ready(page)
    board = page.get_by_role("region", name=re.compile("^Cut plan for")).first
    board.get_by_role("button", name="Move by hand").click()
    by_hand = board.get_by_role("button", name=re.compile("placed by hand"))
    count = board.locator("g.piece").count()
    says = board.locator("[data-hand-says]")

    x, y = grab(page, board.locator("g.piece").first)
    page.mouse.move(x + 30, y - 4, steps=5)
    expect(says).to_contain_text("can be cut here")
    expect(board.locator("[data-ghost=fits]")).to_be_visible()
    page.mouse.up()
    # Ten seconds to take it back: not waited for a plan, which a busy machine makes later.
    expect(page.get_by_text("stays where you put it; all others are laid anew.")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(by_hand).to_have_count(0)
    ready(page)

    # Without a mouse: keep it where it lies.
    board.locator("g.piece").first.focus()
    page.keyboard.press("l")
    expect(by_hand).to_have_count(1)
    ready(page)
    expect(board.locator("g.piece")).to_have_count(count)
    expect(board.get_by_text("Best found, not proven").first).to_be_visible()
    # The piece has the keyboard again once all is laid anew around it.
    expect(by_hand).to_be_focused()

    # Another one over it: refused while it is held there, with the reason, and nothing moves.
    kept = by_hand.first.bounding_box()
    other = board.locator("g.piece:not([aria-label*='placed by hand'])").first
    grab(page, other)
    assert kept
    page.mouse.move(kept["x"] + kept["width"] / 2, kept["y"] + kept["height"] / 2, steps=8)
    expect(board.locator("[data-ghost=refused]")).to_be_visible()
    expect(says).to_contain_text(re.compile("It lies on|do not free it|reaches over"))
    page.keyboard.press("Escape")
    page.mouse.up()
    expect(by_hand).to_have_count(1)

    by_hand.first.focus()
    page.keyboard.press("Shift+ArrowRight")
    expect(says).to_contain_text("Enter puts it down")
    page.keyboard.press("Escape")
    page.keyboard.press("u")
    expect(by_hand).to_have_count(0)
    ready(page)

    # By buttons, as wet hands do it.
    board.locator("g.piece").first.click()
    board.get_by_role("button", name="Keep it here").click()
    expect(by_hand).to_have_count(1)
    ready(page)
    # While a change is being saved, nothing can be done by the plan before it.
    on_the_way: list[Route] = []
    page.route("**/api/windows/*", lambda route: on_the_way.append(route))
    board.get_by_role("button", name="Let it go").click()
    expect(page.locator("[aria-busy=true]").filter(has=board)).to_be_visible()
    expect(page.get_by_role("link", name="Cut sheet, Letter")).to_have_attribute("aria-disabled", "true")
    on_the_way[0].continue_()
    expect(by_hand).to_have_count(0)


def test_a_finger_moves_a_piece_on_a_tablet(page: Page) -> None:
    page.set_viewport_size({"width": 800, "height": 1280})
    open_job(page, "Drover crew cab", "Cut")
    page.get_by_role("button", name="Whole car").click()
    ready(page)
    board = page.get_by_role("region", name=re.compile("^Cut plan for")).first
    board.get_by_role("button", name="Move by hand").click()
    piece = board.locator("g.piece").first
    piece.click(trial=True)  # once it lies still
    box = piece.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    finger = page.context.new_cdp_session(page)
    finger.send("Emulation.setTouchEmulationEnabled", {"enabled": True})
    finger.send("Input.dispatchTouchEvent", {"type": "touchStart", "touchPoints": [{"x": x, "y": y}]})
    for step in range(1, 11):
        at = {"x": x + 4 * step, "y": y + 2 * step}
        finger.send("Input.dispatchTouchEvent", {"type": "touchMove", "touchPoints": [at]})
    expect(board.locator("[data-ghost]")).to_be_visible()
    expect(board.locator("[data-hand-says]")).to_contain_text("can be cut here")
    finger.send("Input.dispatchTouchEvent", {"type": "touchEnd", "touchPoints": []})
    expect(board.get_by_role("button", name=re.compile("placed by hand"))).to_have_count(1)
    ready(page)
    board.get_by_role("button", name="Let it go").click()
    expect(board.get_by_role("button", name=re.compile("placed by hand"))).to_have_count(0)


def test_an_order_grows_after_the_first_cut_and_a_spoiled_piece_comes_from_an_offcut(page: Page) -> None:
    open_job(page, "Larkspur coupe", "Shade")
    page.get_by_role("link", name=re.compile("Cut")).last.click()
    ready(page)
    page.get_by_role("button", name="Film is cut").click()
    page.get_by_role("dialog").get_by_role("button", name="Yes, film is cut").click()
    cuts = page.locator("[data-cutting]")
    expect(cuts).to_have_count(1)
    off_the_rack = cuts.first.inner_text()
    first = page.get_by_role("button", name="Spoilt: cut it again").first
    spoiled = first.locator("xpath=..").locator("b").inner_text()
    first.click()
    ready(page)
    board = page.get_by_role("region", name=re.compile("^Cut plan for")).first
    expect(board.locator("g.piece")).to_have_count(1)
    expect(board.locator("g.piece")).to_have_attribute("aria-label", re.compile(re.escape(spoiled)))
    page.get_by_role("button", name="Film is cut").click()
    page.get_by_role("dialog").get_by_role("button", name="Yes, film is cut").click()
    expect(cuts).to_have_count(2)
    # The first cut stands as it was booked: nothing is booked twice.
    expect(cuts.nth(1)).to_contain_text(off_the_rack.split("Off the rack:")[1].split(".")[0].strip())
    expect(answer(page)).to_contain_text("cut")


def test_a_roll_is_slit_and_both_halves_are_found(page: Page, address: str) -> None:
    page.goto(f"{address}/rack")
    page.get_by_role("button", name="Put film on the rack").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name on the rack").fill("Slit me")
    dialog.get_by_label("Width", exact=True).fill("20")
    dialog.get_by_label("Price at full length, $").fill("120")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    page.get_by_role("link", name="Slit me", exact=True).click()
    page.get_by_role("button", name=re.compile("Slit")).first.click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Width of the first roll").fill("10")
    expect(dialog.get_by_text("leaves a second one of 10 in")).to_be_visible()
    dialog.get_by_role("button", name="Slit it").click()
    expect(page.get_by_text("Slit me is slit into two rolls.")).to_be_visible()
    page.goto(f"{address}/rack")
    expect(page.get_by_role("link", name=re.compile(r"^Slit me, 10 in"))).to_have_count(2)


def ticked(box: Locator, yes: bool) -> None:
    """Tick a box or take the tick out, and wait until the page says so."""
    if box.is_checked() != yes:
        box.click()
    expect(box).to_be_checked(checked=yes)


def test_cars_that_share_a_film_are_cut_together_and_one_is_taken_out(page: Page) -> None:
    page.get_by_role("link", name="Jobs", exact=True).click()
    page.get_by_role("link", name="Cars together").click()
    expect(page.get_by_text("Cars, first promised first")).to_be_visible()
    for box in page.get_by_role("checkbox").all():
        ticked(box, re.match("100[14] ", box.locator("xpath=ancestor::label").inner_text()) is not None)
    expect(answer(page)).to_contain_text(re.compile(r"windows of 2 cars ready"), timeout=60_000)
    ready(page)
    expect(page.get_by_text(re.compile(r"^Harbor 35, shared by 100\d, 100\d: .* each by itself"))).to_be_visible()
    board = page.get_by_role("region", name="Cut plan for Harbor 35")
    both = board.locator("g.piece").count()
    ticked(page.get_by_role("checkbox", name=re.compile("^1004 ")), False)
    expect(answer(page)).to_contain_text(re.compile(r"windows of 1 car ready"), timeout=60_000)
    assert board.locator("g.piece").count() < both
    ticked(page.get_by_role("checkbox", name=re.compile("^1004 ")), True)
    expect(answer(page)).to_contain_text("windows of 2 cars ready", timeout=60_000)
    ready(page)
    page.get_by_role("button", name="Film is cut").click()
    page.get_by_role("dialog").get_by_role("button", name="Yes, film is cut").click()
    expect(page.get_by_text("Booked off the rack, each car its share.", exact=False)).to_be_visible()
    expect(page.get_by_role("checkbox", name=re.compile("^1001 "))).to_have_count(0)

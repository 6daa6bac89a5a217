"""A stranger's truck surveyed with taps from nothing, the same truck again from the shelf; findings, drawings, slips."""

from __future__ import annotations

import re
from collections.abc import Iterator
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Locator, Page, expect

from tests.e2e.server import enter
from tests.e2e.test_journeys import answer, open_job, tape

DEVICES = True
SIZES = {"tablet": (800, 1280), "phone": (390, 844)}
REAR = ("Rear slider, left", "Rear slider, middle", "Rear slider, right")


class Hand:
    """A hand that taps, and counts its taps and the values it enters."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.touches = 0
        self.values = 0

    def tap(self, what: Locator) -> None:
        self.touches += 1
        what.tap()

    def key_in(self, typed: str) -> None:
        """A size on the tape keypad that is open, then on to the next reading."""
        self.values += 1
        pad = self.page.get_by_role("group", name="Tape keypad")
        whole, _, fraction = typed.partition(" ")
        for digit in whole:
            self.tap(pad.get_by_role("button", name=digit, exact=True))
        if fraction:
            self.tap(pad.get_by_role("button", name=fraction, exact=True))
        expect(pad).to_contain_text(typed)
        self.tap(pad.get_by_role("button", name="Next reading"))

    def type(self, what: Locator, words: str) -> None:
        self.values += 1
        what.press_sequentially(words)


@pytest.fixture(params=SIZES)
def hand(browser: Browser, address: str, request: pytest.FixtureRequest) -> Iterator[Hand]:
    width, height = SIZES[request.param]
    context = browser.new_context(
        service_workers="block", viewport={"width": width, "height": height}, has_touch=True, reduced_motion="reduce"
    )
    page = context.new_page()
    problems: list[str] = []
    page.on("pageerror", lambda error: problems.append(str(error)))
    enter(page, address, "Ines Varga")
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    yield Hand(page)
    context.close()
    assert problems == []


def at_window(page: Page, label: str) -> None:
    expect(page.locator(f'[data-window="{label}"]')).to_have_attribute("aria-pressed", "true")


def no_sideways(page: Page) -> None:
    wide, room = page.evaluate("[document.documentElement.scrollWidth, window.innerWidth]")
    assert wide <= room + 1, f"{wide} px wide on {room}"


def test_a_new_truck_is_surveyed_from_nothing_and_the_same_truck_again_from_the_shelf(
    hand: Hand, request: pytest.FixtureRequest
) -> None:
    page, size = hand.page, request.node.callspec.params["hand"]
    name = f"Rook hauler {size}"
    hand.tap(page.get_by_role("link", name="New job"))
    hand.tap(page.get_by_role("button", name=re.compile("Crew-cab")))
    hand.type(page.get_by_label("Car"), name)
    hand.tap(page.get_by_role("button", name="Start the survey"))

    # The rear glass of this truck is three panes in one opening.
    hand.tap(page.get_by_role("button", name="Whole car"))
    hand.tap(page.locator('[data-window="Rear window"]'))
    hand.tap(page.get_by_role("button", name="Take this window out"))
    hand.tap(page.get_by_role("button", name=re.compile("^Whole car|^By window")).first)
    hand.tap(page.get_by_role("button", name="Add glass"))
    hand.tap(page.get_by_role("menuitem", name=re.compile("three parts")))
    at_window(page, REAR[0])
    no_sideways(page)

    # Sizes on the tape keypad: each field brings the next one, and the last one the next window.
    sizes = {REAR[0]: ("18 1/2", "16 1/4"), REAR[1]: ("17", "16 1/4"), REAR[2]: ("18 1/2", "16 1/4")}
    hand.tap(tape(page, "Greatest width"))
    for label, (width, height) in sizes.items():
        at_window(page, label)
        hand.key_in(width)
        hand.key_in(height)
        expect(page.locator(f'[data-window="{label}"]')).not_to_contain_text("no size")
    hand.tap(page.locator('[data-window="Driver front"]'))
    hand.tap(tape(page, "Greatest width"))
    for label, (width, height) in {"Driver front": ("37 1/4", "18 3/4"), "Driver rear": ("31", "18")}.items():
        at_window(page, label)
        hand.key_in(width)
        hand.key_in(height)
    page.keyboard.press("Escape")

    # Looked over window by window; the passenger side as the driver side.
    hand.tap(page.locator('[data-window="Driver front"]'))
    hand.tap(page.get_by_role("button", name=re.compile("^Look over")))
    for group, option in (("Side seals", "dirty"), ("Weather strip", "comes out easily"), ("Latch", "trips by hand")):
        hand.tap(page.get_by_role("group", name=group).get_by_role("button", name=option))
    expect(page.locator('[data-follows="side_seals"]')).to_contain_text("wrapped card")
    hand.tap(page.get_by_role("button", name="Next: Driver rear").first)
    at_window(page, "Driver rear")
    hand.tap(page.locator('[data-window="Passenger front"]'))
    hand.tap(page.get_by_role("button", name="As the other side"))
    expect(page.get_by_role("group", name="Side seals").get_by_role("button", name="dirty")).to_have_attribute(
        "aria-pressed", "true"
    )
    no_sideways(page)
    from_nothing = (hand.values, hand.touches)

    # Kept on the shelf, and taken from there.
    hand.tap(page.get_by_role("button", name=re.compile("^Whole car|^By window")).first)
    expect(answer(page)).to_have_text("1 of 8 windows still to measure")
    hand.tap(page.get_by_role("button", name="Keep on the glass shelf"))
    hand.tap(page.get_by_role("dialog").get_by_role("button", name="Keep it"))
    expect(page.get_by_text(f"{name} is on the glass shelf.")).to_be_visible()

    again = Hand(page)
    page.goto(page.url.split("/jobs/")[0])
    again.tap(page.get_by_role("link", name="New job"))
    again.tap(page.get_by_role("combobox", name=re.compile("^Same glass as")))
    again.type(page.get_by_role("combobox", name=re.compile("^Same glass as")), f"{size} rook")
    again.tap(page.get_by_role("option", name=re.compile(name)))
    again.tap(page.get_by_role("button", name="Start the survey"))
    at_window(page, "Driver front")
    again.tap(page.get_by_role("button", name=re.compile("^Whole car|^By window")).first)
    expect(answer(page)).to_have_text("1 of 8 windows still to measure")
    for label in (*REAR, "Driver front", "Driver rear", "Passenger front"):
        expect(page.locator(f'[data-window="{label}"]')).not_to_contain_text("no size")
    assert again.touches <= 12, again.touches
    assert again.values == 1
    print(
        f"{size}: from nothing {from_nothing[0]} values, {from_nothing[1]} touches; again 1 value, {again.touches} touches"
    )
    assert from_nothing[0] <= 12
    assert from_nothing[1] <= 95


def test_a_slip_is_lit_where_it_is_mended_and_the_walk_waits(page: Page) -> None:
    open_job(page, "Morrow SUV, fronts to match", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    expect(answer(page)).to_have_text("Readings do not close")
    box = page.locator('[data-closing="alarm"]')
    expect(box).to_contain_text("Each of these alone would close it")
    assert box.bounding_box()["y"] < 800, "above the fold"
    expect(page.locator('[data-line="diagonal_rising"]')).to_have_attribute("data-lit", "true")
    crown = tape(page, "Up: chord")
    crown.click()
    crown.press("Enter")
    at_window(page, "Driver rear")  # nothing moves on before they close
    field = tape(page, "Diagonal ↗")
    field.fill("36")
    field.press("Tab")
    expect(answer(page)).to_have_text(re.compile("^31"))
    expect(box).to_have_count(0)


def test_a_reading_that_may_be_off_is_amber_and_kept_by_a_word(page: Page) -> None:
    open_job(page, "Fenwick 4, rears only", "Survey")
    page.locator('[data-window="Driver front"]').click()
    field = tape(page, "Diagonal ↗")
    was = field.input_value()
    field.fill("39 15/16")
    field.press("Tab")
    expect(answer(page)).to_have_text(re.compile("nearly closes$"))
    box = page.locator('[data-closing="amber"]')
    expect(box).to_contain_text(re.compile("One reading may be off by about .* in; read the .* again"))
    box.get_by_role("button", name="Keep it as read").click()
    expect(box).to_contain_text("Kept as read")
    page.get_by_role("button", name=re.compile("^Undo: Diagonal")).click()
    expect(field).to_have_value(was)


def test_curved_glass_is_measured_with_a_straightedge_and_flat_glass_is_not_asked(page: Page) -> None:
    open_job(page, "Fenwick 4, rears only", "Survey")
    page.locator('[data-window="Back glass"]').click()
    page.get_by_role("group", name="Level").get_by_role("button", name="Curve").click()
    expect(page.get_by_role("img", name=re.compile("Straightedge")).first).to_be_visible()
    page.get_by_role("group", name="Crown across, gap read").get_by_role("button", name="at both ends").click()
    expect(tape(page, "Across: gap, left end")).to_be_visible()
    page.get_by_role("group", name="Curve").get_by_role("button", name="flat").click()
    expect(page.get_by_text("Called flat: no crowns to read.")).to_be_visible()
    expect(tape(page, "Across: gap, left end")).to_have_count(0)


def test_what_forbids_film_is_said_at_survey_and_at_the_knife(page: Page) -> None:
    open_job(page, "Tansy hatch, rears 20", "Survey")
    page.locator('[data-window="Hatch glass"]').click()
    page.get_by_role("button", name=re.compile("^Look over")).click()
    page.get_by_role("group", name="Condition").get_by_role("button", name="drilled").click()
    expect(answer(page)).to_have_text("No film on drilled glass")
    page.get_by_role("button", name=re.compile("^Undo: Condition")).click()
    expect(answer(page)).not_to_have_text("No film on drilled glass")
    page.get_by_role("group", name="Rear wiper").get_by_role("button", name="rusted: cut round it").click()
    expect(page.locator('[data-follows="wiper"]')).to_contain_text("Cut round the spindle; about 6 min")
    page.get_by_role("link", name=re.compile("Cut")).last.click()
    expect(page.locator("[data-from-survey]")).to_contain_text("Cut round the spindle")


def test_an_outline_comes_from_a_drawing_and_says_what_it_left_out(page: Page, tmp_path: Path) -> None:
    drawing = tmp_path / "pane.svg"
    drawing.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 50"><script>alert(1)</script>'
        '<path d="M0 40 L90 40 L80 0 L20 0 Z"/></svg>'
    )
    open_job(page, "Alder SUV, rears in New York", "Survey")
    page.locator("[data-window]").first.click()
    page.get_by_label("SVG or DXF drawing").set_input_files(drawing)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("How wide is it?")
    expect(dialog).to_contain_text("scripts and event handlers left out")
    take = dialog.get_by_role("button", name="Take this outline")
    expect(take).to_be_disabled()
    width = dialog.get_by_label("Greatest width of the pane")
    width.fill("36")
    width.press("Tab")
    expect(dialog).to_contain_text("36 in × 16 in")
    take.click()
    expect(answer(page)).to_have_text("36 in × 16 in")


def test_the_shelf_is_searched_looked_at_and_told_how_a_piece_fitted(page: Page) -> None:
    page.get_by_role("link", name="Glass shelf").click()
    expect(answer(page)).to_have_text(re.compile(r"^\d+ cars, \d+ panes measured$"))
    page.get_by_label("Search: car, year, body, trim, in any order").fill("coupe")
    expect(answer(page)).to_have_text(re.compile(r"^\d cars? found$"))
    page.locator("[data-shelf-car]").first.get_by_role("link").first.click()
    front = page.get_by_role("article", name="Driver front")
    front.get_by_role("button", name="How it fitted").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="short").click()
    dialog.get_by_label("By how much").fill("1/4")
    dialog.get_by_role("button", name="Keep").click()
    expect(front).to_contain_text("Came out short by 1/4 at the bottom, says Ines Varga")
    expect(front).to_contain_text("version 2")
    with page.expect_download() as download:
        front.get_by_role("link", name="DXF").click()
    assert download.value.suggested_filename.endswith(".dxf")


def test_the_light_meter_is_read_and_typing_by_hand_is_as_good(page: Page) -> None:
    open_job(page, "Alder SUV, rears in New York", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    expect(page.get_by_label("Called")).to_have_value("Driver rear")
    field = page.get_by_label("Bare glass VLT, %")
    page.get_by_role("button", name="Read the light meter").click()
    expect(page.get_by_text(re.compile("^(No light meter answers|.*mean .* spread)"))).to_be_visible()
    if page.get_by_text(re.compile("mean .* spread")).count():
        expect(page.get_by_text(re.compile("^mean .* of 3 readings$"))).to_be_visible()
    field.fill("71 72 70.5")
    field.press("Enter")
    expect(page.get_by_text("mean 71.2 of 3 readings")).to_be_visible()


def test_a_photo_is_kept_with_its_window(page: Page, tmp_path: Path) -> None:
    picture = tmp_path / "door.png"
    page.screenshot(path=picture)
    open_job(page, "Hauler van, heat film", "Survey")
    page.locator("[data-window]").first.click()
    page.get_by_role("button", name=re.compile("^Look over")).click()
    page.get_by_label("Photo", exact=True).set_input_files(picture)
    shown = page.get_by_role("img", name=re.compile("Ines Varga$"))
    shown.scroll_into_view_if_needed()
    expect(shown).to_have_js_property("complete", True)
    assert shown.evaluate("image => image.complete && image.naturalWidth > 600")


def test_on_a_slow_tablet_a_touch_lands_on_the_window_that_was_picked(page: Page) -> None:
    page.set_viewport_size({"width": 1280, "height": 1400})  # both places in reach of one hand
    open_job(page, "Tansy hatch, rears 20", "Survey")
    page.locator("[data-window]").first.click()
    page.get_by_role("button", name=re.compile("^Look over")).click()
    drilled = page.get_by_role("group", name="Condition").get_by_role("button", name="drilled")
    expect(drilled).to_be_visible()
    page.context.new_cdp_session(page).send("Emulation.setCPUThrottlingRate", {"rate": 8})
    places = [one.bounding_box() for one in (page.locator('[data-window="Hatch glass"]').first, drilled)]
    with page.expect_response(lambda answer: "/api/windows/" in answer.url and answer.request.method != "GET"):
        for box in places:
            assert box is not None
            page.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    address, _, rest = page.url.partition("/jobs/")
    windows = page.request.get(f"{address}/api/jobs/{rest.split('/')[0]}").json()["windows"]
    assert [one["label"] for one in windows if "drilled" in one["findings"].get("condition", ())] == ["Hatch glass"]

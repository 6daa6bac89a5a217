"""Real browser journeys through shade and law."""

from __future__ import annotations

import re
from io import BytesIO

import pytest
from PIL import Image
from playwright.sync_api import Browser, Page, expect

from tests.e2e.server import enter
from tests.e2e.test_journeys import answer, open_job, printed


def pick(page: Page, label: str) -> None:
    """Walk to a window; one that is picked already stays so."""
    pane = page.locator(f'[data-window="{label}"]')
    if pane.get_attribute("aria-pressed") != "true":
        pane.click()
    expect(pane).to_have_attribute("aria-pressed", "true")


def test_a_cannot_tell_question_is_answered_where_it_is_asked(page: Page) -> None:
    open_job(page, "Alder SUV", "Shade")
    pick(page, "Driver rear")
    expect(answer(page)).to_have_text(re.compile("^Cannot tell, 7"))
    question = page.locator('[data-question="registered_as"]')
    expect(question).to_contain_text("What is the vehicle registered as?")
    question.get_by_role("combobox").click()
    page.get_by_role("option", name="SUV (multipurpose, suburban)").click()
    settle = page.locator('[data-question="law"]')
    expect(settle).to_contain_text("Are the rear sides free on a vehicle registered as")
    settle.get_by_role("link", name="Settle it in the rule book").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("suburban")
    dialog.get_by_label("It says").click()
    page.get_by_role("option", name="yes", exact=True).click()
    dialog.get_by_role("button", name="Overrule").click()
    expect(dialog.get_by_text("Say where it stands")).to_be_visible()
    dialog.get_by_label("Where it stands").fill("Made-up registry leaflet, page 3, read today")
    dialog.get_by_role("button", name="Overrule").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_text("Made-up registry leaflet").first).to_be_visible()

    open_job(page, "Alder SUV", "Shade")
    pick(page, "Driver rear")
    expect(page.locator("[data-law-changed]")).to_contain_text("not on file → yes")
    expect(answer(page)).to_have_text(re.compile("^Cannot tell"))
    page.get_by_role("button", name="Judge again by today").click()
    expect(answer(page)).to_have_text(re.compile(r"^Clears, 7\.6 %"))
    expect(page.locator("[data-law-changed]")).to_have_count(0)


def test_a_field_is_confirmed_overruled_and_withdrawn_with_its_history(page: Page) -> None:
    page.get_by_role("link", name="Rule book", exact=True).click()
    page.get_by_label("Search state or statute").fill("wyo")
    page.get_by_role("link", name="WY · Wyoming").click()
    page.get_by_role("button", name="Least light at the front side (passenger): 28 %").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Figure, % at least").fill("230")
    dialog.get_by_label("Where it stands").fill("A made-up bulletin")
    dialog.get_by_role("button", name="Overrule").click()
    expect(dialog.get_by_text("outside 0 to 100").first).to_be_visible()
    dialog.get_by_label("Figure, % at least").fill("30")
    dialog.get_by_role("button", name="Overrule").click()
    expect(page.get_by_role("button", name="Least light at the front side (passenger): 30 %")).to_be_visible()
    expect(page.get_by_text("overruled by Ines Varga", exact=False).first).to_be_visible()
    page.get_by_role("button", name="Least light at the front side (passenger): 30 %").click()
    page.get_by_role("button", name="Withdraw the shop").click()
    expect(page.get_by_role("button", name="Least light at the front side (passenger): 28 %")).to_be_visible()
    expect(page.get_by_text("Withdrawn by Ines Varga", exact=False)).to_be_visible()


def test_an_illegal_wish_is_held_then_goes_on_by_reason_and_prints_unlawful(page: Page) -> None:
    open_job(page, "Larkspur coupe", "Cut")
    expect(page.get_by_text("Driver front is held back.")).to_be_visible()
    page.get_by_role("link", name="Mend it at Shade").first.click()
    pick(page, "Driver front")
    expect(answer(page)).to_have_text(re.compile(r"^Too dark, 4\.1 %"))
    wish = page.locator("[data-unlawful]")
    expect(wish.get_by_role("group", name="Lawful here").get_by_role("button").first).to_be_visible()
    expect(wish.get_by_label("Reason")).to_have_text("Medical exemption")
    wish.get_by_role("button", name="Give this reason").click()
    expect(wish.get_by_text("The number on the exemption")).to_be_visible()
    wish.get_by_label("Number of the exemption").fill("ME-0071")
    wish.get_by_label("Issued on").fill("2026-01-05")
    wish.get_by_label("Expires on").fill("2099-05-01")
    wish.get_by_role("checkbox", name=re.compile("^Passenger front")).check()
    wish.get_by_role("button", name="Give this reason").click()
    expect(wish.get_by_text("What an exemption covers at the front side in Florida is not on file")).to_be_visible()
    wish.get_by_label("Where it is written what it covers").fill("Code of the made-up county, section 3")
    wish.get_by_role("button", name="Give this reason").click()
    for label in ("Driver front", "Passenger front"):  # one document for the car
        pick(page, label)
        expect(page.locator("[data-reason]")).to_contain_text("ME-0071")
        expect(answer(page)).to_have_text(re.compile("^Too dark"))
    page.get_by_role("link", name=re.compile("Cut")).last.click()
    expect(page.get_by_role("region", name="Cut plan for Dusk 5")).to_be_visible()
    expect(page.get_by_text("Driver front is held back.")).to_have_count(0)
    sheet = page.get_by_role("link", name="Cut sheet, Letter")
    expect(sheet).not_to_have_attribute("aria-disabled", "true")
    text = printed(page, page.url.split("/jobs")[0] + (sheet.get_attribute("href") or ""))
    assert "Too dark" in text
    assert "NOT LAWFUL AS IT STANDS" in text
    assert "ME-0071" in text


def test_a_declined_wish_changes_the_film(page: Page) -> None:
    open_job(page, "Morrow SUV", "Shade")
    pick(page, "Driver front")
    page.get_by_role("button", name="Choose Dusk 5 for Driver front").click()
    expect(answer(page)).to_have_text(re.compile("^Too dark"))
    wish = page.locator("[data-unlawful]")
    wish.get_by_label("Reason").click()
    page.get_by_role("option", name="We declined; a lawful film goes on").click()
    wish.get_by_role("button", name="Record, and change the film").click()
    expect(answer(page)).to_have_text(re.compile("^Clears"))
    expect(page.locator("[data-reason]")).to_contain_text("customer declined, film changed")
    expect(page.locator("[data-reason]")).to_contain_text("Dusk 5 on Driver front: Too dark in FL")


def test_strip_planner_moves_with_depth_shape_and_housing(page: Page) -> None:
    open_job(page, "Drover crew", "Shade")
    pick(page, "Windshield")
    strip = page.get_by_role("region", name="Strip on windshield")
    expect(strip.locator('[data-ruler="middle"]')).to_contain_text("5 in")
    expect(strip.locator('[data-ruler="left"]')).to_contain_text("3")
    strip.get_by_role("button", name="Roof line").click()
    expect(strip.locator('[data-ruler="left"]')).to_contain_text("5 in")
    strip.get_by_label("Housing width (if read)").fill("6")
    strip.get_by_label("Housing depth (if read)").fill("3 1/2")
    strip.get_by_role("button", name="Two").click()
    expect(strip.locator("[data-strip-piece]")).to_have_count(2)
    strip.get_by_label("Strip depth from the top").fill("6 1/2")
    expect(strip).to_contain_text("deeper than allowed")
    expect(answer(page)).to_have_text(re.compile("^Not allowed"))
    strip.get_by_role("button", name=re.compile("^Bring it up to")).click()
    expect(answer(page)).to_have_text(re.compile("^Clears"))
    page.get_by_role("link", name=re.compile("Cut")).last.click()
    board = page.get_by_role("region", name="Cut plan for Kiln 70")
    expect(board).to_contain_text("Windshield strip, left")


def test_a_proposal_is_taken_and_taken_back(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Shade")
    page.get_by_role("button", name="Whole car").click()
    page.get_by_role("button", name="Proposals").click()
    expect(answer(page)).to_have_text(re.compile(r"^\d lawful ways? to film it$"))
    front = page.get_by_role("img", name="Driver front, Harbor 35").first
    by_day = front.get_attribute("data-colour")
    page.get_by_role("button", name="Night").click()
    expect(front).not_to_have_attribute("data-colour", by_day or "")
    page.get_by_role("button", name="From inside").click()
    darkest = page.locator('[data-proposal="darkest"], [data-proposal="match_rear"]').first
    darkest.get_by_role("button", name="Take this one").click()
    expect(darkest.get_by_text("on the car now")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(darkest.get_by_role("button", name="Take this one")).to_be_visible()


def test_another_film_that_clears_is_put_on_one_window_of_a_proposal(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Shade")
    page.get_by_role("button", name="Whole car").click()
    page.get_by_role("button", name="Proposals").click()
    darkest = page.locator('[data-proposal="darkest"], [data-proposal="match_rear"]').first
    darkest.get_by_text("Window by window, and what else clears there").click()
    now = page.get_by_role("region", name="As planned now")
    expect(now.get_by_role("img", name="Driver rear, Dusk 20")).to_have_count(0)
    darkest.get_by_role("button", name="Put Dusk 20 on Driver rear").click()
    expect(now.get_by_role("img", name="Driver rear, Dusk 20")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(now.get_by_role("img", name="Driver rear, Dusk 20")).to_have_count(0)


def test_tiles_tell_every_state_and_why(page: Page) -> None:
    open_job(page, "Larkspur coupe", "Shade")
    page.get_by_role("button", name="Whole car").click()
    page.get_by_role("button", name="In every state").click()
    expect(page.locator("[data-tile]")).to_have_count(51)
    tile = page.locator('[data-tile="NH"]')
    expect(tile).to_have_attribute("aria-label", "NH, New Hampshire: Not allowed")
    tile.click()
    expect(page.get_by_text("New Hampshire allows no film at the front side.").first).to_be_visible()
    page.get_by_role("button", name="Add NH").click()
    expect(page.get_by_text("FL, NH", exact=False).first).to_be_visible()
    page.locator('[data-tile="AZ"]').click()
    page.get_by_role("button", name="AZ instead of FL, NH").click()
    expect(page.get_by_role("button", name=re.compile("^AZ instead of"))).to_have_count(0)
    states = page.evaluate("async id => (await (await fetch(`/api/jobs/${id}`)).json()).states", page.url.split("/")[4])
    assert states == ["AZ"]


def test_counter_looks_a_window_up_in_three_touches_on_a_phone(browser: Browser, address: str) -> None:
    context = browser.new_context(service_workers="block", viewport={"width": 390, "height": 844}, has_touch=True)
    page = context.new_page()
    enter(page, address, "Sol Pereira")
    page.goto(f"{address}/look-up")
    page.get_by_role("combobox", name="State").fill("Flo")
    page.get_by_role("option", name="Florida").tap()  # once: it is remembered
    touches = 0
    for name in ("SUV, van, truck", "Rear side", "Dusk 20"):
        page.get_by_role("button", name=name).tap()
        touches += 1
    expect(answer(page)).to_have_text(re.compile(r"^Too dark, 4\.4 %"))
    assert touches == 3
    page.reload()
    expect(page.get_by_role("combobox", name="State")).to_have_value("Florida")
    assert page.evaluate("document.documentElement.scrollWidth") <= 391
    context.close()


def test_glass_of_twenty_is_drawn_as_the_colour_it_has_in_linear_light(page: Page) -> None:
    """20 % over white: sRGB 7C of the encoded backdrop, one level either way, as it stands on the screen."""
    open_job(page, "Fenwick 4, rears only", "Survey")
    pick(page, "Driver front")
    field = page.get_by_label("Bare glass VLT, %")
    field.fill("20")
    field.press("Enter")
    pane = page.locator('[data-window="Driver front"]')
    expect(pane).to_contain_text("20 %")
    expect(pane.locator("polygon")).to_have_attribute("fill", "#7C7C7C")
    shot = Image.open(BytesIO(pane.locator("svg").screenshot())).convert("RGB")
    colours = shot.getcolors(maxcolors=100_000) or []
    inside = max((entry for entry in colours if len(set(entry[1])) == 1), key=lambda entry: entry[0])[1]
    assert all(abs(level - 0x7C) <= 1 for level in inside)


def test_lot_is_corrected_by_what_the_meter_reads_after(page: Page) -> None:
    open_job(page, "Morrow SUV", "Shade")
    pick(page, "Hatch glass")
    form = page.get_by_role("region", name="Metered with the film on")
    form.get_by_label("The meter reads, %").fill("6.2")
    form.get_by_role("button", name="Keep the reading").click()
    expect(page.get_by_text("lot D35-2309 reads", exact=False)).to_contain_text("n 1")
    page.get_by_role("link", name="Dusk 35", exact=True).click()
    lot = page.locator('[data-lot="D35-2309"]')
    expect(lot).to_contain_text("n 1")
    expect(lot.get_by_role("img", name="Foretold against read, lot D35-2309")).to_be_visible()
    lot.get_by_role("button", name="Strike the reading of Hatch glass").click()
    expect(lot).to_contain_text("nothing read yet")


@pytest.mark.parametrize("content", ["{", '{"format": "elumbra-law", "format_version": 2, "records": []}'])
def test_a_bad_law_file_is_refused_with_the_reason(page: Page, content: str) -> None:
    page.goto(page.url.rstrip("/") + "/rules")
    page.get_by_label("Law file").set_input_files(
        {"name": "law.json", "mimeType": "application/json", "buffer": content.encode()}
    )
    expect(page.get_by_role("alert")).to_contain_text(re.compile("broken at line 1|no records"))
    expect(answer(page)).to_have_text("Rule book: 51 jurisdictions")


def tick(page: Page, label: str) -> None:
    """Tick a box; it is ticked once the server has the answer."""
    page.get_by_label(label).click()
    expect(page.get_by_label(label)).to_be_checked()


def test_old_film_that_stays_asks_for_a_reading_through_it(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Survey")
    pick(page, "Passenger front")
    tick(page, "Old film on it")
    tick(page, "It stays on, new film over it")
    page.get_by_role("link", name=re.compile("Shade")).last.click()
    expect(answer(page)).to_have_text(re.compile("^Cannot tell"))
    question = page.locator('[data-question="bare_vlt"]')
    question.get_by_label("Bare glass reads, %").fill("140")
    expect(question.get_by_text("From 0 to 100")).to_be_visible()
    page.get_by_role("link", name=re.compile("Survey")).last.click()
    tick(page, "The meter read through it")
    field = page.get_by_label("Glass with old film, VLT, %")
    field.fill("60")
    field.press("Enter")
    page.get_by_role("link", name=re.compile("Shade")).last.click()
    expect(answer(page)).to_have_text(re.compile(r"^Too dark, 24\.7 %"))
    expect(page.get_by_text("Old film stays on this glass and is part of the figure.")).to_be_visible()


def test_several_readings_of_the_meter_stand_as_typed_and_count_as_their_mean(page: Page) -> None:
    open_job(page, "Fenwick 4, rears only", "Survey")
    pick(page, "Passenger front")
    field = page.get_by_label("Bare glass VLT, %")
    field.fill("71 72 20")
    field.press("Enter")
    expect(page.get_by_text("Readings of 20 % and 72 % cannot be of one pane: read it again.")).to_be_visible()
    field.fill("72 72 75")
    field.press("Enter")
    expect(page.get_by_text("mean 73 of 3 readings")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Bare glass VLT, %")).to_have_value("72 72 75")
    expect(page.locator('[data-window="Passenger front"]')).to_contain_text("73 %")


def test_rule_book_is_walked_and_a_field_confirmed_without_a_mouse(page: Page) -> None:
    page.keyboard.press("w")
    expect(answer(page)).to_have_text("Rule book: 51 jurisdictions")
    page.keyboard.press("/")
    find = page.get_by_role("combobox", name="Find a job, customer, plate, car, film, roll or state")
    expect(find).to_be_focused()
    page.keyboard.type("Vermont")
    expect(page.get_by_role("option", name="VT Vermont")).to_be_visible()
    page.keyboard.press("Enter")
    expect(answer(page)).to_have_text(re.compile("^Vermont: "))
    page.get_by_role("button", name="Confirm Meter tolerance that the law grants").focus()
    page.keyboard.press("Enter")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Where it stands")).to_be_focused()
    page.keyboard.type("A made-up leaflet, page 2")
    for _ in range(12):
        page.keyboard.press("Tab")
        if page.evaluate("document.activeElement.textContent") in ("Confirm", "Overrule"):
            break
    page.keyboard.press("Enter")
    expect(dialog).to_have_count(0)
    expect(page.get_by_text("by Ines Varga", exact=False).first).to_be_visible()
    page.keyboard.press("l")
    expect(page.get_by_role("combobox", name="State")).to_be_visible()


@pytest.mark.parametrize("size", [(800, 1280), (1024, 768), (390, 844)])
def test_law_screens_stay_on_a_tablet_and_a_phone(page: Page, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    root = page.url.rstrip("/")
    for path in ("/rules", "/rules/NC", "/look-up", "/films/dusk20"):
        page.goto(root + path)
        expect(answer(page)).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= size[0] + 1, path
    open_job(page, "Drover crew", "Shade")
    pick(page, "Windshield")
    expect(page.get_by_role("region", name="Strip on windshield")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth") <= size[0] + 1
    page.get_by_role("button", name="Whole car").click()
    for view, words in (("Windows", "^Whole car: "), ("Proposals", "lawful way"), ("In every state", "^Clears in ")):
        page.get_by_role("button", name=view).click()
        expect(answer(page)).to_have_text(re.compile(words))
        assert page.evaluate("document.documentElement.scrollWidth") <= size[0] + 1, view


def test_answer_is_the_largest_text_on_the_law_screens_too(page: Page) -> None:
    root = page.url.rstrip("/")
    for path in ("/rules", "/rules/CO", "/films/dusk20"):
        page.goto(root + path)
        expect(answer(page)).to_be_visible()
        sizes = page.evaluate(
            """() => {
              const size = (node) => parseFloat(getComputedStyle(node).fontSize);
              const others = [...document.querySelectorAll('main *')].filter((node) =>
                !node.closest('[data-answer]') && !node.closest('svg') && [...node.childNodes].some((c) => c.nodeType === 3 && c.textContent.trim()));
              return [size(document.querySelector('[data-answer]')), Math.max(...others.map(size))];
            }"""
        )
        assert sizes[0] >= 1.5 * sizes[1], (path, sizes)


def test_a_state_that_is_not_on_file_says_so_and_leads_back(page: Page) -> None:
    page.goto(page.url.rstrip("/") + "/rules/QQ")
    expect(page.get_by_role("alert")).to_contain_text("There is no state “QQ” in the rule book")

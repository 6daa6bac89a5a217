"""From a new job to film that is cut, and what keeps it from going wrong on the way."""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from playwright.sync_api import Browser, Page, Route, expect

from tests.e2e.server import enter
from tests.e2e.test_journeys import answer, hear_nothing, open_job, printed, tape


@contextmanager
def someone_else(browser: Browser, address: str, name: str = "Tobi Lund") -> Iterator[Page]:
    """Another person at another screen of the shop."""
    context = browser.new_context(service_workers="block", viewport={"width": 1280, "height": 800})
    page = context.new_page()
    enter(page, address, name)
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    yield page
    context.close()


def pick(page: Page, label: str) -> None:
    pane = page.locator(f'[data-window="{label}"]')
    pane.click()
    expect(pane).to_have_attribute("aria-pressed", "true")


def station(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Stations").get_by_role("link", name=re.compile(name)).click()


def size(page: Page, width: str, height: str) -> None:
    tape(page, "Greatest width").fill(width)
    tape(page, "Greatest height").fill(height)
    page.keyboard.press("Tab")
    expect(answer(page)).to_have_text(re.compile("×"))


def test_a_crew_cab_in_two_states_with_a_strip_and_a_late_window_from_new_job_to_film_is_cut(page: Page) -> None:
    page.get_by_role("link", name="New job").click()
    page.get_by_role("button", name=re.compile("^Truck, crew cab|^Crew|crew cab", re.IGNORECASE)).click()
    page.get_by_label("Car").fill("Rook crew cab")
    states = page.get_by_role("combobox", name=re.compile("^State"))
    states.fill("Oklahoma")
    page.get_by_role("option", name="Oklahoma").click()
    page.keyboard.press("Escape")
    page.get_by_role("button", name="Start the survey").click()

    pick(page, "Driver front")
    size(page, "31", "19 1/2")
    pick(page, "Windshield")
    size(page, "57", "31")

    # Fronts: both at once; the windshield gets a strip, and is asked how deep and where the line is.
    station(page, "Shade")
    pick(page, "Driver front")
    page.get_by_role("button", name="Choose Harbor 35 for Both fronts").click()
    expect(page.locator('[data-window="Passenger front"]')).not_to_contain_text("bare")
    pick(page, "Windshield")
    page.get_by_role("button", name="Strip instead").click()
    strip = page.get_by_role("region", name="Strip on windshield")
    expect(strip).to_be_visible()
    page.get_by_role("button", name="Choose Kiln 70 for Windshield").click()
    station(page, "Cut")
    expect(answer(page)).to_have_text(re.compile("1 held back"))
    held = page.locator('[data-held="Windshield"]')
    expect(held).to_contain_text("Cannot tell")
    station(page, "Shade")
    strip.get_by_label("Strip depth", exact=False).first.fill("4 1/2")
    strip.get_by_label("AS-1 line", exact=False).first.fill("5 1/4")
    page.keyboard.press("Tab")
    expect(answer(page)).to_have_text(re.compile("^(Clears|Close) in "))

    # The customer adds a window at the last minute.
    station(page, "Survey")
    page.get_by_role("button", name="Whole car").click()
    page.get_by_role("button", name="Add glass").click()
    page.get_by_role("menuitem", name="One more window").click()
    name = page.get_by_label("Called")
    expect(name).to_have_value(re.compile("^Window "))
    name.fill("Sliding rear pane")
    name.press("Enter")
    expect(page.locator('[data-window="Sliding rear pane"]')).to_be_visible()
    size(page, "20", "14")
    station(page, "Shade")
    page.get_by_role("button", name="Choose Harbor 35 for Sliding rear pane").click()

    station(page, "Cut")
    expect(answer(page)).to_have_text("4 windows ready")
    sheet = page.get_by_role("link", name="Cut sheet, Letter")
    expect(sheet).not_to_have_attribute("aria-disabled", "true")
    with page.expect_download() as download:
        sheet.click()
    assert re.fullmatch(r"cut-sheet-\d+-rook-crew-cab-.*harbor-35.*\.pdf", download.value.suggested_filename)
    text = printed(page, download.value.url)
    for words in ("Rook crew cab", "TX, OK", "page 1 of", "4 windows ready", "Sliding rear pane", "Also: "):
        assert words in text, words

    page.get_by_role("button", name="Film is cut").click()
    dialog = page.get_by_role("dialog")
    kept = dialog.get_by_role("checkbox").count()
    dialog.get_by_role("button", name="Yes, film is cut").click()
    expect(answer(page)).to_have_text("All 4 windows are cut")
    done = page.locator("[data-cutting]")
    expect(done).to_contain_text("off the rack", ignore_case=True)
    expect(page.get_by_text("Sliding rear pane: lot H35")).to_be_visible()
    number = re.search(r"\d{4}", page.locator("h1 + p").inner_text())
    assert number
    page.get_by_role("link", name="Rack", exact=True).first.click()
    expect(page.get_by_text(re.compile(rf"^{number.group()}-[A-Z]$"))).to_have_count(kept)

    page.go_back()
    page.get_by_role("button", name="Take this cut back").click()
    expect(answer(page)).to_have_text("4 windows ready")


def test_a_home_sheet_says_over_or_short_and_names_the_least(page: Page) -> None:
    page.get_by_role("link", name="Quick cut", exact=True).first.click()
    page.get_by_label("From one bought sheet").check()
    tape(page, "Width").fill("36")
    tape(page, "Height").fill("20")
    page.get_by_role("combobox", name="Count").click()
    page.get_by_role("option", name="2", exact=True).click()
    expect(answer(page)).to_have_text("Fits, 2 in over")
    expect(page.get_by_text("The least sheet that does: 24 in × 76 in.")).to_be_visible()
    tape(page, "Width").fill("40")
    expect(answer(page)).to_have_text("6 in short")
    tape(page, "Sheet, length").fill("7 ft")
    expect(answer(page)).to_have_text("Fits, 0 in over")


def test_an_open_screen_follows_somebody_elses_change_and_says_who(page: Page, browser: Browser, address: str) -> None:
    open_job(page, "Tansy hatch, rears 20", "Shade")
    pick(page, "Driver rear")
    expect(page.get_by_role("button", name="Choose Dusk 35 for Driver rear")).to_be_visible()
    page.wait_for_function("performance.getEntriesByType('resource').some((one) => one.name.includes('/changes'))")
    with someone_else(browser, address) as other:
        other.goto(page.url)
        other.get_by_role("button", name="Choose Dusk 35 for Driver rear").click()
        expect(answer(other)).to_contain_text("%")
    expect(page.get_by_text("Tobi Lund changed Driver rear: film id.")).to_be_visible()
    expect(page.get_by_role("row", name=re.compile("^Dusk 35"))).to_contain_text("chosen")


def test_two_who_change_different_things_both_keep_theirs(page: Page, browser: Browser, address: str) -> None:
    open_job(page, "Fenwick 4, rears only", "Survey")
    pick(page, "Driver front")
    hear_nothing(page)
    with someone_else(browser, address) as other:
        other.goto(page.url)
        other.get_by_label("Called").fill("Left front")
        other.get_by_label("Called").press("Enter")
        expect(other.locator('[data-window="Left front"]')).to_be_visible()
    page.get_by_label("Bare glass VLT, %").fill("61")
    page.get_by_label("Bare glass VLT, %").press("Enter")
    expect(page.get_by_text("both are kept")).to_be_visible()
    expect(page.locator('[data-window="Left front"]')).to_contain_text("61 %")


def test_every_screen_says_when_the_server_is_away_and_comes_back_by_itself(page: Page, address: str) -> None:
    away = {"now": True}

    def answer_or_not(route: Route) -> None:
        if away["now"]:
            route.abort()
        else:
            route.continue_()

    page.route("**/api/**", answer_or_not)
    for place in ("Jobs", "Rack", "Films", "Rule book", "Shop"):
        page.get_by_role("link", name=place, exact=True).first.click()
        expect(page.get_by_text("The server does not answer.").first).to_be_visible()
    away["now"] = False
    expect(page.get_by_text("The server does not answer.")).to_have_count(0)
    expect(answer(page)).to_contain_text("starting values", ignore_case=True)


def test_a_state_is_confirmed_in_one_sitting(page: Page) -> None:
    page.get_by_role("link", name="Rule book", exact=True).click()
    page.get_by_role("link", name="NM · New Mexico").click()
    page.get_by_role("link", name="Confirm this state").click()
    expect(answer(page)).to_have_text(re.compile(r"^New Mexico: \d+ fields to confirm$"))
    before = answer(page).inner_text()
    for label in ("Least light at the rear side (multipurpose) reads so", "Reflection at the front side reads so"):
        page.get_by_role("checkbox", name=label).check()
    expect(page.get_by_role("button", name="Confirm 2 ticked")).to_be_disabled()
    page.get_by_label("Where it stands, for all that is ticked").fill("66-3-846.1, read 2026-11-25")
    page.get_by_role("button", name="Confirm 2 ticked").click()
    count = int(re.findall(r"\d+", before)[0])
    expect(answer(page)).to_have_text(f"New Mexico: {count - 2} fields to confirm")
    row = page.locator('[data-field="multipurpose.rear_side"]')
    expect(row).to_contain_text("confirmed, Ines Varga")
    page.locator('[data-field="passenger.front_side"]').get_by_role("button", name=re.compile("otherwise")).click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Figure, % at least").fill("0.2")
    dialog.get_by_label("Where it stands").fill("another reading")
    dialog.get_by_role("button", name="Overrule").click()
    expect(dialog.get_by_text("Did you mean 20 %?").first).to_be_visible()
    dialog.get_by_label("Figure, % at least").fill("19")
    dialog.get_by_role("button", name="Yes, it is so").click()
    expect(page.locator('[data-field="passenger.front_side"]')).to_contain_text("the shop’s own, Ines Varga")


def test_the_counters_question_is_answered_where_it_is_asked(page: Page) -> None:
    page.get_by_role("link", name="Look up", exact=True).first.click()
    state = page.get_by_role("combobox", name="State")
    state.fill("Michigan")
    page.get_by_role("option", name="Michigan").click()
    page.get_by_role("button", name="Rear side").click()
    page.get_by_role("button", name=re.compile("^Dusk 20")).click()
    asked = page.locator('[data-question="mirrors_both_sides"]')
    expect(asked).to_be_visible()
    expect(answer(page)).to_contain_text("Cannot tell")
    asked.get_by_role("button", name="Yes").click()
    expect(answer(page)).to_contain_text("Clears")
    page.get_by_role("button", name="Front side").click()
    expect(answer(page)).to_contain_text("Not allowed")
    page.get_by_role("button", name="A strip only").click()
    depth = page.locator('[data-question="strip_depth"]')
    depth.get_by_label("Strip depth", exact=False).fill("3")
    depth.get_by_label("Strip depth", exact=False).press("Enter")
    line = page.locator('[data-question="as1_depth"]')
    line.get_by_role("button", name="The glass bears no such line").click()
    expect(answer(page)).to_contain_text("Clears")
    page.get_by_role("button", name="Another car: forget the answers").click()
    expect(answer(page)).to_contain_text("Cannot tell")


@pytest.mark.parametrize("title", ["Morrow SUV", "Alder SUV"])
def test_what_holds_a_window_is_said_where_it_is_held_with_a_way_to_its_mend(page: Page, title: str) -> None:
    open_job(page, title, "Cut")
    held = page.locator("[data-held]")
    expect(held.first).to_be_visible()
    expect(answer(page)).to_have_text(re.compile(r"\d of \d windows ready; \d held back"))
    count = held.count()
    assert f"{count} held back" in answer(page).inner_text()
    if title == "Alder SUV":
        question = page.locator('[data-question="registered_as"]')
        expect(question).to_have_count(1)
        question.get_by_label("Registered as").click()
        page.get_by_role("option", name="van", exact=True).click()
        expect(held).to_have_count(0)
    else:
        page.get_by_role("link", name="Mend it at Survey").first.click()
        expect(answer(page)).to_contain_text("do not close")


def test_back_steps_through_the_stations_and_picking_the_picked_window_keeps_it(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Survey")
    pick(page, "Driver rear")
    station(page, "Shade")
    station(page, "Cut")
    page.go_back()
    expect(page).to_have_url(re.compile("/shade"))
    page.go_back()
    expect(page).to_have_url(re.compile("/survey"))
    pane = page.locator('[data-window="Driver rear"]')
    expect(pane).to_have_attribute("aria-pressed", "true")
    pane.click()
    expect(pane).to_have_attribute("aria-pressed", "true")


def test_a_reading_is_undone(page: Page) -> None:
    open_job(page, "Tansy hatch, rears 20", "Survey")
    pick(page, "Driver rear")
    field = tape(page, "Greatest width")
    before = field.input_value()
    field.fill("44")
    field.press("Tab")
    undo = page.get_by_role("button", name=re.compile("^Undo: Greatest width"))
    expect(undo).to_be_visible()
    expect(answer(page)).to_contain_text("44")
    undo.click()
    expect(tape(page, "Greatest width")).to_have_value(before)
    expect(answer(page)).not_to_contain_text("44")


def test_millimetres_are_meant_where_millimetres_are_shown(page: Page) -> None:
    page.get_by_role("button", name="mm", exact=True).click()
    open_job(page, "Tansy hatch, rears 20", "Survey")
    pick(page, "Driver rear")
    tape(page, "Greatest width").fill("800")
    tape(page, "Greatest width").press("Tab")
    expect(answer(page)).to_contain_text("800")
    expect(tape(page, "Greatest width")).to_have_value("800 mm")
    page.get_by_role("link", name="Rack", exact=True).first.click()
    expect(page.get_by_text(re.compile(r"mm wide")).first).to_be_visible()
    expect(page.get_by_text(re.compile(r"\d in wide"))).to_have_count(0)
    page.get_by_role("button", name="in", exact=True).click()


KEPT_SEAT = """() => new Promise((found) => {
  const asked = indexedDB.open("keyval-store");
  asked.onsuccess = () => {
    const got = asked.result.transaction("keyval").objectStore("keyval").get("elumbra.kept");
    got.onsuccess = () => {
      const kept = got.result?.clientState.queries.find((one) => one.queryKey[0] === "session");
      asked.result.close();
      found(kept?.state.data.person?.name ?? null);
    };
  };
})"""


def test_who_sits_here_is_asked_anew_by_a_page_that_comes_back(page: Page, address: str) -> None:
    page.wait_for_function(f"async () => (await ({KEPT_SEAT})()) === 'Ines Varga'")
    enter(page, address, "Tobi Lund")
    expect(page.get_by_role("link", name=re.compile("^Tobi Lund"))).to_be_visible()


def test_an_unknown_address_has_its_own_words_and_a_way_home(page: Page, address: str) -> None:
    page.goto(f"{address}/nowhere/at/all")
    expect(answer(page)).to_have_text("Nothing here")
    page.get_by_role("link", name="Back to the bays").click()
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()

"""Real browser journeys over the demo shop."""

from __future__ import annotations

import re
from io import BytesIO
from pathlib import Path
from uuid import uuid4

import pytest
from playwright.sync_api import Browser, Locator, Page, Request, Route, expect
from pypdf import PdfReader

from tests.e2e.server import enter
from tests.effort import LONG, sample

ROOT = Path(__file__).resolve().parents[2]
AXE = ROOT / "frontend" / "node_modules" / "axe-core" / "axe.min.js"


GONE = "Fenwick 4, rears only"
"""The car that the demo has delivered: what went stays as it went, so a journey that works on it brings it back."""


def here_again(page: Page) -> None:
    """The delivery of the demo's car is undone, as a lead does it."""
    api = "/".join(page.url.split("/")[:3]) + "/api"
    (job,) = [one for one in page.request.get(f"{api}/jobs").json()["jobs"] if one["title"] == GONE]
    if job["status"] != "delivered":
        return
    version = page.request.get(f"{api}/jobs/{job['id']}/handover").json()["version"]
    undone = page.request.post(
        f"{api}/jobs/{job['id']}/handover/take-back",
        data={"version": version, "reason": "It came back."},
        headers={"X-Write-Id": uuid4().hex},
    )
    assert undone.ok, undone.text()


def open_job(page: Page, title: str, station: str) -> None:
    if title == GONE:
        here_again(page)
    page.get_by_role("link", name="Jobs", exact=True).click()
    page.locator("a", has_text=title).first.click()
    page.get_by_role("link", name=re.compile(station)).last.click()
    expect(page.get_by_role("group", name="Walkaround band")).to_be_visible()


def answer(page: Page) -> Locator:
    return page.locator("[data-answer]").first


def tape(page: Page, label: str) -> Locator:
    return page.get_by_label(label, exact=True)


def hear_nothing(page: Page) -> None:
    """Until it writes, this screen does not hear what others do to its job, however long that takes."""
    quiet = {"stamp": "quiet", "last": 1, "entries": []}
    page.route("**/api/jobs/*/changes*", lambda route: route.fulfill(json=quiet))
    job_id = page.url.split("/jobs/")[1].split("/")[0]
    as_it_is = page.evaluate("id => fetch(`/api/jobs/${id}`).then((answer) => answer.text())", job_id)
    deaf = {"now": True}

    def look_again(route: Route) -> None:
        if deaf["now"] and route.request.method == "GET":
            route.fulfill(body=as_it_is, content_type="application/json")
        else:
            route.continue_()

    def wrote(request: Request) -> None:
        if request.method != "GET":
            deaf["now"] = False

    page.on("request", wrote)
    page.route(f"**/api/jobs/{job_id}", look_again)


def printed(page: Page, url: str) -> str:
    """Text of a downloaded PDF."""
    content = page.context.request.get(url).body()
    return " ".join("".join(sheet.extract_text() for sheet in PdfReader(BytesIO(content)).pages).split())


def test_the_slice_from_reading_to_printed_sheet(page: Page) -> None:
    """Open a demo job, change a reading, choose a film, see verdict and layout change, download the PDF, read it."""
    open_job(page, "Fenwick 4, all round", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    outline = page.locator('polygon[data-outline="measured"]')
    drawn = outline.get_attribute("points")
    expect(answer(page)).to_contain_text("30")
    tape(page, "Top").fill("22 5/8")
    tape(page, "Diagonal ↗").fill("29 13/16")
    expect(outline).not_to_have_attribute("points", drawn or "")

    page.keyboard.press("Tab")
    page.get_by_role("link", name=re.compile("Shade")).click()
    expect(answer(page)).to_have_text(re.compile(r"^Clears, 12\.5 %"))
    page.get_by_role("button", name="Choose Dusk 20 for Driver rear").click()
    expect(answer(page)).to_have_text(re.compile(r"^Clears, 16\.7 %"))

    page.locator('[data-window="Driver front"]').click()
    page.get_by_role("button", name="Choose Dusk 5 for Driver front").click()
    expect(answer(page)).to_have_text(re.compile(r"^Too dark, 4\.2 %"))
    expect(page.locator('[data-verdict="TX"]')).to_contain_text("20.8 points")
    page.get_by_role("button", name="Undo").click()
    expect(answer(page)).to_have_text(re.compile(r"^Clears, 31\.2 %"))

    page.get_by_role("link", name=re.compile("Cut")).last.click()
    board = page.get_by_role("region", name="Cut plan for Dusk 20")
    expect(board).to_contain_text("from D20-24")
    expect(board).to_contain_text("proven within three-stage knife cuts")
    sheet = page.get_by_role("link", name="Cut sheet, Letter")
    expect(sheet).not_to_have_attribute("aria-disabled", "true")
    with page.expect_download() as download:
        sheet.click()
    text = printed(page, download.value.url)
    assert download.value.suggested_filename.startswith("cut-sheet-")
    for words in ("from D20-24", "Driver rear", "LINER UP", "machine direction", "Tex. Transp. Code"):
        assert words in text, words


def test_the_answer_follows_each_key_without_leaving_the_field(page: Page) -> None:
    open_job(page, "Tansy hatch, rears 20", "Survey")
    expect(answer(page)).to_have_text(re.compile("34"))
    field = tape(page, "Greatest width")
    field.fill("")
    field.press_sequentially("37 1/2", delay=20)
    expect(answer(page)).to_have_text(re.compile("^37"))
    expect(field).to_be_focused()


def test_a_new_sedan_to_a_printed_sheet_in_thirty_values_and_sixty_touches(page: Page) -> None:
    counted = {"values": 0, "touches": 0}

    def touch(locator: Locator) -> None:
        counted["touches"] += 1
        locator.click()

    def value(locator: Locator, text: str) -> None:
        counted["values"] += 1
        locator.press_sequentially(text)

    touch(page.get_by_role("link", name="New job"))
    touch(page.get_by_role("button", name="Sedan"))
    touch(page.get_by_label("Car"))
    value(page.get_by_label("Car"), "Wren 2 sedan")
    expect(page.get_by_role("button", name="Texas")).to_be_visible()  # the shop's home state
    touch(page.get_by_role("button", name="Start the survey"))
    sizes = {"Driver front": ("37 1/2", "18 1/4"), "Driver rear": ("31", "17 3/4"), "Back glass": ("51 1/4", "26")}
    for window, (width, height) in sizes.items():
        expect(page.locator(f'[data-window="{window}"]')).to_have_attribute("aria-pressed", "true")
        first = tape(page, "Greatest width")
        expect(first).to_be_focused()
        value(first, width)
        counted["touches"] += 1
        page.keyboard.press("Enter")
        expect(tape(page, "Greatest height")).to_be_focused()
        value(tape(page, "Greatest height"), height)
        counted["touches"] += 1
        page.keyboard.press("Enter")
    expect(page.locator('[data-window="Back glass"]')).to_contain_text("75 %")
    touch(page.get_by_role("link", name=re.compile("Shade")))
    touch(page.locator('[data-window="Driver front"]'))
    touch(page.get_by_role("button", name="Choose Harbor 35 for Driver front"))
    expect(answer(page)).to_have_text(re.compile("^Clears"))
    touch(page.get_by_role("button", name="All but the windshield"))
    touch(page.get_by_role("link", name=re.compile("Cut")).last)
    expect(answer(page)).to_have_text("5 windows ready")
    expect(page.get_by_role("region", name="Cut plan for Harbor 35")).to_contain_text("proven")
    sheet = page.get_by_role("link", name="Cut sheet, Letter")
    expect(sheet).not_to_have_attribute("aria-disabled", "true")
    with page.expect_download() as download:
        touch(sheet)
    text = printed(page, download.value.url)
    assert "Wren 2 sedan" in text
    assert text.count("Passenger rear") >= 1
    assert counted["values"] <= 30, counted
    assert counted["touches"] <= 60, counted


def test_impossible_reading_is_refused_where_typed_and_kept_through_a_reload(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Survey")
    field = tape(page, "Diagonal ↘")
    saved = field.input_value()
    field.fill("39 3/7")
    expect(page.get_by_text("a tape has halves")).to_be_visible()
    field.fill("80")
    expect(page.get_by_text(re.compile("cannot be: .* together reach only"))).to_be_visible()
    page.reload()
    expect(tape(page, "Diagonal ↘")).to_have_value("80")
    tape(page, "Diagonal ↘").press("Escape")
    expect(tape(page, "Diagonal ↘")).to_have_value(saved)


def test_slip_is_found_and_named(page: Page) -> None:
    open_job(page, "Morrow SUV, fronts to match", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    expect(answer(page)).to_have_text("Readings do not close")
    expect(page.get_by_text("Diagonal, bottom left to top right 1.02 in shorter, a whole inch")).to_be_visible()
    tape(page, "Diagonal ↗").fill("36")
    expect(answer(page)).to_have_text(re.compile("^31 in"))


def test_keyboard_alone_walks_car_stations_and_places(page: Page) -> None:
    page.keyboard.press("j")
    expect(page).to_have_url(re.compile("/jobs$"))
    expect(page.get_by_label("Search")).to_be_visible()  # the bays, which also link to the job, are gone
    page.locator("a", has_text="Larkspur coupe").first.focus()
    page.keyboard.press("Enter")
    expect(page.locator('[data-window="Driver front"]')).to_have_attribute("aria-pressed", "true")
    page.locator("body").click(position={"x": 2, "y": 400})
    page.keyboard.press("2")
    expect(page).to_have_url(re.compile("/shade"))
    expect(answer(page)).to_have_text(re.compile("^Too dark"))
    page.keyboard.press("ArrowRight")
    expect(page.locator('[data-window="Driver quarter"]')).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("ArrowLeft")
    expect(page.locator('[data-window="Windshield"]')).to_have_attribute("aria-pressed", "true")
    for key in ("ArrowRight", "ArrowLeft", "ArrowRight", "ArrowRight"):  # each counts, however quickly they come
        page.keyboard.press(key)
    expect(page.locator('[data-window="Driver quarter"]')).to_have_attribute("aria-pressed", "true")
    page.keyboard.press("Home")
    expect(answer(page)).to_have_text("Whole car: Too dark")
    page.keyboard.press("3")
    expect(page).to_have_url(re.compile("/cut"))
    page.keyboard.press("?")
    expect(page.get_by_role("dialog", name="Keys")).to_be_visible()
    page.keyboard.press("Escape")
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("/")
    expect(page.get_by_role("combobox", name="Find a job, customer, plate, car, film, roll or state")).to_be_focused()
    page.keyboard.type("Hauler")
    expect(page.get_by_role("option").first).to_contain_text("Hauler van, heat film")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Hauler van, heat film")).to_be_visible()


def test_keys_belong_to_the_field_while_typing(page: Page) -> None:
    open_job(page, "Fenwick 4, all round", "Survey")
    field = tape(page, "Bottom")
    field.focus()
    page.keyboard.press("End")
    page.keyboard.press("ArrowLeft")
    page.keyboard.press("2")
    expect(page).to_have_url(re.compile("/survey"))
    field.press("Escape")


def test_film_that_is_short_is_told_with_what_would_do(page: Page) -> None:
    open_job(page, "Hauler van, heat film", "Cut")
    expect(answer(page)).to_have_text("1 of 7 windows ready; 6 find no film on the rack")
    expect(page.get_by_text("6 of 7 pieces fit no Kiln 50 on the rack")).to_be_visible()
    would_do = page.get_by_role("list", name="What would do")
    expect(would_do).to_contain_text(re.compile(r"A new roll: .*30 in wide, \d"))
    expect(would_do.get_by_role("link", name="To the rack")).to_be_visible()
    would_do.get_by_role("link", name="Cut these 1").click()
    expect(page.get_by_text(re.compile(r"^Pull ")).first).to_be_in_viewport()


def test_quick_cut_with_and_without_a_film(page: Page) -> None:
    page.get_by_role("link", name="Quick cut", exact=True).first.click()
    tape(page, "Width").fill("39 3/8")
    tape(page, "Height").fill("21 1/4")
    expect(answer(page)).to_have_text("Pull 41 3/8 in from a 24 in roll")
    page.get_by_role("combobox", name="Film").click()
    page.get_by_role("option", name="Dusk 35").click()
    expect(answer(page)).to_have_text(re.compile("from D35-36$"))


def test_film_on_the_rack_is_added_changed_and_archived_with_undo(page: Page) -> None:
    page.get_by_role("link", name="Rack", exact=True).click()
    page.get_by_role("button", name="Put film on the rack").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name on the rack").fill("Try 30")
    dialog.get_by_label("Width").fill("wide")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("“wide” is not a size").first).to_be_visible()
    dialog.get_by_label("Width").fill("30")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_text("A price of 0 makes this film free in every plan.").last).to_be_visible()
    dialog.get_by_label("Price at full length, $").fill("240")
    dialog.get_by_role("button", name="Yes, save it so").click()
    expect(page.get_by_text("11 rolls, 3 offcuts")).to_be_visible()
    page.get_by_role("button", name="Archive Try 30").click()
    page.get_by_role("dialog").get_by_role("button", name="Archive", exact=True).click()
    expect(page.get_by_text("10 rolls, 3 offcuts")).to_be_visible()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text("11 rolls, 3 offcuts")).to_be_visible()
    page.get_by_role("button", name="Archive Try 30").click()
    page.get_by_role("dialog").get_by_role("button", name="Archive", exact=True).click()
    expect(page.get_by_text("10 rolls, 3 offcuts")).to_be_visible()


def test_someone_elses_change_is_told_not_overwritten(page: Page, browser: Browser, address: str) -> None:
    open_job(page, "Drover crew cab", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    hear_nothing(page)
    other = browser.new_context(service_workers="block")
    second = other.new_page()
    enter(second, address, "Tobi Lund")
    second.goto(page.url)
    second.get_by_label("Bare glass VLT, %").fill("23")
    second.get_by_label("Bare glass VLT, %").press("Enter")
    expect(second.locator('[data-window="Driver rear"]')).to_contain_text("23 %")
    other.close()
    page.get_by_label("Bare glass VLT, %").fill("30")
    page.get_by_label("Bare glass VLT, %").press("Enter")
    clash = page.locator('[data-clash="bare_vlt_percent"]')
    expect(clash).to_contain_text("Tobi Lund")
    save = page.get_by_role("button", name="Save what I chose")
    expect(save).to_be_disabled()
    clash.get_by_role("button", name="Mine").click()
    save.click()
    expect(page.locator('[data-window="Driver rear"]')).to_contain_text("30 %")


def test_a_quick_cut_that_cannot_be_worked_out_says_why(page: Page) -> None:
    words = "This takes more than 1500 MB of memory. Plan it in two jobs."
    page.route(
        "**/api/tasks/*",
        lambda route: route.fulfill(json=route.fetch().json() | {"status": "failed", "plan": None, "error": words}),
    )
    page.get_by_role("link", name="Quick cut").click()
    page.get_by_label("Width", exact=True).fill("20")
    page.get_by_label("Height", exact=True).fill("10")
    expect(page.get_by_role("alert")).to_contain_text(words)
    expect(page.get_by_text("Laying out")).to_have_count(0)


def test_a_plan_set_aside_by_a_change_is_asked_for_again_when_the_change_is_undone(page: Page) -> None:
    asked: list[str] = []
    set_aside = {"id": "setaside", "status": "cancelled", "plan": None}

    def first_is_set_aside(route: Route) -> None:
        answer = route.fetch()
        asked.append(route.request.url)
        if len(asked) == 1:  # whole before it is told: the page asks for it at once
            set_aside.update(answer.json() | set_aside)
        route.fulfill(response=answer, json=answer.json() | (set_aside if len(asked) == 1 else {}))

    page.route("**/api/jobs/*/layout", first_is_set_aside)
    page.route("**/api/tasks/setaside", lambda route: route.fulfill(json=set_aside))
    open_job(page, "Fenwick 4, all round", "Cut")
    expect(page.get_by_role("region", name="Cut plan for Harbor 35")).to_contain_text("from H35-40")
    assert len(asked) == 2


def test_what_is_typed_while_the_server_is_away_is_sent_when_it_is_back(page: Page) -> None:
    open_job(page, "Tansy hatch, rears 20", "Survey")
    page.locator('[data-window="Driver rear"]').click()
    expect(page.locator('[data-window="Driver rear"]')).to_have_attribute("aria-pressed", "true")
    page.route("**/api/**", lambda route: route.abort())
    tape(page, "Greatest height").fill("19")
    expect(page.get_by_text("The server does not answer.", exact=False).first).to_be_visible()
    page.unroute("**/api/**")
    expect(answer(page)).to_have_text(re.compile("× 19 in$"))
    expect(page.get_by_text("The server does not answer.", exact=False)).to_have_count(0)


SCREENS = [
    "/", "/jobs", "/jobs/new", "/quick", "/rack", "/films", "/films/dusk20", "/rules", "/rules/IN",
    "/look-up", "/shop", "/together", "/practice",
]  # fmt: skip


OF_THE_SETTING = ["cat.color", "cat.sensory-and-visual-cues"]
"""What one screen setting can fail and another pass: colors and sizes. All else is the same page."""


def scan(page: Page, *, only: list[str] | None = None) -> list[str]:
    page.evaluate(AXE.read_text(encoding="utf-8"))
    result = page.evaluate(
        "rules => axe.run({resultTypes: ['violations'], ...rules})", {"runOnly": only} if only else {}
    )
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:120]} {v['nodes'][0].get('failureSummary', '')[:200]}"
        for v in result["violations"]
        if v["impact"] in ("serious", "critical")
    ]


VIEWS = [
    *SCREENS,
    ("Larkspur coupe", "Survey", ""), ("Larkspur coupe", "Shade", ""), ("Larkspur coupe", "Cut", ""),
    ("Alder SUV", "Shade", ""), ("Drover crew", "Shade", ""), ("Drover crew", "Shade", "Proposals"),
    ("Drover crew", "Shade", "In every state"),
]  # fmt: skip


@pytest.mark.parametrize(("setting", "here"), [("Bench", 14), ("Bay dark", 5), ("Bay light", 5)])
def test_no_serious_accessibility_findings(page: Page, address: str, setting: str, here: int) -> None:
    page.get_by_role("button", name=setting).click()
    only = None if setting == "Bench" or LONG else OF_THE_SETTING
    found = {}
    for view in sample(VIEWS, here, seed=len(setting)):
        if isinstance(view, str):
            page.goto(address + view)
            expect(page.locator("main")).to_be_visible()
        else:
            title, station, of_the_car = view
            open_job(page, title, station)
            page.locator("[data-window]").last.click()
            if of_the_car:
                page.get_by_role("button", name="Whole car").click()
                page.get_by_role("button", name=of_the_car).click()
            expect(answer(page)).to_be_visible()
        page.wait_for_load_state("networkidle")
        found[str(view)] = scan(page, only=only)
    assert {view: problems for view, problems in found.items() if problems} == {}


def test_answer_is_the_largest_text_by_half(page: Page) -> None:
    for title, station in (("Fenwick 4, all round", "Survey"), ("Larkspur coupe", "Shade"), ("Tansy hatch", "Cut")):
        open_job(page, title, station)
        expect(answer(page)).to_be_visible()
        sizes = page.evaluate(
            """() => {
              const size = (node) => parseFloat(getComputedStyle(node).fontSize);
              const answer = document.querySelector('[data-answer]');
              const others = [...document.querySelectorAll('main *')].filter((node) =>
                !node.closest('[data-answer]') && !node.closest('svg') && [...node.childNodes].some((c) => c.nodeType === 3 && c.textContent.trim()));
              return [size(answer), Math.max(...others.map(size))];
            }"""
        )
        assert sizes[0] >= 1.5 * sizes[1], (station, sizes)


@pytest.mark.parametrize("size", [(800, 1280), (1024, 768), (390, 844)])
def test_nothing_runs_off_a_tablet_or_phone(page: Page, size: tuple[int, int]) -> None:
    page.set_viewport_size({"width": size[0], "height": size[1]})
    for station in ("Survey", "Shade", "Cut"):
        open_job(page, "Fenwick 4, all round", station)
        expect(answer(page)).to_be_visible()
        assert page.evaluate("document.documentElement.scrollWidth") <= size[0] + 1, station


def test_empty_shop_says_what_to_do_first(browser: Browser, tmp_path: Path) -> None:
    from tests.e2e.server import running_demo

    with running_demo(tmp_path, command="serve") as address:
        page = browser.new_page()
        page.goto(address)
        expect(page.get_by_role("heading", name="Who owns this shop?")).to_be_visible()
        page.get_by_label("Your name").fill("Orla Finch")
        page.get_by_label("Password", exact=True).fill("wet glass in the rain")
        page.get_by_label("Once more").fill("wet glass in the rain")
        page.get_by_role("button", name="Open the shop").click()
        expect(answer(page)).to_have_text("The bays are empty")
        page.get_by_role("link", name="Rack", exact=True).click()
        expect(page.get_by_text("No film is on file. Enter the film first")).to_be_visible()
        page.get_by_role("link", name="Films").last.click()
        expect(page.get_by_text("No film yet.")).to_be_visible()
        page.close()

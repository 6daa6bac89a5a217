"""The practice glass by touch and by keys: a lesson to its pass, a burnt piece and its replay, no mouse at all.

The page's clock is driven by the test, a tenth of a second at a time: what hands do is the same on every machine.
"""

from __future__ import annotations

import base64
import re
from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any
from uuid import uuid4

import numpy as np
import pytest
from playwright.sync_api import Browser, CDPSession, Locator, Page, expect

from elumbra.car.practice import board_for, lesson_setup
from elumbra.core.practice import COLUMNS, ROWS, Board, Do, Eyes, Lie, School, Screen, Stroke, by_plan
from elumbra.core.shrink import Unrolled
from elumbra.storage import data_files
from tests.e2e.server import enter
from tests.e2e.test_journeys import scan
from tests.effort import LONG

STEP_MS = 100
BY_TOUCH = 150
"""So many steps of the long lesson are by finger in a short run, and its end; all of it under --long."""
MARGIN_PX = 10


@pytest.fixture
def tablet(browser: Browser, address: str) -> Iterator[Page]:
    """A learner's tablet, at the practice glass, its clock in the test's hand."""
    context = browser.new_context(service_workers="block", viewport={"width": 1024, "height": 768}, has_touch=True)
    page = context.new_page()
    problems: list[str] = []
    page.on("pageerror", lambda error: problems.append(str(error)))
    enter(page, address, "Nils Brandt")
    page.get_by_role("link", name="Practice", exact=True).click()
    expect(page.get_by_role("article")).to_have_count(6)
    yield page
    context.close()
    assert problems == []


class Hands:
    """Two fingers on the glass, and a step of the page's clock when they are where they should be."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.cdp: CDPSession = page.context.new_cdp_session(page)
        self.glass: Locator = page.get_by_role("application")
        self.down: dict[int, tuple[float, float]] = {}
        self.frame: Any = None
        self.box: Any = None

    def step(self) -> Any:
        """A tenth of a second, and what the server says of it."""
        with self.page.expect_response(re.compile(r"/strokes$")) as told:
            self.page.clock.run_for(STEP_MS)
        self.frame = told.value.json()
        return self.frame

    def at(self, lie: Lie, stroke: Stroke) -> tuple[float, float]:
        """Where a point of the pane is on the screen."""
        self.box = box = self.box or self.glass.bounding_box()  # nothing moves under the fingers
        assert box is not None
        wide, tall = lie.cell
        ends = np.array([
            [lie.u[0] - wide / 2, lie.v[0] - tall / 2], [lie.u[-1] + wide / 2, lie.v[-1] + tall / 2],
        ])  # fmt: skip
        low, high = np.sort(lie.drawn(ends), axis=0)
        inner = (box["width"] - 2 * MARGIN_PX, box["height"] - 2 * MARGIN_PX)
        scale = min(inner[0] / (high[0] - low[0]), inner[1] / (high[1] - low[1]))
        left = box["x"] + (box["width"] - scale * (high[0] - low[0])) / 2 - scale * low[0]
        base = box["y"] + (box["height"] + scale * (high[1] - low[1])) / 2 + scale * low[1]
        return float(left + scale * stroke.x), float(base - scale * stroke.y)

    def touch(self, fingers: dict[int, tuple[float, float]]) -> None:
        """Put fingers there, lift the others; the page has seen it when this returns."""
        if fingers == self.down:
            return
        points = [{"x": x, "y": y, "id": finger} for finger, (x, y) in fingers.items()]
        if set(self.down) - set(fingers):
            kept = [point for point in points if point["id"] in self.down]
            self._send("touchEnd", kept)
        if set(fingers) - set(self.down):
            self._send("touchStart", points)
        elif fingers:
            self._send("touchMove", points)
        self.down = dict(fingers)

    def _send(self, kind: str, points: list[dict[str, float]]) -> None:
        seen = self.page.evaluate(_COUNTED)
        self.cdp.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
        while self.page.evaluate("window.touchesSeen") == seen:  # a finger's move comes with the next picture
            pass


_COUNTED = """() => {
  if (window.touchesSeen === undefined) {
    window.touchesSeen = 0;
    for (const kind of ["pointerdown", "pointermove", "pointerup"])
      document.addEventListener(kind, () => { window.touchesSeen += 1; });
  }
  return window.touchesSeen;
}"""


def _grid(text: str) -> np.ndarray:
    return np.frombuffer(base64.b64decode(text), dtype=np.uint8).reshape(ROWS, COLUMNS)


def screen_from(frame: Any, board: Board) -> Screen:
    """What the page was told, as the robot's hand sees it."""
    return Screen(
        step=frame["step"], lie=board.lies[Unrolled(frame["lie"])],
        way=Unrolled(frame["way"]) if frame["way"] else None, h_way=Unrolled(frame["h_way"]) if frame["h_way"] else None,
        sheeted=frame["sheeted"], dry=frame["dry"], wet=frame["wet"], trimmed=frame["trimmed"],
        looks=_grid(frame["looks"]), warmth=_grid(frame["warmth"]), stands=_grid(frame["stands"]),
        glass=np.zeros((ROWS, COLUMNS), np.uint8), layers=np.zeros((ROWS, COLUMNS), np.uint8),
        marks=_grid(frame["marks"]).astype(np.uint16), ridges=(), over=frame["over"],
    )  # fmt: skip


def in_hand(page: Page) -> None:
    """From now on the page's time goes only when the test says so."""
    page.clock.install()
    page.clock.pause_at(datetime.now(UTC) + timedelta(hours=1))


def begin(page: Page, title: str) -> Any:
    """Begin a lesson; its run as the page got it."""
    with page.expect_response(lambda answer: re.search(r"/practice/runs/[^/]+$", answer.url) is not None) as told:
        page.get_by_role("article", name=title).get_by_role("button").tap()
    expect(page.get_by_role("application")).to_be_visible()
    in_hand(page)
    return told.value.json()


def played(page: Page, run: str, after: int, done: Sequence[Stroke]) -> Any:
    """One step of a run, not by this screen."""
    address = "/".join(page.url.split("/")[:3])
    told = page.request.post(
        f"{address}/api/practice/runs/{run}/strokes",
        data={"after": after, "until": after + 1, "strokes": [stroke.row() for stroke in done]},
        headers={"X-Write-Id": uuid4().hex},
    )
    assert told.ok, told.text()
    return told.json()


def taken_up_again(page: Page) -> None:
    """The screen opened again where the run stands now, its time in the test's hand as before."""
    page.clock.resume()
    page.reload()
    expect(page.get_by_role("application")).to_be_visible()
    page.clock.pause_at(datetime.now(UTC) + timedelta(hours=2))


BUTTONS = {
    Do.SHEET: "Dryer sheet", Do.WET: "Slip on the glass", Do.TRIM: "Trim", Do.LOOK: "Look", Do.LIFT: "Lift",
}  # fmt: skip
TOOLS = {Do.GUN: "Heat gun", Do.CARD: "Card", Do.GLOVE: "Glove"}


def carry_out(page: Page, hands: Hands, stroke: Stroke, lie: Lie, held: dict[str, str]) -> None:
    """One stroke of the robot by finger."""
    if stroke.do in (Do.LAY, Do.H) or stroke.do in BUTTONS:
        words = {Do.LAY: "Lay film across the car", Do.H: "Press the H"}.get(stroke.do) or BUTTONS[stroke.do]
        hands.touch({})
        page.get_by_role("button", name=words, exact=True).tap()
        return
    wanted = {"tool": TOOLS[stroke.do]}
    if stroke.do is Do.GUN:
        wanted |= {"heat": "High" if stroke.high else "Low", "near": "Middle" if stroke.high else "Near"}
    if any(held.get(name) != words for name, words in wanted.items()):
        hands.touch({})
        for name, words in wanted.items():
            if held.get(name) != words:
                page.get_by_role("button", name=words, exact=True).tap()
        held.update(wanted)
    hands.touch({0: hands.at(lie, stroke)})


def test_the_first_lesson_is_passed_by_touch(tablet: Page) -> None:
    lesson = data_files.lessons()[0]
    board = board_for(lesson_setup(lesson, data_files.starting_values()))
    run = begin(tablet, lesson.title)
    expect(tablet.locator("[data-answer]")).to_have_text("Spray the glass: this piece is laid on slip.")
    hands, held = Hands(tablet), {"tool": "Heat gun", "heat": "High", "near": "Middle"}
    eyes = Eyes(screen_from(run["frame"], board))
    elsewhere, again = False, LONG  # as if the learner had gone on at another tablet, and came back
    for done in by_plan(eyes, school=School(lesson.school), film=Unrolled.ACROSS, h=Unrolled.ACROSS, press=Do.GLOVE):
        if not again and not elsewhere and eyes.now.step >= BY_TOUCH:
            elsewhere = True
            hands.touch({})
        if elsewhere and any(stroke.do is Do.TRIM for stroke in done):
            elsewhere, again = False, True
            taken_up_again(tablet)
            hands, held = Hands(tablet), {}
        if elsewhere:
            eyes.now = screen_from(played(tablet, run["id"], eyes.now.step, done), board)
            continue
        for stroke in done:
            carry_out(tablet, hands, replace(stroke, near=0.6), eyes.now.lie, held)
        if not done:
            hands.touch({})
        eyes.now = screen_from(hands.step(), board)
    assert hands.frame["over"]
    assert hands.frame["events"] == []
    tablet.clock.resume()
    tablet.get_by_role("button", name="What it was worth").tap()
    answer = tablet.locator("[data-answer]")
    expect(answer).to_contain_text("Passed,")
    assert int(re.search(r"(\d+) points", answer.inner_text())[1]) >= 90  # type: ignore[index]
    expect(tablet.get_by_role("list", name="Score").get_by_role("listitem")).to_have_count(5)
    tablet.get_by_role("link", name="Lessons").tap()
    expect(tablet.get_by_role("article", name=lesson.title)).to_contain_text("passed once")
    expect(tablet.locator("[data-answer]")).to_have_text("Next: A rear door that bends both ways")


def test_a_piece_laid_the_wrong_way_burns_and_its_replay_shows_where_and_how_it_is_done(tablet: Page) -> None:
    lesson = data_files.lessons()[1]
    board = board_for(lesson_setup(lesson, data_files.starting_values()))
    begin(tablet, lesson.title)
    hands = Hands(tablet)
    for words in ("Slip on the glass", "Lay film up the pane", "Press the H"):
        tablet.get_by_role("button", name=words, exact=True).tap()
        hands.step()
    lie = board.lies[Unrolled(hands.frame["lie"])]
    tablet.get_by_role("button", name="Glove", exact=True).tap()
    wet = Stroke(0, Do.GLOVE)
    for v in (0.0, 70.0, 140.0, 190.0):  # the water out, from the middle upward
        hands.touch(
            {0: hands.at(lie, replace(wet, x=40.0, y=v) if lie.way is Unrolled.ACROSS else replace(wet, x=v, y=40.0))}
        )
        hands.step()
    hands.touch({})
    tablet.get_by_role("button", name="Heat gun", exact=True).tap()
    tablet.get_by_role("button", name="Near", exact=True).tap()
    hands.touch({0: hands.at(lie, replace(wet, x=40.0, y=200.0))})
    for _ in range(60):
        hands.step()
        if any(slip["rule"] == "burn" for slip in hands.frame["events"]):
            break
    hands.touch({})
    slips = [slip["rule"] for slip in hands.frame["events"]]
    assert slips[0] == "haze"
    assert "burn" in slips
    expect(tablet.locator("[data-answer]")).to_have_text("The film burnt.")
    tablet.get_by_role("button", name="Look", exact=True).tap()
    hands.step()
    tablet.clock.resume()
    tablet.get_by_role("button", name="What it was worth").tap()
    expect(tablet.locator("[data-answer]")).to_contain_text("Not passed,")
    lost = tablet.get_by_role("region", name="Where it was lost").get_by_role("button")
    expect(lost.first).to_contain_text("Too hot: the film turned hazy.")
    with tablet.expect_response(re.compile(r"/at\?step=\d+")):
        lost.first.tap()
    slider = tablet.get_by_role("slider", name="Time of the run")
    at = int(slider.input_value())
    assert 0 < at < hands.frame["step"]
    with tablet.expect_response(re.compile(rf"/at\?step={at - 1}$")):
        slider.press("ArrowLeft")
    tablet.get_by_label("Where the film has been hot").check()
    tablet.get_by_label("Seen from inside").check()
    assert scan(tablet) == []
    tablet.get_by_role("button", name="Show me how").tap()
    expect(tablet.locator("[data-answer]")).to_contain_text("The robot: passed,", timeout=120_000)


def test_two_fingers_heat_and_press_at_once(tablet: Page) -> None:
    lesson = data_files.lessons()[0]
    board = board_for(lesson_setup(lesson, data_files.starting_values()))
    begin(tablet, lesson.title)
    hands = Hands(tablet)
    for words in ("Slip on the glass", "Lay film across the car", "Press the H"):
        tablet.get_by_role("button", name=words, exact=True).tap()
        hands.step()
    lie = board.lies[Unrolled.ACROSS]
    heat, press = Stroke(0, Do.GUN, 120.0, 150.0), Stroke(0, Do.CARD, 40.0, 30.0)
    sent: list[Any] = []
    tablet.on("request", lambda one: sent.append(one.post_data_json) if one.url.endswith("/strokes") else None)
    hands.touch({0: hands.at(lie, heat)})
    hands.step()
    hands.touch({0: hands.at(lie, heat), 1: hands.at(lie, press)})
    hands.step()
    hands.touch({})
    both = {row[1]: row for row in sent[-1]["strokes"]}
    assert set(both) == {"gun", "card"}
    assert abs(both["gun"][2] - 120) <= 3
    assert abs(both["card"][3] - 30) <= 3
    assert _grid(hands.frame["looks"])[_grid(hands.frame["looks"]) == 4].size > 0, (
        "what the second finger pressed is down"
    )


def test_a_run_by_keys_alone(page: Page) -> None:
    page.keyboard.press("p")
    expect(page.get_by_role("article")).to_have_count(6)
    page.get_by_role("article", name="A door, nearly flat").get_by_role("button").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("application")).to_be_visible()
    in_hand(page)
    hands = Hands(page)
    for words in ("Slip on the glass", "Lay film across the car", "Press the H"):
        page.get_by_role("button", name=words, exact=True).focus()
        page.keyboard.press("Enter")
        hands.step()
    page.get_by_role("application").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    page.keyboard.down("Enter")  # the card: it first presses the water out
    hands.step()
    page.keyboard.up("Enter")
    page.keyboard.down(" ")  # the gun
    for _ in range(7):
        hands.step()
    assert _grid(hands.frame["warmth"]).max() >= 1, "it softens under the key"
    page.keyboard.up(" ")
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.down("Enter")
    hands.step()
    page.keyboard.up("Enter")
    for words in ("Trim", "Look"):
        page.get_by_role("button", name=words, exact=True).focus()
        page.keyboard.press("Enter")
        hands.step()
    page.clock.resume()
    page.get_by_role("button", name="What it was worth").focus()
    page.keyboard.press("Enter")
    expect(page.locator("[data-answer]")).to_contain_text("Not passed,")


def test_the_run_stands_still_while_the_server_is_away_and_goes_on(page: Page) -> None:
    page.goto(page.url.split("/", 3)[0] + "//" + page.url.split("/", 3)[2] + "/practice")
    page.get_by_role("article", name="A door, nearly flat").get_by_role("button").click()
    expect(page.get_by_role("application")).to_be_visible()
    in_hand(page)
    hands = Hands(page)
    page.get_by_role("button", name="Slip on the glass").click()
    hands.step()
    page.route("**/strokes", lambda route: route.abort())
    page.clock.run_for(STEP_MS)
    expect(page.get_by_text("The run stands still and goes on by itself when it is back.")).to_be_visible()
    page.unroute("**/strokes")
    with page.expect_response(re.compile(r"/strokes$")) as told:
        page.clock.run_for(2_000)
    assert told.value.json()["taken"]
    expect(page.get_by_text("The run stands still and goes on")).to_be_hidden()


def test_the_lead_sets_todays_lesson_at_heat_and_says_who_may_shrink_alone(page: Page, tablet: Page) -> None:
    page.get_by_role("link", name="Jobs", exact=True).click()
    page.get_by_role("link", name=re.compile("Fenwick 4, all round")).first.click()
    page.locator('[data-window="Driver front"]').click()
    page.keyboard.press("4")
    page.get_by_role("button", name="Today’s lesson").click()
    expect(page.get_by_text("Driver front is today’s lesson on the practice glass.")).to_be_visible()
    page.get_by_role("link", name="Practice", exact=True).click()
    row = page.get_by_role("table", name="Who may shrink what alone").get_by_role("row", name=re.compile("Nils"))
    row.get_by_role("checkbox").first.click()
    expect(row.get_by_role("checkbox").first).to_be_checked()
    tablet.reload()
    today = tablet.get_by_role("region", name="Today’s lesson")
    expect(today).to_contain_text("Driver front")
    today.get_by_role("button", name="Practise this pane").tap()
    expect(tablet.get_by_role("application")).to_be_visible()
    assert scan(tablet) == [], "nothing on the run keeps anybody from it"

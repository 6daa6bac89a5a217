"""Look, Handover and what is kept, on screens: hunt, redo, re-cut, re-look, hand over; quote; a call after years; recall."""

from __future__ import annotations

import re
import shutil
import sqlite3
from collections.abc import Iterator
from datetime import date, datetime, timedelta, timezone
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from playwright.sync_api import Browser, Page, expect

from elumbra.cli import DATABASE
from tests.catalogue.pictures import picture_bytes
from tests.e2e.server import running_demo
from tests.e2e.test_bay_journeys import TABLET, job_at, touch
from tests.e2e.test_journeys import answer

SEDAN, HATCH = "Fenwick 4, all round", "Tansy hatch, rears 20"


@pytest.fixture(scope="module")
def folder(tmp_path_factory: pytest.TempPathFactory, demo_file: Path) -> Path:
    made: Path = tmp_path_factory.mktemp("kept")
    shutil.copy(demo_file, made / DATABASE)
    return made


@pytest.fixture(scope="module")
def address(folder: Path) -> Iterator[str]:
    with running_demo(folder) as running:
        yield running


def send(page: Page, method: str, path: str, body: Any) -> Any:
    origin = "/".join(page.url.split("/")[:3])
    response = page.request.fetch(
        f"{origin}/api{path}", method=method, data=body, headers={"X-Write-Id": uuid4().hex}
    )  # fmt: skip
    assert response.ok, response.text()
    return response.json()


def get(page: Page, path: str) -> Any:
    origin = "/".join(page.url.split("/")[:3])
    response = page.request.get(f"{origin}/api{path}")
    assert response.ok, response.text()
    return response.json()


def cut(page: Page, job: str) -> None:
    """Cut what the plan of the job says, as Cut does."""
    task = send(page, "POST", f"/jobs/{job}/layout", None)
    for _ in range(600):
        found = get(page, f"/tasks/{task['id']}")
        if found["status"] == "done":
            break
        page.wait_for_timeout(100)
    send(page, "POST", f"/jobs/{job}/cut", {"input_hash": found["input_hash"]})


def ticked(page: Page, job: str) -> None:
    """All that is left of the car's work."""
    events = []
    for run in get(page, f"/jobs/{job}/bay")["runs"]:
        keys = [step["key"] for step in run["steps"] if step["done"] is None]
        if keys and not run["strip"]:
            events.append(
                {"id": uuid4().hex, "kind": "tick", "steps": keys, "film": run["film"], "window_id": run["window_id"],
                 "happened_at": datetime.now(timezone.utc).isoformat(),  # noqa: UP017
                 **({} if run["window_id"] else {"run": run["name"]})}
            )  # fmt: skip
    send(page, "POST", f"/jobs/{job}/bay/events",
         {"sent_at": datetime.now(timezone.utc).isoformat(), "events": events})  # noqa: UP017  # fmt: skip


def signed(page: Page) -> None:
    """A stroke in the box, as a finger draws it."""
    box = page.get_by_role("img", name="Signature")
    box.scroll_into_view_if_needed()
    place = box.bounding_box()
    assert place
    page.mouse.move(place["x"] + 20, place["y"] + 60)
    page.mouse.down()
    page.mouse.move(place["x"] + 160, place["y"] + 30, steps=6)
    page.mouse.up()


def window_at(page: Page, job: str, station: str, label: str) -> str:
    found = next(one for one in get(page, f"/jobs/{job}")["windows"] if one["label"] == label)
    origin = "/".join(page.url.split("/")[:3])
    page.goto(f"{origin}/jobs/{job}/{station}?w={found['id']}")
    return str(found["id"])


def test_a_quote_is_accepted_and_two_later_wishes_are_priced(page: Page) -> None:
    job = job_at(page, HATCH, "quote")
    expect(answer(page)).to_contain_text("not offered yet")
    page.get_by_label("A line of your own").fill("Courtesy for waiting")
    page.get_by_label("$, minus takes off").fill("-15")
    page.get_by_role("button", name="Add").click()
    page.get_by_role("button", name="Offer this").click()
    expect(answer(page)).to_contain_text("offered, not accepted yet")
    signed(page)
    page.get_by_role("button", name="Accepted").click()
    expect(answer(page)).to_contain_text("accepted by M. Okafor")
    for number, label in ((2, "Driver rear"), (3, "Passenger rear")):
        window = next(one for one in get(page, f"/jobs/{job}")["windows"] if one["label"] == label)
        send(page, "PATCH", f"/windows/{window['id']}", {"version": window["version"], "film_id": "dusk35"})
        page.reload()
        expect(answer(page)).to_contain_text("accepted; a change to")
        expect(
            page.get_by_text(f"Δ {label}: Dusk 20, whole pane became {label}: Dusk 35", exact=False).first
        ).to_be_visible()
        held = next(one for one in get(page, f"/jobs/{job}")["windows"] if one["label"] == label)
        assert held["held"].startswith("Not as in the accepted quote")
        page.get_by_role("button", name="Offer this").click()
        page.get_by_role("button", name="Said so").click()
        expect(page.locator(f"[data-version='{number}']")).to_contain_text("accepted by M. Okafor")
        expect(answer(page)).to_contain_text("accepted by M. Okafor")
    with page.expect_popup() as popup:
        page.locator("[data-version='3']").get_by_role("link", name="Print").click()
    assert popup.value.url.endswith("/paper.pdf")


def test_hunt_redo_re_cut_re_look_and_hand_over(page: Page, folder: Path, tmp_path: Path) -> None:
    send(page, "PUT", "/letterhead", {"name": "Larch Street Film", "address": "12 Larch Street", "version": 0})
    job = job_at(page, SEDAN, "look")
    send(page, "POST", f"/jobs/{job}/quotes", {})
    (version,) = get(page, f"/jobs/{job}/quote")["versions"]
    send(
        page,
        "POST",
        f"/quotes/{version['id']}/accept",
        {"version": version["version"], "name": "R. Alder", "how": "paper"},
    )
    cut(page, job)
    ticked(page, job)
    window_at(page, job, "look", "Driver front")
    expect(answer(page)).to_have_text("Not looked over yet")
    # The hunt leads outside first, then inside, where the pane is mirrored.
    expect(page.get_by_role("group", name="Driver front, seen from outside")).to_be_visible()
    for _ in range(3):
        page.get_by_role("button", name="Next ▶").click()
    expect(page.get_by_role("group", name="Driver front, seen from inside, mirrored")).to_be_visible()
    page.get_by_role("radio", name="crease").click()
    pane = page.locator("[data-put-here]")
    box = pane.bounding_box()
    assert box
    pane.click(position={"x": box["width"] * 0.5, "y": box["height"] * 0.6})
    expect(answer(page)).to_have_text("Redo: crease")
    panel = page.locator("[data-flaw-panel='crease']")
    expect(panel.locator("[data-decision]")).to_have_text("Redo")
    expect(panel.get_by_text("A redo costs $", exact=False)).to_contain_text("of film and")
    # Where it is does not hang on the side it was seen from.
    (flaw,) = next(one for one in get(page, f"/jobs/{job}/look")["windows"] if one["label"] == "Driver front")["flaws"]
    page.get_by_role("button", name="Outside", exact=True).click()
    mark = page.locator("[data-flaw='crease']").bounding_box()
    whole = pane.bounding_box()
    assert mark
    assert whole
    assert (mark["x"] + mark["width"] / 2 - whole["x"]) / whole["width"] == pytest.approx(flaw["x"], abs=0.03)
    # A photo with the place ringed.
    photo = tmp_path / "crease.png"
    photo.write_bytes(picture_bytes((800, 600)))
    page.get_by_label("Photo of the flaw").set_input_files(photo)
    page.locator("[data-photo-place]").click(position={"x": 60, "y": 60})
    page.get_by_role("button", name="Keep it with the ring").click()
    expect(panel.get_by_role("img", name=re.compile("crease"))).to_be_visible()
    panel.get_by_role("button", name=re.compile(r"^Redo")).click()
    expect(panel.locator("[data-decision]")).to_have_text("Redo: being cut again")
    page.goto(page.url.split("/jobs/")[0] + f"/jobs/{job}/handover")
    expect(page.get_by_text("Driver front: crease, sharp white line must be redone")).to_be_visible()
    expect(page.get_by_role("button", name="Signed: the car goes")).to_be_disabled()
    # Cut once more, through the bay, looked at again.
    cut(page, job)
    ticked(page, job)
    window_at(page, job, "look", "Driver front")
    page.locator("[data-flaw='crease']").click()
    page.get_by_role("button", name="Looked again: gone").click()
    expect(answer(page)).to_have_text("Not looked over yet")
    for window in get(page, f"/jobs/{job}")["windows"]:
        if window["film_id"]:
            body = {
                "read_percent": 33 if "front" in window["label"] else 14,
                "lot": window["cut"]["lot"],
                "film_id": window["film_id"],
            }
            send(page, "POST", f"/windows/{window['id']}/installed", body)
    page.goto(page.url.split("?")[0] + "?w=all")
    rows = page.locator("[data-look-row]")
    expect(rows).to_have_count(5)
    for i in range(5):
        rows.nth(i).get_by_role("button", name="Clean", exact=True).click()
        rows.nth(i).get_by_role("button", name="Clean, at the end").click()
        expect(rows.nth(i)).to_contain_text("Clean · ")
    expect(answer(page)).to_contain_text("the car may go")
    page.get_by_role("link", name="To Handover").click()
    page.get_by_role("textbox", name="Telephone").fill("(555) 014-2")
    page.get_by_role("textbox", name="Plate").fill("QX-77 K")
    page.get_by_role("button", name="Keep").click()
    for paper in ("care", "certificate", "warranty", "invoice", "record"):
        expect(page.locator(f"[data-paper='{paper}']")).to_contain_text("✓")
    with page.expect_download() as download:
        page.get_by_role("link", name="File for the customer").click()
    text = download.value.path().read_text(encoding="utf-8")
    assert "Certificate of readings" in text
    assert "data:image/jpeg;base64," in text
    signed(page)
    page.get_by_role("button", name="Signed: the car goes").click()
    expect(answer(page)).to_contain_text("Handed over to R. Alder")


def test_a_call_three_years_later_is_answered_in_a_minute(page: Page, folder: Path) -> None:
    """It stands on the journey before: that car is now three years old."""
    day = (date.today() - timedelta(days=3 * 365)).isoformat()  # noqa: DTZ011  the shop's own day
    with sqlite3.connect(folder / DATABASE, timeout=30) as database:
        database.execute("UPDATE job SET handed_over_on = ? WHERE handed_over_on <> ''", (day,))
    page.keyboard.press("c")
    page.get_by_label("Find the car").fill("qx77k")
    page.get_by_role("link", name="Driver front").click()
    expect(answer(page)).to_contain_text("what does the caller see?")
    expect(page.get_by_text("Signed at hand-over by R. Alder", exact=False)).to_be_visible()
    expect(page.get_by_text("Seen: crease", exact=False)).to_be_visible()
    page.get_by_label("The caller sees").click()
    page.get_by_role("option", name="purple, bubbled, dusty").click()
    expect(answer(page)).to_contain_text("under the film’s warranty")
    page.get_by_label("What the caller said").fill("The front window went purple.")
    page.get_by_role("button", name="Keep the call").click()
    expect(page.get_by_text("Called about: purple, bubbled, dusty", exact=False)).to_be_visible()
    page.keyboard.press("Escape")
    page.goto(page.url.split("/calls")[0] + "/calls")
    expect(page.get_by_role("region", name="Open calls, 1")).to_contain_text("Redo, the film’s warranty")
    page.get_by_role("button", name="Settled").click()
    expect(page.get_by_text("None is open.")).to_be_visible()


def test_a_lot_is_recalled(page: Page) -> None:
    origin = "/".join(page.url.split("/")[:3])
    page.goto(f"{origin}/recall")
    expect(answer(page)).to_have_text("Which lot?")
    job = job_at(page, SEDAN, "look")
    lot = next(one["cut"]["lot"] for one in get(page, f"/jobs/{job}")["windows"] if one["label"] == "Driver rear")
    page.goto(f"{origin}/recall")
    page.get_by_label("Film and lot").click()
    page.get_by_role("option", name=f"Harbor 15, {lot}").click()
    expect(answer(page)).to_contain_text(f"Lot {lot}: on 3 windows of 1 car")
    expect(page.get_by_role("table", name="Windows of the lot")).to_contain_text("(555) 014-2")
    with page.expect_download() as download:
        page.get_by_role("link", name="CSV").click()
    assert "QX-77 K" in download.value.path().read_text(encoding="utf-8-sig")


def test_the_ledger_says_something_in_every_part(page: Page) -> None:
    origin = "/".join(page.url.split("/")[:3])
    page.goto(f"{origin}/ledger")
    expect(answer(page)).to_contain_text("of the film cut was waste; 1 piece cut again")
    for part in ("Waste", "Yield", "Redo", "Readings", "Money", "Film"):
        page.get_by_role("group", name="Part of the ledger").get_by_role("button", name=part).click()
        expect(page.locator("svg").filter(has=page.locator("rect, circle, path")).first).to_be_visible()
        assert page.get_by_role("row").count() > 1, part
    page.get_by_role("group", name="Part of the ledger").get_by_role("button", name="Redo").click()
    expect(page.get_by_role("table", name="Pieces cut again")).to_contain_text("crease, sharp white line")
    page.get_by_role("button", name="by lot").click()
    page.goto(f"{origin}/ledger?since=2001-01-01&until=2001-02-01")
    expect(page.get_by_text("Nothing of this happened in these weeks.", exact=False)).to_be_visible()


def test_a_customer_is_merged_and_erased(page: Page) -> None:
    origin = "/".join(page.url.split("/")[:3])
    page.goto(f"{origin}/customers")
    page.get_by_label("A new customer").fill("Robin Alder")
    page.get_by_role("button", name="Put on file").click()
    expect(answer(page)).to_have_text("Robin Alder")
    page.get_by_label("Find the other").fill("R. Alder")
    page.get_by_label("Merge into").click()
    page.get_by_role("option", name=re.compile("^R. Alder")).click()
    page.get_by_role("button", name="Merge", exact=True).click()
    expect(answer(page)).to_have_text("R. Alder")
    expect(page.get_by_text("QX-77 K")).to_be_visible()
    page.get_by_label("Type the name to erase").fill("r. alder")
    page.get_by_role("button", name="Erase", exact=True).click()
    expect(answer(page)).to_have_text("erased by request")
    page.keyboard.press("/")
    page.get_by_role("combobox").fill("qx77k")
    expect(page.get_by_text("Nothing on file has that in its name.")).to_be_visible()


def test_the_shop_writes_prices_and_its_standard(page: Page) -> None:
    origin = "/".join(page.url.split("/")[:3])
    page.goto(f"{origin}/shop/prices")
    page.get_by_label("sun strip, $").fill("99")
    page.get_by_role("button", name="Keep the prices").click()
    expect(answer(page)).to_have_text("The shop’s price list")
    page.goto(f"{origin}/shop/standard")
    page.get_by_role("group", name="Counted per").get_by_role("button", name="car").click()
    page.get_by_role("button", name="Keep the standard").click()
    expect(answer(page)).to_have_text("The shop’s written standard")
    page.get_by_role("button", name="Back to ours").click()
    expect(answer(page)).to_contain_text("Our standard")


def test_on_a_tablet_a_flaw_is_one_touch_and_targets_are_large(browser: Browser, address: str) -> None:
    page = touch(browser, address, TABLET)
    page.get_by_role("button", name="Bay light").tap()
    job = job_at(page, "Morrow SUV, fronts to match", "look")
    window_at(page, job, "look", "Driver front")
    page.get_by_role("radio", name="dots").tap()
    page.locator("[data-put-here]").tap()
    panel = page.locator("[data-flaw-panel='dots']")
    expect(panel).to_be_visible()
    for name in ("Looked again: gone", "Still there", "Touch up"):
        size = panel.get_by_role("button", name=name).bounding_box()
        assert size
        assert size["height"] >= 48, name
    said = answer(page).evaluate("node => parseFloat(getComputedStyle(node).fontSize)")
    others = page.locator("main p, main button, [data-decision]").evaluate_all(
        "nodes => nodes.filter(n => !n.matches('[data-answer]')).map(n => parseFloat(getComputedStyle(n).fontSize))"
    )
    assert said >= 1.5 * max(others, default=0)
    page.context.close()

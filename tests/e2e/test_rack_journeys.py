"""The rack by hand: a roll received and found by its label, held, cut, counted; patterns sent to the cutter."""

from __future__ import annotations

import re
import socket
import struct
import zlib
from pathlib import Path

import numpy as np
from playwright.sync_api import Page, expect
from reportlab.graphics.barcode.qrencoder import QRCode, QRErrorCorrectLevel

from tests.e2e.test_journeys import answer, open_job

DEVICES = True
CUTTER_PORT = 8652


def picture_of(code: str, path: Path) -> Path:
    """A label's square as a camera may see it: a PNG with a margin, grey on white, a little noise."""
    square = QRCode(None, QRErrorCorrectLevel.M)
    square.addData(code)
    square.make()
    count = square.getModuleCount()
    cells = np.array([[square.isDark(row, column) for column in range(count)] for row in range(count)])
    pixels = np.kron(np.pad(cells, 6), np.ones((7, 7))) > 0
    grey = np.where(pixels, 60, 225) + np.random.default_rng(4).integers(-15, 15, pixels.shape)
    rows = b"".join(b"\0" + bytes(row.astype(np.uint8)) for row in grey)

    def chunk(kind: bytes, content: bytes) -> bytes:
        return struct.pack(">I", len(content)) + kind + content + struct.pack(">I", zlib.crc32(kind + content))

    height, width = grey.shape
    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    path.write_bytes(
        b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", zlib.compress(rows)) + chunk(b"IEND", b"")
    )
    return path


def test_a_roll_is_received_found_by_a_picture_of_its_label_corrected_and_thrown_away(
    page: Page, tmp_path: Path
) -> None:
    page.get_by_role("link", name="Rack", exact=True).click()
    page.get_by_role("button", name="Put film on the rack").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name on the rack").fill("Journey roll")
    dialog.get_by_label("Width", exact=True).fill("36")
    dialog.get_by_label("Price at full length, $").fill("240")
    dialog.get_by_label("Lot", exact=True).fill("J-1")
    dialog.get_by_label("Place on the rack").fill("B7")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    page.get_by_role("link", name="Journey roll").click()
    expect(answer(page)).to_have_text("Journey roll: 100 ft free")
    found = re.search(r"[A-Z2-9]{4}-\d+-[0-9A-Z*]", page.locator("main").inner_text())
    assert found
    page.keyboard.press("Escape")
    page.keyboard.press("/")
    page.get_by_role("button", name="Scan a label").click()
    scan = page.get_by_role("dialog", name="Find by the label’s code")
    expect(scan.get_by_text("No camera is open")).to_be_visible()
    scan.get_by_label("Code", exact=True).fill("ZZZZ-3-1")
    scan.get_by_role("button", name="Find", exact=True).click()
    expect(scan.get_by_role("alert")).to_contain_text("misread")
    scan.get_by_label("Picture of a label").set_input_files(picture_of(found[0], tmp_path / "label.png"))
    expect(scan).to_be_hidden()
    expect(answer(page)).to_have_text("Journey roll: 100 ft free")
    page.get_by_role("button", name="Change or correct").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Length left").fill("90 ft")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog.get_by_label("Why it is corrected")).to_have_attribute("aria-invalid", "true")
    dialog.get_by_label("Why it is corrected").fill("counted by hand")
    dialog.get_by_role("button", name="Save").click()
    expect(dialog).to_be_hidden()
    expect(answer(page)).to_have_text("Journey roll: 90 ft free")
    expect(page.get_by_text("counted by hand")).to_be_visible()
    page.get_by_role("button", name="Throw away").click()
    page.get_by_role("dialog").get_by_label("Why").fill("crushed core")
    page.get_by_role("button", name="Book it as waste").click()
    expect(page.get_by_text("Journey roll is booked as waste.")).to_be_visible()


def test_film_is_held_and_its_roll_recounted(page: Page, address: str) -> None:
    open_job(page, "Fenwick 4, all round", "Cut")
    page.get_by_role("button", name="Hold this film").click()
    expect(page.get_by_text("Held for this job")).to_be_visible()
    page.get_by_role("button", name="Release it").click()
    expect(page.get_by_text("Held for this job")).to_be_hidden()
    page.goto(f"{address}/rack")
    page.get_by_role("link", name="D20-40", exact=True).click()
    page.get_by_label("Round the roll").fill("12 1/8")
    page.get_by_label("Round the bare core").fill("10 5/8")
    expect(page.get_by_text("Both may be true: nothing to correct.")).to_be_visible()
    page.get_by_label("Round the roll").fill("12 3/4")
    expect(page.get_by_text("That cannot both be")).to_be_visible()
    expect(answer(page)).to_contain_text("free")


def test_patterns_are_sent_to_the_cutter_through_a_jam(page: Page) -> None:
    open_job(page, "Tansy hatch", "Cut")
    page.get_by_role("button", name="Whole car").click()
    page.get_by_label("Way of cutting").click()
    page.get_by_role("option", name="Plotter pattern").click()
    send = page.get_by_role("button", name=re.compile("^Send to cutter")).first
    send.wait_for(timeout=90_000)
    expect(page.locator("[data-cut-line]").first).to_be_visible()
    with socket.create_connection(("127.0.0.1", CUTTER_PORT), timeout=10) as line, line.makefile("rwb") as file:
        file.readline()
        file.write(b"SET JAM 2\n")
        file.flush()
        assert file.readline() == b"OK\n"
    send.click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Send", exact=True).click()
    expect(dialog.get_by_text("Clear the film, then go on")).to_be_visible(timeout=60_000)
    dialog.get_by_role("button", name="Go on").click()
    expect(dialog.get_by_text(re.compile(r"^(\d+) of \1 cut$"))).to_be_visible(timeout=90_000)
    expect(dialog.get_by_text("simulated-cutter SIM-0002: done")).to_be_visible()

"""The shop's devices: https by the shop's own authority, enrolment, offline through a killed server and a reload."""

from __future__ import annotations

import os
import re
import shutil
import socket
import ssl
import subprocess
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path

import pytest
from playwright.sync_api import BrowserContext, Page, Playwright, expect

from elumbra.cli import DATABASE
from elumbra.storage.database import Database
from elumbra.storage.ledger import events_of
from elumbra.storage.store import jobs
from tests.e2e.server import CHROMIUM, CHROMIUM_FLAGS, Server, free_port
from tests.e2e.test_bay_journeys import SEDAN

NAME = "shop-bench.local"
TICKS = 30


@dataclass
class LanShop:
    """A shop that lets its devices in, started and killed at will on the same ports."""

    folder: Path
    own: int = field(default_factory=free_port)
    https: int = field(default_factory=free_port)
    plain: int = field(default_factory=free_port)
    server: Server | None = None

    @property
    def address(self) -> str:
        """As the shop's devices call it."""
        return f"https://{NAME}:{self.https}"

    def start(self) -> None:
        """Serve, and wait until it answers."""
        self.server = Server(
            "serve", "--lan", "--port", self.own, "--https-port", self.https, "--plain-port", self.plain,
            "--name", NAME, "--data", self.folder,
        )  # fmt: skip
        self.server.answering(self.own)

    def kill(self) -> None:
        """End it as a power cut does."""
        if self.server is not None:
            self.server.kill()


@pytest.fixture
def shop(tmp_path: Path, demo_file: Path) -> Iterator[LanShop]:
    folder = tmp_path / "shop"
    folder.mkdir()
    shutil.copy(demo_file, folder / DATABASE)
    made = LanShop(folder)
    made.start()
    yield made
    made.kill()


def trusting_home(folder: Path, authority: Path) -> Path:
    """A home folder whose browser trusts the shop's authority, and nothing else of ours."""
    store = folder / ".pki" / "nssdb"
    store.mkdir(parents=True)
    for command in (["-N", "--empty-password"], ["-A", "-t", "C,,", "-n", "shop", "-i", str(authority)]):
        subprocess.run(["/usr/bin/certutil", "-d", f"sql:{store}", *command], check=True, capture_output=True)
    return folder


@contextmanager
def device(playwright: Playwright, home: Path, **over: object) -> Iterator[BrowserContext]:
    """A tablet: no certificate error is ignored; names lead to this machine."""
    context = playwright.chromium.launch_persistent_context(
        str(home / "profile"), executable_path=CHROMIUM, env=os.environ | {"HOME": str(home)},
        args=[*CHROMIUM_FLAGS, "--host-resolver-rules=MAP *.local 127.0.0.1"],
        viewport={"width": 1024, "height": 768}, has_touch=True, ignore_https_errors=False, **over,  # type: ignore[arg-type]
    )  # fmt: skip
    yield context
    context.close()


def enrolled(shop: LanShop, context: BrowserContext) -> Page:
    """The owner shows a code at the bench, the device takes it, Tobi signs in with his password."""
    bench = context.new_page()
    bench.goto(f"http://127.0.0.1:{shop.own}/people")
    bench.get_by_role("button", name="Ruth Amsel").click()
    bench.get_by_role("button", name="As the demo says").click()
    bench.get_by_role("button", name="Enrol a device").click()
    address = bench.get_by_text(re.compile(rf"https://{NAME}.*code=")).inner_text()
    expect(bench.get_by_role("img", name=re.compile("^Code "))).to_be_visible()
    bench.close()
    page = context.new_page()
    page.goto(address)
    page.get_by_label("Name of this device").fill("Tablet, bay 1")
    page.get_by_role("button", name="Enrol this device").click()
    page.get_by_role("button", name="Tobi Lund").click()
    page.get_by_label("Password").fill("demo-tobi")
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_text("Somebody sits here already")).to_be_visible()
    page.goto(shop.address)
    expect(page.get_by_role("heading", name="In the bays now")).to_be_visible()
    return page


def test_the_plain_page_offers_the_authority_and_its_fingerprint_and_nothing_else(shop: LanShop) -> None:
    from urllib.error import HTTPError
    from urllib.request import Request, urlopen

    from elumbra.lan import open_authority

    own = open_authority(shop.folder, [NAME])

    def fetch(path: str, method: str = "GET") -> tuple[int, bytes]:
        try:
            with urlopen(Request(f"http://127.0.0.1:{shop.plain}{path}", method=method)) as answer:
                return answer.status, answer.read()
        except HTTPError as refused:
            with refused:
                return refused.code, refused.read()

    page = fetch("/")[1].decode()
    shown = re.findall(r"[0-9A-F]{2}", page.split("<code>")[1].split("</code>")[0])
    assert "".join(shown) == own.fingerprint.replace(":", "")
    assert fetch("/ca.pem") == (200, own.ca.read_bytes())
    for path, method, status in (("/api/board", "GET", 404), ("/ca.key", "GET", 404), ("/", "POST", 405)):
        assert fetch(path, method)[0] == status


def test_the_inner_door_refuses_everybody_and_a_silent_connection_delays_nobody(shop: LanShop) -> None:
    """Fifty connections that say nothing, half of them not even hello, and the next one is answered at once."""
    context = ssl.create_default_context(cafile=str(shop.folder / "authority" / "ca.pem"))
    silent = [socket.create_connection(("127.0.0.1", shop.https)) for _ in range(25)]
    spoken = [
        context.wrap_socket(socket.create_connection(("127.0.0.1", shop.https)), server_hostname=NAME)
        for _ in range(25)
    ]
    began = time.monotonic()
    with context.wrap_socket(socket.create_connection(("127.0.0.1", shop.https)), server_hostname=NAME) as asked:
        asked.sendall(f"GET /api/health HTTP/1.1\r\nHost: {NAME}:{shop.https}\r\nConnection: close\r\n\r\n".encode())
        answer = asked.recv(65_536)
    assert b" 200 OK" in answer.split(b"\r\n")[0]
    assert time.monotonic() - began < 5
    stranger = context.wrap_socket(
        socket.create_connection(("127.0.0.1", shop.https)),
        server_hostname="bank.example",
        do_handshake_on_connect=False,
    )
    with stranger, pytest.raises(ssl.SSLCertVerificationError):
        stranger.do_handshake()
    for one in (*silent, *spoken):
        one.close()
    inner = _inner_port(shop)
    with socket.create_connection(("127.0.0.1", inner)) as sneaky:
        sneaky.sendall(f"GET /api/health HTTP/1.1\r\nHost: {NAME}\r\nConnection: close\r\n\r\n".encode())
        assert b" 403 " in sneaky.recv(4096).split(b"\r\n")[0]


def _inner_port(shop: LanShop) -> int:
    """The port that only the front may use: the one of this process that was never told."""
    assert shop.server is not None
    inodes = set()
    for link in Path(f"/proc/{shop.server.pid}/fd").iterdir():
        try:
            target = str(link.readlink())
        except OSError:
            continue
        if target.startswith("socket:["):
            inodes.add(target[8:-1])
    listening = set()
    for line in Path("/proc/net/tcp").read_text().splitlines()[1:]:
        parts = line.split()
        if parts[3] == "0A" and parts[9] in inodes:
            listening.add(int(parts[1].split(":")[1], 16))
    (inner,) = listening - {shop.own, shop.https, shop.plain}
    return inner


def test_a_browser_without_the_authority_and_a_wrong_name_are_refused(
    shop: LanShop, tmp_path: Path, playwright: Playwright
) -> None:
    with device(playwright, tmp_path / "stranger") as context:
        page = context.new_page()
        with pytest.raises(Exception, match="ERR_CERT_AUTHORITY_INVALID"):
            page.goto(shop.address)
    home = trusting_home(tmp_path / "home", shop.folder / "authority" / "ca.pem")
    with device(playwright, home) as context:
        page = context.new_page()
        page.goto(shop.address)
        expect(page.get_by_label("Your name")).to_be_visible()
        with pytest.raises(Exception, match="ERR_CERT_COMMON_NAME_INVALID"):
            page.goto(f"https://another.local:{shop.https}")


def test_thirty_ticks_made_while_the_server_is_dead_arrive_once(
    shop: LanShop, tmp_path: Path, playwright: Playwright
) -> None:
    """Enrolled over https, a run begun, server killed, ticks, a reload and a new tab offline, server back."""
    home = trusting_home(tmp_path / "home", shop.folder / "authority" / "ca.pem")
    with device(playwright, home) as context:
        page = enrolled(shop, context)
        page.wait_for_function("() => navigator.serviceWorker.ready.then(() => true)")
        page.goto(f"{shop.address}/jobs")
        page.get_by_role("link", name=re.compile(SEDAN)).first.click()
        page.wait_for_url(re.compile(r"/jobs/[0-9a-f]+"))
        job_id = re.search(r"/jobs/([0-9a-f]+)", page.url)[1]  # type: ignore[index]
        page.goto(f"{shop.address}/jobs/{job_id}/bay")
        page.get_by_role("button", name=re.compile("^Begin")).first.click()
        sentence = page.locator("[data-step]")
        expect(sentence).to_be_visible()
        page.get_by_role("button", name="Unfold into steps").click()
        page.reload()  # controlled by the service worker from here on
        expect(sentence).to_be_visible()
        kept = "() => new Promise((done) => { const open = indexedDB.open('keyval-store'); open.onsuccess = () => { const all = open.result.transaction('keyval').objectStore('keyval').get('elumbra.kept'); all.onsuccess = () => done(JSON.stringify(all.result ?? '').includes('\"bay\"')); }; open.onerror = () => done(false); })"
        page.wait_for_function(kept)
        shop.kill()
        done, reloaded, another = 0, False, False
        while done < TICKS:
            if done >= 10 and not reloaded:
                reloaded = True
                page.reload()
                expect(sentence).to_be_visible()
            if done >= 20 and not another:
                another = True
                other = context.new_page()
                other.goto(page.url)
                expect(other.locator("[data-step]")).to_be_visible()
                page.close()
                page, sentence = other, other.locator("[data-step]")
            _next(page)
            done = page.evaluate(
                f"JSON.parse(localStorage.getItem('elumbra.bay.{job_id}') || '[]').filter((one) => one.kind === 'tick').length"
            )
        made = page.evaluate(f"JSON.parse(localStorage.getItem('elumbra.bay.{job_id}')).map((one) => one.id)")
        assert len(set(made)) == len(made) >= TICKS
        assert reloaded
        assert another
        expect(page.get_by_text("not sent yet")).to_be_visible()
        shop.start()
        page.wait_for_function(
            f"() => JSON.parse(localStorage.getItem('elumbra.bay.{job_id}') || '[]').length === 0", timeout=60_000
        )
        expect(page.get_by_text("not sent yet")).to_be_hidden()
    shop.kill()
    database = Database(shop.folder / DATABASE)
    with database.session(write=False) as session:
        assert jobs(session).get(job_id)
        arrived = [one.id for one in events_of(session, job_id)]
    database.close()
    assert [arrived.count(one) for one in made] == [1] * len(made), "each arrived, and once"


_ONWARD = re.compile("^(Done, next|Ready now|Next|Next: .*|Close the car)$")


def _next(page: Page) -> None:
    """One touch onward: the card's own button, or whatever begins the next run."""
    onward = page.get_by_role("button", name=_ONWARD)
    expect(onward.first).to_be_enabled()
    onward.first.click()

"""The pond sheet on a phone in Chromium: without a connection, killed and opened again, on two phones, and as a file by itself."""

import io
import re
import threading
from collections.abc import Iterator
from pathlib import Path

import pypdfium2
import pytest
import uvicorn
from axe_playwright_python.sync_playwright import Axe
from PIL import Image
from playwright.sync_api import Browser, BrowserContext, Page, expect

from tests.web.test_pond import track_of
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web.app import create_app
from yarekeel.web.pond.sharing import create_pond_app
from yarekeel.web.serving import Server, free_socket
from yarekeel.web.settings import Settings

PHONE = {"viewport": {"width": 390, "height": 844}, "has_touch": True, "is_mobile": True}


class Bench:
    """The program over one database, started and ended as it likes, always at one address."""

    def __init__(self, database: Path) -> None:
        self.database, self.port = database, 0
        self.start()

    def start(self) -> None:
        listening = free_socket(self.port)
        self.port = listening.getsockname()[1]
        shelf = Shelf()
        app = create_app(Settings(self.database), Yard(open_database(self.database)), shelf)
        self.server = Server(uvicorn.Config(app, log_level="error", timeout_graceful_shutdown=1, ws="none"), shelf)
        self.thread = threading.Thread(target=self.server.run, kwargs={"sockets": [listening]}, daemon=True)
        self.thread.start()
        self.listening = listening

    def end(self) -> None:
        self.server.stop()
        self.thread.join(10)
        self.listening.close()

    @property
    def address(self) -> str:
        return f"http://127.0.0.1:{self.port}"


@pytest.fixture
def bench(demo_yard: Yard, tmp_path: Path) -> Iterator[Bench]:
    made = Bench(tmp_path / "yard.db")
    yield made
    made.end()


@pytest.fixture
def code(demo_yard: Yard, client) -> str:
    return client.post("/boats/2/B/pond", data={"place": "mill pond"}, follow_redirects=False).headers["location"].rsplit("/", 1)[1]


@pytest.fixture
def phone(browser: Browser) -> Iterator[BrowserContext]:
    context = browser.new_context(**PHONE)
    yield context
    context.close()


def opened(phone: BrowserContext, address: str, code: str) -> Page:
    page = phone.new_page()
    page.goto(f"{address}/pond/{code}")
    expect(page.locator(".pond-mode")).to_contain_text(re.compile("Opens without a connection|leave this tab open|one file"))
    return page


def noted(page: Page, kind: str, **typed: str) -> None:
    form = page.locator(f"form[data-code={kind}]")
    for name, value in typed.items():
        form.locator(f"[name={name}]").fill(value)
    before = page.locator(".pond-log li").count()
    form.get_by_role("button", name="Note it").click()
    expect(page.locator(".pond-log li")).to_have_count(before + 1)


def photographed(page: Page) -> None:
    out = io.BytesIO()
    Image.new("RGB", (900, 600), "#224466").save(out, "JPEG")
    page.locator("#photo-file").set_input_files({"name": "bow.jpg", "mimeType": "image/jpeg", "buffer": out.getvalue()})
    noted(page, "photo", caption="bow")


def kept(bench: Bench, code: str) -> list[str]:
    yard = Yard(open_database(bench.database))
    try:
        return sorted(e.code for e in yard.sheets.entries(yard.sheets.sheet(code)))
    finally:
        yard.close()


def test_offline_logged_killed_and_joined_once(bench: Bench, phone: BrowserContext, code: str):
    page = opened(phone, bench.address, code)
    phone.set_offline(True)
    page.reload()
    expect(page.locator("h1")).to_contain_text("Reedwarden")
    for k in range(3):
        noted(page, "run", throttle="100", distance="20 m", time=f"{10 + k} s")
    photographed(page)
    page.locator("#track-file").set_input_files({"name": "day.gpx", "mimeType": "application/gpx+xml", "buffer": track_of()})
    noted(page, "track")
    page.locator("#mass-mass").press_sequentially("860")
    expect(page.locator(".pond-state")).to_have_text("No connection: 5 not sent yet")
    page.close(run_before_unload=False)  # the tab is killed
    page = phone.new_page()
    page.goto(f"{bench.address}/pond/{code}")  # still without a connection
    expect(page.locator(".pond-log li")).to_have_count(5)
    assert page.locator("#mass-mass").input_value() == "860"  # typed, and not noted yet
    phone.set_offline(False)
    expect(page.locator(".pond-state")).to_have_text("All sent")
    page.reload()
    expect(page.locator(".pond-log li")).to_have_count(5)
    assert kept(bench, code) == ["photo", "run", "run", "run", "track"]


def test_the_program_is_gone_and_back_between(bench: Bench, phone: BrowserContext, code: str):
    page = opened(phone, bench.address, code)
    noted(page, "drafts", bow="44 mm", stern="50 mm")
    expect(page.locator(".pond-state")).to_have_text("All sent")
    bench.end()
    noted(page, "heel", heel="2")
    photographed(page)
    expect(page.locator(".pond-state")).to_have_text("No connection: 2 not sent yet")
    page.reload()
    expect(page.locator(".pond-log li")).to_have_count(3)  # nothing is lost by opening it again without the program
    bench.start()
    expect(page.locator(".pond-state")).to_have_text("All sent")
    expect(page.locator(".pond-log li")).to_have_count(3)
    assert kept(bench, code) == ["drafts", "heel", "photo"]


def test_two_phones_fill_in_one_sheet(bench: Bench, browser: Browser, phone: BrowserContext, code: str):
    other = browser.new_context(**PHONE)
    one, two = opened(phone, bench.address, code), opened(other, bench.address, code)
    phone.set_offline(True)
    other.set_offline(True)
    noted(one, "drafts", bow="44 mm", stern="50 mm")
    noted(two, "drafts", bow="45 mm", stern="51 mm")
    two.get_by_role("button", name="Wobbles, tips easily").click()
    expect(two.get_by_role("button", name="Wobbles, tips easily")).to_have_attribute("aria-pressed", "true")
    for context, page in ((phone, one), (other, two)):
        context.set_offline(False)
        expect(page.locator(".pond-state")).to_have_text("All sent")
    one.reload()
    expect(one.locator(".pond-log li")).to_have_count(3)
    assert kept(bench, code) == ["drafts", "drafts", "seen"]
    other.close()


def test_struck_out_with_a_reason_timed_and_with_no_fault_of_axe(bench: Bench, phone: BrowserContext, code: str):
    page = opened(phone, bench.address, code)
    noted(page, "drafts", bow="440 mm")
    page.get_by_role("button", name="Strike out").click()
    page.locator("#why").fill("a slip of the pen")
    page.get_by_role("button", name="Strike it out").click()
    expect(page.locator(".pond-log li")).to_contain_text("struck out: a slip of the pen")
    rolls = page.locator("form[data-code=rolls]")
    rolls.get_by_role("button", name="Start").click()
    rolls.get_by_role("button", name="Stop").click()
    expect(page.locator("#rolls-time")).to_have_value(re.compile(r"^\d\.\d s$"))
    page.locator("#run-distance").fill("20 m")
    run = page.locator("form[data-code=run]")
    run.get_by_role("button", name="Start").click()
    run.get_by_role("button", name="Lap").click()
    run.get_by_role("button", name="Stop").click()
    expect(page.locator(".pond-log li")).to_have_count(3)  # two laps noted by themselves
    noted(page, "mass", mass="heavy")
    expect(page.locator(".pond-log li").first).to_contain_text("was not understood")
    assert Axe().run(page).response["violations"] == []
    width = page.evaluate("document.documentElement.scrollWidth")
    assert width <= 390
    small = page.evaluate(
        "[...document.querySelectorAll('button, input, select, nav a')].filter(e => e.offsetHeight && e.offsetHeight < 44).length"
    )
    assert small == 0


def test_over_plain_http_it_lives_while_its_tab_does(demo_yard: Yard, browser: Browser, code: str):
    """A phone on the local network: the name is not a secure one, so nothing but the tab keeps the page."""
    listening = free_socket(0)
    port = listening.getsockname()[1]
    app = create_pond_app(demo_yard, frozenset({"pond.example"}), secure=False)
    server = Server(uvicorn.Config(app, log_level="error", timeout_graceful_shutdown=1, ws="none"), Shelf())
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    mapped = browser.browser_type.launch(
        executable_path="/usr/bin/chromium", args=["--no-sandbox", "--host-resolver-rules=MAP pond.example 127.0.0.1"]
    )
    context = mapped.new_context(**PHONE)
    page = context.new_page()
    secret = demo_yard.sheets.link(demo_yard.sheets.sheet(code))
    page.goto(f"http://pond.example:{port}/enter/{secret}")
    page.get_by_role("button", name="Open the sheet").click()
    expect(page.locator(".pond-mode")).to_contain_text("leave this tab open")
    assert page.evaluate("window.isSecureContext") is False
    context.set_offline(True)
    noted(page, "drafts", bow="44 mm", stern="50 mm")
    expect(page.locator(".pond-state")).to_have_text("No connection: 1 not sent yet")
    page.close()
    context.set_offline(False)
    page = context.new_page()
    page.goto(f"http://pond.example:{port}/pond/{code}")  # reached again: what was noted is still there
    expect(page.locator(".pond-state")).to_have_text("All sent")
    assert [e.code for e in demo_yard.sheets.entries(demo_yard.sheets.sheet(code))] == ["drafts"]
    mapped.close()
    server.stop()
    thread.join(5)


def test_the_one_file_sheet_from_a_file(bench: Bench, browser: Browser, phone: BrowserContext, code: str, tmp_path: Path):
    page = phone.new_page()
    page.goto(f"{bench.address}/boats/2/B/pond/{code}")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save the sheet").click()
    file = tmp_path / "sheet.html"
    saved.value.save_as(file)
    phone.set_offline(True)
    page.goto(file.as_uri())
    expect(page.locator(".pond-mode")).to_contain_text("one file")
    noted(page, "run", throttle="100", distance="20 m", time="12 s")
    photographed(page)
    page.close()
    page = phone.new_page()
    page.goto(file.as_uri())
    expect(page.locator(".pond-log li")).to_have_count(2)  # kept over a killed tab
    with page.expect_download() as readings:
        page.get_by_role("button", name="Save the readings as a file").click()
    back = tmp_path / "readings.json"
    readings.value.save_as(back)
    phone.set_offline(False)
    page.goto(f"{bench.address}/boats/2/B/pond/{code}")
    for _ in range(2):
        page.locator("#readings").set_input_files(back)
        page.get_by_role("button", name="Bring them in").click()
        expect(page.get_by_label("What came in").locator("tbody tr")).to_have_count(2)
    assert kept(bench, code) == ["photo", "run"]
    page.get_by_role("button", name="Make a trial of it").click()
    expect(page.get_by_label("Photos").locator("img")).to_have_count(1)


def test_the_paper_is_one_page_of_either_size(bench: Bench, page: Page):
    """Of a boat with a drive, on a windy day in a shallow pond: the most there is to write down."""
    page.request.post(f"{bench.address}/boats/2/B/pond", form={"place": "mill pond", "wind": "3 m/s", "depth": "60 cm"}, max_redirects=0)
    page.goto(f"{bench.address}/boats/2/B/trials")
    sheet = page.locator('a[href*="/pond/"]').last.get_attribute("href")
    page.goto(f"{bench.address}/pond/{sheet.rsplit('/', 1)[1]}/print")
    for paper in ("A4", "Letter"):
        with pypdfium2.PdfDocument(page.pdf(format=paper)) as pdf:
            assert len(pdf) == 1, paper

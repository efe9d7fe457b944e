"""Makes the pictures in docs/screenshots from a fresh demo: ``python -m tools.screenshots``."""

import tempfile
import threading
from pathlib import Path

import uvicorn
from playwright.sync_api import Browser, sync_playwright

from yarekeel.demo.story import load_demo
from yarekeel.instruments.shelf import Shelf
from yarekeel.store.engine import open_database
from yarekeel.store.yard import Yard
from yarekeel.web import waiting
from yarekeel.web.app import create_app
from yarekeel.web.serving import Server, free_socket
from yarekeel.web.settings import Settings

FOLDER = Path(__file__).parents[1] / "docs/screenshots"
VIEWS = {
    "yard": "/",
    "brief": "/boats/1/B/brief",
    "shape": "/boats/3/A/shape",
    "weights": "/boats/3/A/weights?item=0",
    "float": "/boats/2/B/float",
    "dive": "/boats/4/A/float?tab=dive&share=80",
    "stability": "/boats/5/A/stability?lean=24",
    "tests": "/boats/5/A/stability?tab=tests&test=test.gust",
    "drive": "/boats/4/A/drive?tab=match",
    "bench": "/boats/2/B/drive?tab=bench&test=0",
    "patterns": "/boats/3/A/patterns?every=500+mm&skin=9+mm&ring=60+mm&keelson=40+mm+x+25+mm&limber=12+mm",
    "underway": "/boats/6/A/underway?tab=run&run_at=55",
    "trials": "/boats/2/A/trials",
    "fixes": "/boats/2/A/fixes?also=fin",
    "compare": "/boats/2/compare?before=A&after=B",
}


def main() -> None:
    """Serve a demo in a temporary folder and take each view at 1280 x 800, the pond sheet on a phone."""
    waiting.PATIENCE = 60.0  # a picture is of the page, not of its being worked out
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as p:
        yard = Yard(open_database(Path(folder) / "yard.db"))
        load_demo(yard)
        listening, shelf = free_socket(0), Shelf()
        server = Server(
            uvicorn.Config(create_app(Settings(Path(folder)), yard, shelf), log_level="error", timeout_graceful_shutdown=1), shelf
        )
        thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
        thread.start()
        base = f"http://127.0.0.1:{listening.getsockname()[1]}"
        browser = p.chromium.launch(executable_path="/usr/bin/chromium", args=["--no-sandbox"])
        for name, path in VIEWS.items():
            page = browser.new_page(viewport={"width": 1280, "height": 800})
            page.goto(base + path)
            page.wait_for_function("() => !document.querySelector('[data-card]')", timeout=60_000)  # every card of the yard
            page.wait_for_function(
                "() => ![...document.querySelectorAll('progress')].some((p) => p.offsetParent)", timeout=60_000
            )  # and every fix
            page.wait_for_timeout(400)
            page.screenshot(path=FOLDER / f"{name}.png")
            page.close()
        _on_two_scales(browser, base)
        _size_map(browser, base)
        _cures(browser, base)
        _pond_sheet(browser, base)
        browser.close()
        server.stop()
        thread.join(5)


def _pond_sheet(browser: Browser, base: str) -> None:
    """The skimmer's sheet on a phone, something noted and no connection."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{base}/boats/2/B/trials")
    page.get_by_label("Where it will be tried").fill("mill pond")
    page.get_by_role("button", name="Open a pond sheet").click()
    page.get_by_role("link", name="Open it here").wait_for(timeout=60_000)
    code = page.url.rsplit("/", 1)[1]
    page.close()
    phone = browser.new_page(viewport={"width": 390, "height": 844}, device_scale_factor=1)
    phone.goto(f"{base}/pond/{code}")
    phone.get_by_text("Opens without a connection").wait_for(timeout=20_000)
    phone.context.set_offline(True)
    phone.locator("#mass-mass").fill("4.71 kg")
    phone.get_by_role("form", name="Weigh in").get_by_role("button", name="Note it").click()
    phone.get_by_text("1 not sent yet").wait_for()
    phone.get_by_role("link", name="Afloat").click()
    phone.wait_for_timeout(400)
    phone.screenshot(path=FOLDER / "pond-sheet.png")
    phone.close()


def _size_map(browser: Browser, base: str) -> None:
    """The pram tender's map, a point of it in hand."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{base}/boats/1/B/brief?tab=map")
    page.get_by_role("button", name="Draw the map").click()
    chart = page.locator(".map-place svg")
    chart.wait_for(timeout=120_000)
    box = chart.bounding_box()
    assert box is not None
    chart.click(position={"x": 0.45 * box["width"], "y": 0.4 * box["height"]})
    page.wait_for_timeout(600)
    page.locator(".switch-tabs").scroll_into_view_if_needed()
    page.screenshot(path=FOLDER / "sizing.png")
    page.close()


def _cures(browser: Browser, base: str) -> None:
    """Every cure of the canoe, solved."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{base}/boats/5/A/stability?tab=cures")
    page.get_by_text("Each is built, floated and put to the tests").wait_for(timeout=120_000)
    page.screenshot(path=FOLDER / "cures.png")
    page.close()


def _on_two_scales(browser: Browser, base: str) -> None:
    """The skimmer weighed at both ends."""
    page = browser.new_page(viewport={"width": 1280, "height": 800})
    page.goto(f"{base}/boats/2/B/weights?tab=weigh&way=two")
    for label, place in (("Aft support, from aft", "100 mm"), ("Fore support, from aft", "650 mm")):
        page.get_by_label(label).fill(place)
        page.get_by_label(label).press("Tab")
        page.wait_for_timeout(500)
    for end in ("aft", "fore"):
        page.get_by_label("Put on the scale").select_option(end)
        page.wait_for_timeout(3000)
        page.get_by_role("button", name=f"Take as {end} scale").click()
        page.wait_for_timeout(500)
    page.evaluate("scrollTo(0, 0)")
    page.screenshot(path=FOLDER / "weigh-in.png")
    page.close()


if __name__ == "__main__":
    main()

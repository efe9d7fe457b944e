"""Accessibility on every page, answers in order and quick while dragging, and a phone's width."""

import statistics
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tools.fuzz import WHOLE

pytestmark = pytest.mark.browser

PAGES = [
    "/",
    "/?delete=2",
    *[f"/boats/2/B/{s}" for s in ("brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes", "trials/new")],
    "/boats/1/A/float",
    *[f"/boats/3/A/shape?{q}" for q in ("tab=table", "tab=changes", "tab=place", "view=solid", "body=2")],
    "/boats/3/A/mesh",
    "/boats/2/compare?before=A&after=B",
    "/boats/2/A/fixes?show=work&also=fin",
    "/boats/6/C/history",
    "/boats/6/B/race?who=6:A&who=6:B",
    "/boats/2/A/binder",
    "/guide",
    "/boats/1/B/patterns",
    "/nowhere",
]


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_on_any_page(page: Page, served: str, scheme: str):
    axe = Axe()
    page.emulate_media(color_scheme=scheme)
    for path in PAGES if WHOLE else PAGES[1::7] if scheme == "dark" else PAGES[::4]:
        page.goto(served + path)
        page.wait_for_timeout(150)
        result = axe.run(page)
        found = [(v["id"], [n["html"][:160] for n in v["nodes"]][:3]) for v in result.response["violations"]]
        assert found == [], path


def test_a_drag_answers_in_order_and_at_once(page: Page, served: str):
    """Time from sending a look to its answer, at the median over a drag on the demo boat; and never two out of order."""
    page.add_init_script(
        """window.heard = []; const plain = window.fetch;
        window.fetch = async (url, what) => { const t = performance.now(); const a = await plain(url, what);
          if (String(url).endsWith('/look')) { const seq = JSON.parse(what.body).seq; const at = performance.now();
            window.heard.push([seq, at - t]); } return a; };"""
    )
    page.goto(f"{served}/boats/2/B/float")
    medians = []
    for way in (2, -2, 2):  # forward, back, forward: a stalled test machine gets another drag, not another bound
        page.evaluate("window.heard = []")
        block = page.locator('[data-side="starboard"][aria-label^="Battery"]').bounding_box()
        x, y = block["x"] + block["width"] / 2, block["y"] + block["height"] / 2
        page.mouse.move(x, y)
        page.mouse.down()
        for step in range(60):
            page.mouse.move(x + way * step, y - (step % 3))
            page.wait_for_timeout(20)
        page.mouse.up()
        expect(page.locator(".rung.is-current")).to_contain_text("bow down" if way > 0 else "bow up")
        expect(page.locator(".saved")).to_have_text("Saved")  # and the block stands where it will be taken up again
        heard = page.evaluate("window.heard")
        order = [seq for seq, _ in heard]
        assert len(order) > 15
        assert order == sorted(order)
        medians.append(statistics.median(ms for _, ms in heard))
        print(f"drag: {len(order)} answers, median {medians[-1]:.0f} ms")
        if medians[-1] < 100:
            break
    # The promise is 50 ms (see make bench); twice that is left for browser and server sharing this test's process.
    assert min(medians) < 100


def test_touching_a_thing_highlights_it_everywhere(page: Page, served: str):
    page.goto(f"{served}/boats/2/B/float")
    page.locator(".aboard li", has_text="Battery").hover()
    expect(page.locator('.weight.is-touched[data-side="starboard"]')).to_have_count(1)


PHONE_PAGES = [
    "/",
    *(f"/boats/2/B/float?tab={t}" for t in ("afloat", "sheer", "curves", "loads", "load", "water", "dive", "force")),
    *(f"/boats/5/A/stability?tab={t}" for t in ("curve", "tests", "floats", "sail", "criteria", "roll", "cures")),
    "/boats/2/B/brief",
    "/boats/2/B/brief?tab=size",
    "/boats/2/B/brief?tab=scales",
    "/boats/3/A/shape",
    "/boats/3/A/mesh",
    "/boats/2/A/trials",
    "/boats/2/B/trials/new",
]


@pytest.mark.parametrize("path", PHONE_PAGES if WHOLE else PHONE_PAGES[::4])
def test_a_phone_needs_no_sideways_scroll(page: Page, served: str, path: str):
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(served + path)
    assert page.evaluate("document.documentElement.scrollWidth") <= 390


def test_a_page_that_says_it_is_being_worked_out_is_there_in_the_end(page: Page, served: str, monkeypatch):
    """Nobody's patience at all: every page first says so, then comes whole and works as any other."""
    from yarekeel.web import waiting

    monkeypatch.setattr(waiting, "PATIENCE", 0.0)
    page.goto(f"{served}/boats/2/B/weights")
    assert page.url.endswith("/boats/2/B/weights")
    expect(page.locator("[data-ready]")).to_be_attached()
    page.get_by_label("Mass, Battery, 4 cells").fill("900")
    page.get_by_label("Mass, Hulls, printed").click()
    expect(page.locator(".rung.is-current")).to_contain_text("4\N{NO-BREAK SPACE}680")
    expect(page.locator(".saved")).to_have_text("Saved")


def test_a_file_that_takes_long_is_kept_by_the_browser_and_its_page_leads_back(page: Page, served: str, monkeypatch):
    from yarekeel.web import waiting

    page.goto(f"{served}/boats/2/B/shape")
    monkeypatch.setattr(waiting, "PATIENCE", 0.0)
    with page.expect_download() as got:
        page.get_by_role("link", name="STL").first.click()
    assert got.value.suggested_filename.endswith(".stl")
    assert Path(got.value.path()).stat().st_size > 80
    expect(page.get_by_role("heading", name="The file is ready")).to_be_visible()
    expect(page.get_by_role("button", name="Stop it")).to_be_hidden()
    page.get_by_role("button", name="Back").click()
    page.wait_for_url("**/boats/2/B/shape")
    expect(page.locator("[data-ready]")).to_be_attached()


def test_main_views_fit_a_small_laptop(page: Page, served: str):
    for stage in ("brief", "shape", "float", "stability", "drive", "underway"):
        page.goto(f"{served}/boats/2/B/{stage}")
        of = "[data-part=live] .card" if stage in ("drive", "underway") else ".two > :first-child .card"  # its fields go on below
        bottom = page.evaluate(f"Math.max(...[...document.querySelectorAll('{of}')].map(e => e.getBoundingClientRect().bottom))")
        assert bottom <= 800, stage


def test_what_is_typed_before_the_page_listens_is_done_once_it_does(page: Page, served: str):
    """On a busy machine scripts come after the words: a value typed meanwhile is saved, and a key pressed leads to its stage."""
    held = []
    page.route("**/alpine-csp.min.js", lambda route: held.append(route) if page.url.endswith("/weights") else route.continue_())
    Page.goto(page, f"{served}/boats/2/B/weights", wait_until="commit")  # its scripts are not there yet
    page.get_by_label("Mass, Battery, 4 cells").fill("900")
    page.keyboard.press("Tab")
    assert page.locator("main[data-ready]").count() == 0
    held.pop().continue_()
    expect(page.locator(".rung.is-current")).to_contain_text("4\N{NO-BREAK SPACE}680")
    expect(page.locator(".saved")).to_have_text("Saved")
    Page.goto(page, f"{served}/boats/2/B/weights", wait_until="commit")  # its scripts are not there yet
    expect(page.get_by_label("Mass, Battery, 4 cells")).to_have_value("900 g")
    page.evaluate("document.activeElement.blur()")
    page.keyboard.press("4")
    assert page.url.endswith("/weights")
    held.pop().continue_()
    page.wait_for_url("**/boats/2/B/float")

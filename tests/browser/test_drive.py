"""A builder's walk through Drive: a unit swept on the stand with the plug pulled in the middle, what is wrong said, a part fitted."""

import re
import time

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from yarekeel.instruments.shelf import Shelf
from yarekeel.instruments.thrust_stand import StandBench
from yarekeel.store.yard import Yard

pytestmark = pytest.mark.browser
FASTER = 12


@pytest.fixture
def stand(instruments: Shelf) -> StandBench:
    """The skimmer's stand, on which a minute passes in five seconds."""
    bench = StandBench(clock=lambda: time.monotonic() * FASTER)
    instruments._all["stand", 2] = bench
    return bench


def opened(page: Page, served: str, query: str) -> None:
    page.goto(f"{served}/boats/2/B/drive?{query}")
    page.wait_for_selector("main[data-ready]")


def added(page: Page) -> None:
    page.get_by_role("button", name="Add a test").click()
    expect(page.get_by_label("Test", exact=True)).to_have_value("Thrust test")


def points(yard: Yard):
    return yard.revision(2, "B").design.drive.tests[3].points


@pytest.mark.whole
def test_a_sweep_with_air_and_the_plug_pulled(page: Page, served: str, demo_yard: Yard, stand: StandBench):
    opened(page, served, "tab=bench")
    added(page)
    page.get_by_label("Arm to the scale").fill("6 in")
    page.get_by_label("Arm to the scale").press("Tab")
    expect(page.locator(".rig-picture")).to_contain_text("times the reading")
    page.get_by_label("Arm to the scale").fill("0")
    page.get_by_label("Arm to the scale").press("Tab")
    expect(page.locator(".field-error:not(:empty)").first).to_contain_text("without an arm there is no lever")
    page.get_by_label("Arm to the scale").fill("250 mm")
    page.get_by_label("Arm to the scale").press("Tab")
    page.get_by_label("What is wrong with the rig").select_option("air")
    page.get_by_role("button", name="Tare").click()
    page.get_by_role("button", name="Sweep up and down").click()
    expect(page.locator("#stand-said")).to_have_text(re.compile(r"reading ([5-9]|1\d) of 21"), timeout=20_000)
    page.get_by_role("button", name="Unplug it").click()
    expect(page.locator("#stand-said")).to_contain_text("what was taken is kept", timeout=10_000)
    held = len(points(demo_yard))
    assert held >= 4
    page.get_by_role("button", name="Plug it in").click()
    expect(page.locator("#stand-said")).to_contain_text("Sweep done: 21 readings taken", timeout=40_000)
    assert [round(100 * p.throttle) for p in points(demo_yard)] == [*range(0, 101, 10), *range(90, -1, -10)]
    assert all(p.practice for p in points(demo_yard))
    expect(page.get_by_label("What the bench says")).to_contain_text("It draws air from")
    expect(page.locator(".sheet-bench")).to_contain_text("draws air")
    assert Axe().run(page).response["violations"] == []
    page.reload()
    page.get_by_role("button", name="Thrust test").click()
    expect(page.locator(".sheet-bench tbody tr")).to_have_count(21)


@pytest.mark.whole
@pytest.mark.parametrize(("trouble", "said"), [("slip", "A joint slipped")])
def test_what_is_wrong_with_the_rig_is_said(page: Page, served: str, demo_yard: Yard, stand: StandBench, trouble: str, said: str):
    opened(page, served, "tab=bench")
    added(page)
    page.get_by_label("What is wrong with the rig").select_option(trouble)
    page.get_by_role("button", name="Sweep up and down").click()
    expect(page.locator("#stand-said")).to_contain_text("Sweep done", timeout=40_000)
    expect(page.get_by_label("What the bench says")).to_contain_text(said)


def test_stop_is_at_once_and_keeps_what_was_taken(page: Page, served: str, demo_yard: Yard, stand: StandBench):
    opened(page, served, "tab=bench")
    added(page)
    page.get_by_role("button", name="Sweep up and down").click()
    expect(page.locator("#stand-said")).to_have_text(re.compile(r"reading ([4-9]|1\d) of 21"), timeout=20_000)
    page.get_by_role("button", name="Stop").click()
    expect(page.locator("#stand-said")).to_contain_text("readings taken are kept")
    assert stand.stand.target == 0.0
    assert len(points(demo_yard)) >= 3


def test_a_part_is_fitted_and_weighs(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "tab=parts")
    page.get_by_label("Show").select_option("servo")
    page.get_by_role("button", name="Fit Servo, 9 g").click()
    expect(page.get_by_label("Fitted here")).to_contain_text("in Weights")
    assert any(w.name == "Servo, 9 g" for w in demo_yard.revision(2, "B").design.weights)
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Take Servo, 9 g off").click()
    expect(page.get_by_label("Fitted here")).to_have_count(0)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_label("Fitted here")).to_contain_text("Servo, 9 g")

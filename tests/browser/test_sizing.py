"""A builder's walk through sizing: an answer made so, the map pointed at and walked with the keys, a boat from a need."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.conftest import DEMO_BOATS
from yarekeel.stages.sizing import size_map
from yarekeel.store.yard import Yard

pytestmark = pytest.mark.browser


def sound(page: Page) -> None:
    assert Axe().run(page).response["violations"] == []


@pytest.mark.whole
def test_an_answer_is_made_so_and_a_map_is_walked(page: Page, served: str, demo_yard: Yard, monkeypatch):
    monkeypatch.setattr(size_map, "POINTS", 9)
    page.goto(f"{served}/boats/3/A/brief")
    page.wait_for_selector("main[data-ready]")
    page.get_by_role("button", name="Size it").click()
    page.get_by_label("What may change").select_option("bodies.0.scale.1")
    expect(page.locator('[data-part="side"]')).to_contain_text("punt: wider, times")
    sound(page)
    page.get_by_role("button", name="Make it so").click()
    expect(page.locator('[data-part="side"]')).to_contain_text("as small as it can be")
    assert demo_yard.revision(3, "A").design.bodies[0].scale[1] > 1.05
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()

    page.goto(f"{served}/boats/1/B/brief?tab=map")
    page.wait_for_selector("main[data-ready]")
    page.get_by_role("button", name="Draw the map").click()
    chart = page.locator(".map-place svg")
    expect(chart).to_be_visible()
    heading = page.locator('[data-part="live"] h2')
    before = heading.inner_text()
    page.locator(".map-place").focus()
    page.keyboard.press("ArrowRight")
    expect(heading).not_to_have_text(before)
    box = chart.bounding_box()
    assert box is not None
    chart.click(position={"x": 0.8 * box["width"], "y": 0.3 * box["height"]})
    expect(heading).to_contain_text(re.compile(r"beam 1.[4-9]"))
    expect(page.get_by_role("button", name="Make it so")).to_be_visible()
    sound(page)
    for tab in ("Three scales", "Off the shelf"):
        page.get_by_role("button", name=tab).click()
        expect(page.get_by_role("button", name=tab)).to_have_attribute("aria-pressed", "true")
        sound(page)


def test_a_boat_starts_from_a_need(page: Page, served: str, demo_yard: Yard):
    page.goto(served)
    page.get_by_role("link", name="Start from a need").click()
    page.get_by_label("It must carry").fill("some")
    page.get_by_role("button", name="Show three boats").click()
    expect(page.locator("#need-load-e")).to_contain_text("was not understood")
    expect(page.get_by_label("It must carry")).to_have_value("some")
    page.get_by_label("It must carry").fill("1.2 kg")
    page.get_by_label("Sits no deeper than").fill("60 mm")
    page.get_by_role("button", name="Show three boats").click()
    expect(page.get_by_role("button", name="Start with it")).to_have_count(3)
    sound(page)
    page.get_by_role("button", name="Start with it").nth(2).click()
    page.wait_for_url("**/brief")
    expect(page.locator(".band-name")).to_have_text("Round bilge")
    assert len(demo_yard.boats()) == DEMO_BOATS + 1

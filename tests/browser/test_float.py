"""A builder's walk through Float's tabs: flood a hull, dive the submarine, push the boat, float 500 of them."""

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from yarekeel.store.yard import Yard

pytestmark = pytest.mark.browser


def opened(page: Page, served: str, path: str) -> None:
    page.goto(f"{served}{path}")
    page.wait_for_selector("main[data-ready]")


def sound(page: Page) -> None:
    assert Axe().run(page).response["violations"] == []


def test_a_hull_is_flooded_and_the_list_of_spaces_changed(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "/boats/2/B/float")
    page.get_by_role("button", name="Water inside").click()
    page.get_by_role("button", name="Flood port hull").click()
    expect(page.locator('[data-part="side"]')).to_contain_text("It rolls over with this water in it")
    sound(page)
    page.get_by_role("button", name="Pump out port hull").click()
    expect(page.locator('[data-part="side"]')).to_contain_text("It still floats")
    page.get_by_role("textbox", name="Water in it").fill("0.4 l")
    page.get_by_role("textbox", name="Water in it").press("Tab")
    expect(page.locator('[data-part="live"]')).to_contain_text("400")
    page.get_by_label("Leak", exact=True).fill("20 ml/min")
    page.get_by_label("Leak", exact=True).press("Tab")
    expect(page.locator('[data-part="side"]')).to_contain_text("until water comes in by itself")
    page.get_by_role("textbox", name="Water in it").fill("400 l")
    page.get_by_role("textbox", name="Water in it").press("Tab")
    expect(page.locator("#ask-litres-e")).to_contain_text("at most; flood it instead")
    expect(page.get_by_role("textbox", name="Water in it")).to_have_value("400 l")
    page.get_by_label("To, from aft, port hull").or_(page.get_by_label("Fore bulkhead, from aft, port hull")).fill("500 mm")
    page.keyboard.press("Tab")
    expect(page.locator('[data-part="form"]')).to_contain_text(re.compile(r"[3-6]\.\d+\sl"))
    assert demo_yard.revision(2, "B").design.compartments[0].fore_m == pytest.approx(0.5)
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    assert demo_yard.revision(2, "B").design.compartments[0].fore_m is None


def test_the_submarine_goes_down_by_the_slider_and_by_its_keys(page: Page, served: str):
    opened(page, served, "/boats/4/A/float?tab=dive&share=0")
    expect(page.locator('[data-part="live"]')).to_contain_text("Tanks 0 % full")
    slider = page.get_by_label("Tanks full")
    slider.focus()
    for _ in range(5):
        page.keyboard.press("PageUp")
    expect(page.locator('[data-part="live"]')).to_contain_text("Tanks 50 % full")
    expect(slider).to_be_focused()  # the slider itself is not drawn anew under the hand
    slider.fill("100")
    expect(page.locator('[data-part="live"]')).to_contain_text("Tanks 100 % full")
    sound(page)


def test_forces_and_a_chart_that_speaks(page: Page, served: str):
    opened(page, served, "/boats/2/B/float?tab=force")
    expect(page.locator('[data-part="side"]')).to_contain_text("Under these forces")
    page.get_by_label("Hand on the rail").fill("0.4 kgf")
    page.get_by_label("Hand on the rail").press("Tab")
    expect(page.locator('[data-part="live"]')).to_contain_text("hand on the rail 3.92")
    chart = page.locator('[data-part="more"] svg[data-read]').first
    chart.scroll_into_view_if_needed()
    box = chart.bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + 0.5 * box["width"], box["y"] + 0.5 * box["height"])
    expect(chart.locator(".plot-read")).to_contain_text(re.compile("(40|50|60)"))
    page.get_by_role("button", name="Load and level").click()
    expect(page.locator('[data-part="form"]')).to_contain_text("Count equal loads")
    sound(page)


@pytest.mark.whole
def test_five_hundred_boats_are_floated_and_can_be_stopped(page: Page, served: str):
    opened(page, served, "/boats/1/B/float?tab=loads")
    page.get_by_role("button", name="Float them").click()
    expect(page.get_by_text("500 boats floated.")).to_be_visible()
    expect(page.locator('[data-part="form"] table')).to_contain_text("The whole brief")
    page.get_by_role("button", name="Float them").click()
    page.get_by_role("button", name="Stop").click()
    expect(page.get_by_text(re.compile("Stopped at|boats floated"))).to_be_visible()
    sound(page)
    for tab in ("Sheer and marks", "Over draft", "Published rules"):
        page.get_by_role("button", name=tab).click()
        expect(page.get_by_role("button", name=tab)).to_have_attribute("aria-pressed", "true")
        sound(page)

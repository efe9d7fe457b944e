"""A builder's walk through Stability: lean it, put it to the tests, look at the floats, cure it, roll it."""

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


def test_it_leans_by_slider_by_keys_and_by_the_pointer_on_the_curve(page: Page, served: str):
    opened(page, served, "/boats/5/A/stability")
    slider = page.get_by_label("Lean it")
    slider.focus()
    for _ in range(3):
        page.keyboard.press("ArrowRight")
    expect(page.locator('[data-part="live"]')).to_contain_text("leans 23.0° to starboard")
    expect(slider).to_be_focused()
    slider.fill("-60")
    expect(page.locator('[data-part="live"]')).to_contain_text("leans 60.0° to port")
    curve = page.locator("svg[data-points]")
    for _ in range(50):  # it is drawn anew under the pointer: its place is asked for until it stands
        if (box := curve.bounding_box()) is not None:
            page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
            break
        page.wait_for_timeout(50)
    expect(page.locator('[data-part="live"]')).to_contain_text(re.compile(r"leans (7|8)\d\.0° to port"))
    page.get_by_label("Beside it").select_option("loads")
    expect(page.locator('[data-part="live"]')).to_contain_text("no paddler")
    page.get_by_label("Water in the bilge").fill("10 l")
    page.get_by_label("Water in the bilge").press("Tab")
    expect(page.locator('[data-part="side"]')).to_contain_text("Loose liquid takes")
    sound(page)


@pytest.mark.whole
def test_tests_are_chosen_and_their_numbers_changed(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "/boats/5/A/stability")
    page.get_by_role("button", name="Plain tests").click()
    page.get_by_role("button", name="Paddler on the seat leans 150 mm").click()
    expect(page.locator('[data-part="side"]')).to_contain_text("leans 10.")
    page.get_by_label("Each leans by").fill("30 cm")
    page.get_by_label("Each leans by").press("Tab")
    expect(page.locator('[data-part="live"]')).to_contain_text("leans 300 mm")
    assert demo_yard.revision(5, "A").design.tipping.lean_m == pytest.approx(0.3)
    page.get_by_label("Wind abeam").fill("a breeze")
    page.get_by_label("Wind abeam").press("Tab")
    expect(page.locator('[data-error-for="tipping.wind_ms"]')).to_contain_text("was not understood")
    expect(page.get_by_label("Wind abeam")).to_have_value("a breeze")
    sound(page)
    for tab in ("Floats and hulls", "Sail", "Criteria"):
        page.get_by_role("button", name=tab).click()
        expect(page.get_by_role("button", name=tab)).to_have_attribute("aria-pressed", "true")
        sound(page)


@pytest.mark.whole
def test_cures_come_are_stopped_and_one_becomes_the_next_revision(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "/boats/5/A/stability?tab=cures")
    page.get_by_role("button", name="Stop", exact=True).or_(page.get_by_role("button", name="Solve them")).first.click()
    page.wait_for_timeout(100)
    again = page.get_by_role("button", name="Solve them")
    if again.is_visible():
        again.click()
    expect(page.get_by_text("Each is built, floated and put to the tests")).to_be_visible()
    expect(page.locator(".cure")).to_have_count(8)
    sound(page)
    page.get_by_role("button", name=re.compile("Lower the floats by .* make it revision B")).click()
    page.wait_for_url("**/boats/5/B/stability")
    assert demo_yard.revision(5, "B").note.startswith("Lower the floats")


@pytest.mark.whole
def test_the_sensor_rolls_and_its_period_is_taken(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "/boats/4/A/stability?tab=roll")
    expect(page.locator(".tilt-angle")).to_contain_text("to starboard")
    page.get_by_role("button", name="Zero it").click()
    expect(page.locator("#tilt-said")).to_contain_text(re.compile("Zeroed|still moves"))
    page.get_by_role("button", name="Push it over").click()
    expect(page.locator("#tilt-said")).to_contain_text("Let go")
    page.wait_for_timeout(5000)
    page.get_by_role("button", name="Take the period").click()
    expect(page.locator('[data-part="side"]')).to_contain_text(re.compile("The timed|It takes"))
    assert demo_yard.revision(4, "A").design.incline.time_s is not None
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()
    assert demo_yard.revision(4, "A").design.incline.time_s is None
    sound(page)

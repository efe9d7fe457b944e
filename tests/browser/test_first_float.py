"""From an empty yard to a float of one's own boat, counted; and an example by one click."""

import re

import pytest
from playwright.sync_api import Page, expect

from yarekeel.core.geometry.families.box import Box
from yarekeel.store.yard import Yard

pytestmark = pytest.mark.browser
MOST = 8


def test_the_first_float_takes_few_actions_and_is_right_by_hand(page: Page, served: str, demo_yard: Yard):
    """A box 1 m long: its draft is mass over density, length and beam (Archimedes), read off the page to 1 mm."""
    for boat in demo_yard.boats():
        demo_yard.delete(boat.id)
    page.goto(served)
    expect(page.locator(".yard-empty")).to_contain_text("Name your first boat")
    actions = 0

    def act(what) -> None:
        nonlocal actions
        actions += 1
        what()

    act(lambda: page.get_by_label("Name").fill("Coot"))
    act(lambda: page.get_by_label("Hull family").select_option("box"))
    act(lambda: page.get_by_label("Length").fill("1 m"))
    act(lambda: page.get_by_role("button", name="Lay it down").click())
    page.wait_for_url(re.compile("/A/float"))
    page.wait_for_selector("main[data-ready]")
    expect(page.locator("svg.tank")).to_be_visible()
    text = page.locator(".readouts").inner_text().replace("\N{NO-BREAK SPACE}", "")
    mass = float(re.search(r"DISPLACEMENT\s*\??\s*([\d.]+)\s*g", text, re.I)[1]) / 1000
    bow, stern = (float(v) / 1000 for v in re.search(r"([\d.]+) / ([\d.]+)\s*mm", text).groups())
    beam = Box().beam_m / Box().length_m  # in proportion
    by_hand = mass / (999.7 * 1.0 * beam)  # fresh water at 10 to 15 °C, CRC Handbook
    assert (bow + stern) / 2 == pytest.approx(by_hand, abs=1e-3)
    assert actions <= MOST
    print(f"{actions} actions")


def test_a_wrong_length_stays_in_its_field_with_a_sentence_beside_it(page: Page, served: str):
    page.goto(served)
    page.get_by_label("Name").fill("Coot")
    page.get_by_label("Length").fill("long")
    page.get_by_role("button", name="Lay it down").click()
    expect(page.locator("#new-length-e")).to_contain_text("was not understood")
    expect(page.get_by_label("Length")).to_have_value("long")
    expect(page.get_by_label("Name")).to_have_value("Coot")


def test_an_empty_yard_has_an_example_by_one_click(page: Page, served: str, demo_yard: Yard):
    for boat in demo_yard.boats():
        demo_yard.delete(boat.id)
    page.goto(served)
    page.get_by_role("button", name="Look at an example first").click()
    page.wait_for_url(re.compile("/A/float"))
    expect(page.locator("svg.tank")).to_be_visible()

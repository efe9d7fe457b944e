"""A builder's walk through the Weights stage: a skin estimated, a list pasted, loads compared, the boat on a live scale."""

import re
from pathlib import Path

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from yarekeel.instruments.shelf import Shelf
from yarekeel.store.yard import Yard

pytestmark = pytest.mark.browser
BOAT = "/boats/2/B/weights"


def opened(page: Page, served: str, query: str = "") -> None:
    page.goto(f"{served}{BOAT}{query}")
    page.wait_for_selector("main[data-ready]")


def design(yard: Yard):
    return yard.revision(2, "B").design


@pytest.mark.whole
def test_a_skin_is_estimated_and_follows_the_hull(page: Page, served: str, demo_yard: Yard):
    opened(page, served)
    page.get_by_role("button", name="Open Bridge, plywood").click()
    page.get_by_label("Estimate it").select_option("skin")
    page.get_by_role("button", name="Do so").click()
    expect(page.get_by_label("Core or sheet")).to_have_value("3 mm")
    expect(page.locator(".line")).to_contain_text("as corrected")  # the mass that was typed is kept as the correction
    page.get_by_role("button", name="Take it uncorrected").click()
    expect(page.locator(".line")).not_to_contain_text("as corrected")
    before = page.get_by_label("Mass, Bridge, plywood").input_value()
    page.get_by_label("Core or sheet").fill('1/4 "')
    page.get_by_label("Core or sheet").press("Tab")
    expect(page.get_by_label("Mass, Bridge, plywood")).not_to_have_value(before)
    expect(page.get_by_label("Core or sheet")).to_have_value("6.35 mm")
    expect(page.get_by_label("From aft, Bridge, plywood")).to_be_disabled()
    page.get_by_label("Layers outside").fill("-2")
    page.get_by_label("Layers outside").press("Tab")
    expect(page.locator(".recipe .field-error:not(:empty)")).to_contain_text("must lie between 0 and 20")
    expect(page.get_by_label("Layers outside")).to_have_value("-2")  # what was typed is still there
    page.get_by_label("Cloth", exact=True).fill("6 oz/yd²")
    page.get_by_label("Cloth", exact=True).press("Tab")
    expect(page.get_by_label("Cloth", exact=True)).to_have_value("203.4 g/m²")
    assert Axe().run(page).response["violations"] == []
    item = next(w for w in design(demo_yard).weights if w.name == "Bridge, plywood")
    assert item.recipe.thickness_m == pytest.approx(0.00635)
    assert item.mass_kg > 1
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_role("button", name="Redo")).to_be_enabled()  # the page is shown anew once it is undone
    item = next(w for w in design(demo_yard).weights if w.name == "Bridge, plywood")
    assert item.recipe.cloth_kg_m2 == 0.2
    assert item.recipe.thickness_m == pytest.approx(0.00635)


def paste(page: Page, text: str) -> None:
    """As Ctrl+V does: the clipboard's text comes with the event."""
    page.locator("#paste-text").evaluate(
        """(el, text) => { el.focus(); const data = new DataTransfer(); data.setData("text/plain", text);
        el.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true })); }""",
        text,
    )


def test_two_thousand_lines_are_pasted_found_and_shown_by_the_page(page: Page, served: str, demo_yard: Yard, tmp_path: Path):
    opened(page, served)
    page.get_by_text("Paste from a spreadsheet").click()
    rows = "\n".join(f"part {k}\t{1 + k % 7}\t{k % 700}\t0\t50" for k in range(2000))
    paste(page, "name\tmass (furlong)\tx\ty\tz\n" + rows)
    page.get_by_role("button", name="Add them to the list").click()
    expect(page.locator('[data-error-for="weights.paste"]')).to_contain_text("Row 2")
    assert page.locator("#paste-text").input_value().endswith("50")  # nothing is lost
    file = tmp_path / "list.csv"
    file.write_text("name\tmass (g)\tx\ty\tz\n" + rows)
    page.get_by_label("CSV file").set_input_files(file)
    expect(page.locator("#paste-text")).to_have_value(re.compile(r"^name\tmass \(g\)"))
    page.get_by_role("button", name="Add them to the list").click()
    expect(page.locator(".finder")).to_contain_text("2008 of 2008 lines, page 1 of 51")
    assert len(design(demo_yard).weights) == 2008
    page.get_by_role("button", name="Next").click()
    expect(page.locator(".finder")).to_contain_text("page 2 of 51")
    page.get_by_label("Find").fill("part 199")
    page.get_by_label("Find").press("Tab")
    expect(page.locator(".finder")).to_contain_text("11 of 2008 lines")
    page.get_by_label("Tick all lines shown").check()
    page.locator("[data-many]").get_by_role("button", name="Ashore").click()
    expect(page.locator("tr.is-ashore")).to_have_count(11)
    page.get_by_label("Tick all lines shown").check()
    page.locator("[data-many]").get_by_role("button", name="Remove").click()
    expect(page.locator(".finder")).to_contain_text("0 of 1997 lines")
    page.get_by_role("button", name="Undo").click()
    expect(page.locator(".finder")).to_contain_text("11 of 2008 lines")  # the page is shown anew once it is undone, as it was asked
    assert len(design(demo_yard).weights) == 2008


def test_loads_are_made_and_compared(page: Page, served: str, demo_yard: Yard):
    opened(page, served, "?tab=cases")
    expect(page.locator(".cases tbody tr")).to_have_count(4)
    page.get_by_label("New load").fill("two helpings")
    page.get_by_role("button", name="Add it").click()
    expect(page.locator(".cases tr.is-chosen")).to_contain_text("two helpings")
    page.get_by_label("In this load, Catch, wet weed").fill("2")
    page.get_by_label("In this load, Catch, wet weed").press("Tab")
    expect(page.locator(".cases tr.is-chosen")).to_contain_text(re.compile("5.840"))
    expect(page.locator(".band")).to_contain_text("two helpings")
    expect(page.locator(".cases .worst")).not_to_have_count(0)
    page.get_by_label("Load in force").select_option("")
    expect(page.locator(".cases tr.is-chosen")).to_contain_text("As listed")
    assert Axe().run(page).response["violations"] == []
    page.goto(f"{served}/boats/2/B/float")
    expect(page.locator(".readouts")).to_contain_text("4\N{NO-BREAK SPACE}640")
    assert [c.name for c in design(demo_yard).cases][-1] == "two helpings"


def test_what_would_have_to_go_is_done_with_a_button(page: Page, served: str, demo_yard: Yard):
    page.goto(f"{served}/boats/2/B/brief")
    page.wait_for_selector("main[data-ready]")
    page.get_by_label("Target all-up mass").fill("4.25 kg")
    page.get_by_label("Target all-up mass").press("Tab")
    expect(page.get_by_label("Target all-up mass")).to_have_value("4250 g")
    opened(page, served)
    expect(page.get_by_role("heading", name="What would have to go")).to_be_visible()
    page.get_by_role("button", name=re.compile("Do it: Leave Basket and lift ashore|Do it: Leave Motors")).first.click()
    expect(page.locator(".verdicts").first).to_contain_text("under the target")


def steady(page: Page, number: str) -> None:
    """Swinging past the number is not enough: it must stand there."""
    expect(page.locator(".dial output")).to_have_text(re.compile(number))
    page.wait_for_timeout(1500)
    expect(page.locator(".dial-state")).to_have_text("steady")
    expect(page.locator(".dial output")).to_have_text(re.compile(number))


@pytest.mark.whole
def test_the_boat_on_a_live_scale(page: Page, served: str, demo_yard: Yard, instruments: Shelf):
    """Tare, settle, hold, overload, unplugged in the middle; each reading goes to one place and is kept."""
    opened(page, served, "?tab=weigh&way=two")
    for label, place in (("Aft support, from aft", "100 mm"), ("Fore support, from aft", "650 mm")):
        page.get_by_label(label).fill(place)
        page.get_by_label(label).press("Tab")
        expect(page.get_by_label(label)).to_have_value(place)
    page.get_by_role("button", name="Tare").click()
    steady(page, r"^.?0\.00[01] kg$")
    put = page.get_by_label("Put on the scale")
    put.select_option("fore")
    steady(page, r"^[12]\.\d{3} kg$")
    page.get_by_role("button", name="Hold").click()
    expect(page.locator(".dial-state")).to_have_text("held, steady")
    held = page.locator(".dial output").inner_text()
    put.select_option("aft")  # letting go of the held reading
    steady(page, r"^2\.\d{3} kg$")
    page.get_by_role("button", name="Take as aft scale").click()
    expect(page.get_by_label("Aft scale")).to_have_value(re.compile(r"^2\d{3}"))
    put.select_option("fore")
    steady(page, f"^{re.escape(held[:4])}")
    page.get_by_role("button", name="Unplug it").click()
    expect(page.locator(".dial-state")).to_have_text("does not answer")
    expect(page.get_by_role("button", name="Take as fore scale")).to_be_disabled()
    page.get_by_role("button", name="Plug it in").click()
    steady(page, f"^{re.escape(held[:4])}")
    page.get_by_role("button", name="Hold").click()
    page.get_by_role("button", name="Take as fore scale").click()
    expect(page.get_by_label("Fore scale")).to_have_value(re.compile(r"^[12]\d{3}"))
    expect(page.locator(".found")).to_contain_text("agrees")
    kept = design(demo_yard).weigh_in
    assert kept.fore_kg == pytest.approx(float(held.split()[0]), abs=0.0025)
    # The same number a second time, for another place, is refused.
    bench = instruments.scale(2)
    number = max(bench._taken)
    page.evaluate(
        f"YareKeel.keep({{ action: 'do', verb: 'scale.take', path: 'scale.take', args: {{ number: {number}, path: 'weigh_in.aft_kg' }} }})"
    )
    expect(page.locator(".trouble")).to_contain_text("taken already")
    assert design(demo_yard).weigh_in == kept
    bench.scale.capacity_kg, before = 1.0, bench.scale.capacity_kg
    try:
        expect(page.locator(".dial output")).to_have_text("OL")
        expect(page.locator(".dial-state")).to_have_text("too heavy for this scale")
    finally:
        bench.scale.capacity_kg = before
    assert Axe().run(page).response["violations"] == []
    page.get_by_role("button", name="Correct the list so").first.click()
    expect(page.locator(".weighing .verdicts")).to_contain_text(re.compile("The list stands|agree"))
    page.reload()
    page.wait_for_selector("main[data-ready]")
    assert design(demo_yard).weigh_in == kept  # nothing confirmed is lost

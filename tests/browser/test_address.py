"""What is asked stands in the address, and the focus stays where it was."""

import csv
import re

import pytest
from playwright.sync_api import Page, Route, expect

pytestmark = pytest.mark.browser


def opened(page: Page, url: str) -> None:
    page.goto(url)
    page.wait_for_selector("main[data-ready]")


def test_a_tab_and_what_is_asked_on_it_return_after_reload_back_and_in_a_second_window(page: Page, served: str):
    opened(page, f"{served}/boats/5/A/stability")
    page.get_by_role("button", name="Plain tests").click()
    expect(page).to_have_url(re.compile(r"tab=tests"))
    expect(page.get_by_role("button", name="Plain tests")).to_have_attribute("aria-pressed", "true")
    page.reload()
    expect(page.get_by_role("button", name="Plain tests")).to_have_attribute("aria-pressed", "true")
    other = page.context.new_page()
    opened(other, page.url)
    expect(other.get_by_role("button", name="Plain tests")).to_have_attribute("aria-pressed", "true")
    other.close()
    page.go_back()
    expect(page.get_by_role("button", name="Plain tests")).to_have_attribute("aria-pressed", "false")
    expect(page).not_to_have_url(re.compile(r"tab="))


def test_the_focus_stays_after_undo_and_after_a_change_of_units(page: Page, served: str):
    opened(page, f"{served}/boats/2/B/weights?item=2")
    mass = page.locator('[data-path="weights.2.mass_kg"]').first
    mass.fill("900 g")
    mass.press("Tab")
    undo = page.get_by_role("button", name="Undo")
    expect(undo).to_be_enabled()
    undo.focus()
    page.keyboard.press("Enter")
    expect(page.locator('[data-path="weights.2.mass_kg"]').first).to_have_value(re.compile("860"))
    page.wait_for_function("() => document.activeElement && document.activeElement.dataset.step")
    page.get_by_label("Units").focus()
    page.get_by_label("Units").select_option("in_oz")
    page.wait_for_function("() => document.activeElement && document.activeElement.id === 'units-choice'")
    expect(page).to_have_url(re.compile("item=2"))
    assert page.evaluate("document.activeElement !== document.body")


def test_the_tables_and_curves_of_a_page_come_as_one_csv(page: Page, served: str, tmp_path):
    opened(page, f"{served}/boats/2/B/drive?tab=match")
    with page.expect_download() as waited:
        page.get_by_role("button", name="Tables and curves of this page as CSV").click()
    file = tmp_path / "page.csv"
    waited.value.save_as(file)
    rows = list(csv.reader(file.read_text().splitlines()))
    shown = page.locator("main table").first.locator("tr").nth(1).locator("td").first.inner_text()
    assert any(re.sub(r"\s+", " ", shown) in row for row in rows)
    curve = [r for r in rows if len(r) > 1 and any("thrust" in c for c in r)]
    assert len(curve) > 10


def test_a_link_waits_for_what_is_being_saved(page: Page, served: str):
    """Typed, and the next stage clicked at once, while the program is slow to save: nothing is asked, nothing is lost, and the next page's
    first edit is made on what was saved."""
    page.goto(f"{served}/boats/2/B/brief")
    page.wait_for_selector("main[data-ready]")
    asked: list[str] = []
    page.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.accept()))

    def slowly(route: Route) -> None:
        page.wait_for_timeout(700)
        route.continue_()

    page.route("**/brief/look", slowly)
    page.get_by_label("Least freeboard").fill("61 mm")
    page.get_by_role("link", name=re.compile("^3 Weights")).click()
    page.wait_for_url("**/weights")
    assert asked == []
    page.wait_for_selector("main[data-ready]")
    page.get_by_role("button", name="Add a weight").click()
    expect(page.get_by_label("Name, New weight")).to_be_visible()
    page.goto(f"{served}/boats/2/B/brief")
    expect(page.get_by_label("Least freeboard")).to_have_value("61 mm")


def test_a_link_is_held_once_by_what_cannot_be_saved(page: Page, served: str):
    """The program is gone: the first click says so, the second leaves, and the browser asks."""
    page.goto(f"{served}/boats/2/B/brief")
    page.wait_for_selector("main[data-ready]")
    asked: list[str] = []
    page.on("dialog", lambda dialog: (asked.append(dialog.type), dialog.accept()))
    page.route("**/brief/look", lambda route: route.abort())
    page.get_by_label("Least freeboard").fill("62 mm")
    weights = page.get_by_role("link", name=re.compile("^3 Weights"))
    weights.click()
    expect(page.get_by_text("Click once more to leave it")).to_be_visible()
    assert asked == []
    weights.click()
    page.wait_for_url("**/weights")
    assert asked == ["beforeunload"]

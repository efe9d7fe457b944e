"""The fixes of a boat whose runs are not fitted yet, in Chromium."""

import pytest
from playwright.sync_api import Page, expect

from yarekeel.core.kept import KEEP

pytestmark = pytest.mark.browser


def test_the_causes_take_their_place_when_they_are_known(page: Page, served: str):
    KEEP.clear()
    page.goto(f"{served}/boats/7/A/fixes", wait_until="commit")
    expect(page.get_by_text("Being worked out: the readings are held")).to_be_visible()
    expect(page.locator(".fix-rows tr").first).to_be_visible()
    expect(page.get_by_text("Each is built and floated as a boat of its own.")).to_be_visible(timeout=60_000)
    expect(page.get_by_text("Being worked out")).to_have_count(0)
    expect(page.locator("table.causes tbody tr").first).to_be_visible()

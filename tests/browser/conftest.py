"""A page that takes long says so first: whoever goes to one waits, as a person would, until it is there."""

from typing import Any

import pytest
from playwright.sync_api import Page

THERE = "() => document.readyState === 'complete' && !document.querySelector('[data-waiting]')"


@pytest.fixture
def page(page: Page) -> Page:
    go = page.goto

    def goto(url: str, **how: Any) -> Any:
        answer = go(url, **how)
        page.wait_for_function(THERE, timeout=60_000)
        return answer

    at = page.wait_for_url

    def wait_for_url(url: Any, **how: Any) -> None:
        at(url, wait_until="commit", **how)
        page.wait_for_function(THERE, timeout=60_000)

    page.goto = goto  # type: ignore[method-assign]
    page.wait_for_url = wait_for_url  # type: ignore[method-assign]
    return page

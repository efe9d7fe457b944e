"""No two labels of any drawing of the demo boats cover each other, and none is cut off, as Chromium sets the type."""

import re

import pytest
from playwright.sync_api import Page

from tools.fuzz import WHOLE

pytestmark = pytest.mark.browser
BOATS = ("1/B", "2/B", "3/A", "4/A", "5/A", "6/C", "7/C")
STAGES = ("brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes")
FOUND = """() => {
  const out = [];
  document.querySelectorAll("svg").forEach((svg) => {
    const k = svg.getBoundingClientRect(), scale = svg.viewBox.baseVal.width ? k.width / svg.viewBox.baseVal.width : 1;
    const seen = (t) => t.textContent.trim() && getComputedStyle(t).visibility !== "hidden" && t.getBoundingClientRect().width > 0;
    const all = [...svg.querySelectorAll("text")].filter(seen).map((t) => [t.textContent, t.getBoundingClientRect()]);
    all.forEach(([words, a], i) => {
      if (k.width && (a.left < k.left - 2 || a.right > k.right + 2 || a.top < k.top - 2 || a.bottom > k.bottom + 2)) out.push([words, "is cut off"]);
      all.slice(i + 1).forEach(([other, b]) => {
        const wide = Math.min(a.right, b.right) - Math.max(a.left, b.left), high = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
        if (wide > 3 * scale && high > 6 * scale) out.push([words, other]);
      });
    });
  });
  return out;
}"""
THERE = "() => !document.querySelector('[data-waiting]')"


def test_no_label_covers_another_or_is_cut_off(page: Page, served: str):
    pages = [f"{served}/boats/{boat}/{stage}" for boat in BOATS for stage in STAGES]
    for base in pages if WHOLE else [pages[3], pages[3 * len(STAGES) + 3], pages[5 * len(STAGES) + 4]]:
        page.goto(base)
        tabs = list(dict.fromkeys(re.findall(r'data-pick="tab:(\w+)"', page.content()))) or [""]
        for tab in tabs if WHOLE else tabs[:2]:
            if tab:
                page.goto(f"{base}?tab={tab}")
            assert page.evaluate(FOUND) == [], (base, tab)


HEADS = """() => {
  const out = [], side = (e) => ({ start: "left", end: "right" })[getComputedStyle(e).textAlign] || getComputedStyle(e).textAlign;
  document.querySelectorAll("table").forEach((table) => {
    if (!table.tHead || table.tHead.rows.length > 1) return;
    const heads = [...table.tHead.rows[0].cells];
    const rows = [...table.tBodies].flatMap((b) => [...b.rows]).filter((r) => r.cells.length === heads.length);
    heads.forEach((head, k) => {
      const cell = rows.map((r) => r.cells[k]).find((c) => c.textContent.trim() && c.colSpan === 1 && !c.querySelector("input, select, button"));
      if (head.textContent.trim() && cell && side(head) !== side(cell)) out.push([head.textContent.trim(), side(head), side(cell)]);
    });
  });
  return out;
}"""


def test_headings_stand_over_their_figures(page: Page, served: str):
    """Right over right."""
    pages = [f"{served}/boats/{boat}/{stage}" for boat in BOATS for stage in STAGES]
    for base in pages if WHOLE else [pages[2], pages[4 * len(STAGES) + 4]]:
        page.goto(base)
        for tab in list(dict.fromkeys(re.findall(r'data-pick="tab:(\w+)"', page.content()))) or [""]:
            if tab:
                page.goto(f"{base}?tab={tab}")
            assert page.evaluate(HEADS) == [], (base, tab)

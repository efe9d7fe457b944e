"""All tabs of the demo boats as Chromium sets the type: labels of drawings, headings of tables, words in fields."""

import re

import pytest
from playwright.sync_api import Page

from tools.fuzz import WHOLE

pytestmark = pytest.mark.browser
BOATS = ("1/B", "2/A", "2/B", "3/A", "4/A", "5/A", "6/C", "7/C")
STAGES = ("brief", "shape", "weights", "float", "stability", "drive", "underway", "trials", "fixes")
SAMPLE = ("1/B/weights", "2/A/weights", "2/B/shape", "1/B/float", "4/A/float", "3/A/drive", "5/A/stability", "6/C/stability")
LABELS = """() => {
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


FIELDS = """() => {
  const out = [], ruler = document.body.appendChild(document.createElement("span"));
  ruler.style.cssText = "position: absolute; visibility: hidden; white-space: pre";
  document.querySelectorAll("main input[type=text], main select").forEach((field) => {
    if (!field.offsetParent) return;
    const set = getComputedStyle(field), picks = field.tagName === "SELECT";
    ["fontFamily", "fontSize", "fontWeight", "fontVariantNumeric"].forEach((name) => (ruler.style[name] = set[name]));
    ruler.textContent = picks ? field.selectedOptions[0]?.text.trim() ?? "" : field.value.trim();
    const room = field.clientWidth - parseFloat(set.paddingLeft) - (picks ? 20 : parseFloat(set.paddingRight));
    const name = field.getAttribute("aria-label") || field.labels?.[0]?.innerText || field.id;
    if (ruler.getBoundingClientRect().width > room + 0.5) out.push([name, ruler.textContent, ruler.getBoundingClientRect().width, room]);
  });
  document.querySelectorAll("main td .line-pick").forEach((b) => b.scrollWidth > b.clientWidth && out.push([b.textContent.trim(), "runs over"]));
  ruler.remove();
  return out;
}"""
"""A choice keeps 20 px for its arrow."""


LINED = """() => [...document.querySelectorAll("main .fields")].flatMap((form) => {
  const fields = [...form.children].map((f) => f.offsetParent && f.matches(".field") && f.querySelector("input, select")?.getBoundingClientRect());
  return fields.slice(1).flatMap((b, k) => {
    const a = fields[k], off = a && b && b.left > a.left ? Math.abs(a.top - b.top) : 0;
    return off > 1 && off < 26 ? [[form.children[k].textContent.trim(), form.children[k + 1].textContent.trim(), off]] : [];
  });
})"""
"""Fields side by side that stand at different heights, as beside a label on two lines."""


def test_labels_keep_apart_headings_stand_over_their_figures_and_fields_show_all_their_words(page: Page, served: str):
    for where in [f"{boat}/{stage}" for boat in BOATS for stage in STAGES] if WHOLE else SAMPLE:
        base = f"{served}/boats/{where}"
        page.goto(base)
        tabs = list(dict.fromkeys(re.findall(r'data-pick="tab:(\w+)"', page.content()))) or [""]
        for tab in tabs if WHOLE else tabs[:4]:
            if tab:
                page.goto(f"{base}?tab={tab}")
            for what in (LABELS, HEADS, FIELDS, LINED):
                assert page.evaluate(what) == [], (where, tab)


CUT = """() => [...document.querySelectorAll("main table, main svg, main td, main dd")]
  .filter((e) => e.getBoundingClientRect().width && e.getBoundingClientRect().right > innerWidth + 1)
  .map((e) => [e.tagName, e.textContent.trim().slice(0, 30), e.getBoundingClientRect().right])"""
PAPER = {"width": 718, "height": 1000}
"""px: A4 less its margins."""


def test_nothing_is_cut_off_on_paper(page: Page, served: str):
    page.set_viewport_size(PAPER)
    page.emulate_media(media="print")
    for where in ("3/A/weights", "3/A/weights?tab=cases", "5/A/stability?tab=cures", "2/A/fixes", "6/C/underway?tab=speed"):
        page.goto(f"{served}/boats/{where}")
        assert page.evaluate(CUT) == [], where

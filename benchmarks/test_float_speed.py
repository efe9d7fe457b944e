"""Float in full: curves over draft against a general mesh library, many true floats, and what a slider answers in."""

import statistics
import time

import numpy as np
from playwright.sync_api import Page

from benchmarks.general import GeneralEvaluator
from benchmarks.test_speed import body, ratio
from yarekeel.core.geometry.attitude import rotation
from yarekeel.core.geometry.hull import Hull
from yarekeel.core.hydrostatics import chance
from yarekeel.core.hydrostatics.curves import curves, levels
from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages.design.craft import Craft

MOST_MS = 50
FLOATS_S = 3.0


def test_fifty_drafts_at_20_000_triangles(benchmark):
    """Volume, centre, waterplane, wetted surface and coefficients of ours, against capped slice, volume and centroid."""
    mesh = body(20_000)
    general, hull = GeneralEvaluator(mesh), Hull(mesh)
    drafts = levels(hull, 50)[:-1]
    upright, centre = rotation(0.0, 0.0), hull.kernel.centre[2]

    def sliced() -> None:
        for draft in drafts.tolist():
            general.slice(upright, draft - centre)

    times, slow, quick = ratio(sliced, lambda: curves(hull, drafts), 5, 10)
    print(f"\n{len(drafts)} drafts, {len(mesh.faces)} triangles: {times:.0f} times ({slow:.0f} ms against {quick:.0f} ms), to beat 40")
    benchmark.pedantic(curves, (hull, drafts), rounds=5)
    assert times >= 40


def test_five_hundred_true_floats():
    """Every demo boat and one of 20 000 triangles: all 500 drawn, summed and solved."""
    for craft in (Craft(make()) for make in (wagtail, reedwarden, moorhen, dabchick)):
        afloat, marks = craft.rest(), craft.marks
        start = time.perf_counter()
        rows = list(chance.true_floats(craft.hull, craft.items, afloat, marks.bow_x_m, marks.stern_x_m, craft.kernel))
        took = time.perf_counter() - start
        print(f"\n500 true floats of {craft.design.name}, {len(craft.hull.mesh.faces)} triangles: {took:.2f} s, at most {FLOATS_S:g}")
        assert len(rows) == 500
        assert took < FLOATS_S


def test_sliders_on_float(page: Page, served: str):
    """From a step of a slider to the boat drawn anew, in the browser."""
    for path, slider in (("/boats/4/A/float?tab=dive", "share"), ("/boats/2/B/float?tab=force", "throttle")):
        page.goto(f"{served}{path}")
        page.wait_for_selector("main[data-ready]")
        taken = page.evaluate(
            """async (name) => {
              const el = document.querySelector(`[data-ask="${name}"]`), out = [];
              for (let k = 0; k < 24; k++) {
                const shown = new Promise((done) => document.addEventListener("yk:shown", done, { once: true }));
                const start = performance.now();
                el.value = String(96 - 4 * k); el.dispatchEvent(new Event("input", { bubbles: true }));
                await shown; out.push(performance.now() - start);
              }
              return out;
            }""",
            slider,
        )
        median = statistics.median(taken[2:])
        print(f"\n{path}: {median:.1f} ms at the median, at most {MOST_MS}; slowest {np.max(taken[2:]):.0f}")
        assert median < MOST_MS

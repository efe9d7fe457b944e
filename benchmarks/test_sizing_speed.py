"""Sizing: one unknown solved, on every demo boat and every unknown."""

import gc
import statistics
import time

import numpy as np

from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.sizing import size_map, sizing

MOST_MS = 300
MAP_S = 10.0


def test_one_unknown_solved():
    """From nothing known of the answer: each unknown of each demo boat once."""
    taken = []
    for craft in (Craft(make()) for make in (reedwarden, wagtail, moorhen, dabchick)):
        own = []
        for u in sizing.unknowns_of(craft):
            start = time.perf_counter()
            sizing.solve(craft, u.path)
            own.append(1e3 * (time.perf_counter() - start))
        print(f"\n{craft.design.name}: {len(own)} unknowns, {statistics.median(own):.0f} ms at the median, slowest {max(own):.0f}")
        taken += own
    median = statistics.median(taken)
    print(f"\none unknown solved: {median:.0f} ms at the median of {len(taken)}, at most {MOST_MS}")
    assert median < MOST_MS


def test_a_size_map():
    """40 x 40 points of the first demo boat."""
    craft = Craft(reedwarden())
    axes = size_map.axes_of(craft)
    gc.collect()
    gc.freeze()  # as the program does at its start
    start = time.perf_counter()
    found = size_map.blank(axes)
    rows = len(list(size_map.steps(craft, found)))
    took = time.perf_counter() - start
    gc.unfreeze()
    print(f"\nsize map of {len(axes.x)} x {rows} points: {took:.1f} s, at most {MAP_S:g}")
    assert rows == len(axes.x) == 40
    assert np.isfinite(found.least).all()
    assert took < MAP_S

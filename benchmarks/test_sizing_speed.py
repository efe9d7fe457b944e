"""Sizing: one unknown solved, on every demo boat and every unknown."""

import statistics
import time

from yarekeel.demo.boats import dabchick, moorhen, reedwarden, wagtail
from yarekeel.stages import sizing
from yarekeel.stages.craft import Craft

MOST_MS = 300


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

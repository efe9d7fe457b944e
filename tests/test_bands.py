"""What says 95 % holds 90 to 99 times in 100, over boats of every kind with errors in all that their lists hold."""

from collections import Counter

from tools.bands import KINDS, LEAST, MOST, coverage
from tools.fuzz import some

BOATS = some(75)


def test_every_stated_interval_holds_as_often_as_it_says():
    held, tried = Counter(), Counter()
    for kind in KINDS:
        for name, (kept, count) in coverage(kind, BOATS).items():
            held[name] += kept
            tried[name] += count
    assert len(tried) >= 15
    assert min(tried.values()) >= BOATS
    shares = {name: held[name] / tried[name] for name in tried}
    assert {name: share for name, share in shares.items() if not LEAST <= share <= MOST} == {}

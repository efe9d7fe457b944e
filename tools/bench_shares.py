"""How often a thrust test finds what a stand-in really does: sweeps up and down of seeded units, clean and with one thing wrong.

``python -m tools.bench_shares`` prints, for each kind of trouble, the share of sweeps whose parameters lie inside their own intervals and
the share in which each fault was said.
"""

import random
import sys
from collections import Counter

from yarekeel.core.propulsion.bench.reading import read
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.instruments.thrust_stand import FAULTS, StandBench, StandIn, Truth

SWEEPS = 100
STEPS = (0, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100, 90, 80, 70, 60, 50, 40, 30, 20, 10, 0)
SAID = {"none": (), "air": ("air",), "slip": ("slip", "jump"), "overload": ("saturated",), "drift": ("drift",), "warm": ("warm",)}
NAMES = ("full", "start", "power")
LEAST, MOST_FALSE = 0.90, 0.05


def swept(seed: int, trouble: str) -> tuple[Truth, BenchTest]:
    """A unit by chance on a stand with something wrong, swept as the page sweeps it: settle, hold, on."""
    chance = random.Random(seed)
    truth = Truth(full=chance.uniform(2, 60), start=chance.uniform(0.03, 0.12), power=chance.uniform(1.4, 2.3))
    stand = StandIn(seed, truth)
    stand.trouble = trouble
    stand.size = chance.uniform(0.05, 0.15) if trouble == "warm" else chance.uniform(0.15, 0.45)
    stand.begins = chance.uniform(0.55, 0.85)
    now = [0.0]
    bench = StandBench(stand, lambda: now[0])
    bench.tare()
    points = []
    for percent in STEPS:
        bench.throttle(percent / 100)
        for _ in range(34):
            now[0] += 0.1
            bench.after(0)
        point = bench.held()
        assert point is not None
        points.append(point)
    return truth, BenchTest(points=tuple(points))


def shares(trouble: str, sweeps: int) -> tuple[dict[str, float], dict[str, float]]:
    """By parameter, how often its interval holds the truth; by fault, how often it was said."""
    held: Counter[str] = Counter()
    said: Counter[str] = Counter()
    for seed in range(sweeps):
        truth, test = swept(seed, trouble)
        found = read(test)
        said.update({f.code for f in found.faults})
        for name in NAMES:
            if found.pull is not None:
                stated = getattr(found.pull, name)
                held[name] += abs(stated.value - getattr(truth, name)) <= stated.half_width
    return {n: held[n] / sweeps for n in NAMES}, {code: count / sweeps for code, count in said.items()}


def main(sweeps: int = SWEEPS) -> int:
    """Print the shares; 1 where a clean sweep is not held or a fault is missed or invented too often."""
    outside = 0
    for trouble in FAULTS:
        held, said = shares(trouble, sweeps)
        print(f"{trouble}, {sweeps} sweeps")
        for name, share in held.items():
            print(f"  {name + ' inside its own interval':40s} {100 * share:5.1f} of 100")
        for code, share in sorted(said.items()):
            print(f"  {'said: ' + code:40s} {100 * share:5.1f} of 100")
        missed = any(said.get(code, 0.0) < LEAST for code in SAID[trouble][:1])
        invented = trouble == "none" and sum(said.values()) >= MOST_FALSE
        loose = trouble == "none" and min(held.values()) < LEAST
        outside += missed or invented or loose
    return 1 if outside else 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else SWEEPS))

"""``python -m tools.fault_shares 200``: virtual boats, each with one planted fault, diagnosed from a day's noisy readings: how often the
planted cause is first and among the first three, how often a sound boat is left alone, and the table of what is taken for what."""

import sys
from collections import Counter
from collections.abc import Iterable

from tools.trial_shares import crafts
from yarekeel.core.errors import NoRest
from yarekeel.instruments.faults import FAULTS, faulty_day
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.fixes.causes import Diagnosis, diagnose


def diagnosed(craft: Craft, seed: int, fault: str) -> Diagnosis | None:
    """The diagnosis of a virtual boat's day; None where no such boat floats."""
    try:
        day = faulty_day(craft, seed, fault)
    except NoRest:
        return None
    return diagnose(craft, day.readings, day.seen)


def shares(seeds: Iterable[int]) -> tuple[Counter[tuple[str, str]], int, int, int]:
    """What is taken for what, how often first and among the first three, of how many."""
    boats, taken = crafts(), Counter[tuple[str, str]]()
    first = three = tried = 0
    for seed in seeds:
        fault = FAULTS[seed % len(FAULTS)]
        found = diagnosed(boats[(seed // len(FAULTS) + seed) % len(boats)], seed, fault)
        if found is None:
            continue
        order = [j.cause.code for j in found.causes]
        tried += 1
        first += order[0] == fault
        three += fault in order[:3]
        taken[fault, order[0]] += 1
    return taken, first, three, tried


def left_alone(seeds: Iterable[int]) -> tuple[int, int]:
    """How often no cause of a sound boat is above possible, of how many."""
    boats = crafts()
    found = [diagnosed(boats[seed % len(boats)], seed, "") for seed in seeds]
    return sum(d is not None and d.is_clean for d in found), sum(d is not None for d in found)


def main() -> None:
    """Print the shares and the table."""
    count = int(sys.argv[1]) if len(sys.argv) > 1 else 200
    taken, first, three, tried = shares(range(count))
    print(
        f"{tried} boats with one of {len(FAULTS)} faults: first in {100 * first / tried:.1f} of 100, in the first three {100 * three / tried:.1f}"
    )
    for fault in FAULTS:
        row = Counter({other: n for (planted, other), n in taken.items() if planted == fault})
        print(f"  {fault:16s} taken for " + ", ".join(f"{name} {n}" for name, n in row.most_common()))
    sound, of = left_alone(range(count // 2))
    print(f"{of} sound boats: no cause above possible in {100 * sound / of:.1f} of 100")


if __name__ == "__main__":
    main()

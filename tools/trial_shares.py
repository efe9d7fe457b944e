"""``python -m tools.trial_shares 100``: how often the boat as found holds the hidden boat, how tight it is, whether a planted misreading is
named, and whether the measurement that is advised narrows what it promised.

Hidden boats of the demo's kinds: mass off by up to 15 %, place by 8 % of the length, thrust 0.7 to 1.1 and drag 0.8 to 1.5 of what was
predicted; readings evenly within what they are read to.
"""

import dataclasses
import sys
from collections import Counter

import numpy as np

from yarekeel.core.errors import InvalidInput, NoRest
from yarekeel.demo.boats import dabchick, reedwarden, wagtail
from yarekeel.instruments.pond import day
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.trials import found
from yarekeel.stages.trials.fitting import fitted
from yarekeel.stages.trials.model import COVERAGE, TOLD, UNKNOWNS

BOATS = (reedwarden, wagtail, dabchick)
GROSS = 10.0
"""Half widths by which a planted reading is off, at least."""


def crafts() -> tuple[Craft, ...]:
    return tuple(Craft(make()) for make in BOATS)


def held(seed: int, craft: Craft) -> dict[str, tuple[bool, float]]:
    """Of each figure that is told: whether its interval holds the hidden one, and its width over the bound from the readings' noise."""
    one = day(craft, seed, leaks=seed % 4 == 3)
    fit = fitted(craft, one.readings)
    sigma = np.array([line.sigma for line in fit.lines])
    whitened = fit.slopes / sigma[:, None]
    doubt = fit.before[1]
    loose = np.diag(1.0 / doubt**2)
    loose[list(TOLD), list(TOLD)] = 0  # nothing known beforehand of what is asked for; the factors fitted along stay as they are known
    bound = np.sqrt(np.maximum(np.diag(np.linalg.pinv(whitened.T @ whitened + loose)), 0))
    out = {}
    for k in TOLD:
        name = UNKNOWNS[k]
        if fit.is_told(k):
            out[name] = (abs(fit.values[k] - one.hidden[k]) <= fit.half(k), fit.half(k) / COVERAGE / max(bound[k], 1e-300))
    return out


def misread(seed: int, craft: Craft) -> tuple[bool, bool]:
    """Whether a reading planted wrong is named, and whether a clean day is left alone."""
    one = day(craft, seed)
    clean = found.assess(craft, one.readings)
    rng = np.random.default_rng([20, seed])
    off = GROSS * float(rng.choice([-1, 1])) * (1 + rng.random())
    r, to = one.readings, one.readings.read_to
    which = int(rng.integers(0, 5))
    if which == 0:
        wrong, name = dataclasses.replace(r, mass_kg=r.mass_kg * (1 + off * 0.002)), ("Mass", "Draft")
    elif which == 1:
        wrong, name = dataclasses.replace(r, heel_deg=r.heel_deg + off * to.heel_deg), ("Heel",)
    elif which == 2:
        shifts = list(r.inclining.shifts)
        shifts[1] = dataclasses.replace(shifts[1], heel_deg=shifts[1].heel_deg + off * to.angle_deg)
        wrong, name = dataclasses.replace(r, inclining=dataclasses.replace(r.inclining, shifts=tuple(shifts))), ("Heel at shift 2",)
    elif which == 3:
        pulls = list(r.pulls)
        pulls[0] = dataclasses.replace(pulls[0], thrust_n=max(pulls[0].thrust_n * (1 + off * 0.02), 0.0))
        wrong, name = dataclasses.replace(r, pulls=tuple(pulls)), ("Pull 1",)
    else:
        runs = list(r.runs)
        runs[1] = dataclasses.replace(runs[1], speed_ms=max(runs[1].speed_ms * (1 + off * 0.02), 0.0))
        wrong, name = dataclasses.replace(r, runs=tuple(runs)), ("Speed of run 2",)
    told = found.assess(craft, wrong)
    return told.out.startswith(name), not clean.out


def followed(seed: int, craft: Craft) -> tuple[float, float] | None:
    """The doubt that was left over the one promised, and by how much it was narrowed over what was promised; None where nothing was
    advised. A factor's doubt counts as a share of it."""
    rng = np.random.default_rng([21, seed])
    whole = day(craft, seed)
    parts = ["mass_kg", "rolls", "inclining", "heel_deg", "runs", "pulls"]
    lacking = day(craft, seed, tuple(str(p) for p in rng.choice(parts, int(rng.integers(1, 4)), replace=False)))
    first = found.assess(craft, lacking.readings)
    if first.next is None:
        return None
    r = lacking.readings
    more = {
        "weigh it all-up": {"mass_kg": whole.readings.mass_kg},
        "read the heel": {"heel_deg": whole.readings.heel_deg},
        "read both drafts": {"bow_m": whole.readings.bow_m, "stern_m": whole.readings.stern_m},
        "time ten rolls": {"rolls": whole.readings.rolls},
        "pull at full throttle": {"pulls": (*r.pulls, dataclasses.replace(whole.readings.pulls[0], current_a=None))},
        "time a run at full throttle": {"runs": (*r.runs, whole.readings.runs[0])} if whole.readings.runs else {},
        "move a weight across and read the heel": {"inclining": _as_advised(craft, whole)},
    }[first.next.words]
    then = found.assess(craft, dataclasses.replace(r, **more))
    k = UNKNOWNS.index(first.next.unknown)
    before, left = (found.doubt_of(b.fit.half(k), float(b.fit.values[k]), k) for b in (first, then))
    promised = before * first.next.after / first.next.before
    return left / promised, (before - left) / (before - promised)


def _as_advised(craft: Craft, whole):
    """The test that is advised: its own weight and way, read off the hidden boat."""
    from yarekeel.stages.trials.model import Model
    from yarekeel.stages.trials.readings import Inclining, Readings, Tilt

    asked = found.candidates(craft, Readings())
    test = next(c.with_it.inclining for c in asked if c.with_it.inclining)
    model = Model(craft, Readings())
    shifts = tuple(Tilt(s.moved_m, model.heel(whole.hidden, test.weight_kg, s.moved_m)) for s in test.shifts)
    return Inclining(test.weight_kg, shifts)


def main(count: int) -> int:
    """Print the shares."""
    boats = crafts()
    inside, told, widths = Counter(), Counter(), {}
    named = quiet = planted = 0
    ratios = []
    for seed in range(count):
        craft = boats[seed % len(boats)]
        try:
            for name, (ok, width) in held(seed, craft).items():
                told[name] += 1
                inside[name] += ok
                widths.setdefault(name, []).append(width)
            found_it, silent = misread(seed, craft)
            planted, named, quiet = planted + 1, named + found_it, quiet + silent
            if (ratio := followed(seed, craft)) is not None:
                ratios.append(ratio)
        except (NoRest, InvalidInput) as error:
            print(f"  seed {seed}: {error}")
    print(f"{count} hidden boats")
    for name in (UNKNOWNS[k] for k in TOLD):
        if told[name]:
            share, width = 100 * inside[name] / told[name], np.median(widths[name])
            print(
                f"  {name:14s} told {told[name]:4d}, inside its 95 % interval {share:5.1f} of 100, width over its bound {width:.2f} (most {max(widths[name]):.2f})"
            )
    print(
        f"  a planted misreading is named in {100 * named / planted:.0f} of 100; a clean day is left alone in {100 * quiet / planted:.0f}"
    )
    left, narrowed = (100 * sum(0.75 <= r[k] <= 1.25 for r in ratios) / max(len(ratios), 1) for k in (0, 1))
    print(
        f"  advice followed {len(ratios)} times: doubt left within 25 % of what was promised in {left:.0f} of 100, narrowed by what was promised within 25 % in {narrowed:.0f}"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 100))

"""A unit as it was measured on the bench."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.findings import Finding, Remedy
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, count, described, named, ratio
from yarekeel.core.propulsion.bench.reading import read_ahead
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Floats, KilogramsPerCubicMetre, MetresPerSecond, Ratio
from yarekeel.core.sources import COMMON_PRACTICE, OWN_BENCH, RANKINE_FROUDE, Source

FALL_OFF: Ratio = 0.1
"""Of the pull from rest, by which the straight fall may miss a propeller's at speed (common practice)."""


@dataclass(frozen=True, slots=True)
class BenchPull:
    """A thrust test of the boat's; ``units`` of that kind pull as one, each keeping ``together`` of its pull beside the others. The pull
    falls straight to nothing at ``ends_ms``, or at the test's own such speed."""

    kind: ClassVar[str] = "bench_test"
    title: ClassVar[str] = "As on the bench"
    rank: ClassVar[int] = 0
    in_air: ClassVar[bool] = False
    electric: ClassVar[bool] = False
    law: ClassVar[Source] = OWN_BENCH
    test: str = named("", "Thrust test", "one of this boat's; see Bench", "test")
    units: int = count(1, "Such units", "pulling as one", 1, 32, ("it needs one", "more than a boat carries"))
    together: Ratio = ratio(1.0, "Each keeps", "of its pull beside the others; a test of two tells", 0.2, 1.2, ("next to nothing", "more"))
    ends_ms: MetresPerSecond = described(0.0, "Stops pushing at", "speed", 0, 200, "0: as the test says")

    def __post_init__(self) -> None:
        check_parameters(self)

    def found(self, tests: tuple[BenchTest, ...]) -> BenchTest | None:
        """The test that it is by."""
        return next((t for t in tests if t.name == self.test), None)

    def push(self, throttle: Floats, speed: Floats, tests: tuple[BenchTest, ...], density: KilogramsPerCubicMetre) -> Push:
        """Pull and current; nothing without a test that gives a curve. The pack's state on the bench is the boat's."""
        test = self.found(tests)
        reading = read_ahead(test) if test is not None else None
        if test is None or reading is None or reading.pull is None:
            return Push(np.zeros(throttle.shape), np.zeros(throttle.shape), 1.0, at_speed=False)
        each = self.units * self.together / test.units
        flat = throttle.ravel()
        rest = reading.pull.value(flat).reshape(throttle.shape) * each
        full = reading.pull.full.value * each
        ends = self.ends_ms or test.ends_ms
        current = reading.current.value(flat).reshape(throttle.shape) if reading.current is not None else np.zeros(throttle.shape)
        spread = float(reading.pull.half_width(np.array([1.0]))[0]) / reading.pull.full.value
        if not ends:
            return Push(rest, current * self.units / test.units, spread, at_speed=False)
        return Push(straight_fall(rest, full, speed, ends), current * self.units / test.units, float(np.hypot(spread, FALL_OFF)))

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """Whether there is such a test, and whether it can be used at speed."""
        test = self.found(tests)
        if test is None or read_ahead(test).pull is None:
            title = "Choose a thrust test" if test is None else "{test} gives no curve yet"
            return (
                Finding(
                    "drive.no_test",
                    "fails",
                    title,
                    "A unit known by its bench test needs one with readings at three throttles or more.",
                    source=OWN_BENCH,
                    values={"test": self.test},
                    remedies=(Remedy("Take the readings on Bench", "drive"),),
                ),
            )
        if not (self.ends_ms or test.ends_ms):
            return (
                Finding(
                    "drive.test_at_rest",
                    "note",
                    "{test} was taken standing still",
                    "Say at which speed it stops pushing (pitch times turns, or the stream's speed): then speeds follow.",
                    source=COMMON_PRACTICE,
                    values={"test": self.test},
                ),
            )
        return ()


@formula("T = T_0(d) (1 - V / V_e), V_e = V_end sqrt(T_0(d) / T_0(1))", RANKINE_FROUDE, "a jet of steady speed; rough for propellers")
def straight_fall(rest: Floats, full: Ratio, speed: Floats, ends: MetresPerSecond) -> Floats:
    """Pull at speeds from the pull at rest, any shapes alike: nothing is left at ``ends`` at full throttle, sooner at less."""
    at = ends * np.sqrt(np.maximum(rest, 0.0) / full) if full > 0 else np.zeros_like(rest)
    return np.asarray(rest * np.maximum(1 - speed / np.maximum(at, 1e-9), -0.2))

"""Oars, a paddle or pedals: people's power."""

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.findings import Finding
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, described, ratio
from yarekeel.core.propulsion.bench.sheet import BenchTest
from yarekeel.core.propulsion.push import Push
from yarekeel.core.quantities import Floats, KilogramsPerCubicMetre, Newtons, Ratio, Watts
from yarekeel.core.sources import COMMON_PRACTICE, Source

PEOPLE_DIFFER: Ratio = 0.4
"""Half width of a band: an untrained person keeps up some 60 to 140 % of the usual for an hour (from memory)."""


@dataclass(frozen=True, slots=True)
class HandPower:
    """Power that a person keeps up, the share of it that pushes, and the most pull from rest. Throttle is the share of that power."""

    kind: ClassVar[str] = "hand"
    title: ClassVar[str] = "Oars, paddle or pedals"
    rank: ClassVar[int] = 7
    in_air: ClassVar[bool] = False
    electric: ClassVar[bool] = False
    law: ClassVar[Source] = COMMON_PRACTICE
    way: Literal["oars", "paddle", "pedals"] = choice("oars", "By", "", (("oars", "oars"), ("paddle", "a paddle"), ("pedals", "pedals")))
    power_w: Watts = described(75.0, "Power kept up", "power", 1, 1000, "a grown person for an hour: 60 to 100 W (from memory)")
    merit: Ratio = ratio(0.65, "Share that pushes", "oars and paddles 0.6 to 0.7, pedals 0.6 to 0.8", 0.05, 1.0)
    most_n: Newtons = described(100.0, "Most pull from rest", "force", 1, 2000, "averaged over a stroke")

    def __post_init__(self) -> None:
        check_parameters(self)

    def push(self, throttle: Floats, speed: Floats, tests: tuple[BenchTest, ...], density: KilogramsPerCubicMetre) -> Push:
        """Pull at shares of that power; it draws no current."""
        return Push(
            power_limited(throttle * self.power_w * self.merit, throttle * self.most_n, speed), np.zeros(throttle.shape), PEOPLE_DIFFER
        )

    def findings(self, tests: tuple[BenchTest, ...] = ()) -> tuple[Finding, ...]:
        """Nothing: any rower is worked out."""
        return ()


@formula("T = P / (V + P / T_0)", COMMON_PRACTICE, "a mean over strokes: T_0 from rest, T V = P at speed")
def power_limited(power: Floats, most: Floats, speed: Floats) -> Floats:
    """Pull that goes over from the most at rest to what the useful power allows at speed; arrays of one shape."""
    return np.asarray(np.where(most > 0, power / (np.maximum(speed, 0.0) + power / np.maximum(most, 1e-12) + 1e-12), 0.0))

"""Intact stability criteria of the IMO 2008 IS Code, part A, 2.2, as a yardstick. They are made for ships of 24 m and more."""

import math
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import MetreRadians, Metres, Radians
from yarekeel.core.sources import Source

IS_2008 = Source("IMO Resolution MSC.267(85), International Code on Intact Stability 2008, part A, 2.2")
TO_30: MetreRadians = 0.055
TO_40: MetreRadians = 0.090
BETWEEN: MetreRadians = 0.030
ARM: Metres = 0.20
PEAK_DEG = 25.0
GM: Metres = 0.15

Kind = Literal["arm_area", "length", "angle"]


@dataclass(frozen=True, slots=True)
class Measured:
    """What the criteria look at: areas under the arm to 30° and to 40° (or the flooding angle, if less), the greatest arm at 30° or
    more, the lean of the greatest arm, and GM."""

    to_30: MetreRadians
    to_40: MetreRadians
    arm_past_30: Metres
    peak_at: Radians
    gm: Metres


@dataclass(frozen=True, slots=True)
class Criterion:
    """One criterion: its clause, what it asks, what the boat has."""

    clause: str
    title: str
    kind: Kind
    asked: float
    has: float

    @property
    def holds(self) -> bool:
        return self.has >= self.asked - 1e-12


@formula("part A, 2.2 and 2.3", IS_2008, "a yardstick: ships of 24 m and more")
def clauses(m: Measured) -> tuple[Criterion, ...]:
    """The criteria of 2.2.1 to 2.2.4, one by one."""
    return (
        Criterion(clause="2.2.1", title="Area under the arm to 30°", kind="arm_area", asked=TO_30, has=m.to_30),
        Criterion(clause="2.2.1", title="Area to 40°, or to where water comes in", kind="arm_area", asked=TO_40, has=m.to_40),
        Criterion(clause="2.2.1", title="Area from 30° on to there", kind="arm_area", asked=BETWEEN, has=m.to_40 - m.to_30),
        Criterion(clause="2.2.2", title="Righting arm at 30° or more", kind="length", asked=ARM, has=m.arm_past_30),
        Criterion(clause="2.2.3", title="Lean of the greatest arm", kind="angle", asked=math.radians(PEAK_DEG), has=m.peak_at),
        Criterion(clause="2.2.4", title="GM", kind="length", asked=GM, has=m.gm),
    )

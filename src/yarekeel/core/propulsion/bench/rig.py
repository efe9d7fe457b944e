"""A rig for measuring thrust: the unit pulls on one arm of a lever, the scale holds the other."""

import math
from dataclasses import dataclass
from typing import Literal

from yarekeel.core.errors import InvalidInput
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, choice, described
from yarekeel.core.quantities import Degrees, Metres, Newtons, Ratio
from yarekeel.core.sources import STATICS

RigKind = Literal["lever", "direct"]
SHORTEST_ARM: Metres = 0.005
NO_ARM = "without an arm there is no lever"


@dataclass(frozen=True, slots=True)
class Rig:
    """``direct``: the scale feels the pull itself. ``lever``: arms from the pivot to where the unit pulls and to where the scale holds,
    each with the angle between the arm and the force on it; equal arms at right angles read true. ``scale_most_n`` is what the scale
    reads up to, 0 if not known."""

    kind: RigKind = choice("lever", "Rig", "", (("lever", "lever, two arms"), ("direct", "direct pull")))
    unit_arm_m: Metres = described(0.3, "Arm to the unit", "length", SHORTEST_ARM, 20, "pivot to its shaft", (NO_ARM, ""), moves="stays")
    scale_arm_m: Metres = described(0.3, "Arm to the scale", "length", SHORTEST_ARM, 20, "pivot to the scale", (NO_ARM, ""), moves="stays")
    unit_angle_deg: Degrees = described(90.0, "Pull to its arm", "degrees", 10, 170, "90° is square")
    scale_angle_deg: Degrees = described(90.0, "Scale to its arm", "degrees", 10, 170, "90° is square")
    scale_most_n: Newtons = described(0.0, "Scale reads up to", "force", 0, 1e5, "0 if not known")

    def __post_init__(self) -> None:
        if self.kind not in ("lever", "direct"):
            raise InvalidInput("kind", "Choose a lever or a direct pull.")
        check_parameters(self)


@formula("T / F = b sin(beta) / (a sin(alpha))", STATICS, "moments about the pivot; both forces in one plane, nothing binds")
def pull_per_reading(rig: Rig) -> Ratio:
    """What one newton on the scale says of the pull: a the arm to the unit, b that to the scale."""
    if rig.kind == "direct":
        return 1.0
    unit = rig.unit_arm_m * math.sin(math.radians(rig.unit_angle_deg))
    return rig.scale_arm_m * math.sin(math.radians(rig.scale_angle_deg)) / unit

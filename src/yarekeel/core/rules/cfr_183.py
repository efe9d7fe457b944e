"""US 33 CFR 183, safe loading, safe powering and flotation of boats under 20 ft: the arithmetic of its clauses.

All clauses are given from memory; read the text in force before a figure is marked on a boat. Pounds, feet and horsepower are
the rule's own units; the functions take and give SI, horsepower excepted.
"""

import math
from typing import Literal

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Horsepower, Kilograms, Metres, Radians, SquareFeet
from yarekeel.core.sources import Source

CFR_183 = Source("US 33 CFR 183, clauses as recalled; the text in force governs", "from memory")
POUND: Kilograms = 0.45359237
FOOT: Metres = 0.3048
LENGTH_LIMIT: Metres = 20 * FOOT
"""183.21: boats of 20 ft and more are not covered, nor are sailboats, canoes, kayaks, inflatables and multihulls."""
HEEL_LIMIT: Radians = math.radians(10.0)
"""183.225: most heel of the swamped boat under the weights that stand for its persons and gear."""

Power = Literal["outboard", "manual"]
"""``manual`` is rowed, paddled, or with an outboard of 2 hp or less."""


@formula("183.35, 183.37", CFR_183, "monohulls under 20 ft")
def weight_capacity(power: Power, maximum_displacement: Kilograms, boat_weight: Kilograms) -> Kilograms:
    """Most weight of persons, motor and gear: a fifth of what is left of the maximum displacement after the boat's own weight
    for outboard boats (183.35), three tenths for manual ones (183.37); 0 at least."""
    return max(0.0, maximum_displacement - boat_weight) * {"outboard": 0.2, "manual": 0.3}[power]


@formula("183.41, 183.43", CFR_183, "monohulls under 20 ft")
def persons_capacity(power: Power, capacity: Kilograms, machinery: Kilograms, one_side: Kilograms) -> Kilograms:
    """Most weight of persons: the lesser of the weight capacity less the motor, its controls and battery (183.41, outboard) or
    nine tenths of it (183.43, manual), and, below 550 lb, what was added along one side of the passenger area until water
    would come aboard, over 0.6."""
    by_weight = max(0.0, capacity - machinery) if power == "outboard" else 0.9 * capacity
    if by_weight >= 550 * POUND:
        return by_weight
    return min(by_weight, one_side / 0.6)


@formula("(pounds + 32) / 141", CFR_183, "monohulls under 20 ft")
def persons(capacity: Kilograms) -> int:
    """Whole persons: (pounds + 32) / 141, a half rounded up (183.39 (b), 183.41 (b), 183.43 (b))."""
    return math.floor((capacity / POUND + 32) / 141 + 0.5)


@formula("183.53", CFR_183, "outboard boats under 20 ft")
def power_factor(length: Metres, transom_width: Metres) -> SquareFeet:
    """Length times transom width in feet, each to the nearest tenth (183.53); the product to the nearest whole number."""
    return math.floor(_tenth(length / FOOT) * _tenth(transom_width / FOOT) + 0.5)


def _tenth(value: float) -> float:
    return math.floor(value * 10 + 0.5) / 10


_TABLE = ((35, 3.0), (39, 5.0), (42, 7.5), (45, 10.0), (52, 15.0))
"""183.53, table: factor up to, horsepower."""


@formula("183.53", CFR_183, "outboard boats under 20 ft")
def horsepower(factor: SquareFeet, remote_steering_and_high_transom: bool, flat_bottom_hard_chine: bool) -> Horsepower:
    """Most horsepower by computation (183.53). Up to a factor of 52 by the table, one step less for a flat bottom with a hard
    chine; above, 2 f - 90 with remote steering and a transom of 20 in or more, else 0.5 f - 15 for a flat bottom with a hard
    chine and 0.8 f - 25 for others, raised to the next multiple of 5."""
    for step, (most, power) in enumerate(_TABLE):
        if factor <= most:
            return _TABLE[max(step - 1, 0)][1] if flat_bottom_hard_chine else power
    if remote_steering_and_high_transom:
        power = 2 * factor - 90
    elif flat_bottom_hard_chine:
        power = 0.5 * factor - 15
    else:
        power = 0.8 * factor - 25
    return 5.0 * math.ceil(power / 5 - 1e-9)


@formula("183.225", CFR_183, "outboard boats over 2 hp")
def flotation_weight(capacity: Kilograms) -> Kilograms:
    """Weight of persons that the swamped outboard boat must carry, under water (183.225): half of the persons capacity up to
    550 lb and an eighth of what is over."""
    first = min(capacity, 550 * POUND)
    return 0.5 * first + 0.125 * (capacity - first)


@formula("183.225 (dead weight)", CFR_183, "outboard boats over 2 hp")
def dead_weight(weight_capacity: Kilograms, persons_capacity: Kilograms, machinery: Kilograms) -> Kilograms:
    """Weight that stands for gear, under water: a quarter of what the weight capacity leaves after persons, motor and battery."""
    return 0.25 * max(0.0, weight_capacity - persons_capacity - machinery)

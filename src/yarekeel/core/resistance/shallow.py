"""Shallow water: how much slower the same resistance is than in deep water."""

import math

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Metres, MetresPerSecond, Ratio, SquareMetres
from yarekeel.core.sources import LACKENBY_1963, MECHANICS

MOST_LOST: Ratio = 0.6
"""Beyond, the law is not followed."""
CRITICAL: Ratio = 0.9
"""Depth Froude number from which a boat drives its own wave before it and no simple law holds."""


@formula("Fn_h = V / sqrt(g h)", MECHANICS, "h depth of the water")
def depth_froude(speed: MetresPerSecond, depth: Metres) -> Ratio:
    """Speed over that of the fastest wave that water so deep can carry."""
    return speed / math.sqrt(STANDARD_GRAVITY * depth) if math.isfinite(depth) else 0.0


@formula("dV/V = 0.1242 (A_M / h² - 0.05) + 1 - sqrt(tanh(g h / V²))", LACKENBY_1963, "A_M / h² from 0.05; depth Froude number under 0.9")
def speed_lost(speed: MetresPerSecond, midship: SquareMetres, depth: Metres) -> Ratio:
    """Share of its speed that a hull loses where the water is so deep: blocked flow and steeper waves."""
    if not math.isfinite(depth) or speed <= 0:
        return 0.0
    blocked = 0.1242 * max(midship / depth**2 - 0.05, 0.0)
    waves = 1 - math.sqrt(math.tanh(STANDARD_GRAVITY * depth / speed**2))
    return min(blocked + waves, MOST_LOST)


@formula("V_deep = V / (1 - dV/V)", LACKENBY_1963, "as the loss")
def deep_speed(speed: MetresPerSecond, midship: SquareMetres, depth: Metres) -> MetresPerSecond:
    """The speed in deep water at which a hull meets the resistance that it meets here."""
    return speed / (1 - speed_lost(speed, midship, depth))

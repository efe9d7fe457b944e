"""A rough hump of wave resistance for hulls too stout for a slender hull's law. Not for judging a shape."""

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import CubicMetres, Floats, KilogramsPerCubicMetre, Metres, Ratio
from yarekeel.core.sources import ROUGH_HUMP

HUMP: Ratio = 2.4
"""Hump drag over weight, times the square of length over the cube root of volume."""
HUMP_FROUDE, HUMP_WIDTH = 0.43, 0.045
"""Froude number at which half of it is reached, and how fast it comes."""
SLOW: Ratio = 0.2
"""Froude number below which waves go to nothing with the speed quicker than the hump's own tail does."""
SLOW_POWER = 4


@formula("R_w = W · 2.4 (∇^(1/3) / L)² / (1 + exp(-(Fn - 0.43) / 0.045))", ROUGH_HUMP, "L/∇^(1/3) 4 to 8.5, Fn to 1, no planing: ±50 %")
def rough_hump(speeds: Floats, waterline: Metres, volume: CubicMetres, density: KilogramsPerCubicMetre) -> Floats:
    """Wave resistance (n,) in N at speeds (n,) in m/s of a stout hull: nothing, then a hump that stays."""
    froude = speeds / np.sqrt(STANDARD_GRAVITY * waterline)
    weight = density * volume * STANDARD_GRAVITY
    rise = 1 / (1 + np.exp(-(froude - HUMP_FROUDE) / HUMP_WIDTH)) - 1 / (1 + np.exp(HUMP_FROUDE / HUMP_WIDTH))
    slow = np.minimum(froude / SLOW, 1.0) ** SLOW_POWER
    return np.asarray(weight * HUMP / slenderness(waterline, volume) ** 2 * rise * slow)


@formula("L / ∇^(1/3)", ROUGH_HUMP, "any hull afloat")
def slenderness(waterline: Metres, volume: CubicMetres) -> Ratio:
    """Waterline length over the cube root of the displaced volume."""
    return float(waterline / volume ** (1 / 3))

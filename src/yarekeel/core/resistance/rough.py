"""A rough guess of resistance over speed, for matching a drive before anything better is known. Not for judging a hull's shape."""

import numpy as np

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import CubicMetres, Floats, KilogramsPerCubicMetre, Metres, Ratio, SquareMetres, SquareMetresPerSecond
from yarekeel.core.resistance.friction import friction
from yarekeel.core.sources import ROUGH_HUMP

FORM: Ratio = 0.15
"""Added to flat-plate friction for a hull's shape (common practice: 0.1 to 0.3)."""
HUMP: Ratio = 2.4
"""Hump drag over weight, times the square of length over the cube root of volume."""
HUMP_FROUDE, HUMP_WIDTH = 0.43, 0.045
"""Froude number at which half of it is reached, and how fast it comes."""
DOUBT: Ratio = 0.5
"""Half the width of the 95 % band, as a share."""
SLENDER: tuple[Ratio, Ratio] = (4.0, 8.5)
"""Length over the cube root of volume between which such hulls were tested."""


@formula(
    "R = (1 + 0.15) R_F + W · 2.4 (∇^(1/3) / L)² / (1 + exp(-(Fn - 0.43) / 0.045))",
    ROUGH_HUMP,
    "L/∇^(1/3) 4 to 8.5, Fn to 1, no planing: ±50 %",
)
def rough_resistance(
    speeds: Floats,
    waterline: Metres,
    wetted: SquareMetres,
    volume: CubicMetres,
    density: KilogramsPerCubicMetre,
    viscosity: SquareMetresPerSecond,
) -> Floats:
    """Resistance (n,) in N at speeds (n,) in m/s, 0 or more, of a hull that floats as at rest."""
    skin = np.array([friction(v, waterline, wetted, density, viscosity) if v > 0 else 0.0 for v in speeds.tolist()])
    return np.asarray((1 + FORM) * skin + rough_hump(speeds, waterline, volume, density))


@formula("R_w = W · 2.4 (∇^(1/3) / L)² / (1 + exp(-(Fn - 0.43) / 0.045))", ROUGH_HUMP, "L/∇^(1/3) 4 to 8.5, Fn to 1, no planing: ±50 %")
def rough_hump(speeds: Floats, waterline: Metres, volume: CubicMetres, density: KilogramsPerCubicMetre) -> Floats:
    """The waves' part of it: the hump of a stout hull."""
    froude = speeds / np.sqrt(STANDARD_GRAVITY * waterline)
    weight = density * volume * STANDARD_GRAVITY
    rise = 1 / (1 + np.exp(-(froude - HUMP_FROUDE) / HUMP_WIDTH)) - 1 / (1 + np.exp(HUMP_FROUDE / HUMP_WIDTH))
    return np.asarray(weight * HUMP / slenderness(waterline, volume) ** 2 * rise)


@formula("L / ∇^(1/3)", ROUGH_HUMP, "any hull afloat")
def slenderness(waterline: Metres, volume: CubicMetres) -> Ratio:
    """Waterline length over the cube root of the displaced volume."""
    return float(waterline / volume ** (1 / 3))

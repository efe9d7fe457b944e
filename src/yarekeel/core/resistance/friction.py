"""Friction line and the speed at which a hull meets its own wave."""

import math

from yarekeel.core.constants import HULL_SPEED_FROUDE, STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import (
    KilogramsPerCubicMetre,
    Metres,
    MetresPerSecond,
    Newtons,
    Ratio,
    SquareMetres,
    SquareMetresPerSecond,
)
from yarekeel.core.sources import COMMON_PRACTICE, ITTC_1957


@formula("C_F = 0.075 / (log10 Re - 2)²", ITTC_1957, "Re above 1e4")
def friction_coefficient(reynolds: Ratio) -> Ratio:
    """ITTC 1957: C_F = 0.075 / (log10 Re - 2)^2, for Re above about 1e4."""
    return 0.075 / (math.log10(reynolds) - 2) ** 2


@formula("R_F = rho V² S C_F / 2", ITTC_1957, "skin friction alone: no form factor, no waves, no air")
def friction(
    speed: MetresPerSecond,
    length: Metres,
    wetted: SquareMetres,
    density: KilogramsPerCubicMetre,
    viscosity: SquareMetresPerSecond,
) -> Newtons:
    """Skin friction R_F = rho V^2 S C_F / 2; without form factor, waves or air."""
    return 0.5 * density * speed**2 * wetted * friction_coefficient(max(speed * length / viscosity, 1e4))


@formula("V = Fr sqrt(g L), Fr = 0.40", COMMON_PRACTICE, "hulls that do not plane")
def hull_speed(waterline: Metres) -> MetresPerSecond:
    """Speed at Froude number 0.40 on the waterline length (common practice)."""
    return HULL_SPEED_FROUDE * math.sqrt(STANDARD_GRAVITY * waterline)

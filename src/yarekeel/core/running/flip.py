"""Air under a flat hull, and the speed at which it lifts the bow over the rear contact."""

import math

from yarekeel.core.constants import AIR_DENSITY, STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Kilograms, Metres, MetresPerSecond, NewtonMetres, Newtons, Radians, Ratio, SquareMetres
from yarekeel.core.sources import JONES_1946, STATICS

CENTRE: Ratio = 0.33
"""Of the length from the bow: where the air's lift on a slender plate acts (from memory)."""


@formula("L = rho_air V² S C_La alpha / 2", JONES_1946, "small angles; the water below counts for nothing")
def air_lift(through: MetresPerSecond, area: SquareMetres, slope: Ratio, angle: Radians) -> Newtons:
    """Lift of the air on a flat plan at an angle, at a speed through the air."""
    return AIR_DENSITY / 2 * through**2 * area * slope * angle


@formula("M = m g a - T h", STATICS, "about the rear contact, the bow just free of the water")
def holding_moment(mass: Kilograms, ahead: Metres, thrust: Newtons, above: Metres) -> NewtonMetres:
    """What holds the bow down about the rear contact: the weight ``ahead`` of it, and a thrust line ``above`` it."""
    return mass * STANDARD_GRAVITY * ahead + thrust * above


@formula("V_f = sqrt(2 M / (rho_air S C_La alpha x)) - W", STATICS, "moments of weight, thrust and air about the rear contact")
def flip_speed(
    moment: NewtonMetres, area: SquareMetres, slope: Ratio, angle: Radians, arm: Metres, wind: MetresPerSecond = 0.0
) -> MetresPerSecond:
    """Speed over the water at which the air's lift, ``arm`` ahead of the rear contact, beats the holding moment in a head wind; 0 where it
    does so standing still, endless where nothing lifts."""
    if moment <= 0:
        return 0.0
    lever = AIR_DENSITY / 2 * area * slope * angle * arm
    return max(math.sqrt(moment / lever) - wind, 0.0) if lever > 0 else math.inf

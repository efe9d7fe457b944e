"""Between floating and planing: how much of the weight is taken for carried by the bottom's lift."""

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.formulas import formula
from yarekeel.core.quantities import CubicMetres, MetresPerSecond, Ratio
from yarekeel.core.sources import COMMON_PRACTICE

FLOATS_TO, PLANES_FROM = 1.0, 2.75
"""Volumetric Froude numbers (common practice: below about 1 a hull floats, above about 2.5 to 3 it planes)."""


@formula("Fn_v = V / sqrt(g nabla^(1/3))", COMMON_PRACTICE, "any hull")
def volumetric_froude(speed: MetresPerSecond, volume: CubicMetres) -> Ratio:
    """Speed over the root of gravity times the cube root of the volume of displacement (m3)."""
    return float(speed / (STANDARD_GRAVITY * volume ** (1 / 3)) ** 0.5)


@formula("w = s² (3 - 2 s), s = (Fn_v - 1.0) / (2.75 - 1.0) between 0 and 1", COMMON_PRACTICE, "a blend by habit, not by law: ±40 % within")
def planing_share(speed: MetresPerSecond, volume: CubicMetres) -> Ratio:
    """0 for a hull that floats, 1 for one that planes."""
    s = min(max((volumetric_froude(speed, volume) - FLOATS_TO) / (PLANES_FROM - FLOATS_TO), 0.0), 1.0)
    return s * s * (3 - 2 * s)

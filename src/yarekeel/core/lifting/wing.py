"""Lift and drag of a wing, far from and near to the water's surface, on either side of it.

A wing below the surface at speed has an image of the same sense above it (less lift, more drag); a wing over the surface has one of the
opposite sense below it (less drag).
"""

import math

from yarekeel.core.formulas import formula
from yarekeel.core.quantities import Metres, Radians, Ratio, SquareMetres
from yarekeel.core.resistance.friction import friction_coefficient
from yarekeel.core.sources import (
    COMMON_PRACTICE,
    GLAUERT_1926,
    HOERNER_1965,
    HOUGH_MORAN_1969,
    JONES_1946,
    MCCORMICK,
    PRANDTL_1921,
)

EFFICIENCY: Ratio = 0.9
"""Of an elliptic load, that a plain tapered wing comes to (common practice)."""
GROUND_LAWS = {
    "wieselsberger": ("Prandtl and Wieselsberger's", PRANDTL_1921),
    "mccormick": ("McCormick's", MCCORMICK),
}
"""The two common laws of the ground's effect on induced drag, by their code: name and source. At a tenth of the span they differ by a
third."""


@formula("C_La = pi AR / 2, AR = b² / S", JONES_1946, "plates longer than broad, small angles; for AR above 1: 2 pi / (1 + 2 / AR)")
def lift_slope(breadth: Metres, area: SquareMetres) -> Ratio:
    """Lift coefficient per radian of a flat plan."""
    aspect = breadth**2 / area
    return math.pi * aspect / 2 if aspect <= 1 else 2 * math.pi / (1 + 2 / aspect)


@formula("k = (1 + 16 (h/c)²) / (2 + 16 (h/c)²)", HOUGH_MORAN_1969, "a foil h below the surface, fast: Froude number on the chord above 3")
def near_surface(depth: Metres, chord: Metres) -> Ratio:
    """What the surface over a foil leaves of its lift: half at the surface, all far below."""
    h = 16 * (max(depth, 0.0) / chord) ** 2
    return (1 + h) / (2 + h)


@formula("s = (1 - 1.32 h/b) / (1.05 + 7.4 h/b)", PRANDTL_1921, "h/b 1/30 to 1/4; 0 from 0.76 up; h half the gap of a wing and its image")
def image_share(apart: Metres, span: Metres) -> Ratio:
    """Share of a wing's own induced drag that its image adds (same sense) or takes away (opposite), ``apart`` from the surface."""
    h = max(apart, 0.0) / span
    return max((1 - 1.32 * h) / (1.05 + 7.4 * h), 0.0)


@formula("f = (16 h/b)² / (1 + (16 h/b)²)", MCCORMICK, "a wing h over the ground")
def ground_factor(height: Metres, span: Metres) -> Ratio:
    """What the ground below leaves of a wing's induced drag."""
    h = (16 * max(height, 0.0) / span) ** 2
    return h / (1 + h)


@formula("f = 1 - s, or McCormick's", PRANDTL_1921, "a wing over the surface, by one of two laws")
def induced_over(height: Metres, span: Metres, law: str) -> Ratio:
    """What the surface below leaves of a wing's induced drag by one of GROUND_LAWS."""
    return ground_factor(height, span) if law == "mccormick" else 1 - image_share(height, span)


@formula("C_Di = C_L² f / (pi AR e)", PRANDTL_1921, "e 0.9; f 1 far from the surface, 1 + s below it, 1 - s over it")
def induced_drag(lift: Ratio, aspect: Ratio, factor: Ratio = 1.0) -> Ratio:
    """Induced drag coefficient."""
    return lift**2 * factor / (math.pi * aspect * EFFICIENCY)


@formula("eps = 2 C_L / (pi AR)", PRANDTL_1921, "far behind a wing of the same span, at its height; half of it at the wing")
def downwash(lift: Ratio, aspect: Ratio) -> Radians:
    """Angle that a wing turns the flow far behind it by, downwards for a wing that lifts."""
    return 2 * lift / (math.pi * aspect)


@formula("C_D0 = 2 C_F (1 + 2 t/c + 60 (t/c)^4)", HOERNER_1965, "turbulent skin, both sides; Re from 1e4")
def profile_drag(reynolds: Ratio, thickness: Ratio) -> Ratio:
    """Profile drag coefficient on the plan area."""
    return 2 * friction_coefficient(max(reynolds, 1e4)) * (1 + 2 * thickness + 60 * thickness**4)


@formula("alpha_0 = -2 f/c", GLAUERT_1926, "thin, parabolic camber line")
def zero_lift(camber: Ratio) -> Radians:
    """Angle at which a cambered section lifts nothing."""
    return -2 * camber


@formula("C_Lmax = 0.9 + 7.5 f/c", COMMON_PRACTICE, "Reynolds numbers near 1e5, common practice ±0.2")
def most_lift(camber: Ratio) -> Ratio:
    """Lift coefficient at which the flow leaves the section."""
    return 0.9 + 7.5 * camber


@formula("e = 1 - (t - sin t) / pi, cos t = 2 E - 1", GLAUERT_1926, "thin section, small deflection; E share of the chord that moves")
def deflection_effect(share: Ratio) -> Ratio:
    """Angle of the whole section that a deflection of its after ``share`` counts for: 1 where all of it moves."""
    t = math.acos(min(max(2 * share - 1, -1.0), 1.0))
    return 1 - (t - math.sin(t)) / math.pi

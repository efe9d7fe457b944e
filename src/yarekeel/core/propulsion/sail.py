"""Sails: an area, where its push acts, and how hard wind on it pushes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from yarekeel.core.constants import AIR_DENSITY
from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, described, place, text
from yarekeel.core.quantities import Metres, MetresPerSecond, Newtons, Point, Radians, Ratio, SquareMetres
from yarekeel.core.sources import COMMON_PRACTICE, HAZEN_1980, MECHANICS, STATICS

SIDE_COEFFICIENT: Ratio = 1.2
"""Side force over area and dynamic pressure of a close-hauled sail, about a flat plate's across the wind (S. F. Hoerner,
Fluid-Dynamic Drag, 1965, ch. III, from memory)."""

ASPECT: Ratio = 3.0
"""Effective aspect ratio of a hobby boat's sail, for its induced drag (common practice)."""


@dataclass(frozen=True, slots=True)
class Sail:
    """``area_m2`` whose centre of effort is ``at_m`` (boat axes); ``coefficient`` is force over area and dynamic pressure."""

    name: str = text("Sail", "Sail")
    area_m2: SquareMetres = described(0.0, "Area", "area", 0, 1e4, moves="area")
    at_m: Point = place((0.0, 0.0, 0.0), "Centre of effort", ("Centre of effort, from aft", "To port", "Centre of effort, up"))
    coefficient: Ratio = described(SIDE_COEFFICIENT, "Force coefficient", "ratio", 0.1, 3)

    def __post_init__(self) -> None:
        check_parameters(self)


@formula("CE = sum(A C r) / sum(A C)", STATICS, "any sails")
def effort(sails: Sequence[Sail]) -> tuple[SquareMetres, Point, Ratio]:
    """Area of all sails, their common centre of effort (by area times coefficient) and common coefficient; 0 for none."""
    weight = math.fsum(s.area_m2 * s.coefficient for s in sails)
    area = math.fsum(s.area_m2 for s in sails)
    if weight <= 0:
        return 0.0, (0.0, 0.0, 0.0), SIDE_COEFFICIENT
    x, y, z = (math.fsum(s.area_m2 * s.coefficient * s.at_m[k] for s in sails) / weight for k in range(3))
    return area, (x, y, z), weight / area


@formula("lead = (x_CE - x_CLP) / L_WL", COMMON_PRACTICE, "boat upright, sails flat")
def lead(centre_of_effort_x: Metres, lateral_x: Metres, waterline: Metres) -> Ratio:
    """Lead of the centre of effort ahead of the centre of lateral area, as a share of the waterline's length."""
    return (centre_of_effort_x - lateral_x) / waterline


APPARENT: tuple[Radians, ...] = tuple(math.radians(a) for a in (0.0, 15.0, 27.0, 50.0, 80.0, 100.0, 180.0))
LIFTS: tuple[Ratio, ...] = (0.0, 0.6, 1.5, 1.5, 0.95, 0.85, 0.0)
DRAGS: tuple[Ratio, ...] = (0.05, 0.04, 0.02, 0.15, 0.80, 1.0, 0.9)
"""Of a mainsail that is trimmed well, over the apparent wind's angle from ahead; those at 0 and 15° are a luffing sail's."""


@formula(
    "D = q A k (C_L sin b - C_D cos b), Y = q A k (C_L cos b + C_D sin b)",
    HAZEN_1980,
    "one mainsail well trimmed, from memory; k the sail's coefficient over 1.2",
)
def sail_push(wind: MetresPerSecond, angle: Radians, area: SquareMetres, coefficient: Ratio) -> tuple[Newtons, Newtons]:
    """Drive ahead and side force to leeward of an apparent wind, ``angle`` from ahead (0 to pi)."""
    lift, drag = (float(np.interp(abs(angle), APPARENT, c)) for c in (LIFTS, DRAGS))
    drag += lift**2 / (math.pi * ASPECT)
    push = AIR_DENSITY / 2 * wind**2 * area * coefficient / SIDE_COEFFICIENT
    s, c = math.sin(abs(angle)), math.cos(angle)
    return push * (lift * s - drag * c), push * (lift * c + drag * s)


@formula("W_x = W cos g + V, W_y = W sin g", MECHANICS, "V straight ahead, g of the true wind from ahead")
def apparent(wind: MetresPerSecond, angle: Radians, speed: MetresPerSecond) -> tuple[MetresPerSecond, Radians]:
    """Apparent wind and its angle from ahead, of a true wind and a speed through the water."""
    x, y = wind * math.cos(angle) + speed, wind * math.sin(angle)
    return math.hypot(x, y), math.atan2(y, x)

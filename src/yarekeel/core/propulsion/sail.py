"""Sails: an area, where its push acts, and how hard wind on it pushes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.formulas import formula
from yarekeel.core.parameters import check_parameters, described, place, text
from yarekeel.core.quantities import Metres, Point, Ratio, SquareMetres
from yarekeel.core.sources import COMMON_PRACTICE, STATICS

SIDE_COEFFICIENT: Ratio = 1.2
"""Side force over area and dynamic pressure of a close-hauled sail, about a flat plate's across the wind (S. F. Hoerner,
Fluid-Dynamic Drag, 1965, ch. III, from memory)."""


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

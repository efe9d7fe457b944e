"""Sails: an area, where its push acts, and how hard wind on it pushes."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput
from yarekeel.core.quantities import Metres, Point, Ratio, SquareMetres

SIDE_COEFFICIENT: Ratio = 1.2
"""Side force over area and dynamic pressure of a close-hauled sail, about a flat plate's across the wind (S. F. Hoerner,
Fluid-Dynamic Drag, 1965, ch. III, from memory)."""


@dataclass(frozen=True, slots=True)
class Sail:
    """``area_m2`` whose centre of effort is ``at_m`` (boat axes); ``coefficient`` is force over area and dynamic pressure."""

    name: str = "Sail"
    area_m2: SquareMetres = 0.0
    at_m: Point = (0.0, 0.0, 0.0)
    coefficient: Ratio = SIDE_COEFFICIENT

    def __post_init__(self) -> None:
        if not self.name.strip() or len(self.name) > 80:
            raise InvalidInput("name", "Give the sail a name of 1 to 80 characters.")
        if not (math.isfinite(self.area_m2) and 0 <= self.area_m2 <= 1e4):
            raise InvalidInput("area_m2", "A sail's area must lie between 0 and 10 000 m².")
        if not all(math.isfinite(v) and abs(v) <= 1000 for v in self.at_m):
            raise InvalidInput("at_m", "The centre of effort must lie within 1000 m of the boat's origin.")
        if not (math.isfinite(self.coefficient) and 0.1 <= self.coefficient <= 3):
            raise InvalidInput("coefficient", "The force coefficient must lie between 0.1 and 3.")


def effort(sails: Sequence[Sail]) -> tuple[SquareMetres, Point, Ratio]:
    """Area of all sails, their common centre of effort (by area times coefficient) and common coefficient; 0 for none."""
    weight = math.fsum(s.area_m2 * s.coefficient for s in sails)
    area = math.fsum(s.area_m2 for s in sails)
    if weight <= 0:
        return 0.0, (0.0, 0.0, 0.0), SIDE_COEFFICIENT
    x, y, z = (math.fsum(s.area_m2 * s.coefficient * s.at_m[k] for s in sails) / weight for k in range(3))
    return area, (x, y, z), weight / area


def lead(centre_of_effort_x: Metres, lateral_x: Metres, waterline: Metres) -> Ratio:
    """Lead of the centre of effort ahead of the centre of lateral area, as a share of the waterline's length."""
    return (centre_of_effort_x - lateral_x) / waterline

"""How the boat lies in the water: heel, trim and the height of its origin."""

import math
from dataclasses import dataclass
from functools import lru_cache

from yarekeel.core.quantities import Metres, Point, Radians

Rows = tuple[Point, Point, Point]


@lru_cache(maxsize=1024)
def rotation(heel: Radians, trim: Radians) -> Rows:
    """R = Ry(-trim) Rx(heel): the world's axes in boat axes, one a row; the last is the world's up."""
    sh, ch, st, ct = math.sin(heel), math.cos(heel), math.sin(trim), math.cos(trim)
    return (ct, -st * sh, -st * ch), (0.0, ch, -sh), (st, ct * sh, ct * ch)


def angles_of_up(up: Point) -> tuple[Radians, Radians]:
    """(heel, trim) of the world's up given in boat axes; heel in (-pi, pi], trim in [-pi/2, pi/2]."""
    return math.atan2(up[1], up[2]), math.asin(max(-1.0, min(1.0, up[0])))


@dataclass(frozen=True, slots=True)
class Attitude:
    """Heel (positive starboard down), trim (positive bow up), height of the boat's origin above the surface."""

    heel: Radians
    trim: Radians
    origin_height: Metres

    @property
    def rows(self) -> Rows:
        """World axes in boat axes, one a row."""
        return rotation(self.heel, self.trim)

    @property
    def up(self) -> Point:
        """The world's up in boat axes."""
        return self.rows[2]

    def height_of(self, point: Point) -> Metres:
        """Height of a point of the boat above the surface."""
        up = self.up
        return up[0] * point[0] + up[1] * point[1] + up[2] * point[2] + self.origin_height

"""A rudder that stays in the water and is large enough: the one it has made larger and deeper, or a new one."""

import dataclasses
import math

from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.quantities import Ratio
from yarekeel.stages.changes.aims import STEERS
from yarekeel.stages.changes.change import Change, Way, Words, free_name
from yarekeel.stages.changes.ways.fin import with_blade
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

MOST: Ratio = 4.0
"""Times its area, or as much of the hull's side as 2 % a time."""
OF_SIDE: Ratio = 0.02


def _rudder(craft: Craft) -> int | None:
    """The number of the aftmost fin aft of G."""
    aft = [
        (float(craft.piece(n).bounds[0][0] + craft.piece(n).bounds[1][0]) / 2, n)
        for n, b in enumerate(craft.design.bodies)
        if b.role == "appendage" and not isinstance(b.shape, FoilWing)
    ]
    x, n = min(aft, default=(math.inf, -1))
    return n if x < craft.gravity[0] else None


def _way(craft: Craft) -> Way:
    number = _rudder(craft)
    low, high = craft.hull.mesh.bounds
    side = OF_SIDE * float(high[0] - low[0]) * float(high[2] - low[2])
    name = free_name(craft.design, "rudder")

    def make(by: float) -> Design:
        if number is None:
            return with_blade(craft, name, by * side)
        grown = math.sqrt(1 + by)
        body = craft.design.bodies[number]
        (sx, sy, sz), (x, y, z) = body.scale, body.at_m
        deep = float(craft.piece(number).bounds[1][2] - craft.piece(number).bounds[0][2])
        changed = dataclasses.replace(body, scale=(sx * grown, sy, sz * grown), at_m=(x, y, z - (grown - 1) * deep))
        return dataclasses.replace(craft.design, bodies=(*craft.design.bodies[:number], changed, *craft.design.bodies[number + 1 :]))

    def title(by: float, _: Craft) -> Words:
        if number is None:
            return "A rudder of {area:area} at the stern", {"area": by * side}
        return "{name} {by:percent1} larger, and deeper", {"name": craft.design.bodies[number].name.capitalize(), "by": by}

    def work(by: float, _: Craft) -> Words:
        return "a new blade; a longer stock and a servo that holds it", {}

    return Way(0.0, MOST, make, title, work)


CHANGE = Change("rudder", "A larger, deeper rudder", 290, _way, aim=STEERS)

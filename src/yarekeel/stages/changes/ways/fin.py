"""A fin under the stern, until the side area lies aft of the centre of gravity at speed."""

import dataclasses
import math

from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.quantities import Metres, Ratio, SquareMetres
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.aims import COURSE
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, free_name
from yarekeel.stages.changes.prices import FIN
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.running.boat import bare_hull
from yarekeel.stages.underway import steering

SLENDER: Ratio = 1.5
"""Height of a fin over its chord (common practice)."""
THICK: Ratio = 0.08
INTO_HULL: Ratio = 0.1
"""Of its height, that its root stands in the hull."""
MOST: Ratio = 4.0
"""Times the fin that a sum says would do."""


def blade(craft: Craft, name: str, area: SquareMetres) -> tuple[Body, WeightItem]:
    """A blade of an area under the after end of the hull, with the line of its mass."""
    low, high = bare_hull(craft).bounds
    chord = math.sqrt(area / SLENDER)
    height = SLENDER * chord
    x, z = float(low[0]) + 0.02 * float(high[0] - low[0]), _bottom(craft)
    at = (x, 0.0, z - height)
    body = Body(name, Strut(height * (1 + INTO_HULL), chord, 1.0, THICK), at, role="appendage")
    mass = FIN * area
    return body, WeightItem(name[:1].upper() + name[1:], mass, (x + chord / 2, 0.0, z - height / 2), "guessed", group="structure")


def _bottom(craft: Craft) -> Metres:
    """The lowest point of the hull near its after end."""
    mesh = bare_hull(craft)
    length = float(mesh.bounds[1][0] - mesh.bounds[0][0])
    aft = mesh.vertices[mesh.vertices[:, 0] < mesh.bounds[0][0] + 0.15 * length]
    return float(aft[:, 2].min())


def with_blade(craft: Craft, name: str, area: SquareMetres) -> Design:
    """The boat with it. Raises InvalidInput for one that is too small to build."""
    body, item = blade(craft, name, area)
    return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, body), weights=(*craft.design.weights, item))


def _way(craft: Craft) -> Way:
    found = steering.assess(craft)
    if found is None:
        raise NoWay("It does not run, so nothing is known of its course.")
    if found.fin is None:
        raise NoWay(COURSE.kept)
    name = free_name(craft.design, "stern fin")

    def title(area: float, _: Craft) -> Words:
        return "A fin of {area:area} under the stern", {"area": area}

    def work(area: float, _: Craft) -> Words:
        return "a blade of sheet or glass, glued into a slot; deeper draft", {}

    return Way(0.0, MOST * found.fin, lambda area: with_blade(craft, name, area), title, work)


CHANGE = Change("fin", "A fin under the stern", 280, _way, aim=COURSE)

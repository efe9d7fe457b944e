"""A float behind the transom against trim, or one on each side against heel, just wide enough under the forces asked about."""

import dataclasses
import math
from dataclasses import dataclass
from typing import Literal

import numpy as np

from yarekeel.core.errors import NoAnswer, NoRest
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.hydrostatics.forces import Overpowered
from yarekeel.core.kept import kept
from yarekeel.core.quantities import Metres, Radians
from yarekeel.core.search import edge
from yarekeel.stages.afloat import forced
from yarekeel.stages.changes.change import free_name
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.design.limits import limit_always

What = Literal["stern", "sides"]
NARROWEST: Metres = 0.021
"""A float narrower than that is a stick (and the box family ends there)."""


@dataclass(frozen=True, slots=True)
class SizedFloat:
    """A body added against the forces, and what is left of the trim or heel with it."""

    body: Body
    size: Metres
    left: Radians


@kept
def sized(craft: Craft, forces: forced.Forces, what: What) -> SizedFloat:
    """Buoyancy behind the transom against trim, or a float on each side against heel, just wide enough for the trim or heel
    under the forces to be what the brief allows. Its own weight is not in it. Raises NoAnswer, with what is left at the widest."""
    allowed = limit_always(craft.design.brief, "trim" if what == "stern" else "heel").asked

    def left(body: Body) -> Radians:
        design = dataclasses.replace(craft.design, bodies=(*craft.design.bodies, body))
        try:
            a = forced.solve(Craft(design), forces).afloat.attitude
        except (NoRest, Overpowered):
            return math.inf
        return abs(a.trim if what == "stern" else a.heel)

    beam = float(np.ptp(craft.hull.mesh.bounds, axis=0)[1])
    least, most = NARROWEST, (1.2 if what == "stern" else 0.5) * beam
    if left(_float(craft, what, least)) <= allowed:
        raise NoAnswer(f"It keeps within what you allow as it is, or with a float {1000 * NARROWEST:.0f} mm wide.")
    at_most = left(_float(craft, what, most))
    if at_most > allowed:
        said = "it still goes over" if math.isinf(at_most) else f"{math.degrees(at_most):.1f}° are still left"
        wide = "as wide as the boat" if what == "stern" else "half as wide as the boat"
        raise NoAnswer(f"Even {wide} {said}; take force off, or lower it.")
    size = edge(lambda wide: allowed - left(_float(craft, what, wide)), least, most, 1e-6 * most)
    body = _float(craft, what, size)
    return SizedFloat(body, size, left(body))


def _float(craft: Craft, what: What, size: Metres) -> Body:
    """A box behind the transom ``size`` wide, or one along each side ``size`` wide."""
    low, high = craft.hull.mesh.bounds
    length, _, depth = (float(v) for v in high - low)
    name = free_name(craft.design, "stern float" if what == "stern" else "side float")
    if what == "stern":
        long = max(0.15 * length, NARROWEST)
        return Body(name, Box(long, size, depth), (float(low[0]) - 0.95 * long, 0.0, float(low[2])), role="float")
    long = 0.5 * length
    at = (float(low[0]) + 0.2 * length, float(high[1]) + 0.4 * size, float(low[2]))
    return Body(name, Box(long, size, 0.8 * depth), at, mirrored=True, role="float")


def with_float(craft: Craft, answer: SizedFloat) -> Design:
    """The boat with the float on it. Raises InvalidInput when it cannot be built."""
    design = dataclasses.replace(craft.design, bodies=(*craft.design.bodies, answer.body))
    Craft(design).hull  # noqa: B018 refused here
    return design

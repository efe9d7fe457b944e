"""A foil for a boat that has none there: sized to its weight, at a usual place under the hull."""

import dataclasses
import math
from typing import Literal

from yarekeel.core.constants import STANDARD_GRAVITY
from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.families.strut import Strut
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.resistance.friction import hull_speed
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.running.boat import bare_hull
from yarekeel.stages.running.foils import wings_of

FRONT, REAR = 0.75, 0.10
"""Of the hull's length from aft: where foils usually sit (common practice)."""
LIFT: Ratio = 0.5
"""Lift coefficient at lift-off that a foil is sized for (common practice: 0.4 to 0.6)."""
OFF: Ratio = 1.6
"""Hull speeds at which a new pair of foils is to lift it."""
ASPECT: Ratio = 6.0


def numbers(craft: Craft) -> tuple[int, ...]:
    """Of the bodies that are wings."""
    return tuple(n for n, _ in wings_of(craft))


def added(craft: Craft, where: Literal["front", "rear"]) -> Design:
    """The boat with a foil and a strut that holds it, sized so that it carries half the weight from 1.6 hull speeds; it lies a chord and
    more below the keel. Raises InvalidInput for a boat that weighs nothing."""
    low, high = bare_hull(craft).bounds
    length = float(high[0] - low[0])
    speed = OFF * hull_speed(length)
    area = craft.mass * STANDARD_GRAVITY / 2 / (craft.density / 2 * speed**2 * LIFT)
    span = math.sqrt(ASPECT * area)
    mean = area / span
    depth: Metres = max(1.5 * mean, 0.1 * length)
    x = float(low[0]) + (FRONT if where == "front" else REAR) * length
    z = float(low[2]) - depth
    wing = FoilWing(
        span_m=_rounded(span),
        chord_m=_rounded(mean / 0.85),
        taper=0.7,
        incidence_deg=3.0 if where == "front" else 2.0,
        camber=0.03,
        dihedral_deg=15.0 if where == "front" else 0.0,
        flap=0.0 if where == "front" else 0.25,
    )
    strut = Strut(height_m=_rounded(depth + 0.02 * length), chord_m=_rounded(mean), taper=0.9)
    taken = {b.name for b in craft.design.bodies}

    def name(words: str) -> str:
        return next(n for n in (words, *(f"{words} {k}" for k in range(2, 1000))) if n not in taken)

    bodies = (
        *craft.design.bodies,
        Body(name(f"{where} foil"), wing, (round(x, 4), 0.0, round(z, 4)), role="appendage"),
        Body(name(f"{where} strut"), strut, (round(x - 0.7 * mean, 4), 0.0, round(z, 4)), role="appendage"),
    )
    changed = dataclasses.replace(craft.design, bodies=bodies)
    Craft(changed).hull  # noqa: B018 what cannot be built is refused here
    return changed


def _rounded(metres: Metres) -> Metres:
    return round(metres, 3) if metres < 1 else round(metres, 2)

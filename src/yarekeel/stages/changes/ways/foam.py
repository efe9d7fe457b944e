"""Foam along the sides under the rim, as much as the swamped boat needs to carry what is asked."""

import dataclasses
import math
from contextlib import suppress
from dataclasses import dataclass

from yarekeel.core.errors import InvalidInput, NoAnswer, NoRest
from yarekeel.core.geometry.families.box import Box
from yarekeel.core.geometry.flotation import Flotation
from yarekeel.core.geometry.mesh import block
from yarekeel.core.hydrostatics.afloat import float_boat
from yarekeel.core.hydrostatics.curves import side_top, waterline_at
from yarekeel.core.hydrostatics.inside import Laden, Part
from yarekeel.core.quantities import CubicMetres, Kilograms, Metres, Point, Radians, Ratio
from yarekeel.core.search import root
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.foam import Foam
from yarekeel.stages.afloat import swamped
from yarekeel.stages.changes.change import free_name
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design

FOAM_PLACES = 8
CLOSE: Ratio = 1e-8
"""Of the hull: the blocks' place is known to that."""


@dataclass(frozen=True, slots=True)
class FoamAnswer:
    """Two blocks of foam, one on each side: their size, their middle on the port side, what they weigh and lift, and the trim
    of the swamped boat with them (0 where a place was found that levels it)."""

    volume: CubicMetres
    size: Point
    at: Point
    mass: Kilograms
    lifts: Kilograms
    trim: Radians


def foam_for(craft: Craft, spare: Kilograms, material: str = "xps", long: Metres | None = None) -> FoamAnswer:
    """Foam that lets the swamped boat carry ``spare`` more before it sinks, in a block along each side under the rim.

    Foam lifts (rho - rho_foam) per volume, its own weight taken off. Its place along the boat is where the swamped boat
    floats level, else the end that comes nearest. Raises NoAnswer where it has enough, or where the blocks would not fit inside.
    """
    stuff = craft.find_material(material)
    if stuff is None or stuff.density >= craft.density:
        raise InvalidInput("foam", "Choose a foam that is lighter than water.")
    now = swamped.assess(craft)
    rho = craft.density
    volume = (spare - now.carries) / (rho - stuff.density)
    if volume <= 0:
        raise NoAnswer("It carries that already: no foam is needed.")
    mesh = craft.hull.mesh
    low, high = mesh.bounds
    length = long or 0.4 * float(high[0] - low[0])
    side = math.sqrt(volume / 2 / length)
    ends = float(low[0]) + length / 2, float(high[0]) - length / 2

    def answer(x: Metres) -> FoamAnswer | None:
        spots = [x + share * length for share in (-0.499, -0.25, 0.0, 0.25, 0.499)]
        top = min(side_top(mesh, s) for s in spots)
        widths = [waterline_at(mesh, s, top - side) for s in spots]
        beam = min((w[0] if w else 0.0 for w in widths), default=0.0)
        if beam < side or top - side < float(low[2]):
            return None
        at = (x, beam - side / 2, top - side / 2)
        return FoamAnswer(
            volume=volume, size=(length, side, side), at=at, mass=volume * stuff.density, lifts=volume * (rho - stuff.density), trim=0.0
        )

    fits = [a for a in (answer(ends[0] + (ends[1] - ends[0]) * k / FOAM_PLACES) for k in range(FOAM_PLACES + 1)) if a]
    if not fits:
        raise NoAnswer(f"Blocks of {volume * 1000:.3g} l do not fit under the rim: this boat needs a sealed space as well.")

    def tried(a: FoamAnswer) -> FoamAnswer:
        return dataclasses.replace(a, trim=_trim_with(craft, now.kernel, a))

    found = {a.at[0]: a for a in (tried(fits[0]), tried(fits[-1]))}

    def trim_at(x: Metres) -> Radians:
        if x not in found:
            fitting = answer(x)
            if fitting is None:
                raise NoRoom
            found[x] = tried(fitting)
        return found[x].trim

    with suppress(NoRoom):  # between two places that fit there is one that does not: the better of those tried
        root(trim_at, fits[0].at[0], fits[-1].at[0], CLOSE * (ends[1] - ends[0]))
    return min(found.values(), key=lambda a: abs(a.trim))


class NoRoom(Exception):
    """The blocks do not fit there."""


def _trim_with(craft: Craft, kernel: Laden, foam: FoamAnswer) -> Radians:
    """Trim of the swamped boat with two blocks of foam in it, nobody aboard or holding on."""
    items = [i for i in craft.items if i.mass_kg > 0 and i.group != "crew"]
    masses, places = [*(i.mass_kg for i in items), foam.mass], [*(i.at_m for i in items), (foam.at[0], 0.0, foam.at[2])]
    mass = math.fsum(masses)
    x, y, z = (math.fsum(m * p[k] for m, p in zip(masses, places, strict=True)) / mass for k in range(3))
    long, wide, deep = foam.size
    one = block(long, wide, deep)
    blocks = [one.moved((foam.at[0] - long / 2, side * foam.at[1], foam.at[2] - deep / 2)) for side in (1, -1)]
    parts = [*kernel.parts, *(Part(Flotation(b, kernel.centre)) for b in blocks)]
    try:
        return float_boat(
            hull=craft.hull, mass=mass, gravity=(x, y, z), density=craft.density, start=None, kernel=Laden(craft.hull.kernel, parts)
        ).attitude.trim
    except NoRest:
        raise NoAnswer("Even with the foam it does not settle; lighten it first.") from None


def with_foam(craft: Craft, answer: FoamAnswer, material: str = "xps") -> Design:
    """The boat with the two blocks in it, and what they weigh on the list."""
    name = free_name(craft.design, "side foam")
    long, wide, deep = answer.size
    x, y, z = answer.at
    body = Body(name, Box(long, wide, deep), (x - long / 2, y, z - deep / 2), mirrored=True, role="foam")
    line = WeightItem(name.capitalize(), answer.mass, (x, 0.0, z), "data", group="foam", recipe=Foam(name, 1.0, material))
    return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, body), weights=(*craft.design.weights, line))

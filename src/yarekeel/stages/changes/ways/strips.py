"""Side strips of foam under glass, let into the sides: light, and permanent (common practice)."""

import dataclasses

from yarekeel.core.geometry.families.box import Box
from yarekeel.core.hydrostatics import curves
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.change import Change, Way, Words, afloat_now, free_name, main_hull
from yarekeel.stages.changes.prices import foam_under_glass
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design


def _way(craft: Craft) -> Way:
    hull = craft.piece(main_hull(craft))
    low, high = hull.bounds
    length, beam, depth = (float(v) for v in high - low)
    rest = afloat_now(craft)
    level = -rest.upright.attitude.height_of((float(low[0] + high[0]) / 2, 0.0, 0.0))
    tall = min(max(0.45 * depth, 0.005), 0.9 * depth)
    bottom = min(max(level - 0.5 * tall, float(low[2])), float(high[2]) - tall)
    name = free_name(craft.design, "side strip")
    long, aft = 0.5 * length, float(low[0]) + 0.25 * length
    # Bent along the side, a strip lies as far out as the side does in the mean; let in a little, so that it touches.
    met = [curves.waterline_at(hull, aft + long * (k + 0.5) / 8, bottom + tall / 2) for k in range(8)]
    side = sum(m[0] for m in met if m) / max(sum(1 for m in met if m), 1) or beam / 2
    let_in = 0.02 * beam

    def make(wide: float) -> Design:
        at = (aft, side + (wide - let_in) / 2, bottom)
        one = Body(name, Box(long, wide + let_in, tall), at, mirrored=True, role="foam")
        mass = 2 * foam_under_glass(craft, long * wide * tall, long * (2 * wide + tall))
        middle = (aft + long / 2, 0.0, bottom + tall / 2)
        item = WeightItem(f"{name[:1].upper()}{name[1:]}s", mass, middle, "guessed", group="structure")
        return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, one), weights=(*craft.design.weights, item))

    def title(wide: float, _: Craft) -> Words:
        return "Side strips {wide:length} wide", {"wide": wide}

    def work(wide: float, _: Craft) -> Words:
        values: dict[str, float | str] = {"volume": 2 * long * wide * tall, "skin": 2 * long * (2 * wide + tall), "tall": tall}
        return "foam {volume:volume}, glass {skin:area}, {tall:length} high", values

    return Way(0.0, 0.6 * beam, make, title, work)


CHANGE = Change("strips", "Side strips", 80, _way)

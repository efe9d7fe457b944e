"""Outriggers: a float of foam under glass on each side. Most stable per gram, and wide (common practice)."""

import dataclasses

from yarekeel.core.geometry.families.pontoon import Pontoon
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.change import Change, Way, Words, afloat_now, free_name, main_hull
from yarekeel.stages.changes.prices import BEAMS, coated
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design
from yarekeel.stages.design.outers import has_floats, is_pair


def _way(craft: Craft) -> Way:
    low, high = craft.piece(main_hull(craft)).bounds
    length, beam, depth = (float(v) for v in high - low)
    name = free_name(craft.design, "outrigger")
    rest = afloat_now(craft)
    y = 0.5 * beam + 0.6 * beam

    def body(deep: float) -> Body:
        long = max(min(12 * deep, 0.6 * length), 0.02)
        # A third of it in the water at rest: it holds from the first degree.
        z = -rest.upright.attitude.height_of((craft.total.centre[0], 0.0, 0.0)) - deep / 3
        at = (craft.total.centre[0] - 0.45 * long, y, z)
        return Body(name, Pontoon(long, max(1.1 * deep, 0.02), deep, 0.3 * long), at, mirrored=True, role="float")

    def make(deep: float) -> Design:
        one = body(deep)
        at = (craft.total.centre[0], 0.0, one.at_m[2] + 0.8 * deep)
        mass = coated(craft, one).mass * (1 + BEAMS)
        item = WeightItem(f"{name[:1].upper()}{name[1:]}s and beams", mass, at, "guessed", group="structure")
        return dataclasses.replace(craft.design, bodies=(*craft.design.bodies, one), weights=(*craft.design.weights, item))

    def title(deep: float, after: Craft) -> Words:
        one = body(deep)
        values: dict[str, float | str] = {"volume": coated(craft, one).volume / 2, "y": y, "up": one.at_m[2]}
        return "Outriggers: {volume:volume} each, {y:length} out, {up:length} up", values

    def work(deep: float, after: Craft) -> Words:
        takes = coated(craft, body(deep))
        text = "foam {volume:volume}, glass {skin:area}, two beams {span:length}"
        return text, {"volume": takes.volume, "skin": takes.skin, "span": 2 * y}

    return Way(max(0.005, 0.02 * depth), 0.8 * depth, make, title, work)


CHANGE = Change("outrigger", "Outriggers", 60, _way, lambda craft: not has_floats(craft) and not is_pair(craft))

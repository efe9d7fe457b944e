"""Water ballast: a full tank low in the hull, carried only afloat (common practice)."""

import dataclasses

from yarekeel.core.errors import InvalidInput
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, free_name, main_hull
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, Design


def _way(craft: Craft) -> Way:
    number = main_hull(craft)
    body = craft.design.bodies[number]
    low, high = craft.piece(number).bounds
    length, depth = float(high[0] - low[0]), float(high[2] - low[2])
    if any(c.body == body.name and c.use == "dry" and c.low_m is None and c.high_m is None for c in craft.design.compartments):
        raise NoWay("The space at the bottom of {body} is a compartment already; make it a tank in Float.", {"body": body.name})
    name = free_name(craft.design, "water ballast")
    x = craft.total.centre[0]
    aft, fore = max(float(low[0]), x - 0.25 * length), min(float(high[0]), x + 0.25 * length)

    def make(up: float) -> Design:
        space = Compartment(name, body.name, aft, fore, high_m=float(low[2]) + up, use="tank", filled=1.0)
        changed = dataclasses.replace(craft.design, compartments=(*craft.design.compartments, space))
        if Craft(changed).spaces[-1].kernel is None:
            raise InvalidInput("compartments", Craft(changed).spaces[-1].fault)
        return changed

    def title(up: float, after: Craft) -> Words:
        return "Water ballast: a full tank of {volume:volume}", {"volume": after.spaces[-1].capacity}

    def work(up: float, after: Craft) -> Words:
        return "a tank {up:length} high, {long:length} long, filler, vent, pump", {"up": up, "long": fore - aft}

    return Way(0.0, 0.7 * depth, make, title, work)


CHANGE = Change("water", "Water ballast", 20, _way)

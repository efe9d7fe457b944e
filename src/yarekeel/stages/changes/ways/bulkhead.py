"""Bulkheads across the hull, until it still floats with any one of the spaces full."""

import dataclasses
from itertools import pairwise

from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.aims import FLOODED
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, free_name, main_hull
from yarekeel.stages.changes.prices import BULKHEAD
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, Design

MOST = 6


def _way(craft: Craft) -> Way:
    number = main_hull(craft)
    body = craft.design.bodies[number]
    if body.deck == "open":
        raise NoWay("An open hull fills over its edge whatever stands across it; give it closed spaces or foam.")
    if any(c.body == body.name for c in craft.design.compartments):
        raise NoWay("It is divided already; move its bulkheads on Shape.")
    low, high = craft.piece(number).bounds
    start, length = float(low[0]), float(high[0] - low[0])
    section = float((high[1] - low[1]) * (high[2] - low[2]))
    name = free_name(craft.design, "Space")

    def make(count: float) -> Design:
        n = round(count)
        planes = [None, *(start + length * k / (n + 1) for k in range(1, n + 1)), None]
        rooms = tuple(Compartment(f"{name} {k}", body.name, aft, fore) for k, (aft, fore) in enumerate(pairwise(planes), 1))
        middle = (start + length / 2, 0.0, float(low[2] + high[2]) / 2)
        item = WeightItem("Bulkheads", BULKHEAD[craft.design.brief.kind] * section * n, middle, "guessed", group="structure")
        design = craft.design
        return dataclasses.replace(design, compartments=(*design.compartments, *rooms), weights=(*design.weights, item))

    def title(count: float, _: Craft) -> Words:
        return ("{n:count} bulkheads, evenly spread" if count > 1 else "A bulkhead amidships"), {"n": count}

    def work(count: float, _: Craft) -> Words:
        return "sheet cut to the section and sealed all round; a hatch for each space", {}

    return Way(0.0, float(MOST), make, title, work, 1.0)


CHANGE = Change("bulkhead", "Bulkheads", 360, _way, aim=FLOODED)

"""The boat that the stand-ins are aboard of: as listed, but for what a list does not know. Each weight is off by a chance that its
own spread allows, each guessed height by a little; the same every time for the same boat."""

import dataclasses
import random

from yarekeel.core.quantities import Ratio
from yarekeel.stages.design.craft import Craft

UNSURE_HEIGHT: Ratio = 0.03
"""Of the depth: by so much the heights of guessed things are off (one standard deviation)."""


def true_boat(craft: Craft) -> Craft:
    """The boat with its true weights, line for line as listed."""
    masses, heights = random.Random(craft.design.name), random.Random(f"{craft.design.name} heights")
    low, high = craft.hull.mesh.bounds
    depth = float(high[2] - low[2])
    lines = []
    for item in craft.acting:
        x, y, z = item.at_m
        mass = max(0.0, item.mass_kg * (1 + masses.gauss(0.0, item.share / 2)))
        off = heights.gauss(0.0, UNSURE_HEIGHT * depth)
        up = z + (off if item.known == "guessed" and not item.fixed else 0.0)
        plain = dataclasses.replace(item, recipe=None, quantity=1.0, on=True, pair=False, hung_m=0.0)
        lines.append(dataclasses.replace(plain, mass_kg=mass, at_m=(x, y, up)))
    return Craft(dataclasses.replace(craft.design, weights=tuple(lines), cases=(), case=""))

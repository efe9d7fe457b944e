"""The side floats further out: longer beams, more lever."""

import dataclasses
import math

from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.outers import has_floats, outers_of


def _way(craft: Craft) -> Way:
    numbers = {o.number for o in outers_of(craft) if o.is_float}
    now = max(abs(craft.design.bodies[n].at_m[1]) for n in numbers)

    def make(by: float) -> Design:
        bodies = tuple(
            dataclasses.replace(b, at_m=(b.at_m[0], b.at_m[1] + math.copysign(by, b.at_m[1]), b.at_m[2])) if n in numbers else b
            for n, b in enumerate(craft.design.bodies)
        )
        return dataclasses.replace(craft.design, bodies=bodies)

    def title(by: float, _: Craft) -> Words:
        return "Floats {by:length} further out on each side", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "cross beams {more:length} longer", {"more": 2 * by}

    return Way(0.0, 1.0 * now, make, title, work)


CHANGE = Change("apart", "Floats further out", 50, _way, has_floats)

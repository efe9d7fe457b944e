"""A drain with a plug where water gathers as the boat lies: found, let out, and seen to be gone."""

import dataclasses

import numpy as np

from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, afloat_now, free_name, main_hull
from yarekeel.stages.changes.prices import DRAIN
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

NAME = "Drain plug"


def _way(craft: Craft) -> Way:
    if any(w.name.startswith(NAME) for w in craft.design.weights):
        raise NoWay("It has a drain already; look at its plug.")
    attitude = afloat_now(craft).attitude
    vertices = craft.piece(main_hull(craft)).vertices
    x, y, z = (float(v) for v in vertices[int(np.argmin(vertices @ np.array(attitude.up)))])

    def make(_: float) -> Design:
        item = WeightItem(free_name(craft.design, NAME), DRAIN[craft.design.brief.kind], (x, y, z), "guessed", group="structure")
        return dataclasses.replace(craft.design, weights=(*craft.design.weights, item))

    def title(_: float, __: Craft) -> Words:
        return "A drain with a plug, {x:length} from aft", {"x": x}

    def work(_: float, __: Craft) -> Words:
        return "a fitting bedded in sealant at the lowest place as it lies; weigh the boat before and after it is drained", {}

    return Way(0.0, 1.0, make, title, work)


CHANGE = Change("drain", "A drain", 370, _way, aim=None)

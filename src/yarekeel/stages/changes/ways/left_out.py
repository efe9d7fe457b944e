"""A part left ashore: the lightest that brings the boat to the mass it is to have."""

import dataclasses

from yarekeel.stages.changes.aims import MASS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design


def _way(craft: Craft) -> Way:
    items = craft.items
    listed = [k for k, w in enumerate(craft.design.weights) if not w.structure and items[k].mass_kg > 0 and w.group != "drive"]
    order = sorted(listed, key=lambda k: items[k].mass_kg)
    if not order:
        raise NoWay("Nothing aboard can be left ashore.")

    def which(amount: float) -> int:
        return order[min(max(round(amount), 1), len(order)) - 1]

    def make(amount: float) -> Design:
        k = which(amount)
        lines = tuple(dataclasses.replace(w, on=False) if n == k else w for n, w in enumerate(craft.design.weights))
        return dataclasses.replace(craft.design, weights=lines)

    def title(amount: float, _: Craft) -> Words:
        return "Leave {name} ashore", {"name": items[which(amount)].name}

    def work(amount: float, _: Craft) -> Words:
        return "free, if it can be done without", {}

    return Way(0.0, float(len(order)), make, title, work, 1.0)


CHANGE = Change("left_out", "Leave a part ashore", 340, _way, aim=MASS)

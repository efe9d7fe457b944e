"""Seats or loose weights lower: it costs nothing until the floor is reached (common practice)."""

import dataclasses

from yarekeel.stages.changes.change import Change, NoWay, Way, Words, main_hull
from yarekeel.stages.changes.prices import SEAT_OVER_FLOOR
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design


def _way(craft: Craft) -> Way:
    items = craft.items
    crew = [k for k, i in enumerate(items) if i.group == "crew" and i.mass_kg > 0 and not i.fixed]
    low = float(craft.hull.mesh.bounds[0][2]) if not crew else float(craft.piece(main_hull(craft)).bounds[0][2])
    if crew:
        which, room = crew, min(items[k].at_m[2] for k in crew) - (low + SEAT_OVER_FLOOR)
    else:
        which = [k for k, i in enumerate(items) if i.mass_kg > 0 and not i.structure and not i.fixed and i.at_m[2] > low]
        room = max((items[k].at_m[2] for k in which), default=low) - low
    if not which or room <= 1e-4:
        raise NoWay("Those aboard sit as low as they can." if crew else "Nothing that is loose could go lower.")
    floor = low + (SEAT_OVER_FLOOR if crew else 0.05 * float(craft.hull.mesh.bounds[1][2] - craft.hull.mesh.bounds[0][2]))

    def make(by: float) -> Design:
        weights = list(craft.design.weights)
        for k in which:
            x, y, z = weights[k].at_m
            weights[k] = dataclasses.replace(weights[k], at_m=(x, y, max(z - by, min(z, floor))))
        return dataclasses.replace(craft.design, weights=tuple(weights))

    def title(by: float, _: Craft) -> Words:
        return ("Seats {by:length} lower" if crew else "Loose weights {by:length} lower"), {"by": by}

    def work(by: float, _: Craft) -> Words:
        return ("cut the seats down" if crew else "shift and strap down"), {}

    return Way(0.0, room, make, title, work)


CHANGE = Change("seat", "Lower weights", 30, _way)

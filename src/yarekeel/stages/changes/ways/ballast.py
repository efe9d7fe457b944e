"""Ballast: lead low in the boat. Simple, and heavier to carry (common practice)."""

import dataclasses

from yarekeel.core.quantities import Ratio
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.change import Change, NoWay, Way, Words, free_name, main_hull
from yarekeel.stages.changes.prices import lead_volume
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

UP: Ratio = 0.08
"""Of the depth: it lies that high on the bottom."""


def _way(craft: Craft) -> Way:
    main = craft.piece(main_hull(craft)).bounds
    total = craft.total
    z = float(main[0][2] + UP * (main[1][2] - main[0][2]))
    reserve = craft.hull.kernel.total_volume * craft.density - craft.mass
    most = min(2.0 * total.mass, 0.9 * reserve)
    if most <= 0:
        raise NoWay("It has no buoyancy to spare for ballast.")
    name = free_name(craft.design, "Ballast")

    def make(kg: float) -> Design:
        item = WeightItem(name, kg, (total.centre[0], 0.0, z), "weighed", group="ballast", material="lead")
        return dataclasses.replace(craft.design, weights=(*craft.design.weights, item))

    def title(kg: float, _: Craft) -> Words:
        return "Ballast: {kg:mass} at {x:length} from aft", {"kg": kg, "x": total.centre[0]}

    def work(kg: float, _: Craft) -> Words:
        return "lead, {volume:volume}, fixed low", {"volume": lead_volume(kg)}

    return Way(0.0, most, make, title, work)


CHANGE = Change("ballast", "Ballast", 10, _way)

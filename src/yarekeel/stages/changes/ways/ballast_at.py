"""Ballast at a chosen place from aft, on the bottom, as much as levels the boat fore and aft."""

import dataclasses

from yarekeel.core.hydrostatics.afloat import level_centre
from yarekeel.core.quantities import Kilograms, Metres, Ratio
from yarekeel.core.search import root
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.changes.prices import LEAD_LOW
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

UP: Ratio = 0.1
"""Of the depth: it lies on the bottom."""


def mass_that_levels(craft: Craft, x: Metres) -> Kilograms | None:
    """Mass at ``x`` that brings the trim to nothing: the least root of the moment about the level boat's B; None if no mass there
    does."""
    total = craft.total
    most = min(total.mass, 0.98 * craft.kernel.total_volume * craft.density - total.mass)

    def bow_heavy(mass: Kilograms) -> Metres:
        whole = total.mass + mass
        return (total.mass * total.centre[0] + mass * x) / whole - level_centre(craft.kernel, whole / craft.density)[0]

    return root(bow_heavy, 0.0, most, 1e-12 * total.mass) if most > 0 else None


def usual_place(craft: Craft) -> Metres:
    """The end that rides high."""
    low, high = craft.hull.mesh.bounds
    stern_light = craft.total.centre[0] > level_centre(craft.kernel, craft.total.mass / craft.density)[0]
    return float(low[0] + (0.05 if stern_light else 0.85) * (high[0] - low[0]))


def way_of(craft: Craft, x: Metres | None) -> Way:
    """Ballast up to what levels it. Raises NoWay where none does."""
    at_x = usual_place(craft) if x is None else x
    most = mass_that_levels(craft, at_x)
    if most is None:
        raise NoWay("No mass there brings it level: that end already rides low.", {"x": at_x})
    low, high = craft.hull.mesh.bounds
    at = (round(at_x, 6) + 0.0, 0.0, round(float(low[2] + UP * (high[2] - low[2])), 6) + 0.0)

    def make(kg: float) -> Design:
        item = WeightItem("Ballast", round(kg, 6), at, "weighed", group="ballast")
        return dataclasses.replace(craft.design, weights=(*craft.design.weights, item))

    def title(kg: float, _: Craft) -> Words:
        return "{mass:mass} ballast {x:length} from aft", {"mass": kg, "x": at_x}

    def work(kg: float, _: Craft) -> Words:
        return LEAD_LOW, {}

    return Way(0.0, most, make, title, work)


CHANGE = Change("ballast_at", "Ballast that levels it", 15, lambda craft: way_of(craft, None), aim=None)

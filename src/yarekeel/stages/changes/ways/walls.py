"""Thinner walls and skins, as far as they are estimated and not weighed."""

import dataclasses
from typing import Any

from yarekeel.core.quantities import Ratio
from yarekeel.core.weights.items import WeightItem
from yarekeel.core.weights.recipes.printed import Printed
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.changes.aims import MASS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design

MOST: Ratio = 0.5
"""Of the thickness: past that it is another way of building."""


def _thinner(item: WeightItem, by: Ratio) -> WeightItem:
    recipe: Any = item.recipe
    if isinstance(recipe, Skin):
        return dataclasses.replace(item, recipe=dataclasses.replace(recipe, thickness_m=recipe.thickness_m * (1 - by)))
    if isinstance(recipe, Printed):
        return dataclasses.replace(item, recipe=dataclasses.replace(recipe, walls=max(1, round(recipe.walls * (1 - by)))))
    return item


def _way(craft: Craft) -> Way:
    found = [i for i in craft.design.weights if (isinstance(i.recipe, Skin) and i.recipe.thickness_m > 0) or isinstance(i.recipe, Printed)]
    if not found:
        raise NoWay("No wall or skin of its list is an estimate that has a thickness.")

    def make(by: float) -> Design:
        return dataclasses.replace(craft.design, weights=tuple(_thinner(i, by) for i in craft.design.weights))

    def title(by: float, _: Craft) -> Words:
        return "Walls and skins {by:percent} thinner", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "a new hull; stiffen what bends with frames, and prove it before it carries anybody", {}

    return Way(0.0, MOST, make, title, work)


CHANGE = Change("walls", "Thinner walls", 330, _way, aim=MASS)

"""The whole boat larger in every length."""

from yarekeel.core.quantities import Ratio
from yarekeel.stages.changes.aims import FREEBOARD
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.changes.prices import NEW_HULL
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.resizing import scaled

MOST: Ratio = 2.0
"""A hull twice as long is another boat."""


def _way(craft: Craft) -> Way:
    def make(factor: float) -> Design:
        return scaled(craft.design, factor)

    def title(factor: float, _: Craft) -> Words:
        return "Hull {by:percent1} larger, every length", {"by": factor - 1}

    def work(factor: float, _: Craft) -> Words:
        return NEW_HULL, {}

    return Way(1.0, MOST, make, title, work)


CHANGE = Change("scale", "A larger hull", 100, _way, aim=FREEBOARD)

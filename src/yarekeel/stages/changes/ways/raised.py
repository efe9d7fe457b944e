"""Openings raised on a coaming, until the lowest keeps the freeboard that is asked for."""

import dataclasses

from yarekeel.core.quantities import Metres
from yarekeel.stages.changes.aims import OPENINGS
from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design


def _raised(body: Body, by: Metres) -> Body:
    openings = tuple(dataclasses.replace(o, at_m=(o.at_m[0], o.at_m[1], o.at_m[2] + by)) for o in body.openings)
    return dataclasses.replace(body, openings=openings)


def _way(craft: Craft) -> Way:
    if not craft.openings:
        raise NoWay("It has no openings on the list; enter them on Shape.")
    if craft.hull.open:
        raise NoWay("Water comes in over its open edge before it reaches an opening.")

    def make(by: float) -> Design:
        return dataclasses.replace(craft.design, bodies=tuple(_raised(b, by) for b in craft.design.bodies))

    def title(by: float, _: Craft) -> Words:
        return "Openings {by:length} higher", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "a coaming round each, or a new hole higher up and the old one closed", {}

    return Way(0.0, craft.hull.depth, make, title, work)


CHANGE = Change("raised", "Openings higher", 350, _way, aim=OPENINGS)

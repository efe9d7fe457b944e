"""The front foil further forward or aft: it takes another share of the weight."""

import dataclasses

from yarekeel.core.quantities import Ratio
from yarekeel.stages.changes.aims import FOILS
from yarekeel.stages.changes.change import Change, Way, Words
from yarekeel.stages.changes.ways.foil_angle import end_foil
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Design

REACH: Ratio = 0.25
"""Of the hull's length, that a foil is shifted by at most."""
NEAR: Ratio = 1.5
"""Chords from the foil within which a strut goes along."""
STEPS = 50


def _way(craft: Craft) -> Way:
    number, foil = end_foil(craft, front=True)
    low, high = craft.hull.mesh.bounds
    most = REACH * float(high[0] - low[0])
    chord = float(getattr(foil.shape, "chord_m", 0.0))

    def shifted(n: int, body: Body, by: float) -> Body:
        goes = n == number or (body.role == "appendage" and abs(body.at_m[0] - foil.at_m[0]) <= NEAR * chord)
        return dataclasses.replace(body, at_m=(body.at_m[0] + by, body.at_m[1], body.at_m[2])) if goes else body

    def make(by: float) -> Design:
        return dataclasses.replace(craft.design, bodies=tuple(shifted(n, b, by) for n, b in enumerate(craft.design.bodies)))

    def title(by: float, _: Craft) -> Words:
        return "Front foil {by:fore_aft}", {"by": by}

    def work(by: float, _: Craft) -> Words:
        return "new holes for its strut, the old ones closed", {}

    return Way(0.0, most, make, title, work, most / STEPS, either_way=True)


CHANGE = Change("foil_place", "Another place of the front foil", 310, _way, aim=FOILS)

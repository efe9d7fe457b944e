"""Baffles along a tank that is part full: its liquid runs less far to the low side."""

import dataclasses
from itertools import pairwise

from yarekeel.stages.changes.change import Change, NoWay, Way, Words
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Compartment, Design

MOST = 4
BREADTHS = 1e-3
"""Of the tank's breadth: planes at its very sides are none."""


def _slack(craft: Craft) -> tuple[int, ...]:
    """Tanks that are neither empty nor full."""
    return tuple(n for n, c in enumerate(craft.design.compartments) if c.use == "tank" and 0 < c.filled < 1)


def _way(craft: Craft) -> Way:
    slack = _slack(craft)
    if not slack:
        raise NoWay("No tank of it is part full.")

    def split(one: Compartment, n: int, parts: int) -> tuple[Compartment, ...]:
        mesh = craft.spaces[n].mesh
        if mesh is None:
            return (one,)
        low, high = float(mesh.bounds[0][1]), float(mesh.bounds[1][1])
        planes = [one.starboard_m, *(low + (high - low) * k / parts for k in range(1, parts)), one.port_m]
        return tuple(
            dataclasses.replace(one, name=f"{one.name} {k}", starboard_m=a, port_m=b) for k, (a, b) in enumerate(pairwise(planes), 1)
        )

    def make(count: float) -> Design:
        rooms: list[Compartment] = []
        for n, one in enumerate(craft.design.compartments):
            rooms += split(one, n, round(count) + 1) if n in slack else (one,)
        return dataclasses.replace(craft.design, compartments=tuple(rooms))

    def title(count: float, _: Craft) -> Words:
        where = craft.design.compartments[slack[0]].name if len(slack) == 1 else "each tank that is part full"
        return ("{n:count} baffles along {where}" if count > 1 else "A baffle along {where}"), {"n": count, "where": where}

    def work(count: float, _: Craft) -> Words:
        return "sheet glued in fore and aft, tight to the walls", {}

    return Way(0.0, float(MOST), make, title, work, 1.0)


CHANGE = Change("baffles", "Baffles in the tanks", 85, _way, lambda craft: bool(_slack(craft)))

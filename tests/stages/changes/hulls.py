"""Boats whose sums are done by hand, shared by the tests of changes."""

import dataclasses

from tests.stages.stability.test_stability import heavy_raft
from yarekeel.core.geometry.families import Box
from yarekeel.core.water import Water
from yarekeel.core.weights.items import WeightItem
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body, Compartment, Design


def box(mass: float = 180.0, x: float = 1.0, y: float = 0.0, z: float = 0.1, *more: WeightItem, **changes) -> Craft:
    """The decked raft of 2 x 0.6 x 0.3 m with a mass at a place."""
    items = (WeightItem("all up", mass, (x, y, z), "weighed"), *more)
    return Craft(dataclasses.replace(heavy_raft(), weights=items, **changes))


def shifted(craft: Craft) -> Craft:
    """The same boat drawn 3 m further forward and 0.2 m lower, as its weights are: what is said of it must not hang on its origin."""
    by = (3.0, 0.0, -0.2)
    bodies = tuple(dataclasses.replace(b, at_m=tuple(a + d for a, d in zip(b.at_m, by, strict=True))) for b in craft.design.bodies)
    lines = tuple(dataclasses.replace(w, at_m=tuple(a + d for a, d in zip(w.at_m, by, strict=True))) for w in craft.design.weights)
    rooms = tuple(dataclasses.replace(c, aft_m=c.aft_m + 3.0, fore_m=c.fore_m + 3.0) for c in craft.design.compartments)
    return Craft(dataclasses.replace(craft.design, bodies=bodies, weights=lines, compartments=rooms))


def submarine(mass: float = 70.0, x: float = 0.5) -> Craft:
    """A box of 1 x 0.25 x 0.4 m, 100 l, with a tank of 20 l amidships: dived it is 100 l less ``mass`` less 20 kg light."""
    return Craft(
        Design(
            "Box",
            Water(density_kg_m3=1000.0),
            bodies=(Body("hull", Box(1.0, 0.25, 0.4)),),
            weights=(WeightItem("All", mass, (x, 0.0, 0.12), group="structure"),),
            compartments=(Compartment("tank", "hull", 0.4, 0.6, None, None, None, None, "tank", room=1.0),),
        )
    )

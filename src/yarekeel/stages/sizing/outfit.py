"""A new boat ready to float: its hull at a size, its hull's skin, crew and gear as usual for its kind, each to be corrected."""

import dataclasses
from typing import Any, cast

from yarekeel.core.errors import InvalidInput
from yarekeel.core.parameters import parameters_of
from yarekeel.core.quantities import Kilograms, Metres, Ratio
from yarekeel.core.weights.items import Group, WeightItem
from yarekeel.core.weights.recipes.person import Person
from yarekeel.core.weights.recipes.skin import Skin
from yarekeel.stages.design.brief import Kind
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Design
from yarekeel.stages.design.editing import laid_down, usual_target

SEAT: Ratio = 0.25
"""Of the hull's depth, that a seat or a floor lies over its bottom."""
WALL: dict[str, tuple[str, Metres, int]] = {"people": ("ply_okoume", 0.006, 1), "model": ("petg", 0.0016, 0)}
"""Material, thickness and layers of cloth of a usual hull (common practice)."""
OF_TARGET: dict[str, tuple[tuple[str, Group, Ratio, Ratio, Ratio], ...]] = {
    "model": (
        ("Battery", "electrics", 0.20, 0.45, 0.20),
        ("Motor and shaft", "drive", 0.12, 0.25, 0.20),
        ("Control, receiver, servo", "electrics", 0.06, 0.40, 0.35),
        ("Payload", "payload", 0.12, 0.50, 0.45),
    ),
    "people": (("Gear, water, anchor", "payload", 0.06, 0.55, 0.25), ("Paddle or oars", "payload", 0.02, 0.50, 0.60)),
}
"""What is usually aboard: name, group, share of the target mass, place from aft as a share of the length, and up as a share of the depth
(common practice; from memory)."""
CREW: Kilograms = 80.0
CREW_AT: Ratio = 0.45


def sized(shape: Any, length: Metres | None) -> Any:
    """A family's usual hull at another length, all of its lengths in proportion; as it is for none asked. Raises InvalidInput where it is
    not made so large or so small."""
    parameters = parameters_of(shape)
    now = next((getattr(shape, p.name) for p in parameters if p.name == "length_m"), None)
    if length is None:
        return shape
    if now is None:
        raise InvalidInput("length", "This family has no length of its own; size it on Shape.")
    factor = length / now
    return dataclasses.replace(cast(Any, shape), **{p.name: getattr(shape, p.name) * factor for p in parameters if p.kind == "length"})


def outfitted(name: str, shape: Any, kind: Kind, length: Metres | None = None) -> Design:
    """A new boat at a length (the usual for none) with what such boats usually carry: its skin as an estimate that follows the hull, crew
    and gear by kind. Every line is a guess and says so. Raises InvalidInput."""
    design = laid_down(name, sized(shape, length), kind)
    if length is not None:  # at the length that was asked for, whatever is usual
        body = dataclasses.replace(design.bodies[0], shape=sized(shape, length))
        design = dataclasses.replace(design, bodies=(body,))
        design = dataclasses.replace(design, brief=dataclasses.replace(design.brief, target_mass_kg=usual_target(design)))
    low, high = Craft(design).hull.mesh.bounds
    x0, z0 = float(low[0]), float(low[2])
    long, deep, target = float(high[0]) - x0, float(high[2]) - z0, design.brief.target_mass_kg
    material, thickness, layers = WALL[kind]
    skin = Skin(body=design.bodies[0].name, material=material, thickness_m=thickness, layers_outside=layers)
    lines = [WeightItem("Hull", 0.0, (0.0, 0.0, 0.0), "guessed", group="structure", recipe=skin)]
    if kind == "people":
        seat = (round(x0 + CREW_AT * long, 3), 0.0, round(z0 + SEAT * deep, 3))
        lines.append(WeightItem("Crew", 0.0, seat, "guessed", group="crew", recipe=Person(mass_kg=CREW)))
    for words, group, share, along, up in OF_TARGET[kind]:
        place = (round(x0 + along * long, 3), 0.0, round(z0 + up * deep, 3))
        lines.append(WeightItem(words, float(f"{share * target:.2g}"), place, "guessed", group=group))
    return dataclasses.replace(design, weights=tuple(lines))

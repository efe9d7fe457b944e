"""What material and work a change takes: one list for all ways."""

import dataclasses
from dataclasses import dataclass

from yarekeel.core.quantities import CubicMetres, Kilograms, KilogramsPerSquareMetre, Metres, Ratio, SquareMetres
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body

SKIN: dict[str, KilogramsPerSquareMetre] = {"people": 0.9, "model": 0.5}
"""Of glass and resin over foam: two layers of cloth, or one (common practice)."""
BEAMS: Ratio = 0.35
"""Cross beams of an outrigger weigh about so much of its floats (common practice)."""
CORE = "xps"
"""The foam that floats and strips are cut from."""
SEAT_OVER_FLOOR: Metres = 0.32
"""A sitting person's centre over the bottom, on a cushion (about 0.25 m over the seat, from memory)."""

LEAD_LOW = "lead or shot, fixed low"
SHIFTED = "free: shift and strap down"
NEW_HULL = "a new hull; its skin grows with the area"


@dataclass(frozen=True, slots=True)
class Coated:
    """A body of foam under glass, with its image where it is a pair: what it weighs, its skin and its volume."""

    mass: Kilograms
    skin: SquareMetres
    volume: CubicMetres


def coated(craft: Craft, body: Body) -> Coated:
    """What a body of foam under glass takes."""
    mesh = Craft(dataclasses.replace(craft.design, bodies=(body,), compartments=())).piece(0)
    return Coated(foam_under_glass(craft, mesh.volume, mesh.area), mesh.area, mesh.volume)


def foam_under_glass(craft: Craft, volume: CubicMetres, skin: SquareMetres) -> Kilograms:
    """Mass of so much foam under so much glass."""
    return volume * MATERIALS[CORE].density + skin * SKIN[craft.design.brief.kind]


def lead_volume(mass: Kilograms) -> CubicMetres:
    """What lead of a mass takes up."""
    return mass / MATERIALS["lead"].density


FIN: KilogramsPerSquareMetre = 3.0
"""Of a fin's side: 3 mm of glass or aluminium hardly less (common practice)."""
BULKHEAD: dict[str, KilogramsPerSquareMetre] = {"people": 3.0, "model": 1.5}
"""Of a bulkhead: 6 mm ply, or 2 mm of it with glue all round (common practice)."""
DRAIN: dict[str, Kilograms] = {"people": 0.08, "model": 0.005}
"""A drain's fitting with its plug (from memory)."""

"""The wings of a boat, read off its bodies: a foil wing that is an appendage works in the water, one that is a fairing over it."""

import dataclasses
import math

from yarekeel.core.geometry.families.foil_wing import FoilWing
from yarekeel.core.geometry.placing import placed_point
from yarekeel.core.quantities import Metres, Ratio
from yarekeel.core.running.forces import Foil
from yarekeel.stages.design.craft import Craft
from yarekeel.stages.design.design import Body

UPRIGHT: float = 60.0
"""Degrees of roll from which a wing stands rather than lies, and lifts nothing."""


def wings_of(craft: Craft) -> tuple[tuple[int, Body], ...]:
    """Number and body of every wing that lies across the boat."""
    return tuple(
        (n, b)
        for n, b in enumerate(craft.design.bodies)
        if isinstance(b.shape, FoilWing) and abs((b.turn_deg[0] + 90) % 180 - 90) < UPRIGHT
    )


def foils_of(craft: Craft) -> tuple[Foil, ...]:
    """Every wing as the laws need it, each of a pair by itself."""
    out = []
    for _, body in wings_of(craft):
        one = foil_of(body)
        out.append(one)
        if body.mirrored and body.at_m[1] != 0:
            x, y, z = one.at
            out.append(dataclasses.replace(one, at=(x, -y, z), name=f"{one.name}, other side"))
    return tuple(out)


def foil_of(body: Body) -> Foil:
    """A body that is a wing, as the laws need it."""
    shape = body.shape
    assert isinstance(shape, FoilWing)
    along, across, _ = body.scale
    span: Metres = shape.span_m * across
    chord: Metres = shape.chord_m * along
    mean = chord * (1 + shape.taper) / 2
    swept = span / 4 * math.tan(math.radians(shape.sweep_deg)) / along
    at = placed_point((-swept, 0.0, 0.0), body.at_m, body.turn_deg, body.scale)
    angle: Ratio = math.radians(shape.incidence_deg - body.turn_deg[1])
    return Foil(
        name=body.name,
        at=at,
        span=span,
        chord=mean,
        area=span * mean,
        angle=angle,
        dihedral=math.radians(shape.dihedral_deg),
        thickness=shape.thickness,
        camber=shape.camber,
        flap=shape.flap,
    )

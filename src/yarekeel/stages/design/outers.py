"""The bodies that stand out to the sides: hulls of a twin, floats, strips; each with its own surface and side."""

from dataclasses import dataclass

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.geometry.attitude import Attitude
from yarekeel.core.geometry.families import beam_of
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.once import cached_property
from yarekeel.core.quantities import Metres
from yarekeel.stages.design.craft import Craft, half

FAR: float = 0.02
"""Of the boat's beam: a body whose middle is nearer to the centreline is not at the side."""


@dataclass(frozen=True, eq=False)
class Outer:
    """One body at one side (1 port, -1 starboard) by its number. ``is_float``: it only carries; else it is a hull of a pair."""

    name: str
    number: int
    side: int
    is_float: bool
    mesh: Mesh

    @cached_property
    def points(self) -> Floats:
        return self.mesh.vertices

    def heights(self, attitude: Attitude) -> tuple[Metres, Metres]:
        """Of its lowest and its highest point over the surface."""
        z = self.points @ np.array(attitude.up) + attitude.origin_height
        return float(z.min()), float(z.max())


def outers_of(craft: Craft) -> tuple[Outer, ...]:
    """Every body that stands out to a side, of a pair each by itself, port first."""
    out: list[Outer] = []
    low, high = craft.hull.mesh.bounds
    beam = float(high[1] - low[1])
    for number, body in enumerate(craft.design.bodies):
        if body.role not in ("hull", "float", "foam"):
            continue
        y = body.at_m[1]
        pair = body.mirrored and y != 0.0
        twin = bool(beam_of(body.shape).spacing)
        if pair or twin:
            for side, word in ((1, "port"), (-1, "starboard")):
                try:
                    mesh = half(body, number, side)
                except InvalidInput:
                    continue
                name = f"{word} hull" if twin else f"{word} {body.name}"
                out.append(Outer(name=name, number=number, side=side, is_float=body.role != "hull", mesh=mesh))
        elif body.role != "hull":
            mesh = craft.piece(number)
            middle = float(mesh.bounds[0][1] + mesh.bounds[1][1]) / 2
            if abs(middle) > FAR * beam:
                out.append(Outer(name=body.name, number=number, side=1 if middle > 0 else -1, is_float=True, mesh=mesh))
    return tuple(out)


def has_floats(craft: Craft) -> bool:
    """Whether it has side floats: bodies that only carry, out to a side."""
    return any(o.is_float for o in outers_of(craft))


def is_pair(craft: Craft) -> bool:
    """Whether it is a pair of hulls side by side."""
    return any(not o.is_float for o in outers_of(craft))

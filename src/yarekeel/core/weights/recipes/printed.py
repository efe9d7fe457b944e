"""A part printed in layers: walls all round, solid layers above and below, infill between."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, count, length, named, ratio
from yarekeel.core.weights.recipes.made import Basis, Made, tensor
from yarekeel.core.weights.recipes.skin import surface_of

FLAT = 0.7071
"""Upward or downward part of a normal past which a slope is laid as layers, not as walls: 45 degrees."""


@dataclass(frozen=True, slots=True)
class Printed:
    """``lot``: what the slicer does otherwise it does to every part alike, so all printed parts are off by one factor.

    Mass = density x (sides x walls x line width + flats x layers x layer height + infill x what is left inside).
    """

    kind: ClassVar[str] = "printed"
    title: ClassVar[str] = "Printed part"
    group: ClassVar[str] = "structure"
    rank: ClassVar[int] = 4
    lot: ClassVar[str] = "printed parts"
    follows_hull: ClassVar[bool] = True

    body: str = named("", "Print of", "the body that is printed", "body")
    walls: int = count(3, "Walls", "lines side by side", 1, 30, ("one line is the least", "past what is printed"))
    line_m: float = length(0.00045, "Line width", "of one wall line", 0.0001, 0.003, ("finer than nozzles are", "wider than nozzles are"))
    layers: int = count(4, "Top and bottom layers", "solid ones, at each", 0, 60, ("none", "past what is printed"))
    layer_m: float = length(0.0002, "Layer height", "of one layer", 0.00005, 0.002, ("finer than is printed", "thicker than is printed"))
    infill: float = ratio(0.0, "Infill", "share of the inside that is filled; 0 for a hollow hull", 0.0, 1.0, ("hollow", "solid"))
    material: str = named("pla", "Filament", "what it is printed from", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """The walls' overlap at corners is not taken off, and they fill the body at most. Time is not estimated."""
        stuff, hull = basis.material(self.material, "material"), basis.body(self.body)
        flat = np.abs(hull.mesh.normals[:, 2]) > FLAT
        wall, layer = self.walls * self.line_m, self.layers * self.layer_m
        thick = np.where(flat, layer, wall)
        sides, _, _ = surface_of(hull, True, (~flat).astype(np.float64))
        flats, _, _ = surface_of(hull, True, flat.astype(np.float64))
        volume, centre, second = surface_of(hull, True, thick)
        inside = hull.mesh.volume
        shell = min(volume, inside)
        fill = self.infill * (inside - shell)
        plastic = shell + fill
        facts = (
            Fact("Sides", sides, "area", f"steeper than 45°, {self.walls} walls of {1000 * self.line_m:g} mm"),
            Fact("Flats", flats, "area", f"flatter than 45°, {self.layers} layers of {1000 * self.layer_m:g} mm"),
            Fact("Walls and layers", shell, "volume", "area times thickness, at most the body itself"),
            Fact("Infill", fill, "volume", "its share of what is left inside"),
            Fact("Density", stuff.density, "density", f"{stuff.title}; supports and printing time are left out"),
        )
        if plastic <= 0:
            return Made(0.0, centre, facts=facts)
        # The centre of the infill is that of the body; the inertia is taken as if all were on the surface.
        x, y, z = (float(shell * c + fill * g) / plastic for c, g in zip(centre, hull.mesh.centroid, strict=True))
        mass = stuff.density * plastic
        return Made(
            mass=mass,
            offset=(x, y, z),
            inertia=tensor(mass / volume * second) if volume else tensor(np.zeros((3, 3))),
            spread=stuff.spread,
            facts=facts,
            solid=plastic,
        )

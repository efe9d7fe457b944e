"""A run of wire."""

import math
from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, count, length, named
from yarekeel.core.weights.materials import MATERIALS
from yarekeel.core.weights.recipes.made import Basis, Made


@dataclass(frozen=True, slots=True)
class Wire:
    """Mass = conductors x length x (metal + insulation), each a round of its density; strands are packed solid."""

    kind: ClassVar[str] = "wire"
    title: ClassVar[str] = "Wire run"
    group: ClassVar[str] = "electrics"
    rank: ClassVar[int] = 8
    follows_hull: ClassVar[bool] = False

    length_m: float = length(1.0, "Length of the run", "one way", 0.001, 100.0, ("none", "longer than any boat here"))
    conductors: int = count(2, "Conductors", "side by side", 1, 60, ("at least one", "make it a second line"))
    metal_m: float = length(0.0018, "Metal diameter", "of one conductor's metal", 0.00005, 0.03, ("too fine", "too thick"))
    insulation_m: float = length(0.0007, "Insulation", "its thickness", 0.0, 0.01, ("bare", "thicker than is used"))
    material: str = named("copper", "Metal", "what it is", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """A thing at one place: give long runs two lines. Insulation is taken as rigid PVC."""
        stuff, cover = basis.material(self.material, "material"), MATERIALS["pvc"]
        inner, outer = self.metal_m / 2, self.metal_m / 2 + self.insulation_m
        metal = self.conductors * self.length_m * math.pi * inner**2 * stuff.density
        insulation = self.conductors * self.length_m * math.pi * (outer**2 - inner**2) * cover.density
        facts = (
            Fact("Metal", metal, "mass", f"{stuff.title}, {1e6 * math.pi * inner**2:.2f} mm² each"),
            Fact("Insulation", insulation, "mass", f"taken as {cover.title}"),
        )
        share = (metal * stuff.spread + insulation * cover.spread) / (metal + insulation)
        solid = metal / stuff.density + insulation / cover.density
        return Made(metal + insulation, spread=share, facts=facts, solid=solid)

"""Liquid in an upright box tank."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, length, named, ratio
from yarekeel.core.weights.recipes.made import Basis, Made
from yarekeel.core.weights.recipes.plywood import box_tensor


@dataclass(frozen=True, slots=True)
class Tank:
    """Mass = length x width x height x fill x density; the place is the middle of its bottom."""

    kind: ClassVar[str] = "tank"
    title: ClassVar[str] = "Water in a tank"
    group: ClassVar[str] = "ballast"
    rank: ClassVar[int] = 10
    follows_hull: ClassVar[bool] = False

    length_m: float = length(0.2, "Tank length", "inside", 0.001, 12.0)
    width_m: float = length(0.15, "Tank width", "inside", 0.001, 12.0)
    height_m: float = length(0.1, "Tank height", "inside", 0.001, 12.0)
    fill: float = ratio(1.0, "Filled", "share of its height", 0.0, 1.0, ("empty", "full"))
    material: str = named("fresh_water", "Liquid", "what is in it", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """The liquid at rest in an upright boat; that it runs to the low side is not in it."""
        liquid = basis.material(self.material, "material")
        depth = self.height_m * self.fill
        volume = self.length_m * self.width_m * depth
        mass = volume * liquid.density
        facts = (
            Fact("Liquid", volume, "volume", "at rest, upright; its running to the low side is not counted"),
            Fact("Density", liquid.density, "density", f"{liquid.title}, {liquid.low:g} to {liquid.high:g} kg/m³"),
        )
        size = (self.length_m, self.width_m, depth)
        inertia = box_tensor(mass, size)
        return Made(mass=mass, offset=(0.0, 0.0, depth / 2), inertia=inertia, spread=liquid.spread, facts=facts, solid=volume)

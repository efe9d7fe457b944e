"""A solid block: ballast, a battery's lead, a keel of wood."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import angle, check_parameters, length, named
from yarekeel.core.weights.recipes.made import Basis, Made, turned_tensor
from yarekeel.core.weights.recipes.plywood import box_tensor

ROUND = ("a full turn", "a full turn")


@dataclass(frozen=True, slots=True)
class Block:
    """Mass = length x width x height x density."""

    kind: ClassVar[str] = "block"
    title: ClassVar[str] = "Solid block"
    group: ClassVar[str] = "ballast"
    rank: ClassVar[int] = 5
    follows_hull: ClassVar[bool] = False

    length_m: float = length(0.1, "Block length", "along the boat before turning", 0.0005, 12.0)
    width_m: float = length(0.05, "Block width", "across the boat before turning", 0.0005, 12.0)
    height_m: float = length(0.02, "Block height", "upward before turning", 0.0005, 12.0)
    material: str = named("lead", "Material", "what it is", "material")
    roll_deg: float = angle(0.0, "Rolled by", "about the length, port side up", -360, 360, ROUND)
    pitch_deg: float = angle(0.0, "Pitched by", "about the width, bow down", -360, 360, ROUND)
    yaw_deg: float = angle(0.0, "Yawed by", "about the height, bow to port", -360, 360, ROUND)

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """Exact."""
        stuff = basis.material(self.material, "material")
        size = (self.length_m, self.width_m, self.height_m)
        volume = size[0] * size[1] * size[2]
        mass = volume * stuff.density
        facts = (
            Fact("Volume", volume, "volume", "length times width times height"),
            Fact("Density", stuff.density, "density", f"{stuff.title}, {stuff.low:g} to {stuff.high:g} kg/m³"),
        )
        inertia = turned_tensor(box_tensor(mass, size), (self.roll_deg, self.pitch_deg, self.yaw_deg))
        return Made(mass, inertia=inertia, spread=stuff.spread, facts=facts, solid=volume)

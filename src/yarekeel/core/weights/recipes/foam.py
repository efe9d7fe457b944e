"""Solid foam: the volume of a body, or a block's."""

from dataclasses import dataclass
from typing import ClassVar

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, named, ratio
from yarekeel.core.weights.recipes.made import Basis, Made, tensor


@dataclass(frozen=True, slots=True)
class Foam:
    """Mass = the body's volume x share filled x density."""

    kind: ClassVar[str] = "foam"
    title: ClassVar[str] = "Foam filling a body"
    group: ClassVar[str] = "foam"
    rank: ClassVar[int] = 7
    follows_hull: ClassVar[bool] = True

    body: str = named("", "Fills", "the body that is foam, or filled with it", "body")
    filled: float = ratio(1.0, "Share filled", "of the body's volume", 0.001, 1.0, ("hardly any", "all of it"))
    material: str = named("xps", "Foam", "what kind", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """Centre and inertia are those of the whole body, by its second moments of volume."""
        stuff, mesh = basis.material(self.material, "material"), basis.body(self.body).mesh
        volume = mesh.volume * self.filled
        mass = stuff.density * volume
        facts = (
            Fact("Volume", volume, "volume", "of foam, from the mesh"),
            Fact("Density", stuff.density, "density", f"{stuff.title}, {stuff.low:g} to {stuff.high:g} kg/m³"),
        )
        x, y, z = mesh.centroid.tolist()
        inertia = tensor(mass / mesh.volume * mesh.second_moments)
        return Made(mass=mass, offset=(x, y, z), inertia=inertia, spread=stuff.spread, facts=facts, solid=volume)

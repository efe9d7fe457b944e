"""A round pipe, open or with flat caps."""

import math
from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.placing import turned
from yarekeel.core.parameters import angle, check_parameters, count, length, named
from yarekeel.core.weights.recipes.block import ROUND
from yarekeel.core.weights.recipes.made import Basis, Made, turned_tensor


@dataclass(frozen=True, slots=True)
class Pipe:
    """Mass = density x (pi (R² - r²) length + caps x pi r² cap thickness); the caps sit inside the ends."""

    kind: ClassVar[str] = "pipe"
    title: ClassVar[str] = "Pipe with end caps"
    group: ClassVar[str] = "structure"
    rank: ClassVar[int] = 6
    follows_hull: ClassVar[bool] = False

    length_m: float = length(1.0, "Pipe length", "along the boat before turning", 0.001, 12.0)
    outside_m: float = length(0.05, "Outside diameter", "of the pipe", 0.001, 3.0, ("thinner than is made", "larger than is made"))
    wall_m: float = length(0.002, "Wall", "of the pipe", 0.00005, 0.5, ("thinner than is made", "thicker than is made"))
    caps: int = count(2, "End caps", "flat, inside the ends; both or one at the fore end", 0, 2, ("open", "both ends"))
    cap_m: float = length(0.003, "Cap thickness", "of one cap", 0.0, 0.5, ("none", "thicker than is made"))
    material: str = named("pvc", "Material", "what it is", "material")
    roll_deg: float = angle(0.0, "Rolled by", "about its length", -360, 360, ROUND)
    pitch_deg: float = angle(0.0, "Pitched by", "fore end down; 90° stands it up", -360, 360, ROUND)
    yaw_deg: float = angle(0.0, "Yawed by", "fore end to port; 90° lays it across", -360, 360, ROUND)

    def __post_init__(self) -> None:
        check_parameters(self)
        if 2 * self.wall_m > self.outside_m:
            raise InvalidInput("wall_m", "The wall must be at most half the outside diameter.")
        if self.caps * self.cap_m > self.length_m:
            raise InvalidInput("cap_m", "The caps together must not be longer than the pipe.")

    def made(self, basis: Basis) -> Made:
        """Exact: a tube and up to two discs, by parallel axes."""
        stuff = basis.material(self.material, "material")
        big, half = self.outside_m / 2, self.length_m / 2
        small = big - self.wall_m
        tube = stuff.density * math.pi * (big**2 - small**2) * self.length_m
        cap = stuff.density * math.pi * small**2 * self.cap_m
        ends = [half - self.cap_m / 2, self.cap_m / 2 - half][: self.caps]
        mass = tube + cap * len(ends)
        x = cap * sum(ends) / mass
        across = tube * ((big**2 + small**2) / 4 + self.length_m**2 / 12 + x**2)
        across += sum(cap * (small**2 / 4 + self.cap_m**2 / 12 + (end - x) ** 2) for end in ends)
        along = tube * (big**2 + small**2) / 2 + cap * len(ends) * small**2 / 2
        turn = (self.roll_deg, self.pitch_deg, self.yaw_deg)
        facts = (
            Fact("Pipe", tube, "mass", "the tube alone"),
            Fact("Caps", cap * len(ends), "mass", "both together"),
            Fact("Density", stuff.density, "density", f"{stuff.title}, {stuff.low:g} to {stuff.high:g} kg/m³"),
        )
        ox, oy, oz = (turned(turn) @ [x, 0.0, 0.0]).tolist()
        inertia, solid = turned_tensor(np.diag([along, across, across]), turn), mass / stuff.density
        return Made(mass=mass, offset=(ox, oy, oz), inertia=inertia, spread=stuff.spread, facts=facts, solid=solid)

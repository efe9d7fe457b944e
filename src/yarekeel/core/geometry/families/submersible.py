"""Submersible: a cylinder with domed ends, a casing along its back and a tower."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.errors import InvalidInput
from yarekeel.core.facts import Fact
from yarekeel.core.geometry.mesh import Floats, Mesh
from yarekeel.core.geometry.rings import circle, log, through
from yarekeel.core.geometry.union import united
from yarekeel.core.parameters import SHORTEST, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class Submersible:
    """The pressure hull lies along x with its underside at z = 0; casing and tower are solid as far as water goes."""

    kind: ClassVar[Literal["submersible"]] = "submersible"
    title: ClassVar[str] = "Cylinder, casing and tower"
    group: ClassVar[str] = "Hulls"
    rank: ClassVar[int] = 8
    role: ClassVar[str] = "hull"
    length_m: Metres = length(0.80, "Length", "over the domes", SHORTEST)
    diameter_m: Metres = length(0.11, "Diameter", "outside", SHORTEST, 3.0)
    dome: Ratio = ratio(1.0, "Domes", "length over radius", 0.2, 4.0, ("nearly flat ends", "a long pointed tail"))
    casing_length: Ratio = ratio(0.7, "Casing length", "of the straight part", 0.0, 1.0, ("no casing", "the whole straight part"))
    casing_width: Ratio = ratio(0.4, "Casing width", "of the diameter", 0.1, 0.9, ("a mere ridge", "wider stands over the hull's side"))
    casing_height_m: Metres = length(0.012, "Casing height", "above the hull's back", 0.0, 1.0)
    tower_length_m: Metres = length(0.10, "Tower length", "fore and aft", 0.005)
    tower_width_m: Metres = length(0.03, "Tower width", "athwart", 0.005)
    tower_height_m: Metres = length(0.07, "Tower height", "above the hull's back", 0.0, 2.0)
    tower_at: Ratio = ratio(0.55, "Tower at", "of the length from aft", 0.1, 0.9, ("over the after dome", "over the fore dome"))

    def __post_init__(self) -> None:
        check_parameters(self)
        if self.length_m < self._dome * 2 * 1.05:
            raise InvalidInput("length_m", "With these domes the hull must be at least {least:length} long.", least=2.1 * self._dome)
        if self.tower_width_m > self.diameter_m:
            raise InvalidInput("tower_width_m", "The tower cannot be wider than the hull ({most:length}).", most=self.diameter_m)
        if self.tower_length_m > self.length_m - 2 * self._dome:
            raise InvalidInput(
                "tower_length_m", "The tower must fit the straight part ({most:length}).", most=self.length_m - 2 * self._dome
            )

    @property
    def _dome(self) -> Metres:
        return self.dome * self.diameter_m / 2

    def facts(self) -> tuple[Fact, ...]:
        """The pressure hull alone, in closed form."""
        radius = self.diameter_m / 2
        volume = math.pi * radius**2 * (self.length_m - 2 * self._dome) + 4 / 3 * math.pi * radius**2 * self._dome
        return (Fact("Pressure hull", volume, "volume", "cylinder and domes, without casing and tower"),)

    def build(self, detail: Ratio = 1) -> Mesh:
        """United hull, casing and tower; about 2 000 triangles at detail 1."""
        radius, straight = self.diameter_m / 2, self.length_m - 2 * self._dome
        back = self.diameter_m
        solids = [log(length=self.length_m, radius=radius, dome=self._dome, sides=round(48 * detail), steps=round(12 * detail))]
        if self.casing_length > 0 and self.casing_height_m > 0:
            plan = _rounded(self.casing_length * straight, self.casing_width * back, round(8 * detail))
            solids.append(_column(plan, self.length_m / 2, radius, back + self.casing_height_m))
        if self.tower_height_m > 0:
            plan = circle(round(48 * detail)) * [self.tower_length_m / 2, self.tower_width_m / 2]
            end = self._dome + self.tower_length_m / 2
            middle = min(max(self.tower_at * self.length_m, end), self.length_m - end)
            solids.append(_column(plan, middle, radius, back + self.tower_height_m))
        return united(solids)


def _rounded(long: Metres, wide: Metres, quarter: int) -> Floats:
    """A rectangle with round ends, (n, 2)."""
    end = min(wide, long) / 2
    angle = np.linspace(-np.pi / 2, np.pi / 2, 2 * quarter + 1)
    fore = np.column_stack([long / 2 - end + end * np.cos(angle), wide / 2 * np.sin(angle)])
    return np.vstack([fore, -fore])


def _column(plan: Floats, x: Metres, low: Metres, high: Metres) -> Mesh:
    """An upright column over an outline (n, 2) about ``x``."""
    ring = np.column_stack([plan[:, 0] + x, plan[:, 1], np.full(len(plan), low)])
    return through(np.stack([ring, ring + np.array([0.0, 0.0, high - low])]))

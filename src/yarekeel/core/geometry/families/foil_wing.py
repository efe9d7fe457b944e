"""Foil wing: the lifting surface of a hydrofoil, or a stern plane."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.geometry.families.strut import THIN_TO_THICK
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.rings import foil, through
from yarekeel.core.parameters import NONE, SHORTEST, angle, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio


@dataclass(frozen=True, slots=True)
class FoilWing:
    """A tapered wing across the boat, its root's quarter chord at the origin, nose forward."""

    kind: ClassVar[Literal["foil_wing"]] = "foil_wing"
    title: ClassVar[str] = "Foil wing"
    group: ClassVar[str] = "Appendages"
    rank: ClassVar[int] = 2
    role: ClassVar[str] = "appendage"
    span_m: Metres = length(0.40, "Span", "tip to tip", SHORTEST)
    chord_m: Metres = length(0.07, "Root chord", "fore and aft", 0.005)
    taper: Ratio = ratio(0.6, "Taper", "tip chord over root chord", 0.1, 1.0, ("nearly a point", "no taper"))
    thickness: Ratio = ratio(0.10, "Thickness", "of the chord", 0.02, 0.5, THIN_TO_THICK)
    sweep_deg: float = angle(5.0, "Sweep", "tips aft", -45.0, 60.0, ("tips well forward", "more and it is a dart"))
    dihedral_deg: float = angle(0.0, "Dihedral", "tips up", -45.0, 45.0, ("tips well down", "more and it is a vee of struts"))
    incidence_deg: float = angle(2.0, "Incidence", "nose up", -20.0, 20.0, ("the flow leaves it", "the flow leaves it"))
    camber: Ratio = ratio(0.0, "Camber", "rise of the mean line over the chord; 0: symmetrical", 0.0, 0.12, (NONE, "a gutter"))
    flap: Ratio = ratio(0.0, "Control surface", "share of the chord that moves; 1: all of it", 0.0, 1.0)

    def __post_init__(self) -> None:
        check_parameters(self)

    def facts(self) -> tuple[Fact, ...]:
        """Plan area and aspect ratio, span squared over area."""
        area = self.span_m * self.chord_m * (1 + self.taper) / 2
        return (
            Fact("Wing area", area, "area", "seen from above"),
            Fact("Aspect ratio", self.span_m**2 / area, "ratio", "span squared over area"),
        )

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 190 triangles at detail 1."""
        outline = foil(round(16 * detail))
        turn = math.radians(self.incidence_deg)
        rings = []
        for side in (-1.0, 0.0, 1.0):
            chord = self.chord_m * (1 - (1 - self.taper) * abs(side))
            out = abs(side) * self.span_m / 2
            forward = (0.25 - outline[:, 0]) * chord
            up = (outline[:, 1] * self.thickness + 4 * self.camber * outline[:, 0] * (1 - outline[:, 0])) * chord
            x = forward * math.cos(turn) - up * math.sin(turn) - out * math.tan(math.radians(self.sweep_deg))
            z = forward * math.sin(turn) + up * math.cos(turn) + out * math.tan(math.radians(self.dihedral_deg))
            rings.append(np.column_stack([x, np.full(len(x), side * self.span_m / 2), z]))
        return through(np.stack(rings))

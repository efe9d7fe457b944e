"""Strut, fin, skeg or rudder: a streamlined blade standing up."""

import math
from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.geometry.mesh import Mesh
from yarekeel.core.geometry.rings import foil, through
from yarekeel.core.parameters import angle, check_parameters, length, ratio
from yarekeel.core.quantities import Metres, Ratio

THIN_TO_THICK = ("thinner breaks", "thicker is a float")


@dataclass(frozen=True, slots=True)
class Strut:
    """The blade stands from z = 0 (its tip) to ``height_m`` (its root), nose forward; the root's tail is at x = 0."""

    kind: ClassVar[Literal["strut"]] = "strut"
    title: ClassVar[str] = "Strut, fin or rudder"
    group: ClassVar[str] = "Appendages"
    rank: ClassVar[int] = 1
    role: ClassVar[str] = "appendage"
    height_m: Metres = length(0.12, "Height", "tip to root", 0.005)
    chord_m: Metres = length(0.06, "Root chord", "fore and aft, at the top", 0.005)
    taper: Ratio = ratio(0.8, "Taper", "tip chord over root chord", 0.1, 1.0, ("nearly a point", "no taper"))
    thickness: Ratio = ratio(0.12, "Thickness", "of the chord", 0.02, 0.5, THIN_TO_THICK)
    rake_deg: float = angle(0.0, "Rake", "tip aft of the root", -45.0, 60.0, ("tip well forward", "more and it lies down"))

    def __post_init__(self) -> None:
        check_parameters(self)

    def facts(self) -> tuple[Fact, ...]:
        """Area from the side: what works against leeway."""
        return (Fact("Lateral area", self.height_m * self.chord_m * (1 + self.taper) / 2, "area", "seen from the side"),)

    def build(self, detail: Ratio = 1) -> Mesh:
        """The closed mesh, about 120 triangles at detail 1."""
        outline = foil(round(16 * detail))
        rings = []
        for up, chord in ((0.0, self.taper * self.chord_m), (1.0, self.chord_m)):
            aft = (1 - up) * (self.height_m * math.tan(math.radians(self.rake_deg)))
            nose = self.chord_m / 2 + chord / 2 - aft
            flat = np.column_stack([nose - outline[:, 0] * chord, outline[:, 1] * chord * self.thickness])
            rings.append(np.column_stack([flat, np.full(len(flat), up * self.height_m)]))
        return through(np.stack(rings))

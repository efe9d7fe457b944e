"""Panels cut from sheets: thwarts, decks, bulkheads, boxes."""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np

from yarekeel.core.facts import Fact
from yarekeel.core.parameters import check_parameters, choice, count, length, named, ratio
from yarekeel.core.quantities import Kilograms, Metres
from yarekeel.core.weights.recipes.made import Basis, Made
from yarekeel.core.weights.recipes.skin import SHEETS_HOW, sheets

_LIE = (("flat", "flat"), ("lengthwise", "upright, along the boat"), ("across", "upright, across the boat"))


@dataclass(frozen=True, slots=True)
class Plywood:
    """Mass = panels x length x width x share kept x thickness x density."""

    kind: ClassVar[str] = "plywood"
    title: ClassVar[str] = "Plywood panels"
    group: ClassVar[str] = "structure"
    rank: ClassVar[int] = 2
    follows_hull: ClassVar[bool] = False

    panels: int = count(1, "Panels", "how many alike", 1, 200, ("at least one", "make it a second line"))
    length_m: float = length(0.6, "Panel length", "before cutting to shape", 0.001, 12.0)
    width_m: float = length(0.3, "Panel width", "before cutting to shape", 0.001, 3.0, ("too thin to cut", "wider than is made"))
    thickness_m: float = length(0.006, "Thickness", "of the sheet", 0.0002, 0.1, ("thinner than is made", "thicker than is made"))
    kept: float = ratio(1.0, "Share kept", "of the rectangle, after cutting to shape", 0.01, 1.0, ("hardly anything", "all of it"))
    lies: str = choice("flat", "Lies", "which way the panels face", _LIE)
    material: str = named("ply_okoume", "Material", "the kind of sheet", "material")

    def __post_init__(self) -> None:
        check_parameters(self)

    def made(self, basis: Basis) -> Made:
        """The inertia is that of one stack of whole rectangles at the place given."""
        sheet = basis.material(self.material, "material")
        area = self.panels * self.length_m * self.width_m * self.kept
        mass = area * self.thickness_m * sheet.density
        size = {
            "flat": (self.length_m, self.width_m, self.thickness_m),
            "lengthwise": (self.length_m, self.thickness_m, self.width_m),
            "across": (self.thickness_m, self.length_m, self.width_m),
        }[self.lies]
        facts = (
            Fact("Area", area, "area", "of all panels, after cutting"),
            Fact("Sheets", sheets(area / self.kept), "count", SHEETS_HOW),
            Fact("Density", sheet.density, "density", f"{sheet.title}, {sheet.low:g} to {sheet.high:g} kg/m³"),
        )
        return Made(mass, inertia=box_tensor(mass, size), spread=sheet.spread, facts=facts, solid=area * self.thickness_m)


def box_tensor(mass: Kilograms, size: tuple[Metres, Metres, Metres]) -> np.ndarray:
    """Inertia tensor (3, 3) of a solid box about its centre: m / 12 (b² + c²) and so on."""
    x, y, z = (s * s for s in size)
    return np.asarray(mass / 12 * np.diag([y + z, x + z, x + y]))
